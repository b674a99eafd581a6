"""Outlines of plain shapes, in points, y downward."""

from __future__ import annotations

import re
from functools import lru_cache

from lexigon.core.geometry import Point, Rect, corner_fit
from lexigon.core.job.model import Outline
from lexigon.core.paint.items import Step, Steps

KAPPA = 0.5522847498
"""Handle length of a quarter circle drawn as one cubic curve, 4/3 (sqrt 2 - 1)."""


def polygon_path(points: tuple[Point, ...], closed: bool = True) -> Steps:
    steps: list[Step] = [("M" if i == 0 else "L", (point,)) for i, point in enumerate(points)]
    return (*steps, ("Z", ())) if closed else tuple(steps)


def rect_path(rect: Rect) -> Steps:
    return polygon_path(((rect.x, rect.y), (rect.right, rect.y), (rect.right, rect.foot), (rect.x, rect.foot)))


def line_path(x0: float, y0: float, x1: float, y1: float) -> Steps:
    return polygon_path(((x0, y0), (x1, y1)), closed=False)


def ellipse_path(rect: Rect) -> Steps:
    """The ellipse within a rectangle as four curves; off a true one by at most 0.03 % of its radius."""
    rx, ry = rect.width / 2, rect.height / 2
    cx, cy, hx, hy = rect.x + rx, rect.y + ry, rx * KAPPA, ry * KAPPA
    return (
        ("M", ((cx + rx, cy),)),
        ("C", ((cx + rx, cy + hy), (cx + hx, cy + ry), (cx, cy + ry))),
        ("C", ((cx - hx, cy + ry), (cx - rx, cy + hy), (cx - rx, cy))),
        ("C", ((cx - rx, cy - hy), (cx - hx, cy - ry), (cx, cy - ry))),
        ("C", ((cx + hx, cy - ry), (cx + rx, cy - hy), (cx + rx, cy))),
        ("Z", ()),
    )


def rounded_path(rect: Rect, radii: tuple[float, float, float, float]) -> Steps:
    """A box with round corners, given from the head's left clockwise. Those that would overlap are made smaller together."""
    fit = corner_fit(rect, radii)
    a, b, c, d = (radius * fit for radius in radii)
    x0, y0, x1, y1 = rect.x, rect.y, rect.right, rect.foot
    k = 1 - KAPPA
    steps: tuple[Step, ...] = (
        ("M", ((x0 + a, y0),)),
        ("L", ((x1 - b, y0),)),
        ("C", ((x1 - b * k, y0), (x1, y0 + b * k), (x1, y0 + b))),
        ("L", ((x1, y1 - c),)),
        ("C", ((x1, y1 - c * k), (x1 - c * k, y1), (x1 - c, y1))),
        ("L", ((x0 + d, y1),)),
        ("C", ((x0 + d * k, y1), (x0, y1 - d * k), (x0, y1 - d))),
        ("L", ((x0, y0 + a),)),
        ("C", ((x0, y0 + a * k), (x0 + a * k, y0), (x0 + a, y0))),
        ("Z", ()),
    )
    return steps


def outline_path(outline: Outline | None, rect: Rect) -> tuple[Steps, bool]:
    """A frame's outline, and whether what lies within an even number of its rings is left out; without one its box."""
    if outline is None or (outline.kind == "polygon" and len(outline.points) < 3):
        return rect_path(rect), False
    if outline.kind == "box":
        return rounded_path(rect, outline.radii) if any(outline.radii) else rect_path(rect), False
    if outline.kind == "ellipse":
        return ellipse_path(rect), False
    if outline.kind == "path":
        return data_path(outline.data, rect), outline.even_odd
    return polygon_path(tuple((rect.x + u * rect.width, rect.y + v * rect.height) for u, v in outline.points)), True


_STEP = re.compile(r"([MLCZ])([^MLCZ]*)")


@lru_cache(256)
def unit_path(data: str) -> Steps:
    """A path's steps from its data; what cannot be read is left out."""
    made: list[Step] = []
    for step, numbers in _STEP.findall(data):
        try:
            values = [float(part) for part in numbers.split()]
        except ValueError:
            continue
        points = tuple(zip(values[::2], values[1::2], strict=False))
        if len(points) == {"M": 1, "L": 1, "C": 3, "Z": 0}[step]:
            made.append((step, points))
    return tuple(made)


def data_path(data: str, rect: Rect) -> Steps:
    """A path given in parts of a box, as it lies in that box."""
    return tuple(
        (step, tuple((rect.x + u * rect.width, rect.y + v * rect.height) for u, v in points))
        for step, points in unit_path(data)
    )
