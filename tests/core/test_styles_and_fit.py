"""Styles and their uses, text made to fit, frames made for text, a change of styles shown first where one looks."""

from __future__ import annotations

import os
import subprocess
import sys
from dataclasses import replace

import pytest

from lexigon.core.document.cascade import Cascade, frame_setting
from lexigon.core.document.model import (
    Box,
    FrameSpec,
    ListMark,
    Outline,
    Paragraph,
    ParaRule,
    ParaSpec,
    Span,
    Stroke,
    TypeSpec,
    Wrap,
)
from lexigon.core.editing.edits import apply_all
from lexigon.core.editing.intents import (
    AddPages,
    AddShape,
    AddTextFrame,
    ApplyMaster,
    BringStyles,
    ChangeFrame,
    CutStory,
    Intent,
    LinkFrames,
    Place,
    PourText,
    PutStyle,
    RedefineStyle,
    RemoveStyle,
    ReplaceText,
    SetParagraphs,
)
from lexigon.core.editing.intents.styles.changing import uses_of
from lexigon.core.errors import FormError, LexigonError
from lexigon.core.fileformat.jobs import job_from_plain
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.fit_actions import fit_once, fitted_text, tracked_story
from lexigon.core.flow.story_growth import growing
from lexigon.core.flow.texture import PlacedLine, marks_of, numbers_of, remedies_for
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from lexigon.core.paint.page import FrameArt
from lexigon.core.paint.texture import placed_columns
from lexigon.core.type.paragraph import merit
from tests.core.helpers import book, paragraphs, poured, words

WRAPPED = FrameSpec(wrap=Wrap("both", (6.0, 6.0, 6.0, 6.0), outline=True))


def art_of(workspace: Workspace, frame_id: str) -> FrameArt:
    return next(
        f
        for page in range(len(workspace.job.pages))
        for f in Display(workspace.composition).page(page).frames
        if f.frame.id == frame_id
    )


def test_a_change_of_styles_shows_the_pages_in_view_first_and_ends_as_if_composed_at_once() -> None:
    workspace, plain_desk = poured(400, 3), poured(400, 3)
    change = PutStyle("paragraph", "body", type=TypeSpec(size=12.5), para=ParaSpec(leading=18.0))
    near = [20, 21]
    top = next(c for _, c in workspace.composition.columns_on(20) if c.blocks).blocks[0].paragraph
    first = workspace.do(change, near=near)
    assert workspace.pending
    shown = Display(workspace.composition).page(20)
    line = next(line for f in shown.frames if f.frame.main for line in f.lines)
    assert line.paragraph == workspace.job.stories["main"].paragraphs[top].id
    body = next(line for f in shown.frames for line in f.lines if line.runs and line.runs[0].look.spec.size == 12.5)
    assert body
    rest = workspace.finish()
    assert rest is not None
    assert not workspace.pending
    plain_desk.do(change)
    assert len(workspace.job.pages) == len(plain_desk.job.pages)
    for page in (0, 20, len(workspace.job.pages) - 1):
        a, b = (Display(d.composition).page(page) for d in (workspace, plain_desk))
        assert [[(x.start, x.baseline) for x in f.lines] for f in a.frames] == [
            [(x.start, x.baseline) for x in f.lines] for f in b.frames
        ]
    workspace.run([*rest.inverse, *first.inverse])
    assert workspace.job.paragraph_styles["body"].type.size == 11.0


