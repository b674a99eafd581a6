"""What hostile files and requests can do: nothing. They are answered in words, never with an error of the server, and
what was there is as it was."""

from __future__ import annotations

import hashlib
import json
import random
import zipfile
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.contrib.messages import get_messages
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from lexigon.bench.models import Job, JobFile
from lexigon.bench.services import jobs, miniatures
from lexigon.bench.services.files import Files
from lexigon.bench.services.jobs import create_job, forget, opened
from lexigon.core.brief.kinds import defaults
from lexigon.core.document.model import Outline, Stop
from lexigon.core.fileformat import package
from lexigon.core.fileformat.values import plain
from tests import hostile
from tests.core.helpers import odd_font, poured
from tests.core.test_inks import SAND, SEA, fading, filled
from tests.core.test_objects import stacked
from tests.web.conftest import from_rows

SOME = 5
GOLDEN = Path(__file__).parents[1] / "golden"
BAD_NAMES = [
    "/etc/passwd",
    "../../../secret-key",
    "",
    "a" * 5000,
    "0" * 63,
    "0" * 63 + "\0",
    "0" * 64 + "\n",
    "G" * 64,
    "A" * 64,
]


@pytest.fixture
def sources() -> list[dict[str, Any]]:
    names = ("1-magazine", "1-invitation", "2-magazine", "2-brochure")
    golden = [json.loads(zipfile.ZipFile(GOLDEN / f"format-{name}.lexigon").read("job.json")) for name in names]
    for job in golden:  # what is changed is the form, not how much stands in it: some paragraphs of each text do
        for story in job["stories"].values():
            del story["paragraphs"][SOME:]
    drawn = filled(
        SEA, SAND, fading(Stop(0.0, "sea"), Stop(1.0, "sand")), fill="fade", outline=Outline("box", radii=(4.0,) * 4)
    )
    drawn.pages[0] = replace(drawn.pages[0], objects=(*drawn.pages[0].objects, *stacked().pages[0].objects))
    return [*golden, plain(poured(8).job), plain(drawn)]


def hand_in(client: Client, data: bytes) -> tuple[str, str]:
    """Open a file on the shelf: the job it became, or "", and what was said."""
    answer = client.post("/open/", {"file": SimpleUploadedFile("a.lexigon", data)})
    assert answer.status_code == 302
    *_, said = ["", *(str(message) for message in get_messages(answer.wsgi_request))]
    address = answer.headers["Location"]
    return (address.split("/")[2] if "/board/" in address else ""), said


PLACES = (
    "board/",
    "flatplan/plan/",
    "brief/",
    "file/",
    "styles/",
    "press/",
    "manuscript/",
    "texture/?pages=0,1",
    "fonts/",
)


def look_round(client: Client, key: str) -> None:
    """Every place of a job answers, its first miniature and its file can be made, and it opens again."""
    for place in PLACES:
        assert client.get(f"/job/{key}/{place}").status_code == 200, place
    with opened(key) as live:
        name = miniatures.signature(live.workspace.composition, 0)
    assert client.get(f"/job/{key}/flatplan/0-{name}.webp").status_code == 200
    answer = client.post(f"/job/{key}/press/start/", '{"recipe": "print"}', content_type="application/json")
    assert answer.status_code in (200, 400)
    assert "Something went wrong" not in answer.json().get("error", "")
    forget(key)
    assert client.get(f"/job/{key}/board/").status_code == 200
    forget(key)


def variants(sources: list[dict[str, Any]]) -> Iterator[Any]:
    for number in range(40 * hostile.TIMES):
        yield hostile.changed(sources[number % len(sources)], random.Random(number))
    for number in range(30 * hostile.TIMES):
        yield hostile.stretched(sources[number % len(sources)], random.Random(number))
    yield from hostile.rings_and_chains(sources[-1])


