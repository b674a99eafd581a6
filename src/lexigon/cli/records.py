"""``lexigon records``: how a file of records is read, and values computed from it."""

from __future__ import annotations

import argparse
import csv
import io
import json
import sys
from dataclasses import asdict
from pathlib import Path

from lexigon.cli.files import OutFile
from lexigon.cli.options import FINDINGS, REPEATABLE, add_json
from lexigon.core.errors import LexigonError
from lexigon.core.merge.expressions import Surroundings, computed
from lexigon.core.merge.files import FileNames
from lexigon.core.merge.kinds import FieldFacts, field_facts
from lexigon.core.merge.model import LARGEST, Recognition, Records
from lexigon.core.merge.readers.delimited import SEPARATORS
from lexigon.core.merge.reading import read_records
from lexigon.core.plural import counted

DESCRIPTION = (
    "Show how a file of records (CSV and other delimited text, XLSX, ODS, JSON, vCard) is read: its separator and "
    "encoding,\nits fields, what their values are, and its first records. What is recognised wrongly can be set."
)
EXAMPLES = (
    "lexigon records wardens.csv",
    "lexigon records wardens.csv --separator ';' --encoding Windows-1252 --rows 10",
    'lexigon records prices.xlsx --sheet Shop --compute \'label=upper(name) & ", " & number(price, "#,##0.00")\'',
)
ROWS = 5
WIDEST = 24
"""Characters of a value that are shown in a column."""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("records", help="the file of records")
    parser.add_argument("--encoding", default="", help="encoding of text, such as Windows-1252 (default: recognised)")
    parser.add_argument("--separator", default="", help="the character between values, or “tab” (default: recognised)")
    parser.add_argument("--sheet", default="", help="sheet of a workbook (default: the first that is not empty)")
    parser.add_argument("--cells", default="", help="range of cells, such as B3:F40, or B3 for all from there on")
    parser.add_argument(
        "--header",
        action=argparse.BooleanOptionalAction,
        default=None,
        help="whether the first row has the names of the fields (default: recognised)",
    )
    parser.add_argument("--language", default="en-GB", help="language for numbers and dates (default: %(default)s)")
    parser.add_argument(
        "--compute",
        action="append",
        default=[],
        metavar="NAME=EXPRESSION",
        help=f"add a computed field; {REPEATABLE}",
    )
    parser.add_argument(
        "--files", metavar="FOLDER", help="the folder of the pictures that records name: report those that are missing"
    )
    parser.add_argument("--rows", type=int, default=ROWS, help="number of records shown (default: %(default)s)")
    parser.add_argument("-o", "--output", metavar="FILE", help="write the records as CSV in UTF-8")
    add_json(parser)


def run(options: argparse.Namespace) -> int:
    path = Path(options.records)
    if path.stat().st_size > LARGEST:
        raise LexigonError(
            f"“{path.name}” has {path.stat().st_size / 1e6:,.0f} MB; a file of records has at most "
            f"{LARGEST // 10**6} MB. Split it into several files."
        )
    records, recognition = read_records(
        path.read_bytes(),
        encoding=options.encoding,
        separator="\t" if options.separator.casefold() == "tab" else options.separator,
        sheet=options.sheet,
        cells=options.cells,
        header=options.header,
        language=options.language,
    )
    for field in options.compute:
        name, equals, expression = field.partition("=")
        if not equals or not name.strip():
            raise LexigonError(f"“{field[:60]}” is not a computed field such as “label=upper(name)”.")
        records = computed(records, name, expression, Surroundings(options.language))
    facts = [field_facts(name, records.column(name)) for name in records.fields]
    if options.output:
        _write(records, Path(options.output))
    if options.json:
        sample = [records.record(number) for number in range(min(options.rows, len(records.rows)))]
        described = {"recognised": asdict(recognition), "count": len(records.rows)}
        print(
            json.dumps(
                {**described, "fields": list(map(asdict, facts)), "records": sample}, indent=2, ensure_ascii=False
            )
        )
    else:
        for line in (*_recognised(records, recognition), "", *_fields(facts), "", *_rows(records, options.rows)):
            print(line)
    missing = _missing_files(records, facts, Path(options.files)) if options.files else []
    for line in missing:
        print(f"lexigon: {line}", file=sys.stderr)
    return FINDINGS if missing else 0


def _missing_files(records: Records, facts: list[FieldFacts], folder: Path) -> list[str]:
    """What is wrong with the files that fields of pictures name, one line each."""
    if not folder.is_dir():
        raise LexigonError(f"“{folder}” is not a folder.")
    names = FileNames(path.relative_to(folder).as_posix() for path in folder.rglob("*") if path.is_file())
    lines = []
    for field in (one.name for one in facts if one.kind == "picture"):
        for number, value in enumerate(records.column(field), 1):
            match = names.match(value)
            suggestions = " or ".join(f"“{name}”" for name in match.files)
            faults = {
                "near": f"“{value}” is not in the folder. Is it {suggestions}?",
                "missing": f"“{value}” is not in the folder.",
                "outside": f"“{value}” is outside the folder.",
            }
            if match.state in faults:
                lines.append(f"Record {number}, {field}: {faults[match.state]}")
    return lines


def _recognised(records: Records, recognition: Recognition) -> list[str]:
    kinds = {"delimited": "Delimited text", "workbook": "Workbook (XLSX)", "spreadsheet": "Spreadsheet (ODS)"}
    lines = [f"{kinds.get(recognition.kind, recognition.kind)}: {counted(len(records.rows), 'record')}"]
    if recognition.file:
        lines.append(f"File in the zip file: {recognition.file}")
    if recognition.separator:
        lines.append(f"Separator: {SEPARATORS.get(recognition.separator, recognition.separator)}")
    if recognition.encoding:
        lines.append(f"Encoding: {recognition.encoding}")
    if recognition.sheet:
        lines.append(f"Sheet: {recognition.sheet} (of {', '.join(recognition.sheets)})")
    lines.append(f"Names of fields: {'the first row' if recognition.header else 'none in the file'}")
    if recognition.ragged:
        rows = ", ".join(map(str, recognition.ragged[:10]))
        lines.append(
            f"Rows with more or fewer values than most: {rows}{' and more' if len(recognition.ragged) > 10 else ''}"
        )
    return lines


def _fields(facts: list[FieldFacts]) -> list[str]:
    width = max(len(one.name) for one in facts)
    lines = []
    for one in facts:
        notes = [f"{one.different:,} different"]
        notes += [f"{one.empty:,} empty"] if one.empty else []
        notes += [f"{len(one.odd):,} unlike the others (record {one.odd[0] + 1})"] if one.odd else []
        lines.append(f"{one.name:{width}}  {one.kind:11}  {', '.join(notes)}")
    return lines


def _rows(records: Records, count: int) -> list[str]:
    rows = [records.fields, *records.rows[: max(count, 0)]]
    cells = [[" ".join(value.split()) for value in row] for row in rows]
    cells = [[value if len(value) <= WIDEST else value[: WIDEST - 1] + "…" for value in row] for row in cells]
    widths = [max(len(row[at]) for row in cells) for at in range(len(records.fields))]
    return ["  ".join(f"{value:{width}}" for value, width in zip(row, widths, strict=True)).rstrip() for row in cells]


def _write(records: Records, target: Path) -> None:
    text = io.StringIO()
    csv.writer(text).writerows([records.fields, *records.rows])
    with OutFile(target) as stream:
        stream.write(text.getvalue().encode())
    print(f"{target}: {counted(len(records.rows), 'record')}", file=sys.stderr)
