"""Reading plain text: encodings, wrapping, structure, typography, and what is no text at all."""

from __future__ import annotations

import pytest

from lexigon.core.document.model import Span
from lexigon.core.document.quotation_marks import typed_marks
from lexigon.core.document.starter import book_styles
from lexigon.core.document.story_text import LINE_BREAK
from lexigon.core.errors import LexigonError
from lexigon.core.manuscript.model import restyled
from lexigon.core.manuscript.readers.decode import LARGEST, decode
from lexigon.core.manuscript.readers.plain_text import read_plain
from lexigon.core.manuscript.reading import read
from lexigon.core.manuscript.review.cleaning import Cleaner, typographic
from lexigon.core.manuscript.review.typography import typeset

WRAPPED = """\
THE TWO CLOCKS

PART ONE

CHAPTER I.

The marsh keeps two clocks. One is the sun's, and the _geese_ obey it;
the other is the moon's, and the mud obeys that. They run at different
speeds.

Everything that lives here must read both faces at once, and it is well-
known that a dunlin does not care whether it is day or night.

* * *

It began again
with the tide.

2

"Listen," she said.
"""


@pytest.mark.parametrize(
    ("data", "encoding", "text"),
    [
        (b"\xef\xbb\xbfcaf\xc3\xa9", "UTF-8", "café"),
        ("café".encode(), "UTF-8", "café"),
        (b"caf\xe9 \x93hi\x94", "Windows-1252", "café “hi”"),
        ("\ufeffcafé".encode("utf-16-le"), "UTF-16", "café"),
        (b"a\x81b", "Windows-1252", "a\ufffdb"),
        (b"a\r\nb\rc", "UTF-8", "a\nb\nc"),
        (b"nul\0s a\x07re dropped", "UTF-8", "nuls are dropped"),
    ],
)
def test_encodings(data: bytes, encoding: str, text: str) -> None:
    found = decode(data)
    assert (found.encoding, found.text) == (encoding, text)


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "empty"),
        (b" \n\t ", "empty"),
        (b"\xef\xbb\xbf", "empty"),
        (b"\x89PNG\r\n\x1a\n..", "PNG picture"),
        (b"\xff\xd8\xff\xe0..", "JPEG"),
        (b"%PDF-1.7", "PDF"),
        (b"PK\x03\x04..", "zip"),
        (b"{\\rtf1 x}", "RTF"),
        (bytes(range(1, 32)) * 40, "control characters"),
        (b"\0\0\0", "empty"),
        (b"x" * (LARGEST + 1), "at most 40 MB"),
    ],
)
def test_what_is_no_manuscript_is_refused_in_plain_words(data: bytes, says: str) -> None:
    with pytest.raises(LexigonError, match=says):
        decode(data)


def test_structure_of_a_wrapped_text() -> None:
    read = read_plain(decode(WRAPPED.encode()))
    assert [(p.style, p.text[:14]) for p in read.paragraphs] == [
        ("title", "THE TWO CLOCKS"),
        ("part", "PART ONE"),
        ("chapter", "CHAPTER I."),
        ("first", "The marsh keep"),
        ("body", "Everything tha"),
        ("scene", "* * *"),
        ("first", "It began again"),
        ("chapter", "2"),
        ("first", '"Listen," she '),
    ]
    marsh, everything = read.paragraphs[3], read.paragraphs[4]
    assert "obey it; the other" in marsh.text
    assert [marsh.text[s.start : s.end] for s in marsh.spans] == ["geese"]
    assert "well-known" in everything.text
    assert read.counts["joined"] == 4
    assert read.counts["words"] == sum(len(p.text.split()) for p in read.paragraphs)


DISPLAYED = """\
The sheet in the hide had a verse on it, which nobody had signed and nobody
had liked to take down, so that it was still there in the spring:

    The tide has a clock of its own,
      And the mud keeps the hour;
    The dunlin is late, and alone,
      And the hut smells of flour.

    It is ten; it is nine;
    The kettle is mine.

It was answered, some weeks afterwards, in a different and much firmer hand
that the wardens had no trouble at all in recognising.

     "Sir, the kettle belongs to the
     Observatory, as does the flour, and
     I should be obliged to have both of
     them returned by the next spring
     tide at the latest.

                              "A. Warden."

Nothing more was written there, and in the end the sheet came down with the
nail that held it.
"""