def test_changed_job_files_are_opened_whole_or_refused_in_words(
    client: Client, job: Job, sources: list[dict[str, Any]]
) -> None:
    before, opened_, refused = from_rows(job), 0, 0
    for data in variants(sources):
        key, said = hand_in(client, hostile.as_package(data))
        if key:
            opened_ += 1
            look_round(client, key)
        else:
            refused += 1
            assert "was not opened. " in said
            assert len(said) < 500, "one plain line"
            assert "Traceback" not in said
    assert opened_ > 9
    assert refused > 75
    assert from_rows(job) == before


@pytest.mark.parametrize("name", BAD_NAMES)
def test_a_file_is_named_by_its_hash_and_nothing_else(
    client: Client, job: Job, user: User, edit: Any, name: str
) -> None:
    """In files that are opened, in edits, in styles brought in; and the store itself."""
    data = plain(poured(3).job)
    overlay = {"id": "o1", "name": "Template", "file": name, "width": 100, "height": 100}
    font = {"id": "t1", "name": "A.otf", "file": name, "family": "A"}
    for more in ({"overlays": {"o1": overlay}}, {"fonts": {"t1": font}}):
        key, said = hand_in(client, hostile.as_package({**data, **more}))
        assert not key
        assert "64 hexadecimal digits" in said or "halves" in said
    for intent in (
        {"do": "put-overlay", "overlay": overlay},
        {"do": "add-font", "font": font},
        {"do": "bring-styles", "fonts": [font]},
    ):
        assert edit(intent, status=400)["error"]
    own = Files(job.pk)
    assert (own.read(name), own.path_of(name), own.has(name)) == (None, None, False)
    from django.conf import settings

    with open(Path(settings.DATA) / "secret-key") as secret:
        kept = secret.read()
    assert kept not in client.get(f"/job/{job.pk}/file/").content.decode("latin-1")


def test_knowing_a_hash_opens_nobody_elses_file(client: Client, job: Job, edit: Any) -> None:
    other = User.objects.create_user("tern")
    secret = b"%PDF-1.4 a template of somebody else"
    name = Files(create_job(other, poured(1).job).pk).keep(secret)
    overlay = {"id": "o1", "name": "Theirs", "file": name, "width": 100, "height": 100}
    assert "The file is in none of your jobs" in edit({"do": "put-overlay", "overlay": overlay}, status=400)["error"]
    font = {"id": "t1", "name": "A.otf", "file": name, "family": "A"}
    style = {"id": "y1", "name": "Lead", "type": {"family": "A"}}
    for intent in ({"do": "add-font", "font": font}, {"do": "bring-styles", "fonts": [font], "paragraph": [style]}):
        assert "The file is in none of your jobs" in edit(intent, status=400)["error"]
    key, _ = hand_in(client, hostile.as_package({**plain(poured(3).job), "overlays": {"o1": overlay}}))
    assert key, "a file that is missing keeps no job shut"
    saved = client.get(f"/job/{key}/file/").content
    assert package.read_files(saved) == {}
    assert client.get(f"/job/{key}/overlay/o1.png").status_code == 404
    assert not JobFile.objects.filter(job=job).exists()


def test_only_files_that_a_job_uses_are_kept_of_its_package(client: Client, user: User) -> None:
    stray = b"nobody asked for this"
    name = hashlib.sha256(stray).hexdigest()
    key, _ = hand_in(client, hostile.as_package(plain(poured(3).job), {name: stray, "0" * 64: b"another's name"}))
    assert key
    assert not Files(key).has(name)
    assert not Files(key).has("0" * 64)


