"""Reading files of records: what is recognised, what can be set instead, and that no value is changed on the way."""

from __future__ import annotations

import csv
import io
import json
import zipfile
from pathlib import Path

import openpyxl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lexigon.cli.main import main
from lexigon.core.errors import LexigonError
from lexigon.core.merge import model, reading
from lexigon.core.merge.cell_range import cell_range
from lexigon.core.merge.files import FileNames
from lexigon.core.merge.kinds import field_facts, kind_of_value
from lexigon.core.merge.model import RecordError, records_from
from lexigon.core.merge.readers.delimited import SEPARATORS
from lexigon.core.merge.reading import read_records
from lexigon.core.merge.searching import record_filter

WARDENS = [
    ["surname", "first name", "post", "phone", "portrait"],
    ["Brack", "Ida", "Tide gauge", "0049123", "brack.jpg"],
    ["Osterloh, von", "Jannis “J”", "", "0007", "osterloh.png"],
    ["Finch", 'Mara "Em"', "Bird\nhide", "12345678901234567890", "../../x.jpg"],
]


def written(rows: list[list[str]], separator: str = ",", **more: object) -> bytes:
    text = io.StringIO()
    csv.writer(text, delimiter=separator, **more).writerows(rows)  # type: ignore[arg-type]
    return text.getvalue().encode()


# Delimited text

# From the tests of CPython's csv module (Lib/test/test_csv.py, TestSniffer; PSF licence): the text, the separator that
# is asked of its sniffer, and the first row. Separators that ours does not look for are left out.
SHOPS = """\
Harry's, Arlington Heights, IL, 2/1/03, Kimi Hayes
Shark City, Glendale Heights, IL, 12/28/02, Prezence
Tommy's Place, Blue Island, IL, 12/28/02, Blue Sunday/White Crow
Stonecutters Seafood and Chop House, Lemont, IL, 12/19/02, Week Back
"""
QUOTED = """\
'Harry''s':'Arlington Heights':'IL':'2/1/03':'Kimi Hayes'
'Shark City':'Glendale Heights':'IL':'12/28/02':'Prezence'
'Tommy''s Place':'Blue Island':'IL':'12/28/02':'Blue Sunday/White Crow'
'Stonecutters ''Seafood'' and Chop House':'Lemont':'IL':'12/19/02':'Week Back'
"""
HARRY = ["Harry's", "Arlington Heights", "IL", "2/1/03", "Kimi Hayes"]
SNIFFED = [
    (SHOPS, ",", HARRY),
    (QUOTED, ":", HARRY),
    ("2147483648;43.0e12;17;abc;def\n147483648;43.0e2;17;abc;def\n47483648;43.0;170;abc;def\n", ";", None),
    ("aaa\tbbb\r\nAAA\t\r\nBBB\t\r\n", "\t", ["aaa", "bbb"]),
    ("a|b|c\r\nd|e|f\r\n", "|", ["a", "b", "c"]),
    ("'a'|'b'|'c'\r\n'd'|e|f\r\n", "|", ["a", "b", "c"]),
]


@pytest.mark.parametrize(("text", "separator", "first"), SNIFFED)
def test_separators_and_quotation_marks_of_pythons_own_tests(
    text: str, separator: str, first: list[str] | None
) -> None:
    records, recognition = read_records(text.encode(), header=False)
    assert recognition.separator == separator
    if first:
        assert list(records.rows[0]) == first


@pytest.mark.parametrize("separator", list(SEPARATORS))
@pytest.mark.parametrize("quoting", [csv.QUOTE_MINIMAL, csv.QUOTE_ALL])
def test_each_separator_is_recognised_and_no_value_is_changed(separator: str, quoting: int) -> None:
    records, recognition = read_records(written(WARDENS, separator, quoting=quoting))
    assert recognition.separator == separator
    assert recognition.header
    assert [list(records.fields), *map(list, records.rows)] == WARDENS


@pytest.mark.parametrize(
    ("encoding", "name"), [("utf-8", "UTF-8"), ("utf-8-sig", "UTF-8"), ("utf-16", "UTF-16"), ("utf-16-le", "UTF-16")]
)
def test_encodings_are_recognised(encoding: str, name: str) -> None:
    data = "name;town\nWrenÖ;Großefehn\n".encode(encoding)
    records, recognition = read_records(data)
    assert (records.rows, recognition.encoding) == ((("WrenÖ", "Großefehn"),), name)