def test_verse_keeps_its_lines_and_their_indents_and_letters_are_quoted() -> None:
    read = read_plain(decode(DISPLAYED.encode()))
    assert [p.style for p in read.paragraphs] == ["first", "verse", "verse", "body", "quote", "quote", "body"]
    first, second = (p.text.split(LINE_BREAK) for p in read.paragraphs[1:3])
    step = 4 * "\u00a0"
    assert first == [
        "The tide has a clock of its own,",
        f"{step}And the mud keeps the hour;",
        "The dunlin is late, and alone,",
        f"{step}And the hut smells of flour.",
    ]
    assert second == ["It is ten; it is nine;", "The kettle is mine."]
    assert read.paragraphs[4].text.startswith('"Sir, the kettle belongs to the Observatory, as does')


def test_indents_that_only_begin_paragraphs_are_no_verse() -> None:
    lines = [
        "  The hut was shut. Nobody had told the geese, which stood about on the bank",
        "and looked at it as though it might open.",
    ]
    talk = ['  "Is it the tide?" said one.', '  "It is the plank," said the other.', '  "Ah."']
    read = read_plain(decode("\n".join([*lines, *talk, *lines, "", *lines, *talk]).encode()))
    assert {p.style for p in read.paragraphs} == {"first", "body"}
    assert len(read.paragraphs) == 9


@pytest.mark.parametrize(
    ("head", "rows"),
    [
        (["TIDES", "By A. Warden"], [("title", "TIDES"), ("author", "By A. Warden")]),
        (
            ["Tides", "by", "A. Warden", "(1814)"],
            [("title", "Tides"), ("author", "by A. Warden"), ("author", "(1814)")],
        ),
        (["TIDES", "1814", "by A. Warden"], [("title", "TIDES"), ("author", "1814"), ("author", "by A. Warden")]),
        (
            ["The tide came in.", "By then it was late."],
            [("first", "The tide came in."), ("body", "By then it was late.")],
        ),
    ],
)
def test_a_title_page_is_recognised(head: list[str], rows: list[tuple[str, str]]) -> None:
    text = "\n\n".join(
        [
            *head,
            "CHAPTER I",
            (
                "It was the same hut that it had been the year before, and the year\nbefore that; nobody had thought to"
                " paint it or to ask."
            ),
            "THE END",
        ]
    )
    read = read_plain(decode(text.encode()))
    assert [(p.style, p.text) for p in read.paragraphs][: len(rows)] == rows
    assert [p.style for p in read.paragraphs][len(rows) :] == ["chapter", "first", "scene"]


def test_headings_can_be_something_else() -> None:
    read = read_plain(decode(WRAPPED.encode()))
    assert [(h.style, h.text) for h in read.headings][-1] == ("chapter", "2")
    number = read.headings[-1].number
    styles = [p.style for p in restyled(read, {number: "body", 3: "chapter"})]
    assert styles[number:] == ["body", "body"], "no chapter begins, so no first paragraph does"
    assert styles[3:5] == ["chapter", "first"]
    assert restyled(read, {}) == read.paragraphs


def test_unwrapped_text_has_a_paragraph_a_line() -> None:
    text = "\n".join(f"Line {n} " + "word " * 60 for n in range(5))
    assert len(read_plain(decode(text.encode())).paragraphs) == 5


def test_marked_headings() -> None:
    read = read_plain(decode(b"# Part\n\n## Chapter\n\ntext here\n\n### Section\n\nmore"))
    assert [p.style for p in read.paragraphs] == ["part", "chapter", "first", "section", "first"]


