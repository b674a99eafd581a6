"""The board's questions about type, over HTTP: what they answer, that they are kept, and that strangers get nothing."""

from __future__ import annotations

import base64
import io
import json
from collections.abc import Callable
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.test import Client
from PIL import Image

from lexigon.bench import models
from lexigon.bench.services.files import Files
from lexigon.bench.services.jobs import create_job, forget, opened
from lexigon.core.document.model import ParaSpec, TypeSpec
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.fileformat.values import plain
from tests.core.helpers import book, poured
from tests.web.conftest import from_rows

Edit = Callable[..., Any]


def post(client: Client, job: models.Job, name: str, data: dict[str, Any], status: int = 200) -> Any:
    response = client.post(f"/job/{job.pk}/{name}/", json.dumps(data), content_type="application/json")
    assert response.status_code == status, response.content
    return response.json()


def get(client: Client, job: models.Job, name: str, status: int = 200, **query: Any) -> Any:
    response = client.get(f"/job/{job.pk}/{name}/", query)
    assert response.status_code == status, response.content
    return response.json()


@pytest.fixture
def paragraph(job: models.Job) -> str:
    with opened(job.pk) as live:
        return next(p.id for p in live.job.stories["main"].paragraphs if len(p.text) > 60 and p.style == "body")


def at(paragraph: str, offset: int) -> dict[str, Any]:
    return {"paragraph": paragraph, "offset": offset}


def test_a_spec_line_is_read_and_its_intents_do_what_it_said(
    client: Client, job: models.Job, edit: Edit, paragraph: str
) -> None:
    selection = {"story": "main", "start": at(paragraph, 0), "end": at(paragraph, 0)}
    answer = post(client, job, "spec", {**selection, "line": "12/16 bold, wobbly"})
    assert answer["unknown"] == [[12, 18]]
    assert answer["does"] == 0
    assert "not understood" in post(client, job, "spec", {**selection, "line": "wobbly", "do": True}, 400)["error"]
    answer = post(client, job, "spec", {**selection, "line": "12/16 bold", "caret": 10})
    assert answer["said"] == ["size 12 pt, leading 16 pt", "bold"]
    assert answer["does"] == 2
    assert post(client, job, "spec", {**selection, "line": "12/16 bold", "do": True})["revision"] == 1
    with opened(job.pk) as live:
        p = next(p for p in live.job.stories["main"].paragraphs if p.id == paragraph)
        assert p.type is not None
        assert (p.type.size, p.type.weight) == (12.0, 700)
        assert from_rows(job) == job_to_json(live.job)
    slip = get(
        client, job, "board/context", page=0, frame="", story="main", p=paragraph, offset=3, p2=paragraph, offset2=3
    )
    assert slip["text"]["spec"].startswith("12/16 EB Garamond bold")
    assert slip["text"]["local_words"] == "12 pt, leading 16, weight 700"


def test_missing_letters_and_missing_families_are_said(
    client: Client, job: models.Job, edit: Edit, paragraph: str
) -> None:
    edit(
        {
            "do": "replace-text",
            "story": "main",
            "start": at(paragraph, 0),
            "end": at(paragraph, 0),
            "text": "שלום Щ 🐦 ",
        }
    )

    def said() -> str:
        query = {"page": 0, "frame": "", "story": "main", "p": paragraph, "offset": 2, "p2": paragraph, "offset2": 2}
        return str(get(client, job, "board/context", **query)["text"]["fallbacks"])

    assert "no font has them" in said()
    edit(
        {
            "do": "set-paragraphs",
            "story": "main",
            "first": paragraph,
            "last": paragraph,
            "type": {"family": "Lost Grotesque"},
        }
    )
    assert "because Lost Grotesque is missing" in said()


def test_a_change_of_styles_in_a_long_job_is_one_step_however_it_settles(client: Client, user: User) -> None:
    job = create_job(user, poured(500, 4).job)
    before = from_rows(job)

    def send(name: str, data: dict[str, Any]) -> Any:
        return post(client, job, name, data)

    bigger = {"do": "put-style", "kind": "paragraph", "id": "body", "type": {"size": 15.0}}
    answer = send("edits", {"intents": [bigger], "view": [31, 32], "base": 0})
    assert answer["settling"]
    pages = get(client, job, "board/pages", page=31)
    assert "settling" not in pages
    with opened(job.pk) as live:
        assert from_rows(job) == job_to_json(live.job)
        assert len(live.job.pages) > 60
    forget(job.pk)
    send("undo", {"view": [31, 32]})
    with opened(job.pk) as live:
        assert live.job.paragraph_styles["body"].type.size == 11.0
    assert from_rows(job) == before, "the pages that were added went with the same step"
    send("redo", {"view": [31, 32]})
    assert json.loads(from_rows(job))["paragraph_styles"]["body"]["type"]["size"] == 15


