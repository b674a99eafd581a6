"""Rectangles and affine transforms. Lengths in points; x grows to the right, y downward from the page's head."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from math import cos, pi, radians, sin, tan


@dataclass(slots=True, frozen=True)
class Rect:
    """A rectangle by its top left corner and its size, in points."""

    x: float
    y: float
    width: float
    height: float

    @property
    def right(self) -> float:
        return self.x + self.width

    @property
    def foot(self) -> float:
        return self.y + self.height

    def inset(self, head: float, right: float, foot: float, left: float) -> Rect:
        """The rectangle with its edges moved inward (negative values move them out)."""
        return Rect(self.x + left, self.y + head, self.width - left - right, self.height - head - foot)

    def moved(self, dx: float, dy: float) -> Rect:
        return Rect(self.x + dx, self.y + dy, self.width, self.height)

    def overlaps(self, other: Rect, slack: float = 0.0) -> bool:
        """Return whether the two share an area that is wider and higher than ``slack``."""
        across = min(self.right, other.right) - max(self.x, other.x)
        down = min(self.foot, other.foot) - max(self.y, other.y)
        return across > slack and down > slack

    def within(self, other: Rect, slack: float = 0.0) -> bool:
        """Return whether it reaches nowhere further beyond the other than ``slack``."""
        return (
            self.x >= other.x - slack
            and self.y >= other.y - slack
            and self.right <= other.right + slack
            and self.foot <= other.foot + slack
        )

    def contains(self, x: float, y: float) -> bool:
        return self.x <= x <= self.right and self.y <= y <= self.foot


@dataclass(slots=True, frozen=True)
class Affine:
    """The map (x, y) -> (a x + c y + e, b x + d y + f), in the order PDF and SVG write it."""

    a: float = 1.0
    b: float = 0.0
    c: float = 0.0
    d: float = 1.0
    e: float = 0.0
    f: float = 0.0

    def then(self, other: Affine) -> Affine:
        """First this map, then ``other``."""
        return Affine(
            self.a * other.a + self.b * other.c,
            self.a * other.b + self.b * other.d,
            self.c * other.a + self.d * other.c,
            self.c * other.b + self.d * other.d,
            self.e * other.a + self.f * other.c + other.e,
            self.e * other.b + self.f * other.d + other.f,
        )

    def apply(self, x: float, y: float) -> tuple[float, float]:
        return self.a * x + self.c * y + self.e, self.b * x + self.d * y + self.f

    def inverse(self) -> Affine | None:
        """The map back; None where this one leaves no area."""
        det = self.a * self.d - self.b * self.c
        if abs(det) < 1e-12:
            return None
        a, b, c, d = self.d / det, -self.b / det, -self.c / det, self.a / det
        return Affine(a, b, c, d, -(a * self.e + c * self.f), -(b * self.e + d * self.f))

    @classmethod
    def move(cls, dx: float, dy: float) -> Affine:
        return cls(e=dx, f=dy)


Point = tuple[float, float]
Polygon = tuple[Point, ...]
"""Corners in order; the last is joined to the first. Even-odd where it crosses itself."""
Interval = tuple[float, float]


def polygon_of(rect: Rect) -> Polygon:
    return ((rect.x, rect.y), (rect.right, rect.y), (rect.right, rect.foot), (rect.x, rect.foot))


def ellipse_in(rect: Rect, corners: int = 72) -> Polygon:
    """The ellipse that touches the sides of a rectangle, as a polygon."""
    cx, cy, rx, ry = rect.x + rect.width / 2, rect.y + rect.height / 2, rect.width / 2, rect.height / 2
    angles = (2 * pi * i / corners for i in range(corners))
    return tuple((cx + rx * cos(a), cy + ry * sin(a)) for a in angles)


def rounded_box(rect: Rect, radii: tuple[float, float, float, float], corners: int = 8) -> Polygon:
    """A box with round corners, given from the head's left clockwise, as a polygon; ``corners`` points make one
    round."""
    fit = corner_fit(rect, radii)
    points: list[Point] = []
    for number, radius in enumerate(r * fit for r in radii):
        x = rect.x + radius if number in (0, 3) else rect.right - radius
        y = rect.y + radius if number < 2 else rect.foot - radius
        if not radius:
            points.append((x, y))
            continue
        begin = pi * (1 + number / 2)
        angles = (begin + pi / 2 * i / corners for i in range(corners + 1))
        points += [(x + radius * cos(a), y + radius * sin(a)) for a in angles]
    return tuple(points)


def corner_fit(rect: Rect, radii: tuple[float, float, float, float]) -> float:
    """By how much the rounds of a box's corners are made smaller so that no two overlap; 1 where they have room."""
    a, b, c, d = radii
    sums = ((a + b, rect.width), (c + d, rect.width), (a + d, rect.height), (b + c, rect.height))
    return min([1.0, *(room / both for both, room in sums if both > room)])


