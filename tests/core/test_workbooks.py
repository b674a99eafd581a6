"""Workbooks as rows of words: number formats, dates, sheets, and what is refused."""

from __future__ import annotations

import contextlib
import io
import random
import zipfile
from datetime import date, datetime, time, timedelta
from typing import Any

import openpyxl
import pytest

from lexigon.core.manuscript.readers.decode import ManuscriptError
from lexigon.core.manuscript.readers.workbook import MOST_CELLS, format_cell, is_workbook, read_sheets, sheets_in
from lexigon.core.tables.shapes import Range
from tests.core.helpers import examples


def workbook(sheets: dict[str, list[list[Any]]], formats: dict[str, str] | None = None) -> bytes:
    book = openpyxl.Workbook()
    book.remove(book.active)
    for name, rows in sheets.items():
        sheet = book.create_sheet(name)
        for row in rows:
            sheet.append(row)
    for place, form in (formats or {}).items():
        book.worksheets[0][place].number_format = form
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


@pytest.mark.parametrize(
    ("value", "form", "language", "told"),
    [
        (5900, "General", "en", "5900"),
        (5900.0, "General", "en", "5900"),
        (0.1 + 0.2, "General", "de", "0,3"),
        (5900.0, "#,##0", "en", "5,900"),
        (1234567.891, "#,##0.00", "de", "1.234.567,89"),
        (0.256, "0%", "en", "26%"),
        (0.2564, "0.0%", "de", "25,6%"),
        (42, "00000", "en", "00042"),
        (-3.5, "0.00", "en", "−3.50"),
        (-3.5, "0.00;(0.00)", "en", "(3.50)"),
        (3.5, '0.0 "kg"', "en", "3.5 kg"),
        (12.5, '"£"#,##0.00', "en", "£12.50"),
        (0.5, "#.##", "en", ".5"),
        (1500000, '0.0,,"M"', "en", "1.5M"),
        (7, '[Red]0 "birds"', "en", "7 birds"),
        (12, "_-* #,##0_-", "en", "12"),
        (2.5, "0", "en", "3"),
        (1e-7, "0.00E+00", "en", "1.00E-7"),
        (True, "General", "en", "TRUE"),
        (datetime(2026, 5, 3, 14, 7), "d mmmm yyyy", "de", "3 Mai 2026"),
        (datetime(2026, 5, 3, 14, 7), "dd/mm/yyyy hh:mm", "en", "03/05/2026 14:07"),
        (datetime(2026, 5, 3, 14, 7), "h:mm AM/PM", "en", "2:07\u202fPM"),
        (time(14, 7, 9), "mm:ss", "en", "07:09"),
        (date(2026, 5, 3), "yyyy-mm-dd", "en", "2026-05-03"),
        (timedelta(hours=30, minutes=5), "[h]:mm", "en", "30:05"),
    ],
)
def test_a_value_is_shown_as_its_format_says(value: Any, form: str, language: str, told: str) -> None:
    """The rules of ISO/IEC 29500-1, 18.8.31, worked by hand from memory of its examples; names of months and signs as
    CLDR has them."""
    assert format_cell(value, form, language).replace("\u202f", " ") == told.replace("\u202f", " ")


def test_sheets_are_read_without_what_is_empty_and_all_rows_are_as_long() -> None:
    data = workbook(
        {
            "Counts": [["Bird", "Seen", None], ["Knot", 5900], [None], ["007", 0.5, "\n two\r\nlines "], [None, None]],
            "Notes": [],
            "Autumn": [["x"]],
        },
        {"B2": "#,##0", "B4": "0%"},
    )
    assert is_workbook(data)
    counts, autumn = sheets_in(data, "en")
    assert counts.name == "Counts"
    assert counts.rows == (("Bird", "Seen", ""), ("Knot", "5,900", ""), ("", "", ""), ("007", "50%", "two\nlines"))
    assert (autumn.name, autumn.rows) == ("Autumn", (("x",),))


