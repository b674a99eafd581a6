"""Reading a file of records in any format, recognised by its content and not by its name."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import PurePosixPath

from lexigon.core.manuscript.readers.archive import Archive
from lexigon.core.manuscript.readers.workbook import is_workbook, sheets_in
from lexigon.core.merge.cell_range import cell_range
from lexigon.core.merge.model import LARGEST, FileKind, Recognition, RecordError, Records, records_from
from lexigon.core.merge.readers.delimited import read_delimited
from lexigon.core.merge.readers.encodings import decoded
from lexigon.core.merge.readers.json_records import read_json
from lexigon.core.merge.readers.ods import is_ods, read_ods
from lexigon.core.merge.readers.vcard import is_vcard, read_vcards

SUFFIXES = (".csv", ".tsv", ".tab", ".txt", ".xlsx", ".ods", ".json", ".vcf")
MOST_NAMED = 5
PACKED = b"PK\x03\x04"
OLD = b"\xd0\xcf\x11\xe0"


def read_records(
    data: bytes,
    *,
    encoding: str = "",
    separator: str = "",
    sheet: str = "",
    cells: str = "",
    header: bool | None = None,
    language: str = "en-GB",
) -> tuple[Records, Recognition]:
    """Return the records of a file, and how it was read. What is given is not guessed: the ``encoding`` and the
    ``separator`` of text, the ``sheet`` of a workbook, the range of ``cells`` of a sheet or of delimited text
    (``cell_range``), whether its first row is a ``header``. ``language`` is that in which a workbook shows numbers and
    dates. Raises RecordError, or LexigonError for a workbook that cannot be read."""
    if len(data) > LARGEST:
        raise RecordError(
            f"The file has {len(data) / 1e6:.0f} MB; a file of records has at most {LARGEST // 10**6} MB. Split it "
            "into several files."
        )
    if not data.strip():
        raise RecordError("The file is empty.")
    if data.startswith(OLD):
        raise RecordError("This is an old or a locked workbook. Save it as XLSX, ODS or CSV without a password.")
    if data.startswith(PACKED) and (file := _file_in(data)) is not None:
        name, data = file
        settings = {"encoding": encoding, "separator": separator, "sheet": sheet, "cells": cells}
        records, recognition = read_records(data, **settings, header=header, language=language)
        return records, replace(recognition, file=name)
    if data.startswith(PACKED):
        kind, sheets = _sheets(data, language)
        name = _sheet_named(sheets, sheet)
        records, named, ragged = _within(sheets[name], cells, header)
        return records, Recognition(kind, sheet=name, sheets=tuple(sheets), header=named, ragged=ragged)
    text, encoding = decoded(data, encoding)
    if text.lstrip()[:1] in "[{" and not separator:
        records, _, _ = records_from(read_json(text), True)
        return records, Recognition("JSON", encoding)
    if is_vcard(text):
        records, _, _ = records_from(read_vcards(text), True)
        return records, Recognition("vCard", encoding)
    rows, separator = read_delimited(text, separator)
    records, named, ragged = _within(rows, cells, header)
    return records, Recognition("delimited", encoding, separator, header=named, ragged=ragged)


def _within(rows: Sequence[Sequence[str]], cells: str, header: bool | None) -> tuple[Records, bool, tuple[int, ...]]:
    """The records in a range of cells; rows of another length are numbered as in the file."""
    own = cell_range(cells)
    records, named, ragged = records_from(own.of(rows), header)
    return records, named, tuple(number + own.top for number in ragged)


def _file_in(data: bytes) -> tuple[str, bytes] | None:
    """The file of records in a zip file, such as one with the pictures that they name; None for a workbook. Raises
    RecordError if there is none, or more than one."""
    with Archive(data) as archive:
        if is_ods(archive) or is_workbook(data):
            return None
        names = sorted(name for name in archive.names if _is_file_of_records(name))
        if not names:
            raise RecordError("There is no file of records in this zip file: no CSV, XLSX, ODS, JSON or vCard.")
        if len(names) > 1:
            quoted = ", ".join(f"“{name}”" for name in names[:MOST_NAMED])
            more = f" and {len(names) - MOST_NAMED} more" if len(names) > MOST_NAMED else ""
            raise RecordError(
                f"There are several files of records in this zip file: {quoted}{more}. Import one of them."
            )
        return names[0], archive.data(names[0], LARGEST) or b""


def _is_file_of_records(name: str) -> bool:
    parts = PurePosixPath(name.replace("\\", "/")).parts
    own = bool(parts) and not parts[-1].startswith(".") and "__MACOSX" not in parts
    return own and name.lower().endswith(SUFFIXES)


def _sheets(data: bytes, language: str) -> tuple[FileKind, dict[str, list[list[str]]]]:
    with Archive(data) as archive:
        if is_ods(archive):
            return "spreadsheet", read_ods(archive)
    return "workbook", {one.name: [list(row) for row in one.rows] for one in sheets_in(data, language)}


def _sheet_named(sheets: dict[str, list[list[str]]], name: str) -> str:
    """The sheet of a name; without one the first that holds something."""
    if name and name not in sheets:
        quoted = ", ".join(f"“{one}”" for one in sheets)
        raise RecordError(f"There is no sheet “{name}” in this workbook: it has {quoted}.")
    filled = [one for one, rows in sheets.items() if any(map(any, rows))]
    if not name and not filled:
        raise RecordError("There are no records in this workbook: all its sheets are empty.")
    return name or filled[0]
