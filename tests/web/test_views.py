"""Accounts and ownership, every place's page, and bad input at the place where it happens."""

from __future__ import annotations

import io
import json
import re
import zipfile
from dataclasses import replace
from datetime import timedelta
from typing import Any

import pikepdf
import pytest
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse
from django.utils import timezone
from PIL import Image

from lexigon.bench import models
from lexigon.bench.services import bins, manuscripts, outputs, rows, store, work
from lexigon.bench.services.jobs import create_job, opened
from lexigon.core.colour.colours import Colour
from lexigon.core.document.model import Fill, FrameSpec
from lexigon.core.editing.intents import (
    AddInlay,
    AddPages,
    AddShape,
    AddTextFrame,
    ChangeBrief,
    ChangeMaster,
    Place,
    PutSwatch,
    ReplaceText,
)
from lexigon.core.fileformat import package
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.geometry import Rect
from lexigon.core.manuscript import reading
from tests.core.helpers import poured, words
from tests.web.conftest import addresses, from_rows

ADDRESSES = [
    "",
    "brief/",
    "flatplan/",
    "board/",
    "board/pages/",
    "board/context/",
    "history/",
    "manuscript/",
    "press/",
    "file/",
    "flatplan/0-x.webp",
]


def post(client: Client, url: str, **data: Any) -> Any:
    return client.post(url, json.dumps(data), content_type="application/json")


def test_signing_up_in_and_out(db: None) -> None:
    client = Client()
    assert client.get("/").url == "/sign-in/?next=/"
    response = client.post("/sign-up/", {"username": "dunlin", "password1": "short", "password2": "short"})
    assert b"at least 8 characters" in response.content
    good = {"username": "dunlin", "password1": "over the outer bar", "password2": "over the outer bar"}
    assert client.post("/sign-up/", good).url == "/"
    assert b"The shelf is empty" in client.get("/").content
    client.post("/sign-out/")
    assert (
        b"name or the password is wrong"
        in client.post("/sign-in/", {"username": "dunlin", "password": "wrong"}).content
    )
    assert (
        client.post(
            "/sign-in/", {"username": "dunlin", "password": "over the outer bar", "next": "https://elsewhere.example/"}
        ).url
        == "/"
    )


def test_every_job_belongs_to_its_owner(job: models.Job) -> None:
    stranger = Client()
    stranger.force_login(User.objects.create_user("gull"), backend="django.contrib.auth.backends.ModelBackend")
    for address in ADDRESSES:
        assert stranger.get(f"/job/{job.pk}/{address}").status_code == 404, address
        assert Client().get(f"/job/{job.pk}/{address}").status_code == 302, address
    for address in ("edits/", "undo/", "redo/", "copy/", "delete/", "press/start/", "manuscript/look/"):
        assert post(stranger, f"/job/{job.pk}/{address}").status_code == 404, address
    assert b"Page not found" in stranger.get(f"/job/{job.pk}/board/").content


def test_every_place_answers_with_a_strict_policy(client: Client, job: models.Job) -> None:
    for address in ADDRESSES[1:]:
        response = client.get(f"/job/{job.pk}/{address}")
        assert response.status_code == 200, address
        policy = response.headers["Content-Security-Policy"]
        assert "unsafe" not in policy
        assert "default-src 'self'" in policy
    page = client.get("/").content.decode()
    assert job.name in page
    assert " style=" not in page
    assert client.get(f"/job/{job.pk}/board/?page=99999").status_code == 200
    assert client.get(f"/job/{job.pk}/flatplan/9999-x.webp").status_code == 404


def test_the_brief_makes_and_changes_a_job(client: Client) -> None:
    response = client.post(
        "/new/",
        {
            "name": "Tides",
            "facing": "1",
            "main": "1",
            "grid": "1",
            "width": "110mm + 1cm",
            "height": "190mm",
            "unit": "mm",
            "margins.inner": "18",
        },
    )
    key = response.url.split("/")[2]
    with opened(key) as live:
        assert round(live.job.brief.width, 3) == round(120 / 25.4 * 72, 3)
        assert live.job.brief.grid_step == 15
    client.post(
        f"/job/{key}/brief/",
        {"name": "High tides", "facing": "1", "main": "1", "grid": "1", "leading": "16pt", "columns": "2"},
    )
    with opened(key) as live:
        assert (live.job.name, live.job.brief.grid_step, live.job.masters["text"].recto[0].make.columns) == (
            "High tides",
            16,
            2,
        )
        assert live.undo(None).label == "Change set-up"
        assert (live.job.name, live.job.brief.grid_step) == ("Tides", 15)


