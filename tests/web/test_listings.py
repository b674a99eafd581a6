"""Listings over HTTP: set up, looked at, put in, brought up to date; what a reference can lead to; strangers get
nothing."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any

import pytest
from django.test import Client

from lexigon.bench import models
from lexigon.bench.services.jobs import opened
from lexigon.core.document.model import Paragraph
from lexigon.core.editing.intents import PourText
from tests.web.conftest import from_rows

Edit = Callable[..., Any]
CONTENTS = {"id": "c", "name": "Contents", "sources": [{"style": "chapter"}, {"style": "section", "level": 2}]}


@pytest.fixture
def book(job: models.Job) -> models.Job:
    rows = [
        Paragraph("slot", "body", ""),
        *(Paragraph(f"h{n}", ("chapter", "section")[n % 2], f"Head {n}") for n in range(6)),
    ]
    with opened(job.pk) as live:
        live.do([PourText("main", tuple(rows))], job.owner)
    return job


def post(client: Client, job: models.Job, name: str, data: dict[str, Any], status: int = 200) -> Any:
    response = client.post(f"/job/{job.pk}/{name}/", json.dumps(data), content_type="application/json")
    assert response.status_code == status, response.content
    return response.json()


def test_a_listing_is_set_up_put_in_and_brought_up_to_date(client: Client, book: models.Job, edit: Edit) -> None:
    page = client.get(f"/job/{book.pk}/manuscript/listings/")
    assert b"Contents" in page.content, "what is ready is offered"
    rows = post(client, book, "manuscript/listings/look", {"listing": CONTENTS})["rows"]
    assert [(row["words"], row["level"]) for row in rows] == [(f"Head {n}", n % 2 + 1) for n in range(6)]
    (one,) = post(client, book, "manuscript/listings/set-up", {"listing": CONTENTS})["listings"]
    assert one["stands"] is None
    assert (
        "already" in post(client, book, "manuscript/listings/set-up", {"listing": CONTENTS | {"id": "d"}}, 400)["error"]
    )
    put = {"listing": "c", "story": "main", "at": {"paragraph": "slot", "offset": 0}, "view": [0]}
    answer = post(client, book, "listings/put", put)
    assert any("Head" in page["svg"] for page in answer["pages"].values())
    edit(
        {
            "do": "replace-text",
            "story": "main",
            "start": {"paragraph": "h2", "offset": 0},
            "end": {"paragraph": "h2", "offset": 4},
            "text": "Tail",
        }
    )
    (one,) = client.get(f"/job/{book.pk}/listings/").json()["listings"]
    assert [(d["what"], d["new"]) for d in one["differences"]] == [("words", "Tail 2")]
    post(client, book, "listings/change", {"listing": "c", "view": [0]})
    with opened(book.pk) as live:
        texts = [p.text for p in live.job.stories["main"].paragraphs[:6]]
    assert texts[2].startswith("Tail 2\t")
    assert json.loads(from_rows(book))["listings"]["c"]["entries"]
    (one,) = post(client, book, "manuscript/listings/change", {"listing": "c", "what": "take out"})["listings"]
    assert one["stands"] is None
    assert post(client, book, "manuscript/listings/change", {"listing": "c", "what": "delete"})["listings"] == []
    assert "no longer" in post(client, book, "listings/change", {"listing": "c", "view": [0]}, 400)["error"]


def test_what_a_reference_leads_to_is_found_by_its_words(client: Client, book: models.Job, edit: Edit) -> None:
    places = client.get(f"/job/{book.pk}/listings/places/").json()["places"]
    assert [one["words"] for one in places] == [f"Head {n}" for n in range(6)]
    (one,) = client.get(f"/job/{book.pk}/listings/places/", {"words": "HEAD 3"}).json()["places"]
    assert (one["id"], one["style"]) == ("h3", "Section heading")
    place = {"paragraph": "h3", "offset": 4}
    edit({"do": "add-note", "story": "main", "start": place, "end": place, "text": "Counted at low water."})
    (note,) = client.get(f"/job/{book.pk}/listings/places/", {"words": "low water"}).json()["places"]
    assert (note["number"], note["label"]) == ("1", one["label"]), "a note by its words"


def test_words_are_marked_and_terms_lead_to_each_other(client: Client, book: models.Job, edit: Edit) -> None:
    place = {"paragraph": "h3", "offset": 0}
    edit({"do": "mark-term", "story": "main", "start": place, "end": place, "name": "Tern"})
    index = {"id": "i", "name": "Index", "sources": [{"style": "marks", "of": "marks"}], "separator": ", "}
    answer = post(client, book, "manuscript/listings/set-up", {"listing": index})
    (one,) = answer["listings"]
    assert [row["words"] for row in one["rows"]] == ["Tern"]
    assert (
        "There is no term “Gull”"
        in post(client, book, "manuscript/listings/term", {"name": "Sea swallow", "see": ["Gull"]}, 400)["error"]
    )
    answer = post(client, book, "manuscript/listings/term", {"name": "Sea swallow", "see": ["tern"]})
    assert [row["words"] for row in answer["listings"][0]["rows"]] == ["Sea swallow, see Tern", "Tern"]
    tern = next(term for term in answer["choices"]["terms"] if term["name"] == "Tern")
    answer = post(client, book, "manuscript/listings/term", {"id": tern["id"], "gone": True})
    assert answer["listings"][0]["rows"] == []
    assert json.loads(from_rows(book))["terms"]


def test_a_stranger_sees_no_listings(book: models.Job, django_user_model: Any) -> None:
    other = Client()
    other.force_login(django_user_model.objects.create_user("tern", password="x"))
    for name in ("listings", "listings/places", "manuscript/listings"):
        assert other.get(f"/job/{book.pk}/{name}/").status_code == 404
    response = other.post(f"/job/{book.pk}/listings/change/", "{}", content_type="application/json")
    assert response.status_code == 404
