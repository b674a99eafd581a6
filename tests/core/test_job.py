"""Edits and their inverses, the JSON form and its schema, and the .lexigon file against broken and hostile input."""

from __future__ import annotations

import io
import json
import random
import zipfile
from dataclasses import fields
from pathlib import Path
from typing import Any, cast

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.document.cascade import Cascade
from lexigon.core.document.model import (
    Brief,
    Edges,
    Fill,
    Guide,
    Overlay,
    PageGrid,
    Paper,
    Paragraph,
    ParagraphStyle,
    ParaSpec,
    Span,
    Swatch,
    TypeSpec,
)
from lexigon.core.document.story_text import inserted, respanned
from lexigon.core.editing import intents as do
from lexigon.core.editing.edits import SpliceParagraphs, edits_from_plain, edits_to_plain
from lexigon.core.editing.intents import (
    AddPages,
    AddTextFrame,
    ChangeBrief,
    ChangeFrame,
    FormatText,
    GlyphShapes,
    OutlineText,
    Place,
    PutOverlay,
    PutPaper,
    PutStyle,
    ReplaceText,
    SetParagraphs,
    intent_from_plain,
)
from lexigon.core.editing.intents.registry import known_intents
from lexigon.core.editing.intents.text.listings import PutAbroad
from lexigon.core.errors import FormError, LexigonError
from lexigon.core.fileformat import package
from lexigon.core.fileformat.jobs import job_from_json, job_to_json, schema
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Affine, Rect
from tests.core.helpers import book, examples, poured

ROOT = Path(__file__).parents[2]


def any_intent(workspace: Workspace, chance: random.Random) -> object:
    """Some intent of any kind; it may well be one that cannot be done."""
    story, page = workspace.job.stories["main"].paragraphs, chance.choice(workspace.job.pages)
    places = [
        Place(p.id, chance.randint(0, len(p.text) + 1) - chance.randint(0, 1)) for p in chance.choices(story, k=2)
    ]
    rect = Rect(chance.uniform(-50, 400), chance.uniform(-50, 600), chance.uniform(1, 300), chance.uniform(1, 300))
    frames = [frame.id for frame, _ in workspace.job.page_frames(workspace.job.page_index(page.id))]
    return chance.choice(
        [
            lambda: ReplaceText("main", *places, chance.choice(["", "x", "a\nb", "\u2028"])),
            lambda: SetParagraphs(
                "main", places[0].paragraph, places[1].paragraph, style=chance.choice(["quote", "nowhere"]), clear=True
            ),
            lambda: FormatText("main", *places, TypeSpec(italic=True, size=chance.choice([9.0, -1.0]))),
            lambda: FormatText("main", *places, style=chance.choice(["strong", ""])),
            lambda: AddTextFrame(page.id, rect),
            lambda: AddTextFrame(page.id, rect, after=chance.choice(frames)),
            lambda: ChangeFrame(page.id, chance.choice(frames), rect=rect, columns=chance.choice([None, 0, 2])),
            lambda: AddPages(chance.randint(0, 5), chance.choice([1, 0]), "text"),
            lambda: ChangeBrief(Brief(400, chance.choice([600.0, -5.0]), Edges(40, 40, 40, 40), columns=2)),
            lambda: OutlineText(
                page.id,
                chance.choice(frames),
                (GlyphShapes(rect, chance.choice(["M0 0L1 0L1 1Z", "M0"]), "black"),),
                "Words",
            ),
            lambda: PutOverlay(
                Overlay(
                    "o1",
                    "Template",
                    chance.choice(["0" * 64, "a" * 64, "none"]),
                    100,
                    chance.choice([80.0, 0.0]),
                    page=chance.choice([None, page.id]),
                )
            ),
            lambda: PutPaper(Paper("p1", chance.choice(["Cream", ""]), chance.choice([0.2, 9.0]))),
            lambda: do.AddShape(page.id, rect),
            lambda: do.GroupObjects(page.id, tuple(chance.choices(frames, k=2))),
            lambda: do.CutOff(page.id, tuple(chance.choices(frames, k=2))),
            lambda: do.ChangeGroup(
                page.id, chance.choice(frames), opacity=chance.choice([0.5, None]), whole=chance.choice([True, False])
            ),
            lambda: do.PutReading(page.id, tuple(chance.sample(frames, len(frames)))),
            lambda: do.PutPageGrid(chance.choice([None, PageGrid(20.0, chance.choice([0.5, 30.0]), 3)])),
            lambda: do.PutGuides(page.id, (Guide("x", rect.x, layer=chance.choice([None, "main", "gone"])),)),
            lambda: do.AddSwatches(
                (
                    Swatch("a", "Tide", "cmyk", (0.9, 0.4, 0.1, 0.0)),
                    Swatch("b", "Half", "tint", base=Fill(chance.choice(["a", "gone"]), 0.5)),
                )
            ),
            lambda: do.PutSwatch(
                space=chance.choice(["registration", "tint"]),
                base=Fill(chance.choice(list(workspace.job.swatches)), 0.3),
                group="New",
            ),
            lambda: do.RemoveSwatch(
                chance.choice(list(workspace.job.swatches)), chance.choice(list(workspace.job.swatches))
            ),
            lambda: PutStyle(
                "paragraph", "quote", based_on=chance.choice(["body", "quote"]), para=ParaSpec(leading=17.0)
            ),
        ]
    )()


