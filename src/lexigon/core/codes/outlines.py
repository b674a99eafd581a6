"""Modules as outlines: all that hangs together is one, so that no seams are seen between modules."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache

from lexigon.core.codes.modules import Modules
from lexigon.core.geometry import Point, Rect

Corner = tuple[int, int]


@lru_cache(256)
def traced(rows: tuple[tuple[bool, ...], ...]) -> tuple[tuple[Corner, ...], ...]:
    """The outlines of the dark modules, as corners on the grid of modules, dark on the right hand. The even-odd rule
    and the nonzero rule fill them with the same result."""
    edges: dict[Corner, list[Corner]] = {}
    light = (False,) * (len(rows[0]) + 1)  # an index of -1 is the light module at the end of a row
    padded = [(*row, False) for row in rows]
    for y, (above, row, below) in enumerate(zip((light, *padded), padded, (*padded[1:], light), strict=False)):
        for x, dark in enumerate(row):
            if not dark:
                continue
            # an edge wherever the neighbour is light, clockwise about the module
            if not above[x]:
                edges.setdefault((x, y), []).append((x + 1, y))
            if not row[x + 1]:
                edges.setdefault((x + 1, y), []).append((x + 1, y + 1))
            if not below[x]:
                edges.setdefault((x + 1, y + 1), []).append((x, y + 1))
            if not row[x - 1]:
                edges.setdefault((x, y + 1), []).append((x, y))
    loops = []
    while edges:
        start = next(iter(edges))
        way = [start, _followed(edges, start, start)]
        while way[-1] != start:
            way.append(_followed(edges, way[-2], way[-1]))
        loops.append(tuple(_corners(way)))
    return tuple(loops)


def _followed(edges: dict[Corner, list[Corner]], before: Corner, at: Corner) -> Corner:
    """Take the edge that continues from a corner. Where two modules touch at a corner, take the one to the right, so
    that each keeps a separate outline."""
    ends = edges[at]
    if len(ends) == 1:
        del edges[at]
        return ends[0]
    end = max(ends, key=lambda to: (at[0] - before[0]) * (to[1] - at[1]) - (at[1] - before[1]) * (to[0] - at[0]))
    ends.remove(end)
    return end


def _corners(way: list[Corner]) -> Iterator[Corner]:
    """The points of a closed way at which it turns; its last is its first again."""
    for before, at, after in zip((way[-2], *way), way[:-1], way[1:], strict=False):
        if (at[0] - before[0], at[1] - before[1]) != (after[0] - at[0], after[1] - at[1]):
            yield at


def module_size(modules: Modules, rect: Rect) -> float:
    """Return the size of a module in a box, in points, with the quiet zone inside the box."""
    return min(rect.width, rect.height) / modules.across


def outlines_in(modules: Modules, rect: Rect) -> list[tuple[Point, ...]]:
    """The outlines of a code in the middle of a box."""
    size = module_size(modules, rect)
    x = rect.x + (rect.width - size * len(modules.rows[0])) / 2
    y = rect.y + (rect.height - size * len(modules.rows)) / 2
    return [tuple((x + u * size, y + v * size) for u, v in loop) for loop in traced(modules.rows)]
