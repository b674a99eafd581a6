"""The spec line: what is written is read back, what is typed is said in words, what is not understood changes
nothing."""

from __future__ import annotations

from dataclasses import fields, replace
from typing import Any

import pytest
from hypothesis import given, settings

from lexigon.core.document.cascade import ROOT_STROKE, Cascade, Setting, frame_setting
from lexigon.core.document.model import (
    Box,
    Fill,
    FrameSpec,
    Object,
    Paragraph,
    ParaRule,
    ParaSpec,
    Pose,
    Span,
    Stroke,
    TabStop,
    Text,
    TypeSpec,
    Wrap,
    combined,
)
from lexigon.core.editing.edits import apply_all
from lexigon.core.editing.intents import ChangeFrame, FormatText, Place, PourText, SetParagraphs
from lexigon.core.flow.workspace import Workspace
from lexigon.core.spec.carrying import intents_for_text
from lexigon.core.spec.completion import complete
from lexigon.core.spec.grammar import RULES, Names, read_spec
from lexigon.core.spec.revising import revised
from lexigon.core.spec.sharing import CommonSetting, looks_in, shared_frames, shared_looks
from lexigon.core.spec.writing import write_frame, write_type
from lexigon.core.type.fonts import shipped
from tests.core.helpers import book, words
from tests.core.strategies import ALL_NAMES, JOB, frames, paras, types

NAMES = Names.of(book(), shipped().families)


@pytest.mark.parametrize(
    ("line", "type_", "para"),
    [
        ("12/16", TypeSpec(size=12), ParaSpec(leading=16)),
        (
            "11,5/15 cormorant garamond semibold italic",
            TypeSpec(size=11.5, family="Cormorant Garamond", weight=600, italic=True),
            ParaSpec(leading=15),
        ),
        ("/auto", TypeSpec(), ParaSpec(leading=0.0, leading_times=1.2)),
        ("9/135%", TypeSpec(size=9), ParaSpec(leading=0.0, leading_times=1.35)),
        ("bold italic, centre", TypeSpec(weight=700, italic=True), ParaSpec(align="centre")),
        ("track 50", TypeSpec(tracking=50), ParaSpec()),
        (
            "justified, indent 5mm, last line full",
            TypeSpec(),
            ParaSpec(align="justified", indent_first=72 / 25.4 * 5, last_line="full"),
        ),
        ("colour Marker red 60%, small caps", TypeSpec(swatch="marker", tint=0.6, caps="small"), ParaSpec()),
        (
            "hang 18, hyphens 7/3/4/2",
            TypeSpec(),
            ParaSpec(
                indent_left=18,
                indent_first=-18,
                hyphenate=True,
                hyphen_word=7,
                hyphen_before=3,
                hyphen_after=4,
                hyphen_run=2,
            ),
        ),
        ("tab 40, tab edge leader .", TypeSpec(), ParaSpec(tabs=(TabStop(40), TabStop(None, "right", ". ")))),
        ("looser, no optical margins", TypeSpec(), ParaSpec(looseness=1, optical=False)),
    ],
)
def test_lines_as_designers_write_them(line: str, type_: TypeSpec, para: ParaSpec) -> None:
    found = read_spec(line, NAMES)
    assert not found.unknown
    assert found.type == type_
    assert found.para == para
    assert found.descriptions


def test_a_swatch_alone_is_a_colour_where_nothing_else_can_be_meant() -> None:
    words, frame = replace(NAMES, bare="colour"), replace(NAMES, bare="fill")
    for line in ("Marker red 60%", "bold, marker red 60 %", "Marker red 60%, 12/16"):
        understood = read_spec(line, words)
        assert (understood.type.swatch, understood.type.tint, understood.unknown) == ("marker", 0.6, [])
    assert read_spec("Marker red", frame).frame.fill == Fill("marker")
    assert read_spec("Marker red", NAMES).unknown
    assert read_spec("Marker", words).unknown, "a name is written in full"
    assert [offer.text for offer in complete("bold, mar", 9, words)] == ["Marker red"]
    assert "Marker red" not in [offer.text for offer in complete("mar", 3, NAMES)]


def test_frames() -> None:
    found = read_spec("2 columns, gutter 5mm, insets 3mm, text at middle, wrap both outline 3mm, fit line", NAMES)
    assert not found.unknown
    mm = 72 / 25.4
    assert found.frame == FrameSpec(
        columns=2, gutter=5 * mm, insets=(3 * mm,) * 4, vertical="centre", wrap=Wrap("both", (3 * mm,) * 4, True)
    )
    assert found.changes == {"fit": "line"}


