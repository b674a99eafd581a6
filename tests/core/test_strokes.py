"""Drawn lines, by closed form: on which side of an outline they lie, what they end with; and corners of boxes by their
areas."""

from __future__ import annotations

from math import atan2, degrees, hypot, pi

import pytest

from lexigon.core.colour.palette import Palette
from lexigon.core.document.model import Outline, Stroke
from lexigon.core.document.outlines import outline_path, outline_polygon
from lexigon.core.geometry import Rect
from lexigon.core.paint.coverage import reach_of
from lexigon.core.paint.items import Group, Path
from lexigon.core.paint.strokes import fill_and_stroke, ruled
from lexigon.core.path.shapes import line_path, polygon_path, rect_path, star_depth, star_polygon
from lexigon.core.path.steps import area_of, bounds, flattened
from tests.core.helpers import book

PALETTE = Palette(book().swatches)
BOX = Rect(10.0, 20.0, 100.0, 60.0)


def test_a_line_inside_is_cut_off_at_its_outline_and_one_outside_within_it() -> None:
    inside = ruled(PALETTE, rect_path(BOX), Stroke(4.0, "black", align="inside"))
    outside = ruled(PALETTE, rect_path(BOX), Stroke(4.0, "black", align="outside"))
    for (group,) in (inside, outside):
        assert isinstance(group, Group)
        (path,) = group.items
        assert isinstance(path, Path)
        assert path.pen
        assert path.pen.weight == 8.0, "half of it is cut off"
    (group,) = inside
    assert isinstance(group, Group)
    assert group.clip == rect_path(BOX)
    (group,) = outside
    assert isinstance(group, Group)
    assert group.even_odd
    around, within = flattened(group.clip)
    assert abs(area_of(within)) == pytest.approx(6000)
    edge = bounds(polygon_path(around))
    assert edge
    assert edge.x < BOX.x - 4
    assert edge.foot > BOX.foot + 4


@pytest.mark.parametrize(("x", "y"), [(80.0, 0.0), (-50.0, 50.0), (0.0, -90.0)])
def test_an_arrow_points_to_the_end_and_the_line_stops_within_it(x: float, y: float) -> None:
    line, head = ruled(PALETTE, line_path(0.0, 0.0, x, y), Stroke(2.0, "black", end="arrow"))
    assert isinstance(line, Path)
    assert isinstance(head, Path)
    tip, *wings = (points[0] for step, points in head.steps if points)
    assert tip == pytest.approx((x, y))
    middle = (wings[0][0] + wings[1][0]) / 2, (wings[0][1] + wings[1][1]) / 2
    assert hypot(x - middle[0], y - middle[1]) == pytest.approx(8.0), "four weights long"
    assert degrees(atan2(y - middle[1], x - middle[0])) == pytest.approx(degrees(atan2(y, x)))
    end = line.steps[-1][1][-1]
    assert hypot(x - end[0], y - end[1]) == pytest.approx(7.0)


def test_an_arrow_on_a_curve_and_one_on_a_line_that_is_shorter_than_it() -> None:
    curve = (("M", ((0.0, 0.0),)), ("C", ((0.0, 40.0), (60.0, 40.0), (60.0, 0.0))))
    line, head = ruled(PALETTE, curve, Stroke(1.0, "black", begin="arrow"))
    assert isinstance(head, Path)
    assert head.steps[0][1][0] == pytest.approx((0.0, 0.0))
    assert isinstance(line, Path)
    assert hypot(*line.steps[0][1][0]) == pytest.approx(3.5)
    assert line.steps[-1][1][-1] == (60.0, 0.0)
    assert len(ruled(PALETTE, line_path(0, 0, 2, 0), Stroke(1.0, "black", end="arrow"))) == 1, "the arrow alone"
    assert ruled(PALETTE, line_path(5, 5, 5, 5), Stroke(1.0, "black", end="arrow")) == []


def test_what_is_plainly_drawn_is_one_item() -> None:
    (path,) = fill_and_stroke(PALETTE, rect_path(BOX), BOX, None, Stroke(1.0, "black", cap="round", begin="arrow"))
    assert isinstance(path, Path)
    assert path.pen
    assert path.pen.cap == "round", "a closed line has no ends to put an arrow to"


@pytest.mark.parametrize(
    ("kind", "off"),
    [("round", 1 - pi / 4), ("hollow", pi / 4), ("cut", 0.5), ("notch", 1.0)],
)
def test_corners_take_off_what_their_kind_says(kind: str, off: float) -> None:
    """In parts of a square of the corner's size, by the formulas for circle, triangle and square."""
    outline = Outline("box", radii=(0.0, 12.0, 0.0, 0.0), corners=(kind,) * 4)  # type: ignore[arg-type]
    steps, _ = outline_path(outline, BOX)
    (ring,) = flattened(steps, 64)
    assert abs(area_of(ring)) == pytest.approx(6000 - off * 144, abs=0.1)
    kept = outline_polygon(outline, BOX)
    assert abs(area_of(kept)) == pytest.approx(6000 - off * 144, abs=1.0), "text keeps clear of the same"


def test_corners_never_overlap() -> None:
    steps, _ = outline_path(Outline("box", radii=(90.0,) * 4, corners=("cut",) * 4), BOX)
    (ring,) = flattened(steps)
    assert abs(area_of(ring)) == pytest.approx(6000 - 4 * 0.5 * 30**2)


def test_a_star_has_its_tips_on_one_circle_and_its_depth_is_found_again() -> None:
    for points, depth in ((5, 50), (3, 20), (24, 99)):
        corners = star_polygon(points, depth / 100)
        assert star_depth(corners) == depth
        assert len(corners) == 2 * points
    assert star_depth(((0.0, 0.0), (1.0, 0.0), (1.0, 1.0))) == 0


def test_a_sharp_corner_reaches_as_far_as_its_mitre_and_a_very_sharp_one_is_cut_off() -> None:
    """The mitre's length is the weight over the sine of half the angle (ISO 32000-2, 8.4.3.5)."""
    square = polygon_path(((50.0, 0.0), (100.0, 50.0), (50.0, 100.0), (0.0, 50.0)))
    box = reach_of(ruled(PALETTE, square, Stroke(10.0, "black")))
    assert box
    assert box.x == pytest.approx(-(5 * 2**0.5))
    needle = polygon_path(((0.0, 0.0), (100.0, 2.0), (100.0, -2.0)))
    box = reach_of(ruled(PALETTE, needle, Stroke(10.0, "black")))
    assert box
    assert box.x > -10
