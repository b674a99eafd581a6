"""Inserting and deleting rows and columns of tables, merging and splitting cells: each returns a new table."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.document.model import Cell, TableColumn, TextTable
from lexigon.core.tables.grid import PlacedCell, placed_cells

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

    def holds(self, one: PlacedCell) -> bool:
        """Return whether some of a cell lies in it."""
        return (
            self.top < one.row + one.down
            and one.row <= self.bottom
            and self.left < one.column + one.across
            and one.column <= self.right
        )

    def grown(self, cells: Iterable[PlacedCell]) -> Range:
        """The smallest rectangle around it that cuts through no cell."""
        range_ = self
        remaining = list(cells)
        while True:
            inside = [one for one in remaining if range_.holds(one)]
            larger = Range(
                min([range_.top, *(one.row for one in inside)]),
                min([range_.left, *(one.column for one in inside)]),
                max([range_.bottom, *(one.row + one.down - 1 for one in inside)]),
                max([range_.right, *(one.column + one.across - 1 for one in inside)]),
            )
            if larger == range_:
                return range_
            range_ = larger


def within(table: TextTable, selection: Range) -> tuple[Range, list[PlacedCell]]:
    """The rectangle that is meant, cut to the table and grown round the cells it cuts through, and those cells."""
    cells = placed_cells(table)
    high, wide = len(table.rows), max((one.column + one.across for one in cells), default=0)
    cut = Range(
        min(selection.top, high - 1),
        min(selection.left, wide - 1),
        min(selection.bottom, high - 1),
        min(selection.right, wide - 1),
    ).grown(cells)
    return cut, [one for one in cells if cut.holds(one)]


def rows_of(cells: Iterable[PlacedCell], count: int) -> tuple[tuple[Cell, ...], ...]:
    """The rows of placed cells, each from left to right."""
    rows: list[list[PlacedCell]] = [[] for _ in range(count)]
    for one in cells:
        rows[one.row].append(one)
    return tuple(
        tuple(replace(one.cell, across=one.across, down=one.down) for one in sorted(row, key=lambda one: one.column))
        for row in rows
    )


def put_in(table: TextTable, way: Way, at: int, count: int, empty: Empty) -> TextTable:
    """Insert ``count`` rows or columns before number ``at``: cells that span that place span them, too; the others are
    ``empty``."""
    cells = placed_cells(table)
    high, wide = len(table.rows), max((one.column + one.across for one in cells), default=0)
    cells_: list[PlacedCell] = []
    crossed: set[int] = set()
    for one in cells:
        first, size = (one.row, one.down) if way == "rows" else (one.column, one.across)
        if first >= at:
            cells_.append(_moved(one, way, count, 0))
        elif first + size > at:
            cells_.append(_moved(one, way, 0, count))
            side = range(one.column, one.column + one.across) if way == "rows" else range(one.row, one.row + one.down)
            crossed.update(side)
        else:
            cells_.append(one)
    for along in range(wide if way == "rows" else high):
        if along in crossed:
            continue
        for more in range(count):
            row, column = (at + more, along) if way == "rows" else (along, at + more)
            cells_.append(PlacedCell(empty(row, column), row, column, 1, 1, 0))
    if way == "rows":
        heads = table.heads + count if at < table.heads else table.heads
        foots = table.foots + count if at > high - table.foots else table.foots
        return replace(table, rows=rows_of(cells_, high + count), heads=heads, foots=foots)
    sizes = table.sizes
    if at < len(sizes):
        sizes = (*sizes[:at], *([TableColumn()] * count), *sizes[at:])
    return replace(table, rows=rows_of(cells_, high), sizes=sizes)


def take_out(table: TextTable, way: Way, first: int, last: int) -> TextTable:
    """Delete the rows or columns from ``first`` to ``last``: cells that span more of them become smaller, and keep
    their words."""
    cells: list[PlacedCell] = []
    for one in placed_cells(table):
        at, size = (one.row, one.down) if way == "rows" else (one.column, one.across)
        gone = max(min(at + size - 1, last) - max(at, first) + 1, 0)
        if gone == size:
            continue
        moved = -max(min(at, last + 1) - first, 0)
        cells.append(_moved(one, way, moved, -gone))
    count = last - first + 1
    if way == "columns":
        return replace(
            table, rows=rows_of(cells, len(table.rows)), sizes=(*table.sizes[:first], *table.sizes[last + 1 :])
        )
    high = len(table.rows)
    heads = table.heads - len(range(first, min(last + 1, table.heads)))
    foots = table.foots - len(range(max(first, high - table.foots), last + 1))
    return replace(table, rows=rows_of(cells, high - count), heads=heads, foots=foots)


def _moved(one: PlacedCell, way: Way, by: int, more: int) -> PlacedCell:
    if way == "rows":
        return replace(one, row=one.row + by, down=one.down + more)
    return replace(one, column=one.column + by, across=one.across + more)


def part_of(table: TextTable, selection: Range) -> TextTable:
    """The cells of a rectangle as a table, with the part of its header and footer rows that is within."""
    span, cells = within(table, selection)
    count = span.bottom - span.top + 1
    moved = (replace(one, row=one.row - span.top, column=one.column - span.left) for one in cells)
    behind = len(table.rows) - table.foots
    return replace(
        table,
        rows=rows_of(moved, count),
        heads=max(min(table.heads - span.top, count), 0),
        foots=max(min(span.bottom + 1 - behind, count), 0),
        sizes=table.sizes[span.left : span.right + 1],
        source="",
        given=(),
    )


def joined(table: TextTable, selection: Range) -> TextTable:
    """Merge the cells of a rectangle, with the formatting of the first; the paragraphs of those that are not empty
    follow each other."""
    span, cells = within(table, selection)
    first = next(one for one in cells if (one.row, one.column) == (span.top, span.left))
    words = tuple(p for one in cells for p in one.cell.paragraphs if any(q.text for q in one.cell.paragraphs))
    whole = replace(first.cell, paragraphs=words or first.cell.paragraphs)
    big = PlacedCell(whole, span.top, span.left, span.right - span.left + 1, span.bottom - span.top + 1, 0)
    others = [one for one in placed_cells(table) if not span.holds(one)]
    return replace(table, rows=rows_of([*others, big], len(table.rows)))


def parted(table: TextTable, selection: Range, empty: Empty) -> TextTable:
    """Each cell of a rectangle that goes over several rows or columns as single ones; its words stay in the first."""
    span, _ = within(table, selection)
    cells: list[PlacedCell] = []
    for one in placed_cells(table):
        if not span.holds(one):
            cells.append(one)
            continue
        for row in range(one.row, one.row + one.down):
            for column in range(one.column, one.column + one.across):
                own = (row, column) == (one.row, one.column)
                cell = one.cell if own else replace(one.cell, paragraphs=empty(row, column).paragraphs)
                cells.append(PlacedCell(cell, row, column, 1, 1, 0))
    return replace(table, rows=rows_of(cells, len(table.rows)))