def test_broken_fonts_are_refused_or_print(client: Client, job: Job, tmp_path: Path) -> None:
    from lexigon.core.type.vetting import BROKEN, FontDescription, vetted

    source = odd_font(tmp_path / "Whole.ttf").read_bytes()
    before, paths = from_rows(job), []
    for number in range(40 * hostile.TIMES):
        paths.append(tmp_path / f"f{number}.ttf")
        paths[-1].write_bytes(hostile.scrambled(source, random.Random(number), 6 if number % 2 else 40))
    verdicts = vetted(paths)
    good = [path for path, verdict in zip(paths, verdicts, strict=True) if isinstance(verdict, FontDescription)]
    assert BROKEN in verdicts
    for path in good[: 4 * hostile.TIMES]:
        answer = client.post(f"/job/{job.pk}/fonts/add/", {"file": SimpleUploadedFile("a.ttf", path.read_bytes())})
        assert answer.status_code == 200, answer.content
        family = answer.json()["brought"][0]
        intent = {"do": "put-style", "kind": "paragraph", "id": "body", "type": {"family": family}}
        send = {"intents": [intent], "view": [0]}
        assert client.post(f"/job/{job.pk}/edits/", send, content_type="application/json").status_code == 200
        look_round(client, job.pk)
        for _ in range(2):
            client.post(f"/job/{job.pk}/undo/", {"view": [0]}, content_type="application/json")
    assert from_rows(job) == before


def test_changed_requests_are_answered_in_words(client: Client, job: Job) -> None:
    with opened(job.pk) as live:
        page, other = live.job.pages[0].id, live.job.pages[1].id
        first = live.job.stories["main"].paragraphs[0].id
    place = {"paragraph": first, "offset": 0}
    rect = {"x": 60, "y": 60, "width": 120, "height": 90}
    sources: list[dict[str, Any]] = [
        {"do": "replace-text", "story": "main", "start": place, "end": place, "text": "tide"},
        {"do": "add-text-frame", "page": page, "rect": rect, "text": "Low water", "name": "A"},
        {
            "do": "add-shape",
            "page": page,
            "rect": rect,
            "spec": {"fill": {"swatch": "black", "tint": 0.3}, "columns": 2},
        },
        {
            "do": "set-paragraphs",
            "story": "main",
            "first": first,
            "last": first,
            "para": {"indent_left": 12, "align": "left"},
        },
        {"do": "put-style", "kind": "paragraph", "id": "body", "type": {"size": 12}, "para": {"leading": 15}},
        {"do": "add-pages", "at": 1, "count": 2},
        {"do": "move-pages", "pages": [page], "at": 2},
        {"do": "duplicate-pages", "pages": [page, other]},
        {"do": "delete-pages", "pages": [other]},
        {"do": "put-section", "page": page, "section": {"name": "A", "start": 3, "style": "i"}},
        {"do": "change-master", "master": "text", "columns": 2, "guides": [{"axis": "x", "at": 40}]},
        {"do": "put-paper", "paper": {"id": "p1", "name": "Cream", "page": 0.2}},
        {"do": "put-copy", "name": "Owner", "text": "The observatory"},
        {"do": "pour-text", "story": "main", "paragraphs": [{"id": "a", "style": "body", "text": "One"}]},
        {"do": "apply-master", "master": "text", "which": "range", "range": "1-2"},
        {
            "do": "add-path",
            "page": page,
            "data": "M 50 60 C 80 20 120 20 150 60 L 100 140 Z",
            "spec": {"stroke": {"weight": 2, "swatch": "black", "end": "arrow"}},
        },
        {"do": "add-freehand", "page": page, "points": [[10, 10], [20, 30], [40, 10]], "smooth": 2, "closed": True},
        {
            "do": "edit-nodes",
            "page": page,
            "object": "f1",
            "change": {"kind": "move", "nodes": [[0, 1]], "dx": 5, "dy": 5},
        },
        {"do": "combine-shapes", "objects": [{"page": page, "id": "f1"}, {"page": page, "id": "f2"}], "how": "unite"},
    ]
    data = {"intents": sources[:1], "view": [0], "base": 0, "have": {}, "group": "a", "token": ""}
    statuses = set()
    for number in range(110 * hostile.TIMES):
        chance = random.Random(number)
        body = hostile.changed({**data, "intents": [sources[number % len(sources)]]}, chance)
        answer = client.post(f"/job/{job.pk}/edits/", json.dumps(body), content_type="application/json")
        statuses.add(answer.status_code)
        assert answer.status_code in (200, 400, 409), (answer.status_code, body)
        if answer.status_code != 200:
            assert answer.json()["error"], body
        if number % 10 == 0:
            assert client.get(f"/job/{job.pk}/board/").status_code == 200
            forget(job.pk)
            with opened(job.pk) as live:
                assert from_rows(job) == package.job_to_json(live.job)
    assert {200, 400} <= statuses
    for place_ in PLACES:
        assert client.get(f"/job/{job.pk}/{place_}").status_code == 200


