"""The outlines of glyphs, as the font draws them."""

from __future__ import annotations

from functools import lru_cache

from lexigon.core.geometry import Point, Polygon
from lexigon.core.path.steps import Step, flattened
from lexigon.core.type.fonts import FontFace

FLATTENING = 8
"""Pieces a curve is cut into where a polygon is wanted."""


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
    return tuple(ring for ring in flattened(glyph_path(face, glyph), FLATTENING) if len(ring) > 2)
