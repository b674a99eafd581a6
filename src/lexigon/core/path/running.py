"""Places along an outline by the way to them, for what runs on it."""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import dataclass
from itertools import pairwise
from math import atan2, hypot

from lexigon.core.geometry import Point
from lexigon.core.path.steps import Steps, flattened, is_closed, subpaths

PIECES = 64


@dataclass(slots=True, frozen=True)
class Run:
    """The first line or ring of an outline, in short straight pieces: its corners, and how far each lies from the
    begin."""

    corners: tuple[Point, ...]
    ways: tuple[float, ...]
    closed: bool

    @property
    def length(self) -> float:
        return self.ways[-1]

    def at(self, way: float) -> tuple[Point, float]:
        """The point at a distance along the outline, and the direction there in radians, clockwise from the right. A
        closed outline starts over; beyond the ends of an open one, the line continues straight."""
        if self.closed and self.length:
            way %= self.length
        number = min(max(bisect_right(self.ways, way) - 1, 0), len(self.corners) - 2)
        (x0, y0), (x1, y1) = self.corners[number], self.corners[number + 1]
        step = self.ways[number + 1] - self.ways[number]
        part = (way - self.ways[number]) / step if step else 0.0
        return (x0 + (x1 - x0) * part, y0 + (y1 - y0) * part), atan2(y1 - y0, x1 - x0)


def run_of(steps: Steps) -> Run | None:
    """Return what can run along an outline's first part; None where that has no length. A ring begins at its foot, so
    that its middle is its head."""
    first = next(iter(subpaths(steps)), ())
    if not first:
        return None
    (ring,) = flattened(first, PIECES)
    closed = is_closed(first)
    corners = list(dict.fromkeys(ring)) if closed else [p for n, p in enumerate(ring) if n == 0 or p != ring[n - 1]]
    if closed and corners:
        foot = max(range(len(corners)), key=lambda n: (round(corners[n][1], 6), -corners[n][0]))
        corners = [*corners[foot:], *corners[: foot + 1]]
    if len(corners) < 2:
        return None
    ways = [0.0]
    for (x0, y0), (x1, y1) in pairwise(corners):
        ways.append(ways[-1] + hypot(x1 - x0, y1 - y0))
    return Run(tuple(corners), tuple(ways), closed) if ways[-1] else None
