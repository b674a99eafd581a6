"""Outlines of plain shapes, in points, y downward."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from math import cos, pi, sin

from lexigon.core.geometry import Point, Polygon, Rect, corner_fit
from lexigon.core.path.steps import Step, Steps

KAPPA = 0.5522847498
"""Handle length of a quarter circle drawn as one cubic curve, 4/3 (sqrt 2 - 1)."""


def polygon_path(points: Sequence[Point], closed: bool = True) -> Steps:
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


ROUND = ("round", "round", "round", "round")


def cornered_path(rect: Rect, radii: tuple[float, float, float, float], kinds: Sequence[str] = ROUND) -> Steps:
    """A box whose corners are taken off by so much, given from the head's left clockwise: ``round``, ``hollow`` (a
    round about the corner itself), ``cut`` straight, or a square ``notch``. Those that would overlap are made smaller
    together."""
    fit = corner_fit(rect, radii)
    corners = ((rect.x, rect.y), (rect.right, rect.y), (rect.right, rect.foot), (rect.x, rect.foot))
    ways = ((1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0))
    """Along the sides, clockwise from the head."""
    a, fy = radii[0] * fit, rect.y
    steps: list[Step] = [("M", ((rect.x + a, fy),))]
    for at in (1, 2, 3, 0):
        x, y = corners[at]
        (ix, iy), (ox, oy), r = ways[at - 1], ways[at], radii[at] * fit
        before, behind = (x - ix * r, y - iy * r), (x + ox * r, y + oy * r)
        steps.append(("L", (before,)))
        if not r:
            continue
        k = r * KAPPA
        if kinds[at] == "round":
            steps.append(
                ("C", ((before[0] + ix * k, before[1] + iy * k), (behind[0] - ox * k, behind[1] - oy * k), behind))
            )
        elif kinds[at] == "hollow":
            steps.append(
                ("C", ((before[0] + ox * k, before[1] + oy * k), (behind[0] - ix * k, behind[1] - iy * k), behind))
            )
        elif kinds[at] == "notch":
            steps += [("L", ((before[0] + ox * r, before[1] + oy * r),)), ("L", (behind,))]
        else:
            steps.append(("L", (behind,)))
    return (*steps, ("Z", ()))


def star_polygon(points: int, depth: float) -> Polygon:
    """A star with one point at the top, stretched to fill the unit square. ``depth`` is how far its inner corners lie
    from the tips towards the middle, as a part of the way."""
    radii = (1.0, 1.0 - depth)
    corners = [(radii[i % 2] * sin(pi * i / points), -radii[i % 2] * cos(pi * i / points)) for i in range(2 * points)]
    (left, right), (top, foot) = ((min(v), max(v)) for v in zip(*corners, strict=True))
    return tuple((round((x - left) / (right - left), 6), round((y - top) / (foot - top), 6)) for x, y in corners)


@lru_cache(64)
def star_depth(corners: Polygon) -> int:
    """Return how deep a star is, in whole percents, if these corners are one; else 0."""
    if len(corners) < 6 or len(corners) % 2:
        return 0
    points = len(corners) // 2
    return next((depth for depth in range(1, 100) if star_polygon(points, depth / 100) == corners), 0)