def test_an_encoding_can_be_set() -> None:
    data = "name;town\nŁukasz;Gdańsk\n".encode("cp1250")
    assert read_records(data)[0].rows != (("Łukasz", "Gdańsk"),)
    assert read_records(data)[1].encoding == "Windows-1252"
    records, recognition = read_records(data, encoding="windows-1250")
    assert (records.rows, recognition.encoding) == ((("Łukasz", "Gdańsk"),), "Windows-1250")
    with pytest.raises(RecordError, match="not in UTF-8"):
        read_records(data, encoding="UTF-8")
    with pytest.raises(RecordError, match="no encoding “EBCDIC”"):
        read_records(data, encoding="EBCDIC")


def test_a_separator_can_be_set_or_declared() -> None:
    data = b"a,b;c,d\ne,f;g,h\n"
    assert read_records(data, separator=";", header=False)[0].rows == (("a,b", "c,d"), ("e,f", "g,h"))
    assert read_records(b"sep=;\n" + data, header=False)[0].rows == (("a,b", "c,d"), ("e,f", "g,h"))
    assert read_records(b"a#b\n1#2\n", separator="#")[0].rows == (("1", "2"),)
    for separator in ('"', "ab", "\n"):
        with pytest.raises(RecordError, match="one character"):
            read_records(data, separator=separator)


def test_one_column_needs_no_separator() -> None:
    records, _ = read_records(b"name\nIda Brack\nMara Finch\n")
    assert (records.fields, records.rows) == (("name",), (("Ida Brack",), ("Mara Finch",)))


@pytest.mark.parametrize(
    ("first", "header"),
    [("name,post", True), ("Ida,3", False), ("Ida,", False), ("a,A", False), ("Ida,12.5.1980", False)],
)
def test_a_header_is_recognised_and_can_be_set(first: str, header: bool) -> None:
    data = f"{first}\nMara,7\n".encode()
    assert read_records(data)[1].header == header
    assert read_records(data, header=False)[0].fields == ("Column 1", "Column 2")
    assert len(read_records(data, header=True)[0].rows) == 1


def test_rows_of_other_lengths_are_reported_and_completed() -> None:
    records, recognition = read_records(b"a,b,c\n1,2,3\n4,5\n\n6,7,8,9\n1,2,3\n")
    assert recognition.ragged == (3, 5)
    assert records.fields == ("a", "b", "c", "Column 4")
    assert records.rows[1] == ("4", "5", "", "")
    assert records.rows[2] == ("6", "7", "8", "9")


def test_names_of_fields_are_unique_and_on_one_line() -> None:
    records, _, _ = records_from([["name", "Name", "", "a\nb"], ["1", "2", "3", "4"]], True)
    assert records.fields == ("name", "Name 2", "Column 3", "a b")
    assert records.column("NAME 2") == ["2"]
    with pytest.raises(RecordError, match="no field “post”"):
        records.column("post")


# Workbooks, spreadsheets, JSON


def test_workbooks_of_another_library() -> None:
    book = openpyxl.Workbook()
    book.create_sheet("Wardens", 0)
    for row in WARDENS:
        book["Wardens"].append(row)
    book["Sheet"].append(["=1+1", "x"])
    stream = io.BytesIO()
    book.save(stream)
    records, recognition = read_records(stream.getvalue())
    assert (recognition.kind, recognition.sheet, recognition.sheets) == ("workbook", "Wardens", ("Wardens", "Sheet"))
    assert [list(records.fields), *map(list, records.rows)] == WARDENS
    with pytest.raises(RecordError, match="it has “Wardens”, “Sheet”"):
        read_records(stream.getvalue(), sheet="Birds")


