"""The grid of a table: the rows and columns of its cells, and the rows that merged cells bind together."""

from __future__ import annotations

from dataclasses import dataclass

from lexigon.core.document.model import Cell, TextTable


@dataclass(slots=True, frozen=True)
class PlacedCell:
    """A cell in the grid of its table."""

    cell: Cell
    row: int
    column: int
    across: int
    down: int
    number: int
    """Which of the row's own cells it is."""


_CACHE: dict[int, tuple[TextTable, tuple[PlacedCell, ...]]] = {}
MOST_PLACED = 6
"""Tables whose cells' places are remembered: each is asked for several times in a row."""


def placed_cells(table: TextTable) -> tuple[PlacedCell, ...]:
    """The cells with their places: a cell that goes down over rows leaves no room for others there (HTML 4.01,
    11.2.6)."""
    cached = _CACHE.get(id(table))
    if cached is None or cached[0] is not table:
        if len(_CACHE) >= MOST_PLACED:
            _CACHE.clear()
        cached = _CACHE[id(table)] = table, tuple(_place_cells(table))
    return cached[1]


def _place_cells(table: TextTable) -> list[PlacedCell]:
    occupied: set[tuple[int, int]] = set()
    cells_: list[PlacedCell] = []
    count = len(table.rows)
    for row, cells in enumerate(table.rows):
        column = 0
        for number, cell in enumerate(cells):
            while (row, column) in occupied:
                column += 1
            down = min(cell.down, count - row)
            cells_.append(PlacedCell(cell, row, column, cell.across, down, number))
            if down > 1 and down * cell.across < 10_000:
                occupied |= {(row + r, column + c) for r in range(1, down) for c in range(cell.across)}
            column += cell.across
    return cells_


def cell_at(table: TextTable, row: int, column: int) -> PlacedCell | None:
    """The cell that covers a place in a table's grid."""
    over = (one for one in placed_cells(table) if one.row <= row < one.row + one.down)
    return next((one for one in over if one.column <= column < one.column + one.across), None)


def bands_of(table: TextTable) -> list[range]:
    """The rows that belong together, head rows as one band, foot rows as another."""
    ends = list(range(1, len(table.rows) + 1))
    count = len(table.rows)
    bound = {
        below
        for row, cells in enumerate(table.rows)
        for cell in cells
        if cell.down > 1
        for below in range(row + 1, min(row + cell.down, count))
    }
    bound |= set(range(1, min(table.heads, len(table.rows))))
    if table.heads + table.foots < len(table.rows):
        bound |= set(range(len(table.rows) - table.foots + 1, len(table.rows)))
    bands, first = [], 0
    for end in ends:
        if end not in bound:
            bands.append(range(first, end))
            first = end
    return bands
