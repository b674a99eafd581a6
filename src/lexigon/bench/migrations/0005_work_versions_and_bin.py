"""Work in the background with claims and leases; named versions; the bin; where a change was made."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("bench", "0004_kept_files_and_forms"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.RenameField(
            model_name="manuscript",
            old_name="at",
            new_name="started",
        ),
        migrations.AddField(
            model_name="edit",
            name="where",
            field=models.CharField(blank=True, max_length=80),
        ),
        migrations.AddField(
            model_name="job",
            name="binned",
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name="manuscript",
            name="account",
            field=models.JSONField(null=True),
        ),
        migrations.AddField(
            model_name="manuscript",
            name="by",
            field=models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="+", to=settings.AUTH_USER_MODEL
            ),
        ),
        migrations.AddField(
            model_name="manuscript",
            name="claim",
            field=models.CharField(blank=True, max_length=32),
        ),
        migrations.AddField(
            model_name="manuscript",
            name="done",
            field=models.PositiveIntegerField(default=0),
        ),
        migrations.AddField(
            model_name="manuscript",
            name="ended",
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name="manuscript",
            name="error",
            field=models.TextField(blank=True),
        ),
        migrations.AddField(
            model_name="manuscript",
            name="lease",
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name="manuscript",
            name="quotes",
            field=models.BooleanField(default=False),
        ),
        migrations.AddField(
            model_name="manuscript",
            name="state",
            field=models.CharField(default="read", max_length=8),
        ),
        migrations.AddField(
            model_name="manuscript",
            name="task",
            field=models.CharField(blank=True, max_length=64),
        ),
        migrations.AddField(
            model_name="manuscript",
            name="total",
            field=models.PositiveIntegerField(default=0),
        ),
        migrations.AddField(
            model_name="output",
            name="by",
            field=models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="+", to=settings.AUTH_USER_MODEL
            ),
        ),
        migrations.AddField(
            model_name="output",
            name="claim",
            field=models.CharField(blank=True, max_length=32),
        ),
        migrations.AddField(
            model_name="output",
            name="lease",
            field=models.DateTimeField(null=True),
        ),
        migrations.CreateModel(
            name="Version",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", models.CharField(max_length=80)),
                ("revision", models.PositiveIntegerField()),
                ("at", models.DateTimeField(auto_now_add=True)),
                (
                    "by",
                    models.ForeignKey(
                        null=True, on_delete=django.db.models.deletion.SET_NULL, to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "job",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="versions", to="bench.job"
                    ),
                ),
            ],
            options={
                "ordering": ["-revision", "-at"],
                "constraints": [models.UniqueConstraint(fields=("job", "name"), name="version_name")],
            },
        ),
    ]
