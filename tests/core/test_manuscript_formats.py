"""Manuscripts in every format: written by pandoc (Debian), an independent program, and by hand where it writes none of
it; and hostile ones."""

from __future__ import annotations

import io
import shutil
import subprocess
import zipfile
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest
from PIL import Image

from lexigon.core.document.model import OBJECT, Anchor, PictureFile, Span
from lexigon.core.fileformat import package
from lexigon.core.flow.workspace import Workspace
from lexigon.core.manuscript.mapping import BOLD_LINES, LEAVE_OUT
from lexigon.core.manuscript.model import Manuscript
from lexigon.core.manuscript.pouring import poured
from lexigon.core.manuscript.readers.decode import ManuscriptError
from lexigon.core.manuscript.reading import read
from lexigon.core.manuscript.review.cleaning import typographic
from lexigon.core.manuscript.source import Source, SourceParagraph
from lexigon.core.manuscript.writers.docx import write_docx
from lexigon.core.picture.bringing import described
from lexigon.core.picture.files import facts_of
from tests.core.helpers import book

COPY = """---
title: The Low Tide Book
author: Wren Dunlin
---

# Part One

# Chapter One

The first paragraph has *italics*, **bold**, ~~struck~~ words and a note.[^one] It goes on with a link to [the hide](https://saltmarsh.example).

> A quotation stands here, set in.

Second paragraph, with a second note.[^two]

## A Section

* first item
* second *item*

1. one
2. two

| Tide | Time | Height |
|:-----|-----:|:------:|
| Low | 06:12 | 0.4 m |
| High | 12:30 | *5.1* m |

* * *

After the break. ![A reed](reed.png)

[^one]: The note's *words*.
[^two]: Another note.

    With a second paragraph.
"""
WORDS = [
    "Part One",
    "Chapter One",
    "The first paragraph has italics, bold, struck words and a note. It goes on with a link to the hide.",
    "A quotation stands here, set in.",
    "Second paragraph, with a second note.",
    "A Section",
    "first item",
    "second item",
    "one",
    "two",
    "",
    "* * *",
    "After the break.",
]


@pytest.fixture(scope="module")
def written(tmp_path_factory: pytest.TempPathFactory) -> Callable[[str], bytes]:
    """The copy as pandoc writes it in a format."""
    if shutil.which("pandoc") is None:
        pytest.skip("pandoc is not installed")
    folder = tmp_path_factory.mktemp("copy")
    (folder / "copy.md").write_text(COPY)
    Image.new("RGB", (120, 80), (30, 120, 90)).save(folder / "reed.png", dpi=(150, 150))

    def write(form: str) -> bytes:
        target = folder / f"copy.{form}"
        if not target.exists():
            more = ["--self-contained"] if form == "html" else []
            subprocess.run(
                ["pandoc", "copy.md", "-s", "-o", target, *more], cwd=folder, check=True, capture_output=True
            )
        return target.read_bytes()

    return write