@settings(max_examples=examples(50), deadline=None)
@given(st.integers(0, 10**6))
def test_edit_then_inverse_is_identity_and_a_refused_edit_changes_nothing(seed: int) -> None:
    chance = random.Random(seed)
    workspace = poured(12, seed=seed % 5 + 1)
    states, changes = [job_to_json(workspace.job)], []
    for _ in range(8):
        before = job_to_json(workspace.job)
        try:
            change = workspace.do(any_intent(workspace, chance))  # type: ignore[arg-type]
        except LexigonError:
            assert job_to_json(workspace.job) == before
            continue
        assert edits_from_plain(json.loads(json.dumps(edits_to_plain(change.edits)))) == list(change.edits)
        changes.append(change)
        states.append(job_to_json(workspace.job))
    assert job_from_json(states[-1]) == workspace.job, "the JSON form reads back as the same job"
    assert package.read(package.write(workspace.job)) == workspace.job
    redone = [workspace.run(change.inverse) for change in reversed(changes)]
    assert job_to_json(workspace.job) == states[0]
    for inverse in reversed(redone):
        workspace.run(inverse)
    assert job_to_json(workspace.job) == states[-1]


def test_a_batch_that_fails_half_way_is_taken_back_whole() -> None:
    workspace = poured(5)
    before = job_to_json(workspace.job)
    first = workspace.job.stories["main"].paragraphs[0].id
    with pytest.raises(LexigonError, match="no longer"):
        workspace.do(
            ReplaceText("main", Place(first, 0), Place(first, 1), "x"),
            ReplaceText("gone", Place(first, 0), Place(first, 0), "y"),
        )
    assert job_to_json(workspace.job) == before


def test_typing_takes_the_setting_to_its_left() -> None:
    paragraph = Paragraph("p", "body", "one two three", (Span(4, 7, style="emphasis"),))
    assert inserted(paragraph, 7, "XX") == Paragraph("p", "body", "one twoXX three", (Span(4, 9, style="emphasis"),))
    assert inserted(paragraph, 4, "XX").spans == (Span(6, 9, style="emphasis"),)
    assert respanned(paragraph, 2, 5, TypeSpec(weight=700), None).spans == (
        Span(2, 4, type=TypeSpec(weight=700)),
        Span(4, 5, style="emphasis", type=TypeSpec(weight=700)),
        Span(5, 7, style="emphasis"),
    )
    assert respanned(paragraph, 0, 13, None, "").spans == ()


def test_a_new_paragraph_takes_the_style_that_follows() -> None:
    workspace = Workspace(book())
    (first,) = workspace.job.stories["main"].paragraphs
    workspace.do(SetParagraphs("main", first.id, first.id, style="chapter"))
    workspace.do(ReplaceText("main", Place("^", 0), Place("^", 0), "One\nIt was\nnight."))
    assert [(p.style, p.text) for p in workspace.job.stories["main"].paragraphs] == [
        ("chapter", "One"),
        ("first", "It was"),
        ("first", "night."),
    ]
    workspace.do(ReplaceText("main", Place("$", 0), Place("$", 0), "\nMore."))
    assert workspace.job.stories["main"].paragraphs[-1].style == "body"


