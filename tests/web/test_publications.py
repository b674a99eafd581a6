"""Publications as the application keeps them: changed in steps, numbered through, brought into line, pressed by a
worker."""

from __future__ import annotations

import json
import zipfile
from dataclasses import replace
from typing import Any

import pikepdf
import pytest
from django.contrib.auth.models import User
from django.test import Client

from lexigon.bench import models
from lexigon.bench.models import Job, Publication, PublicationOutput
from lexigon.bench.services import outputs, rows, store
from lexigon.bench.services.jobs import create_job, opened
from lexigon.core.document.model import TypeSpec
from lexigon.core.document.numbering import labels
from lexigon.core.document.story_text import new_id
from lexigon.core.editing import intents as do
from lexigon.core.flow.listing_entries import gathered
from lexigon.core.geometry import Rect
from tests.core.helpers import poured


def job_of(user: User, name: str, paragraphs: int = 6) -> Job:
    made = poured(paragraphs).job
    made.id, made.name = new_id("j"), name
    return create_job(user, made)


@pytest.fixture
def publication(client: Client, user: User) -> Publication:
    client.post("/publication/begin/", {"name": "Slack water"})
    return Publication.objects.get()


def send(client: Client, row: Publication, name: str, status: int = 200, **said: Any) -> Any:
    answer = client.post(f"/publication/{row.pk}/{name}/", json.dumps(said), content_type="application/json")
    assert answer.status_code == status, answer.content
    return answer.json()


def planned(client: Client, row: Publication, *parts: tuple[Job, str], status: int = 200, **more: Any) -> Any:
    row.refresh_from_db()
    plan = {"name": "Slack water", "parts": [{"job": job.pk, "counted": way} for job, way in parts], **more}
    return send(client, row, "change", status, plan=plan, was=row.plan)


def first_label(job: Job) -> str:
    return labels(rows.sketch(job.pk))[0]


def test_jobs_are_numbered_through_as_edits_of_theirs_and_follow_what_changes(
    client: Client, user: User, publication: Publication
) -> None:
    front, one, two = job_of(user, "Front"), job_of(user, "One"), job_of(user, "Two")
    pages = {job.pk: len(rows.sketch(job.pk).pages) for job in (front, one, two)}
    told = planned(client, publication, (front, "own"), (one, "own"), (two, "on"))
    even = pages[one.pk] + pages[one.pk] % 2 + 1
    assert [part["first"] for part in told["parts"]] == ["1", "1", str(even)]
    assert first_label(two) == str(even)
    assert models.Edit.objects.filter(job=two).latest("revision").label == "Continue numbering from the previous job"
    # A page more before it, and it follows as soon as somebody opens it.
    with opened(one.pk) as live:
        live.do([do.AddPages(len(live.job.pages), 2)], user)
    assert first_label(two) == str(even)
    assert "data-settle" in client.get(f"/job/{two.pk}/board/").content.decode()
    assert first_label(two) == str(even), "looking writes nothing"
    client.post(f"/job/{two.pk}/settle/")
    assert first_label(two) == str(even + 2)
    # What the plan was comes back, with the numbers it gives; nobody's but one's own.
    planned(client, publication, (one, "own"), (two, "own"), (front, "apart"), lead=two.pk)
    assert first_label(two) == "1", "it goes on from nothing any more"
    assert send(client, publication, "undo-step")["label"]
    publication.refresh_from_db()
    assert [part["job"] for part in publication.plan["parts"]] == [front.pk, one.pk, two.pk]
    assert first_label(two) == str(even + 2)
    assert send(client, publication, "redo-step")["label"]
    publication.refresh_from_db()
    assert publication.plan["lead"] == two.pk
    assert not send(client, publication, "redo-step")["label"]