def test_changed_requests_to_every_address_are_answered_in_words(client: Client, job: Job) -> None:
    """Each address of a job, and those of the Brief, with a body or a query that has something wrong in it."""
    with opened(job.pk) as live:
        page = live.job.pages[0]
        first = live.job.stories["main"].paragraphs[0].id
    frame, place, values = "f1", {"paragraph": first, "offset": 0}, defaults("book")
    chosen = [{"page": page.id, "id": frame}]
    posts: dict[str, dict[str, Any]] = {
        "spec/": {
            "line": "12/16, bold",
            "was": "",
            "caret": 3,
            "texts": [{"story": "main", "start": place, "end": place, "whole": True}],
            "frames": chosen,
            "show": True,
        },
        "fit/": {"what": "size", "page": 0, "frame": frame, "story": "main"},
        "styles/line/": {"kind": "paragraph", "id": "body", "line": "bold", "edited": True},
        "objects/drawing/": {
            "svg": "<svg xmlns='http://www.w3.org/2000/svg'><path d='M0 0L9 9L0 9z' fill='url(#a)'/></svg>",
            "page": page.id,
            "at": [50, 60],
            "view": [0],
            "base": 0,
        },
        "swatches/mix/": {
            "id": "black",
            "name": "Tide",
            "space": "gradient",
            "values": [0.2],
            "gradient": {"stops": [{"at": 0, "swatch": "black"}, {"at": 1, "swatch": "gone"}]},
        },
        "styles/bring/": {"source": job.pk, "over": True},
        "copy/": {"story": "main", "start": place, "end": {"paragraph": "$", "offset": 0}},
        "paste/": {"html": "<p>One <b>two</b></p><table><tr><td>3"},
        "go-back/": {"revision": 0},
        "versions/": {"name": "Kept"},
        "versions/1/drop/": {},
        "masters/bring/": {"source": job.pk},
        "fold-out/": {"direction": "top"},
        "press/start/": {"recipe": "screen", "pages": "1-2"},
        "press/1/stop/": {},
        "manuscript/1/pour/": {"quotes": True, "styles": {"3": "body"}},
        "manuscript/1/stop/": {},
        "undo/": {"view": [0]},
        "redo/": {"view": [0], "master": "text"},
        "/brief/reading/": {
            "values": values,
            "job": job.pk,
            "unit_to": "mm",
            "size": "a5",
            "turn": True,
            "kind": "cover",
        },
        "/brief/keep/": {"name": "House", "values": values},
        "/brief/kept/1/": {"name": "New"},
    }
    gets: dict[str, dict[str, Any]] = {
        "board/": {"page": 1, "master": "text"},
        "board/pages/": {"page": 0, "story": "main", "p": first, "offset": 0, "master": ""},
        "board/context/": {
            "page": 0,
            "frame": frame,
            "story": "main",
            "p": first,
            "offset": 0,
            "p2": first,
            "offset2": 1,
            "master": "text",
        },
        "history/touched/": {"revision": 1},
        "texture/": {"pages": "0,1", "step": 1, "page": 0, "kinds": "loose", "story": "main"},
        "alike/": {"page": page.id, "object": frame, "by": "fill"},
        "sample/": {"page": page.id, "x": 100, "y": 120.5},
        "nodes/": {"page": page.id, "object": frame},
        "remedies/": {"story": "main", "p": first, "kind": "loose"},
        "find/": {"words": "(tide", "story": "main", "case": "1", "whole": "1", "pattern": "1"},
        "styles/previews/": {"kind": "paragraph", "ids": "body,quote", "width": 200},
        "styles/uses/": {"kind": "paragraph", "id": "body"},
        "styles/uses/?kind=swatch": {"id": "black"},
        "styles/one/": {"kind": "frame", "id": "body"},
        "/new/": {"kind": "book", "from": 1},
        "/": {"find": "tide"},
    }
    at = lambda address: address if address.startswith("/") else f"/job/{job.pk}/{address}"  # noqa: E731
    allowed = {200, 302, 400, 404, 409}
    for number in range(4 * hostile.TIMES):
        for address, body in posts.items():
            sent = hostile.changed(body, random.Random(f"{address}{number}")) if number else body
            answer = client.post(at(address), json.dumps(sent), content_type="application/json")
            assert answer.status_code in allowed, (address, sent)
            if answer.status_code == 400:
                assert answer.json()["error"], (address, sent)
        for address, query in gets.items():
            sent = hostile.changed(query, random.Random(f"{address}{number}")) if number else query
            items = sent.items() if isinstance(sent, dict) else ()
            given = {n: str(v).encode("utf-8", "ignore").decode() for n, v in items if isinstance(v, (str, int, float))}
            assert client.get(at(address), given).status_code in allowed, (address, sent)
    look_round(client, job.pk)