def test_a_range_of_cells_is_read_as_another_library_reads_it() -> None:
    """openpyxl says which values are in a range."""
    book = openpyxl.Workbook()
    sheet = book.active
    sheet.append(["Wardens of the station"])
    sheet.append([])
    for row in WARDENS:
        sheet.append(["", "", *row, "", "note"])
    stream = io.BytesIO()
    book.save(stream)
    first, last = sheet.cell(3, 3).coordinate, sheet.cell(2 + len(WARDENS), 2 + len(WARDENS[0])).coordinate
    expected = [["" if one.value is None else str(one.value) for one in row] for row in sheet[f"{first}:{last}"]]
    assert expected == WARDENS
    for cells in (f"{first}:{last}", f"$C$3:{last.lower()}", f" {first} : {last} "):
        records, _ = read_records(stream.getvalue(), cells=cells)
        assert [list(records.fields), *map(list, records.rows)] == WARDENS
    records, _ = read_records(stream.getvalue(), cells="C3", header=True)
    assert records.fields[: len(WARDENS[0])] == tuple(WARDENS[0])
    assert cell_range("").of([["a"]]) == [["a"]]
    for column in ("A", "Z", "AA", "AZ", "XFD"):
        assert cell_range(f"{column}1").left == openpyxl.utils.column_index_from_string(column) - 1
    for text, says in (("hello!", "not a range"), ("C3:A1", "ends before"), ("A9000", "no records")):
        with pytest.raises(RecordError, match=says):
            read_records(b"a;b\n1;2\n", cells=text)
    ragged = read_records(b"Title\n\na;b\n1;2\n3;4;5\n6;7\n", cells="A3", separator=";")[1].ragged
    assert ragged == (5,), "rows are numbered as in the file"


def ods(rows: str) -> bytes:
    """A spreadsheet in the form of ISO/IEC 26300-1, 9.1."""
    spaces = " ".join(
        f'xmlns:{name}="urn:oasis:names:tc:opendocument:xmlns:{name}:1.0"' for name in ("office", "table", "text")
    )
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w") as archive:
        archive.writestr("mimetype", "application/vnd.oasis.opendocument.spreadsheet")
        archive.writestr(
            "content.xml",
            f"<office:document-content {spaces}><office:body><office:spreadsheet><table:table table:name='Empty'/>"
            f"<table:table table:name='Wardens'>{rows}</table:table></office:spreadsheet></office:body>"
            "</office:document-content>",
        )
    return stream.getvalue()


def cell(text: str, more: str = "") -> str:
    return f"<table:table-cell {more}><text:p>{text}</text:p></table:table-cell>"


def test_spreadsheets_are_read_as_they_are_shown() -> None:
    names = cell("name") + cell("code") + cell("both")
    ida = cell('Ida<text:s text:c="2"/>Brack') + cell("007", 'office:value="7"') + cell("x")
    mara = cell("Mara") + cell("1", 'table:number-columns-repeated="2"')
    rows = (
        f"<table:table-row>{names}</table:table-row>"
        f"<table:table-row>{ida}<table:table-cell table:number-columns-repeated='16000'/></table:table-row>"
        f"<table:table-row table:number-rows-repeated='2'>{mara}</table:table-row>"
        "<table:table-row table:number-rows-repeated='1048000'><table:table-cell/></table:table-row>"
    )
    records, recognition = read_records(ods(rows))
    assert (recognition.kind, recognition.sheet) == ("spreadsheet", "Wardens")
    assert records.fields == ("name", "code", "both")
    assert records.rows == (("Ida  Brack", "007", "x"), ("Mara", "1", "1"), ("Mara", "1", "1"))


def test_json_keeps_numbers_as_they_are_written() -> None:
    first = '{"id": 1.50, "n": 12345678901234567890, "at": {"post": "gauge"}, "tags": ["a", 2]}'
    text = f'{{"wardens": [{first}, {{"id": null, "n": true}}]}}'.encode()
    records, recognition = read_records(text)
    assert recognition.kind == "JSON"
    assert records.fields == ("id", "n", "at.post", "tags")
    assert records.rows == (("1.50", "12345678901234567890", "gauge", "a, 2"), ("", "true", "", ""))


