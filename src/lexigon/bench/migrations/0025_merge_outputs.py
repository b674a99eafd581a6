"""The files of merges."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('bench', '0024_one_table_of_entries'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='MergeOutput',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('state', models.CharField(default='waiting', max_length=8)),
                ('done', models.PositiveIntegerField(default=0)),
                ('total', models.PositiveIntegerField(default=0)),
                ('error', models.TextField(blank=True)),
                ('task', models.CharField(blank=True, max_length=64)),
                ('claim', models.CharField(blank=True, max_length=32)),
                ('lease', models.DateTimeField(null=True)),
                ('started', models.DateTimeField(auto_now_add=True)),
                ('ended', models.DateTimeField(null=True)),
                ('recipe', models.CharField(max_length=20)),
                ('facts', models.JSONField(null=True)),
                ('options', models.JSONField(default=dict)),
                ('revision', models.PositiveIntegerField()),
                ('record_set', models.CharField(max_length=40)),
                ('numbers', models.JSONField(default=list)),
                ('form', models.CharField(choices=[('one', 'one PDF'), ('each', 'a file for each record'), ('sheets', 'sheets')], default='one', max_length=8)),
                ('name', models.CharField(blank=True, max_length=400)),
                ('layout', models.JSONField(default=dict)),
                ('by', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('job', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, to='bench.job')),
            ],
            options={
                'ordering': ['-started'],
                'abstract': False,
            },
        ),
    ]