@pytest.mark.parametrize(
    ("field", "value", "says"),
    [
        ("width", "-6in", "The width must be greater than"),
        ("width", "100 m", "does not know the unit"),
        ("height", "3 furlongs", "furlongs"),
        ("margins.outer", "6in", "no room"),
        ("height", "9000 in", "larger than"),
        ("columns", "many", "1 to 12"),
        ("size", "0", "between 2"),
        ("family", "Comic Nothing", "no font family"),
        ("leading", "1pt", "at least half"),
        ("bleed.head", "9in", "at most"),
    ],
)
def test_a_brief_that_cannot_be_says_why_at_its_field(client: Client, field: str, value: str, says: str) -> None:
    count = models.Job.objects.count()
    response = client.post("/new/", {"facing": "1", field: value})
    assert response.status_code == 400
    assert value in response.content.decode(), "nothing typed is lost"
    assert models.Job.objects.count() == count
    answer = post(client, "/brief/reading/", values={"facing": "1", field: value}).json()
    assert says in answer["errors"][field]


def test_reading_the_brief_while_typing(client: Client) -> None:
    answer = post(
        client, "/brief/reading/", values={"width": "6in", "height": "9in", "unit": "in", "facing": "1"}, unit_to="mm"
    ).json()
    assert answer["values"]["width"] == "152.4 mm"
    assert answer["size"] == "6x9in"
    assert answer["drawing"].startswith("<svg")
    assert post(client, "/brief/reading/", values={"unit": "mm"}, size="a5").json()["values"]["height"] == "210 mm"
    turned = post(client, "/brief/reading/", values={"width": "1in", "height": "2in", "unit": "in"}, turn=True).json()
    assert turned["values"]["width"] == "2in"


def look(client: Client, job: models.Job, name: str, data: bytes, **more: str) -> Any:
    return client.post(f"/job/{job.pk}/manuscript/look/", {"file": SimpleUploadedFile(name, data), **more})


def test_a_manuscript_is_looked_through_then_poured(client: Client, job: models.Job) -> None:
    with opened(job.pk) as live:
        before = job_to_json(live.job)
    answer = look(
        client,
        job,
        "tides.txt",
        "Chapter One\n\nIt _began_ with the tide, as everything upon this coast\nbegins.\n".encode("utf-16"),
    ).json()
    assert (answer["words"], answer["encoding"], answer["joined"], answer["emphasis"]) == (13, "UTF-16", 1, 1)
    assert [row["name"] for row in answer["styles"]] == ["First paragraph", "Chapter heading"]
    with opened(job.pk) as live:
        assert job_to_json(live.job) == before, "looking changes nothing"
    answer = post(client, f"/job/{job.pk}/manuscript/{answer['id']}/pour/").json()
    assert answer["pages"] == 1
    with opened(job.pk) as live:
        assert [p.text for p in live.job.stories["main"].paragraphs] == [
            "Chapter One",
            "It began with the tide, as everything upon this coast begins.",
        ]
        live.undo(None)
        assert job_to_json(live.job) == before


