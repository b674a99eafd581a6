"""Spelling of a job: unknown words by language with the likeliest mistakes first, words twice, words in two ways;
dictionaries that are none."""

from __future__ import annotations

from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from demo.guide import guide
from lexigon.core.document.model import (
    OBJECT,
    Anchor,
    Cell,
    Job,
    Listing,
    ListingSource,
    Paragraph,
    Span,
    TextTable,
    TypeSpec,
)
from lexigon.core.editing.intents import ForgetWord, InsertListing, LearnWord, MarkTerms, PourText, PutListing
from lexigon.core.flow.listing_entries import gathered
from lexigon.core.flow.workspace import Workspace
from lexigon.core.manuscript.review.spelling import Speller, checked, one_letter, words_in
from lexigon.core.manuscript.review.word_lists import SHIPPED, Dictionaries, WordListError, vetted
from tests.core.helpers import book

ENGLISH = Dictionaries()


def holding(*texts: str | Paragraph) -> Job:
    workspace = Workspace(book())
    workspace.do(
        PourText(
            "main", tuple(p if isinstance(p, Paragraph) else Paragraph(f"p{n}", "body", p) for n, p in enumerate(texts))
        )
    )
    return workspace.job


def test_the_likeliest_mistakes_stand_first_with_what_was_meant() -> None:
    job = holding(
        "The receipt, the receipt and the receipt. A reciept for Mrs Quonk, who has a zibble; the zibble is hers.",
        "Zibble!",
    )
    job.tables["t"] = TextTable("t", "Table 1", ((Cell((Paragraph("c", "body", "teh"),)),),))
    report = checked(Speller(job, ENGLISH))
    assert [(one.word, one.count, one.near) for one in report.unknown] == [
        ("reciept", 1, "receipt"),
        ("teh", 1, ""),
        ("zibble", 3, ""),
        ("Quonk", 1, ""),
    ]
    assert report.unknown[2].forms == ["zibble", "Zibble"], "words that differ by case are one"
    (at,) = report.unknown[0].places
    assert job.stories["main"].paragraphs[0].text[at.start : at.end] == "reciept"
    assert report.unknown[1].places[0].where.kind == "table"
    assert report.unchecked == {}


@pytest.mark.parametrize(
    ("text", "unknown"),
    [
        ("It’s the hide’s own; don't.", []),
        ("co-oporate, well-known, tide-lnie", ["co-oporate", "tide-lnie"]),
        ("NATO and WXYZ, XIV, chapter vii.", []),
        ("B2B A4sheet 3rd 1990s", []),
        ("col\u00adour obser\u00advatoyr", ["observatoyr"]),
        ("colour and color", ["color"]),
        ("naïve café, naïev", ["naïev"]),
    ],
)
def test_words_are_what_is_checked(text: str, unknown: list[str]) -> None:
    assert [one.word for one in checked(Speller(holding(text), ENGLISH)).unknown] == unknown


def test_each_run_in_its_language_and_none_without_a_dictionary() -> None:
    american = Span(0, 5, type=TypeSpec(language="en-US"))
    german = Span(6, 17, type=TypeSpec(language="de-DE"))
    field = Span(25, 26, object=Anchor("page"))
    job = holding(Paragraph("a", "body", f"color Wattenvögel colour {OBJECT}", (american, german, field)))
    report = checked(Speller(job, ENGLISH))
    assert report.unknown == []
    assert report.unchecked == {"de-DE": 1}
    assert [
        one.word
        for one in checked(
            Speller(holding(Paragraph("a", "body", "colour", (Span(0, 6, type=TypeSpec(language="en-US")),))), ENGLISH)
        ).unknown
    ] == ["colour"]


def test_learned_words_are_no_mistakes_in_any_case_or_with_an_s() -> None:
    workspace = Workspace(holding("Zibble, zibble’s and zibble."))
    assert len(checked(Speller(workspace.job, ENGLISH)).unknown) == 2
    assert checked(Speller(workspace.job, ENGLISH, [("zibble", "")])).unknown == []
    assert len(checked(Speller(workspace.job, ENGLISH, [("zibble", "de")])).unknown) == 2
    assert checked(Speller(holding("ZIBBLE"), ENGLISH, [("Zibble", "")])).unknown == [], "a name in capitals"
    change = workspace.do(LearnWord("zibble"))
    assert checked(Speller(workspace.job, ENGLISH)).unknown == []
    assert not workspace.do(LearnWord("zibble")).edits
    workspace.do(ForgetWord(next(iter(workspace.job.lexicon))))
    assert len(checked(Speller(workspace.job, ENGLISH)).unknown) == 2
    assert change.edits