def test_an_unknown_name_is_refused_with_the_nearest_known_one(edit: Any, job: Job) -> None:
    with opened(job.pk) as live:
        page = live.job.pages[0].id
    rect = {"x": 60, "y": 60, "width": 120, "height": 90}
    error = edit({"do": "add-shape", "page": page, "rect": rect, "spec": {"colums": 2}}, status=400)["error"]
    assert "“colums” is not a known name; “columns” is" in error


def test_a_job_whose_rows_are_broken_is_said_to_be_so(client: Client, user: User, job: Job) -> None:
    """On the shelf it is listed; its places say what is wrong; other jobs are as they were."""
    from lexigon.bench import models

    other = create_job(user, poured(3).job)
    models.Paragraph.objects.filter(story__job=job).update(details={"spans": [{"start": 5, "end": 2}]})
    jobs.forget_all()
    assert client.get("/").status_code == 200
    answer = client.get(f"/job/{job.pk}/board/")
    assert answer.status_code == 422
    assert "cannot be opened" in answer.content.decode()
    assert "spans that overlap" in answer.content.decode()
    assert client.get(f"/job/{job.pk}/styles/").status_code == 400
    assert client.get(f"/job/{other.pk}/board/").status_code == 200


@pytest.mark.parametrize("kind", ["manuscript", "template"])
def test_changed_manuscripts_and_templates(client: Client, job: Job, kind: str) -> None:
    import io

    from PIL import Image

    picture = io.BytesIO()
    Image.new("RGB", (60, 40), (20, 90, 80)).save(picture, "PNG")
    text = ("Chapter One\n\n“The tide,” she said, “is _late_ again.”\n\n" * 30).encode()
    before = from_rows(job)
    address, source = (
        (f"/job/{job.pk}/manuscript/look/", text)
        if kind == "manuscript"
        else (f"/job/{job.pk}/overlay/", picture.getvalue())
    )
    statuses = set()
    for number in range(44 * hostile.TIMES):
        data = hostile.scrambled(source, random.Random(number))
        answer = client.post(address, {"file": SimpleUploadedFile("a.bin", data), "quotes": "1"})
        statuses.add(answer.status_code)
        assert answer.status_code in (200, 400), answer.content
        if kind == "manuscript" and answer.status_code == 200 and number % 4 == 0:
            poured_ = client.post(
                f"/job/{job.pk}/manuscript/{answer.json()['id']}/pour/", {}, content_type="application/json"
            )
            assert poured_.status_code == 200
            look_round(client, job.pk)
            client.post(f"/job/{job.pk}/undo/", {"view": [0]}, content_type="application/json")
        if kind == "template" and answer.status_code == 200:
            assert client.get(f"/job/{job.pk}/overlay/{answer.json()['id']}.png").status_code == 200
            client.post(f"/job/{job.pk}/undo/", {"view": [0]}, content_type="application/json")
    assert 400 in statuses
    assert from_rows(job) == before
