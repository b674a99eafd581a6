"""The outlines of glyphs, as the font draws them."""

from __future__ import annotations

import itertools
from functools import lru_cache

from fontTools.pens.recordingPen import DecomposingRecordingPen
from fontTools.ttLib import TTFont

from lexigon.core.geometry import Point, Polygon
from lexigon.core.type.fonts import FontFace

FLATTENING = 8
"""Pieces a curve is cut into where a polygon is wanted."""

Step = tuple[str, tuple[Point, ...]]


@lru_cache(4096)
def glyph_path(face: FontFace, glyph: int) -> tuple[Step, ...]:
    """A glyph's outline in font units, y upward: "M" and "L" with a point, "C" with three, "Z" with none."""
    with TTFont(face.path, lazy=True) as font:
        glyphs = font.getGlyphSet()
        pen = DecomposingRecordingPen(glyphs)
        glyphs[font.getGlyphName(glyph)].draw(pen)
    made: list[Step] = []
    at: Point = (0.0, 0.0)
    for operator, operands in pen.value:
        if operator in ("moveTo", "lineTo"):
            made.append(("M" if operator == "moveTo" else "L", (operands[0],)))
            at = operands[0]
        elif operator == "curveTo":
            made.append(("C", operands))
            at = operands[-1]
        elif operator == "qCurveTo":
            if operands[-1] is None:  # a contour without a point on it begins between its last and first control points
                controls = list(operands[:-1])
                at = _middle(controls[-1], controls[0])
                made.append(("M", (at,)))
                operands = (*controls, at)
            for control, end in _quadratics(operands):
                made.append(("C", (_part(at, control, 2 / 3), _part(end, control, 2 / 3), end)))
                at = end
        elif operator in ("closePath", "endPath"):
            made.append(("Z", ()))
    return tuple(made)


def _middle(a: Point, b: Point) -> Point:
    return ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)


def _part(a: Point, b: Point, part: float) -> Point:
    return (a[0] + (b[0] - a[0]) * part, a[1] + (b[1] - a[1]) * part)


def _quadratics(operands: tuple[Point, ...]) -> list[tuple[Point, Point]]:
    """A chain of TrueType curves as (control, end): between two controls in a row lies an end in their middle."""
    *controls, end = operands
    ends = [_middle(a, b) for a, b in itertools.pairwise(controls)]
    return list(zip(controls, [*ends, end], strict=True)) if controls else []


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
