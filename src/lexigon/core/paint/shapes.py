"""Outlines of plain shapes, in points, y downward."""

from __future__ import annotations

import re
from functools import lru_cache

from lexigon.core.geometry import Point, Rect
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
