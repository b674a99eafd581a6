"""The entries of all tables of a job are rows of one table, with a column that names the job's table.

Until now each table of a job had its own model, all with the same columns.
"""

import django.db.models.deletion
from django.db import migrations, models

FORMER = {
    "paragraph_styles": "ParagraphStyle",
    "character_styles": "CharacterStyle",
    "frame_styles": "FrameStyle",
    "rule_styles": "RuleStyle",
    "swatches": "Swatch",
    "ink_sets": "InkSet",
    "layers": "Layer",
    "masters": "Master",
    "inlays": "Inlay",
    "tables": "TextTable",
    "papers": "Paper",
    "copies": "StandingCopy",
    "overlays": "Overlay",
    "fonts": "OwnFont",
    "pictures": "PictureFile",
    "markings": "Marking",
    "lexicon": "KnownWord",
    "listings": "Listing",
    "terms": "IndexTerm",
    "table_styles": "TableStyle",
    "note_kinds": "NoteKind",
    "abroad": "Abroad",
}
"""The former models of rows, by the tables of the job."""
BATCH = 500


def gather(apps, schema_editor):
    """Copy the rows of every former table into the one."""
    entry = apps.get_model("bench", "Entry")
    columns = ("job_id", "key", "position", "name", "data")
    for table, former in FORMER.items():
        rows = apps.get_model("bench", former).objects.order_by("pk").values(*columns)
        batch = []
        for row in rows.iterator(chunk_size=BATCH):
            batch.append(entry(table=table, **row))
            if len(batch) == BATCH:
                entry.objects.bulk_create(batch)
                batch = []
        entry.objects.bulk_create(batch)


def spread(apps, schema_editor):
    """Copy the rows back into the former tables."""
    rows = apps.get_model("bench", "Entry").objects.order_by("pk")
    for table, former in FORMER.items():
        model = apps.get_model("bench", former)
        entries = rows.filter(table=table).values("job_id", "key", "position", "name", "data")
        model.objects.bulk_create((model(**row) for row in entries.iterator(chunk_size=BATCH)), batch_size=BATCH)


class Migration(migrations.Migration):
    dependencies = [("bench", "0023_preferences")]

    operations = [
        migrations.CreateModel(
            name="Entry",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("table", models.CharField(max_length=24)),
                ("key", models.CharField(max_length=40)),
                ("position", models.IntegerField()),
                ("name", models.CharField(max_length=200)),
                ("data", models.JSONField()),
                ("job", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, to="bench.job")),
            ],
            options={"ordering": ["table", "position"]},
        ),
        migrations.AddConstraint(
            model_name="entry",
            constraint=models.UniqueConstraint(fields=("job", "table", "key"), name="entry_key"),
        ),
        migrations.RunPython(gather, spread),
        *(migrations.DeleteModel(name=former) for former in FORMER.values()),
    ]
