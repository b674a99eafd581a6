"""Cells from the clipboard: what spreadsheets and text files put there, rows on lines, cells parted by tabs, commas or
semicolons (RFC 4180)."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable

from lexigon.core.document.limits import MOST_COLUMNS
from lexigon.core.errors import LexigonError
from lexigon.core.numerals import integer

MOST_ROWS = 10_000
MOST_LINE = 100_000
"""The number of characters of a line that are examined to find the separator: the CSV reader has a limit of its own."""
PARTED = ("\t", ";", ",", "|")


def cells_of(text: str, parted: str = "") -> list[list[str]]:
    """Rows of cells, all as long as the longest, separated by ``parted``, or by a character that is found. Raises
    LexigonError if a table cannot have as many."""
    text = text.replace("\r\n", "\n").replace("\r", "\n").strip("\n")
    if not text:
        return []
    try:
        rows = list(csv.reader(io.StringIO(text), delimiter=parted or _parted_by(text)))
    except csv.Error as error:  # a cell that is longer than any: a mark that opens it is never closed
        raise LexigonError(
            "These cells cannot be read: a quotation mark in them is never closed, so that everything after it is one "
            "cell. Delete or double it."
        ) from error
    wide = max(map(len, rows), default=0)
    if len(rows) > MOST_ROWS or wide > MOST_COLUMNS:
        raise LexigonError(f"A table has at most {integer(MOST_ROWS)} rows and {MOST_COLUMNS} columns.")
    return [[cell.strip() for cell in row] + [""] * (wide - len(row)) for row in rows if row or wide == 1]


def written(rows: Iterable[Iterable[str]]) -> str:
    """Rows of cells as spreadsheets take them: parted by tabs, what holds lines or quotation marks in quotation
    marks."""
    out = io.StringIO()
    csv.writer(out, delimiter="\t", lineterminator="\n").writerows(rows)
    return out.getvalue().rstrip("\n")


def _parted_by(text: str) -> str:
    """The character that separates cells: the first of those that occur equally often in every line outside quotation
    marks."""
    lines = text.split("\n")[:50]
    for sign in PARTED:
        counts = {len(next(csv.reader([line[:MOST_LINE]], delimiter=sign), [])) for line in lines if line}
        if counts and min(counts) > 1 and (sign == "\t" or len(counts) == 1):
            return sign
    return "\t"
