"""Workbooks (Office Open XML, ISO/IEC 29500-1, 18) as rows of words: each cell as its number format shows it, in a
language.

A workbook of some hundred kilobytes can unpack to a hundred megabytes of XML, so it is read in a separate process with
limits of memory and time: ``python -m`` this module reads one from its input, and writes its sheets, or why it cannot
be read, as JSON.
"""

from __future__ import annotations

import io
import json
import re
import sys
import zipfile
from collections.abc import Iterable, Iterator
from dataclasses import astuple, dataclass
from datetime import date, datetime, time, timedelta
from decimal import ROUND_HALF_UP, Decimal
from typing import Any
from xml.etree import ElementTree

from babel import UnknownLocaleError
from babel.core import Locale
from babel.dates import format_datetime

from lexigon.core.collation import decimal_sign, group_sign
from lexigon.core.document.limits import MOST_COLUMNS
from lexigon.core.manuscript.readers.archive import DAMAGED, Archive
from lexigon.core.manuscript.readers.decode import ManuscriptError
from lexigon.core.numerals import integer
from lexigon.core.sandbox import run_apart
from lexigon.core.tables.delimited import MOST_ROWS
from lexigon.core.tables.shapes import Range

SIGNATURE = b"PK\x03\x04"
MOST_UNPACKED = 120_000_000
"""Bytes of all parts of a workbook."""
SECONDS = 30
"""Of computing: the largest sheet that is allowed takes some 5."""
MOST_CELLS = 100_000
"""That hold something, in one sheet: a table of as many takes ten seconds to set."""
MOST_SEEN = 4_000_000
"""Cells that are looked at: each row goes as far as its last that has a format, which may be the 16,384th."""
STRICT = b"http://purl.oclc.org/ooxml/"
NAMES = {
    STRICT + b"spreadsheetml/main": b"http://schemas.openxmlformats.org/spreadsheetml/2006/main",
    STRICT + b"officeDocument/": b"http://schemas.openxmlformats.org/officeDocument/2006/",
}
"""The namespaces of the strict form (ISO/IEC 29500-1, annex A), and what they are called in the transitional one
(29500-4, annex A)."""
_PART = re.compile(
    r'"([^"]*)"|\\(.)|\[[^\[\]]*\]|_.|\*.|(AM/PM|A/P)|(General)|([0#?][0#?,.]*(?:E[+-]0+)?|[.][0#?]+)|(.)', re.I
)
"""A section of a number format: words, literal text, and placeholders for digits (18.8.31)."""


@dataclass(slots=True, frozen=True)
class Sheet:
    """A sheet of a workbook: its name, and its rows up to the last that holds something, all as long as the longest."""

    name: str
    rows: tuple[tuple[str, ...], ...]
    merged: tuple[Range, ...] = ()
    """Merged cells, counted from the first of ``rows``."""
    unvalued: tuple[str, ...] = ()
    """The references of formulas that are stored without a value, such as B4: their cells are empty."""


def is_workbook(data: bytes) -> bool:
    """Return whether some bytes are those of a workbook, whatever their file is called."""
    if not data.startswith(SIGNATURE):
        return False
    with Archive(data) as archive:
        return "xl/workbook.xml" in archive.names


def sheets_in(data: bytes, language: str) -> list[Sheet]:
    """The sheets of a workbook that hold something. Raises ManuscriptError for one that is damaged, locked, or holds
    more than a table."""
    try:
        answer = json.loads(run_apart(__name__, [language], SECONDS, data))
    except ValueError as error:
        raise ManuscriptError(
            f"This workbook is damaged, or takes more than {SECONDS} seconds to read. Save the sheet that you need as a"
            " separate file."
        ) from error
    if isinstance(answer, str):
        raise ManuscriptError(answer)
    return [
        Sheet(name, tuple(map(tuple, rows)), tuple(Range(*one) for one in merged), tuple(unvalued))
        for name, rows, merged, unvalued in answer
    ]


