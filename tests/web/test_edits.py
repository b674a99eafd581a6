"""The one address through which a job changes: kept before it is answered, undone after a reload, rebased when
stale."""

from __future__ import annotations

import gc
import json
import random
import weakref
from collections.abc import Callable
from contextlib import suppress
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.test import Client

from lexigon.bench import models
from lexigon.bench.services import rows
from lexigon.bench.services.jobs import OpenJob, create_job, forget, opened
from lexigon.bench.services.rows import GAP, _ranks
from lexigon.core.editing.intents import AddTextFrame, Place, RemoveFrame, ReplaceText
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.flow.workspace import Workspace
from tests.core import test_pages
from tests.core.helpers import poured
from tests.core.test_job import any_intent
from tests.web.conftest import from_rows

Edit = Callable[..., Any]


def live_text(job: models.Job, paragraph: str) -> str:
    with opened(job.pk) as live:
        return next(p.text for p in live.job.stories["main"].paragraphs if p.id == paragraph)


def typed(paragraph: str, at: int, text: str, end: int | None = None) -> dict[str, Any]:
    return {
        "do": "replace-text",
        "story": "main",
        "start": {"paragraph": paragraph, "offset": at},
        "end": {"paragraph": paragraph, "offset": at if end is None else end},
        "text": text,
    }


@pytest.fixture
def paragraph(job: models.Job) -> str:
    with opened(job.pk) as live:
        return next(p.id for p in live.job.stories["main"].paragraphs if len(p.text) > 60)


def test_a_job_reads_back_from_its_rows(job: models.Job) -> None:
    with opened(job.pk) as live:
        assert from_rows(job) == job_to_json(live.job)


def test_an_edit_is_in_the_database_when_it_is_answered(job: models.Job, edit: Edit, paragraph: str) -> None:
    answer = edit(typed(paragraph, 5, "XYZ "), base=0)
    assert answer["revision"] == 1
    assert answer["caret"]["offset"] == 9
    row = models.Paragraph.objects.get(key=paragraph)
    assert row.text[5:9] == "XYZ "
    with opened(job.pk) as live:
        assert from_rows(job) == job_to_json(live.job)


def test_a_keystroke_writes_one_paragraph(
    job: models.Job, edit: Edit, paragraph: str, django_assert_max_num_queries: Any
) -> None:
    edit(typed(paragraph, 5, "a"))
    with django_assert_max_num_queries(14) as queries:
        edit(typed(paragraph, 6, "b"))
    written = [q["sql"] for q in queries.captured_queries if q["sql"].startswith(("UPDATE", "INSERT", "DELETE"))]
    assert sum("bench_paragraph" in sql for sql in written) == 1
    assert not any("bench_page" in sql for sql in written)


@pytest.mark.parametrize(
    "kind_of_edit", [any_intent, test_pages.any_intent], ids=["words and frames", "pages and masters"]
)
@pytest.mark.parametrize("seed", range(6))
def test_rows_follow_any_edits_and_undo_takes_all_of_them_back(
    user: User, seed: int, kind_of_edit: Callable[[Workspace, random.Random], Any]
) -> None:
    chance = random.Random(seed)
    row = create_job(user, poured(12, seed=seed + 1).job)
    start = from_rows(row)
    done = 0
    for _ in range(14):
        with opened(row.pk) as live:
            with suppress(LexigonError):  # some cannot be done here
                done += bool(live.do([kind_of_edit(live.workspace, chance)], user).edits)
            assert from_rows(row) == job_to_json(live.job)
        if chance.random() < 0.3:
            forget(row.pk)  # as after a restart
    assert done > 3
    end = from_rows(row)
    with opened(row.pk) as live:
        while live.undo(user):
            assert from_rows(row) == job_to_json(live.job)
        assert from_rows(row) == start
        while live.redo(user):
            pass
        assert from_rows(row) == end == job_to_json(live.job)


def test_ranks_are_dealt_anew_when_a_gap_is_used_up(user: User) -> None:
    assert _ranks([None], GAP, GAP + 1) is None, "no room"
    assert _ranks([None, 5, 3, None], 1, 9) == [3, 5, 6, 7]
    assert _ranks([None, None], None, 0) == [-2 * GAP, -GAP]
    row = create_job(user, poured(3).job)
    with opened(row.pk) as live:
        first = live.job.stories["main"].paragraphs[0].id
        for _ in range(45):
            live.do([ReplaceText("main", Place(first, 1), Place(first, 1), "\n")], user)
        assert from_rows(row) == job_to_json(live.job)


def test_what_a_closed_job_held_is_free_without_the_garbage_collector(client: Client, job: models.Job) -> None:
    assert client.get(f"/job/{job.pk}/board/").status_code == 200
    with opened(job.pk) as live:
        composition = live.workspace.composition
        assert composition.main is not None
        held = [weakref.ref(one) for one in (composition.main, composition.where, composition.library)]
    del live, composition
    gc.disable()
    try:
        forget(job.pk)
        assert [one() for one in held[:2]] == [None, None]
        assert held[2]() is not None, "the fonts that ship are everybody's"
    finally:
        gc.enable()