def test_the_entries_of_listings_are_left_to_what_they_are_gathered_from() -> None:
    """Neither spelling nor index marks count a heading again in the contents."""
    workspace = Workspace(holding(Paragraph("h", "chapter", "Of zibbles"), "Text."))
    workspace.do(PutListing(Listing("l", "Contents", (ListingSource("chapter"),))))
    now = tuple(one.entry for one in gathered(workspace.composition, workspace.job.listings["l"]))
    workspace.do(InsertListing("l", "main", now, heading="Contents"))
    (zibbles,) = checked(Speller(workspace.job, ENGLISH)).unknown
    assert zibbles.count == 1
    workspace.do(MarkTerms("zibbles"))
    marked = [
        p.style
        for p in workspace.job.stories["main"].paragraphs
        if any(s.object and s.object.kind == "index" for s in p.spans)
    ]
    assert marked == ["chapter"]


def test_words_that_stand_twice_and_words_in_two_ways() -> None:
    job = holding(
        "It was the the tide. He had had enough.\u2028Enough.",
        "We realise, and organise; they realized. A tide-line, the tideline. Then a cafe and the café.",
        "By the River the river ran, a river.",
    )
    report = checked(Speller(job, ENGLISH))
    assert [words for words, _ in report.doubled] == ["the the", "had had"]
    assert {one.kind: one.spellings for one in report.variants} == {
        "hyphens": {"tide-line": 1, "tideline": 1},
        "accents": {"cafe": 1, "café": 1},
        "capitals": {"river": 2, "River": 1},
    }
    job = holding("They organise and organize; the organiser, the organizers.")
    assert [one.spellings for one in checked(Speller(job, ENGLISH)).variants] == [{"organise": 1, "organize": 1}]


def test_the_demos_guide_has_hardly_a_word_that_is_not_known() -> None:
    report = checked(Speller(guide(), ENGLISH))
    assert len(report.unknown) <= 3, [one.word for one in report.unknown]
    assert report.doubled == []


@given(st.text(alphabet="abc", max_size=6), st.text(alphabet="abc", max_size=6))
def test_one_letter_apart_against_the_usual_table_of_distances(one: str, other: str) -> None:
    """Optimal string alignment distance (Damerau 1964), by its recurrence."""
    rows = [[i + j if i == 0 or j == 0 else 0 for j in range(len(other) + 1)] for i in range(len(one) + 1)]
    for i in range(1, len(one) + 1):
        for j in range(1, len(other) + 1):
            best = min(rows[i - 1][j] + 1, rows[i][j - 1] + 1, rows[i - 1][j - 1] + (one[i - 1] != other[j - 1]))
            if i > 1 and j > 1 and one[i - 1] == other[j - 2] and one[i - 2] == other[j - 1]:
                best = min(best, rows[i - 2][j - 2] + 1)
            rows[i][j] = best
    assert one_letter(one, other) == (rows[-1][-1] == 1)


def test_words_stand_where_they_are_said_to() -> None:
    text = "“Don’t,” he said: co\u00adop 3rd x2 naïve-ish."
    assert [(text[a:b], word) for a, b, word in words_in(text)] == [
        ("Don’t", "Don't"),
        ("he", "he"),
        ("said", "said"),
        ("co\u00adop", "coop"),
        ("naïve-ish", "naïve-ish"),
    ]


def test_dictionaries_that_are_none_are_refused_and_good_ones_serve() -> None:
    vetted(b"SET UTF-8\n", "2\nWatt\nVögel\n".encode())
    for aff, dic in ((b"SET UTF-8\n", b"no number\nx\n"), (b"", b""), (b"SET UTF-8\n", b"5")):
        with pytest.raises(WordListError):
            vetted(aff, dic)
    assert ENGLISH.of("de") is None
    assert ENGLISH.of("en-AU") is ENGLISH.of("en-GB")
    own = Dictionaries({"de-DE": SHIPPED / "en-GB"})
    assert own.of("de-AT") is own.of("de-DE")
    book_ = ENGLISH.of("en-GB")
    assert book_
    assert "observatory" in book_.suggested("obsrvatory")
    assert all((SHIPPED / f"{one}.license.txt").exists() for one in ("en-GB", "en-US")), (
        "every dictionary with its licence"
    )
    assert {path.suffix for path in Path(SHIPPED).iterdir()} == {".aff", ".dic", ".txt"}
