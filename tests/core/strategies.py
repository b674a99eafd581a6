"""Settings for property tests: every value there is, each other than plain now and then."""

from __future__ import annotations

from hypothesis import strategies as st

from lexigon.core.document.model import (
    Box,
    Fill,
    FrameSpec,
    ListMark,
    Object,
    Outline,
    ParaRule,
    ParaSpec,
    Pose,
    RuleStyle,
    Shadow,
    Stroke,
    TabStop,
    Text,
    TypeSpec,
    Wrap,
)
from lexigon.core.geometry import Rect, regular_polygon
from lexigon.core.path.shapes import star_polygon
from lexigon.core.spec.grammar import Names
from lexigon.core.type.fonts import shipped
from tests.core.helpers import book


def some(*values: object) -> st.SearchStrategy[object]:
    return st.sampled_from(values)


JOB = book()
JOB.rule_styles["hair"] = RuleStyle("hair", "Hairline", None, Stroke(0.25))
ALL_NAMES = Names.of(JOB, shipped().families)
STROKES = some(
    Stroke(0.5, "black", 1.0, ()),
    Stroke(2.0, "marker", 0.4, ()),
    Stroke(1.0, "black", 1.0, (3.0, 2.0)),
    Stroke(style="hair"),
)
FULL = Stroke(0.5, "black", 1.0, ())
DRAWN = (
    Stroke(1.5, "black", 1.0, (0.0, 4.0), cap="round", align="inside"),
    Stroke(1.0, "marker", 0.5, (), join="bevel", align="outside"),
    Stroke(0.5, "black", 1.0, (2.0, 1.0), cap="square", begin="dot", end="arrow"),
)
RULES_DRAWN = st.builds(
    ParaRule,
    stroke=STROKES,
    offset=some(14.0, -3.5),
    across=some("column", "text"),
    indent_left=some(0.0, 6.0),
    indent_right=some(0.0, 9.0),
)
BOXES = st.builds(
    Box,
    fill=some(Fill("marker", 0.15), Fill("black", 1.0)),
    stroke=STROKES,
    padding=some((0.0,) * 4, (3.0,) * 4, (1.0, 2.0, 3.0, 4.0)),
    sides=some(("head", "right", "foot", "left"), ("head", "foot")),
)
MARKS = st.builds(
    ListMark,
    kind=st.just("number"),
    form=some("#.", "(#)", "#1.#2", "§ #", "No, #"),
    level=some(1, 3),
    numbers=some("1", "i", "I", "a", "A"),
    start=some(None, 5),
    continued=st.booleans(),
    style=some(None, "emphasis"),
    series=some("", "Figures", "Tide tables"),
    gap=some("tab", "space"),
) | st.builds(ListMark, form=some("•", "–", "* *"), level=some(1, 2), style=some(None, "emphasis"))
TABS = st.lists(
    st.builds(
        TabStop, at=some(40.0, 12.5, None), align=some("left", "right", "centre"), leader=some("", ". ", "-", "· · ")
    )
    | st.builds(TabStop, at=some(60.0), align=st.just("decimal"), decimal=some(".", ",")),
    max_size=3,
).map(tuple)
types = st.builds(
    TypeSpec,
    family=st.sampled_from(sorted(shipped().families)),
    size=some(7.5, 11.0, 48.0),
    weight=some(400, 600, 650, 700),
    italic=st.booleans(),
    tracking=some(0.0, -10.0, 45.5),
    caps=some("none", "upper", "small", "all small", "reduced", "title", "lower"),
    figures=some("default", "oldstyle", "tabular", "tabular oldstyle"),
    shift=some(0.0, 2.0, -1.5),
    scale_x=some(1.0, 0.95),
    scale_y=some(1.0, 1.1),
    position=some("normal", "superior", "inferior"),
    features=some((), ("swsh",), ("salt=2", "dlig")),
    underline=st.just(True),
    underline_weight=some(0.0, 0.5),
    underline_offset=some(0.0, 2.0, -1.0),
    strike=st.just(True),
    strike_weight=some(0.0, 1.5),
    strike_offset=some(0.0, 3.0),
    no_break=st.booleans(),
    swatch=some("black", "marker"),
    tint=some(1.0, 0.4),
    language=some("en-GB", "de-DE", "zh-Hans-CN", "la"),
)
paras = st.builds(
    ParaSpec,
    align=some("left", "centre", "right", "justified"),
    last_line=some("left", "centre", "right", "full"),
    leading=some(0.0, 15.0, 21.5),
    leading_times=some(1.2, 1.35),
    indent_first=some(0.0, 15.0, -18.0),
    indent_left=some(0.0, 18.0),
    indent_right=some(0.0, 9.0),
    space_before=some(0.0, 7.5),
    space_after=some(0.0, -2.0),
    hyphenate=st.just(True),
    hyphen_word=some(6, 5),
    hyphen_before=some(3, 2),
    hyphen_after=some(3, 4),
    hyphen_run=some(3, 0),
    breaking=some("optimum", "first fit"),
    keep_next=st.booleans(),
    keep_together=st.booleans(),
    foot_lines=some(2, 4),
    head_lines=some(2, 3),
    start=some("anywhere", "column", "page", "recto", "verso"),
    grid=some(False, True, "first"),
    looseness=some(0, 1, -2),
    hyphen_capitals=st.booleans(),
    hyphen_names=st.booleans(),
    hyphen_last=st.booleans(),
    hyphen_column=some(True, False, "leaf"),
    last_least=some(0.0, 15.0),
    letter_fit=some(0.01, 0.03),
    glyph_fit=some(0.02, 0.0),
    optical=st.booleans(),
    tabs=TABS,
    tab_every=some(36.0, 20.0),
    drop_lines=some(2, 3),
    drop_chars=some(1, 2),
    drop_style=some("", "emphasis"),
    drop_gap=some(3.0, -1.0),
    drop_shape=st.booleans(),
    rule_above=RULES_DRAWN,
    rule_below=RULES_DRAWN,
    box=BOXES,
    list=MARKS,
    span=st.booleans(),
    split=some(1, 3),
    keep_space=st.booleans(),
    at_foot=st.booleans(),
    even_feet=st.just(True),
    closing_lines=some(1, 9),
    keep_previous=st.booleans(),
    floats=st.booleans(),
)
MM = 72 / 25.4
makes = st.builds(
    FrameSpec,
    columns=some(2, 3),
    gutter=some(12.0, 5 * MM),
    column_rule=some(FULL, Stroke(1.0, "marker", 0.4, ())),
    balanced=st.booleans(),
    insets=some((0.0,) * 4, (3.0, 4.0, 5.0, 6.0), (9.0,) * 4),
    vertical=some("top", "centre", "bottom"),
    first=some("ascent", "capital", "x-height", "leading", "fixed"),
    first_at=some(0.0, 14.4),
    fill=some(Fill(), Fill("marker", 0.5)),
    stroke=some(FULL, Stroke(2.0, "marker", 1.0, (3.0, 2.0)), *DRAWN),
    passes=st.booleans(),
    wrap=st.builds(
        Wrap,
        sides=some("none", "both", "left", "right", "largest", "jump"),
        offsets=some((0.0,) * 4, (6.0,) * 4, (1.0, 2.0, 3.0, 4.0)),
        outline=st.booleans(),
    ),
    stretch=st.just(12.0),
    overprint=st.booleans(),
    opacity=some(1.0, 0.35),
    soft_edge=some(0.0, 4.0, 12.5),
    blend=some("normal", "color-dodge", "multiply"),
    shadow=some(Shadow(2.0, -3.5, 0.0, "black", 1.0), Shadow(0.0, 4.0, 8.0, "marker", 0.3)),
)
frames = st.builds(
    Object,
    id=st.just("f"),
    make=makes,
    content=st.builds(Text, fit=some("none", "line", "size", "height"), fit_sizes=some((4.0, 400.0), (8.0, 14.0))),
    place=st.builds(
        Pose,
        rect=st.just(Rect(60, 70, 120, 90)),
        skew=some(0.0, 12.0),
        mirrored=st.booleans(),
        rotation=st.sampled_from([0.0, 15.0]),
    ),
    outline=some(
        Outline(),
        Outline("polygon", regular_polygon(5)),
        Outline("polygon", star_polygon(7, 0.35)),
        Outline("box", radii=(3.0,) * 4),
        Outline("box", radii=(4.5, 0.0, 3.0, 3.0), corners=("cut", "round", "notch", "hollow")),
    ),
)
