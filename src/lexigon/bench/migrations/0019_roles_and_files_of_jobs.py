"""Jobs are shared in roles, are commented on, and have their files themselves.

Until now whoever a job was shared with could edit it, and files belonged to a person: all of the owner's files could be
reached from any of the owner's jobs.
"""

import json
import re

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

NAMED = re.compile(r'"file": "([0-9a-f]{64})"')


def share_to_edit(apps, schema_editor):
    """Those with whom a job was shared may still edit it."""
    share = apps.get_model("bench", "Share")
    old = apps.get_model("bench", "Job").people.through
    share.objects.bulk_create(
        share(job_id=job, user_id=user, role="edit")
        for job, user in old.objects.order_by("pk").values_list("job_id", "user_id")
    )


def files_to_jobs(apps, schema_editor):
    """A job has the files that it or its history names, as far as its owner had them."""
    kept = {}
    for owner, name in apps.get_model("bench", "KeptFile").objects.values_list("owner_id", "name"):
        kept.setdefault(owner, set()).add(name)
    owners = dict(apps.get_model("bench", "Job").objects.values_list("pk", "owner_id"))
    found = set()

    def note(job, *values):
        for value in values:
            names = NAMED.findall(json.dumps(value))
            found.update((job, name) for name in kept.get(owners[job], set()).intersection(names))

    for table in ("PictureFile", "Overlay", "OwnFont"):
        for job, data in apps.get_model("bench", table).objects.values_list("job_id", "data").iterator():
            note(job, data)
    edits = apps.get_model("bench", "Edit").objects.values_list("job_id", "edits", "inverse")
    for job, done, inverse in edits.iterator(chunk_size=200):
        note(job, done, inverse)
    row = apps.get_model("bench", "JobFile")
    row.objects.bulk_create((row(job_id=job, name=name) for job, name in sorted(found)), batch_size=500)


def key():
    return models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")


class Migration(migrations.Migration):
    dependencies = [
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
        ("bench", "0018_attempts"),
    ]

    operations = [
        migrations.CreateModel(
            name="Share",
            fields=[
                ("id", key()),
                (
                    "role",
                    models.CharField(
                        choices=[
                            ("view", "can view and comment"),
                            ("edit", "can edit"),
                            ("own", "can edit, share and delete"),
                        ],
                        default="edit",
                        max_length=4,
                    ),
                ),
                (
                    "job",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="shares", to="bench.job"
                    ),
                ),
                (
                    "user",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="shares",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={
                "ordering": ["pk"],
                "constraints": [models.UniqueConstraint(fields=("job", "user"), name="share_of_job")],
            },
        ),
        migrations.RunPython(share_to_edit, migrations.RunPython.noop),
        migrations.RemoveField("job", "people"),
        migrations.AddField(
            "job",
            "people",
            models.ManyToManyField(related_name="shared_jobs", through="bench.Share", to=settings.AUTH_USER_MODEL),
        ),
        migrations.CreateModel(
            name="Comment",
            fields=[
                ("id", key()),
                ("page", models.CharField(max_length=24)),
                ("text", models.CharField(max_length=2000)),
                ("at", models.DateTimeField(auto_now_add=True)),
                ("resolved", models.BooleanField(default=False)),
                (
                    "by",
                    models.ForeignKey(
                        null=True, on_delete=django.db.models.deletion.SET_NULL, to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "job",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="comments", to="bench.job"
                    ),
                ),
            ],
            options={"ordering": ["pk"]},
        ),
        migrations.CreateModel(
            name="JobFile",
            fields=[
                ("id", key()),
                ("name", models.CharField(max_length=64)),
                (
                    "job",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="files", to="bench.job"
                    ),
                ),
            ],
            options={"constraints": [models.UniqueConstraint(fields=("job", "name"), name="file_of_job")]},
        ),
        migrations.RunPython(files_to_jobs, migrations.RunPython.noop),
        migrations.DeleteModel("KeptFile"),
    ]
