"""The outlines of glyphs, as the font draws them."""

from __future__ import annotations

from functools import lru_cache

from lexigon.core.geometry import Point, Polygon
from lexigon.core.type.fonts import FontFace

FLATTENING = 8
"""Pieces a curve is cut into where a polygon is wanted."""

Step = tuple[str, tuple[Point, ...]]


@lru_cache(4096)
def glyph_path(face: FontFace, glyph: int) -> tuple[Step, ...]:
    """A glyph's outline in font units, y upward: "M" and "L" with a point, "C" with three, "Z" with none."""
    pen = _Steps()
    face.hb_font.draw_glyph_with_pen(glyph, pen)
    return tuple(pen.made)


class _Steps:
    """A pen in fontTools' sense that writes down what HarfBuzz draws."""

    def __init__(self) -> None:
        self.made: list[Step] = []
        self.at: Point = (0.0, 0.0)

    def moveTo(self, to: Point) -> None:
        self._step("M", to)

    def lineTo(self, to: Point) -> None:
        self._step("L", to)

    def curveTo(self, *points: Point) -> None:
        self._step("C", *points)

    def qCurveTo(self, control: Point, end: Point) -> None:
        """A curve with one control point as one with two (its degree raised)."""
        self._step("C", _part(self.at, control, 2 / 3), _part(end, control, 2 / 3), end)

    def closePath(self) -> None:
        self._step("Z")

    def endPath(self) -> None:
        self._step("Z")

    def _step(self, operator: str, *points: Point) -> None:
        self.made.append((operator, points))
        self.at = points[-1] if points else self.at


def _part(a: Point, b: Point, part: float) -> Point:
    return (a[0] + (b[0] - a[0]) * part, a[1] + (b[1] - a[1]) * part)


@lru_cache(2048)
def contours(face: FontFace, glyph: int) -> tuple[Polygon, ...]:
    """A glyph's contours as polygons in font units, y upward."""
    made: list[Polygon] = []
    points: list[Point] = []
    for step, operands in glyph_path(face, glyph):
        if step == "M":
            points = [operands[0]]
        elif step == "L":
            points.append(operands[0])
        elif step == "C":
            p0, (p1, p2, p3) = points[-1], operands
            for i in range(1, FLATTENING + 1):
                t = i / FLATTENING
                a, b, c, d = (1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t * t * (1 - t), t**3
                points.append(
                    (a * p0[0] + b * p1[0] + c * p2[0] + d * p3[0], a * p0[1] + b * p1[1] + c * p2[1] + d * p3[1])
                )
        elif len(points) > 2:
            made.append(tuple(points))
    return tuple(made)
