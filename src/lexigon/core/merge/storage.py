"""The values of a record set as files of some rows each, so that editing a cell of many rows writes one small file.

A file is JSON: ``rows`` with the values of each, and ``off`` with the numbers of those in it that are left out of
merges. The record set lists the hashes of its files in order.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache
from pathlib import Path

from lexigon.core.document.model import RecordSet
from lexigon.core.merge.expressions import Expression, ExpressionError, Surroundings, read_expression
from lexigon.core.merge.model import MOST_VALUE, RecordError, Records

ROWS_PER_FILE = 200
LARGEST_FILE = 20_000_000
"""Bytes of one file of rows."""
Find = Callable[[str], Path | None]


@dataclass(slots=True, frozen=True)
class Row:
    """The values of a record, and whether it is merged."""

    values: tuple[str, ...]
    on: bool = True


@dataclass(slots=True, frozen=True)
class CellChange:
    """A value of a record, given by the number of its row from 0, or whether the record is merged."""

    row: int
    field: str = ""
    value: str = ""
    on: bool | None = None


def pack(rows: Sequence[Row]) -> tuple[tuple[str, ...], dict[str, bytes]]:
    """Return the hashes of the files of rows, in order, and their content by hash."""
    files = [packed(rows[start : start + ROWS_PER_FILE]) for start in range(0, len(rows), ROWS_PER_FILE)]
    return tuple(name for name, _ in files), dict(files)


def packed(rows: Sequence[Row]) -> tuple[str, bytes]:
    """Return the hash and the content of one file."""
    off = [number for number, row in enumerate(rows) if not row.on]
    data: dict[str, object] = {"rows": [row.values for row in rows]}
    content = json.dumps(data | ({"off": off} if off else {}), ensure_ascii=False, separators=(",", ":")).encode()
    return hashlib.sha256(content).hexdigest(), content


def unpacked(content: bytes, width: int) -> tuple[Row, ...]:
    """Return the rows of a file, each with ``width`` values. Raises RecordError for what is no such file."""
    try:
        if len(content) > LARGEST_FILE:
            raise ValueError("too large")
        data = json.loads(content)
        off = set(data.get("off", ()))
        rows = tuple(
            Row(tuple(str(value)[:MOST_VALUE] for value in (*row, *[""] * width)[:width]), number not in off)
            for number, row in enumerate(data["rows"][:ROWS_PER_FILE])
            if isinstance(row, list)
        )
    except (ValueError, KeyError, TypeError, AttributeError, RecursionError) as error:
        raise RecordError("The records of this job are damaged. Import them again.") from error
    return rows


@lru_cache(maxsize=64)
def _rows_in(path: Path, width: int) -> tuple[Row, ...]:
    """The rows of a file that is named by its content, and so never changes."""
    return unpacked(path.read_bytes(), width)


@dataclass(slots=True)
class RecordRows:
    """The rows of a record set, read from its files as they are needed."""

    records: RecordSet
    find: Find
    _expressions: list[tuple[str, Expression | ExpressionError]] | None = field(default=None, init=False)
    _paths: dict[int, Path] = field(default_factory=dict, init=False)
    """The paths of the files by their number: to find one takes much longer than to read a row."""

    def __len__(self) -> int:
        return self.records.count

    def row(self, number: int) -> Row:
        """Return a row by its number, from 0. Raises RecordError if its file is missing."""
        rows = self._file(number // ROWS_PER_FILE)
        at = number % ROWS_PER_FILE
        return rows[at] if at < len(rows) else Row(("",) * len(self.records.fields), False)

    def __iter__(self) -> Iterator[Row]:
        return (self.row(number) for number in range(len(self)))

    def _file(self, at: int) -> tuple[Row, ...]:
        path = self._paths.get(at)
        if path is None:
            path = self.find(self.records.files[at]) if at < len(self.records.files) else None
            if path is None:
                raise RecordError(f"A file with records of “{self.records.name}” is missing. Import them again.")
            self._paths[at] = path
        return _rows_in(path, len(self.records.fields))

    def expressions(self) -> list[tuple[str, Expression | ExpressionError]]:
        """Return the computed fields, each read once; one that cannot be read is its error."""
        if self._expressions is None:
            self._expressions = []
            names = list(self.records.fields)
            for one in self.records.computed:
                try:
                    self._expressions.append((one.name, read_expression(one.expression, names)))
                except ExpressionError as error:
                    self._expressions.append((one.name, error))
                names.append(one.name)
        return self._expressions

    def record(self, number: int, around: Surroundings) -> tuple[dict[str, str], tuple[str, ...]]:
        """Return a record with its computed fields, and what is wrong with those, in plain words. A computed field may
        use those before it."""
        record = dict(zip(self.records.fields, self.row(number).values, strict=True))
        faults = []
        for name, expression in self.expressions():
            try:
                if isinstance(expression, ExpressionError):
                    raise expression
                record[name] = expression.of(record, around)
            except RecordError as error:
                record[name] = ""
                faults.append(f"The computed field “{name}” has no value: {error}")
        return record, tuple(faults)

    def key(self, number: int, record: Mapping[str, str]) -> str:
        """Return what names a record: the value of the key field, or its number (from 1)."""
        return (record.get(self.records.key, "").strip() if self.records.key else "") or str(number + 1)

    def whole(self, around: Surroundings) -> Records:
        """Return all records with their computed fields, as ``lookup`` needs them."""
        names = self.records.names
        return Records(
            names,
            tuple(tuple(self.record(number, around)[0].get(name, "") for name in names) for number in range(len(self))),
        )

    def with_rows(self, changes: Mapping[int, Row]) -> tuple[RecordSet, dict[str, bytes]]:
        """Return the record set with some rows replaced, and the files that are new."""
        files, new = list(self.records.files), dict[str, bytes]()
        for at in sorted({number // ROWS_PER_FILE for number in changes}):
            rows = list(self._file(at))
            for number, row in changes.items():
                if number // ROWS_PER_FILE == at:
                    rows[number % ROWS_PER_FILE] = row
            name, content = packed(rows)
            files[at] = name
            new[name] = content
        return replace(self.records, files=tuple(files)), new


def record_set(key: str, name: str, records: Records, *, source: str = "") -> tuple[RecordSet, dict[str, bytes]]:
    """Return records that were read as a record set, and its files."""
    names, files = pack([Row(values) for values in records.rows])
    return RecordSet(key, name, records.fields, names, len(records.rows), source=source), files
