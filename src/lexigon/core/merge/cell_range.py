"""A range of the cells of a sheet, as spreadsheets write it: B3:F40, B3 (from there on), or 3:40 (whole rows)."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from lexigon.core.merge.model import RecordError

_RANGE = re.compile(r"(?P<left>[a-z]{0,3})(?P<top>\d{0,7})(?::(?P<right>[a-z]{0,3})(?P<foot>\d{0,7}))?", re.IGNORECASE)


@dataclass(slots=True, frozen=True)
class CellRange:
    """Rows and columns from 0; ``foot`` and ``right`` come after the last, None for all."""

    top: int = 0
    left: int = 0
    foot: int | None = None
    right: int | None = None

    def of(self, rows: Sequence[Sequence[str]]) -> list[list[str]]:
        """Return the values in the range."""
        return [list(row[self.left : self.right]) for row in rows[self.top : self.foot]]


def cell_range(text: str) -> CellRange:
    """Read a range; "" is all cells. Raises RecordError."""
    bare = text.replace("$", "").replace(" ", "")
    match = _RANGE.fullmatch(bare)
    if match is None:
        raise RecordError(
            f"“{text[:40]}” is not a range of cells such as B3:F40, or B3 for all from there on.", "cells"
        )
    top, left = max(int(match["top"] or 1) - 1, 0), max(_column(match["left"]) - 1, 0)
    foot = int(match["foot"]) if match["foot"] else None
    right = _column(match["right"]) if match["right"] else None
    if (foot is not None and foot <= top) or (right is not None and right <= left):
        raise RecordError(f"The range {bare.upper()} ends before it begins.", "cells")
    return CellRange(top, left, foot, right)


def _column(letters: str) -> int:
    """The number of a column from 1: A is 1, Z is 26, AA is 27; 0 without letters."""
    number = 0
    for letter in letters.upper():
        number = number * 26 + ord(letter) - 64
    return number