def test_a_long_manuscript_tells_how_far_it_is_and_can_be_stopped_on_the_way(
    client: Client, job: models.Job, user: User, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(reading, "LONG_TEXT", 100)
    monkeypatch.setattr(manuscripts, "REPORT_EVERY", 0.0)
    told: list[int] = []
    real = work.report

    def report(row: Any, done: int, total: int) -> None:
        told.append(done)
        if stop_at is not None and done >= stop_at:
            work.stop(row)
        real(row, done, total)

    monkeypatch.setattr(work, "report", report)
    text = "Chapter One\n\n" + "\n\n".join(words(60, n) for n in range(120))
    before = from_rows(job)
    stop_at: int | None = 40
    row = look(client, job, "long.txt", text.encode()).json()
    post(client, f"/job/{job.pk}/manuscript/{row['id']}/pour/")
    assert models.Manuscript.objects.get(pk=row["id"]).state == "stopped"
    assert from_rows(job) == before
    with opened(job.pk) as live:
        assert json.loads(job_to_json(live.job)) == json.loads(before), "what was half set is given up"
    assert told == sorted(told)
    assert 40 <= told[-1] < 95
    stop_at, told[:] = None, []
    row = look(client, job, "long.txt", text.encode()).json()
    post(client, f"/job/{job.pk}/manuscript/{row['id']}/pour/")
    assert models.Manuscript.objects.get(pk=row["id"]).state == "ready"
    assert len(set(told)) > 10
    assert told == sorted(told)
    assert from_rows(job) != before


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"\x89PNG\r\n\x1a\n123", "PNG picture"),
        (b"", "Select a text file first|empty"),
        (b"PK\x03\x04xx", "damaged"),
        (b"\0" * 500, "control characters"),
    ],
)
def test_a_manuscript_that_is_none_leaves_the_job_as_it_was(
    client: Client, job: models.Job, data: bytes, says: str
) -> None:
    response = look(client, job, "novel.txt", data)
    assert response.status_code == 400
    assert any(part in response.json()["error"] for part in says.split("|"))
    assert not models.Manuscript.objects.exists()


def test_sixty_megabytes_of_text_are_refused_before_they_are_read(client: Client, job: models.Job) -> None:
    response = look(client, job, "huge.txt", b"all work and no play " * 3_000_000)
    assert response.status_code == 400
    assert "at most 40 MB" in response.json()["error"]