# The examples of RFC 6350, section 8 (shortened), and of RFC 2426, section 7; the third is of version 2.1, from memory.
VCARDS = """\
BEGIN:VCARD
VERSION:4.0
FN:Simon Perreault
N:Perreault;Simon;;;ing. jr,M.Sc.
BDAY:--0203
ORG;TYPE=work:Viagenie
ADR;TYPE=work:;Suite D2-630;2875 Laurier;
 Quebec;QC;G1V 2M2;Canada
TEL;VALUE=uri;TYPE="work,voice":tel:+1-418-656-9254
EMAIL;TYPE=work:simon.perreault@viagenie.ca
URL;TYPE=home:http://nomis80.org
END:VCARD
BEGIN:vCard
VERSION:3.0
FN:Frank Dawson
ORG:Lotus Development Corporation
ADR;TYPE=WORK,POSTAL,PARCEL:;;6544 Battleford Drive
 ;Raleigh;NC;27613-3502;U.S.A.
TEL;TYPE=VOICE,MSG,WORK:+1-919-676-9515
TEL;TYPE=FAX:+1-919-676-9564
EMAIL;TYPE=INTERNET,PREF:Frank_Dawson@Lotus.com
EMAIL;TYPE=INTERNET:fdawson@earthlink.net
END:vCard
BEGIN:VCARD
VERSION:2.1
N;CHARSET=UTF-8;ENCODING=QUOTED-PRINTABLE:M=C3=BCller;J=C3=B6rg
FN;CHARSET=UTF-8;ENCODING=QUOTED-PRINTABLE:J=C3=B6rg M=C3=BCller
TEL;CELL:0170 1
NOTE:two\\nlines\\, one comma
END:VCARD
"""


def test_vcards_of_three_versions() -> None:
    records, recognition = read_records(VCARDS.replace("\n", "\r\n").encode())
    assert recognition.kind == "vCard"
    simon, frank, joerg = (
        {name: value for name, value in records.record(number).items() if value} for number in range(3)
    )
    assert (simon["surname"], simon["given name"], simon["suffix"]) == ("Perreault", "Simon", "ing. jr M.Sc.")
    assert (simon["street work"], simon["town work"], simon["postcode work"]) == ("2875 Laurier", "Quebec", "G1V 2M2")
    assert simon["phone work"] == "+1-418-656-9254"
    assert simon["web address"] == "http://nomis80.org"
    assert (frank["phone work"], frank["phone fax"]) == ("+1-919-676-9515", "+1-919-676-9564")
    assert (frank["e-mail"], frank["e-mail 2"]) == ("Frank_Dawson@Lotus.com", "fdawson@earthlink.net")
    assert frank["organisation"] == "Lotus Development Corporation"
    assert (joerg["name"], joerg["surname"], joerg["phone mobile"]) == ("Jörg Müller", "Müller", "0170 1")
    assert joerg["note"] == "two\nlines, one comma"
    with pytest.raises(RecordError, match="vCard 4 of this file is damaged"):
        read_records((VCARDS + "BEGIN:VCARD\nVERSION:3.0\nN:x\nEND:VEVENT\n").encode())


# Bad input


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "empty"),
        (b" \n\n", "empty"),
        (b",,\n,,\n", "all its rows are empty"),
        (bytes(range(256)) * 20, "control characters"),
        (b'a,"b\n' + b"c,d\n" * 300_000, "quotation mark in it is never closed"),
        (b"[1, 2]", "list of objects"),
        (b"[{", "damaged"),
        (b"[" * 100_000, "levels"),
        (b'[{"a":' * 8 + b"1" + b"}]" * 8, "a, "),
        (b"\xd0\xcf\x11\xe0 old", "old or a locked workbook"),
        (",".join(map(str, range(5000))).encode(), "at most 500 fields"),
        (b"a\n" + b"1\n" * 100_001, "at most 100,000 records"),
        (b"a,b\n1," + b"x" * 30_000, "30,000 characters"),
    ],
)
def test_what_is_no_file_of_records_is_refused_in_words(data: bytes, says: str) -> None:
    if says == "a, ":
        assert read_records(data)[0].fields == ("a",)
        return
    with pytest.raises(LexigonError, match=says):
        read_records(data)


