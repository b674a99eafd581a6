"""Outlines as geometry, held against other libraries: curves against fontTools, what is combined and moved outward
against GEOS, fitted curves against the points they were made of."""

from __future__ import annotations

import random
from math import cos, hypot, pi, sin
from typing import Any

import pytest
from fontTools.misc.bezierTools import calcCubicBounds, cubicPointAtT, splitCubicAtT
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import LineString, MultiPolygon, Point, Polygon, make_valid

from lexigon.core.geometry import Rect
from lexigon.core.path import nodes
from lexigon.core.path.combining import combined_shapes, normal, offset, parts_apart, pieces_of
from lexigon.core.path.fitting import fitted, steps_of_curves
from lexigon.core.path.shapes import ellipse_path, line_path, polygon_path, rect_path, star_polygon
from lexigon.core.path.steps import (
    Steps,
    area_of,
    bounds,
    data_of,
    flattened,
    on_curve,
    segments,
    split,
    steps_of,
    subpaths,
)
from lexigon.core.type.fonts import shipped
from lexigon.core.type.glyphs import glyph_path

coordinate = st.floats(-200, 200).map(lambda value: round(value, 3))
point = st.tuples(coordinate, coordinate)
curve = st.tuples(point, point, point, point)


def letter(text: str = "g") -> Steps:
    """A letter with two rings, as it stands in a font."""
    face = shipped().face("EB Garamond")
    glyph = face.hb_font.get_nominal_glyph(ord(text))
    assert glyph
    return tuple(glyph_path(face, glyph))


def ground(steps: Steps, even_odd: bool = False) -> Any:
    """What an outline covers, by GEOS: each ring added to what it lies in, or taken out of it."""
    made: Any = Polygon()
    for ring in flattened(steps, 48):
        if len(ring) < 3:
            continue
        own = make_valid(Polygon(ring))
        made = made.symmetric_difference(own)
    return made


def off(steps: Steps, other: Steps) -> float:
    """The ground that only one of two outlines covers."""
    return float(ground(steps).symmetric_difference(ground(other)).area)


@given(curve, st.floats(0.01, 0.99))
def test_points_parts_and_bounds_of_curves_are_those_of_another_library(curve: Any, t: float) -> None:
    assert on_curve(curve, t) == pytest.approx(cubicPointAtT(*curve, t), abs=1e-9)
    for mine, theirs in zip(split(curve, t), splitCubicAtT(*curve, t), strict=True):
        for a, b in zip(mine, theirs, strict=True):
            assert a == pytest.approx(b, abs=1e-6)
    box = bounds((("M", (curve[0],)), ("C", curve[1:])))
    assert box
    assert (box.x, box.y, box.right, box.foot) == pytest.approx(calcCubicBounds(*curve), abs=1e-6)


def test_an_outline_is_kept_as_text_and_read_back() -> None:
    steps = letter()
    again = steps_of(data_of(steps))
    assert [step for step, _ in again] == [step for step, _ in steps]
    assert off(steps, again) < 1e-3
    assert steps_of("M 1 2 L 3 C 1 2 3 4 5 6 Z") == (("M", ((1.0, 2.0),)), ("C", ((1, 2), (3, 4), (5, 6))), ("Z", ()))


@pytest.mark.parametrize(
    "steps", [ellipse_path(Rect(10, 20, 90, 40)), polygon_path(star_polygon(5, 0.5)), letter(), line_path(1, 2, 30, 40)]
)
def test_nodes_draw_what_they_were_read_from(steps: Steps) -> None:
    lines = nodes.lines_of(steps)
    again = nodes.steps_of_lines(lines)
    assert off(steps, again) < 1e-9
    assert nodes.lines_of(again) == lines
    assert [line.closed for line in lines] == [one[-1][0] == "Z" for one in subpaths(steps)]


def test_every_node_of_an_ellipse_is_smooth_and_none_of_a_box() -> None:
    (ellipse,), (box,) = nodes.lines_of(ellipse_path(Rect(0, 0, 9, 4))), nodes.lines_of(rect_path(Rect(0, 0, 9, 4)))
    assert [node.smooth for node in ellipse.nodes] == [True] * 4
    assert [node.smooth for node in box.nodes] == [False] * 4


@given(st.integers(0, 3), st.floats(0.05, 0.95))
def test_a_node_that_is_added_changes_nothing_and_is_taken_out_again(stretch: int, t: float) -> None:
    steps = ellipse_path(Rect(0, 0, 100, 60))
    lines = nodes.lines_of(steps)
    more = nodes.add(lines, (0, stretch), t)
    assert len(more[0].nodes) == 5
    assert off(steps, nodes.steps_of_lines(more)) < 0.3, "it is in finer pieces"
    less = nodes.delete(more, [(0, stretch + 1)])
    assert len(less[0].nodes) == 4
    assert off(steps, nodes.steps_of_lines(less)) < 0.005 * 100 * 60, "one curve runs where both did"


