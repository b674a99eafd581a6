"""All tables at once, for a new database: what the migrations 0001 to 0024 make of an empty one.

A database that some of them were applied to goes on with the rest of them, which move its rows.
"""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

import lexigon.bench.models


class Migration(migrations.Migration):
    replaces = [
        ("bench", "0001_initial"),
        ("bench", "0002_frame_and_rule_styles"),
        ("bench", "0003_own_fonts"),
        ("bench", "0004_kept_files_and_forms"),
        ("bench", "0005_work_versions_and_bin"),
        ("bench", "0006_objects_and_layers"),
        ("bench", "0007_objects_in_texts_and_pictures"),
        ("bench", "0008_shared_jobs_and_presence"),
        ("bench", "0009_ink_sets"),
        ("bench", "0010_tables_in_texts"),
        ("bench", "0011_clean_ups_and_houses"),
        ("bench", "0012_copy_work"),
        ("bench", "0013_listings"),
        ("bench", "0014_note_kinds"),
        ("bench", "0015_table_styles"),
        ("bench", "0016_publications"),
        ("bench", "0017_abroad"),
        ("bench", "0018_attempts"),
        ("bench", "0019_roles_and_files_of_jobs"),
        ("bench", "0020_survey_choices"),
        ("bench", "0021_options_of_outputs"),
        ("bench", "0022_history_labels"),
        ("bench", "0023_preferences"),
        ("bench", "0024_one_table_of_entries"),
    ]
    initial = True

    dependencies = [
        ("auth", "0012_alter_user_first_name_max_length"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="Preference",
            fields=[
                (
                    "user",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE,
                        primary_key=True,
                        serialize=False,
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                ("region", models.CharField(default="en-GB", max_length=12)),
                ("unit", models.CharField(blank=True, max_length=2)),
            ],
        ),
        migrations.CreateModel(
            name="Attempt",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("kind", models.CharField(max_length=8)),
                ("address", models.CharField(max_length=64)),
                ("at", models.DateTimeField(auto_now_add=True)),
            ],
            options={
                "indexes": [models.Index(fields=["kind", "address", "at"], name="attempt_of_address")],
            },
        ),
        migrations.CreateModel(
            name="Job",
            fields=[
                (
                    "key",
                    models.CharField(
                        default=lexigon.bench.models.job_key, max_length=24, primary_key=True, serialize=False
                    ),
                ),
                ("name", models.CharField(max_length=200)),
                ("kind", models.CharField(default="book", max_length=20)),
                ("revision", models.PositiveIntegerField(default=0)),
                ("form", models.PositiveSmallIntegerField(default=1)),
                ("brief", models.JSONField()),
                ("main_story", models.CharField(max_length=24, null=True)),
                ("template", models.BooleanField(default=False)),
                ("binned", models.DateTimeField(null=True)),
                ("glance", models.JSONField(null=True)),
                ("created", models.DateTimeField(auto_now_add=True)),
                ("changed", models.DateTimeField(auto_now=True)),
                (
                    "owner",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="jobs", to=settings.AUTH_USER_MODEL
                    ),
                ),
            ],
            options={
                "ordering": ["-changed"],
            },
        ),
        migrations.CreateModel(
            name="Comment",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
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
            options={
                "ordering": ["pk"],
            },
        ),
        migrations.CreateModel(
            name="Manuscript",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("done", models.PositiveIntegerField(default=0)),
                ("total", models.PositiveIntegerField(default=0)),
                ("error", models.TextField(blank=True)),
                ("task", models.CharField(blank=True, max_length=64)),
                ("claim", models.CharField(blank=True, max_length=32)),
                ("lease", models.DateTimeField(null=True)),
                ("started", models.DateTimeField(auto_now_add=True)),
                ("ended", models.DateTimeField(null=True)),
                ("state", models.CharField(default="read", max_length=8)),
                ("name", models.CharField(max_length=255)),
                ("data", models.BinaryField()),
                ("mapping", models.JSONField(default=dict)),
                ("cleaned", models.JSONField(default=dict)),
                ("account", models.JSONField(null=True)),
                ("saved", models.JSONField(default=dict)),
                (
                    "by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                ("job", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, to="bench.job")),
            ],
            options={
                "abstract": False,
            },
        ),
        migrations.CreateModel(
            name="Origin",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", models.CharField(max_length=255)),
                ("when", models.DateTimeField(auto_now_add=True)),
                ("marks", models.JSONField()),
                ("mapping", models.JSONField(default=dict)),
                ("cleaned", models.JSONField(default=dict)),
                ("headings", models.JSONField(default=dict)),
                (
                    "job",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="origins", to="bench.job"
                    ),
                ),
            ],
            options={
                "ordering": ["-when", "-pk"],
            },
        ),
        migrations.CreateModel(
            name="Output",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("state", models.CharField(default="waiting", max_length=8)),
                ("done", models.PositiveIntegerField(default=0)),
                ("total", models.PositiveIntegerField(default=0)),
                ("error", models.TextField(blank=True)),
                ("task", models.CharField(blank=True, max_length=64)),
                ("claim", models.CharField(blank=True, max_length=32)),
                ("lease", models.DateTimeField(null=True)),
                ("started", models.DateTimeField(auto_now_add=True)),
                ("ended", models.DateTimeField(null=True)),
                ("recipe", models.CharField(max_length=20)),
                ("facts", models.JSONField(null=True)),
                ("options", models.JSONField(default=dict)),
                ("pages", models.CharField(blank=True, max_length=200)),
                ("revision", models.PositiveIntegerField()),
                (
                    "by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                ("job", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, to="bench.job")),
            ],
            options={
                "ordering": ["-started"],
                "abstract": False,
            },
        ),
        migrations.CreateModel(
            name="Page",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("key", models.CharField(max_length=24)),
                ("rank", models.BigIntegerField()),
                ("master", models.CharField(max_length=40, null=True)),
                ("made_by_flow", models.BooleanField(default=False)),
                ("details", models.JSONField(default=dict)),
                ("job", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, to="bench.job")),
            ],
            options={
                "ordering": ["rank"],
            },
        ),
        migrations.CreateModel(
            name="PageObject",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("key", models.CharField(max_length=24)),
                ("position", models.IntegerField()),
                ("data", models.JSONField()),
                ("page", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, to="bench.page")),
            ],
            options={
                "ordering": ["position"],
            },
        ),
        migrations.CreateModel(
            name="Presence",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("client", models.CharField(max_length=40)),
                ("page", models.CharField(max_length=80)),
                ("chosen", models.JSONField(default=list)),
                ("at", models.DateTimeField()),
                ("job", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, to="bench.job")),
                ("user", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, to=settings.AUTH_USER_MODEL)),
            ],
        ),
        migrations.CreateModel(
            name="Publication",
            fields=[
                (
                    "key",
                    models.CharField(
                        default=lexigon.bench.models.publication_key, max_length=24, primary_key=True, serialize=False
                    ),
                ),
                ("plan", models.JSONField()),
                ("past", models.JSONField(default=list)),
                ("future", models.JSONField(default=list)),
                ("binned", models.DateTimeField(null=True)),
                ("created", models.DateTimeField(auto_now_add=True)),
                ("changed", models.DateTimeField(auto_now=True)),
                (
                    "owner",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="publications",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={
                "ordering": ["-changed"],
            },
        ),
        migrations.CreateModel(
            name="PublicationOutput",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("state", models.CharField(default="waiting", max_length=8)),
                ("done", models.PositiveIntegerField(default=0)),
                ("total", models.PositiveIntegerField(default=0)),
                ("error", models.TextField(blank=True)),
                ("task", models.CharField(blank=True, max_length=64)),
                ("claim", models.CharField(blank=True, max_length=32)),
                ("lease", models.DateTimeField(null=True)),
                ("started", models.DateTimeField(auto_now_add=True)),
                ("ended", models.DateTimeField(null=True)),
                ("recipe", models.CharField(max_length=20)),
                ("facts", models.JSONField(null=True)),
                ("options", models.JSONField(default=dict)),
                ("name", models.CharField(max_length=200)),
                ("parts", models.JSONField()),
                (
                    "by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                ("publication", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, to="bench.publication")),
            ],
            options={
                "ordering": ["-started"],
                "abstract": False,
            },
        ),
        migrations.CreateModel(
            name="Search",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", models.CharField(max_length=80)),
                ("said", models.JSONField()),
                ("owner", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, to=settings.AUTH_USER_MODEL)),
            ],
            options={
                "ordering": ["name"],
            },
        ),
        migrations.CreateModel(
            name="Share",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
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
                        on_delete=django.db.models.deletion.CASCADE, related_name="shares", to=settings.AUTH_USER_MODEL
                    ),
                ),
            ],
            options={
                "ordering": ["pk"],
            },
        ),
        migrations.AddField(
            model_name="job",
            name="people",
            field=models.ManyToManyField(
                related_name="shared_jobs", through="bench.Share", to=settings.AUTH_USER_MODEL
            ),
        ),
        migrations.CreateModel(
            name="Story",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("key", models.CharField(max_length=24)),
                ("position", models.IntegerField()),
                ("name", models.CharField(max_length=200)),
                ("frames", models.JSONField(default=list)),
                ("kind", models.CharField(default="text", max_length=20)),
                ("job", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, to="bench.job")),
            ],
            options={
                "ordering": ["position"],
            },
        ),
        migrations.CreateModel(
            name="Paragraph",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("key", models.CharField(max_length=24)),
                ("rank", models.BigIntegerField()),
                ("style", models.CharField(max_length=40)),
                ("text", models.TextField(blank=True)),
                ("details", models.JSONField(default=dict)),
                ("story", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, to="bench.story")),
            ],
            options={
                "ordering": ["rank"],
            },
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
            },
        ),
        migrations.CreateModel(
            name="House",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", models.CharField(max_length=80)),
                ("mapping", models.JSONField(default=dict)),
                ("cleaned", models.JSONField(default=dict)),
                ("owner", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, to=settings.AUTH_USER_MODEL)),
            ],
            options={
                "ordering": ["name"],
                "constraints": [models.UniqueConstraint(fields=("owner", "name"), name="house_name")],
            },
        ),
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
            options={
                "ordering": ["table", "position"],
                "constraints": [models.UniqueConstraint(fields=("job", "table", "key"), name="entry_key")],
            },
        ),
        migrations.CreateModel(
            name="Edit",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("revision", models.PositiveIntegerField()),
                ("label", models.CharField(max_length=120)),
                ("where", models.CharField(blank=True, max_length=80)),
                ("kind", models.CharField(default="do", max_length=8)),
                ("state", models.CharField(default="stands", max_length=8)),
                ("group", models.CharField(blank=True, max_length=40)),
                ("token", models.CharField(max_length=40, null=True)),
                ("form", models.PositiveSmallIntegerField(default=1)),
                ("edits", models.JSONField()),
                ("inverse", models.JSONField()),
                ("at", models.DateTimeField(auto_now_add=True)),
                (
                    "by",
                    models.ForeignKey(
                        null=True, on_delete=django.db.models.deletion.SET_NULL, to=settings.AUTH_USER_MODEL
                    ),
                ),
                ("job", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, to="bench.job")),
            ],
            options={
                "ordering": ["revision"],
                "indexes": [
                    models.Index(fields=["job", "kind", "state", "revision"], name="bench_edit_job_id_14056c_idx")
                ],
                "constraints": [
                    models.UniqueConstraint(fields=("job", "revision"), name="edit_revision"),
                    models.UniqueConstraint(fields=("job", "token"), name="edit_token"),
                ],
            },
        ),
        migrations.CreateModel(
            name="JobFile",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", models.CharField(max_length=64)),
                (
                    "job",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="files", to="bench.job"
                    ),
                ),
            ],
            options={
                "constraints": [models.UniqueConstraint(fields=("job", "name"), name="file_of_job")],
            },
        ),
        migrations.CreateModel(
            name="KeptRule",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("line", models.CharField(max_length=2000)),
                ("owner", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, to=settings.AUTH_USER_MODEL)),
            ],
            options={
                "ordering": ["line"],
                "constraints": [models.UniqueConstraint(fields=("owner", "line"), name="kept_rule_line")],
            },
        ),
        migrations.CreateModel(
            name="KeptSetup",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", models.CharField(max_length=80)),
                ("values", models.JSONField()),
                (
                    "owner",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="setups", to=settings.AUTH_USER_MODEL
                    ),
                ),
            ],
            options={
                "ordering": ["name"],
                "constraints": [models.UniqueConstraint(fields=("owner", "name"), name="setup_name")],
            },
        ),
        migrations.CreateModel(
            name="LearnedWord",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("word", models.CharField(max_length=80)),
                ("language", models.CharField(blank=True, max_length=40)),
                ("owner", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, to=settings.AUTH_USER_MODEL)),
            ],
            options={
                "ordering": ["word"],
                "constraints": [models.UniqueConstraint(fields=("owner", "word", "language"), name="learned_word")],
            },
        ),
        migrations.CreateModel(
            name="OwnDictionary",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("language", models.CharField(max_length=40)),
                ("aff", models.BinaryField()),
                ("dic", models.BinaryField()),
                ("owner", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, to=settings.AUTH_USER_MODEL)),
            ],
            options={
                "ordering": ["language"],
                "constraints": [models.UniqueConstraint(fields=("owner", "language"), name="own_dictionary_language")],
            },
        ),
        migrations.AddConstraint(
            model_name="page",
            constraint=models.UniqueConstraint(fields=("job", "key"), name="page_key"),
        ),
        migrations.AddConstraint(
            model_name="presence",
            constraint=models.UniqueConstraint(fields=("job", "client"), name="presence_client"),
        ),
        migrations.AddConstraint(
            model_name="search",
            constraint=models.UniqueConstraint(fields=("owner", "name"), name="search_name"),
        ),
        migrations.AddConstraint(
            model_name="share",
            constraint=models.UniqueConstraint(fields=("job", "user"), name="share_of_job"),
        ),
        migrations.AddConstraint(
            model_name="story",
            constraint=models.UniqueConstraint(fields=("job", "key"), name="story_key"),
        ),
        migrations.AddConstraint(
            model_name="paragraph",
            constraint=models.UniqueConstraint(fields=("story", "key"), name="paragraph_key"),
        ),
        migrations.AddConstraint(
            model_name="version",
            constraint=models.UniqueConstraint(fields=("job", "name"), name="version_name"),
        ),
    ]
