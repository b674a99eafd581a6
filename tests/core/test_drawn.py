"""What is drawn round words, by closed form: lines under and through them, rules, shading, borders, rules between
columns; and words made into shapes, against the glyphs as fontTools draws them."""

from __future__ import annotations

import pytest
from fontTools.pens.boundsPen import BoundsPen
from fontTools.pens.transformPen import TransformPen
from fontTools.ttLib import TTFont

from lexigon.core.colour.colours import BLACK, Colour
from lexigon.core.colour.palette import colour_of
from lexigon.core.document.model import Box, Fill, FrameSpec, Paragraph, ParaRule, ParaSpec, Stroke, TypeSpec
from lexigon.core.editing.intents import (
    AddTextFrame,
    ChangeFrame,
    FormatText,
    LinkFrames,
    Place,
    PourText,
    SetParagraphs,
)
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from lexigon.core.paint.items import Path, Pen
from lexigon.core.paint.outlines import outlined
from lexigon.core.paint.page import FrameArt
from lexigon.core.path.shapes import ellipse_path
from lexigon.core.type.fonts import shipped
from tests.core.helpers import book, words

LEFT, TOP, WIDTH, HEIGHT = 60.0, 80.0, 240.0, 200.0
BARE = ParaSpec(align="left", indent_first=0.0, leading=20.0, grid=False)
FACE = shipped().face("EB Garamond")


def framed(*paragraphs: Paragraph, spec: FrameSpec | None = None) -> Workspace:
    """Paragraphs in a frame of their own; the first baseline stands one ascent below its head."""
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    workspace.do(AddTextFrame(page, Rect(LEFT, TOP, WIDTH, HEIGHT), text="x"))
    frame = workspace.job.pages[0].frames[-1]
    workspace.do(PourText(frame.story or "", paragraphs))
    if spec:
        workspace.do(ChangeFrame(page, frame.id, spec=spec))
    return workspace


MARKER = colour_of(book().swatches["marker"])


def art(workspace: Workspace) -> FrameArt:
    frame = workspace.job.pages[0].frames[-1]
    return next(a for a in Display(workspace.composition).page(0).frames if a.frame.id == frame.id)


def bounds(shape: Path) -> tuple[float, float, float, float]:
    points = [point for _, some in shape.steps for point in some]
    xs, ys = [x for x, _ in points], [y for _, y in points]
    return min(xs), min(ys), max(xs), max(ys)


def first_baseline(size: float = 10.0) -> float:
    return TOP + FACE.ascent * size / FACE.upem


def para(key: str, text: str, **more: object) -> Paragraph:
    own = {name: getattr(BARE, name) for name in ("align", "indent_first", "leading", "grid")}
    return Paragraph(key, "body", text, para=ParaSpec(**{**own, **more}), type=TypeSpec(size=10.0))  # type: ignore[arg-type]


def test_lines_under_and_through_words_stand_where_they_were_asked_for() -> None:
    workspace = framed(para("pa", "dunlin and knot"))
    story = workspace.job.pages[0].frames[-1].story or ""
    workspace.do(
        FormatText(
            story, Place("pa", 0), Place("pa", 6), TypeSpec(underline=True, underline_weight=0.5, underline_offset=2.0)
        )
    )
    workspace.do(FormatText(story, Place("pa", 11), Place("pa", 15), TypeSpec(strike=True)))
    under, through = art(workspace).under
    word = shipped().face("EB Garamond")
    x0, y0, x1, y1 = bounds(under)
    assert (x0, y0, y1) == pytest.approx((LEFT, first_baseline() + 2 - 0.25, first_baseline() + 2 + 0.25))
    run = art(workspace).lines[0].runs[0]
    assert x1 == pytest.approx(run.x + run.width)
    weight, height = word.lines["strike"]
    with TTFont(word.path) as font:
        assert (weight, height) == (font["OS/2"].yStrikeoutSize, font["OS/2"].yStrikeoutPosition)
    _, y0, _, y1 = bounds(through)
    assert (y0 + y1) / 2 == pytest.approx(first_baseline() - height * 10 / word.upem)
    assert y1 - y0 == pytest.approx(weight * 10 / word.upem)


