"""Whose files are whose: until now a file was anybody's who knew its name. And the format that edits are written in."""

import re

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


def owned(apps, schema_editor):
    """Every file that a job names belongs to that job's owner."""
    kept = apps.get_model("bench", "KeptFile")
    pairs = set()
    for name in ("Overlay", "OwnFont"):
        for entry in apps.get_model("bench", name).objects.select_related("job"):
            file = entry.data.get("file") if isinstance(entry.data, dict) else None
            if isinstance(file, str) and re.fullmatch("[0-9a-f]{64}", file):
                pairs.add((entry.job.owner_id, file))
    kept.objects.bulk_create([kept(owner_id=owner, name=file) for owner, file in sorted(pairs)])


class Migration(migrations.Migration):
    dependencies = [
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
        ("bench", "0003_own_fonts"),
    ]

    operations = [
        migrations.AddField("edit", "form", models.PositiveSmallIntegerField(default=1)),
        migrations.CreateModel(
            name="KeptFile",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", models.CharField(max_length=64)),
                (
                    "owner",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="kept_files",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={"constraints": [models.UniqueConstraint(fields=("owner", "name"), name="kept_file")]},
        ),
        migrations.RunPython(owned, migrations.RunPython.noop),
    ]