def test_styles_follow_the_ones_they_are_based_on() -> None:
    workspace = poured(3)
    style = workspace.job.paragraph_styles["body"]
    workspace.do(
        PutStyle("paragraph", "body", type=TypeSpec(family="Alegreya", size=9.0), para=style.para, replace=True)
    )
    resolved = Cascade(workspace.job).type_of(Paragraph("p", "quote"))
    assert (resolved.family, round(resolved.size, 2)) == ("Alegreya", 10.45)
    ring = {"body": ParagraphStyle("body", "Body", "quote"), "quote": ParagraphStyle("quote", "Quotation", "body")}
    workspace.job.paragraph_styles.update(ring)
    assert Cascade(workspace.job).type_of(Paragraph("p", "quote")).size == 11.0, (
        "a ring in an old file ends where it closes"
    )
    with pytest.raises(LexigonError, match="based on itself"):
        workspace.do(PutStyle("paragraph", "quote", based_on="body"))


@pytest.mark.parametrize(
    ("brief", "field"),
    [
        (Brief(-10, 600, Edges(20, 20, 20, 20)), "width"),
        (Brief(0, 600, Edges(20, 20, 20, 20)), "width"),
        (Brief(400, 300_000, Edges(20, 20, 20, 20)), "height"),
        (Brief(400, 600, Edges(20, 20, 200, 190)), "margins.outer"),
        (Brief(400, 600, Edges(400, 200, 20, 20)), "margins.foot"),
        (Brief(400, 600, Edges(-1, 20, 20, 20)), "margins.head"),
        (Brief(400, 600, Edges(20, 20, 20, 20), Edges(400, 0, 0, 0)), "bleed.head"),
        (Brief(float("nan"), 600, Edges()), "width"),
    ],
)
def test_briefs_that_cannot_be(brief: Brief, field: str) -> None:
    workspace = Workspace(book())
    with pytest.raises(LexigonError) as error:
        workspace.do(ChangeBrief(brief))
    assert error.value.field == field


def test_master_frames_follow_the_margins() -> None:
    workspace = poured(30)
    old = workspace.job.brief
    workspace.do(ChangeBrief(Brief(400, 700, Edges(80, 70, 60, 50), unit="in", grid_start=92, grid_step=15)))
    head, folio = workspace.job.masters["text"].recto[1:]
    assert head.rect is not None
    assert folio.rect is not None
    assert (head.rect.x, head.rect.width) == (60, 290)
    assert head.rect.y == pytest.approx(80 - (old.margins.head - 24))
    assert folio.rect.y > 700 - 70


@pytest.mark.parametrize(
    "data",
    [
        None,
        3,
        "x",
        {"do": "format-disk"},
        {"do": "replace-text"},
        {"do": "replace-text", "story": 5, "start": {}, "end": {}},
        {"do": "change-frame", "page": "p", "frame": "f", "rect": {"x": "wide"}},
    ],
)
def test_intents_from_outside_are_checked(data: object) -> None:
    with pytest.raises(FormError):
        intent_from_plain(data)


def test_what_the_application_does_by_itself_is_not_asked_for_from_outside() -> None:
    assert PutAbroad().do == "put-abroad"
    with pytest.raises(FormError):
        intent_from_plain({"do": "put-abroad", "parts": []})
    names = {item.default for one in known_intents() for item in fields(cast(Any, one)) if item.name == "do"}
    assert {"pour-text", "put-swatch", "set-cells"} <= names
    assert len(names) == len(known_intents()), "each has a name of its own"


def test_published_schema_is_the_present_one() -> None:
    """docs/job.schema.json is made by ``python -m tools.schema``."""
    assert json.loads((ROOT / "docs/job.schema.json").read_text()) == json.loads(json.dumps(schema()))


def zipped(entries: dict[str, bytes]) -> bytes:
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in entries.items():
            archive.writestr(name, data)
    return target.getvalue()


