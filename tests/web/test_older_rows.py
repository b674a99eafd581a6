"""Jobs that an older version kept: their rows are brought up when they are opened, and what was done to them is
undone."""

from __future__ import annotations

import json
from typing import Any

import pytest
from django.contrib.auth.models import User

from lexigon.bench import models
from lexigon.bench.services import rows
from lexigon.bench.services.jobs import opened
from lexigon.core.document.model import FORMAT
from lexigon.core.fileformat.values import plain
from tests.core.test_upgrades import GOLDEN, comparable, json_of, without_groups

PAGE = ("id", "master", "made_by_flow", "frames", "objects")
PARAGRAPH = ("id", "style", "text")


def kept(user: User, data: dict[str, Any], form: int, revision: int) -> models.Job:
    """The rows of a job as the version that wrote ``form`` kept them."""
    job = models.Job.objects.create(
        owner=user,
        name=data["name"],
        kind=data.get("kind", "book"),
        revision=revision,
        form=form,
        brief=data["brief"],
        main_story=data.get("main_story"),
    )
    for table in rows.ENTRY_TABLES:
        for at, (key, entry) in enumerate(data.get(table, {}).items()):
            name = entry.get("name") or entry.get("word") or entry["id"]
            models.Entry.objects.create(job=job, table=table, key=key, position=at, name=name, data=entry)
    for at, story in enumerate(data.get("stories", {}).values()):
        own = models.Story.objects.create(
            job=job,
            key=story["id"],
            position=at,
            name=story["name"],
            frames=story.get("frames", []),
            kind=story.get("kind", "text"),
        )
        for rank, p in enumerate(story["paragraphs"]):
            details = {name: value for name, value in p.items() if name not in PARAGRAPH}
            models.Paragraph.objects.create(
                story=own, key=p["id"], rank=rank * rows.GAP, style=p["style"], text=p.get("text", ""), details=details
            )
    for rank, page in enumerate(data["pages"]):
        details = {name: value for name, value in page.items() if name not in PAGE}
        at_page = models.Page.objects.create(
            job=job,
            key=page["id"],
            rank=rank * rows.GAP,
            master=page.get("master"),
            made_by_flow=page.get("made_by_flow", False),
            details=details,
        )
        for at, frame in enumerate(page.get("frames", page.get("objects", []))):
            models.PageObject.objects.create(page=at_page, key=frame["id"], position=at, data=frame)
    return job


@pytest.mark.parametrize("form", range(1, FORMAT))
def test_a_job_of_an_older_form_is_opened_and_what_was_done_to_it_undone(user: User, form: int) -> None:
    told = json.loads((GOLDEN / f"format-{form}-log.json").read_text())
    job = kept(user, told["end"], form, len(told["log"]))
    for revision, change in enumerate(told["log"], 1):
        models.Edit.objects.create(
            job=job,
            revision=revision,
            label="Move object",
            form=form,
            edits=change["edits"],
            inverse=change["inverse"],
            by=user,
        )
    with opened(job.pk) as live:
        found = {**plain(live.job), "id": told["end"]["id"]}
        assert comparable(found) == comparable(told["end"])
        for _ in told["log"]:
            live.undo(user)
        start = json_of(GOLDEN / f"format-{form}-magazine.lexigon")
        assert without_groups(comparable({**plain(live.job), "id": start["id"]})) == without_groups(comparable(start))
        undone = plain(live.job)
    row, again = rows.load(job.pk)
    assert row.form == FORMAT
    assert plain(again) == undone
    assert models.Entry.objects.filter(table="layers", job=job).count() == len(undone["layers"])
