"""Spreadsheets in OpenDocument format (ISO/IEC 26300-1, 9): each cell as its program showed it last."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from lexigon.core.document.limits import MOST_FIELDS, MOST_RECORDS
from lexigon.core.manuscript.readers.archive import Archive
from lexigon.core.merge.model import RecordError

TABLE = "{urn:oasis:names:tc:opendocument:xmlns:table:1.0}"
TEXT = "{urn:oasis:names:tc:opendocument:xmlns:text:1.0}"
OFFICE = "{urn:oasis:names:tc:opendocument:xmlns:office:1.0}"


def is_ods(archive: Archive) -> bool:
    """Return whether an archive is a spreadsheet in this format."""
    kind = (archive.data("mimetype", 200) or b"").decode("ascii", "replace").strip()
    return kind.startswith("application/vnd.oasis.opendocument.spreadsheet")


def read_ods(archive: Archive) -> dict[str, list[list[str]]]:
    """Return the rows of each sheet, by its name. Rows and cells that are repeated are written out, but for those at
    the end that are empty. Raises RecordError for a file that is locked or damaged."""
    if b"encryption-data" in (archive.data("META-INF/manifest.xml", 2_000_000) or b""):
        raise RecordError("This spreadsheet is locked with a password. Save it without one and import it again.")
    root = archive.xml("content.xml")
    body = root.find(f"{OFFICE}body/{OFFICE}spreadsheet") if root is not None else None
    if body is None:
        raise RecordError("This spreadsheet is damaged: it has no sheets.")
    return {table.get(f"{TABLE}name", "Sheet"): list(_rows(table)) for table in body.iter(f"{TABLE}table")}


def _rows(table: Any) -> Iterator[list[str]]:
    empty, count = 0, 0
    for row in table.iter(f"{TABLE}table-row"):
        times = _repeated(row, "number-rows-repeated")
        values = _values(row)
        if not values:
            empty += times
            continue
        count += empty + times
        if count > MOST_RECORDS + 1:
            raise RecordError(f"A sheet has at most {MOST_RECORDS:,} records.")
        for _ in range(empty):
            yield []
        empty = 0
        for _ in range(times):
            yield list(values)


def _values(row: Any) -> list[str]:
    values: list[str] = []
    empty = 0
    for cell in row:
        if cell.tag not in (f"{TABLE}table-cell", f"{TABLE}covered-table-cell"):
            continue
        times = _repeated(cell, "number-columns-repeated")
        text = "\n".join(_text(paragraph) for paragraph in cell.findall(f"{TEXT}p"))
        if not text:
            empty += times
            continue
        if len(values) + empty + times > MOST_FIELDS + 1:
            raise RecordError(f"A record has at most {MOST_FIELDS} fields.")
        values += [""] * empty + [text] * times
        empty = 0
    return values


def _repeated(element: Any, name: str) -> int:
    written = element.get(TABLE + name, "1")
    return int(written) if written.isdecimal() and len(written) < 12 else 1


def _text(paragraph: Any) -> str:
    """The text of a paragraph, with its spaces, tabs and line breaks (ISO/IEC 26300-1, 6.1)."""
    parts = [paragraph.text or ""]
    for child in paragraph:
        if child.tag == f"{TEXT}s":
            count = child.get(f"{TEXT}c", "1")
            parts.append(" " * min(int(count) if count.isdecimal() and len(count) < 5 else 1, 1000))
        elif child.tag in (f"{TEXT}tab", f"{TEXT}line-break"):
            parts.append("\t" if child.tag == f"{TEXT}tab" else "\n")
        elif child.tag != f"{OFFICE}annotation":
            parts.append(_text(child))
        parts.append(child.tail or "")
    return "".join(parts)