def test_styles_of_every_kind_are_listed_previewed_used_and_read(client: Client, job: models.Job, edit: Edit) -> None:
    edit({"do": "put-style", "kind": "frame", "name": "Sidebar", "frame": {"columns": 2}})
    edit({"do": "put-style", "kind": "rule", "name": "Hairline", "stroke": {"weight": 0.25}})
    found = get(client, job, "styles")
    assert {kind: bool(rows) for kind, rows in found.items()} == dict.fromkeys(
        ("paragraph", "character", "frame", "rule"), True
    )
    body = next(row for row in found["paragraph"] if row["id"] == "body")
    assert body["spec"] == "11/15 EB Garamond, justified, indent 15pt, last line at least 15pt, careful hyphens, grid"
    assert body["uses"] > 10
    assert (
        next(row["spec"] for row in found["frame"]) == "2 columns, gutter 12 pt"
        or "2 columns" in found["frame"][0]["spec"]
    )
    previews = get(client, job, "styles/previews", kind="paragraph", ids="body,chapter,missing")["previews"]
    assert set(previews) == {"body", "chapter"}
    assert "<text" in previews["body"]
    uses = get(client, job, "styles/uses", kind="paragraph", id="body")
    assert uses["count"] == body["uses"]
    assert uses["rows"][0]["label"]
    wobbly = {"kind": "paragraph", "id": "body", "line": "wobbly"}
    assert "wobbly" in post(client, job, "styles/line", wobbly, 400)["error"]


def test_a_styles_line_is_edited_in_place(client: Client, job: models.Job, edit: Edit) -> None:
    """What is taken out of the line goes back to the style it is based on; what is as that one has it is left to it."""
    edit(
        {
            "do": "put-style",
            "kind": "paragraph",
            "name": "Aside",
            "based_on": "body",
            "type": {"caps": "small", "italic": True},
        }
    )
    row = next(row for row in get(client, job, "styles")["paragraph"] if row["name"] == "Aside")
    assert "small caps" in row["spec"]

    def change(line: str, edited: bool = True) -> None:
        answer = post(
            client, job, "styles/line", {"kind": "paragraph", "id": row["id"], "line": line, "edited": edited}
        )
        edit(
            {
                "do": "put-style",
                "kind": "paragraph",
                "id": row["id"],
                "replace": True,
                "type": answer["type"],
                "para": answer["para"],
            }
        )

    def own() -> tuple[TypeSpec, ParaSpec]:
        with opened(job.pk) as live:
            style = live.job.paragraph_styles[row["id"]]
            return style.type, style.para

    change(row["spec"].replace(", small caps", "").replace("11/15", "9/12"))
    assert own() == (TypeSpec(italic=True, size=9.0), ParaSpec(leading=12.0))
    change("11/15, centre", edited=False)
    assert own() == (TypeSpec(italic=True), ParaSpec(align="centre"))


def test_a_style_is_told_value_by_value_and_gives_back(client: Client, job: models.Job, edit: Edit) -> None:
    """Settled values with the names of the style's own; what is given back is what it is based on from then on."""
    edit({"do": "put-style", "kind": "rule", "name": "Hairline", "stroke": {"weight": 0.25, "dash": [3, 2]}})
    edit({"do": "put-style", "kind": "frame", "name": "Sidebar", "frame": {"columns": 2, "insets": [3, 3, 3, 3]}})
    edit({"do": "put-style", "kind": "character", "name": "Bird", "type": {"italic": True}})
    edit(
        {
            "do": "put-style",
            "kind": "paragraph",
            "name": "Aside",
            "based_on": "body",
            "para": {"tabs": [{"at": 40}], "foot_lines": 3},
        }
    )
    ids = {row["name"]: (kind, row["id"]) for kind, rows in get(client, job, "styles").items() for row in rows}

    def told(name: str) -> Any:
        kind, key = ids[name]
        return get(client, job, "styles/one", kind=kind, id=key)

    aside = told("Aside")
    assert sorted(aside["own"]) == ["foot_lines", "tabs"]
    assert aside["raw"]["para"]["foot_lines"] == 3
    assert aside["raw"]["para"]["leading"] == 15
    assert aside["sections"]["tabs"] == "tab 40 left"
    assert {f["tag"] for f in aside["features"]} >= {"liga", "dlig", "swsh"}
    assert told("Sidebar")["raw"]["frame"]["columns"] == 2
    assert told("Hairline")["raw"]["stroke"]["dash"] == [3, 2]
    assert told("Bird")["raw"]["type"]["italic"] is True
    edit({"do": "put-style", "kind": "paragraph", "id": ids["Aside"][1], "unset": ["tabs"]})
    assert told("Aside")["own"] == ["foot_lines"]
    assert told("Aside")["raw"]["para"]["tabs"] == []
    edit({"do": "put-style", "kind": "rule", "id": ids["Hairline"][1], "unset": ["dash"]})
    assert told("Hairline")["raw"]["stroke"]["dash"] == []
    missing = get(client, job, "styles/one", status=400, kind="paragraph", id="nobody")
    assert "no longer in the job" in missing["error"]