def test_what_is_no_plan_is_refused_in_words(client: Client, user: User, publication: Publication) -> None:
    mine, other = job_of(user, "Mine"), job_of(User.objects.create_user("stranger"), "Theirs")
    assert "jobs of yours" in planned(client, publication, (other, "on"), status=400)["error"]
    assert "each of them once" in planned(client, publication, (mine, "on"), (mine, "on"), status=400)["error"]
    assert planned(client, publication, (mine, "sideways"), status=400)["error"]
    planned(client, publication, (mine, "on"))
    plan = {"name": "Two windows", "parts": [], "lead": ""}
    assert "another window" in send(client, publication, "change", 400, plan=plan, was=plan)["error"]
    client.post("/publication/begin/", {"name": "Second"})
    second = Publication.objects.exclude(pk=publication.pk).get()
    assert "A job can be in one publication only" in planned(client, second, (mine, "on"), status=400)["error"]
    assert "no recipe" in send(client, publication, "press/start", 400, recipe="gold")["error"]
    assert "Add a job to the publication first" in send(client, second, "press/start", 400, recipe="print")["error"]
    client.post("/publication/begin/", {"name": "  "})
    assert Publication.objects.count() == 2
    stranger = Client()
    stranger.force_login(User.objects.get(username="stranger"), backend="django.contrib.auth.backends.ModelBackend")
    assert stranger.get(f"/publication/{publication.pk}/").status_code == 404
    # In the bin and back; a job in the bin is left out, and said to be.
    client.post(f"/publication/{publication.pk}/delete/")
    assert client.get(f"/publication/{publication.pk}/").status_code == 404
    assert "Restore" in client.get("/bin/").content.decode()
    client.post(f"/publication/{publication.pk}/restore/")
    client.post(f"/job/{mine.pk}/delete/")
    assert client.get(f"/publication/{publication.pk}/").context["state"]["missing"] == 1


def test_styles_that_differ_are_told_and_taken_over(client: Client, user: User, publication: Publication) -> None:
    lead, other = job_of(user, "Lead"), job_of(user, "Other")
    planned(client, publication, (lead, "on"), (other, "on"))
    with opened(lead.pk) as live:
        live.do([do.PutStyle("paragraph", "body", type=TypeSpec(size=13.0))], user)
    found = client.get(f"/publication/{publication.pk}/differences/").json()["differences"]
    assert [(one["name"], one["values"][0][0]) for one in found[other.pk]] == [("Body", "size")]
    assert "looking" not in client.get(f"/publication/{publication.pk}/differences/").json()
    with opened(other.pk) as live:
        live.do([do.AddTextFrame(live.job.pages[0].id, Rect(50, 50, 60, 20), text="words " * 60)], user)
    looking = client.get(f"/publication/{publication.pk}/differences/?looking=1").json()["looking"]
    assert looking[other.pk] > looking[lead.pk]
    left = send(client, publication, "align", job=other.pk, entries=[["paragraph_styles", "body"]])["differences"]
    assert not left[other.pk]
    assert rows.sketch(other.pk, ["paragraph_styles"]).paragraph_styles["body"].type.size == 13.0
    with opened(other.pk) as live:
        assert live.undo(user)
    assert rows.sketch(other.pk, ["paragraph_styles"]).paragraph_styles["body"].type.size != 13.0
    assert "no longer part" in send(client, publication, "align", 400, job=lead.pk, entries=[])["error"]


def test_one_file_of_all_as_they_were_when_it_was_asked_for(
    client: Client, user: User, publication: Publication
) -> None:
    one, two = job_of(user, "One"), job_of(user, "Two")
    planned(client, publication, (one, "on"), (two, "on"))
    counts = [len(rows.sketch(job.pk).pages) for job in (one, two)]
    row = PublicationOutput.objects.create(
        publication=publication,
        recipe="print",
        name="Slack water",
        parts=[[one.pk, 0, False], [two.pk, models.Job.objects.get(pk=two.pk).revision, bool(counts[0] % 2)]],
    )
    outputs.make_publication.call(row.pk)
    row.refresh_from_db()
    assert (row.state, row.error) == ("ready", "")
    place = store.local(row.place)
    assert place is not None
    with pikepdf.open(place) as pdf:
        assert len(pdf.pages) == sum(counts) + counts[0] % 2
        assert str(pdf.docinfo["/Title"]) == "Slack water"
    assert row.facts["conforms"] == "PDF/X-4"
    assert not row.facts["findings"]
    assert row.facts["ink"]["page"] < row.facts["pages"]
    told = client.get(f"/publication/{publication.pk}/press/{row.pk}/").json()
    assert told["count"] == row.facts["pages"]
    assert client.get(told["file"])["Content-Disposition"].endswith('slack-water-print.pdf"')
    assert client.get(told["proof"] + "0.png")["Content-Type"] == "image/png"
    pictures = PublicationOutput.objects.create(
        publication=publication, recipe="png", name="Slack water", parts=row.parts
    )
    outputs.make_publication.call(pictures.pk)
    pictures.refresh_from_db()
    place = store.local(pictures.place)
    assert place is not None, pictures.error
    with zipfile.ZipFile(place) as archive:
        assert archive.namelist() == [f"page-{n:03}.png" for n in range(1, row.facts["pages"] + 1)]
    gone = PublicationOutput.objects.create(
        publication=publication, recipe="print", name="", parts=[["none", 0, False]]
    )
    outputs.make_publication.call(gone.pk)
    gone.refresh_from_db()
    assert (gone.state, "deleted during the export" in gone.error) == ("failed", True)