@pytest.mark.parametrize(
    ("former", "present"),
    [
        ("text at head", "text at top"),
        ("text at foot", "text at bottom"),
        ("border sides head foot", "border sides top bottom"),
        ("lean 12", "skew 12"),
        ("mirrored", "flipped"),
        ("not mirrored", "not flipped"),
        ("edge 2 flat caps", "stroke 2 butt caps"),
    ],
)
def test_former_words_are_still_read(former: str, present: str) -> None:
    found, expected = read_spec(former, NAMES), read_spec(present, NAMES)
    assert not found.unknown
    assert not expected.unknown
    assert (found.para, found.frame, found.changes) == (expected.para, expected.frame, expected.changes)


@pytest.mark.parametrize(
    ("line", "bad"),
    [
        ("12/16, wobbly, bold", "wobbly"),
        ("purple monkeys", "purple monkeys"),
        ("colour Aubergine", "colour Aubergine"),
        ("12//16", "12//16"),
        ("indent", "indent"),
    ],
)
def test_what_is_not_understood_is_told_apart(line: str, bad: str) -> None:
    found = read_spec(line, NAMES)
    assert [line[a:b] for a, b in found.unknown] == [bad]


def test_fit_within_limits() -> None:
    found = read_spec("fit text 8 to 14, space at head kept", NAMES)
    assert not found.unknown
    assert found.changes == {"fit": "size", "fit_sizes": (8.0, 14.0)}
    assert found.para == ParaSpec(keep_space=True)


def test_every_rule_reads_its_own_example() -> None:
    for rule in RULES:
        found = read_spec(rule.example, NAMES)
        assert not found.unknown, rule.example
        assert found.descriptions, rule.example


def test_regular_polygons_fill_their_box() -> None:
    for sides in (3, 4, 5, 6, 12):
        found = read_spec(f"polygon {sides}", NAMES)
        outline = found.changes["outline"]
        assert len(outline.points) == sides
        for axis in (0, 1):
            assert (min(p[axis] for p in outline.points), max(p[axis] for p in outline.points)) == (0, 1)
        frame = Object("f", outline=outline)
        assert f"polygon {sides}" in write_frame(frame, frame_setting(book(), frame), NAMES)


def test_dashes_may_stand_behind_the_colour_and_a_box_is_a_box() -> None:
    found = read_spec("edge 2 Paper dashes 6 4, box", NAMES)
    assert not found.unknown
    assert found.frame.stroke == Stroke(2.0, "paper", 1.0, (6.0, 4.0))
    assert found.changes == {"outline": "box"}
    assert read_spec("rule below 1 Marker red 60% solid", NAMES).para.rule_below.stroke.dash == ()  # type: ignore[union-attr]
    assert read_spec("edge Paper 6 4", NAMES).frame.stroke != found.frame.stroke


def test_what_is_begun_is_offered_whatever_word_of_its_phrase_it_is() -> None:
    for begun, offered in (
        ("cen", "centre"),
        ("lef", "left"),
        ("upri", "upright"),
        ("ell", "ellipse"),
        ("11/15, rig", "right"),
    ):
        assert offered in [offer.text for offer in complete(begun, len(begun), NAMES)]
    for rule in RULES:
        for text in rule.also:
            assert not read_spec(text, NAMES).unknown, text


def test_what_several_have_in_common_stands_in_the_line_and_the_rest_is_told() -> None:
    job = book()
    cascade = Cascade(job)
    story = job.stories["main"]
    story.paragraphs = [
        Paragraph("a", "body", "One marsh tern", para=ParaSpec(align="left")),
        Paragraph(
            "b",
            "body",
            "Two of them",
            (Span(0, 3, type=TypeSpec(italic=True)),),
            ParaSpec(align="left"),
            TypeSpec(size=14),
        ),
    ]

    def of(start: Place, end: Place, whole: bool = False) -> CommonSetting:
        return shared_looks(looks_in(job, cascade, "main", start, end, whole), NAMES)

    both = of(Place("a", 0), Place("b", 0), whole=True)
    face, setting = cascade.type_of(story.paragraphs[0]), cascade.setting(story.paragraphs[0])
    alone = write_type(face, setting, NAMES)
    assert both.various == (f"size {face.size:g}, 14",)
    assert both.line == alone.replace(f"{face.size:g}/{setting.leading:g}", f"/{setting.leading:g}")
    assert of(Place("a", 0), Place("a", 0), whole=True) == CommonSetting(alone)
    assert of(Place("b", 1), Place("b", 2)).line.startswith("14/")
    assert "italic" in of(Place("b", 1), Place("b", 2)).line
    assert of(Place("b", 0), Place("b", 8)).various == ("cut italic, regular",)
    assert "size" not in " ".join(of(Place("b", 0), Place("b", 8)).various)
    # Done as it stands, edited in place, it leaves apart what differs.
    wider = revised(read_spec(both.line, NAMES), read_spec(both.line + ", track 20", NAMES), NAMES)
    assert wider.type == TypeSpec(tracking=20)
    assert wider.para == ParaSpec()