def test_undo_and_redo_over_a_restart_and_through_the_view(
    client: Client, job: models.Job, edit: Edit, paragraph: str
) -> None:
    before = live_text(job, paragraph)
    for at, letter in enumerate("tide"):
        edit(typed(paragraph, at, letter), group="typing-1")
    edit(typed(paragraph, 0, "", 2), group="typing-2")
    forget(job.pk)

    def step(name: str) -> Any:
        return client.post(f"/job/{job.pk}/{name}/", json.dumps({"view": [0]}), content_type="application/json").json()

    assert step("undo")["label"] == "Delete text"
    assert live_text(job, paragraph) == "tide" + before
    answer = step("undo")
    assert live_text(job, paragraph) == before, "a stretch of typing is one step"
    assert (answer["undo"], answer["redo"]) == ("", "Type")
    assert step("undo")["label"] == ""
    step("redo")
    forget(job.pk)
    step("redo")
    assert live_text(job, paragraph) == "de" + before
    edit(typed(paragraph, 0, "new "))
    assert step("redo")["label"] == "", "what was undone is gone once something new is done"
    history = client.get(f"/job/{job.pk}/history/").json()["rows"]
    assert [row["label"] for row in history] == ["Type", "Delete text", "Type"]


def test_a_stale_edit_is_rebased_or_refused(job: models.Job, edit: Edit, paragraph: str) -> None:
    text = live_text(job, paragraph)
    edit(typed(paragraph, 10, "HERE "), base=0)
    edit(typed(paragraph, 30, "behind "), base=0)
    assert live_text(job, paragraph) == f"{text[:10]}HERE {text[10:30]}behind {text[30:]}"
    edit(typed(paragraph, 2, "before "), base=0)
    assert live_text(job, paragraph).startswith(f"{text[:2]}before ")
    now = live_text(job, paragraph)
    edit(typed(paragraph, 12 + 7, "!", 15 + 7), base=3)  # these very words
    answer = edit(typed(paragraph, 13 + 7, "lost?"), base=3, status=409)
    assert answer["stale"]
    assert "changed in another window" in answer["error"]
    assert live_text(job, paragraph).startswith(now[:15])
    edit(
        typed(paragraph, 0, "", len(live_text(job, paragraph))),
        {**typed(paragraph, 0, ""), "start": {"paragraph": paragraph, "offset": -1}},
        base=4,
    )
    assert "another window" in edit(typed(paragraph, 5, "x"), base=4, status=409)["error"]


def test_two_processes_agree_through_the_database(user: User, job: models.Job, paragraph: str) -> None:
    one, two = OpenJob(job.pk), OpenJob(job.pk)
    one.do([ReplaceText("main", Place(paragraph, 0), Place(paragraph, 0), "One ")], user, base=0)
    two.do([ReplaceText("main", Place(paragraph, 20), Place(paragraph, 20), "two\nthree ")], user, base=0)
    one.catch_up()
    assert job_to_json(one.job) == job_to_json(two.job) == from_rows(job)
    one.do([AddTextFrame(one.job.pages[0].id, one.job.brief.text_area("recto"))], user)
    two.catch_up()
    frame = two.job.pages[0].frames[0]
    two.do([RemoveFrame(two.job.pages[0].id, frame.id)], user)
    one.catch_up()
    assert one.undo(user).label == "Delete object"
    two.catch_up()
    assert job_to_json(one.job) == job_to_json(two.job) == from_rows(job)


def test_an_error_while_writing_changes_nothing(
    user: User, job: models.Job, paragraph: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    before = from_rows(job)

    def broken(*_: Any) -> None:
        raise OSError("disk full")

    monkeypatch.setattr(rows, "write", broken)
    with pytest.raises(OSError, match="disk full"), opened(job.pk) as live:
        live.do([ReplaceText("main", Place(paragraph, 0), Place(paragraph, 0), "x")], user)
    monkeypatch.undo()
    with opened(job.pk) as live:
        assert job_to_json(live.job) == before == from_rows(job)
        assert live.revision == 0


@pytest.mark.parametrize(
    "data",
    ["", "[]", "{", '{"intents": []}', '{"intents": "x"}', '{"intents": [{"do": "nothing"}]}', '{"intents": [5]}'],
)
def test_what_is_no_edit_is_refused(client: Client, job: models.Job, data: str) -> None:
    before = from_rows(job)
    response = client.post(f"/job/{job.pk}/edits/", data, content_type="application/json")
    assert response.status_code == 400
    assert response.json()["error"]
    assert from_rows(job) == before


def test_composing_is_the_same_after_reading_back(job: models.Job) -> None:
    with opened(job.pk) as live:
        pages = len(live.job.pages)
        again = Workspace(rows.load(job.pk)[1])
        assert len(again.job.pages) == pages
        assert not again.opening.edits


def test_a_request_sent_twice_is_done_once(job: models.Job, edit: Edit, paragraph: str) -> None:
    first = edit(typed(paragraph, 0, "Once "), base=0, token="a-1")
    again = edit(typed(paragraph, 0, "Once "), base=0, token="a-1")
    assert again["revision"] == first["revision"] == 1
    assert live_text(job, paragraph).count("Once ") == 1