def test_the_file_is_the_same_bytes_for_the_same_job() -> None:
    job = poured(9).job
    assert package.write(job) == package.write(job)
    with zipfile.ZipFile(io.BytesIO(package.write(job))) as archive:
        assert archive.infolist()[0].filename == "mimetype"
        assert archive.read("mimetype").decode() == package.MIMETYPE


GOOD = json.loads(job_to_json(book()))


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "not a .lexigon"),
        (b"\x89PNG\r\n\x1a\n" + b"\0" * 99, "not a .lexigon"),
        (package.write(book())[:-200], "damaged"),
        (zipped({"other": b"x"}), "This is a zip file without a job"),
        (zipped({"../../evil": b"x", "job.json": b"{}"}), "outside"),
        (zipped({"C:\\evil": b"x"}), "outside"),
        (zipped({"job.json": b"\0" * 60_000_000}), "far more"),
        (zipped({"job.json": b"not json"}), "not valid JSON"),
        (zipped({"job.json": b"[" * 100_000}), "not valid JSON"),
        (zipped({"job.json": b"[]"}), "does not hold a job"),
        (zipped({"job.json": json.dumps({**GOOD, "format": 99}).encode()}), "newer Lexigon"),
        (zipped({"job.json": json.dumps({**GOOD, "pages": "none"}).encode()}), "pages"),
        (zipped({"job.json": json.dumps({**GOOD, "main_story": "gone"}).encode()}), "missing"),
        (zipped({"job.json": json.dumps({**GOOD, "pages": GOOD["pages"] * 2}).encode()}), "same id"),
    ],
)
def test_broken_and_hostile_files_are_refused_in_plain_words(data: bytes, says: str) -> None:
    with pytest.raises(LexigonError, match=says):
        package.read(data)


def test_spans_that_cross_are_refused() -> None:
    job = book()
    job.stories["main"].paragraphs[0] = Paragraph("p", "body", "abc", (Span(0, 3), Span(1, 2)))
    with pytest.raises(FormError, match="overlap"):
        job_from_json(job_to_json(job))
    with pytest.raises(LexigonError):
        SpliceParagraphs("main", 4, 1).apply(job)


def test_affine_maps_compose_in_order() -> None:
    turn = Affine(0, 1, -1, 0)
    assert turn.then(Affine.move(10, 0)).apply(3, 4) == (6, 3)
    assert Rect(1, 2, 30, 40).inset(1, 2, 3, 4) == Rect(5, 3, 24, 36)


@pytest.mark.parametrize(
    ("start", "end", "styles"),
    [
        (("a", 0), ("b", 0), ["chapter", "body"]),  # the paragraph before a heading, taken away whole
        (("a", 4), ("b", 0), ["body", "body"]),  # joined behind words: theirs is the style
        (("a", 4), ("b", 3), ["body", "body"]),
        (("b", 0), ("c", 0), ["body", "body"]),  # the heading itself
        (("a", 0), ("c", 2), ["body"]),
    ],
)
def test_the_style_of_the_first_paragraph_with_words_left_survives(
    start: tuple[str, int], end: tuple[str, int], styles: list[str]
) -> None:
    job = book()
    made = [Paragraph("a", "body", "Tide"), Paragraph("b", "chapter", "Chapter 1"), Paragraph("c", "body", "Low water")]
    job.stories["main"].paragraphs = made
    workspace = Workspace(job)
    workspace.do(ReplaceText("main", Place(*start), Place(*end), ""))
    assert [p.style for p in workspace.job.stories["main"].paragraphs] == styles


@pytest.mark.parametrize("end", ["\n", "\r", "\x85"])
def test_a_line_end_is_no_part_of_a_name_or_a_paragraph(end: str) -> None:
    """``$`` in a pattern would let the last line end pass."""
    for change in ({"name": f"Tides{end}"}, {"main_story": f"main{end}"}):
        with pytest.raises(FormError):
            job_from_json(json.dumps({**json.loads(job_to_json(book())), **change}))
    data = json.loads(job_to_json(book()))
    data["stories"]["main"]["paragraphs"][0]["text"] = f"Low water{end}"
    with pytest.raises(FormError, match="no line ends"):
        job_from_json(json.dumps(data))