def test_several_frames_share_a_line() -> None:
    job = book()
    both = [
        Object(name, content=Text(), make=FrameSpec(2, 12.0, vertical=vertical))
        for name, vertical in (("f", None), ("g", "centre"))
    ]
    told = shared_frames([(f, frame_setting(job, f)) for f in both], NAMES)
    assert told.line.startswith("2 columns, gutter")
    assert "middle" not in told.line
    assert told.various == ("in part text at middle",)


def test_styles_are_names_as_well() -> None:
    found = read_spec("Section heading, bold", NAMES)
    assert found.paragraph_style == "section"
    assert read_spec("emphasis", NAMES).character_style == "emphasis"


@settings(max_examples=1)
@given(types, paras)
def test_every_value_has_its_phrase(type_: TypeSpec, para: ParaSpec) -> None:
    """The strategies above name every value there is; one without a phrase is not read back below."""
    assert all(getattr(spec, f.name) is not None for spec in (type_, para) for f in fields(spec))


@settings(deadline=None, max_examples=300)
@given(types, paras)
def test_what_is_written_is_read_back(type_: TypeSpec, para: ParaSpec) -> None:
    cascade = Cascade(JOB)
    settled = Paragraph("p", "bare", para=para, type=type_)
    face, setting = cascade.type_of(settled), cascade.setting(settled)
    line = write_type(face, setting, ALL_NAMES)
    found = read_spec(line, ALL_NAMES)
    assert not found.unknown, (line, found.unknown)
    again = Paragraph("p", "bare", para=found.para, type=found.type)
    assert cascade.type_of(again) == face, line
    assert _told(cascade.setting(again)) == _told(setting), line


def _told(setting: Setting) -> Setting:
    """Strokes in a rule style take from it what they leave open; a border that is not there has no sides."""
    return replace(
        setting, rule_above=_inked(setting.rule_above), rule_below=_inked(setting.rule_below), box=_inked(setting.box)
    )


def _inked(drawn: Any) -> Any:
    stroke = drawn.stroke
    return replace(drawn, stroke=Stroke(style=stroke.style) if stroke.style else combined(ROOT_STROKE, stroke))


@settings(deadline=None, max_examples=200)
@given(frames)
def test_a_frame_is_read_back_whole(frame: Object) -> None:
    names = replace(ALL_NAMES, unit="pt")
    line = write_frame(frame, frame_setting(JOB, frame), names)
    found = read_spec(line, names)
    assert not found.unknown, (line, found.unknown)
    assert frame.rect
    bare = Object("f", place=Pose(frame.rect), content=Text())
    job = replace(JOB, pages=[replace(JOB.pages[0], objects=(bare,))])
    apply_all(job, ChangeFrame(job.pages[0].id, "f", spec=found.frame, **found.changes).expand(job))
    (again,) = job.pages[0].objects
    assert again.text
    if frame.text and frame.text.fit in ("none", "height"):  # no size is fitted
        frame = frame.showing(fit_sizes=again.text.fit_sizes)
    assert (again.text, again.outline, again.place) == (frame.text, frame.outline, frame.place)
    settled = frame_setting(JOB, frame)
    read = frame_setting(JOB, again)
    if settled.wrap.sides == "none":
        settled = replace(settled, wrap=read.wrap)
    assert replace(read, gutter=0.0) == replace(settled, gutter=0.0), line
    assert read.gutter == pytest.approx(settled.gutter, abs=0.01)


def test_an_edit_of_the_line_changes_only_what_was_edited() -> None:
    before = "11/15 EB Garamond, justified, indent 15pt, small caps, tab 40 right, tab 80 left, grid"
    after = "11/16 EB Garamond bold, justified, indent 15pt, tab 80 left, grid"
    change = revised(read_spec(before, NAMES), read_spec(after, NAMES), NAMES)
    assert change.type == TypeSpec(weight=700, caps="none")
    assert change.para == ParaSpec(leading=16.0, tabs=(TabStop(80.0),))
    assert change.reset == {"caps"}
    assert "no longer small caps" in change.descriptions
    assert not any("indent" in said or "justified" in said for said in change.descriptions)
    frame = revised(read_spec("3 columns, wrap both, rotate 15", NAMES), read_spec("2 columns", NAMES), NAMES)
    assert frame.frame == FrameSpec(columns=2, wrap=Wrap("none"))
    assert frame.changes == {"rotation": 0.0}
    same = revised(read_spec(before, NAMES), read_spec(before, NAMES), NAMES)
    assert same.nothing