def test_a_handle_takes_the_other_one_along_where_the_node_is_smooth() -> None:
    lines = nodes.lines_of(ellipse_path(Rect(0, 0, 100, 60)))
    node = lines[0].nodes[0]
    assert node.before
    turned = nodes.put_handle(lines, (0, 0), "after", (node.at[0] + 30, node.at[1]))[0].nodes[0]
    assert turned.smooth
    assert turned.before == pytest.approx(
        (node.at[0] - hypot(node.before[0] - node.at[0], node.before[1] - node.at[1]), node.at[1])
    )
    broken = nodes.put_handle(lines, (0, 0), "after", (node.at[0] + 30, node.at[1]), alone=True)[0].nodes[0]
    assert not broken.smooth
    assert broken.before == node.before


def test_nodes_are_made_sharp_and_smooth_again() -> None:
    lines = nodes.lines_of(ellipse_path(Rect(0, 0, 100, 60)))
    every = [(0, n) for n in range(4)]
    sharp = nodes.sharpen(lines, every)
    assert abs(area_of(flattened(nodes.steps_of_lines(sharp))[0])) == pytest.approx(100 * 60 / 2), "a diamond"
    smooth = nodes.smoothen(sharp, every)
    assert all(node.smooth for node in smooth[0].nodes)
    (line,) = nodes.smoothen(nodes.lines_of(polygon_path(((0, 0), (50, 10), (100, 0)), closed=False)), [(0, 0), (0, 1)])
    assert line.nodes[0].before is None, "an end has no handle beyond it"
    assert line.nodes[1].smooth


def test_what_is_cut_is_joined_again() -> None:
    steps = ellipse_path(Rect(0, 0, 100, 60))
    opened = nodes.cut(nodes.lines_of(steps), [(0, 2)])
    assert [line.closed for line in opened] == [False]
    assert len(opened[0].nodes) == 5
    two = nodes.cut(opened, [(0, 2)])
    assert len(two) == 2
    one = nodes.join(two, (1, 0), (0, len(two[0].nodes) - 1))
    assert len(one) == 1
    closed = nodes.join(one, (0, 0), (0, 4))
    assert closed[0].closed
    assert len(closed[0].nodes) == 4
    assert off(steps, nodes.steps_of_lines(closed)) < 1e-6
    apart = nodes.lines_of((*line_path(0, 0, 10, 0), *line_path(30, 0, 20, 0)))
    (led,) = nodes.join(apart, (0, 1), (1, 1))
    assert [node.at[0] for node in led.nodes] == [0, 10, 20, 30]
    with pytest.raises(nodes.NodeError):
        nodes.join(closed, (0, 0), (0, 1))
    with pytest.raises(nodes.NodeError):
        nodes.delete(closed, [(0, 9)])


def test_a_reversed_line_covers_the_same_the_other_way_round() -> None:
    lines = nodes.lines_of(letter())
    (first, *_), (back, *_) = (
        flattened(nodes.steps_of_lines(lines)),
        flattened(nodes.steps_of_lines(nodes.reverse(lines, [0]))),
    )
    assert area_of(back) == pytest.approx(-area_of(first))


def test_a_line_loses_its_nodes_until_it_is_gone() -> None:
    lines = nodes.lines_of(polygon_path(((0, 0), (50, 10), (100, 0))))
    assert not nodes.delete(lines, [(0, 0)])[0].closed
    assert nodes.delete(lines, [(0, 0), (0, 1)]) == ()


def shaken(count: int, shake: float, seed: int) -> list[tuple[float, float]]:
    """A hand's drawing: two waves with a sharp corner between them."""
    chance = random.Random(seed)
    wave = [(300 * i / count, 40 * sin(2 * pi * i / count)) for i in range(count)]
    back = [(300 - 300 * i / count, -80 * i / count) for i in range(count + 1)]
    return [(x + chance.uniform(-shake, shake), y + chance.uniform(-shake, shake)) for x, y in (*wave, *back)]


@settings(deadline=None, max_examples=20)
@given(st.integers(0, 10_000), st.sampled_from([0.0, 0.4]), st.sampled_from([1.0, 2.5]))
def test_a_drawing_by_hand_becomes_few_curves_that_keep_close_to_it(seed: int, shake: float, error: float) -> None:
    points = shaken(150, shake, seed)
    curves = fitted(points, error)
    assert len(curves) <= (4 if not shake else 6 if error > 2 else 13)
    run = LineString([on_curve(one, i / 400) for one in curves for i in range(401)])
    assert max(run.distance(Point(p)) for p in points) <= error + 1e-6
    assert curves[0][0] == points[0]
    assert curves[-1][3] == points[-1]
    corner = min(curves, key=lambda one: hypot(one[3][0] - 300, one[3][1]))
    assert hypot(corner[3][0] - 300, corner[3][1]) < 6, "the sharp corner is a node"