@pytest.mark.parametrize("across", ["column", "text"])
def test_rules_above_and_below(across: str) -> None:
    rule = ParaRule(Stroke(1.5, "marker"), 12.0, across, 5.0, 7.0)  # type: ignore[arg-type]
    below = ParaRule(Stroke(0.5), 6.0)
    workspace = framed(para("pa", "dunlin"), para("pb", "knot\u2028and\u2028curlew", rule_above=rule, rule_below=below))
    above, under = sorted(art(workspace).under, key=lambda shape: bounds(shape)[1])
    lines = [line for line in art(workspace).lines if line.paragraph == "pb"]
    assert [line.baseline for line in lines] == pytest.approx([first_baseline() + 20 * n for n in (1, 2, 3)])
    x0, y0, x1, y1 = bounds(above)
    end = lines[0].runs[-1].x + lines[0].runs[-1].width if across == "text" else LEFT + WIDTH
    assert (x0, y0, x1, y1) == pytest.approx((LEFT + 5, lines[0].baseline - 12, end - 7, lines[0].baseline - 12))
    assert above.pen == Pen(1.5, MARKER)
    assert bounds(under) == pytest.approx((LEFT, lines[2].baseline + 6, LEFT + WIDTH, lines[2].baseline + 6))


def test_shading_runs_through_neighbours_that_are_shaded_alike() -> None:
    box = Box(Fill("marker", 0.2), Stroke(0.5), (1.0, 2.0, 3.0, 4.0))
    workspace = framed(
        para("pa", "dunlin", box=box),
        para("pb", "knot", box=box, indent_left=10.0),
        para("pc", "ruff", box=Box(Fill("black", 0.1))),
    )
    first, second = art(workspace).under
    descent = FACE.descent * 10 / FACE.upem
    assert bounds(first) == pytest.approx((LEFT - 4, TOP - 1, LEFT + WIDTH + 2, first_baseline() + 20 + descent + 3))
    assert first.fill == MARKER.at(0.2)
    assert first.pen == Pen(0.5, BLACK)
    assert bounds(second)[1] == pytest.approx(TOP + 40)
    assert second.fill == BLACK.at(0.1)


def test_a_border_on_some_sides_only() -> None:
    box = Box(Fill("marker", 0.2), Stroke(0.5), (0.0,) * 4, ("head", "left"))
    workspace = framed(para("pa", "dunlin", box=box))
    ground, head, left = art(workspace).under
    x0, y0, x1, y1 = bounds(ground)
    assert ground.pen is None
    assert bounds(head) == pytest.approx((x0, y0, x1, y0))
    assert bounds(left) == pytest.approx((x0, y0, x0, y1))


def test_a_rule_stands_in_the_middle_between_columns_as_long_as_the_text() -> None:
    workspace = framed(
        para("pa", words(60)), spec=FrameSpec(columns=2, gutter=16.0, column_rule=Stroke(0.75), balanced=True)
    )
    (rule,) = art(workspace).under
    x0, y0, x1, y1 = bounds(rule)
    last = max(line.baseline for line in art(workspace).lines)
    assert (x0, x1, y0) == pytest.approx((LEFT + WIDTH / 2, LEFT + WIDTH / 2, TOP))
    assert y1 == pytest.approx(last + FACE.descent * 10 / FACE.upem)


def test_outlines_are_the_glyphs_where_they_stood() -> None:
    """Each glyph's bounds by fontTools' own pens, at the composed places, against the shapes'."""
    workspace = framed(para("pa", "Office AVATAR"))
    frame = workspace.job.pages[0].frames[-1]
    story = frame.story or ""
    workspace.do(SetParagraphs(story, "pa", "pa", type=TypeSpec(size=30.0, tracking=20.0, swatch="marker", tint=0.5)))
    line = art(workspace).lines[0]
    pen_bounds: list[tuple[float, float, float, float]] = []
    with TTFont(FACE.path) as font:
        glyphs, order = font.getGlyphSet(), font.getGlyphOrder()
        for run in line.runs:
            at, scale = run.x, run.look.scale
            for part in run.parts:
                word = run.look.cut.word(part.text)
                inner = at
                for glyph, advance in zip(word.glyphs, word.advances, strict=True):
                    pen = BoundsPen(glyphs)
                    glyphs[order[glyph]].draw(TransformPen(pen, (scale, 0, 0, -scale, inner, line.baseline)))
                    if pen.bounds:
                        pen_bounds.append(pen.bounds)
                    inner += advance * scale + run.look.tracking
                at += part.advance
    before = plain(workspace.job)
    change = workspace.do(outlined(workspace.composition, 0, frame.id))
    (shape,) = [f for f in workspace.job.pages[0].frames if f.text is None]
    assert shape.rect is not None
    wanted = (
        min(b[0] for b in pen_bounds),
        min(b[1] for b in pen_bounds),
        max(b[2] for b in pen_bounds),
        max(b[3] for b in pen_bounds),
    )
    found = (shape.rect.x, shape.rect.y, shape.rect.right, shape.rect.foot)
    assert found == pytest.approx(wanted, abs=0.6), "control points may lie a little outside a curve"
    assert shape.alt == "Office AVATAR"
    assert shape.make.fill == Fill("marker", 0.5)
    assert story not in workspace.job.stories
    workspace.run(change.inverse)
    assert plain(workspace.job) == before


