"""Few cubic curves through many points: P. J. Schneider, "An Algorithm for Automatically Fitting Digitized Curves", in
Graphics Gems (Academic Press, 1990), pages 612 to 626."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import cos, hypot, radians

from lexigon.core.geometry import Point
from lexigon.core.path.steps import Step, Steps, on_curve

Curve = tuple[Point, Point, Point, Point]

ROUNDS = 6
"""How often the places of the points on a curve are found better before it is divided."""


def fitted(points: Sequence[Point], error: float, corner: float = 60.0) -> list[Curve]:
    """Curves that pass all points within ``error``. Where the way turns by more than ``corner`` degrees they meet at a
    corner, elsewhere smoothly. Points that repeat are taken once; fewer than two give no curve."""
    own = [point for at, point in enumerate(points) if at == 0 or point != points[at - 1]]
    if len(own) < 2:
        return []
    curves: list[Curve] = []
    begin = 0
    for at in [*_corners(own, error, corner), len(own) - 1]:
        part = own[begin : at + 1]
        curves += _fit(part, _leaving(part, 4 * error), _leaving(part[::-1], 4 * error), error)
        begin = at
    return curves


def steps_of_curves(curves: Sequence[Curve], closed: bool = False) -> Steps:
    """Curves that follow each other, as the steps of an outline."""
    if not curves:
        return ()
    steps: list[Step] = [("M", (curves[0][0],)), *(("C", curve[1:]) for curve in curves)]
    return (*steps, ("Z", ())) if closed else tuple(steps)


def between(points: Sequence[Point], first: Point, last: Point) -> Curve:
    """The one curve that runs closest to some points, which leaves the first and reaches the last along these
    directions: both are one unit long and point into the curve."""
    places = _by_length(points)
    curve = _best(points, places, first, last)
    for _ in range(ROUNDS):
        places = [_nearer(curve, point, t) for point, t in zip(points, places, strict=True)]
        curve = _best(points, places, first, last)
    return curve


def _corners(points: list[Point], error: float, corner: float) -> list[int]:
    """Return where the way turns sharply. Directions are taken over some distance: a hand's small shakes are no
    corners."""
    reach = max(2 * error, 1e-9)
    sharp = cos(radians(corner))
    corners: list[tuple[int, float]] = []
    for at in range(1, len(points) - 1):
        back, on = _far(points, at, -1, reach), _far(points, at, 1, reach)
        (ax, ay), (bx, by) = _unit(back, points[at]), _unit(points[at], on)
        if (turn := ax * bx + ay * by) < sharp:
            if (
                corners
                and hypot(points[at][0] - points[corners[-1][0]][0], points[at][1] - points[corners[-1][0]][1])
                < 2 * reach
            ):
                if turn < corners[-1][1]:
                    corners[-1] = (at, turn)
                continue
            corners.append((at, turn))
    return [at for at, _ in corners]


def _leaving(points: Sequence[Point], reach: float) -> Point:
    """The direction in which a way begins: of the parabola through its first point and two at some distance each."""
    (x0, y0), (x1, y1) = points[0], _far(points, 0, 1, reach)
    x2, y2 = _far(points, 0, 1, 2 * reach + hypot(x1 - x0, y1 - y0))
    a = hypot(x1 - x0, y1 - y0)
    b = a + hypot(x2 - x1, y2 - y1)
    if not a or b <= a * 1.001:
        return _unit(points[0], points[1])
    near, far = b / (a * (b - a)), a / (b * (b - a))
    return _unit((0.0, 0.0), ((x1 - x0) * near - (x2 - x0) * far, (y1 - y0) * near - (y2 - y0) * far))


def _far(points: Sequence[Point], at: int, way: int, reach: float) -> Point:
    """The first point at a given distance from another one, going in a direction; else the last."""
    x, y = points[at]
    while 0 <= at + way < len(points):
        at += way
        if hypot(points[at][0] - x, points[at][1] - y) >= reach:
            break
    return points[at]


@dataclass(slots=True)
class _Part:
    """Points that one curve may serve, with the directions in which it begins and ends."""

    points: Sequence[Point]
    first: Point
    last: Point
    curve: Curve


def _fit(points: Sequence[Point], first: Point, last: Point, error: float) -> list[Curve]:
    """Divided where a curve is worst, as Schneider does; then neighbours that one curve can serve are made one
    again."""
    parts: list[_Part] = []
    waiting = [(points, first, last)]
    while waiting:  # the parts of a way that was divided, the first one last
        points, first, last = waiting.pop()
        curve, at = _one(points, first, last, error)
        if at is None:
            parts.append(_Part(points, first, last, curve))
            continue
        middle = _unit(_far(points, at, 1, 4 * error), _far(points, at, -1, 4 * error))
        waiting.append((points[at:], (-middle[0], -middle[1]), last))
        waiting.append((points[: at + 1], first, middle))
    number = 0
    while number < len(parts) - 1:
        left, right = parts[number], parts[number + 1]
        both = [*left.points, *right.points[1:]]
        curve, at = _one(both, left.first, right.last, error)
        if at is None:
            parts[number : number + 2] = [_Part(both, left.first, right.last, curve)]
            number = max(number - 1, 0)
        else:
            number += 1
    return [part.curve for part in parts]


def _one(points: Sequence[Point], first: Point, last: Point, error: float) -> tuple[Curve, int | None]:
    """One curve for some points, and where it is worst if that is too far off."""
    if len(points) == 2:
        third = hypot(points[1][0] - points[0][0], points[1][1] - points[0][1]) / 3
        return (points[0], _along(points[0], first, third), _along(points[1], last, third), points[1]), None
    places = _by_length(points)
    curve = _best(points, places, first, last)
    worst, at = _worst(curve, points, places)
    rounds = ROUNDS if worst < (8 * error) ** 2 else 0
    while worst > error * error and rounds:
        rounds -= 1
        places = [_nearer(curve, point, t) for point, t in zip(points, places, strict=True)]
        curve = _best(points, places, first, last)
        worst, at = _worst(curve, points, places)
    return curve, at if worst > error * error else None


def _best(points: Sequence[Point], places: Sequence[float], first: Point, last: Point) -> Curve:
    """Least squares for the lengths of both handles, their directions being given."""
    begin, end = points[0], points[-1]
    c00 = c01 = c11 = x0 = x1 = 0.0
    for (px, py), t in zip(points, places, strict=True):
        s = 1 - t
        b0, b1, b2, b3 = s * s * s, 3 * t * s * s, 3 * t * t * s, t * t * t
        ax, ay, bx, by = first[0] * b1, first[1] * b1, last[0] * b2, last[1] * b2
        c00 += ax * ax + ay * ay
        c01 += ax * bx + ay * by
        c11 += bx * bx + by * by
        dx = px - begin[0] * (b0 + b1) - end[0] * (b2 + b3)
        dy = py - begin[1] * (b0 + b1) - end[1] * (b2 + b3)
        x0 += ax * dx + ay * dy
        x1 += bx * dx + by * dy
    chord = hypot(end[0] - begin[0], end[1] - begin[1])
    det = c00 * c11 - c01 * c01
    left = (x0 * c11 - x1 * c01) / det if abs(det) > 1e-12 else 0.0
    right = (c00 * x1 - c01 * x0) / det if abs(det) > 1e-12 else 0.0
    if left < 1e-6 * chord or right < 1e-6 * chord:  # no useful answer: a third of the way, as Wu and Barsky do
        left = right = chord / 3
    return begin, _along(begin, first, left), _along(end, last, right), end


def _by_length(points: Sequence[Point]) -> list[float]:
    """Places of points on a curve, in parts of the way along them."""
    lengths = [0.0]
    for (x0, y0), (x1, y1) in pairwise(points):
        lengths.append(lengths[-1] + hypot(x1 - x0, y1 - y0))
    return (
        [value / lengths[-1] for value in lengths]
        if lengths[-1]
        else [i / max(len(lengths) - 1, 1) for i in range(len(lengths))]
    )


def _nearer(curve: Curve, point: Point, t: float) -> float:
    """A better place of a point on a curve: one step of Newton and Raphson."""
    x, y = on_curve(curve, t)
    s = 1 - t
    d = [(3 * (b[0] - a[0]), 3 * (b[1] - a[1])) for a, b in pairwise(curve)]
    dx = s * s * d[0][0] + 2 * s * t * d[1][0] + t * t * d[2][0]
    dy = s * s * d[0][1] + 2 * s * t * d[1][1] + t * t * d[2][1]
    ddx = 2 * s * (d[1][0] - d[0][0]) + 2 * t * (d[2][0] - d[1][0])
    ddy = 2 * s * (d[1][1] - d[0][1]) + 2 * t * (d[2][1] - d[1][1])
    off = (x - point[0]) * dx + (y - point[1]) * dy
    slope = dx * dx + dy * dy + (x - point[0]) * ddx + (y - point[1]) * ddy
    return min(max(t - off / slope, 0.0), 1.0) if abs(slope) > 1e-12 else t


def _worst(curve: Curve, points: Sequence[Point], places: Sequence[float]) -> tuple[float, int]:
    """The square of the largest distance, and which inner point has it."""
    worst, at = 0.0, len(points) // 2
    for number in range(1, len(points) - 1):
        x, y = on_curve(curve, places[number])
        far = (x - points[number][0]) ** 2 + (y - points[number][1]) ** 2
        if far > worst:
            worst, at = far, number
    return worst, at


def _unit(start: Point, end: Point) -> Point:
    x, y = end[0] - start[0], end[1] - start[1]
    length = hypot(x, y)
    return (x / length, y / length) if length else (1.0, 0.0)


def _along(point: Point, way: Point, far: float) -> Point:
    return point[0] + way[0] * far, point[1] + way[1] * far