def test_a_round_of_points_is_fitted_by_as_few_curves_as_one_draws_it_with() -> None:
    ring = [(50 * cos(2 * pi * i / 200), 50 * sin(2 * pi * i / 200)) for i in range(201)]
    curves = fitted(ring, 0.05)
    assert len(curves) <= 8
    assert abs(area_of(flattened(steps_of_curves(curves, closed=True))[0])) == pytest.approx(pi * 2500, rel=0.002)
    assert fitted([(1, 1), (1, 1)], 1.0) == []
    assert len(fitted([(0, 0), (5, 5)], 1.0)) == 1


shapes = st.builds(
    lambda kind, x, y, w, h: {
        "ellipse": ellipse_path(Rect(x, y, w, h)),
        "box": rect_path(Rect(x, y, w, h)),
        "star": polygon_path([(x + u * w, y + v * h) for u, v in star_polygon(5, 0.6)]),
    }[kind],
    st.sampled_from(["ellipse", "box", "star"]),
    st.integers(0, 90),
    st.integers(0, 90),
    st.integers(10, 120),
    st.integers(10, 120),
)


@settings(deadline=None, max_examples=60)
@given(shapes, shapes)
def test_what_is_combined_covers_what_another_library_says(one: Steps, other: Steps) -> None:
    a, b = ground(one), ground(other)
    for how, wanted in (
        ("unite", a.union(b)),
        ("subtract", a.difference(b)),
        ("intersect", a.intersection(b)),
        ("exclude", a.symmetric_difference(b)),
    ):
        made = combined_shapes([(one, False), (other, False)], how)  # type: ignore[arg-type]
        assert ground(made).symmetric_difference(wanted).area < 1.5, how


@settings(deadline=None, max_examples=25)
@given(shapes, shapes, shapes)
def test_pieces_lie_beside_each_other_and_cover_all(one: Steps, other: Steps, third: Steps) -> None:
    found = pieces_of([(one, False), (other, False), (third, False)])
    whole = ground(one).union(ground(other)).union(ground(third))
    assert sum(ground(piece).area for piece, _ in found) == pytest.approx(whole.area, abs=1.5)
    for piece, top in found:
        if (inner := ground(piece).buffer(-0.2)).is_empty:
            continue
        at = inner.representative_point()
        assert top == max(n for n, shape in enumerate((one, other, third)) if ground(shape).contains(at))


def test_even_odd_and_crossing_outlines_become_plain_ones() -> None:
    bow = polygon_path(((0, 0), (100, 100), (100, 0), (0, 100)))
    assert ground(normal((bow, False))).area == pytest.approx(5000)
    two = (*rect_path(Rect(0, 0, 60, 60)), *rect_path(Rect(30, 0, 60, 60)))
    assert ground(normal((two, False))).area == pytest.approx(90 * 60)
    assert ground(normal((two, True))).area == pytest.approx(60 * 60)
    assert len(parts_apart(normal((two, True)))) == 2
    assert len(parts_apart(normal((letter("g"), False)))) == 1, "holes go with what they are in"
    assert len(parts_apart(normal((letter("i"), False)))) == 2


@pytest.mark.parametrize("by", [6.0, -6.0])
@pytest.mark.parametrize(("join", "style"), [("miter", 2), ("round", 1), ("bevel", 3)])
@pytest.mark.parametrize(
    "steps",
    [
        rect_path(Rect(0, 0, 100, 60)),
        polygon_path([(u * 120, v * 120) for u, v in star_polygon(5, 0.5)]),
        ellipse_path(Rect(0, 0, 100, 60)),
    ],
)
def test_outlines_move_outward_as_another_library_moves_them(steps: Steps, join: str, style: int, by: float) -> None:
    wanted = ground(steps).buffer(by, join_style=style, mitre_limit=10.0, quad_segs=48)
    assert ground(offset((steps, False), by, join)).symmetric_difference(wanted).area < 0.004 * wanted.area  # type: ignore[arg-type]


def test_an_open_line_gets_an_outline_round_it_and_a_small_shape_goes_under() -> None:
    around = offset((line_path(0, 0, 100, 0), False), 4.0)
    assert ground(around).area == pytest.approx(800)
    assert offset((rect_path(Rect(0, 0, 10, 10)), False), -6.0) == ()
    assert offset((ellipse_path(Rect(0, 0, 40, 40)), False), 0.0)


def test_outlines_without_ground_and_with_very_many_nodes_are_borne() -> None:
    flat = polygon_path(((0, 0), (50, 0), (100, 0)))
    assert combined_shapes([(flat, False), (rect_path(Rect(0, 0, 9, 9)), False)], "unite")
    assert combined_shapes([(flat, False)], "unite") == ()
    assert combined_shapes([((), False), ((), False)], "intersect") == ()
    ring = polygon_path(
        [((80 + i % 2) * cos(2 * pi * i / 10_000), (80 + i % 2) * sin(2 * pi * i / 10_000)) for i in range(10_000)]
    )
    made = combined_shapes([(ring, False), (rect_path(Rect(0, -100, 100, 200)), False)], "subtract")
    assert isinstance(ground(made), (Polygon, MultiPolygon))
    assert ground(made).area == pytest.approx(pi * 80.5**2 / 2, rel=0.01)
    assert len(list(segments(ring))) == 10_000