@pytest.mark.parametrize("form", ["docx", "odt", "rtf", "html", "md"])
def test_every_format_brings_the_same_words_looks_notes_and_tables(form: str, written: Callable[[str], bytes]) -> None:
    made = read(COPY.encode() if form == "md" else written(form), f"copy.{form}")
    shown = [" ".join(p.text.replace(OBJECT, "").split()) for p in made.paragraphs]
    assert shown[:2] == ["The Low Tide Book", "Wren Dunlin"]
    assert shown[2:] == WORDS
    styles = {text: p.style for text, p in zip(shown, made.paragraphs, strict=True)}
    assert styles["Chapter One"] == "chapter"
    assert styles["A Section"] == "section"
    assert styles["* * *"] == "scene"
    assert styles["After the break."] == "first"
    if form != "rtf":  # pandoc's RTF names no styles: a title is bold and large, a quotation set in
        assert styles["The Low Tide Book"] == "title"
        assert styles["Wren Dunlin"] == "author"
        assert styles["A quotation stands here, set in."] == "quote"
    first = next(p for p in made.paragraphs if p.text.startswith("The first"))
    looks = {first.text[s.start : s.end]: s for s in first.spans}
    assert looks["italics"].style == "emphasis"
    assert looks["bold"].style == "strong"
    assert looks["the hide"].link.rstrip("/") == "https://saltmarsh.example"
    assert looks["struck"].type
    assert looks["struck"].type.strike
    assert [s.object.kind for s in first.spans if s.object] == ["note"]
    assert [[" ".join(p.text.split()).replace("’", "'") for p in note.paragraphs] for note in made.notes] == [
        ["The note's words."],
        ["Another note.", "With a second paragraph."],
    ]
    assert any(s.style == "emphasis" for s in made.notes[0].paragraphs[0].spans)
    (table,) = made.tables
    assert [["".join(p.text for p in cell.paragraphs) for cell in row] for row in table.rows] == [
        ["Tide", "Time", "Height"],
        ["Low", "06:12", "0.4\u00a0m"],
        ["High", "12:30", "5.1\u00a0m"],
    ]
    assert table.heads == (0 if form == "rtf" else 1)
    lists = [p for p in made.paragraphs if "-list" in p.style]
    assert [p.style for p in lists] == ["bullet-list", "bullet-list", "number-list", "number-list"]
    assert all(p.para is None or (p.para.list and p.para.list.start == 1) for p in lists), "but for where numbers begin"
    if form != "md":  # its picture lies beside it
        ((_, picture),) = made.pictures
        assert Image.open(io.BytesIO(picture.data)).size == (120, 80)


def test_pictures_of_a_word_document_have_the_size_it_gives(written: Callable[[str], bytes]) -> None:
    """Pandoc gives the picture its natural size, 120 pixels at 150 to the inch. What we write is checked against
    914,400 units to the inch (ECMA-376, part 1, 20.1.2.1)."""
    ((_, picture),) = read(written("docx"), "copy.docx").pictures
    assert picture.width == pytest.approx(0.8 * 72, abs=0.1)
    source = Source("a test", [SourceParagraph(OBJECT, (Span(0, 1, object=Anchor("frame", "reed")),))])
    source.pictures["reed"] = replace(picture, width=144.0)
    with zipfile.ZipFile(io.BytesIO(write_docx(source, book()))) as archive:
        document = archive.read("word/document.xml").decode()
    assert f'cx="{2 * 914_400}"' in document


def test_poured_it_stands_in_the_job_and_in_its_file(written: Callable[[str], bytes], tmp_path: Path) -> None:
    made = read(written("docx"), "copy.docx", cleaned=typographic(True))
    held: dict[str, bytes] = {}

    def keep(name: str, data: bytes) -> PictureFile:
        key = f"{len(held):064x}"
        held[key] = data
        return described(f"i{len(held)}", name, key, facts_of(data))

    workspace = Workspace(book(facing=False))
    intent, told = poured(workspace.job, made, keep)
    assert told == []
    workspace.do(intent)
    again = package.read(package.write(workspace.job, held))
    story = again.stories[again.main_story or ""]
    kinds = [span.object.kind for p in story.paragraphs for span in p.spans if span.object]
    assert kinds == ["note", "note", "table", "frame"]
    ((_, table),) = again.tables.items()
    assert table.columns == 3
    (inlay,) = again.inlays.values()
    assert inlay.picture
    assert again.pictures[inlay.picture.picture].alt == "A reed" or inlay.alt
    assert sum(one.kind == "note" for one in again.stories.values()) == 2
    assert any(
        "[Table: 3 rows, 3 columns]" in workspace.composition.values.value(span.object, 0, lambda *_: "")
        for p in story.paragraphs
        for span in p.spans
        if span.object and span.object.kind == "table"
    )
    without, lost = poured(workspace.job, made, None)
    assert len(lost) == 1
    assert not any(span.object and span.object.kind == "frame" for p in without.paragraphs for span in p.spans)


W = "http://schemas.openxmlformats.org/wordprocessingml/2006/main"


def docx(body: str, **parts: str) -> bytes:
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w") as archive:
        archive.writestr("_rels/.rels", "<Relationships/>")
        archive.writestr("word/document.xml", f'<w:document xmlns:w="{W}"><w:body>{body}</w:body></w:document>')
        for name, text in parts.items():
            archive.writestr(f"word/{name}.xml", text)
    return target.getvalue()