def main() -> None:
    """Read a workbook from the input, in the language that is named."""
    try:
        sheets = read_sheets(sys.stdin.buffer.read(), sys.argv[1])
        answer: Any = [[one.name, one.rows, [astuple(span) for span in one.merged], one.unvalued] for one in sheets]
    except ManuscriptError as error:
        answer = str(error)
    json.dump(answer, sys.stdout)


def read_sheets(data: bytes, language: str) -> list[Sheet]:
    """The same, read by this process."""
    data = _looked_through(data)
    import openpyxl  # slow to load, and seldom needed

    try:
        book = openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True, keep_links=False)
        with zipfile.ZipFile(io.BytesIO(data)) as package:
            sheets = [_sheet(sheet, package, language) for sheet in book.worksheets]
    except ManuscriptError:
        raise
    except Exception as error:  # what a damaged workbook makes of its reader is anybody's guess
        raise ManuscriptError(DAMAGED) from error
    filled = [one for one in sheets if one.rows]
    if not filled:
        raise ManuscriptError("The workbook is empty.")
    return filled


def _looked_through(data: bytes) -> bytes:
    """A workbook in the names that the older and commoner of the two forms of the standard has, which is the one that
    is read. Refuses what unpacks to far more than a table, and XML that defines entities."""
    parts: dict[str, bytes] = {}
    with Archive(data) as archive:
        left = MOST_UNPACKED
        for name in sorted(archive.names):
            part = archive.data(name, left) or b""
            left -= len(part)
            if name.endswith((".xml", ".rels")):
                if b"<!DOCTYPE" in part or b"<!ENTITY" in part:
                    raise ManuscriptError(DAMAGED)
                parts[name] = part
    if STRICT not in parts.get("xl/workbook.xml", b""):
        return data
    cleaned = io.BytesIO()
    with zipfile.ZipFile(cleaned, "w") as package:
        for name, part in parts.items():
            for strict, transitional in NAMES.items():
                part = part.replace(strict, transitional)
            package.writestr(name, part)
    return cleaned.getvalue()


def _sheet(sheet: Any, package: zipfile.ZipFile, language: str) -> Sheet:
    first, rows = _rows(sheet, language)
    merged, unvalued = _beside_cells(package.read(sheet._worksheet_path)) if rows else ([], [])
    own = (Range(one.top - first, one.left, one.bottom - first, one.right) for one in merged)
    last, right = len(rows) - 1, len(rows[0]) - 1 if rows else 0
    inside = (one for one in own if 0 <= one.top < last + 1 and one.left <= right)
    cut = (Range(one.top, one.left, min(one.bottom, last), min(one.right, right)) for one in inside)
    spans = sorted(
        (one for one in cut if (one.top, one.left) != (one.bottom, one.right)), key=lambda one: (one.top, one.left)
    )
    return Sheet(sheet.title, rows, tuple(spans), tuple(unvalued))


def _beside_cells(part: bytes) -> tuple[list[Range], list[str]]:
    """The merged cells of a sheet (ISO/IEC 29500-1, 18.3.1.55), counted from its first row, and the references of
    formulas without a value (18.3.1.40, 18.3.1.96), which the reader of the cells passes over in silence."""
    if b"mergeCell" not in part and not _FORMULA.search(part):
        return [], []
    merged: list[Range] = []
    unvalued: list[str] = []
    for _, one in ElementTree.iterparse(io.BytesIO(part)):
        name = one.tag.rpartition("}")[2]
        if name == "c":
            inside = {child.tag.rpartition("}")[2]: child.text for child in one}
            if "f" in inside and not inside.get("v"):
                unvalued.append(one.get("r") or "?")
        elif name == "mergeCell" and (match := _SPAN.fullmatch(one.get("ref") or "")):
            left, top, right, bottom = match.groups()
            merged.append(Range(int(top) - 1, _column(left), int(bottom) - 1, _column(right)))
        elif name == "row":
            one.clear()
    return merged, unvalued