def test_the_slip_tells_what_is_set_by_hand_by_section(
    client: Client, job: models.Job, edit: Edit, paragraph: str
) -> None:
    edit(
        {
            "do": "set-paragraphs",
            "story": "main",
            "first": paragraph,
            "last": paragraph,
            "para": {"space_after": 4, "optical": True},
        }
    )

    def text() -> Any:
        place = {"page": 0, "frame": "", "story": "main", "p": paragraph, "offset": 2}
        return get(client, job, "board/context", **place)["text"]

    told = text()
    assert told["own"]["para"] == ["space_after", "optical"]
    assert told["sections"]["indents"] == "indent 15pt, after 4, last line at least 15pt"
    assert told["sections"]["breaking"] == "careful hyphens, optical margins"
    assert told["local_words"] == "after 4, optical margins"
    below = told["below"]["para"]["space_after"]
    edit(
        {"do": "set-paragraphs", "story": "main", "first": paragraph, "last": paragraph, "para": {"space_after": below}}
    )
    assert text()["own"]["para"] == ["optical"]


def test_words_give_back_to_what_they_stand_in(client: Client, job: models.Job, edit: Edit, paragraph: str) -> None:
    """Selected words go back to their paragraph, local settings and all; a caret alone means the paragraph."""
    edit({"do": "set-paragraphs", "story": "main", "first": paragraph, "last": paragraph, "type": {"size": 13}})
    words = {"story": "main", "start": at(paragraph, 2), "end": at(paragraph, 9)}
    edit({"do": "format-text", **words, "type": {"size": 20, "tracking": 30}})

    def told(end: int) -> Any:
        place = {
            "page": 0,
            "frame": "",
            "story": "main",
            "p": paragraph,
            "offset": 2 if end > 5 else end,
            "p2": paragraph,
            "offset2": end,
        }
        return get(client, job, "board/context", **place)["text"]

    assert told(5)["own"]["type"] == ["size"], "the caret stands in the words, and means the paragraph"
    selected = told(9)
    assert sorted(selected["own"]["type"]) == ["size", "tracking"]
    back = {name: selected["below"]["type"][name] for name in selected["own"]["type"]}
    assert back == {"size": 13, "tracking": 0}
    edit({"do": "format-text", **words, "type": back})
    with opened(job.pk) as live:
        p = next(p for p in live.job.stories["main"].paragraphs if p.id == paragraph)
        assert not any(span.type for span in p.spans)
        assert p.type == TypeSpec(size=13)


def test_a_line_edited_in_place_sets_only_what_was_edited(
    client: Client, job: models.Job, edit: Edit, paragraph: str
) -> None:
    selection = {"story": "main", "start": at(paragraph, 0), "end": at(paragraph, 0)}
    was = "11/15 EB Garamond, justified, indent 15pt, grid"
    post(client, job, "spec", {**selection, "was": was, "line": was.replace("justified", "left"), "do": True})
    change = {**selection, "was": was, "line": was.removesuffix(", grid")}
    answer = post(client, job, "spec", change)
    post(client, job, "spec", {**change, "do": True})
    assert answer["said"] == ["no longer on the grid"]
    with opened(job.pk) as live:
        p = next(p for p in live.job.stories["main"].paragraphs if p.id == paragraph)
        assert (p.type, p.para) == (None, ParaSpec(align="left", grid=False))


def test_styles_come_from_a_job_of_ones_own_only(client: Client, job: models.Job, user: User) -> None:
    other = book()
    other.name = "Other"
    mine = create_job(user, other)
    theirs = create_job(User.objects.create_user("rook", password="a sea of mud"), book())
    assert "lists" in post(client, job, "styles/bring", {"source": mine.pk, "over": True})
    response = client.post(
        f"/job/{job.pk}/styles/bring/", json.dumps({"source": theirs.pk}), content_type="application/json"
    )
    assert response.status_code == 404


