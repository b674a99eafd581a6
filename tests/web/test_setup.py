"""Set-ups kept, templates, covers tied to their inside, masters brought in; and whose they are."""

from __future__ import annotations

import datetime
import json
from typing import Any

import pypdfium2 as pdfium
import pytest
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from lexigon.bench import models
from lexigon.bench.services.jobs import create_job, opened
from lexigon.core.brief.kinds import KINDS
from lexigon.core.document.model import Anchor, Cover, Section
from lexigon.core.editing.intents import AddPages, AddTextFrame, InsertField, Place, PutCopy, PutSection, ReplaceText
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.geometry import Rect
from tests.core.helpers import book
from tests.web.conftest import from_rows


def post(client: Client, url: str, **data: Any) -> Any:
    return client.post(url, json.dumps(data), content_type="application/json")


def made(client: Client, kind: str, **fields: str) -> str:
    values = {k: v for k, v in {**KINDS[kind].defaults, "kind": kind, **fields}.items() if v}
    response = client.post("/new/", values)
    assert response.status_code == 302, response.content.decode()
    return str(response.url.split("/")[2])


@pytest.mark.parametrize("kind", list(KINDS))
def test_every_kind_of_piece_is_made_and_shown_in_every_place(client: Client, kind: str) -> None:
    key = made(client, kind, name=f"A {kind}")
    for place in ("brief/", "flatplan/", "board/", "flatplan/plan/", "press/", "manuscript/", "flatplan/0-x.webp"):
        assert client.get(f"/job/{key}/{place}").status_code == 200, place
    with opened(key) as live:
        assert job_to_json(live.job) == from_rows(models.Job.objects.get(pk=key))
        assert len(live.job.pages) == {"cover": 1, "brochure": 2, "folded card": 2, "magazine": 36, "card": 2}.get(
            kind, 1
        )
    if KINDS[kind].form:
        poured = client.post(f"/job/{key}/manuscript/look/", {"file": SimpleUploadedFile("a.txt", b"Words for it")})
        assert "Draw a text frame on the board and paste the" in poured.json()["error"]
        assert b"no main story that flows" in client.get(f"/job/{key}/manuscript/").content
    reading = post(client, "/brief/reading/", kind=kind).json()
    assert reading["drawing"].startswith("<svg")


@pytest.mark.parametrize(
    ("kind", "field", "value", "at", "says"),
    [
        ("cover", "paper", "", "paper", "without a paper"),
        ("cover", "pages", "many", "pages", "number of pages"),
        ("brochure", "panels", "7", "panels", "2 to 4 panels"),
        ("brochure", "allowance", "60 mm", "allowance", "cannot be narrower"),
        ("magazine", "margins.inner", "200 mm", "margins.outer", "no room"),
        ("magazine", "columns", "99", "columns", "1 to 12 columns"),
        ("flyer", "rows", "40", "rows", "gutters leave no room"),
        ("card", "width", "-5 mm", "width", "The width must be greater than"),
        ("label", "ppi", "1", "ppi", "between 30 and 2,400"),
        ("folded card", "fold", "origami", "fold", "Select one of the folds"),
    ],
)
def test_set_ups_that_cannot_be_say_why_at_their_field(
    client: Client, kind: str, field: str, value: str, at: str, says: str
) -> None:
    values = {**KINDS[kind].defaults, "kind": kind, field: value}
    assert says in post(client, "/brief/reading/", values=values).json()["errors"][at]
    count = models.Job.objects.count()
    assert client.post("/new/", values).status_code == 400
    assert models.Job.objects.count() == count


