"""What migrations make of rows that an older version wrote."""

from __future__ import annotations

import json
from importlib import import_module
from pathlib import Path
from typing import Any

import pytest
from django.db import connections
from django.db.backends.sqlite3.base import DatabaseWrapper
from django.db.migrations.executor import MigrationExecutor
from django.test import override_settings

from lexigon.bench.services.rows import ENTRY_TABLES

BEFORE, AFTER = ("bench", "0018_attempts"), ("bench", "0019_roles_and_files_of_jobs")


@pytest.fixture
def database(tmp_path: Path, django_db_blocker: Any) -> Any:
    """A database of its own in place of the tests', which is created without migrations. It begins empty."""
    usual = connections["default"]
    values = usual.settings_dict | {"NAME": tmp_path / "older.sqlite3"}
    with django_db_blocker.unblock(), override_settings(MIGRATION_MODULES={}):
        connections["default"] = DatabaseWrapper(values, "default")
        try:
            yield connections["default"]
        finally:
            connections["default"].close()
            connections["default"] = usual


def one_by_one(database: Any) -> MigrationExecutor:
    """What applies each migration by itself, as in a database that some were applied to before."""
    executor = MigrationExecutor(database)
    executor.loader.replace_migrations = False
    executor.loader.build_graph()
    return executor


def columns(database: Any) -> dict[str, Any]:
    """The columns, references and unique values of every table of the application."""
    with database.cursor() as cursor:
        names = [name for name in database.introspection.table_names(cursor) if name.startswith("bench_")]
        tables = {}
        for name in names:
            cursor.execute(f"PRAGMA table_info('{name}')")
            own = sorted(row[1:] for row in cursor.fetchall())
            constraints = database.introspection.get_constraints(cursor, name).values()
            keys = ("columns", "unique", "primary_key", "foreign_key", "index")
            tables[name] = own, sorted(str([one[key] for key in keys]) for one in constraints)
        return tables


def test_a_new_database_is_what_all_migrations_make_of_an_empty_one(database: Any) -> None:
    executor = one_by_one(database)
    (last,) = (node for node in executor.loader.graph.leaf_nodes("bench") if node[1] != "0001_to_0024")
    executor.migrate([last])
    upgraded = columns(database)
    database.close()
    database.settings_dict["NAME"].unlink()
    assert not columns(database)
    executor = MigrationExecutor(database)
    assert ("bench", "0001_to_0024") in executor.loader.graph.nodes
    assert ("bench", "0001_initial") not in executor.loader.graph.nodes
    executor.migrate(executor.loader.graph.leaf_nodes("bench"))
    assert columns(database) == upgraded


def test_shares_become_editors_and_files_go_to_the_jobs_that_name_them(database: Any) -> None:
    now, undone, unused, foreign = (digit * 64 for digit in "abcd")
    executor = one_by_one(database)
    executor.migrate([BEFORE])
    old = executor.loader.project_state([BEFORE]).apps

    def rows(name: str, app: str = "bench") -> Any:
        return old.get_model(app, name).objects

    owner, other = (rows("User", "auth").create(username=name) for name in ("ines", "tern"))
    jobs = [rows("Job").create(key=key, owner=owner, name=key, brief={}) for key in "xy"]
    jobs[0].people.add(other)
    for name in (now, undone, unused):
        rows("KeptFile").create(owner=owner, name=name)
    rows("PictureFile").create(job=jobs[0], key="i1", position=0, name="a", data={"file": now})
    rows("PictureFile").create(job=jobs[1], key="i1", position=0, name="a", data={"file": foreign})
    gone = [{"op": "put-entry", "table": "pictures", "value": {"file": undone}}]
    rows("Edit").create(job=jobs[1], revision=1, label="", edits=[], inverse=gone)

    executor = one_by_one(database)
    executor.migrate([AFTER])
    old = executor.loader.project_state([AFTER]).apps
    assert list(rows("Share").values_list("job", "user__username", "role")) == [("x", "tern", "edit")]
    assert set(rows("JobFile").values_list("job", "name")) == {("x", now), ("y", undone)}, "none that nothing names"


def test_entries_of_all_tables_become_rows_of_one_and_back(database: Any) -> None:
    before, after = ("bench", "0023_preferences"), ("bench", "0024_one_table_of_entries")
    migration = import_module("lexigon.bench.migrations.0024_one_table_of_entries")
    later = {"record_sets", "record_adjustments", "acceptances"}
    assert set(migration.FORMER) == set(ENTRY_TABLES) - later, "every table of a job of that time"
    executor = one_by_one(database)
    executor.migrate([before])
    old = executor.loader.project_state([before]).apps
    owner = old.get_model("auth", "User").objects.create(username="ines")
    jobs = [old.get_model("bench", "Job").objects.create(key=key, owner=owner, name=key, brief={}) for key in "xy"]
    expected = set()
    for job in jobs:
        for table, former in migration.FORMER.items():
            for at, key in enumerate(("one", "two")):
                data = {"id": key, "of": f"{job.key} {table}", "weight": 0.25, "text": "Æ “quoted”"}
                old.get_model("bench", former).objects.create(job=job, key=key, position=at, name=key, data=data)
                expected.add((job.key, table, key, at, key, json.dumps(data)))

    executor = MigrationExecutor(database)  # as on the next start of an installation
    executor.migrate([after])
    new = executor.loader.project_state([after]).apps
    rows = new.get_model("bench", "Entry").objects.values_list("job", "table", "key", "position", "name", "data")
    assert {(*values, json.dumps(data)) for *values, data in rows} == expected

    executor = one_by_one(database)
    executor.migrate([before])
    old = executor.loader.project_state([before]).apps
    for table, former in migration.FORMER.items():
        rows = old.get_model("bench", former).objects.values_list("job", "key", "position", "name", "data")
        again = {(job, table, *values, json.dumps(data)) for job, *values, data in rows}
        assert again == {row for row in expected if row[1] == table}
