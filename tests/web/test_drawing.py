"""The Brief's drawing and its notes: what is drawn is what was typed, to scale."""

from __future__ import annotations

import re

import pytest
from lxml import etree

from lexigon.bench.drawing import draw
from lexigon.core.brief.findings import both, notes
from lexigon.core.brief.kinds import KINDS, defaults
from lexigon.core.brief.setup import field_values, in_unit, read_setup
from lexigon.core.document.model import Paragraph
from lexigon.core.editing.intents import PourText
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.core.helpers import setup

SVG = "{http://www.w3.org/2000/svg}"


def rects(svg: str, name: str) -> list[Rect]:
    found = etree.fromstring(svg.encode()).iter(f"{SVG}rect")
    return [Rect(*(float(r.get(k)) for k in ("x", "y", "width", "height"))) for r in found if r.get("class") == name]


def words(svg: str) -> list[str]:
    return [text.text or "" for text in etree.fromstring(svg.encode()).iter(f"{SVG}text")]


@pytest.mark.parametrize("kind", list(KINDS))
def test_every_kind_is_drawn_to_scale_with_its_dimensions(kind: str) -> None:
    made = setup(kind)
    svg = draw(made)
    sheets = rects(svg, "sheet")
    spread = 2 if made.brief.facing else 1
    for sheet in sheets:
        assert (sheet.width, sheet.height) == pytest.approx((made.brief.width * spread, made.brief.height), abs=0.01)
    assert len(sheets) == (2 if made.kind.form == "fold" else 1)
    if kind == "cover":
        assert {"12.338 in", "9 in", "0.338 in", "6 in"} <= set(words(svg))
    assert not re.search(r"nan|inf|None", svg)
    if kind in ("book", "magazine"):
        area, margin = made.brief.text_area("recto").moved(made.brief.width, 0), rects(svg, "margin")[1]
        assert (margin.x, margin.y, margin.width, margin.height) == pytest.approx(
            (area.x, area.y, area.width, area.height), abs=0.01
        )
        assert len(rects(svg, "column")) == 2 * made.brief.columns * made.brief.rows


@pytest.mark.parametrize(
    ("family", "size", "leading"),
    [
        ("EB Garamond", "11", "15"),
        ("Source Serif 4", "9.5", "12.75"),
        ("Fira Sans", "10", "10"),
        ("Cormorant Garamond", "14", "15"),
    ],
)
def test_as_many_lines_are_promised_as_a_page_holds(family: str, size: str, leading: str) -> None:
    """What the Brief says of a page is counted on a page full of text."""
    for foot in ("60 pt", "61.5 pt", "66 pt"):
        made = setup("book", family=family, size=size, leading=leading, grid="1", main="1", **{"margins.foot": foot})
        workspace = Workspace(made.new_job())
        workspace.do(PourText("main", tuple(Paragraph(f"p{n}", "body", "one line") for n in range(200))))
        assert workspace.composition.main is not None
        (column,) = workspace.composition.main.filled[1].columns
        held = sum(block.last_line - block.first_line for block in column.blocks)
        assert f"{held} lines of {size} on {leading} pt" in " ".join(words(draw(made)))


def test_frames_are_shown_and_unlike_bleeds_lie_on_their_own_sides() -> None:
    made = setup("flyer")
    assert rects(draw(made, [[Rect(10, 20, 30, 40)]]), "ghost") == [Rect(10, 20, 30, 40)]
    for kind in ("flyer", "cover"):
        rim = rects(draw(setup(kind, unit="pt", **{"bleed.inner": "4 pt", "bleed.outer": "9 pt"})), "bleed")[0]
        sheet = rects(draw(setup(kind, unit="pt", **{"bleed.inner": "4 pt", "bleed.outer": "9 pt"})), "sheet")[0]
        assert (sheet.x - rim.x, rim.right - sheet.right) == pytest.approx((4, 9), abs=0.02), (
            "left is inner, as it is pressed"
        )


