"""Delimited text (RFC 4180 and its relatives): rows on lines, values with a separator between them, quoted or not."""

from __future__ import annotations

import csv
import io
import re
from collections import Counter

from lexigon.core.merge.model import RecordError

SEPARATORS = {
    ",": "comma",
    ";": "semicolon",
    "\t": "tab",
    "|": "vertical bar",
    ":": "colon",
    "^": "caret",
    "~": "tilde",
}
"""The separators that are recognised, by preference, with their names. Any other character can be asked for."""
SAMPLE_ROWS = 100
SAMPLE = 200_000
"""Rows and characters that are read to find the separator."""
_DECLARED = re.compile(r"\"?sep=(.)\"?\n", re.I)
"""A first line that names the separator, as some spreadsheets write it (common practice, no source)."""


def read_delimited(text: str, separator: str = "") -> tuple[list[list[str]], str]:
    """Return rows of values and the separator between them. Values may be in double quotation marks, or in single ones
    where that is usual in the file; spaces after separators are left out where there is one after each. Raises
    RecordError for a quotation mark that is never closed, and for a separator that cannot be one."""
    declared = _DECLARED.match(text)
    if declared:
        text = text[declared.end() :]
        separator = separator or declared[1]
    if separator and (len(separator) != 1 or separator in "\"'\n "):
        raise RecordError("A separator is one character other than a quotation mark or a space.")
    separator = separator or find_separator(text)
    sample = text[:SAMPLE]
    spaced = separator in sample and not re.search(re.escape(separator) + r"[^ \n]", sample)
    rows: list[list[str]] = []
    reader = csv.reader(
        io.StringIO(text), delimiter=separator, quotechar=_quotation_mark(sample, separator), skipinitialspace=spaced
    )
    try:
        rows.extend(reader)
    except csv.Error as error:
        raise RecordError(
            f"Row {len(rows) + 1} cannot be read: a quotation mark in it is never closed, so that everything after it "
            "is one value. Delete or double it."
        ) from error
    return rows, separator


def _quotation_mark(sample: str, separator: str) -> str:
    """The quotation mark around values: the single one if there is a value in it for each row on average, and none in
    double ones."""
    bound = re.escape(separator)
    quoted = {
        mark: len(re.findall(rf"(?m)(?:^|{bound}) ?{mark}[^{mark}\n]*{mark}(?= ?{bound}|$)", sample)) for mark in "\"'"
    }
    return "'" if not quoted['"'] and quoted["'"] > sample.count("\n") else '"'


def find_separator(text: str) -> str:
    """Return the character that parts most rows into the same number of values, at least two; of several the one that
    makes more of them. Text without any is one column, read as if its separator were a comma that does not occur."""
    sample = text[:SAMPLE]
    if len(text) > SAMPLE:
        sample = sample[: sample.rfind("\n") + 1] or sample
    best, chosen, unclosed = (0.0, 0), "", ""
    for separator in SEPARATORS:
        try:
            reader = csv.reader(io.StringIO(sample), delimiter=separator)
            lengths = [len(row) for _, row in zip(range(SAMPLE_ROWS), reader, strict=False) if row]
        except csv.Error:  # a quotation mark is never closed, which is reported when all rows are read
            unclosed = unclosed or (separator if separator in sample else "")
            continue
        counts = Counter(lengths)
        usual, rows = max(counts.items(), key=lambda pair: (pair[1], pair[0]), default=(1, 0))
        if usual < 2:
            continue
        score = (round(rows / len(lengths), 1), usual)
        if score > best:
            best, chosen = score, separator
    return chosen or unclosed or ("," if "," not in sample else "\t")