def test_a_tied_cover_follows_its_inside_and_one_undo_takes_it_back(client: Client, user: User) -> None:
    inside = made(client, "book", name="Inside", paper="cream", binding="perfect")
    with opened(inside) as live:
        live.do([AddPages(1, 99, "text")], user)
    key = made(client, "cover", interior=inside, paper="")
    with opened(key) as live:
        form = live.job.brief.form
        assert isinstance(form, Cover)
        assert (form.pages, live.job.brief.paper, form.spine) == (100, "cream", None)
        width, front = live.job.brief.width, live.job.brief.width - 200
        live.do([AddTextFrame(live.job.pages[0].id, Rect(front, 100, 100, 40))], user)
    with opened(inside) as live:
        live.do([AddPages(1, 100, "text")], user)
    before = from_rows(models.Job.objects.get(pk=key))
    assert 'data-settle="/job/' in client.get(f"/job/{key}/board/").content.decode()
    assert from_rows(models.Job.objects.get(pk=key)) == before, "looking writes nothing"
    assert post(client, f"/job/{key}/settle/").json()["changed"]
    assert "data-settle" not in client.get(f"/job/{key}/board/").content.decode()
    with opened(key) as live:
        more = 100 * 0.18
        assert live.job.brief.width == pytest.approx(width + more)
        assert live.job.pages[0].frames[0].rect.x == pytest.approx(front + more)
        assert live.history()[0] == "Follow the pages of the inside"
        live.undo(user)
        assert live.job.brief.width == pytest.approx(width)
    stranger = User.objects.create_user("knot")
    other = Client()
    other.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    assert other.post("/new/", {**KINDS["cover"].defaults, "kind": "cover", "interior": inside}).status_code == 302
    mine = models.Job.objects.get(owner=stranger)
    assert mine.brief["form"]["pages"] == 150, "somebody else's job is not looked into"


def test_kept_set_ups(client: Client) -> None:
    values = {**KINDS["card"].defaults, "kind": "card"}
    kept = post(client, "/brief/keep/", name=" House  card ", values=values).json()["setups"]
    assert [row["name"] for row in kept] == ["House card"]
    assert post(client, "/brief/keep/", name="", values=values).status_code == 400
    assert (
        "Type a number and a unit"
        in post(client, "/brief/keep/", name="x", values={**values, "width": "no"}).json()["error"]
    )
    pk = kept[0]["id"]
    post(client, "/brief/keep/", name="Other", values=values)
    assert "already" in post(client, f"/brief/kept/{pk}/", name="Other").json()["error"]
    assert b"House card" in client.get("/new/").content
    assert b'value="85 mm"' in client.get(f"/new/?from={pk}").content
    other = Client()
    other.force_login(User.objects.create_user("teal"), backend="django.contrib.auth.backends.ModelBackend")
    assert post(other, f"/brief/kept/{pk}/", name="").status_code == 404
    assert [row["name"] for row in post(client, f"/brief/kept/{pk}/", name="").json()["setups"]] == ["Other"]


def test_a_job_is_kept_as_a_template_and_begun_from(client: Client, job: models.Job) -> None:
    client.post(f"/job/{job.pk}/template/", {"name": "House book"})
    template = models.Job.objects.get(template=True)
    page = client.get("/").content.decode()
    assert "House book" in page
    assert client.get("/new/").content.decode().count("House book")
    key = client.post(f"/job/{template.pk}/copy-job/").url.split("/")[2]
    with opened(key) as live, opened(job.pk) as original:
        assert [p.text for p in live.job.stories["main"].paragraphs] == [
            p.text for p in original.job.stories["main"].paragraphs
        ]
    assert not models.Job.objects.get(pk=key).template
    client.post(f"/job/{template.pk}/rename/", {"name": "House novel"})
    client.post(f"/job/{template.pk}/rename/", {"name": " "})
    assert "House novel" in client.get("/new/").content.decode()


def test_a_template_is_its_owners_and_makes_nothing_until_it_is_posted(client: Client, job: models.Job) -> None:
    client.post(f"/job/{job.pk}/template/", {"name": "House book"})
    template, before = models.Job.objects.get(template=True), models.Job.objects.count()
    page = client.get("/new/", {"template": template.pk, "name": "Two winters"}).content.decode()
    assert 'value="Two winters"' in page
    assert "With its main text" in page
    assert models.Job.objects.count() == before
    key = client.post("/new/", {"template": template.pk, "name": ""}).url.split("/")[2]
    with opened(key) as live:
        assert live.job.name == "House book"
        assert [p.text for p in live.job.stories["main"].paragraphs] == [""]
    other = Client()
    other.force_login(User.objects.create_user("plover"), backend="django.contrib.auth.backends.ModelBackend")
    assert other.get("/new/", {"template": template.pk}).status_code == 404
    assert other.post("/new/", {"template": template.pk}).status_code == 404
    assert client.get("/new/", {"template": job.pk}).status_code == 404, "a job is no template"