def p(inner: str, props: str = "") -> str:
    return f"<w:p><w:pPr>{props}</w:pPr>{inner}</w:p>"


def r(words: str, props: str = "") -> str:
    return f'<w:r><w:rPr>{props}</w:rPr><w:t xml:space="preserve">{words}</w:t></w:r>'


def shown(made: Manuscript) -> list[str]:
    return [one.text for one in made.paragraphs]


def test_tracked_changes_comments_fields_and_signs_of_a_docx() -> None:
    field = (
        '<w:r><w:fldChar w:fldCharType="begin"/></w:r><w:r><w:instrText>PAGEREF x</w:instrText></w:r><w:r><w:fldChar '
        'w:fldCharType="separate"/></w:r>' + r("23") + '<w:r><w:fldChar w:fldCharType="end"/></w:r>'
    )
    made = read(
        docx(
            p(
                r("The tide ")
                + f"<w:ins>{r('rises')}</w:ins><w:del><w:r><w:delText>falls</w:delText></w:r></w:del>"
                + r(", see page ")
                + field
                + r(".")
            )
            + p(
                '<w:r><w:commentReference w:id="1"/></w:r>'
                + r("Hidden", "<w:vanish/>")
                + "<w:r><w:t>co</w:t><w:softHyphen/><w:t>op</w:t><w:noBreakHyphen/><w:t>er</w:t><w:tab/><w:t>ate</w:t><w:br/><w:t>now</w:t></w:r>"  # noqa: E501
            )
            + p(r("Centred by hand"), '<w:jc w:val="center"/>')
            + p('<w:r><w:br w:type="page"/></w:r>' + r("On a new page."))
            + p(r("Fett", "<w:b/>"))
            + p(r("Text in ") + r("petites", '<w:smallCaps/><w:lang w:val="fr-FR"/>'))
        ),
        "x.docx",
    )
    assert shown(made) == [
        "The tide rises, see page 23.",
        "co\u00adop\u2011er\tate\u2028now",
        "Centred by hand",
        "On a new page.",
        "Fett",
        "Text in petites",
    ]
    assert (
        made.counts["insertions"],
        made.counts["deletions"],
        made.counts["comments"],
        made.counts["hidden"],
        made.counts["lost references"],
    ) == (1, 1, 1, 1, 1)
    assert made.paragraphs[2].para
    assert made.paragraphs[2].para.align == "centre"
    assert made.paragraphs[3].para
    assert made.paragraphs[3].para.start == "page"
    assert made.paragraphs[4].style == "section", "a short line, bold by hand"
    (span,) = made.paragraphs[5].spans
    assert (span.style, span.type and span.type.language) == ("smallcaps", "fr-FR")


def test_a_page_break_behind_words_begins_a_page_with_what_follows_and_notes_of_cells_are_kept() -> None:
    broken = '<w:r><w:br w:type="page"/></w:r>'
    note = '<w:r><w:footnoteReference w:id="1"/></w:r>'
    notes = f'<w:footnotes xmlns:w="{W}"><w:footnote w:id="1">{p(r("Of the cell."))}</w:footnote></w:footnotes>'
    body = (
        p(r("Before."))
        + p(r("Ends here.") + broken)
        + p(r("Begins here."))
        + f"<w:tbl><w:tr><w:tc>{p(r('06:12') + note)}</w:tc></w:tr></w:tbl>"
    )
    made = read(docx(body, footnotes=notes), "x.docx")
    assert [one.para.start if one.para else None for one in made.paragraphs[:3]] == [None, None, "page"]
    assert [[one.text for one in story.paragraphs] for story in made.notes] == [["Of the cell."]]
    (span,) = made.tables[0].rows[0][0].paragraphs[0].spans
    assert span.object
    assert span.object.ref == made.notes[0].id


