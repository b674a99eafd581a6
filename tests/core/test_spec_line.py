"""The spec line: what is written is read back, what is typed is said in words, what is not understood changes nothing."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.flow.desk import Desk
from lexigon.core.job.cascade import Cascade, frame_setting
from lexigon.core.job.intents import Place, PourText
from lexigon.core.job.model import Frame, FrameSpec, Paragraph, ParaSpec, Span, Stroke, TabStop, TypeSpec, Wrap
from lexigon.core.type.fonts import shipped
from lexigon.core.type.spec.carrying import intents_for_text
from lexigon.core.type.spec.completion import complete
from lexigon.core.type.spec.grammar import RULES, Names, read_spec
from lexigon.core.type.spec.writing import write_frame, write_type
from tests.core.helpers import book, words

NAMES = Names.of(book(), shipped().families)
SWATCHES = {key: name for name, key in NAMES.swatches}


@pytest.mark.parametrize(
    ("line", "type_", "para"),
    [
        ("12/16", TypeSpec(size=12), ParaSpec(leading=16)),
        ("11,5/15 cormorant garamond semibold italic", TypeSpec(size=11.5, family="Cormorant Garamond", weight=600, italic=True), ParaSpec(leading=15)),
        ("/auto", TypeSpec(), ParaSpec(leading=0.0)),
        ("bold italic, centre", TypeSpec(weight=700, italic=True), ParaSpec(align="centre")),
        ("track 50", TypeSpec(tracking=50), ParaSpec()),
        ("justified, indent 5mm, last line full", TypeSpec(), ParaSpec(align="justified", indent_first=72 / 25.4 * 5, last_line="full")),
        ("colour Marker red 60%, small caps", TypeSpec(swatch="marker", tint=0.6, caps="small"), ParaSpec()),
        ("hang 18, hyphens 7/3/4/2", TypeSpec(), ParaSpec(indent_left=18, indent_first=-18, hyphenate=True, hyphen_word=7, hyphen_before=3, hyphen_after=4, hyphen_run=2)),
        ("tab 40, tab edge leader .", TypeSpec(), ParaSpec(tabs=(TabStop(40), TabStop(None, "right", ". ")))),
        ("looser, no optical margins", TypeSpec(), ParaSpec(looseness=1, optical=False)),
    ],
)  # fmt: skip
def test_lines_as_designers_write_them(line: str, type_: TypeSpec, para: ParaSpec) -> None:
    found = read_spec(line, NAMES)
    assert not found.unknown
    assert found.type == type_
    assert found.para == para
    assert found.said


def test_frames() -> None:
    found = read_spec("2 columns, gutter 5mm, insets 3mm, text at middle, wrap both outline 3mm, fit line", NAMES)
    assert not found.unknown
    mm = 72 / 25.4
    assert found.frame == FrameSpec(
        columns=2, gutter=5 * mm, insets=(3 * mm,) * 4, vertical="centre", wrap=Wrap("both", (3 * mm,) * 4, True)
    )
    assert found.changes == {"fit": "line"}


@pytest.mark.parametrize(
    ("line", "bad"),
    [("12/16, wobbly, bold", "wobbly"), ("purple monkeys", "purple monkeys"), ("colour Aubergine", "colour Aubergine"), ("12//16", "12//16"), ("indent", "indent")],
)  # fmt: skip
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
        found = read_spec(rule.shown, NAMES)
        assert not found.unknown, rule.shown
        assert found.said, rule.shown


def test_regular_polygons_fill_their_box() -> None:
    for sides in (3, 4, 5, 6, 12):
        found = read_spec(f"polygon {sides}", NAMES)
        outline = found.changes["outline"]
        assert len(outline.points) == sides
        for axis in (0, 1):
            assert (min(p[axis] for p in outline.points), max(p[axis] for p in outline.points)) == (0, 1)
        frame = Frame("f", outline=outline)
        assert f"polygon {sides}" in write_frame(frame, frame_setting(book(), frame), SWATCHES, "pt")


def test_styles_are_names_as_well() -> None:
    found = read_spec("Section heading, bold", NAMES)
    assert found.paragraph_style == "section"
    assert read_spec("emphasis", NAMES).character_style == "emphasis"


types = st.builds(
    TypeSpec, family=st.sampled_from(sorted(shipped().families)), size=st.sampled_from([7.5, 11.0, 48.0]), weight=st.sampled_from([400, 600, 650, 700]),
    italic=st.booleans(), tracking=st.sampled_from([0.0, -10.0, 45.5]), caps=st.sampled_from(["none", "upper", "small", "all small", "reduced", "title", "lower"]),
    figures=st.sampled_from(["default", "oldstyle", "tabular", "tabular oldstyle"]), shift=st.sampled_from([0.0, 2.0, -1.5]),
    scale_x=st.sampled_from([1.0, 0.95]), position=st.sampled_from(["normal", "superior"]), features=st.sampled_from([(), ("swsh",), ("salt=2", "dlig")]),
    underline=st.booleans(), no_break=st.booleans(), swatch=st.sampled_from(["black", "marker"]), tint=st.sampled_from([1.0, 0.4]),
)  # fmt: skip
paras = st.builds(
    ParaSpec, align=st.sampled_from(["left", "centre", "right", "justified"]), leading=st.sampled_from([15.0, 21.5]), indent_first=st.sampled_from([0.0, 15.0, -18.0]),
    indent_left=st.sampled_from([0.0, 18.0]), indent_right=st.sampled_from([0.0, 9.0]), space_before=st.sampled_from([0.0, 7.5]), looseness=st.sampled_from([0, 1, -1]),
    optical=st.booleans(), drop_lines=st.sampled_from([0, 3]), drop_chars=st.sampled_from([1, 2]), tabs=st.sampled_from([(), (TabStop(40.0, "right"), TabStop(None, "right", ". "))]),
    span=st.booleans(),
)  # fmt: skip


@settings(deadline=None)
@given(types, paras)
def test_what_is_written_is_read_back(type_: TypeSpec, para: ParaSpec) -> None:
    job = book()
    cascade = Cascade(job)
    paragraph = Paragraph("p", "body", para=para, type=type_)
    face, setting = cascade.face(paragraph), cascade.setting(paragraph)
    line = write_type(face, setting, SWATCHES)
    found = read_spec(line, NAMES)
    assert not found.unknown, (line, found.unknown)
    again = Paragraph("p", "bare", para=found.para, type=found.type)
    plain = book()
    plain.paragraph_styles.clear()
    other = Cascade(plain)
    assert write_type(other.face(again), other.setting(again), SWATCHES) == line


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


def test_a_frame_is_read_back() -> None:
    job = book()
    frame = Frame(
        "f",
        columns=3,
        gutter=12.0,
        insets=(3.0, 4.0, 5.0, 6.0),
        vertical="bottom",
        wrap=Wrap("left", (6.0,) * 4, True),
        rotation=15.0,
        fit="size",
    )
    found = read_spec(write_frame(frame, frame_setting(job, frame), SWATCHES, "pt"), Names(unit="pt"))
    assert not found.unknown
    assert found.frame == FrameSpec(
        columns=3, gutter=12.0, insets=(3.0, 4.0, 5.0, 6.0), vertical="bottom", wrap=Wrap("left", (6.0,) * 4, True)
    )
    assert found.changes == {"rotation": 15.0, "fit": "size"}


def test_completion_knows_names_and_phrases() -> None:
    assert complete("12/16 cor", 9, NAMES)[0].text == "Cormorant Garamond"
    assert any(o.text == "justified" for o in complete("12, jus", 7, NAMES))
    assert any(o.text == "Section heading" for o in complete("sec", 3, NAMES))
    offer = next(o for o in complete("colour mar", 10, NAMES) if "Marker" in o.text)
    assert "colour mar"[: offer.start] + offer.text == "colour Marker red"


def test_plus_one_makes_each_size_larger() -> None:
    desk = Desk(book())
    text = words(30)
    desk.do(PourText("main", (Paragraph("p", "body", text, (Span(5, 20, type=TypeSpec(size=18.0)),)),)))
    cascade = desk.composition.cascade
    understood = read_spec("+1", NAMES)
    desk.do(*intents_for_text(desk.job, cascade, understood, "main", Place("p", 0), Place("p", 0)))
    p = desk.job.stories["main"].paragraphs[0]
    assert p.type == TypeSpec(size=12.0)
    assert p.spans[0].type == TypeSpec(size=19.0)
    desk.do(*intents_for_text(desk.job, cascade, read_spec("-2 italic", NAMES), "main", Place("p", 0), Place("p", 10)))
    sizes = [
        cascade.face(desk.job.stories["main"].paragraphs[0], s).size
        for s in desk.job.stories["main"].paragraphs[0].spans
    ]
    assert sizes == [10.0, 17.0, 19.0]


def test_the_documentation_is_the_grammars_own() -> None:
    """docs/spec-line.md is made by ``python -m tools.spec_line``."""
    from tools.spec_line import TARGET, page

    assert TARGET.read_text("utf-8") == page()