def test_a_large_file_is_refused_before_it_is_read(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "large.csv"
    with path.open("wb") as stream:
        stream.truncate(2_000_000_000)  # sparse
    assert main(["records", str(path)]) == 2
    assert "has 2,000 MB" in capsys.readouterr().err


def test_zip_archives_that_are_no_workbook_and_bombs_are_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("names.bin", "a,b")
    with pytest.raises(LexigonError, match="zip file"):
        read_records(stream.getvalue())
    monkeypatch.setattr(reading, "LARGEST", 1000)
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("names.csv", "a" * 100_000)
    with pytest.raises(LexigonError, match="unpacks to far more"):
        read_records(stream.getvalue())
    monkeypatch.undo()
    row = f"<table:table-row table:number-rows-repeated='90000000'>{cell('bomb')}</table:table-row>"
    with pytest.raises(LexigonError, match="at most 100,000 records"):
        read_records(ods(row))
    many = cell("bomb", 'table:number-columns-repeated="9000000"')
    wide = f"<table:table-row>{many}</table:table-row>"
    with pytest.raises(LexigonError, match="at most 500 fields"):
        read_records(ods(wide))


def test_records_are_read_from_a_zip_file_with_their_pictures() -> None:
    def packed(**files: bytes) -> bytes:
        stream = io.BytesIO()
        with zipfile.ZipFile(stream, "w") as archive:
            for name, content in files.items():
                archive.writestr(name.replace("_dot_", "."), content)
        return stream.getvalue()

    book = io.BytesIO()
    workbook = openpyxl.Workbook()
    workbook.active.append(["name", "portrait"])
    workbook.active.append(["Ida", "ida.png"])
    workbook.save(book)
    for name, content in (("data/people_dot_csv", b"name;portrait\nIda;ida.png\n"), ("p_dot_xlsx", book.getvalue())):
        files = {name: content, "ida_dot_png": b"", "__MACOSX/._people_dot_csv": b"x", ".hidden_dot_csv": b"x"}
        records, recognition = read_records(packed(**files))
        assert records.record(0) == {"name": "Ida", "portrait": "ida.png"}
        assert recognition.file == name.replace("_dot_", ".")
    with pytest.raises(RecordError, match="no file of records"):
        read_records(packed(ida_dot_png=b"x"))
    with pytest.raises(RecordError, match=r"several files of records in this zip file: “a\.csv”, “b\.csv”"):
        read_records(packed(a_dot_csv=b"x", b_dot_csv=b"x"))
    with pytest.raises(RecordError, match="is empty"):
        read_records(packed(a_dot_csv=b""))


def test_formulas_stay_words() -> None:
    records, _ = read_records(b"name,note\n=cmd('calc'),+1+1\n")
    assert records.rows == (("=cmd('calc')", "+1+1"),)


values = st.text(st.characters(exclude_categories=["Cc", "Cs"]), min_size=1)


@given(st.lists(st.lists(values, min_size=2, max_size=4), min_size=2))
def test_whatever_is_written_is_read(rows: list[list[str]]) -> None:
    width = max(map(len, rows))
    rows = [[value if value.strip() else "x" for value in row] + ["y"] * (width - len(row)) for row in rows]
    records, _ = read_records(written(rows, quoting=csv.QUOTE_ALL), separator=",", header=False)
    assert [list(row) for row in records.rows] == rows


# Kinds


@pytest.mark.parametrize(
    ("value", "kind"),
    [
        ("", "empty"),
        ("12", "number"),
        ("-1,234.50", "number"),
        ("1.234,5", "number"),
        ("€ 3.50", "number"),
        ("45%", "number"),
        ("007", "code"),
        ("9783161484100", "code"),
        ("2024-02-29", "date"),
        ("3.4.1971", "date"),
        ("12/28/02", "date"),
        ("ida@example.org", "e-mail"),
        ("https://example.org/a", "web address"),
        ("portraits/ida brack.JPG", "picture"),
        ("#0a8", "colour"),
        ("Ida", "text"),
        ("12 geese", "text"),
    ],
)
def test_what_a_value_looks_like(value: str, kind: str) -> None:
    assert kind_of_value(value) == kind


def test_facts_of_a_field() -> None:
    facts = field_facts("portrait", ["a.jpg", "b.png", "c.jpg"] * 5 + ["", "missing"])
    assert (facts.kind, facts.empty, facts.different, facts.odd) == ("picture", 1, 4, (16,))
    assert (facts.shortest, facts.longest) == (0, 16)
    assert field_facts("postcode", ["01067", "10115", "80331"]).kind == "code", "a code among numbers makes all codes"
    assert field_facts("mixed", ["1", "x", "2", "y"]).kind == "text"
    assert field_facts("none", ["", " "]).longest == -1


@pytest.mark.parametrize(
    ("search", "numbers"),
    [
        ("", [0, 1, 2]),
        ("brack", [0]),
        ("post: HIDE", [0, 1]),
        ("post = hide", [1]),
        ("post=", [2]),
        ("post:", [0, 1, 2]),
        ("at: 7", [0]),
        ("7:30", [0]),
        ("a+b = c", [1]),
    ],
)
def test_records_are_searched_in_all_fields_or_in_one(search: str, numbers: list[int]) -> None:
    rows = [("Ida Brack", "The hide", "at 7:30"), ("a+b = c", "Hide", ""), ("Mara", "", "at: 8")]
    fields = ("name", "Post", "at")
    matches = record_filter(search, fields)
    assert [at for at, row in enumerate(rows) if matches(dict(zip(fields, row, strict=True)))] == numbers


def test_limits_are_those_of_the_messages() -> None:
    assert (model.MOST_FIELDS, model.MOST_RECORDS) == (500, 100_000)


# Files

FILES = ["brack.jpg", "sub/Finch Mara.PNG", "osterloh_1.tif", "osterloh_2.tif", "müller.jpg", "x.pdf"]


@pytest.mark.parametrize(
    ("value", "state", "files"),
    [
        ("brack.jpg", "found", ["brack.jpg"]),
        ("sub\\Finch Mara.PNG", "found", ["sub/Finch Mara.PNG"]),
        ("./brack.jpg", "found", ["brack.jpg"]),
        ("brack", "near", ["brack.jpg"]),
        ("Brack.JPG", "near", ["brack.jpg"]),
        ("brack.png", "near", ["brack.jpg"]),
        ("finch-mara", "near", ["sub/Finch Mara.PNG"]),
        ("mu\u0308ller.jpg", "found", ["müller.jpg"]),
        ("muller.jpg", "near", ["müller.jpg"]),
        ("osterlo_1.tif", "near", ["osterloh_1.tif"]),
        ("osterloh_3.tif", "missing", []),
        ("heron.jpg", "missing", []),
        ("", "empty", []),
        ("../brack.jpg", "outside", []),
        ("/etc/passwd", "outside", []),
        ("C:\\pictures\\brack.jpg", "outside", []),
    ],
)
def test_files_are_found_or_suggested(value: str, state: str, files: list[str]) -> None:
    match = FileNames(FILES).match(value)
    assert (match.state, list(match.files)) == (state, files)


@given(st.text(max_size=40))
def test_any_name_is_matched_or_not(value: str) -> None:
    assert FileNames(FILES).match(value).state in ("found", "near", "missing", "outside", "empty")


def test_the_command_reports_missing_files(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path, folder = tmp_path / "wardens.csv", tmp_path / "portraits"
    folder.mkdir()
    (folder / "brack.jpg").write_bytes(b"")
    (folder / "osterloh.jpg").write_bytes(b"")
    path.write_bytes(written(WARDENS))
    assert main(["records", str(path), "--files", str(folder)]) == 3
    errors = capsys.readouterr().err.splitlines()
    assert errors == [
        "lexigon: Record 2, portrait: “osterloh.png” is not in the folder. Is it “osterloh.jpg”?",
        "lexigon: Record 3, portrait: “../../x.jpg” is outside the folder.",
    ]
    assert main(["records", str(path), "--files", str(path)]) == 2
    assert "is not a folder" in capsys.readouterr().err


# The command


def test_the_command_shows_computes_and_writes(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path, target = tmp_path / "wardens.csv", tmp_path / "out.csv"
    path.write_bytes(written(WARDENS, ";"))
    label = 'label=upper(surname) & " " & initials([first name])'
    assert main(["records", str(path), "--compute", label, "--output", str(target), "--rows", "1"]) == 0
    shown = capsys.readouterr().out
    assert "Delimited text: 3 records" in shown
    assert "Separator: semicolon" in shown
    assert "BRACK I" in shown
    assert "FINCH" not in shown
    rows = list(csv.reader(io.StringIO(target.read_text(), newline="")))
    assert rows[3] == [*WARDENS[3], "FINCH ME"]
    assert main(["records", str(path), "--json"]) == 0
    assert json.loads(capsys.readouterr().out)["recognised"]["separator"] == ";"
    assert main(["records", str(path), "--compute", "label=upper(name)"]) == 2
    assert "There is no field “name”" in capsys.readouterr().err