MAIN = "http://schemas.openxmlformats.org/spreadsheetml/2006/main"
RELATIONS = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
STRICT = "http://purl.oclc.org/ooxml/spreadsheetml/main", "http://purl.oclc.org/ooxml/officeDocument/relationships"
CELLS = """<row r="1"><c r="A1" t="inlineStr"><is><t>Bird</t></is></c><c r="B1" t="inlineStr"><is><r><t>Se</t></r><r><rPr><b/></rPr><t>en</t></r></is></c>
</row><row r="3"><c r="A3" t="str"><f>A1</f><v>Knot</v></c><c r="C3"><v>3.5</v></c></row>"""  # noqa: E501


def by_hand(cells: str, main: str = MAIN, relations: str = RELATIONS, root: str = "", prefix: str = "") -> bytes:
    """The least that a workbook is (ISO/IEC 29500-1, 12.2; from memory), without styles or shared strings."""
    packages = "http://schemas.openxmlformats.org/package/2006"
    kind = "application/vnd.openxmlformats-officedocument.spreadsheetml."

    def related(type_: str, target: str) -> str:
        return (
            f'<Relationships xmlns="{packages}/relationships"><Relationship Id="r1" Type="{relations}/{type_}" '
            f'Target="{target}"/></Relationships>'
        )

    own = f"xmlns:{prefix[:-1]}" if prefix else "xmlns"
    sheet = f'<worksheet {own}="{main}"><sheetData>{cells}</sheetData></worksheet>'
    sheet = sheet.replace("</", f"</{prefix}").replace("<", f"<{prefix}").replace(f"<{prefix}/", "</")
    parts = {
        "[Content_Types].xml": (
            f"""<Types xmlns="{packages}/content-types"><Default Extension="xml" ContentType="application/xml"/>
            <Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>
            <Override PartName="/xl/workbook.xml" ContentType="{kind}sheet.main+xml"/><Override PartName="/xl/worksheets/one.xml" ContentType="{kind}worksheet+xml"/></Types>"""  # noqa: E501
        ),
        "_rels/.rels": related("officeDocument", f"{root}xl/workbook.xml" if root else "xl/workbook.xml"),
        "xl/workbook.xml": (
            f'<workbook xmlns="{main}" xmlns:r="{relations}"><sheets><sheet name="Birds" sheetId="1" '
            'r:id="r1"/></sheets></workbook>'
        ),
        "xl/_rels/workbook.xml.rels": related(
            "worksheet", f"{root}xl/worksheets/one.xml" if root else "worksheets/one.xml"
        ),
        "xl/worksheets/one.xml": sheet,
    }
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as package:
        for name, part in parts.items():
            package.writestr(name, part)
    return out.getvalue()


@pytest.mark.parametrize(
    "data",
    [
        by_hand(CELLS),
        by_hand(CELLS, *STRICT),
        by_hand(CELLS, root="/"),
        by_hand(CELLS, prefix="x:"),
        by_hand(
            CELLS.replace('<row r="3">', "<row/><row>")
            .replace('<c r="C3">', "<c/><c>")
            .replace(' r="1"', "")
            .replace(' r="A3"', "")
        ),
    ],
    ids=["plain", "strict", "absolute", "prefixed", "without places"],
)
def test_a_workbook_is_read_in_whatever_way_the_standard_lets_it_be_written(data: bytes) -> None:
    assert is_workbook(data)
    (sheet,) = read_sheets(data, "en")
    assert (sheet.name, sheet.rows) == ("Birds", (("Bird", "Seen", ""), ("", "", ""), ("Knot", "", "3.5")))


