"""Files that tables take their words from: text with cells parted by a sign, and workbooks."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from lexigon.core.errors import LexigonError
from lexigon.core.job.sheets import cells_of, written
from lexigon.core.job.tableshapes import Range
from lexigon.core.manuscript.decode import decode
from lexigon.core.manuscript.workbook import Sheet, is_workbook, sheets_in

MOST_NAMED = 5
"""The most cells that a warning names."""
BETWEEN = ", "
"""What stands between the name of a workbook and that of its sheet."""


@dataclass(slots=True, frozen=True)
class CellFile:
    """The cells of a file as text, by which sign they are parted ("" for one that is to be found), and what their source is called."""

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
    """The sheets of a workbook, one of which is to be chosen."""

    sheets: tuple[str, ...]


def cells_in(data: bytes, name: str, language: str, sheet: str = "", before: str = "") -> CellFile | Choice:
    """Return what a file holds for a table; of a workbook with several sheets that called ``sheet``, else the one that the table came from
    ``before``. Raises LexigonError for what holds no cells."""
    if not is_workbook(data):
        return CellFile(name, decode(data).text)
    found = {one.name: one for one in sheets_in(data, language)}
    wanted = sheet or before.removeprefix(name + BETWEEN)
    if len(found) == 1 and not sheet:
        (only,) = found.values()
        return _of_sheet(name, only)
    if wanted in found:
        return _of_sheet(name + BETWEEN + wanted, found[wanted])
    if sheet:
        raise LexigonError(f"There is no sheet “{sheet}” in “{name}”: it has {named(list(found))}.")
    return Choice(tuple(found))


def _of_sheet(source: str, sheet: Sheet) -> CellFile:
    return CellFile(source, written(sheet.rows), "\t", sheet.merged, sheet.unvalued)


def named(names: Sequence[str]) -> str:
    """Names in words."""
    quoted = [f"“{name}”" for name in names]
    return " and ".join([", ".join(quoted[:-1]), quoted[-1]] if len(quoted) > 1 else quoted)
