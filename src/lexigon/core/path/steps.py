"""The steps of an outline, the text they are stored as, and measurements of them."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from functools import lru_cache
from itertools import pairwise
from math import hypot, inf, sqrt

from lexigon.core.geometry import Affine, Point, Polygon, Rect

Step = tuple[str, tuple[Point, ...]]
"""One step of an outline: "M" or "L" with a point, "C" with three, "Z" with none."""
Steps = tuple[Step, ...]

_STEP = re.compile(r"([MLCZ])([^MLCZ]*)")
_POINTS = {"M": 1, "L": 1, "C": 3, "Z": 0}


@lru_cache(256)
def steps_of(data: str) -> Steps:
    """A path's steps from its data (M x y, L x y, C with three points, Z); what cannot be read is left out."""
    steps: list[Step] = []
    for step, numbers in _STEP.findall(data):
        try:
            values = [float(part) for part in numbers.replace(",", " ").split()]
        except ValueError:
            continue
        points = tuple(zip(values[::2], values[1::2], strict=False))
        if len(points) == _POINTS[step]:
            steps.append((step, points))
    return tuple(steps)


def data_of(steps: Iterable[Step], places: int = 6) -> str:
    """The data of steps, with so many decimal places."""
    return "".join(step + " ".join(f"{_n(x, places)} {_n(y, places)}" for x, y in points) for step, points in steps)


def _n(value: float, places: int) -> str:
    text = f"{value:.{places}f}".rstrip("0").rstrip(".") if places else f"{value:.0f}"
    return "0" if text in ("-0", "") else text


def mapped_steps(steps: Iterable[Step], map_: Affine) -> Steps:
    """Return where an affine map puts an outline."""
    return tuple((step, tuple(map_.apply(x, y) for x, y in points)) for step, points in steps)


def in_box(steps: Iterable[Step], rect: Rect) -> Steps:
    """An outline given in fractions of a box, in the coordinates of that box."""
    return mapped_steps(steps, Affine(rect.width, 0.0, 0.0, rect.height, rect.x, rect.y))


def parts_of(steps: Iterable[Step], rect: Rect) -> Steps:
    """An outline in parts of a box; along a side of no length all is in the middle."""
    w, h = rect.width, rect.height
    return tuple(
        (step, tuple(((x - rect.x) / w if w else 0.5, (y - rect.y) / h if h else 0.5) for x, y in points))
        for step, points in steps
    )


def subpaths(steps: Iterable[Step]) -> list[Steps]:
    """An outline's rings and lines, each from its M on. What follows a Z without an M begins where the ring did."""
    subpaths: list[list[Step]] = []
    for step in steps:
        if step[0] == "M":
            subpaths.append([step])
        elif subpaths:
            if subpaths[-1][-1][0] == "Z":
                subpaths.append([subpaths[-1][0]])
            subpaths[-1].append(step)
    return [tuple(one) for one in subpaths if len(one) > 1]


def is_closed(subpath: Steps) -> bool:
    return bool(subpath) and subpath[-1][0] == "Z"


def segments(steps: Iterable[Step]) -> Iterator[tuple[Point, ...]]:
    """The lines (two points) and curves (four) of an outline, those that close a ring included."""
    start = at = (0.0, 0.0)
    for step, points in steps:
        if step == "M":
            start = at = points[0]
        elif step == "Z":
            if at != start:
                yield at, start
            at = start
        else:
            yield (at, *points)
            at = points[-1]


def on_curve(curve: tuple[Point, ...], t: float) -> Point:
    """The point of a line or a cubic curve at ``t``, 0 to 1."""
    if len(curve) == 2:
        (x0, y0), (x1, y1) = curve
        return x0 + (x1 - x0) * t, y0 + (y1 - y0) * t
    s = 1 - t
    a, b, c, d = s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t
    (x0, y0), (x1, y1), (x2, y2), (x3, y3) = curve
    return a * x0 + b * x1 + c * x2 + d * x3, a * y0 + b * y1 + c * y2 + d * y3


