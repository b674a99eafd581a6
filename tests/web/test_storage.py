"""When nothing can be written: an answer that says so, in the form that was asked for; what is only read still
works."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.db import OperationalError, connection
from django.test import Client

from lexigon.bench import models
from lexigon.bench.services import rows
from lexigon.bench.services.jobs import OpenJob, create_job, forget
from lexigon.bench.services.storage import BUSY, FULL, trouble_of
from lexigon.core.editing.intents import Intent, Place, ReplaceText
from lexigon.core.fileformat.jobs import job_from_json
from tests.core.helpers import poured
from tests.web.conftest import from_rows

JSON = {"HTTP_ACCEPT": "application/json"}


@pytest.fixture
def paragraph(job: models.Job) -> str:
    return next(p.id for p in job_from_json(from_rows(job)).stories["main"].paragraphs if len(p.text) > 60)


@pytest.fixture
def full(job: models.Job) -> Iterator[None]:
    """A database that takes nothing more: SQLite says so as it does of a full disk."""
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA page_count")
        (pages,) = cursor.fetchone()
        cursor.execute("PRAGMA freelist_count")
        models.Job.objects.filter(pk=job.pk).update(glance={"revision": -1})
        cursor.execute(f"PRAGMA max_page_count = {pages}")
        yield
        cursor.execute("PRAGMA max_page_count = 1073741823")


@pytest.mark.django_db(transaction=True)
def test_a_full_disk_is_said_and_what_is_read_is_still_there(
    client: Client, job: models.Job, full: None, paragraph: str
) -> None:
    before = from_rows(job)
    long = {
        "do": "replace-text",
        "story": "main",
        "start": {"paragraph": paragraph, "offset": 0},
        "end": {"paragraph": paragraph, "offset": 0},
        "text": "x" * 200_000,
    }
    for _ in range(3):
        answer = client.post(f"/job/{job.pk}/edits/", {"intents": [long]}, content_type="application/json", **JSON)
        assert answer.status_code == 507, answer.content
        assert "disk" in answer.json()["error"]
    assert client.get(f"/job/{job.pk}/board/pages/?page=0").status_code == 200
    assert client.get("/").status_code == 200, "the shelf is listed"
    assert from_rows(job) == before


def test_what_nobody_expected_is_an_answer_too(
    client: Client, job: models.Job, monkeypatch: pytest.MonkeyPatch, paragraph: str
) -> None:
    def broken(*_: Any) -> None:
        raise RuntimeError("nobody thought of this")

    monkeypatch.setattr(rows, "write", broken)
    edit = {
        "do": "replace-text",
        "story": "main",
        "start": {"paragraph": paragraph, "offset": 0},
        "end": {"paragraph": paragraph, "offset": 0},
        "text": "x",
    }
    answer = client.post(f"/job/{job.pk}/edits/", {"intents": [edit]}, content_type="application/json", **JSON)
    assert answer.status_code == 500
    assert "Lexigon could not do this because of an error" in answer.json()["error"]
    monkeypatch.setattr("lexigon.bench.services.glances.of", broken)
    page = client.get("/")
    assert page.status_code == 500
    assert "Something went wrong" in page.content.decode()


def test_troubles_are_told_apart() -> None:
    assert trouble_of(OperationalError("database is locked")) is BUSY
    assert trouble_of(OperationalError("database or disk is full")) is FULL
    assert trouble_of(OSError(28, "No space left on device")) is FULL
    caused = RuntimeError("while saving")
    caused.__cause__ = OSError(28, "No space left on device")
    assert trouble_of(caused) is FULL
    assert trouble_of(ValueError("no such thing")) is None


@pytest.mark.django_db(transaction=True)
def test_nobody_holds_the_database_while_a_job_is_composed(django_user_model: type[User]) -> None:
    """An edit that was late is made anew on what others did; the lock for writing is taken when it is composed."""
    user = django_user_model.objects.create_user("somebody")
    job = create_job(user, poured(6).job)
    one, two = OpenJob(job.pk), OpenJob(job.pk)
    paragraph = one.job.stories["main"].paragraphs[1].id

    def typed(text: str) -> list[Intent]:
        return [ReplaceText("main", Place(paragraph, 0), Place(paragraph, 0), text)]

    one.do(typed("one "), user)
    inside: list[bool] = []

    def look(_: Intent) -> None:
        inside.append(connection.in_atomic_block)

    two.do(typed("two "), user, base=0, before=look)
    assert inside == [False, False]
    one.catch_up()
    assert one.job.stories["main"].paragraphs[1].text.startswith("two one ")
    forget(job.pk)


def test_a_quotation_mark_that_is_never_closed_is_said(
    client: Client, job: models.Job, paragraph: str, edit: Callable[..., Any]
) -> None:
    answer = edit(
        {
            "do": "add-table",
            "story": "main",
            "at": {"paragraph": paragraph, "offset": 0},
            "words": 'a\tb\n"' + "x" * 140_000,
        },
        status=400,
    )
    assert "never closed" in answer["error"]


def test_pages_that_fit_no_longer_are_fitted_by_the_first_request_that_may_write(
    client: Client, job: models.Job
) -> None:
    """A font in a newer version, say: the job is one paragraph longer than its saved pages hold."""
    before = from_rows(job)
    book = job_from_json(before)
    words = next(p.text for p in book.stories["main"].paragraphs if len(p.text) > 60)
    row = models.Paragraph.objects.filter(story__job=job, story__key="main").exclude(text="").last()
    assert row is not None
    models.Paragraph.objects.filter(pk=row.pk).update(text=" ".join([words] * 60))
    forget(job.pk)
    before = from_rows(job)
    page = client.get(f"/job/{job.pk}/board/").content.decode()
    assert f'data-settle="/job/{job.pk}/settle/"' in page
    assert from_rows(job) == before
    assert client.post(f"/job/{job.pk}/settle/").json()["changed"]
    assert len(job_from_json(from_rows(job)).pages) > len(book.pages)
    assert "data-settle" not in client.get(f"/job/{job.pk}/board/").content.decode()


def test_a_request_that_would_fill_the_disk_is_refused_before_it_is_read(client: Client, job: models.Job) -> None:
    answer = client.post(f"/job/{job.pk}/merge/look/", {}, CONTENT_LENGTH=str(2 * 10**9), **JSON)
    assert answer.status_code == 413
    assert "smaller parts" in answer.json()["error"]
    page = client.post(f"/job/{job.pk}/merge/look/", {}, CONTENT_LENGTH=str(2 * 10**9))
    assert (page.status_code, "text/html" in page["Content-Type"]) == (413, True)