def regular_polygon(sides: int) -> Polygon:
    """A regular polygon with a corner at the top, stretched to fill the unit square."""
    corners = [(sin(2 * pi * i / sides), -cos(2 * pi * i / sides)) for i in range(sides)]
    (left, right), (top, foot) = ((min(v), max(v)) for v in zip(*corners, strict=True))
    return tuple((round((x - left) / (right - left), 6), round((y - top) / (foot - top), 6)) for x, y in corners)


def turned_about(rect: Rect, degrees: float) -> Affine:
    """The turn, clockwise on the page, about a rectangle's centre."""
    x, y, angle = rect.x + rect.width / 2, rect.y + rect.height / 2, radians(degrees)
    c, s = cos(angle), sin(angle)
    return Affine.move(-x, -y).then(Affine(c, s, -s, c)).then(Affine.move(x, y))


def mapped_about(rect: Rect, rotation: float, skew: float = 0.0, mirrored: bool = False) -> Affine:
    """A box mirrored, then skewed, then turned clockwise about its centre; angles in degrees."""
    x, y, angle = rect.x + rect.width / 2, rect.y + rect.height / 2, radians(rotation)
    c, s = cos(angle), sin(angle)
    leaning = Affine(-1.0 if mirrored else 1.0, 0.0, -tan(radians(skew)), 1.0)
    return Affine.move(-x, -y).then(leaning).then(Affine(c, s, -s, c)).then(Affine.move(x, y))


def _edges_in(polygon: Polygon, y0: float, y1: float) -> list[Interval]:
    """Return where the polygon's edges run within the band, projected on x."""
    intervals = []
    x2, y2 = polygon[-1]
    for x3, y3 in polygon:
        (xa, ya), (xb, yb) = ((x2, y2), (x3, y3)) if y2 <= y3 else ((x3, y3), (x2, y2))
        x2, y2 = x3, y3
        if yb <= y0 or ya >= y1:
            continue
        if yb == ya:
            left, right = xa, xb
        else:
            slope = (xb - xa) / (yb - ya)
            left = xa + slope * (max(ya, y0) - ya)
            right = xa + slope * (min(yb, y1) - ya)
        intervals.append((left, right) if left <= right else (right, left))
    return intervals


def _inside_at(polygon: Polygon, y: float) -> list[Interval]:
    crossings = []
    x2, y2 = polygon[-1]
    for x3, y3 in polygon:
        if (y2 <= y) != (y3 <= y):
            crossings.append(x2 + (y - y2) * (x3 - x2) / (y3 - y2))
        x2, y2 = x3, y3
    crossings.sort()
    return list(zip(crossings[::2], crossings[1::2], strict=True))


def joined(intervals: Iterable[Interval]) -> list[Interval]:
    """The union, in order."""
    merged: list[Interval] = []
    for left, right in sorted(intervals):
        if merged and left <= merged[-1][1]:
            merged[-1] = (merged[-1][0], max(merged[-1][1], right))
        else:
            merged.append((left, right))
    return merged


def without(spans: Iterable[Interval], removed: Iterable[Interval]) -> list[Interval]:
    """Return what is left of ``spans`` when ``removed`` is cut out."""
    left = list(spans)
    for a, b in removed:
        left = [piece for x0, x1 in left for piece in ((x0, min(x1, a)), (max(x0, b), x1)) if piece[1] > piece[0]]
    return left


def touched(polygon: Polygon, y0: float, y1: float) -> list[Interval]:
    """The x at which any of the band between ``y0`` and ``y1`` lies in the polygon."""
    return joined([*_inside_at(polygon, (y0 + y1) / 2), *_edges_in(polygon, y0, y1)])


def within(polygon: Polygon, y0: float, y1: float) -> list[Interval]:
    """The x at which all of the band lies in it."""
    return without(_inside_at(polygon, (y0 + y1) / 2), _edges_in(polygon, y0, y1))
