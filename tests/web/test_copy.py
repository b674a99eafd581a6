"""Work on the copy over the web: found, shown as it would be, replaced in one change in each job, kept; nobody else's jobs."""

from __future__ import annotations

import json
from typing import Any

from django.contrib.auth.models import User
from django.test import Client

from lexigon.bench import models
from lexigon.bench.services.jobs import create_job, opened
from lexigon.core.job.intents import PourText
from lexigon.core.job.model import Paragraph
from tests.core.helpers import book


def send(client: Client, job: models.Job, what: str, said: dict[str, Any], status: int = 200) -> Any:
    response = client.post(f"/job/{job.pk}/manuscript/{what}/", json.dumps(said), content_type="application/json")
    assert response.status_code == status, response.content
    return response.json()


def pour(job: models.Job, *texts: str) -> None:
    with opened(job.pk) as live:
        live.do([PourText("main", tuple(Paragraph(f"q{n}", "body", text) for n, text in enumerate(texts)))], job.owner)


def words(job: models.Job) -> list[str]:
    with opened(job.pk) as live:
        return [p.text for p in live.job.stories["main"].paragraphs]


def test_what_is_found_is_shown_and_replaced_but_for_what_was_unticked(client: Client, job: models.Job) -> None:
    pour(job, "A gull and a gull.", "The Gulls.")
    said = {"query": {"words": "gull"}, "exchange": {"words": "tern", "keep_case": True}}
    answer = send(client, job, "find/look", said)
    assert [(row["before"], row["text"], row["put"], row["label"]) for row in answer["rows"]] == [
        ("A ", "gull", "tern", "1"), ("A gull and a ", "gull", "tern", "1"), ("The ", "Gull", "Tern", "1"),
    ]  # fmt: skip
    stale = send(client, job, "find/exchange", said | {"left": [1], "revision": answer["revision"] - 1}, 400)
    assert "changed since" in stale["error"]
    done = send(client, job, "find/exchange", said | {"left": [1], "revision": answer["revision"]})
    assert (done["count"], words(job)) == (2, ["A tern and a gull.", "The Terns."])
    client.post(f"/job/{job.pk}/undo/", "{}", content_type="application/json")
    assert words(job) == ["A gull and a gull.", "The Gulls."]
    assert "cannot be read" in send(client, job, "find/look", {"query": {"words": "(g", "pattern": True}}, 400)["error"]
    assert send(client, job, "find/look", {"query": {}})["rows"] == []
    assert client.get(f"/job/{job.pk}/manuscript/find/?words=gull").status_code == 200


def test_in_all_jobs_of_ones_own_and_in_nobody_elses(client: Client, job: models.Job) -> None:
    other = create_job(job.owner, book())
    stranger = create_job(User.objects.create_user("stranger"), book())
    for one in (job, other, stranger):
        pour(one, "A gull.")
    said = {"query": {"words": "gull"}, "exchange": {"words": "tern"}, "everywhere": True}
    answer = send(client, job, "find/look", said)
    assert [(row["key"], row["count"]) for row in answer["jobs"]] == [(job.pk, 1), (other.pk, 1)]
    done = send(client, job, "find/exchange", said | {"revision": answer["revision"]})
    assert (done["count"], done["jobs"]) == (2, 2)
    assert [words(one) for one in (job, other, stranger)] == [["A tern."], ["A tern."], ["A gull."]]
    client.post(f"/job/{other.pk}/undo/", "{}", content_type="application/json")
    assert words(other) == ["A gull."]


def test_searches_are_kept_and_forgotten(client: Client, job: models.Job) -> None:
    said = {"name": "Gulls", "query": {"words": "gull"}, "exchange": {"words": "tern"}}
    (kept,) = send(client, job, "find/keep", said)["searches"]
    assert kept["said"]["query"]["words"] == "gull"
    assert "Gulls" in client.get(f"/job/{job.pk}/manuscript/find/").content.decode()
    assert send(client, job, "find/keep", {"name": "Gulls", "forgotten": True})["searches"] == []
    send(client, job, "find/keep", {"name": " "}, 400)