_FORMULA = re.compile(rb"<(?:\w+:)?f[ />]")
_SPAN = re.compile(r"\$?([A-Z]{1,3})\$?([1-9]\d{0,6}):\$?([A-Z]{1,3})\$?([1-9]\d{0,6})")


def _column(letters: str) -> int:
    """The number of a column by its letters, from 0: A, B … Z, AA …"""
    number = 0
    for letter in letters:
        number = number * 26 + ord(letter) - ord("A") + 1
    return number - 1


def _rows(sheet: Any, language: str) -> tuple[int, tuple[tuple[str, ...], ...]]:
    """The number of the first row that holds something, and the words from there on."""
    sheet.reset_dimensions()  # a workbook says how large it is, and may be wrong
    rows: list[list[str]] = []
    empty = row_count = filled = first = 0
    for row in sheet.iter_rows():
        words = [_cell_text(cell, language) for cell in row]
        row_count += len(words)
        filled += sum(map(bool, words))
        if row_count > MOST_SEEN or filled > MOST_CELLS:
            raise ManuscriptError(
                f"A sheet has at most {integer(MOST_CELLS)} cells with content. Divide it into several sheets."
            )
        while words and not words[-1]:
            words.pop()
        if not words:
            empty += 1
            if empty > MOST_ROWS:
                break
            continue
        if rows:
            rows += [[] for _ in range(empty)]
        else:
            first = empty
        empty = 0
        rows.append(words)
        if len(rows) > MOST_ROWS or len(words) > MOST_COLUMNS:
            raise ManuscriptError(f"A table has at most {integer(MOST_ROWS)} rows and {MOST_COLUMNS} columns.")
    wide = max(map(len, rows), default=0)
    return first, tuple(tuple(row + [""] * (wide - len(row))) for row in rows)


def _cell_text(cell: Any, language: str) -> str:
    value = cell.value
    if value is None:
        return ""
    if isinstance(value, str):
        return value.replace("\r\n", "\n").strip()
    return format_cell(value, cell.number_format or "General", language)


def format_cell(value: Any, form: str, language: str) -> str:
    """A cell's value as its number format shows it: decimals, thousands separators, per cent, parts of dates; literal
    text as it is. Padding, colours and conditions are ignored."""
    if isinstance(value, bool):
        return "TRUE" if value else "FALSE"
    if isinstance(value, (datetime, date, time, timedelta)):
        return _moment(value, form, language)
    sections = form.split(";")
    number = Decimal(repr(value)) if isinstance(value, float) else Decimal(value)
    own = number < 0 and len(sections) > 1
    return _number(abs(number) if own else number, sections[1] if own else sections[0], language)


def _number(number: Decimal, form: str, language: str) -> str:
    parts = list(_PART.finditer(form))
    percent = any(part[6] == "%" for part in parts)
    figures = next((part[5] for part in parts if part[5]), None)
    if figures is None and not any(part[4] for part in parts):
        return _plain(number, language) if form in ("", "@", "General") else "".join(_words(parts))
    text = _figures(number * 100 if percent else number, figures, language)
    sign = "−" if text.startswith("-") else ""
    text = text.removeprefix("-")
    return sign + "".join(_words(parts, text)).strip()


def _words(parts: Iterable[re.Match[str]], figures: str = "") -> Iterator[str]:
    """Return the text of a section, with placeholders replaced by figures."""
    done = False
    for part in parts:
        if part[4] or part[5]:
            yield "" if done else figures
            done = True
        else:
            yield part[1] or part[2] or part[6] or ""


def _plain(number: Decimal, language: str) -> str:
    text = f"{float(number):.11g}" if number != number.to_integral() else f"{number:.0f}"
    return ("−" if number < 0 else "") + text.lstrip("-").replace(".", decimal_sign(language))