def test_merged_cells_and_formulas_without_a_value_are_reported() -> None:
    """As a spreadsheet program saves them (openpyxl stores no values of formulas), and by hand in the prefixed form."""
    book = openpyxl.Workbook()
    sheet = book.active
    for row in (["Birds", None, None], ["Name", "Seen", "Share"], ["Knot", 5900, "=B4/2"], ["Godwit", 3, None]):
        sheet.append(row)
    sheet.insert_rows(1)
    sheet.merge_cells("A2:C2")
    sheet.merge_cells("A4:A5")
    sheet.merge_cells("E1:F9")
    out = io.BytesIO()
    book.save(out)
    (read,) = sheets_in(out.getvalue(), "en")
    assert read.rows[0] == ("Birds", "", "")
    assert read.merged == (Range(0, 0, 0, 2), Range(2, 0, 3, 0)), "counted from the first row that holds something"
    assert read.unvalued == ("C4",)
    formulas = CELLS.replace("<v>Knot</v>", "").replace("</row>", '<c r="AB3"><f>1+1</f><v>2</v></c></row>')
    (read,) = read_sheets(by_hand(formulas, prefix="x:"), "en")
    assert read.unvalued == ("A3",)


def test_what_is_no_workbook_or_more_than_a_table_is_refused() -> None:
    good = workbook({"a": [["x"]]})
    assert not is_workbook(b"a,b\nc,d")
    with pytest.raises(ManuscriptError, match="empty"):
        read_sheets(workbook({"a": []}), "en")
    for bad in (good[: len(good) // 2], good[:60] + b"\0" * 40 + good[100:], b"PK\x03\x04" + b"x" * 100):
        with pytest.raises(ManuscriptError, match="damaged"):
            read_sheets(bad, "en")
    with pytest.raises(ManuscriptError, match="at most 10,000 rows"):
        read_sheets(workbook({"a": [["x"]] * 10_002}), "en")
    with pytest.raises(ManuscriptError, match="500 columns"):
        read_sheets(workbook({"a": [["x"] * 501]}), "en")
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(good)) as old, zipfile.ZipFile(out, "w") as new:
        for name in old.namelist():
            part = old.read(name)
            if name == "xl/worksheets/sheet1.xml":
                part = part.replace(b"<worksheet", b'<!DOCTYPE x [<!ENTITY a "b">]><worksheet', 1)
            new.writestr(name, part)
    with pytest.raises(ManuscriptError, match="damaged"):
        read_sheets(out.getvalue(), "en")


def test_damage_of_any_kind_is_told_and_nothing_else() -> None:
    good = workbook({"Counts": [["Bird", "Seen"], *[["Knot", n] for n in range(30)]]}, {"B2": "#,##0"})
    chance = random.Random(3)
    for _ in range(examples(80)):
        data = bytearray(good)
        for _ in range(chance.randint(1, 6)):
            data[chance.randrange(len(data))] = chance.randrange(256)
        with contextlib.suppress(ManuscriptError):
            read_sheets(bytes(data[: chance.choice([len(data), chance.randrange(len(data))])]), "en")


def test_a_workbook_of_more_than_a_table_is_refused_before_it_is_read_through() -> None:
    """A few kilobytes that unpack to megabytes, and rows that go as far as a sheet does."""
    wide = "".join('<c t="inlineStr"><is><t>x</t></is></c>' for _ in range(100))
    for rows in (f"<row>{wide}</row>" * 1_100, '<row><c r="XFD1"/></row>' * 300):
        with pytest.raises(ManuscriptError, match=f"at most {MOST_CELLS:,} cells"):
            sheets_in(_raw(f"<sheetData>{rows}</sheetData>"), "en")
    with pytest.raises(ManuscriptError, match="damaged"):
        sheets_in(b"PK\x03\x04", "en")


def _raw(sheet: str) -> bytes:
    """A workbook with one sheet of that XML."""
    out = io.BytesIO()
    with (
        zipfile.ZipFile(io.BytesIO(workbook({"a": [["x"]]}))) as source,
        zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as package,
    ):
        for name in source.namelist():
            data = source.read(name)
            if name == "xl/worksheets/sheet1.xml":
                data = f'<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main">{sheet}</worksheet>'.encode()
            package.writestr(name, data)
    return out.getvalue()