def test_styles_are_made_redefined_and_replaced_when_deleted() -> None:
    workspace = Workspace(book())
    workspace.do(
        PourText(
            "main",
            (
                Paragraph("a", "body", words(9)),
                Paragraph("b", "body", words(5), (Span(0, 4, "strong"),)),
                Paragraph("c", "quote", "x"),
            ),
        )
    )
    workspace.do(PutStyle("paragraph", None, "Caption", "body", type=TypeSpec(size=9.0)))
    caption = next(s for s in workspace.job.paragraph_styles.values() if s.name == "Caption")
    workspace.do(
        SetParagraphs("main", "a", "a", style=caption.id),
        SetParagraphs("main", "a", "a", type=TypeSpec(italic=True), para=ParaSpec(align="centre")),
    )
    workspace.do(RedefineStyle("main", Place("a", 0)))
    made = workspace.job.paragraph_styles[caption.id]
    assert made.type == TypeSpec(size=9.0, italic=True)
    assert made.para.align == "centre"
    assert workspace.job.stories["main"].paragraphs[0].type is None
    before = plain(workspace.job)
    with pytest.raises(LexigonError, match="Every paragraph has a style"):
        workspace.do(RemoveStyle("paragraph", "body"))
    assert uses_of(workspace.job, "paragraph", "body") == [("main", "b", 0)]
    change = workspace.do(RemoveStyle("paragraph", "body", "quote"))
    assert [p.style for p in workspace.job.stories["main"].paragraphs] == [caption.id, "quote", "quote"]
    assert all(s.based_on != "body" and s.next != "body" for s in workspace.job.paragraph_styles.values())
    apply_all(workspace.job, change.inverse)
    assert plain(workspace.job) == before
    workspace = Workspace(workspace.job)
    workspace.do(RemoveStyle("character", "strong"))
    assert workspace.job.stories["main"].paragraphs[1].spans == ()
    with pytest.raises(LexigonError, match="already"):
        workspace.do(PutStyle("paragraph", None, "caption"))


def test_frame_and_rule_styles_are_what_frames_leave_open() -> None:
    workspace = Workspace(book())
    workspace.do(PutStyle("rule", None, "Hairline", stroke=Stroke(0.25, "marker")))
    (rule,) = workspace.job.rule_styles.values()
    workspace.do(
        PutStyle("frame", None, "Sidebar", frame=FrameSpec(columns=2, insets=(6.0,) * 4, stroke=Stroke(style=rule.id)))
    )
    (style,) = workspace.job.frame_styles.values()
    workspace.do(AddTextFrame(workspace.job.pages[0].id, Rect(50, 50, 200, 100), text=words(8)))
    frame = workspace.job.pages[0].frames[-1]
    workspace.do(ChangeFrame(workspace.job.pages[0].id, frame.id, style=style.id))
    setting = frame_setting(workspace.job, workspace.job.pages[0].frames[-1])
    assert (setting.columns, setting.insets, setting.stroke.weight, setting.stroke.swatch) == (
        2,
        (6.0,) * 4,
        0.25,
        "marker",
    )
    workspace.do(ChangeFrame(workspace.job.pages[0].id, frame.id, columns=1))
    assert frame_setting(workspace.job, workspace.job.pages[0].frames[-1]).columns == 1
    workspace.do(ChangeFrame(workspace.job.pages[0].id, frame.id, clear=True))
    assert frame_setting(workspace.job, workspace.job.pages[0].frames[-1]).columns == 2
    workspace.do(RemoveStyle("frame", style.id))
    assert frame_setting(workspace.job, workspace.job.pages[0].frames[-1]).columns == 1


def test_styles_come_from_another_job_with_those_they_are_based_on() -> None:
    other = book()
    other.paragraph_styles["body"] = replace(other.paragraph_styles["body"], type=TypeSpec(family="Alegreya", size=9.0))
    other.paragraph_styles["aside"] = replace(
        other.paragraph_styles["quote"], id="aside", name="Aside", based_on="quote"
    )
    workspace = Workspace(book())
    workspace.do(BringStyles(paragraph=tuple(other.paragraph_styles.values())))
    assert workspace.job.paragraph_styles["aside"].based_on == "quote"
    assert Cascade(workspace.job).type_of(Paragraph("p", "body")).family == "EB Garamond"
    workspace.do(BringStyles(paragraph=tuple(other.paragraph_styles.values()), over=True))
    assert Cascade(workspace.job).type_of(Paragraph("p", "aside")).family == "Alegreya"


