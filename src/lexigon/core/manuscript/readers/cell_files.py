"""Files that tables take their words from: text with separated cells, and workbooks."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from lexigon.core.errors import LexigonError
from lexigon.core.manuscript.readers.decode import decode
from lexigon.core.manuscript.readers.workbook import Sheet, is_workbook, sheets_in
from lexigon.core.tables.delimited import cells_of, written
from lexigon.core.tables.shapes import Range

MOST_NAMED = 5
"""The most cells that a warning names."""
BETWEEN = ", "
"""What stands between the name of a workbook and that of its sheet."""


@dataclass(slots=True, frozen=True)
class CellFile:
    """The cells of a file as text, their separator ("" to find it), and the name of their source."""

    source: str
    words: str
    parted: Literal["", "\t"] = ""
    merged: tuple[Range, ...] = ()
    unvalued: tuple[str, ...] = ()
    """The references of formulas that have no stored value."""

    @property
    def warning(self) -> str:
        """A warning about formulas without a value, or "" if there are none."""
        count = len(self.unvalued)
        if not count:
            return ""
        cells = ", ".join(self.unvalued[:MOST_NAMED]) + (" and others" if count > MOST_NAMED else "")
        which = "1 formula has" if count == 1 else f"{count} formulas have"
        return (
            f"{which} no stored value and left {'its cell' if count == 1 else 'their cells'} empty: {cells}. "
            "Open the workbook in a spreadsheet program, save it, and update the table."
        )

    @property
    def rows(self) -> list[list[str]]:
        return cells_of(self.words, self.parted)


@dataclass(slots=True, frozen=True)
class Choice:
    """The sheets of a workbook, one of which is to be selected."""

    sheets: tuple[str, ...]


def cells_in(data: bytes, name: str, language: str, sheet: str = "", before: str = "") -> CellFile | Choice:
    """Return what a file holds for a table; of a workbook with several sheets that called ``sheet``, else the one that
    the table came from ``before``. Raises LexigonError for what holds no cells."""
    if not is_workbook(data):
        return CellFile(name, decode(data).text)
    sheets = {one.name: one for one in sheets_in(data, language)}
    sheet_name = sheet or before.removeprefix(name + BETWEEN)
    if len(sheets) == 1 and not sheet:
        (only,) = sheets.values()
        return _of_sheet(name, only)
    if sheet_name in sheets:
        return _of_sheet(name + BETWEEN + sheet_name, sheets[sheet_name])
    if sheet:
        raise LexigonError(f"There is no sheet “{sheet}” in “{name}”: it has {named(list(sheets))}.")
    return Choice(tuple(sheets))


def _of_sheet(source: str, sheet: Sheet) -> CellFile:
    return CellFile(source, written(sheet.rows), "\t", sheet.merged, sheet.unvalued)


def named(names: Sequence[str]) -> str:
    """Names in words."""
    quoted = [f"“{name}”" for name in names]
    return " and ".join([", ".join(quoted[:-1]), quoted[-1]] if len(quoted) > 1 else quoted)