def test_what_is_shown_of_a_job_reads_back_as_the_same_job() -> None:
    """The Brief can be opened and kept again without changing anything."""
    for kind in KINDS:
        made = setup(kind, name=f"A {kind}")
        job = made.new_job()
        before = job_to_json(job)
        again, errors = read_setup(field_values(job), job.papers)
        assert again is not None, errors
        edits = again.change(job).expand(job)
        moved = [e for e in edits if e.op == "set-brief" and abs(e.brief.width - job.brief.width) > 0.02]
        assert not moved
        assert job_to_json(job) == before, "looking changes nothing"


@pytest.mark.parametrize("unit", ["mm", "cm", "in", "pt", "p", "px"])
def test_lengths_change_their_unit_and_not_their_length(unit: str) -> None:
    values = in_unit(defaults("brochure"), unit)
    made = setup("brochure", **values)
    assert made.brief.width == pytest.approx(setup("brochure").brief.width, abs=0.2)
    assert in_unit({**values, "width": "wide"}, "in")["width"] == "wide", "what cannot be read stays as it was typed"


def test_usual_distances_are_round_in_either_system() -> None:
    """A book's 0.125 in of bleed is 3 mm where people measure so, and goes back; what somebody typed is converted."""
    book = {**defaults("book"), "margins.head": "1 in"}
    metric = in_unit(book, "mm", "book")
    assert (metric["bleed.foot"], metric["margins.inner"], metric["margins.head"]) == ("3 mm", "22 mm", "25.4 mm")
    assert in_unit(metric, "in", "book")["bleed.foot"] == "0.125 in"
    assert in_unit(metric, "cm", "book")["bleed.foot"] == "0.3 cm"
    assert in_unit(book, "mm")["bleed.foot"] == "3.17 mm", "of a job that is there nothing is rounded"
    for kind in KINDS:
        there = in_unit(defaults(kind), "mm", kind)
        distances = [v for k, v in there.items() if k.startswith(("margins.", "bleed.")) or k in ("gutter", "safe")]
        assert all(float(v.split()[0]) == int(float(v.split()[0])) for v in distances), (kind, distances)


def test_notes_say_what_was_computed() -> None:
    """Figures by hand: 36 pages are 9 sheets, so the innermost lies 8 leaves of 95 microns out: 0.76 mm."""

    def said(kind: str, count: int = 1, /, **values: str) -> str:
        return " ".join(note.text for note in notes(setup(kind, **values), count))

    assert "150 × 0.002252 in = 0.338 in (8.6 mm)" in said("cover")
    assert "Spine text needs at least" in said("cover", pages="90")
    assert "150 pages of white book paper make 0.3378 in, and a cover 12.3378 in wide instead of 12.5 in" in said(
        "cover", whole="12.5 in"
    )
    assert (
        read_setup({**defaults("cover"), "whole": "11 in"})[1]["whole"]
        == "The sheet is narrower than its panels together."
    )
    assert "12.5 in wide" in read_setup({**defaults("cover"), "whole": "12.6 in", "spine": "0.5 in"})[1]["whole"]
    assert "creeps out by 0.76 mm" in said("magazine", 36)
    assert "38 pages become 40" in said("magazine", 38)
    assert "3 pages become 8" in said("magazine", 3)
    assert "become" not in said("book", 1), "a book without its text has no pages to speak of"
    assert "will be 0.225 in (5.7 mm) thick" in said("book", 100)
    assert "5 1/4 × 7 1/4" in said("folded card")
    assert "Flat sheet 295 mm × 210 mm" in said("brochure")
    assert "will buckle" in said("brochure", allowance="0 mm")
    assert "The finished piece fits no standard envelope" in said("folded card", width="30 in", height="40 in")
    assert both(72.0, "mm") == "25.4 mm (1.000 in)"