@pytest.mark.parametrize("kind", ["line", "size"])
def test_the_largest_size_that_fits_is_found_and_kept(kind: str) -> None:
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    workspace.do(
        AddTextFrame(page, Rect(50, 50, 300, 120), text="A headline of the marsh" if kind == "line" else words(40))
    )
    frame = workspace.job.pages[0].frames[-1]
    workspace.do(ChangeFrame(page, frame.id, fit=kind))  # type: ignore[arg-type]

    def size() -> float:
        art = art_of(workspace, frame.id)
        flow = workspace.composition.flows[frame.story or ""]
        if kind == "line":
            assert len(art.lines) == 1
            right = art.lines[0].runs[-1].x + art.lines[0].runs[-1].width
            assert 350 * 0.995 < right <= 350.001
        else:
            assert not flow.overset
            assert art.lines[-1].baseline > 50 + 120 * 0.7
        return art.lines[0].runs[0].look.size

    before = size()
    paragraph = workspace.job.stories[frame.story or ""].paragraphs[0]
    end = Place(paragraph.id, len(paragraph.text))
    workspace.do(ReplaceText(frame.story or "", end, end, " and of some more words"))
    assert size() < before


def test_one_line_in_a_low_frame_is_as_large_as_its_height_allows() -> None:
    """A line as wide as the frame, higher than it, would not be seen at all."""
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    workspace.do(AddTextFrame(page, Rect(50, 50, 300, 24), text="Knots"))
    frame = workspace.job.pages[0].frames[-1]
    workspace.do(ChangeFrame(page, frame.id, fit="line"))
    (line,) = art_of(workspace, frame.id).lines
    look = line.runs[0].look
    height = (look.cut.face.ascent + look.cut.face.descent) * look.size / look.cut.face.upem
    assert 24 * 0.99 < height <= 24.02


def test_a_frame_grows_with_its_text_and_the_size_is_in_the_undo() -> None:
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    workspace.do(AddTextFrame(page, Rect(50, 50, 200, 40), text=words(60)))
    frame = workspace.job.pages[0].frames[-1]
    workspace.do(ChangeFrame(page, frame.id, fit="height"))

    def height() -> float:
        rect = workspace.job.pages[0].frames[-1].rect
        assert rect is not None
        last = art_of(workspace, frame.id).lines[-1]
        assert rect.foot == pytest.approx(last.baseline + last.descent, abs=0.01)
        return rect.height

    tall = height()
    paragraph = workspace.job.stories[frame.story or ""].paragraphs[0]
    change = workspace.do(
        ReplaceText(frame.story or "", Place(paragraph.id, 20), Place(paragraph.id, len(paragraph.text)))
    )
    assert height() < tall
    workspace.run(change.inverse)
    assert height() == pytest.approx(tall)


def test_a_text_is_given_the_frames_it_needs_and_cut_in_two() -> None:
    workspace = Workspace(book(facing=True))
    page = workspace.job.pages[0].id
    workspace.do(AddTextFrame(page, Rect(50, 50, 200, 100), text="\n".join(words(60, i) for i in range(6))))
    story = workspace.job.pages[0].frames[-1].story or ""
    workspace.do(growing(workspace.composition, story))
    flow = workspace.composition.flows[story]
    assert not flow.overset
    assert flow.filled[-1].columns[-1].blocks, "not one frame too many"
    frames = workspace.job.stories[story].frames
    whole = [p.text for p in workspace.job.stories[story].paragraphs]
    at = workspace.composition.begin_of(story, frames[2])
    workspace.do(CutStory(story, at, frames[2]))
    second = next(s for s in workspace.job.stories.values() if s.frames == frames[2:])
    one, two = workspace.job.stories[story].paragraphs, second.paragraphs
    joined = [p.text for p in one] + [p.text for p in two]
    if len(joined) > len(whole):
        joined[len(one) - 1 : len(one) + 1] = [one[-1].text + two[0].text]
    assert joined == whole
    last, into = workspace.job.stories[story].frames[-1], frames[2]
    index, _ = workspace.job.find_frame(into) or (0, None)
    workspace.do(LinkFrames(last, workspace.job.pages[index].id, into))
    assert [p.text for p in workspace.job.stories[story].paragraphs][-1] == whole[-1] or len(frames) > 3


