"""What migrations make of rows that an older version wrote."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from django.db import connections
from django.db.backends.sqlite3.base import DatabaseWrapper
from django.db.migrations.executor import MigrationExecutor
from django.test import override_settings

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


def test_shares_become_editors_and_files_go_to_the_jobs_that_name_them(database: Any) -> None:
    now, undone, unused, foreign = (digit * 64 for digit in "abcd")
    executor = MigrationExecutor(database)
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

    executor = MigrationExecutor(database)
    executor.migrate([AFTER])
    old = executor.loader.project_state([AFTER]).apps
    assert list(rows("Share").values_list("job", "user__username", "role")) == [("x", "tern", "edit")]
    assert set(rows("JobFile").values_list("job", "name")) == {("x", now), ("y", undone)}, "none that nothing names"
