"""Modules as outlines: all that hangs together is one, so that no seams are seen between modules."""

from __future__ import annotations

from functools import lru_cache

from lexigon.core.codes.modules import Modules
from lexigon.core.geometry import Point, Rect

Corner = tuple[int, int]


@lru_cache(256)
def traced(rows: tuple[tuple[bool, ...], ...]) -> tuple[tuple[Corner, ...], ...]:
    """The outlines of the dark modules, as corners on the grid of modules, dark on the right hand. The even-odd rule
    and the nonzero rule fill them with the same result."""
    wide = len(rows[0]) + 1
    edges, second = _edges(rows)
    loops = []
    while edges:
        start = at = next(iter(edges))
        step = 0
        way: list[tuple[int, int]] = []  # each corner with the step that leaves it
        while at != start or not way:
            step = _leave(edges, second, at, step, wide)
            way.append((at, step))
            at += step
        turns = zip((way[-1], *way), way, strict=False)
        loops.append(tuple([divmod(at, wide)[::-1] for (_, before), (at, step) in turns if step != before]))
    return tuple(loops)


def _edges(rows: tuple[tuple[bool, ...], ...]) -> tuple[dict[int, int], dict[int, int]]:
    """The edges between dark and light modules, clockwise about the dark ones: from each corner, by its number on the
    grid, to the next, and a second one where two modules touch at a corner."""
    import numpy as np  # which only codes need here

    dark = np.pad(np.array(rows, dtype=bool), 1)
    here, wide = dark[1:-1, 1:-1], len(rows[0]) + 1
    light = (~dark[:-2, 1:-1], ~dark[1:-1, 2:], ~dark[2:, 1:-1], ~dark[1:-1, :-2])  # above, right, below, left
    begin, step = np.array([0, 1, wide + 1, wide]), np.array([1, wide, -1, -wide])
    y, x, side = np.nonzero(np.stack([here & one for one in light], axis=2))
    starts = y * wide + x + begin[side]
    edges: dict[int, int] = {}
    second: dict[int, int] = {}
    for at, to in zip(starts.tolist(), (starts + step[side]).tolist(), strict=True):
        (second if at in edges else edges)[at] = to
    return edges, second


def _leave(edges: dict[int, int], second: dict[int, int], at: int, before: int, wide: int) -> int:
    """Take the edge that continues from a corner, and return its step. Where two modules touch at a corner, take the
    one to the right of the step ``before``, so that each keeps a separate outline."""
    if at not in second:
        return edges.pop(at) - at
    first, other = edges[at] - at, second.pop(at) - at
    if _turn(before, other, wide) > _turn(before, first, wide):
        return other
    edges[at] = at + other
    return first


def _turn(before: int, step: int, wide: int) -> int:
    """Return 1 for a turn to the right, -1 to the left, 0 for none."""
    across, down = (before, 0) if abs(before) == 1 else (0, before // wide)
    return across * (0 if abs(step) == 1 else step // wide) - down * (step if abs(step) == 1 else 0)


def module_size(modules: Modules, rect: Rect) -> float:
    """Return the size of a module in a box, in points, with the quiet zone inside the box."""
    return min(rect.width, rect.height) / modules.across


def outlines_in(modules: Modules, rect: Rect) -> list[tuple[Point, ...]]:
    """The outlines of a code in the middle of a box."""
    size = module_size(modules, rect)
    columns, rows = len(modules.rows[0]), len(modules.rows)
    x, y = rect.x + (rect.width - size * columns) / 2, rect.y + (rect.height - size * rows) / 2
    xs, ys = [x + u * size for u in range(columns + 1)], [y + v * size for v in range(rows + 1)]
    return [tuple([(xs[u], ys[v]) for u, v in loop]) for loop in traced(modules.rows)]