def split(curve: tuple[Point, ...], t: float) -> tuple[tuple[Point, ...], tuple[Point, ...]]:
    """A line or a curve cut in two at ``t`` (de Casteljau)."""
    rows = [list(curve)]
    while len(rows[-1]) > 1:
        row = rows[-1]
        rows.append([(x0 + (x1 - x0) * t, y0 + (y1 - y0) * t) for (x0, y0), (x1, y1) in pairwise(row)])
    return tuple(row[0] for row in rows), tuple(row[-1] for row in reversed(rows))


def flattened(steps: Iterable[Step], pieces: int = 16) -> list[Polygon]:
    """Each subpath as corners, its curves in so many lines."""
    polygons = []
    for subpath in subpaths(steps):
        corners = [subpath[0][1][0]]
        for curve in segments(subpath):
            if len(curve) == 2:
                corners.append(curve[1])
            else:
                corners += [on_curve(curve, i / pieces) for i in range(1, pieces + 1)]
        if len(corners) > 2 and corners[0] == corners[-1]:
            corners.pop()
        polygons.append(tuple(corners))
    return polygons


def area_of(polygon: Polygon) -> float:
    """Signed: positive where it runs clockwise on the page."""
    ends = zip(polygon, (*polygon[1:], *polygon[:1]), strict=True)
    return sum(x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in ends) / 2


def bounds(steps: Iterable[Step]) -> Rect | None:
    """The box round an outline, as tight as its curves allow; None where there is nothing."""
    xs: list[float] = []
    ys: list[float] = []
    for curve in segments(steps):
        for number, values in ((0, xs), (1, ys)):
            values += (curve[0][number], curve[-1][number])
            if len(curve) == 4:
                values += _extremes(*(point[number] for point in curve))
    if not xs:
        return None
    x, y = min(xs), min(ys)
    return Rect(x, y, max(xs) - x, max(ys) - y)


def _extremes(p0: float, p1: float, p2: float, p3: float) -> list[float]:
    """A cubic's values between its ends where it turns: the roots of its derivative."""
    a, b, c = p3 - 3 * p2 + 3 * p1 - p0, 2 * (p2 - 2 * p1 + p0), p1 - p0
    if abs(a) < 1e-12:
        roots = [-c / b] if abs(b) > 1e-12 else []
    else:
        inner = b * b - 4 * a * c
        roots = [] if inner < 0 else [(-b + sqrt(inner)) / (2 * a), (-b - sqrt(inner)) / (2 * a)]
    return [_cubic(p0, p1, p2, p3, t) for t in roots if 0 < t < 1]


def _cubic(p0: float, p1: float, p2: float, p3: float, t: float) -> float:
    s = 1 - t
    return s * s * s * p0 + 3 * s * s * t * p1 + 3 * s * t * t * p2 + t * t * t * p3


def covers(steps: Iterable[Step], even_odd: bool, at: Point) -> bool:
    """Return whether a point lies in an outline, by either way of counting its rings; open lines count as if they were
    closed."""
    x, y = at
    winding = 0
    for ring in flattened(steps):
        for (x0, y0), (x1, y1) in zip(ring, (*ring[1:], *ring[:1]), strict=True):
            if (y0 <= y) != (y1 <= y) and x < x0 + (y - y0) * (x1 - x0) / (y1 - y0):
                winding += 1 if y1 > y0 else -1
    return bool(winding % 2) if even_odd else winding != 0


def distance(steps: Iterable[Step], at: Point) -> float:
    """From a point to the nearest of an outline; infinite where there is none."""
    x, y = at
    nearest = inf
    for curve in segments(steps):
        places = [curve[0]] + [on_curve(curve, i / 16) for i in range(1, 17)] if len(curve) == 4 else list(curve)
        for (x0, y0), (x1, y1) in pairwise(places):
            dx, dy = x1 - x0, y1 - y0
            length = dx * dx + dy * dy
            t = min(max(((x - x0) * dx + (y - y0) * dy) / length, 0.0), 1.0) if length else 0.0
            nearest = min(nearest, hypot(x - x0 - t * dx, y - y0 - t * dy))
    return nearest
