"""Shapes of the display list: filled and stroked outlines in points, y downward."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache

from lexigon.core.geometry import Point, Rect
from lexigon.core.job.model import Fill, Stroke

NO_FILL, NO_STROKE = Fill(), Stroke(0.0)

KAPPA = 0.5522847498
"""Handle length of a quarter circle drawn as one cubic curve, 4/3 (sqrt 2 - 1)."""

Segment = tuple[str, tuple[Point, ...]]
"""One step of an outline: "M" or "L" with a point, "C" with three, "Z" with none."""


@dataclass(slots=True, frozen=True)
class ShapeArt:
    path: tuple[Segment, ...]
    fill: Fill = NO_FILL
    stroke: Stroke = NO_STROKE
    even_odd: bool = False
    """What lies within an even number of outlines is left out."""


def polygon_path(points: tuple[Point, ...], closed: bool = True) -> tuple[Segment, ...]:
    steps: list[Segment] = [("M" if i == 0 else "L", (point,)) for i, point in enumerate(points)]
    return (*steps, ("Z", ())) if closed else tuple(steps)


def rect_path(rect: Rect) -> tuple[Segment, ...]:
    return polygon_path(((rect.x, rect.y), (rect.right, rect.y), (rect.right, rect.foot), (rect.x, rect.foot)))


def line_path(x0: float, y0: float, x1: float, y1: float) -> tuple[Segment, ...]:
    return polygon_path(((x0, y0), (x1, y1)), closed=False)


def ellipse_path(rect: Rect) -> tuple[Segment, ...]:
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
def unit_path(data: str) -> tuple[Segment, ...]:
    """A path's steps from its data; what cannot be read is left out."""
    made: list[Segment] = []
    for step, numbers in _STEP.findall(data):
        try:
            values = [float(part) for part in numbers.split()]
        except ValueError:
            continue
        points = tuple(zip(values[::2], values[1::2], strict=False))
        if len(points) == {"M": 1, "L": 1, "C": 3, "Z": 0}[step]:
            made.append((step, points))
    return tuple(made)


def data_path(data: str, rect: Rect) -> tuple[Segment, ...]:
    """A path given in parts of a box, as it lies in that box."""
    return tuple(
        (step, tuple((rect.x + u * rect.width, rect.y + v * rect.height) for u, v in points))
        for step, points in unit_path(data)
    )
