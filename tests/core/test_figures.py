"""Floating figures: a figure that does not fit moves to the head of the next column with its caption, and the text
fills the space."""

from __future__ import annotations

import random
from base64 import b64encode
from io import BytesIO

from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from lexigon.core.check.findings import findings_of
from lexigon.core.document.model import Paragraph, ParaSpec
from lexigon.core.editing import intents as do
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.overset import overset_of
from lexigon.core.flow.story_flow import StoryFlow
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.manuscript.mapping import converted, survey
from lexigon.core.manuscript.readers.html import read_html
from lexigon.core.manuscript.review.cleaning import Cleaner
from tests.core.helpers import book, examples, words
from tests.core.test_flow import shape

FIGURE = ParaSpec(floats=True, keep_next=True, keep_together=True)


def text(count: int, seed: int = 1) -> list[Paragraph]:
    return [Paragraph(f"t{n}", "body", words(60, seed + n)) for n in range(count)]


def figure(name: str, lines: int) -> list[Paragraph]:
    """A figure as many lines high, with a caption of one line."""
    drawn = "\u2028".join(f"{name} {n}" for n in range(lines))
    return [Paragraph(name, "body", drawn, para=FIGURE), Paragraph(f"{name}c", "body", f"Caption of {name}")]


def poured(*paragraphs: Paragraph) -> Workspace:
    workspace = Workspace(book(facing=False))
    workspace.do(do.PourText("main", paragraphs))
    return workspace


def flow_of(workspace: Workspace) -> StoryFlow:
    flow = workspace.composition.main
    assert flow is not None
    return flow


def places(flow: StoryFlow) -> list[list[str]]:
    """The paragraphs of each column, from its head down."""
    return [[flow.paragraphs[block.paragraph].paragraph.id for block in column.blocks] for column in flow.columns]


def room(flow: StoryFlow, number: int) -> float:
    """Points that a column leaves free at its foot."""
    column = flow.columns[number]
    return column.slot.rect.foot - column.foot(flow)


def first_break(count: int = 12) -> int:
    """The paragraph at which the second page begins where there are no figures."""
    return flow_of(poured(*text(count))).columns[0].end.paragraph


def test_a_figure_without_room_goes_to_the_head_of_the_next_column_and_text_fills_the_page() -> None:
    at = first_break()
    body = text(12)
    workspace = poured(*body[:at], *figure("f", 10), *body[at:])
    flow = flow_of(workspace)
    first, second = places(flow)[:2]
    assert "f" not in first
    assert second[:2] == ["f", "fc"], "the caption is with it"
    assert room(flow, 0) < flow.setting(0).leading, "text fills the page"
    assert workspace.composition.where.page("main", "f") == 1
    caption, following = flow.columns[1].blocks[1:3]
    gap = following.baseline - following.step - caption.bottom(flow) + flow.extent(caption.paragraph)[1]
    assert gap >= 12, "the text keeps clear of the figure"
    everything = [name for column in places(flow) for name in dict.fromkeys(column)]
    assert set(everything) == {p.id for p in workspace.job.stories["main"].paragraphs}
    assert everything.count("f") == everything.count("fc") == 1
    # Where there is room it is where it is in the text; without the option it leaves a gap.
    flow = flow_of(poured(*body[:1], *figure("f", 10), *body[1:]))
    assert places(flow)[0][:4] == ["t0", "f", "fc", "t1"]
    still = [
        p if p.id != "f" else Paragraph(p.id, p.style, p.text, para=ParaSpec(keep_next=True, keep_together=True))
        for p in (*body[:at], *figure("f", 10), *body[at:])
    ]
    assert room(flow_of(poured(*still)), 0) > 15


def test_figures_stay_in_order_within_their_chapter_and_none_is_lost() -> None:
    at = first_break()
    body = text(12)
    chapter = Paragraph("next", "chapter", "Next", para=ParaSpec(start="page"))
    flow = flow_of(
        poured(
            *body[:at],
            *figure("f", 18),
            *figure("g", 2),
            *figure("h", 18),
            *body[at:],
            chapter,
            Paragraph("last", "body", words(60)),
        )
    )
    order = [name for column in places(flow) for name in column if name in "fgh"]
    assert order == ["f", "g", "h"], "a small one does not overtake a large one"
    flow = flow_of(poured(*body[:at], *figure("f", 18), chapter, Paragraph("last", "body", words(60))))
    columns = places(flow)
    assert columns[1] == ["f", "fc"], "the chapter waits for its figures"
    assert columns[2][0] == "next"
    # At the end of the text, and too high for any column.
    assert places(flow_of(poured(*body[:at], *figure("f", 18))))[1] == ["f", "fc"]
    assert ["f", "fc"] in places(flow_of(poured(*body[:at], *figure("f", 90), *body[at:])))
    # In a frame by itself what has no room is overset.
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    workspace.do(do.AddTextFrame(page, Rect(50, 50, 200, 150)))
    story = workspace.job.pages[0].frames[-1].story or ""
    workspace.do(do.PourText(story, (*text(1), *figure("f", 40))))
    over = overset_of(workspace.composition.flows[story])
    assert over is not None
    assert over.words >= 80