def _figures(number: Decimal, form: str | None, language: str) -> str:
    """A number by its digit placeholders: ``#,##0.00`` and the like; with a minus sign before it if negative."""
    if form is None:
        return _plain(number, language).replace("−", "-")
    form, _, power = form.strip().upper().partition("E")
    thousands = len(form) - len(form.rstrip(","))  # each comma after the figures divides by a thousand
    whole, _, part = form.rstrip(",").partition(".")
    digit_count = sum(c in "0#?" for c in part)
    least = sum(c == "0" for c in part)
    sign = decimal_sign(language)
    if power:
        return f"{number:.{digit_count}E}".replace(".", sign)
    number = (number / Decimal(1000) ** thousands).quantize(Decimal(1).scaleb(-digit_count), ROUND_HALF_UP)
    digits = f"{abs(number):,.{digit_count}f}"
    before, _, behind = digits.partition(".")
    before = before if "," in whole else before.replace(",", "")
    before = before.zfill(sum(c == "0" for c in whole)) if "," not in before else before
    before = "" if before == "0" and "0" not in whole else before
    behind = behind[:least] + behind[least:].rstrip("0")
    text = before.replace(",", group_sign(language)) + (sign + behind if behind else "")
    return ("-" if number < 0 else "") + (text or "0")


_DATE = re.compile(r'"[^"]*"|\\.|\[[^\[\]]*\]|_.|\*.|AM/PM|A/P|y+|m+|d+|h+|s+(?:\.0+)?|.', re.I)
_FIELDS = {
    "y": "yy",
    "yy": "yy",
    "yyy": "y",
    "yyyy": "y",
    "d": "d",
    "dd": "dd",
    "ddd": "EEE",
    "dddd": "EEEE",
    "s": "s",
    "ss": "ss",
}
_MONTHS = {"m": "M", "mm": "MM", "mmm": "MMM", "mmmm": "MMMM", "mmmmm": "MMMMM"}


def _moment(value: datetime | date | time | timedelta, form: str, language: str) -> str:
    """A date or a time by the parts that its format names, as CLDR writes them in a language."""
    if isinstance(value, timedelta):
        hours, left = divmod(int(value.total_seconds()), 3600)
        return f"{hours}:{left // 60:02}" + (f":{left % 60:02}" if "s" in form.lower() else "")
    if isinstance(value, time):
        value = datetime.combine(date(2000, 1, 1), value)
    elif not isinstance(value, datetime):
        value = datetime.combine(value, time())
    tokens = [part for part in _DATE.findall(form.split(";")[0]) if not part.startswith(("[", "_", "*"))]
    half = any(token.upper() in ("AM/PM", "A/P") for token in tokens)
    parts: list[str] = []
    after_hour = False
    for number, token in enumerate(tokens):
        low = token.lower()
        if low in ("am/pm", "a/p"):
            parts.append("a")
        elif low[0] == "h" and set(low) == {"h"}:
            parts.append(("h" if half else "H") * min(len(low), 2))
            after_hour = True
        elif low in _MONTHS:
            behind = next((one.lower()[0] for one in tokens[number + 1 :] if one[:1].isalpha()), "")
            parts.append("m" * len(low) if len(low) < 3 and (after_hour or behind == "s") else _MONTHS[low])
            after_hour = False
        elif low in _FIELDS or low.split(".")[0] in ("s", "ss"):
            parts.append(_FIELDS[low.split(".")[0]])
            after_hour = after_hour and low[0] == "s"
        else:
            word = token.strip('"') if token.startswith('"') else token.removeprefix("\\")
            parts.append("'" + word.replace("'", "''") + "'" if word else "")
    try:
        locale = Locale.parse(language.replace("-", "_"))
    except (ValueError, UnknownLocaleError):
        locale = Locale("en")
    if form == "General" or not any(parts):
        return format_datetime(value, "y-MM-dd", locale=locale)
    return str(format_datetime(value, "".join(parts), locale=locale)).strip()


if __name__ == "__main__":
    main()
