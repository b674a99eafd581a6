"""Merges of many records are made in chunks."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('bench', '0025_merge_outputs'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='MergeChunk',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('done', models.PositiveIntegerField(default=0)),
                ('total', models.PositiveIntegerField(default=0)),
                ('error', models.TextField(blank=True)),
                ('task', models.CharField(blank=True, max_length=64)),
                ('claim', models.CharField(blank=True, max_length=32)),
                ('lease', models.DateTimeField(null=True)),
                ('started', models.DateTimeField(auto_now_add=True)),
                ('ended', models.DateTimeField(null=True)),
                ('facts', models.JSONField(null=True)),
                ('state', models.CharField(default='planned', max_length=8)),
                ('first', models.PositiveIntegerField()),
                ('last', models.PositiveIntegerField()),
                ('by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('output', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='chunks', to='bench.mergeoutput')),
            ],
            options={
                'ordering': ['first'],
                'constraints': [models.UniqueConstraint(fields=('output', 'first'), name='merge_chunk_first')],
            },
        ),
    ]