def test_a_part_leaves_the_rest_as_it_is() -> None:
    """``padding`` does not take the shading away, a rule's colour not its weight, though paragraphs differ in both."""
    workspace = Workspace(book())
    ruled = ParaRule(Stroke(2.0, "black"), 20.0)
    paras_ = [
        ParaSpec(box=Box(Fill("marker", 0.2)), rule_above=ruled),
        ParaSpec(box=Box(Fill("black", 0.1)), rule_above=ruled),
    ]
    workspace.do(
        PourText("main", tuple(Paragraph(f"p{n}", "body", words(4), para=para) for n, para in enumerate(paras_)))
    )
    line = read_spec("padding 3, rule above Marker red", NAMES)
    workspace.do(
        *intents_for_text(workspace.job, workspace.composition.cascade, line, "main", Place("p0", 0), Place("p1", 0))
    )
    made = [p.para for p in workspace.job.stories["main"].paragraphs]
    assert [p.box for p in made if p] == [
        Box(Fill("marker", 0.2), padding=(3.0,) * 4),
        Box(Fill("black", 0.1), padding=(3.0,) * 4),
    ]
    assert {p.rule_above for p in made if p} == {ParaRule(Stroke(2.0, "marker", 1.0), 20.0)}


def test_what_the_style_says_anyway_is_no_local_setting() -> None:
    workspace = Workspace(book())
    workspace.do(PourText("main", (Paragraph("p", "body", words(8)),)))
    size = workspace.composition.cascade.type_of(workspace.job.stories["main"].paragraphs[0]).size
    workspace.do(SetParagraphs("main", "p", "p", type=TypeSpec(size=18.0, italic=True)))
    workspace.do(SetParagraphs("main", "p", "p", type=TypeSpec(size=size)))
    assert workspace.job.stories["main"].paragraphs[0].type == TypeSpec(italic=True)
    workspace.do(FormatText("main", Place("p", 2), Place("p", 8), TypeSpec(weight=700)))
    workspace.do(FormatText("main", Place("p", 0), Place("p", 9), TypeSpec(weight=400)))
    assert workspace.job.stories["main"].paragraphs[0].spans == ()


def test_rule_styles_draw_edges_borders_and_rules() -> None:
    names = Names(rule_styles=(("Hairline", "h"),))
    found = read_spec("edge Hairline, rule above hairline, border Hairline, column rule Hairline", names)
    assert not found.unknown
    stroke = Stroke(style="h")
    assert found.frame == FrameSpec(stroke=stroke, column_rule=stroke)
    assert found.para.rule_above is not None
    assert found.para.rule_above.stroke == stroke
    assert found.para.box is not None
    assert found.para.box.stroke == stroke


def test_completion_knows_names_and_phrases() -> None:
    assert complete("12/16 cor", 9, NAMES)[0].text == "Cormorant Garamond"
    assert any(o.text == "justified" for o in complete("12, jus", 7, NAMES))
    assert any(o.text == "Section heading" for o in complete("sec", 3, NAMES))
    assert any(o.text == "Hairline" for o in complete("bold, rule above 0.5 hai", 24, ALL_NAMES))
    offer = next(o for o in complete("colour mar", 10, NAMES) if "Marker" in o.text)
    assert "colour mar"[: offer.start] + offer.text == "colour Marker red"


def test_plus_one_makes_each_size_larger() -> None:
    workspace = Workspace(book())
    text = words(30)
    workspace.do(PourText("main", (Paragraph("p", "body", text, (Span(5, 20, type=TypeSpec(size=18.0)),)),)))
    cascade = workspace.composition.cascade
    understood = read_spec("+1", NAMES)
    workspace.do(*intents_for_text(workspace.job, cascade, understood, "main", Place("p", 0), Place("p", 0)))
    p = workspace.job.stories["main"].paragraphs[0]
    assert p.type == TypeSpec(size=12.0)
    assert p.spans[0].type == TypeSpec(size=19.0)
    workspace.do(
        *intents_for_text(workspace.job, cascade, read_spec("-2 italic", NAMES), "main", Place("p", 0), Place("p", 10))
    )
    sizes = [
        cascade.type_of(workspace.job.stories["main"].paragraphs[0], s).size
        for s in workspace.job.stories["main"].paragraphs[0].spans
    ]
    assert sizes == [10.0, 17.0, 19.0]


def test_the_documentation_is_the_grammars_own() -> None:
    """docs/spec-line.md is made by ``python -m tools.spec_line``."""
    from tools.spec_line import TARGET, page

    assert TARGET.read_text("utf-8") == page()