@pytest.mark.parametrize(
    ("language", "typed", "set_"),
    [
        (
            "en-GB",
            """"'Tis the '90s," he said, 'and it's 6'2" tall.' """,
            "‘’Tis the ’90s,’ he said, “and it’s 6′2″ tall.” ",
        ),
        ("en-US", '"Well -- I don\'t," she said...', "“Well—I don’t,” she said…"),
        ("en-GB", "'Well -- no,' she said.", "‘Well – no,’ she said."),
        ("de-DE", '"Ja", sagte er.', "„Ja“, sagte er."),
        ("fr", '"Oui."', "«Oui.»"),
        ("en-GB", "pages 3-8, 2026-11-24", "pages 3–8, 2026-11-24"),
    ],
)
def test_typographic_marks_by_language(language: str, typed: str, set_: str) -> None:
    assert typeset(typed, (), language)[0] == set_


def test_spans_move_with_the_marks() -> None:
    text, spans = typeset("wait... then -- _x_", (Span(8, 12, style="emphasis"),), "en-US")
    assert text[spans[0].start : spans[0].end] == "then"


@pytest.mark.parametrize(
    ("language", "straight", "set_"),
    [
        (
            "en-GB",
            'She said "the winters\' revolving storms" and left.',
            "She said ‘the winters’ revolving storms’ and left.",
        ),
        (
            "en-US",
            "\"'Yes,' he said of the birds' nests,\" she told.",
            "“‘Yes,’ he said of the birds’ nests,” she told.",
        ),
        ("en-GB", "'The wardens' hut is shut,' she said.", "‘The wardens’ hut is shut,’ she said."),
        ("en-GB", "The wardens' hut, the geese's creek.", "The wardens’ hut, the geese’s creek."),
        ("en-GB", "'He said \"no\" twice,' she wrote.", "‘He said “no” twice,’ she wrote."),
        ("en-US", '"I\'ll go," said he, "when the tide\'s out."', "“I’ll go,” said he, “when the tide’s out.”"),
        ("en-US", '"He came, and went on to the next', "“He came, and went on to the next"),
        ("en-US", "It was 'cause of the tide.", "It was ’cause of the tide."),
    ],
)
def test_quotation_marks_nest_and_apostrophes_close_nothing(language: str, straight: str, set_: str) -> None:
    assert typeset(straight, (), language)[0] == set_


def test_doubtful_marks_are_listed() -> None:
    read = read_plain(decode(b"'The wardens' hut is shut,' she said.\n"), Cleaner("en-GB", typographic(True)))
    assert len(read.doubts) == 1
    assert "wardens’ hut" in read.doubts[0]


@pytest.mark.parametrize(
    ("language", "typed", "set_"),
    [
        ("en-GB", '\'Tis "it", isn\'t ("so")', "‘Tis “it”, isn’t (“so”)"),
        ("de", '"Ja"', "„Ja“"),
        ("fr", '"Oui"', "«Oui»"),
    ],
)
def test_marks_typed_one_by_one_become_the_languages(language: str, typed: str, set_: str) -> None:
    made = ""
    for sign in typed:
        made += typed_marks(made, sign, language)
    assert made == set_


def test_a_title_page_is_set_as_one_and_shouted_speech_is_no_heading() -> None:
    text = (
        "Slack Water\n\nby Ida Merrow\n\nChapter One\n\n“STOP THAT NOISE”\n\nThe geese went up at once, all of them.\n"
    )
    read = read_plain(decode(text.encode()))
    assert [p.style for p in read.paragraphs] == ["title", "author", "chapter", "first", "body"]


def test_items_of_lists_are_in_styles_by_level_that_indent_and_number_them() -> None:
    """Three levels have styles; a fourth has what differs set by hand."""
    text = "\n".join(["* One", "    * Two", "        * Three", "            * Four", "", "1. First", "2. Second"])
    made = read(text.encode(), "lists.md").paragraphs
    assert [p.style for p in made] == [
        "bullet-list",
        "bullet-list-2",
        "bullet-list-3",
        "bullet-list-3",
        "number-list",
        "number-list",
    ]
    by_id = {style.id: style for style in book_styles()}
    assert [by_id[p.style].para.indent_left for p in made[:3]] == [15.0, 30.0, 45.0]
    assert made[3].para is not None
    assert made[3].para.indent_left == 60.0
    assert [p.para is None for p in made[:3]] == [True] * 3