def test_texture_remedies_and_the_next_page_with_a_mark(client: Client, job: models.Job) -> None:
    answer = get(client, job, "texture", pages="0,1,2")
    assert set(answer["pages"]) == {"0", "1", "2"}
    assert answer["numbers"]["lines"] > 100
    marks = [
        (int(page), mark)
        for page, found in answer["pages"].items()
        for mark in found
        if mark["kind"] in ("loose", "tight")
    ]
    assert marks
    _, mark = marks[-1]
    found = get(client, job, "remedies", story="main", p=mark["p"], kind=mark["kind"])
    assert found["now"]["lines"] > 0
    following = get(client, job, "texture", page=0, step=1, kinds="loose,tight")["page"]
    assert following is None or following > 0
    assert get(client, job, "texture", page=0, step=1, kinds="no such")["page"] is None


def test_finding_by_case_words_and_pattern(client: Client, job: models.Job, edit: Edit, paragraph: str) -> None:
    edit(
        {
            "do": "replace-text",
            "story": "main",
            "start": at(paragraph, 0),
            "end": at(paragraph, 0),
            "text": "Knot knots KNOT ",
        }
    )

    def count(**flags: str) -> int:
        return len(get(client, job, "find", story="main", words="knot", **flags)["found"])

    assert (count(), count(case="1"), count(whole="1"), count(case="1", whole="1")) == (3, 1, 2, 0)
    assert len(get(client, job, "find", story="main", words="kn.t", pattern="1")["found"]) == 3
    assert (
        "unterminated character set at position"
        in get(client, job, "find", 400, story="main", words="kn[", pattern="1")["error"]
    )
    get(client, job, "find", 400, story="main", words="")


def test_clipboard_html_goes_out_with_emphasis_and_comes_in_clean(
    client: Client, job: models.Job, edit: Edit, paragraph: str
) -> None:
    edit(
        {"do": "format-text", "story": "main", "start": at(paragraph, 3), "end": at(paragraph, 9), "style": "emphasis"}
    )
    out = post(client, job, "copy", {"story": "main", "start": at(paragraph, 0), "end": at(paragraph, 20)})
    assert "<i>" in out["html"]
    back = post(client, job, "paste", {"html": out["html"]})["paragraphs"]
    assert back[0]["text"] == out["text"]
    assert back[0]["spans"][0]["style"] == "emphasis", "between two jobs nothing of it is lost"
    wild = '<p style="font-family:Wild">a <b>b</b><script>x()</script><img src="http://x/y.png"> c</p>'
    found = post(client, job, "paste", {"html": wild})
    (clean,) = found["paragraphs"]
    assert clean["text"] == "a b c"
    assert clean["spans"] == [{"start": 2, "end": 3, "style": "strong"}]
    assert found["told"] == ["1 picture, not included in the file: left out"]


def test_a_pasted_picture_stands_in_its_line_and_nobody_elses_can_be_named(
    client: Client, job: models.Job, edit: Edit, paragraph: str
) -> None:
    out = io.BytesIO()
    Image.new("RGB", (80, 40), "teal").save(out, "PNG")
    source = (
        f'<p>seen <img alt="A teal" src="data:image/png;base64,{base64.b64encode(out.getvalue()).decode()}"> here</p>'
    )
    words = post(client, job, "paste", {"html": source})
    assert words.pop("told") == []
    insert = {"do": "insert-rich", "story": "main", "start": at(paragraph, 0), "end": at(paragraph, 0)}
    edit(insert | words)
    with opened(job.pk) as live:
        (file,) = live.job.pictures.values()
        (inlay,) = live.job.inlays.values()
        assert (inlay.picture.picture, file.alt) == (file.id, "A teal")
        assert Files(job.pk).path_of(file.file)
    words["pictures"][0] |= {"id": "iother", "file": "0" * 64 + ".png"}
    words["inlays"][0]["content"]["picture"] = "iother"
    error = edit(insert | words, status=400)["error"]
    assert "file" in error