def test_cells_that_go_over_columns_and_rows_and_tables_in_tables() -> None:
    def cell(words: str, props: str = "") -> str:
        return f"<w:tc><w:tcPr>{props}</w:tcPr>{p(r(words))}</w:tc>"

    rows = (
        f"<w:tr><w:trPr><w:tblHeader/></w:trPr>{cell('Head', '<w:gridSpan w:val=' + chr(34) + '2' + chr(34) + '/>')}</w:tr>"  # noqa: E501
        f"<w:tr>{cell('Tall', '<w:vMerge w:val=' + chr(34) + 'restart' + chr(34) + '/>')}{cell('a')}</w:tr><w:tr>{cell('', '<w:vMerge/>')}{cell('b')}</w:tr>"  # noqa: E501
    )
    inner = f"<w:tbl>{rows}</w:tbl>"
    made = read(
        docx(f"<w:tbl><w:tr><w:tc>{p(r('outside'))}{inner}</w:tc></w:tr></w:tbl>" + p(r("Behind it."))), "x.docx"
    )
    outer, nested = made.tables if made.tables[0].columns == 1 else made.tables[::-1]
    assert outer.columns == 1
    assert nested.heads == 1
    assert [
        [(cell.across, cell.down, "".join(one.text for one in cell.paragraphs)) for cell in row] for row in nested.rows
    ] == [
        [(2, 1, "Head")],
        [(1, 2, "Tall"), (1, 1, "a")],
        [(1, 1, "b")],
    ]
    deep = p(r("x"))
    for _ in range(40):
        deep = f"<w:tbl><w:tr><w:tc>{deep}</w:tc></w:tr></w:tbl>"
    assert read(docx(deep + p(r("y"))), "x.docx").paragraphs[-1].text == "y"


RTF = (
    r"{\rtf1\ansi\ansicpg1252\deff0\deflang2057{\fonttbl{\f0 Times;}}{\stylesheet{\s0 Normal;}{\s1\outlinelevel0\b "
    r"Heading 1;}{\s2\i Quote;}}{\info{\title no}}"
    r"{\*\unknown hidden words}\pard\s1\b Low Water\b0\par\pard\s0 The \i sea\i0  was \b grey\plain , \'93so\'94 it "
    r"was\emdash all of it\u8230?{\footnote\pard\chftn A {\i note}.\par} and {\v gone}\super 2\nosupersub .\par"
    r"{\pard\s2\i Set in italics by its style, and {\i0 not here}.\par}\trowd\trhdr\cellx1000\cellx2000\pard\intbl "
    r"One\cell Two\cell\row\trowd\cellx1000\cellx2000\pard\intbl 1\cell 2\cell\row\pard "
    r"\page After\~the\_break.\line Second line\par{\pict\pngblip\picwgoal600 "
    + "89504e47"
    + r"}\par\bin4 {}}\ end\par}"
)


def test_a_rtf_by_hand() -> None:
    made = read(RTF.encode("cp1252"), "x.rtf")
    assert shown(made)[:3] == [
        "Low Water",
        f"The sea was grey, “so” it was—all of it…{OBJECT} and 2.",
        "Set in italics by its style, and not here.",
    ]
    assert [one.style for one in made.paragraphs[:3]] == ["chapter", "first", "quote"]
    first = made.paragraphs[1]
    assert [(first.text[s.start : s.end], s.style) for s in first.spans] == [
        ("sea", "emphasis"),
        ("grey", "strong"),
        (OBJECT, "note-number"),
        ("2", None),
    ]
    assert [[one.text for one in note.paragraphs] for note in made.notes] == [["A note."]]
    quote = made.paragraphs[2]
    assert [(quote.text[s.start : s.end], s.type and s.type.italic) for s in quote.spans] == [("not here", False)], (
        "its style says the rest"
    )
    (table,) = made.tables
    assert (table.heads, [["".join(x.text for x in c.paragraphs) for c in row] for row in table.rows]) == (
        1,
        [["One", "Two"], ["1", "2"]],
    )
    after = next(one for one in made.paragraphs if one.text.startswith("After"))
    assert after.text == "After\u00a0the\u2011break.\u2028Second line"
    assert after.para
    assert after.para.start == "page"
    assert "hidden words" not in " ".join(shown(made))
    assert made.counts["hidden"] == 1