def test_what_stands_empty_is_used_before_pages_are_added() -> None:
    """An empty frame beside the text, one on the next page, the bare page behind that; a page in use ends the
    search."""
    workspace = Workspace(book(facing=False))
    workspace.do(AddPages(0, 4))
    first, second, third, fourth = (page.id for page in workspace.job.pages[:4])
    for page in (first, second, third, fourth):
        workspace.do(ApplyMaster(None, (page,)))
    workspace.do(AddTextFrame(first, Rect(50, 50, 200, 100), text="\n".join(words(60, i) for i in range(12))))
    text = workspace.job.pages[0].frames[-1]
    for page, rect in (
        (first, Rect(50, 200, 200, 100)),
        (second, Rect(50, 50, 200, 40)),
        (fourth, Rect(50, 50, 200, 90)),
    ):
        workspace.do(AddTextFrame(page, rect))
    workspace.do(AddTextFrame(fourth, Rect(50, 300, 200, 90), text="In use"))
    beside, next_page, held, _ = (page.frames for page in workspace.job.pages[:4])
    count = len(workspace.job.pages)
    workspace.do(growing(workspace.composition, text.story or ""))
    story = workspace.job.stories[text.story or ""]
    assert not workspace.composition.flows[story.id].overset
    assert story.frames[:3] == [text.id, beside[-1].id, next_page[-1].id]
    assert held == ()
    assert workspace.job.find_frame(story.frames[3])[0] == 2  # type: ignore[index]
    assert workspace.job.pages[2].frames[0].rect == text.rect
    assert story.frames[4] == workspace.job.pages[3].frames[0].id, "an empty frame, on a page that is in use otherwise"
    made = len(workspace.job.pages) - count
    assert made == len(story.frames) - 5 > 0
    assert [workspace.job.find_frame(f)[0] for f in story.frames[5:]] == list(range(4, 4 + made))  # type: ignore[index]
    with pytest.raises(LexigonError, match="Nothing of the story is overset"):
        growing(workspace.composition, story.id)


# Texture


def line(x: list[tuple[float, float]], y: float, **more: object) -> PlacedLine:
    """A line of words at given left and right edges, made by hand."""
    from lexigon.core.type.fonts import shipped
    from lexigon.core.type.line import LineRun, Part
    from lexigon.core.type.runs import look_for

    look = look_for(shipped(), Cascade(book()).type_of(Paragraph("p", "body")))
    parts: list[Part] = []
    for number, (a, b) in enumerate(x):
        if number:
            parts.append(Part(" ", a - x[number - 1][1], True))
        parts.append(Part("word", b - a, False))
    run = LineRun(look, x[0][0], x[-1][1] - x[0][0], 0, 4, "word", 0.0, tuple(parts), False)
    values = {"last": False, "first": False, "ratio": 0.0, "stretches": True, **more}
    return PlacedLine(
        "p", 0, x=x[0][0], baseline=y, ascent=8.0, descent=3.0, width=200.0, size=11.0, runs=(run,), **values
    )  # type: ignore[arg-type]


def test_rivers_lakes_and_ladders_in_lines_made_by_hand() -> None:
    river = [line([(0, 50 + n), (54 + n, 200)], 15.0 * n) for n in range(4)]
    (mark,) = [m for m in marks_of([river]) if m.kind == "river"]
    assert mark.value == 4
    assert len(mark.boxes) == 4
    assert not [m for m in marks_of([river[:2]]) if m.kind == "river"], "two lines are no river"
    for shift, found in ((1.9, 1), (2.1, 0)):  # of gaps 4 pt wide more than a half overlaps, or less
        drifting = [line([(0, 50 + shift * n), (54 + shift * n, 200)], 15.0 * n) for n in range(4)]
        assert len([m for m in marks_of([drifting]) if m.kind == "river"]) == found, shift
    apart = [line([(0, 50 + 30 * n), (54 + 30 * n, 200)], 15.0 * n) for n in range(4)]
    assert not [m for m in marks_of([apart]) if m.kind == "river"]
    lake = marks_of([[line([(0, 50), (62, 200)], 0.0)]])
    assert [m.kind for m in lake] == ["lake"]
    assert lake[0].boxes[0][2] == pytest.approx(12)
    short = marks_of([[line([(0, 20)], 0.0, last=True, stretches=False)]])
    assert [m.kind for m in short] == ["short"]
    lone = marks_of([[line([(0, 60)], 0.0, last=True, stretches=False)]])
    assert [m.kind for m in lone] == ["lone word"]
    loose = marks_of([[line([(0, 50), (54, 200)], 0.0, ratio=1.4), line([(0, 50), (53, 200)], 15.0, ratio=-0.9)]])
    assert [m.kind for m in loose] == ["loose", "tight"]


