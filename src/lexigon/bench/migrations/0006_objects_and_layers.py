"""Frames on pages are objects, groups among them; layers. The values inside are brought up when a job is next opened."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("bench", "0005_work_versions_and_bin"),
    ]

    operations = [
        migrations.RenameModel("Frame", "PageObject"),
        migrations.RemoveField("pageobject", "story"),
        migrations.CreateModel(
            name="Layer",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("key", models.CharField(max_length=40)),
                ("position", models.IntegerField()),
                ("name", models.CharField(max_length=200)),
                ("data", models.JSONField()),
                ("job", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, to="bench.job")),
            ],
            options={
                "ordering": ["position"],
                "abstract": False,
                "constraints": [models.UniqueConstraint(fields=("job", "key"), name="layer_key")],
            },
        ),
    ]
