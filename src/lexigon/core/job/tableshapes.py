"""Tables with rows and columns put in and taken out, cells joined and parted: made from a table, none changed in place."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.job.model import Cell, TableColumn, TextTable
from lexigon.core.job.tablegrid import Placed, placed_cells

Way = Literal["rows", "columns"]
Empty = Callable[[int, int], Cell]
"""Makes an empty cell for a row and a column."""


@dataclass(slots=True, frozen=True)
class Range:
    """A rectangle of a table's grid, all four included."""

    top: int
    left: int
    bottom: int
    right: int

    def holds(self, one: Placed) -> bool:
        """Return whether some of a cell lies in it."""
        return (
            self.top < one.row + one.down
            and one.row <= self.bottom
            and self.left < one.column + one.across
            and one.column <= self.right
        )

    def grown(self, cells: Iterable[Placed]) -> Range:
        """The smallest rectangle around it that cuts through no cell."""
        made = self
        held = list(cells)
        while True:
            inside = [one for one in held if made.holds(one)]
            larger = Range(
                min([made.top, *(one.row for one in inside)]), min([made.left, *(one.column for one in inside)]),
                max([made.bottom, *(one.row + one.down - 1 for one in inside)]), max([made.right, *(one.column + one.across - 1 for one in inside)]),
            )  # fmt: skip
            if larger == made:
                return made
            made = larger


def within(table: TextTable, asked: Range) -> tuple[Range, list[Placed]]:
    """The rectangle that is meant, cut to the table and grown round the cells it cuts through, and those cells."""
    cells = placed_cells(table)
    high, wide = len(table.rows), max((one.column + one.across for one in cells), default=0)
    cut = Range(
        min(asked.top, high - 1), min(asked.left, wide - 1), min(asked.bottom, high - 1), min(asked.right, wide - 1)
    ).grown(cells)
    return cut, [one for one in cells if cut.holds(one)]


def rows_of(cells: Iterable[Placed], count: int) -> tuple[tuple[Cell, ...], ...]:
    """The rows of placed cells, each from left to right."""
    rows: list[list[Placed]] = [[] for _ in range(count)]
    for one in cells:
        rows[one.row].append(one)
    return tuple(
        tuple(replace(one.cell, across=one.across, down=one.down) for one in sorted(row, key=lambda one: one.column)) for row in rows
    )  # fmt: skip


def put_in(table: TextTable, way: Way, at: int, count: int, empty: Empty) -> TextTable:
    """``count`` rows or columns put in before number ``at``: cells that go over that place go on over them, the others are ``empty``."""
    cells = placed_cells(table)
    high, wide = len(table.rows), max((one.column + one.across for one in cells), default=0)
    made: list[Placed] = []
    crossed: set[int] = set()
    for one in cells:
        first, size = (one.row, one.down) if way == "rows" else (one.column, one.across)
        if first >= at:
            made.append(_moved(one, way, count, 0))
        elif first + size > at:
            made.append(_moved(one, way, 0, count))
            side = range(one.column, one.column + one.across) if way == "rows" else range(one.row, one.row + one.down)
            crossed.update(side)
        else:
            made.append(one)
    for along in range(wide if way == "rows" else high):
        if along in crossed:
            continue
        for more in range(count):
            row, column = (at + more, along) if way == "rows" else (along, at + more)
            made.append(Placed(empty(row, column), row, column, 1, 1, 0))
    if way == "rows":
        heads = table.heads + count if at < table.heads else table.heads
        foots = table.foots + count if at > high - table.foots else table.foots
        return replace(table, rows=rows_of(made, high + count), heads=heads, foots=foots)
    sizes = table.sizes
    if at < len(sizes):
        sizes = (*sizes[:at], *([TableColumn()] * count), *sizes[at:])
    return replace(table, rows=rows_of(made, high), sizes=sizes)


def take_out(table: TextTable, way: Way, first: int, last: int) -> TextTable:
    """The rows or columns from ``first`` to ``last`` taken out: cells that go over more are that much smaller, and keep their words."""
    made: list[Placed] = []
    for one in placed_cells(table):
        at, size = (one.row, one.down) if way == "rows" else (one.column, one.across)
        gone = max(min(at + size - 1, last) - max(at, first) + 1, 0)
        if gone == size:
            continue
        moved = -max(min(at, last + 1) - first, 0)
        made.append(_moved(one, way, moved, -gone))
    count = last - first + 1
    if way == "columns":
        return replace(
            table, rows=rows_of(made, len(table.rows)), sizes=(*table.sizes[:first], *table.sizes[last + 1 :])
        )
    high = len(table.rows)
    heads = table.heads - len(range(first, min(last + 1, table.heads)))
    foots = table.foots - len(range(max(first, high - table.foots), last + 1))
    return replace(table, rows=rows_of(made, high - count), heads=heads, foots=foots)


def _moved(one: Placed, way: Way, by: int, more: int) -> Placed:
    if way == "rows":
        return replace(one, row=one.row + by, down=one.down + more)
    return replace(one, column=one.column + by, across=one.across + more)


def part_of(table: TextTable, asked: Range) -> TextTable:
    """The cells of a rectangle as a table, its heads and feet as far as they lie in it."""
    span, cells = within(table, asked)
    count = span.bottom - span.top + 1
    moved = (replace(one, row=one.row - span.top, column=one.column - span.left) for one in cells)
    behind = len(table.rows) - table.foots
    return replace(
        table, rows=rows_of(moved, count), heads=max(min(table.heads - span.top, count), 0), foots=max(min(span.bottom + 1 - behind, count), 0),
        sizes=table.sizes[span.left : span.right + 1], source="", given=(),
    )  # fmt: skip


def joined(table: TextTable, asked: Range) -> TextTable:
    """The cells of a rectangle as one, with the looks of the first; the paragraphs of those that are not empty come behind each other."""
    span, cells = within(table, asked)
    first = next(one for one in cells if (one.row, one.column) == (span.top, span.left))
    words = tuple(p for one in cells for p in one.cell.paragraphs if any(q.text for q in one.cell.paragraphs))
    whole = replace(first.cell, paragraphs=words or first.cell.paragraphs)
    big = Placed(whole, span.top, span.left, span.right - span.left + 1, span.bottom - span.top + 1, 0)
    others = [one for one in placed_cells(table) if not span.holds(one)]
    return replace(table, rows=rows_of([*others, big], len(table.rows)))


def parted(table: TextTable, asked: Range, empty: Empty) -> TextTable:
    """Each cell of a rectangle that goes over several rows or columns as single ones; its words stay in the first."""
    span, _ = within(table, asked)
    made: list[Placed] = []
    for one in placed_cells(table):
        if not span.holds(one):
            made.append(one)
            continue
        for row in range(one.row, one.row + one.down):
            for column in range(one.column, one.column + one.across):
                own = (row, column) == (one.row, one.column)
                cell = one.cell if own else replace(one.cell, paragraphs=empty(row, column).paragraphs)
                made.append(Placed(cell, row, column, 1, 1, 0))
    return replace(table, rows=rows_of(made, len(table.rows)))
