"""Files of records that others wrote: the open collection csv-spectrum (npm, BSD-2-Clause), workbooks of XlsxWriter,
spreadsheets of odfpy."""

from __future__ import annotations

import io
import json
from datetime import date
from pathlib import Path

import pytest
import xlsxwriter
from odf.opendocument import OpenDocumentSpreadsheet
from odf.table import Table, TableCell, TableRow
from odf.text import P

from lexigon.core.merge.reading import read_records
from tests.core.test_records import WARDENS

COLLECTION = Path(__file__).parents[2] / "node_modules" / "csv-spectrum"
FILES = (
    "comma_in_quotes",
    "empty",
    "empty_crlf",
    "escaped_quotes",
    "json",
    "newlines",
    "newlines_crlf",
    "quotes_and_newlines",
    "simple",
    "simple_crlf",
    "utf8",
)


@pytest.mark.parametrize("name", FILES)
def test_the_files_of_an_open_collection(name: str) -> None:
    """Each has the values that the collection gives as JSON; one file is left out, whose values are others there. Line
    ends within values are one line feed here."""
    records, recognition = read_records((COLLECTION / "csvs" / f"{name}.csv").read_bytes())
    expected = json.loads((COLLECTION / "json" / f"{name}.json").read_text())
    assert (recognition.separator, recognition.header) == (",", True)
    rows = [dict(zip(records.fields, row, strict=True)) for row in records.rows]
    assert rows == [{key: value.replace("\r\n", "\n") for key, value in row.items()} for row in expected]


def test_workbooks_of_xlsxwriter_are_read_as_they_are_shown() -> None:
    stream = io.BytesIO()
    book = xlsxwriter.Workbook(stream, {"in_memory": True, "strings_to_formulas": False})
    sheet = book.add_worksheet("Wardens")
    for column, name in enumerate(("name", "id", "born", "share", "price", "sum", "rich")):
        sheet.write(0, column, name)
    formats = {code: book.add_format({"num_format": code}) for code in ("yyyy-mm-dd", "0%", "#,##0.00", "00000")}
    sheet.write_string(1, 0, "=cmd()")
    sheet.write_number(1, 1, 7, formats["00000"])
    sheet.write_datetime(1, 2, date(1899 + 120, 2, 28), formats["yyyy-mm-dd"])
    sheet.write_number(1, 3, 0.25, formats["0%"])
    sheet.write_number(1, 4, 1234.5, formats["#,##0.00"])
    sheet.write_formula(1, 5, "=B2+1", None, 8)
    sheet.write_rich_string(1, 6, "Ida ", book.add_format({"bold": True}), "Brack")
    book.close()
    records, recognition = read_records(stream.getvalue(), language="en-GB")
    assert (recognition.kind, recognition.sheets) == ("workbook", ("Wardens",))
    assert records.fields == ("name", "id", "born", "share", "price", "sum", "rich")
    assert records.rows == (("=cmd()", "00007", "2019-02-28", "25%", "1,234.50", "8", "Ida Brack"),)


def test_spreadsheets_of_odfpy() -> None:
    document = OpenDocumentSpreadsheet()
    table = Table(name="Wardens")
    for row in WARDENS:
        line = TableRow()
        for value in row:
            cell = TableCell(valuetype="string")
            cell.addElement(P(text=value))
            line.addElement(cell)
        table.addElement(line)
    document.spreadsheet.addElement(table)
    stream = io.BytesIO()
    document.save(stream)
    records, recognition = read_records(stream.getvalue())
    assert (recognition.kind, recognition.sheet) == ("spreadsheet", "Wardens")
    assert [list(records.fields), *map(list, records.rows)] == WARDENS