def test_what_cannot_become_outlines_says_why() -> None:
    workspace = framed(para("pa", words(400)))
    frame = workspace.job.pages[0].frames[-1]
    with pytest.raises(LexigonError, match="overset"):
        outlined(workspace.composition, 0, frame.id)
    workspace.do(PourText(frame.story or "", (para("pa", ""),)))
    with pytest.raises(LexigonError, match="This frame contains no text"):
        outlined(workspace.composition, 0, frame.id)
    page = workspace.job.pages[0].id
    workspace.do(AddTextFrame(page, Rect(20, 400, 100, 60)))
    other = workspace.job.pages[0].frames[-1]
    workspace.do(LinkFrames(frame.id, page, other.id))
    with pytest.raises(LexigonError, match="Text that continues in other frames cannot be"):
        outlined(workspace.composition, 0, frame.id)
    main = next(f for f, inherited in workspace.job.page_frames(0) if inherited)
    with pytest.raises(LexigonError, match="Text of master pages cannot be converted to"):
        outlined(workspace.composition, 0, main.id)


def test_an_ellipse_of_four_curves_is_one_within_three_ten_thousandths() -> None:
    """Against the ellipse's own equation. The largest error of four cubic curves whose middles lie on the circle is
    0.000273 of the radius (Goldapp, "Approximation of circular arcs by cubic polynomials", 1991, from memory)."""
    rect = Rect(10, 20, 300, 120)
    worst, at = 0.0, (0.0, 0.0)
    for step, points in ellipse_path(rect):
        if step == "C":
            (x0, y0), (x1, y1), (x2, y2), (x3, y3) = at, *points
            for n in range(101):
                t = n / 100
                a, b, c, d = (1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t * t * (1 - t), t**3
                x, y = a * x0 + b * x1 + c * x2 + d * x3, a * y0 + b * y1 + c * y2 + d * y3
                worst = max(worst, abs(((x - 160) / 150) ** 2 + ((y - 80) / 60) ** 2 - 1) / 2)
        if points:
            at = points[-1]
    assert 0.0002 < worst < 0.00028


def test_a_screen_colour_is_separated_through_the_profile_and_grey_goes_on_black_alone() -> None:
    """sRGB through the coated profile and back, and the
    inks of pure red are those a printer would expect: no cyan, full magenta and yellow (common practice, no source)."""
    assert Colour("rgb", (0.5, 0.5, 0.5)).cmyk == (0.0, 0.0, 0.0, 0.5)
    assert Colour("rgb", (0.0, 0.0, 0.0)).cmyk == (0.0, 0.0, 0.0, 1.0)
    assert Colour("rgb", (1.0, 1.0, 1.0)).cmyk == (0.0, 0.0, 0.0, 0.0)
    cyan, magenta, yellow, black = Colour("rgb", (0.85, 0.1, 0.1)).cmyk
    assert max(cyan, black) < 0.1
    assert min(magenta, yellow) > 0.85
    for light in ((0.6, 0.45, 0.3), (0.4, 0.5, 0.45), (0.33, 0.33, 0.5)):  # within what offset can print
        shown = Colour("cmyk", Colour("rgb", light).cmyk).rgb
        assert shown == pytest.approx(light, abs=0.02), "what is printed is what was meant"