def test_html_is_never_run_and_nothing_is_fetched() -> None:
    made = read(
        b"<html><head><title>no</title><script>document.write('x')</script></head><body><h1>Ebb</h1><p"
        b" style='text-align:center'>One <i>two</i> three</p><img src='http://192.0.2.1/a.png'><iframe"
        b" src='http://192.0.2.1/'>no</iframe><p class='verse'>A line<br>and another</p><p"
        b" onclick='x()'>Last</p></body></html>",
        "x.html",
    )
    assert shown(made) == ["Ebb", "One two three", "A line\u2028and another", "Last"]
    assert [one.style for one in made.paragraphs] == ["chapter", "first", "verse", "body"]
    assert made.counts["missing"] == 1


def test_guesses_can_be_overruled_and_styles_left_out() -> None:
    styles = (
        f'<w:styles xmlns:w="{W}"><w:style w:type="paragraph" w:styleId="K"><w:name '
        'w:val="Kicker"/></w:style></w:styles>'
    )
    body = p(r("By the way"), '<w:pStyle w:val="K"/>') + p(r("Bold line", "<w:b/>")) + p(r("Words. " * 30))
    made = read(docx(body, styles=styles), "x.docx")
    assert {use.name: use.target for use in made.uses} == {"Kicker": "body", BOLD_LINES: "section", "no style": "body"}
    assert all(use.why for use in made.uses)
    again = read(docx(body, styles=styles), "x.docx", mapping={"Kicker": LEAVE_OUT, BOLD_LINES: "chapter"})
    assert [one.style for one in again.paragraphs] == ["chapter", "first"]
    assert again.counts["left out"] == 1


def bomb() -> bytes:
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("word/document.xml", b" " * 200_000_000)
    return target.getvalue()


@pytest.mark.parametrize(
    ("name", "data", "said"),
    [
        ("a.docx", b"", "empty"),
        ("a.docx", b"PK\x03\x04 nonsense", "damaged"),
        ("a.docx", docx(p(r("x")))[:-40], "damaged"),
        ("a.doc", b"\xd0\xcf\x11\xe0" + b"\0" * 600, "old or a locked"),
        ("a.docx", docx("<w:p>&a;</w:p>").replace(b"word/document.xml", b"word/document.xml"), "damaged"),
        ("a.docx", bomb(), "unpacks|damaged"),
        ("a.rtf", b"{\\rtf1" + b"{" * 5000, "nested"),
        ("a.rtf", b"{\\rtf1 }", "no text"),
        ("a.html", b"<html><body></body></html>", "no text"),
        ("a.docx", docx(""), "no text"),
    ],
)
def test_what_cannot_be_read_is_refused_in_words(name: str, data: bytes, said: str) -> None:
    with pytest.raises(ManuscriptError, match=said):
        read(data, name)


def test_a_file_is_what_it_is_whatever_it_is_called(written: Callable[[str], bytes]) -> None:
    for form in ("docx", "odt", "rtf", "html"):
        assert read(written(form), "copy.txt").encoding == form.upper()
    assert read(b"Just words, in a line.\n", "copy.docx").encoding == "UTF-8"
    with pytest.raises(ManuscriptError, match="Open it from the shelf"):
        read(package.write(book()), "book.docx")


def test_many_paragraphs_styles_and_broken_places_do_no_harm() -> None:
    styles = "".join(
        f'<w:style w:type="paragraph" w:styleId="S{n}"><w:name w:val="Style {n}"/><w:basedOn w:val="S{n}"/></w:style>'
        for n in range(3000)
    )
    body = "".join(p(r(f"Paragraph {n}."), f'<w:pStyle w:val="S{n}"/>') for n in range(3000)) + p(
        r("x"), '<w:numPr><w:numId w:val="77"/><w:ilvl w:val="z"/></w:numPr><w:outlineLvl w:val="-3"/>'
    )
    made = read(docx(body, styles=f'<w:styles xmlns:w="{W}">{styles}</w:styles>'), "x.docx")
    assert len(made.paragraphs) == 3001
    assert len(made.uses) == 3001
    note = '<w:r><w:footnoteReference w:id="9"/></w:r>'
    ring = f'<w:footnotes xmlns:w="{W}"><w:footnote w:id="9">{p(r("in a ring ") + note)}</w:footnote></w:footnotes>'
    made = read(docx(p(r("cited") + note + note), footnotes=ring), "x.docx")
    assert len(made.notes) == 2
    assert made.notes[0].paragraphs[0].text.startswith("in a ring")