def test_opening_files(client: Client, job: models.Job) -> None:
    data = client.get(f"/job/{job.pk}/file/").content
    response = client.post("/open/", {"file": SimpleUploadedFile("a.lexigon", data)})
    copy = models.Job.objects.get(pk=response.url.split("/")[2])
    assert copy.pk != job.pk
    with opened(job.pk) as one, opened(copy.pk) as two:
        one.job.id = two.job.id
        assert job_to_json(one.job) == job_to_json(two.job)
    evil = io.BytesIO()
    with zipfile.ZipFile(evil, "w") as archive:
        archive.writestr("../../etc/passwd", "x")
    count = models.Job.objects.count()
    for name, bad in (
        ("evil.lexigon", evil.getvalue()),
        ("picture.lexigon", b"\x89PNG"),
        ("newer.lexigon", data[: len(data) // 2]),
    ):
        page = client.post("/open/", {"file": SimpleUploadedFile(name, bad)}, follow=True).content.decode()
        assert f"“{name}” was not opened" in page
    assert models.Job.objects.count() == count


def test_a_deleted_job_waits_in_the_bin(client: Client, job: models.Job) -> None:
    before = from_rows(job)
    client.post(f"/job/{job.pk}/delete/")
    assert client.get(f"/job/{job.pk}/board/").status_code == 404
    assert "Bin: 1 job" in client.get("/").content.decode()
    assert job.name in client.get("/bin/").content.decode()
    client.post(f"/bin/{job.pk}/restore/")
    assert client.get(f"/job/{job.pk}/board/").status_code == 200
    assert from_rows(job) == before
    client.post(f"/job/{job.pk}/delete/")
    stranger = Client()
    stranger.force_login(User.objects.create_user("gull"), backend="django.contrib.auth.backends.ModelBackend")
    assert stranger.post(f"/bin/{job.pk}/restore/").status_code == 404
    models.Job.objects.filter(pk=job.pk).update(binned=timezone.now() - timedelta(days=31))
    assert "The bin is empty" in client.get("/bin/").content.decode()
    bins.delete_expired()
    assert not models.Job.objects.filter(pk=job.pk).exists()


def test_findings_of_the_job_are_listed_before_a_file_is_made_and_beside_it(client: Client, job: models.Job) -> None:
    with opened(job.pk) as live:
        page = live.job.pages[2].id
        live.do(
            [AddTextFrame(page, Rect(40, 40, 60, 30), text="Far too many words for so small a frame. " * 4)], job.owner
        )
    before = client.get(f"/job/{job.pk}/press/").content.decode()
    assert "1 error" in before
    assert f"/job/{job.pk}/check/" in before
    (row,) = findings(client, job)
    assert (row["kind"], row["page"]) == ("overset", 3)
    answer = post(client, f"/job/{job.pk}/press/start/", recipe="print", pages="1-3").json()
    (found,) = answer["findings"]
    assert (found["page"], "words do not fit" in found["text"] or "do not fit" in found["text"]) == (2, True)
    assert not post(client, f"/job/{job.pk}/press/start/", recipe="print", pages="1-2").json()["findings"], (
        "of its own pages"
    )


def test_landscape_pages_are_rotated_for_print_or_left_upright(client: Client, job: models.Job) -> None:
    assert "Landscape pages" not in client.get(f"/job/{job.pk}/press/").content.decode()
    with opened(job.pk) as live:
        live.do([ChangeMaster("text", turned=True)], job.owner)
        size = live.job.brief.page_size()
    assert "Landscape pages" in client.get(f"/job/{job.pk}/press/").content.decode()
    for asked, wanted in (({}, size), ({"landscape": "rotated"}, size), ({"landscape": "upright"}, size[::-1])):
        answer = post(client, f"/job/{job.pk}/press/start/", recipe="trim", pages="1", **asked).json()
        proof = Image.open(io.BytesIO(client.get(f"{answer['proof']}0.png").content))
        assert proof.width / proof.height == pytest.approx(wanted[0] / wanted[1], rel=0.02)


@pytest.mark.parametrize("name", ["print", "older"])
def test_the_proof_of_every_file_for_print_shows_what_overprints(client: Client, job: models.Job, name: str) -> None:
    with opened(job.pk) as live:
        page = live.job.pages[0].id
        for swatch, inks in (("Teal", (0.8, 0.0, 0.2, 0.0)), ("Rust", (0.0, 0.7, 0.0, 0.0))):
            live.do([PutSwatch(name=swatch, space="cmyk", values=inks)], job.owner)
        teal, rust = list(live.job.swatches)[-2:]
        live.do([AddShape(page, Rect(60, 60, 200, 200), None, FrameSpec(fill=Fill(teal)))], job.owner)
        live.do([AddShape(page, Rect(100, 100, 60, 60), None, FrameSpec(fill=Fill(rust), overprint=True))], job.owner)
        size = live.job.page_size(0)
    answer = post(client, f"/job/{job.pk}/press/start/", recipe=name, pages="1").json()
    proof = Image.open(io.BytesIO(client.get(f"{answer['proof']}0.png").content)).convert("RGB")
    scale = 110 / 72
    x, y = ((edge - length * scale) / 2 + 130 * scale for edge, length in zip(proof.size, size, strict=True))
    seen = proof.getpixel((round(x), round(y)))
    wanted = tuple(255 * v for v in Colour("cmyk", (0.8, 0.7, 0.2, 0.0)).rgb)
    assert isinstance(seen, tuple)
    assert max(abs(one - other) for one, other in zip(seen, wanted, strict=True)) < 8


@pytest.mark.parametrize(("name", "suffix"), [("print", "pdf"), ("screen", "pdf"), ("png", "zip")])
def test_pressing_a_file(client: Client, job: models.Job, name: str, suffix: str) -> None:
    answer = post(client, f"/job/{job.pk}/press/start/", recipe=name, pages="1-3").json()
    assert (answer["state"], answer["done"], answer["count"]) == ("ready", 3, 3)
    response = client.get(answer["file"])
    data = b"".join(response.streaming_content)
    assert response.headers["Content-Disposition"].endswith(f'a-test-of-pages-{name}.{suffix}"')
    if suffix == "pdf":
        with pikepdf.open(io.BytesIO(data)) as pdf:
            assert len(pdf.pages) == 3
    else:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            assert archive.namelist() == ["page-001.png", "page-002.png", "page-003.png"]
    assert client.get(answer["proof"] + "2.png").content.startswith(b"\x89PNG")
    assert client.get(answer["proof"] + "3.png").status_code == 404
    assert dict(answer["facts"])["Trim"] == "6 × 9 in"
    assert b"Earlier exports" in client.get(f"/job/{job.pk}/press/").content


@pytest.mark.parametrize(
    ("recipe", "pages", "says"),
    [("print", "9-3", "backwards"), ("print", "1-9999", "outside"), ("gold", "", "no recipe")],
)
def test_an_output_that_cannot_be_says_why(client: Client, job: models.Job, recipe: str, pages: str, says: str) -> None:
    response = post(client, f"/job/{job.pk}/press/start/", recipe=recipe, pages=pages)
    assert response.status_code == 400
    assert says in response.json()["error"]
    assert not models.Output.objects.exists()


def test_a_stopped_output_leaves_no_file_and_a_killed_one_is_made_again(
    job: models.Job, monkeypatch: pytest.MonkeyPatch
) -> None:
    row = models.Output.objects.create(job=job, recipe="print", revision=0, total=3)
    real = outputs.write_parts

    def stopped(*arguments: Any) -> None:
        work.stop(row)
        monkeypatch.setattr(outputs, "REPORT_EVERY", 0)
        real(*arguments)

    monkeypatch.setattr(outputs, "write_parts", stopped)
    outputs.make_output.call(row.pk)
    row.refresh_from_db()
    assert row.state == "stopped"
    assert store.local(row.proof) is None
    monkeypatch.undo()
    past = timezone.now() - work.LEASE
    killed = models.Output.objects.create(
        job=job, recipe="print", revision=0, state="running", done=1, total=3, lease=past
    )
    held = models.Output.objects.create(
        job=job, recipe="print", revision=0, state="running", lease=timezone.now() + work.LEASE
    )
    left = killed.proof
    store.put(left, b"%PDF of a worker that died before it said so")
    assert work.overdue() == 1
    killed.refresh_from_db()
    held.refresh_from_db()
    assert (killed.state, held.state) == ("ready", "running")
    assert store.local(left) is None


def test_work_that_was_given_to_another_is_not_heard_of_again(job: models.Job, monkeypatch: pytest.MonkeyPatch) -> None:
    row = models.Output.objects.create(job=job, recipe="print", revision=0, total=3)
    real = outputs.write_parts

    def overtaken(*arguments: Any) -> None:
        monkeypatch.setattr(outputs, "write_parts", real)
        models.Output.objects.filter(pk=row.pk).update(lease=timezone.now())
        assert work.overdue() == 1, "done by another worker meanwhile"
        real(*arguments)

    monkeypatch.setattr(outputs, "write_parts", overtaken)
    outputs.make_output.call(row.pk)
    row.refresh_from_db()
    assert row.state == "ready"
    assert store.local(row.proof) is not None
    with work.claimed(models.Output, row.pk) as again:
        assert again is None, "what is done is not done twice"


def test_an_output_presses_the_revision_it_was_asked_for(
    client: Client, user: User, job: models.Job, monkeypatch: pytest.MonkeyPatch
) -> None:
    with opened(job.pk) as live:
        first = live.job.stories["main"].paragraphs[0].id
    before = job_to_json(rows.load(job.pk)[1])
    monkeypatch.setitem(work.KINDS, models.Output, lambda pk: "queued")
    waiting = outputs.start(job, "print", "", 3)
    with opened(job.pk) as live:
        place = Place(first, 0)
        live.do([ReplaceText("main", place, place, "Zanzibar "), AddPages(0, 2)], user)
        live.do([ReplaceText("main", place, place, "Again ")], user)
        live.undo(user)
    assert job_to_json(rows.load_at(job.pk, 0)) == before
    assert "Zanzibar" in job_to_json(rows.load_at(job.pk, 1))
    outputs.make_output.call(waiting.pk)
    waiting.refresh_from_db()
    assert waiting.state == "ready"
    path = store.local(waiting.place)
    assert path is not None
    with pikepdf.open(path) as made:
        assert len(made.pages) == len(rows.load_at(job.pk, 0).pages)


def test_copying_runs_over_pages(client: Client, job: models.Job) -> None:
    with opened(job.pk) as live:
        texts = [p.text for p in live.job.stories["main"].paragraphs]
    whole = post(
        client,
        f"/job/{job.pk}/copy/",
        story="main",
        start={"paragraph": "^", "offset": 0},
        end={"paragraph": "$", "offset": 0},
    ).json()
    assert whole["text"] == "\n".join(texts)
    assert post(client, f"/job/{job.pk}/copy/", story="main").status_code == 400


def test_the_slip_tells_of_frame_and_text(client: Client, job: models.Job) -> None:
    with opened(job.pk) as live:
        frame = live.job.masters["text"].verso[0].id
        first = live.job.stories["main"].paragraphs[1].id
    told = client.get(
        f"/job/{job.pk}/board/context/", {"page": 1, "frame": frame, "story": "main", "p": first, "offset": 3}
    ).json()
    assert told["frame"]["number"] == 2
    assert told["frame"]["inherited"]
    assert told["text"]["spec"] == (
        "11/15 EB Garamond, justified, indent 15pt, last line at least 15pt, careful hyphens, grid"
    )


def test_the_package_is_what_was_sent(client: Client, job: models.Job) -> None:
    with opened(job.pk) as live:
        sent = client.get(f"/job/{job.pk}/file/").content
        assert sent == package.write(live.job, when=job.changed)
        assert abs((package.written_at(sent) - job.changed).total_seconds()) <= 2, (
            "it bears the moment of its last change"
        )
        assert package.read(sent) == live.job


def test_the_shelf_opens_only_jobs_that_changed(
    client: Client, job: models.Job, user: User, monkeypatch: pytest.MonkeyPatch
) -> None:
    page = client.get("/").content.decode()
    picture = page.partition(f"/job/{job.pk}/flatplan/0-")[2][:8]
    own = client.get(f"/job/{job.pk}/flatplan/0-{picture}.webp")
    assert own.content.startswith(b"RIFF")
    assert "immutable" in own["Cache-Control"]
    stale = client.get(f"/job/{job.pk}/flatplan/0-00000000.webp")
    assert (stale.content, stale["Cache-Control"]) == (own.content, "no-store"), "another page's name is kept by nobody"

    def refused(key: str) -> Any:
        raise AssertionError("the job was opened")

    monkeypatch.setattr("lexigon.bench.views.shelf.opened", refused)
    monkeypatch.setattr("lexigon.bench.views.flatplan.opened", refused)
    assert job.name in client.get("/").content.decode()
    assert client.get(f"/job/{job.pk}/flatplan/0-{picture}.webp").status_code == 200
    monkeypatch.undo()
    with opened(job.pk) as live:
        live.do([AddTextFrame(live.job.pages[0].id, Rect(10, 10, 100, 50), text="New on the first page")], user)
    assert picture not in client.get("/").content.decode()


def test_versions_are_kept_gone_back_to_and_forgotten(client: Client, job: models.Job, user: User) -> None:
    with opened(job.pk) as live:
        first = live.job.stories["main"].paragraphs[0].id
        live.do([ReplaceText("main", Place(first, 0), Place(first, 0), "One ")], user)
    kept = from_rows(job)
    answer = post(client, f"/job/{job.pk}/versions/", name="  Before the   corrections ").json()
    assert [v["name"] for v in answer["versions"]] == ["Before the corrections"]
    assert post(client, f"/job/{job.pk}/versions/", name="Before the corrections").status_code == 400
    assert post(client, f"/job/{job.pk}/versions/", name=" ").status_code == 400
    with opened(job.pk) as live:
        live.do([ReplaceText("main", Place(first, 0), Place(first, 0), "Two "), AddPages(0, 3)], user)
        live.do([ReplaceText("main", Place(first, 0), Place(first, 0), "Three ")], user)
        changed = from_rows(job)
    rows_ = client.get(f"/job/{job.pk}/history/").json()["rows"]
    assert rows_[0]["where"].startswith("page")
    shown = client.get(f"/job/{job.pk}/history/touched/", {"revision": rows_[0]["revision"]}).json()
    assert shown == {"page": 4, "frames": [], "paragraphs": {"main": [first]}}, "on a recto behind the three new pages"
    added = client.get(f"/job/{job.pk}/history/touched/", {"revision": rows_[1]["revision"]}).json()
    assert added["page"] == 0
    assert client.get(f"/job/{job.pk}/history/touched/", {"revision": 99}).status_code == 404
    post(client, f"/job/{job.pk}/go-back/", revision=1)
    assert from_rows(job) == kept
    with opened(job.pk) as live:
        assert live.history()[0] == "Return to “Before the corrections”"
        live.undo(user)
    assert from_rows(job) == changed, "one step forward again"
    assert post(client, f"/job/{job.pk}/go-back/", revision=99).status_code == 400
    gone = post(client, f"/job/{job.pk}/versions/{answer['versions'][0]['id']}/drop/").json()
    assert gone["versions"] == []


def test_what_waits_is_told_on_the_strip_and_on_press(client: Client, job: models.Job, user: User) -> None:
    assert b'class="count"' not in client.get(f"/job/{job.pk}/board/").content
    with opened(job.pk) as live:
        page = live.job.pages[0].id
        live.do([AddTextFrame(page, Rect(60, 60, 90, 16), text="one\ntwo\nthree")], user)
        live.do([AddTextFrame(page, Rect(-900, 60, 90, 90), text="off")], user)
    for place in ("board", "flatplan", "manuscript", "check", "press"):
        assert b'class="count"' in client.get(f"/job/{job.pk}/{place}/").content, place
    assert "2 errors, 1 warning" in client.get(f"/job/{job.pk}/press/").content.decode()
    texts = " ".join(one["text"] for one in findings(client, job))
    assert "of “Text 1” do not fit." in texts
    assert "1 object lies completely off the page" in texts


PUBLIC = {"sign-in", "sign-up", "sign-out", "enter-demo", "fonts-css"}


def test_no_address_shows_a_stranger_anything(client: Client, job: models.Job, user: User) -> None:
    """Every address there is, found by walking them, so that a new one cannot be forgotten."""
    output = models.Output.objects.create(job=job, recipe="print", revision=0, state="ready", facts={"pages": 3})
    merge = models.MergeOutput.objects.create(job=job, recipe="print", revision=0, state="ready", facts={"pages": 3})
    manuscript = models.Manuscript.objects.create(job=job, name="a.txt", data=b"a")
    version = job.versions.create(name="One", revision=0)
    comment = job.comments.create(page="p1", text="Higher", by=user)
    setup = models.KeptSetup.objects.create(owner=user, name="Ours", values={})
    whole = models.Publication.objects.create(owner=user, plan={"name": "Ours", "parts": [], "lead": ""})
    pressed = models.PublicationOutput.objects.create(
        publication=whole, recipe="print", name="Ours", parts=[], state="ready", facts={"pages": 3}
    )
    numbers = {
        "press": output.pk,
        "merge": merge.pk,
        "manuscript": manuscript.pk,
        "version": version.pk,
        "comment": comment.pk,
        "setup": setup.pk,
        "publication": pressed.pk,
    }
    binned = create_job(user, poured(3).job)
    models.Job.objects.filter(pk=binned.pk).update(binned=timezone.now())
    stranger = Client()
    stranger.force_login(User.objects.create_user("tern"), backend="django.contrib.auth.backends.ModelBackend")
    before, walked = from_rows(job), 0
    for route, name in addresses():
        parts = re.findall(r"<\w+:(\w+)>", route)
        first = name.split("-")[0]
        owner = {"bin": binned.pk, "publication": whole.pk}.get(first, job.pk)
        known = {"key": owner, "pk": numbers.get(first), "index": 0, "most": 0, "light": 0}
        address = reverse(name, kwargs={part: known.get(part, "x") for part in parts})
        for send in (stranger.get, stranger.post) if name != "sign-out" else ():
            status = (
                send(address, "{}", content_type="application/json").status_code
                if send == stranger.post
                else send(address).status_code
            )
            if "key" in parts or "pk" in parts:
                assert status in (404, 405), (name, status)
        for send in (Client().get, Client().post):
            answer = send(address)
            if name not in PUBLIC:
                assert answer.status_code in (302, 405), (name, answer.status_code)
                assert answer.status_code == 405 or "/sign-in/" in answer.headers["Location"], name
        walked += 1
    assert walked > 150
    assert from_rows(job) == before
    assert models.KeptSetup.objects.filter(pk=setup.pk).exists()


def findings(client: Client, job: models.Job) -> list[dict[str, Any]]:
    """The open findings, as the place Check lists them."""
    page = client.get(f"/job/{job.pk}/check/").content.decode()
    match = re.search(r'<script id="check-state" type="application/json">(.*?)</script>', page)
    assert match is not None
    rows: list[dict[str, Any]] = json.loads(match[1])["open"]
    return rows


def test_a_finding_is_mended_in_one_step_and_undone(client: Client, job: models.Job) -> None:
    with opened(job.pk) as live:
        story, width = live.job.main_story or "", live.job.text_area(0).width
        live.do([AddInlay(story, Place("^", 0), Place("^", 0), width + 40, 30.0, "Plate")], None)
    (row,) = (one for one in findings(client, job) if one["kind"] == "wider than the column")
    assert row["fix"] == "scale to column"
    assert row["why"]
    spot = client.get(f"/job/{job.pk}/check/spot/", {"page": row["page"], "subject": row["subject"]}).json()
    assert spot["svg"]
    assert client.get(f"/job/{job.pk}/check/spot/", {"page": 9999}).status_code == 400
    wrong = client.post(f"/job/{job.pk}/check/fix/", '{"fix": "paint it"}', content_type="application/json")
    assert wrong.status_code == 400
    asked = '{"fix": "scale to column"}'
    assert client.post(f"/job/{job.pk}/check/fix/", asked, content_type="application/json").status_code == 200
    assert row["kind"] not in [one["kind"] for one in findings(client, job)]
    client.post(f"/job/{job.pk}/undo/", "{}", content_type="application/json")
    assert row["kind"] in [one["kind"] for one in findings(client, job)]


def test_a_finding_is_accepted_with_a_reason(client: Client, job: models.Job) -> None:
    with opened(job.pk) as live:
        live.do([ChangeBrief(replace(live.job.brief, binding="stitched")), AddPages(0)], None)
        live.do([AddPages(0, 4 - len(live.job.pages) % 4 + 1)], None)
    (row,) = (one for one in findings(client, job) if one["kind"] == "binding")
    press = client.get(f"/job/{job.pk}/press/").content.decode()
    assert "1 error" in press
    intent = {
        "do": "accept-finding",
        "kind": row["kind"],
        "mark": row["mark"],
        "text": row["text"],
        "reason": "A dummy",
    }
    address = f"/job/{job.pk}/check/change/"
    answer = client.post(address, {"intents": [intent]}, content_type="application/json").json()
    assert row["mark"] not in [one["mark"] for one in answer["open"]]
    (accepted,) = answer["accepted"]
    assert accepted["reason"] == "A dummy"
    assert "1 error" not in client.get(f"/job/{job.pk}/press/").content.decode()
    empty = client.post(address, {"intents": [intent | {"reason": " "}]}, content_type="application/json")
    assert empty.status_code == 400
    reopen = {"do": "reopen-finding", "id": accepted["acceptance"]}
    answer = client.post(address, {"intents": [reopen]}, content_type="application/json").json()
    assert row["mark"] in [one["mark"] for one in answer["open"]]


def test_blank_pages_are_added_up_to_what_the_binding_can_make(client: Client, job: models.Job) -> None:
    with opened(job.pk) as live:
        pages = len(live.job.pages)
        live.do([ChangeBrief(replace(live.job.brief, binding="stitched"))], None)
        if pages % 4 == 0:
            live.do([AddPages(pages)], None)
        pages = len(live.job.pages)
    (row,) = (one for one in findings(client, job) if one["kind"] == "binding")
    assert "needs a multiple of 4" in row["text"]
    assert row["fix_label"] == "Add blank pages at the end"
    asked = '{"fix": "add blank pages"}'
    assert client.post(f"/job/{job.pk}/check/fix/", asked, content_type="application/json").status_code == 200
    with opened(job.pk) as live:
        made = live.job.pages
        assert len(made) == max(-(-pages // 4) * 4, 8)
        assert all(not page.objects and page.master is None for page in made[pages:])
    assert "Add blank pages" not in client.get(f"/job/{job.pk}/press/").content.decode()