def test_masters_are_brought_in_from_another_job(client: Client, job: models.Job, user: User) -> None:
    other = made(client, "magazine", main="1", name="Other")
    assert post(client, f"/job/{other}/masters/bring/", source=job.pk).status_code == 200
    plan = client.get(f"/job/{other}/flatplan/plan/").json()
    assert [m["name"] for m in plan["masters"]] == ["Text", "Text 2"]
    stranger = User.objects.create_user("smew")
    foreign = create_job(stranger, book())
    assert post(client, f"/job/{other}/masters/bring/", source=foreign.pk).status_code == 404


def test_a_master_is_painted_and_typed_in_on_the_board(client: Client, job: models.Job, user: User) -> None:
    assert "Master page" in client.get(f"/job/{job.pk}/board/?master=text").content.decode()
    answer = client.get(f"/job/{job.pk}/board/pages/?page=-1&master=text").json()
    assert answer["view"] == [-2, -1]
    assert "[running head]" in answer["pages"]["-1"]["svg"]
    with opened(job.pk) as live:
        head = next(f for f in live.job.masters["text"].recto if f.name == "Running head")
        paragraph = live.job.stories[head.story or ""].paragraphs[0].id
    place = {"paragraph": paragraph, "offset": 0}
    typed = {"do": "replace-text", "story": head.story, "start": place, "end": place, "text": "Draft, "}
    answer = post(client, f"/job/{job.pk}/edits/", base=0, intents=[typed], view=[-2, -1], master="text").json()
    assert "Draft, " in answer["pages"]["-1"]["svg"]
    told = client.get(f"/job/{job.pk}/board/context/", {"page": -1, "master": "text", "frame": head.id}).json()
    assert told["master"]["using"] == f"1–{answer['count']}"
    assert (told["frame"]["on_master"], told["frame"]["field"]) == (True, False)


def test_the_plan_tells_of_sections_sheets_and_what_does_not_fit(client: Client, job: models.Job, user: User) -> None:
    with opened(job.pk) as live:
        ids = [page.id for page in live.job.pages]
        live.do([PutSection(ids[2], Section("Birds", 1, "i", "B-"))], user)
        live.do([AddTextFrame(ids[0], Rect(10, 10, 60, 30), text="word " * 80)], user)
        live.do([PutCopy("House", "Saltmarsh")], user)
        live.do([ReplaceText("main", Place("^", 0), Place("^", 0), "x")], user)
        assert job_to_json(live.job) == from_rows(job)
    plan = client.get(f"/job/{job.pk}/flatplan/plan/").json()
    assert plan["pages"][2]["label"] == "B-i"
    assert plan["pages"][2]["section"]["name"] == "Birds"
    assert any(
        story["overset"].endswith(" words") and int(story["overset"].split()[0]) > 50 for story in plan["stories"]
    )
    pairs = plan["sheets"]["pairs"]
    assert all(pairs[pair["mate"]]["mate"] == index for index, pair in enumerate(pairs) if pair["mate"] is not None)


def test_dates_show_the_day_of_the_board_and_of_the_output(
    client: Client, job: models.Job, user: User, monkeypatch: pytest.MonkeyPatch
) -> None:
    day = datetime.date(2027, 3, 5)
    monkeypatch.setattr("django.utils.timezone.localdate", lambda *_: day)
    start = Place("^", 0)
    with opened(job.pk) as live:
        live.do([InsertField("main", start, start, Anchor("date", form="yyyy-MM-dd"))], user)
    first = client.get(f"/job/{job.pk}/board/pages/?page=0").json()["pages"]["0"]["svg"]
    assert "2027-03-05" in first
    day = datetime.date(2027, 3, 6)
    assert "2027-03-06" in client.get(f"/job/{job.pk}/board/pages/?page=0").json()["pages"]["0"]["svg"]
    answer = post(client, f"/job/{job.pk}/press/start/", recipe="screen", pages="1").json()
    document = pdfium.PdfDocument(b"".join(client.get(answer["file"]).streaming_content))
    assert "2027-03-06" in document[0].get_textpage().get_text_range()