def test_texture_of_a_page_and_remedies_that_help() -> None:
    workspace = Workspace(book(width=300.0))
    workspace.do(PourText("main", paragraphs(30, 8)))
    kinds = {m.kind for page in range(4) for m in marks_of(placed_columns(workspace.composition, page))}
    assert {"loose", "river"} & kinds
    numbers = numbers_of(workspace.composition.flows["main"])
    assert numbers.lines > 100
    assert 0 < numbers.mean < 2
    flow = workspace.composition.flows["main"]
    helped = 0
    for index, found in enumerate(flow.paragraphs):
        if len(found.shown.paragraph.text) < 200:
            continue
        now, offers = remedies_for(flow, index, 192.0)
        for remedy in offers:
            assert (remedy.merit.loosest, remedy.merit.mean) < (now.loosest, now.mean)
            helped += 1
    assert helped


def test_a_remedy_keeps_its_word_beside_an_obstacle_and_behind_an_initial() -> None:
    """What was promised is what the page then has: tried at the very widths the lines have there."""
    workspace = Workspace(book(width=300.0))
    opening = [replace(p, para=ParaSpec(drop_lines=3)) if n == 0 else p for n, p in enumerate(paragraphs(12, 8))]
    workspace.do(
        PourText("main", tuple(opening)),
        AddShape(workspace.job.pages[0].id, Rect(130, 120, 90, 160), Outline(), WRAPPED),
    )
    flow = workspace.composition.flows["main"]
    measures = {b.paragraph: b.measure for c in flow.columns[:1] for b in c.blocks if b.first_line == b.base == 0}
    assert any(isinstance(measure, tuple) for measure in measures.values())
    kept = 0
    for index, measure in measures.items():
        p = workspace.job.stories["main"].paragraphs[index]
        for remedy in remedies_for(flow, index, measure)[1]:
            change = workspace.do(SetParagraphs("main", p.id, p.id, para=remedy.para, type=remedy.type))
            flow = workspace.composition.flows["main"]
            block = next(b for c in flow.columns for b in c.blocks if b.paragraph == index)
            if block.measure == measure:
                assert merit(flow.lines(index, block.measure)) == remedy.merit
                kept += 1
            workspace.run(change.inverse)
            flow = workspace.composition.flows["main"]
    assert kept >= 3


def test_a_rule_style_that_goes_is_replaced_wherever_it_draws() -> None:
    workspace = Workspace(book())
    for name in ("Hairline", "Heavy"):
        workspace.do(PutStyle("rule", None, name, stroke=Stroke(0.25 if name == "Hairline" else 2.0)))
    hair, heavy = workspace.job.rule_styles
    drawn = Stroke(style=hair)
    workspace.do(PutStyle("frame", None, "Boxed", frame=FrameSpec(stroke=drawn)))
    workspace.do(PutStyle("paragraph", None, "Ruled", "body", para=ParaSpec(rule_above=ParaRule(drawn, 14.0))))
    first = workspace.job.stories["main"].paragraphs[0].id
    workspace.do(SetParagraphs("main", first, first, para=ParaSpec(box=Box(stroke=drawn))))
    ruled = next(key for key, style in workspace.job.paragraph_styles.items() if style.name == "Ruled")
    (boxed,) = workspace.job.frame_styles
    assert uses_of(workspace.job, "rule", hair) == [
        ("style:paragraph", ruled, 0),
        ("style:frame", boxed, 0),
        ("main", first, 0),
    ]
    before = plain(workspace.job)
    change = workspace.do(RemoveStyle("rule", hair, heavy))
    assert hair not in str(plain(workspace.job))
    assert str(plain(workspace.job)).count(heavy) >= 4
    apply_all(workspace.job, change.inverse)
    assert plain(workspace.job) == before