def test_a_caption_stays_with_what_is_above_it() -> None:
    at = first_break()
    body = text(12)
    for lines in range(1, 14):  # one of them ends the page right above the caption
        above = Paragraph("a", "body", "\u2028".join(f"line {n}" for n in range(lines)))
        caption = Paragraph("c", "body", "A caption", para=ParaSpec(keep_previous=True))
        flow = flow_of(poured(*body[: at - 1], above, caption, *body[at:]))
        for column in flow.columns:
            if column.blocks and flow.paragraphs[column.blocks[0].paragraph].paragraph.id == "c":
                raise AssertionError(f"parted with {lines} lines")


def test_a_chain_of_captions_moves_together() -> None:
    """A heading kept with the next paragraph follows a caption that is kept with the figure above it: all of them
    move."""
    at = first_break()
    body = text(12)
    for lines in range(1, 12):
        above = Paragraph(
            "a", "body", "\u2028".join(f"line {n}" for n in range(lines)), para=ParaSpec(keep_together=True)
        )
        caption = Paragraph("c", "body", "A caption", para=ParaSpec(keep_previous=True, keep_next=True))
        flow = flow_of(poured(*body[: at - 1], above, caption, *body[at:]))
        pages = {name: number for number, column in enumerate(places(flow)) for name in column}
        first = next(p.id for p in body[at:])
        assert pages["a"] == pages["c"], lines
        assert pages["c"] == next(n for n, column in enumerate(places(flow)) if first in column), lines


@settings(max_examples=examples(25), deadline=None)
@given(st.integers(0, 10**6))
def test_going_on_from_an_edit_equals_composing_anew(seed: int) -> None:
    chance = random.Random(seed)
    made: list[Paragraph] = []
    for number, p in enumerate(text(30, seed % 50)):
        made.append(p)
        if chance.random() < 0.3:
            made += figure(f"f{number}", chance.randint(2, 25))
    workspace = poured(*made)
    for _ in range(8):
        story = workspace.job.stories["main"].paragraphs
        p = chance.choice(story)
        match chance.randrange(4):
            case 0:
                workspace.do(
                    do.ReplaceText(
                        "main", do.Place(p.id, 0), do.Place(p.id, len(p.text)), words(chance.randint(1, 90), seed)
                    )
                )
            case 1:
                workspace.do(
                    do.ReplaceText("main", do.Place(p.id, 0), do.Place(p.id, 0), "new\n" * chance.randint(1, 6))
                )
            case 2:
                workspace.do(
                    do.SetParagraphs(
                        "main", p.id, p.id, para=ParaSpec(floats=chance.random() < 0.5, keep_next=chance.random() < 0.5)
                    )
                )
            case 3:
                at = story.index(p)
                last = story[min(at + chance.randint(0, 3), len(story) - 1)]
                workspace.do(do.ReplaceText("main", do.Place(p.id, 0), do.Place(last.id, len(last.text)), ""))
        assert shape(workspace.composition) == shape(Composition(workspace.job))
        placed = [block.paragraph for column in flow_of(workspace).columns for block in column.blocks]
        assert set(placed) == set(range(len(workspace.job.stories["main"].paragraphs)))


def test_pictures_of_a_manuscript_by_themselves_become_figures_where_the_job_has_that_style() -> None:
    small = BytesIO()
    Image.new("L", (8, 8)).save(small, "PNG")
    html = (
        "<p>Words before it.</p><p><img src='data:image/png;base64,%s'></p><p class='caption'>Knot</p><p>After it.</p>"
    )
    source = read_html(html % b64encode(small.getvalue()).decode())
    own = {style.name: style.id for style in book().paragraph_styles.values()}
    uses = {use.name: use.target for use in survey(source, own)}
    assert uses["pictures in separate paragraphs"] == "figure"
    styles = [p.style for p in converted(source, {}, Cleaner(), own).paragraphs]
    assert styles == ["first", "figure", "caption", "body"]
    del own["Figure"]
    assert "figure" not in {use.target for use in survey(source, own)}


def test_a_figure_no_column_can_hold_and_indents_that_leave_the_frame_are_findings() -> None:
    workspace = poured(*figure("f", 90), *text(1))
    found = [one for one in findings_of(workspace.composition) if one.kind == "figure too high"]
    assert [one.page for one in found] == [1], "the text comes before it"
    frame = ParaSpec(indent_first=-20.0)
    rows = [Paragraph(f"i{n}", "body", words(30), para=frame) for n in range(3)]
    hanging = Paragraph("h", "body", words(30), para=ParaSpec(indent_left=20.0, indent_first=-20.0))
    right = Paragraph("r", "first", words(30), para=ParaSpec(indent_right=-9.0))
    tight = Paragraph("t", "quote", words(3), para=ParaSpec(indent_left=200.0, indent_right=200.0))
    workspace = poured(*rows, hanging, right, tight)
    told = [one.text for one in findings_of(workspace.composition) if one.kind == "indent"]
    assert len(told) == 3
    assert told[0].startswith("3 paragraphs in “Body” reach 0.2778 in beyond the left edge of the frame")
    assert told[1].startswith("1 paragraph in “First paragraph” reaches 0.125 in beyond the right edge")
    assert told[2].startswith("1 paragraph in “Quotation” has indents that leave no room")
    assert not [one for one in findings_of(poured(hanging, *text(2)).composition) if one.kind == "indent"]
