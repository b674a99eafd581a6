"""Notes and frames that stand in texts; pictures. What spans name is brought up when a job is next opened."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("bench", "0006_objects_and_layers"),
    ]

    operations = [
        migrations.AddField("story", "kind", models.CharField(default="text", max_length=20)),
        migrations.CreateModel(
            name="Inlay",
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
                "constraints": [models.UniqueConstraint(fields=("job", "key"), name="inlay_key")],
            },
        ),
        migrations.CreateModel(
            name="PictureFile",
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
                "constraints": [models.UniqueConstraint(fields=("job", "key"), name="picturefile_key")],
            },
        ),
    ]
