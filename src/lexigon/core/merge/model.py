"""Records: rows of values under the names of fields, and what was recognised in the file that they come from."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.document.limits import MOST_FIELDS, MOST_RECORDS
from lexigon.core.errors import LexigonError
from lexigon.core.merge.kinds import kind_of_value
from lexigon.core.numerals import integer

MOST_VALUE = 20_000
"""Characters of one value."""
LARGEST = 100_000_000
"""Bytes of a file of records."""


class RecordError(LexigonError):
    """A file whose records cannot be read, or not as it was asked for; nothing was changed."""


FileKind = Literal["delimited", "workbook", "spreadsheet", "JSON", "vCard"]


@dataclass(slots=True, frozen=True)
class Recognition:
    """How a file was read. Each value can be set instead by who knows better."""

    kind: FileKind
    encoding: str = ""
    """Of text: “UTF-8”, “UTF-16”, “Windows-1252” and others (``readers.encodings``)."""
    separator: str = ""
    """Of delimited text: the character between the values of a row."""
    sheet: str = ""
    sheets: tuple[str, ...] = ()
    """The sheets of a workbook, and that which was read."""
    header: bool = True
    """The first row has the names of the fields."""
    ragged: tuple[int, ...] = ()
    """The rows of the file (from 1) with more or fewer values than most."""
    file: str = ""
    """Of a zip file: the name of the file in it."""


@dataclass(slots=True, frozen=True)
class Records:
    """Rows of values, all as long as ``fields``."""

    fields: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]

    def column(self, field: str) -> list[str]:
        """Return the values of a field. Raises RecordError if there is none of that name."""
        at = self.index(field)
        return [row[at] for row in self.rows]

    def index(self, field: str) -> int:
        """Return the number of a field, by its name in any case. Raises RecordError if there is none."""
        names = [name.casefold() for name in self.fields]
        if field.casefold() not in names:
            raise RecordError(f"There is no field “{field}”. The fields are {', '.join(self.fields)}.")
        return names.index(field.casefold())

    def record(self, number: int) -> dict[str, str]:
        """Return a record as values by the names of fields."""
        return dict(zip(self.fields, self.rows[number], strict=True))

    def with_field(self, name: str, values: Sequence[str]) -> Records:
        """Return the records with one more field."""
        (unique,) = unique_names([name], self.fields)
        rows = tuple((*row, value) for row, value in zip(self.rows, values, strict=True))
        return replace(self, fields=(*self.fields, unique), rows=rows)


def records_from(rows: Sequence[Sequence[str]], header: bool | None = None) -> tuple[Records, bool, tuple[int, ...]]:
    """Return rows of a file as records, whether the first was taken as the names of fields, and the numbers (from 1)
    of rows of another length than most. Empty rows are left out; values that are missing are empty.

    Without ``header`` the first row is taken as names if its values are all there, differ, and are no numbers or dates
    (common practice, no source). Raises RecordError for more records or fields than can be merged.
    """
    numbered = [(number, row) for number, row in enumerate(rows, 1) if any(value.strip() for value in row)]
    if not numbered:
        raise RecordError("There are no records in this file: all its rows are empty.")
    lengths = [len(row) for _, row in numbered]
    usual, width = max(set(lengths), key=lambda length: (lengths.count(length), length)), max(lengths)
    if width > MOST_FIELDS:
        raise RecordError(f"A record has at most {MOST_FIELDS} fields; this file has {integer(width)} columns.")
    ragged = tuple(number for (number, _), length in zip(numbered, lengths, strict=True) if length != usual)
    first = list(numbered[0][1])
    named = looks_like_names(first) if header is None else header
    body = numbered[1:] if named else numbered
    if len(body) > MOST_RECORDS:
        raise RecordError(
            f"A record set has at most {integer(MOST_RECORDS)} records; this file has {integer(len(body))}. "
            "Split it into several files."
        )
    names = [*first, *[""] * (width - len(first))] if named else [""] * width
    values = []
    for number, row in body:
        if (longest := max(map(len, row), default=0)) > MOST_VALUE:
            raise RecordError(
                f"A value in row {integer(number)} has {integer(longest)} characters; "
                f"{integer(MOST_VALUE)} are the most. Is a quotation mark missing there?"
            )
        values.append((*row, *[""] * (width - len(row))))
    return Records(tuple(unique_names(names)), tuple(values)), named, ragged


_BRACKETS = str.maketrans("{}[]", "()()")
"""Braces and brackets enclose the names of fields where text and expressions use them."""


def unique_names(names: Sequence[str], others: Sequence[str] = ()) -> list[str]:
    """Return the names of fields: on one line, with parentheses for brackets, none empty, none twice or among
    ``others``."""
    used = {name.casefold() for name in others}
    unique = []
    for number, name in enumerate(names, 1):
        bare = " ".join(name.translate(_BRACKETS).split())[:80] or f"Column {number}"
        candidate, count = bare, 2
        while candidate.casefold() in used:
            candidate, count = f"{bare} {count}", count + 1
        used.add(candidate.casefold())
        unique.append(candidate)
    return unique


def looks_like_names(row: Sequence[str]) -> bool:
    """Return whether the values of a row may be the names of fields."""
    bare = [value.strip().casefold() for value in row]
    return all(bare) and len(set(bare)) == len(bare) and all(kind_of_value(value) == "text" for value in row)