def test_text_made_to_fit_and_actions_that_cannot_be_done(client: Client, job: models.Job, edit: Edit) -> None:
    with opened(job.pk) as live:
        page = live.job.pages[0].id
    made = edit(
        {
            "do": "add-text-frame",
            "page": page,
            "rect": {"x": 60, "y": 60, "width": 200, "height": 90},
            "text": "Fit me",
        },
        view=[0],
    )["made"]
    assert post(client, job, "fit", {"what": "line", "page": 0, "frame": made[0]})["undo"] == "Format paragraphs"
    with opened(job.pk) as live:
        frame = live.job.pages[0].frames[-1]
        size = live.job.stories[frame.story or ""].paragraphs[0].type
        assert size is not None
        assert (size.size or 0) > 40
    for data, words in (
        ({"what": "cut", "frame": made[0]}, "divided at a frame"),
        ({"what": "frames", "story": "none"}, "no frame"),
        ({"what": "line", "frame": "gone"}, "no longer on the page"),
        ({"what": "dance"}, "is none of"),
    ):
        assert words in post(client, job, "fit", {"page": 0, **data}, 400)["error"]


@pytest.mark.parametrize(
    "name", ["spec", "texture", "remedies", "find", "fit", "styles", "styles/previews", "styles/uses", "paste"]
)
def test_strangers_are_told_nothing(job: models.Job, name: str) -> None:
    stranger = Client()
    stranger.force_login(
        User.objects.create_user("stranger", password="x"), backend="django.contrib.auth.backends.ModelBackend"
    )
    send = stranger.post if name in ("spec", "fit", "paste") else stranger.get
    assert (
        send(
            f"/job/{job.pk}/{name}/", "{}" if name in ("spec", "fit", "paste") else {}, content_type="application/json"
        ).status_code
        == 404
    )


def test_a_line_for_seventy_paragraphs_is_one_change_and_one_undo(client: Client, job: models.Job) -> None:
    with opened(job.pk) as live:
        first, last = (live.job.stories["main"].paragraphs[n].id for n in (0, -1))
        before = job_to_json(live.job)
    words = {"story": "main", "start": at(first, 0), "end": at(last, 0), "whole": True}
    answer = post(client, job, "spec", {"line": "9/12 left", "texts": [words], "do": True})
    assert answer["revision"] == 1
    assert post(client, job, "undo", {})["undo"] == ""
    assert from_rows(job) == before


def test_five_hundred_frames_are_moved_as_one_change(client: Client, job: models.Job, edit: Edit) -> None:
    with opened(job.pk) as live:
        page = live.job.pages[0].id
    shapes = [
        {"do": "add-shape", "page": page, "rect": {"x": n, "y": n, "width": 20, "height": 20}} for n in range(500)
    ]
    made = edit(*shapes)["made"]
    assert len(made) == 500
    moved = [
        {"do": "change-frame", "page": page, "frame": frame, "rect": {"x": 9, "y": n, "width": 20, "height": 20}}
        for n, frame in enumerate(made)
    ]
    answer = edit(*moved)
    assert answer["revision"] == 2
    with opened(job.pk) as live:
        assert {frame.rect.x for frame in live.job.pages[0].frames if frame.rect} == {9}
        assert from_rows(job) == job_to_json(live.job)
    assert post(client, job, "undo", {})["undo"] == "Add shape"


def test_the_log_is_of_the_size_of_the_change(job: models.Job, edit: Edit) -> None:
    """One frame moved beside two hundred: what is logged is that frame, before and after."""
    with opened(job.pk) as live:
        page = live.job.pages[0].id
    shapes = [
        {"do": "add-shape", "page": page, "rect": {"x": n, "y": n, "width": 20, "height": 20}} for n in range(200)
    ]
    frame = edit(*shapes)["made"][0]
    move = {"do": "change-frame", "page": page, "frame": frame, "rect": {"x": 9.5, "y": 9, "width": 20, "height": 20}}
    edit(move)
    row = models.Edit.objects.filter(job=job).last()
    assert row is not None
    with opened(job.pk) as live:
        size = len(json.dumps(plain(next(f for f in live.job.pages[0].frames if f.id == frame))))
    assert len(json.dumps(row.edits)) + len(json.dumps(row.inverse)) < 3 * 2 * size


def test_slips_are_told_ahead_as_they_are_told_when_something_is_selected(
    client: Client, job: models.Job, paragraph: str
) -> None:
    with opened(job.pk) as live:
        frame = next(f for f, _ in live.job.page_frames(1))
    queries = [
        {"page": 1, "frame": ""},
        {"page": 1, "frame": frame.id, "story": "main", "p": paragraph, "offset": 0},
        {"page": 1, "frame": "gone"},
        {"page": 99, "frame": 5, "story": None, "p": "nowhere", "table": "none"},
    ]
    answers = post(client, job, "board/slips", {"queries": queries})["slips"]
    assert answers
    for query, answer in zip(queries, answers, strict=False):
        assert answer == get(client, job, "board/context", **{k: v for k, v in query.items() if v is not None})
    assert "queries" in post(client, job, "board/slips", {"queries": "all"}, 400)["error"]