def test_a_character_style_that_goes_is_replaced_in_initials_and_marks_too() -> None:
    workspace = Workspace(book())
    workspace.do(
        PutStyle("character", None, "Red", type=TypeSpec(italic=True)),
        PutStyle("character", None, "Bold", type=TypeSpec(weight=700)),
    )
    red, bold = (
        next(k for k, s in workspace.job.character_styles.items() if s.name == name) for name in ("Red", "Bold")
    )
    workspace.do(PutStyle("paragraph", None, "Opening", "body", para=ParaSpec(drop_lines=3, drop_style=red)))
    first = workspace.job.stories["main"].paragraphs[0].id
    workspace.do(SetParagraphs("main", first, first, para=ParaSpec(list=ListMark("bullet", "•", style=red))))
    assert [holder for holder, _, _ in uses_of(workspace.job, "character", red)] == ["style:paragraph", "main"]
    change = workspace.do(RemoveStyle("character", red, bold))
    assert red not in str(plain(workspace.job))
    assert len(uses_of(workspace.job, "character", bold)) == 2
    apply_all(workspace.job, change.inverse)
    assert len(uses_of(workspace.job, "character", red)) == 2


@pytest.mark.parametrize(
    ("intent", "words"),
    [
        (SetParagraphs("main", "^", "^", para=ParaSpec(rule_above=ParaRule(Stroke(-1.0)))), "0 to 500 pt"),
        (
            SetParagraphs("main", "^", "^", para=ParaSpec(rule_below=ParaRule(Stroke(1.0, dash=(0.0, 0.0))))),
            "lengths of dashes and gaps in turn",
        ),
        (SetParagraphs("main", "^", "^", para=ParaSpec(head_lines=0)), "Lines kept together at the top of a column"),
        (SetParagraphs("main", "^", "^", para=ParaSpec(list=ListMark(level=12))), "levels 1 to 9"),
        (SetParagraphs("main", "^", "^", para=ParaSpec(leading_times=0.0)), "tenth to twenty"),
        (SetParagraphs("main", "^", "^", type=TypeSpec(weight=1200)), "1 to 1,000"),
        (SetParagraphs("main", "^", "^", type=TypeSpec(language='en" onload="')), "A language is named"),
        (PutStyle("rule", None, "Wild", stroke=Stroke(tint=4.0)), "tint"),
    ],
)
def test_settings_nothing_could_be_set_in_are_refused_in_words(intent: Intent, words: str) -> None:
    workspace = Workspace(book())
    before = plain(workspace.job)
    with pytest.raises(FormError, match=words):
        workspace.do(intent)
    assert plain(workspace.job) == before


def test_a_frame_that_no_longer_fits_its_text_sets_it_as_it_was() -> None:
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    workspace.do(AddTextFrame(page, Rect(50, 50, 300, 120), text="A headline"))
    frame = workspace.job.pages[0].frames[-1]
    for kind in ("line", "none"):
        workspace.do(ChangeFrame(page, frame.id, fit=kind))  # type: ignore[arg-type]
    line = art_of(workspace, frame.id).lines[0]
    assert line.runs[0].look.size == 11.0
    assert line.ascent < 12


def test_a_hurried_change_taken_back_at_once_leaves_the_job_as_it_was() -> None:
    workspace = poured(400, 3)
    before = plain(workspace.job)
    change = workspace.do(PutStyle("paragraph", "body", type=TypeSpec(size=14.0)), near=[20])
    assert workspace.pending
    workspace.run(change.inverse)
    assert not workspace.pending
    assert plain(workspace.job) == before