def test_a_listing_over_all_jobs_knows_what_the_others_hold_when_the_publication_is_looked_at(
    client: Client, user: User, publication: Publication
) -> None:
    front, one = job_of(user, "Front", 2), job_of(user, "One", 30)
    planned(client, publication, (front, "own"), (one, "on"))
    listing = {"id": "all", "name": "All chapters", "sources": [{"style": "chapter"}], "over": "publication"}
    answer = client.post(
        f"/job/{front.pk}/manuscript/listings/set-up/",
        json.dumps({"listing": listing}),
        content_type="application/json",
    )
    assert answer.status_code == 200, answer.content
    told = answer.json()
    assert told["choices"]["publication"] == "Slack water"
    rows_ = next(one for one in told["listings"] if one["id"] == "all")["rows"]
    with opened(one.pk) as live:
        heads = [p for p in live.job.stories[live.job.main_story or ""].paragraphs if p.style == "chapter"]
        written = [
            live.workspace.composition.values.labels[
                live.workspace.composition.page_of(live.job.main_story or "", p.id, 0) or 0
            ]
            for p in heads
        ]
    assert heads
    assert [row["label"] for row in rows_][-len(heads) :] == written
    assert all(row["page"] is None for row in rows_[-len(heads) :])
    assert all(row["away"].startswith(f"/job/{one.pk}/board/?page=") for row in rows_[-len(heads) :])
    with opened(front.pk) as live:
        found = tuple(one.entry for one in gathered(live.workspace.composition, live.job.listings["all"]))
        live.do([do.PlaceListing("all", live.job.main_story or "", do.Place("^", 0), found)], user)
    # Words that change there make it one to be brought up to date; a number follows by itself.
    with opened(one.pk) as live:
        live.do(
            [do.ReplaceText(live.job.main_story or "", do.Place(heads[0].id, 0), do.Place(heads[0].id, 0), "Newly ")],
            user,
        )
    state = send(client, publication, "follow")
    assert state["parts"][0]["stale"] == ["All chapters"]
    assert rows.sketch(one.pk, ["abroad"]).abroad == {}
    planned(client, publication, (one, "own"))
    assert rows.sketch(front.pk, ["abroad"]).abroad == {}, "it is in no publication any more"


def test_jobs_of_one_name_are_told_apart_and_another_trim_is_reported(
    client: Client, user: User, publication: Publication
) -> None:
    one, same, small = job_of(user, "Part"), job_of(user, "Part"), job_of(user, "Small")
    Job.objects.filter(pk=same.pk).update(changed=one.changed)
    with opened(small.pk) as live:
        live.do([do.ChangeBrief(replace(live.job.brief, width=300.0))], user)
    told = planned(client, publication, (one, "own"), (same, "own"), (small, "own"))
    first, second, third = told["parts"]
    assert first["name"].startswith("Part (changed ")
    assert first["name"] != second["name"]
    assert third["name"] == "Small"
    assert (first["trim"], second["trim"]) == ("", "")
    assert third["trim"].startswith("Its trim is ")
