"""Work on the copy over the web: found, shown as it would be, replaced in one change in each job, kept; nobody else's jobs."""

from __future__ import annotations

import json
from typing import Any

from django.contrib.auth.models import User
from django.test import Client

from lexigon.bench import models
from lexigon.bench.services.jobs import create_job, opened
from lexigon.core.job.intents import PourText, PutStyle
from lexigon.core.job.model import Paragraph, TypeSpec
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


def test_rules_show_what_they_find_act_are_ordered_and_taken_back(client: Client, job: models.Job) -> None:
    pour(job, "The [gist] of it.", "More [words].")
    with opened(job.pk) as live:
        body = live.job.paragraph_styles["body"].name
        live.do([PutStyle("character", name="Query", type=TypeSpec(italic=True))], job.owner)
    line = f'in {body}, from "[" through "]": Query'
    found = client.get(f"/job/{job.pk}/manuscript/rules/look/", {"line": line}).json()
    assert [(row["text"], row["label"]) for row in found["rows"]] == [("[gist]", "1"), ("[words]", "1")]
    wrong = client.get(f"/job/{job.pk}/manuscript/rules/look/", {"line": "in Nowhere: Query"})
    assert (wrong.status_code, wrong.json()["error"]) == (400, "There is no paragraph style “Nowhere” in this job.")
    (rule,) = send(client, job, "rules/edits", {"intents": [{"do": "put-marking", "line": line}]})["rules"]
    assert (rule["line"], rule["count"], rule["on"]) == (line, 2, True)
    with opened(job.pk) as live:
        assert live.desk.composition.main
        (span,) = live.desk.composition.main.paragraphs[0].shown.paragraph.spans
        assert (span.start, span.end) == (4, 10)
        assert not live.job.stories["main"].paragraphs[0].spans
    two = send(client, job, "rules/edits", {"intents": [{"do": "put-marking", "line": "first word: Query"}]})["rules"]
    moved = send(client, job, "rules/edits", {"intents": [{"do": "move-marking", "id": two[1]["id"], "to": 0}]})[
        "rules"
    ]
    assert [one["line"] for one in moved] == ["first word: Query", line]
    done = send(client, job, "rules/edits", {"intents": [{"do": "do-marking", "id": rule["id"]}]})["rules"]
    assert [one["on"] for one in done] == [True, False]
    with opened(job.pk) as live:
        assert len(live.job.stories["main"].paragraphs[0].spans) == 1
    client.post(f"/job/{job.pk}/undo/", "{}", content_type="application/json")
    with opened(job.pk) as live:
        assert not live.job.stories["main"].paragraphs[0].spans
    assert "nothing that is done to rules" in send(client, job, "rules/edits", {"intents": [{"do": "put-copy", "name": "x", "text": "y"}]}, 400)["error"]  # fmt: skip
    assert send(client, job, "rules/keep", {"line": line})["library"] == [line]
    assert line.split(",")[0] in client.get(f"/job/{job.pk}/manuscript/rules/").content.decode()
    assert send(client, job, "rules/keep", {"line": line, "forgotten": True})["library"] == []