def test_whatever_is_remembered_has_bounds() -> None:
    """Fitting tries dozens of sizes, and every size sets words anew: no table of the core may grow with what is done.

    In a process of its own, where nothing has filled them yet; what is kept for each language, type of the model or
    file that ships is bounded by those."""
    script = """
import importlib, pkgutil, lexigon.core as core
from collections.abc import MutableMapping, MutableSequence, MutableSet
for found in pkgutil.walk_packages(core.__path__, "lexigon.core."):
    module = importlib.import_module(found.name)
    for name, value in vars(module).items():
        if getattr(value, "__module__", found.name) != found.name:
            continue
        if hasattr(value, "cache_info") and value.cache_info().maxsize is None:
            print(f"{found.name}.{name}")
        if isinstance(value, (MutableMapping, MutableSequence, MutableSet)) and not value and not name.startswith("__"):
            print(f"{found.name}.{name}")
"""
    found = {**os.environ, "PYTHONPATH": os.pathsep.join(sys.path)}
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=True, env=found)
    assert {line.removeprefix("lexigon.core.") for line in done.stdout.split()} == {
        "colour.profiles._read",
        "check.pages._off",  # 6,000 pages at most
        "editing.intents.registry._any_intent",  # one value
        "editing.intents.registry.known_intents",
        "document.model.merging._names",
        "fileformat.values._WRITTEN",  # 5,000 objects at most
        "fileformat.values._layout",
        "fileformat.values._parts",
        "fileformat.values.adapter",
        "tables.grid._CACHE",  # 6 tables at most
        "type.engine.engine_version",  # one value
        "type.fonts.shipped",
        "type.hyphenation.hyphenator",
    }


@pytest.mark.parametrize("kind", ["line", "size"])
@pytest.mark.parametrize("height", [20, 25, 40, 60, 100, 140])
def test_text_fitted_once_fits_also_where_its_style_is_on_a_baseline_grid(kind: str, height: float) -> None:
    job = book()
    job.brief = replace(job.brief, grid_start=50.0, grid_step=15.0)
    body = job.paragraph_styles["body"]
    spec = replace(body.para or ParaSpec(), grid=True, space_before=4.0, indent_first=10.0)
    job.paragraph_styles["body"] = replace(body, para=spec)
    workspace = Workspace(job)
    workspace.do(AddTextFrame(job.pages[0].id, Rect(50, 53, 300, height), text="An evening in the open hide"))
    frame = job.pages[0].objects[-1]
    workspace.do(*fit_once(workspace.composition, frame.id, kind))
    story = job.stories[frame.story or ""]
    flow = workspace.composition.flows[story.id]
    assert not flow.overset
    # It is the largest: nothing is left to be gained.
    assert fitted_text(workspace.composition, story).factor(kind, (4.0, 400.0)) < 1.03


def test_tracking_is_tried_on_the_baseline_grid_that_the_text_stays_on() -> None:
    """Off the grid, three lines of 12 points have room in 40; on one of 15 points only two."""
    job = book()
    job.brief = replace(job.brief, grid_start=50.0, grid_step=15.0)
    body = job.paragraph_styles["body"]
    job.paragraph_styles["body"] = replace(
        body, para=replace(body.para or ParaSpec(), grid=True, leading=12.0), type=TypeSpec(size=10.0)
    )
    workspace = Workspace(job)
    words = "An evening in the open hide " * 3
    workspace.do(AddTextFrame(job.pages[0].id, Rect(50, 50, 150, 40), text=words.strip()))
    story = job.stories[job.pages[0].objects[-1].story or ""]
    text = fitted_text(workspace.composition, story)
    assert text.grid == workspace.composition.flows[story.id].grid
    assert not text.flow(text.cascade).overset
    assert text.flow(text.cascade, text.grid).overset
    for by in (0.0, -30.0, 50.0):
        tracked = Workspace(job_from_plain(plain(job)))
        tracked.do(*tracked_story(story, tracked.composition.cascade, by))
        assert text.fits_tracked(by) == (not tracked.composition.flows[story.id].overset)
