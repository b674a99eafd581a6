"""Finding and replacing over a job: words, patterns, styles and looks on both sides, in texts, notes, cells and
standing copy."""

from __future__ import annotations

import re
import unicodedata

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lexigon.core.document.model import (
    OBJECT,
    Anchor,
    Cell,
    CharacterStyle,
    Job,
    Paragraph,
    Span,
    Story,
    TextTable,
    TypeSpec,
)
from lexigon.core.editing.edits import SpliceParagraphs
from lexigon.core.editing.intents import PourText, PutCopy
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.flow.workspace import Workspace
from lexigon.core.manuscript.review.finding import Exchange, Query, SearchError, exchanged, folded, hits
from tests.core.helpers import book


def holding(*texts: str | Paragraph) -> Workspace:
    workspace = Workspace(book())
    paragraphs = tuple(p if isinstance(p, Paragraph) else Paragraph(f"p{n}", "body", p) for n, p in enumerate(texts))
    workspace.do(PourText("main", paragraphs))
    return workspace


def found(job: Job, **said: object) -> list[str]:
    return [hit.text for hit in hits(job, Query(**said))]  # type: ignore[arg-type]


def test_words_by_case_whole_accents_and_signs_by_name() -> None:
    job = holding("The Café, the cafes; CAFÉ\u00a0noir – a café-bar.", "Tab\there.\u2028Line.").job
    assert found(job, words="café") == ["Café", "CAFÉ", "café"]
    assert found(job, words="café", case=True) == ["café"]
    assert found(job, words="cafe", marks=False) == ["Café", "cafe", "CAFÉ", "café"]
    assert found(job, words="cafe", marks=False, whole=True) == ["Café", "CAFÉ", "café"]
    assert found(job, words="é<no-break space>n") == ["É\u00a0n"]
    assert found(job, words="<tab>h") == ["\th"]
    assert found(job, words="<line end>") == ["\u2028"]
    assert found(job, words="<any letter>af") == ["Caf", "caf", "CAF", "caf"]
    assert found(job, words="<no such sign>") == []
    assert found(job, words="a.e") == []
    assert found(job, words=r"\bc\w+s\b", pattern=True) == ["cafes"]


def test_patterns_that_cannot_be_or_take_too_long_are_said() -> None:
    job = holding("a" * 60).job
    with pytest.raises(SearchError, match="The regular expression is not valid"):
        found(job, words="(a", pattern=True)
    with pytest.raises(SearchError, match="takes too long"):
        list(hits(job, Query(r"(?:a|aa)+b(?:a|aa)+$|(?:(?:a+)+)+c", pattern=True), seconds=0.05)) or list(
            hits(holding(*["a" * 4000] * 50).job, Query(r"(a+)+\1+b", pattern=True), seconds=0.05)
        )
    with pytest.raises(SearchError, match="at most 2,000"):
        found(job, words="a" * 2001)


def test_replacing_keeps_looks_case_and_what_stands_in_the_line_in_one_step() -> None:
    italic = Span(4, 8, type=TypeSpec(italic=True))
    note = Span(9, 10, object=Anchor("note", "n1"))
    workspace = holding("x")
    paragraphs = (
        Paragraph("a", "body", f"The gull {OBJECT} gulls. GULL", (italic, note)),
        Paragraph("b", "body", "Gull and seagull."),
        Paragraph("c", "body", "Nothing."),
    )
    workspace.do(
        PourText("main", paragraphs, notes=(Story("n1", "Note", [Paragraph("n1p", "body", "A gull.")], kind="note"),))
    )
    workspace.job.tables["t1"] = TextTable(
        "t1", "Table 1", ((Cell((Paragraph("c1", "body", "gull"),)), Cell((Paragraph("c2", "body", "tern"),))),)
    )
    workspace.do(PutCopy("Bird", "the gull"))
    before = job_to_json(workspace.job)
    edit, count, held = exchanged(
        workspace.job, Query("gull", whole=True), Exchange("kittiwake", keep_case=True), left={2}
    )
    assert (count, held) == (5, 0)
    change = workspace.do(edit)
    main = workspace.job.stories["main"].paragraphs
    assert main[0].text == f"The kittiwake {OBJECT} gulls. KITTIWAKE"
    assert main[0].spans == (Span(4, 13, type=TypeSpec(italic=True)), Span(14, 15, object=Anchor("note", "n1")))
    assert main[1].text == "Gull and seagull.", "unticked"
    assert workspace.job.stories["n1"].paragraphs[0].text == "A kittiwake."
    assert workspace.job.tables["t1"].rows[0][0].paragraphs[0].text == "kittiwake"
    assert [one.text for one in workspace.job.copies.values()] == ["the kittiwake"]
    assert {(one.story, one.at, one.remove) for one in change.edits if isinstance(one, SpliceParagraphs)} == {
        ("main", 0, 1),
        ("n1", 0, 1),
    }
    workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before
    _, count, held = exchanged(workspace.job, Query("gull <object>"), Exchange("x"))
    assert (count, held) == (0, 1), "a note in what is found is not lost"


def test_groups_of_a_pattern_and_the_found_words_are_put_in() -> None:
    workspace = holding("On 3 May and 12 June.")
    edit, count, _ = exchanged(
        workspace.job, Query(r"(\d+) (\w+)", pattern=True), Exchange("<2><no-break space><1> (<found>)")
    )
    workspace.do(edit)
    assert count == 2
    assert workspace.job.stories["main"].paragraphs[0].text == "On May\u00a03 (3 May) and June\u00a012 (12 June)."


def test_styles_and_looks_on_both_sides() -> None:
    workspace = holding(
        Paragraph(
            "a",
            "body",
            "plain italic bold",
            (Span(6, 12, type=TypeSpec(italic=True)), Span(13, 17, type=TypeSpec(weight=700))),
        ),
        Paragraph("b", "chapter", "italic in a heading"),
    )
    job = workspace.job
    job.character_styles["bird"] = CharacterStyle("bird", "Bird", type=TypeSpec(caps="small"))
    assert found(job, italic=True, story="main") == ["italic"]
    assert found(job, bold=True, style="body") == ["bold"]
    assert found(job, words="i", italic=True, story="main") == ["i", "i"]
    edit, count, _ = exchanged(job, Query(italic=True, story="main"), Exchange(character="bird", italic=False))
    workspace.do(edit)
    assert count == 1
    assert found(job, character="bird") == ["italic"]
    assert found(job, italic=True, story="main") == []
    workspace.do(exchanged(job, Query(character="bird"), Exchange(character="-"))[0])
    assert [span.type for span in job.stories["main"].paragraphs[0].spans] == [TypeSpec(weight=700)]
    with pytest.raises(SearchError, match="no longer"):
        exchanged(job, Query("a"), Exchange(style="gone"))


@given(st.text(alphabet="aàé ö\u0301n", max_size=20), st.text(alphabet="aàé ö", min_size=1, max_size=3))
def test_found_against_pythons_own_search_with_accents_and_without(text: str, words: str) -> None:
    text = unicodedata.normalize("NFC", text)
    job = holding(text or "x").job
    assert found(job, words=words, case=True) == [m[0] for m in re.finditer(re.escape(words), text)]
    plain, sought = folded(text), folded(words)
    assert len(plain) == len(text)
    assert found(job, words=words, case=True, marks=False) == [
        text[m.start() : m.end()] for m in re.finditer(re.escape(sought), plain)
    ]


def test_within_a_stretch_that_was_chosen_alone() -> None:
    job = holding("gull gull gull", "gull", "gull gull").job
    said = {"words": "gull", "story": "main", "first": "p2", "first_at": 4, "last": "p0", "last_at": 6}
    assert [(hit.paragraph.id, hit.start) for hit in hits(job, Query(**said))] == [("p0", 10), ("p1", 0), ("p2", 0)]  # type: ignore[arg-type]
    with pytest.raises(SearchError, match="no longer in the story"):
        found(job, **said | {"last": "gone"})


def test_size_font_colour_and_language_on_both_sides() -> None:
    def spanned(start: int, end: int, **look: object) -> Span:
        return Span(start, end, type=TypeSpec(**look))  # type: ignore[arg-type]

    spans = (
        spanned(0, 3, size=9.0),
        spanned(4, 7, family="Inter"),
        spanned(8, 11, swatch="white"),
        spanned(12, 15, language="de-AT"),
        spanned(16, 19, language="den"),
    )
    workspace = holding(Paragraph("a", "body", "one two thr fou fiv six", spans), Paragraph("b", "caption", "seven"))
    job = workspace.job
    assert found(job, size=9.0) == ["one"]
    assert found(job, size=11.0) == [" two thr fou fiv six"], "by style, where nothing else is said"
    assert found(job, family="inter") == ["two"]
    assert found(job, swatch="white") == ["thr"]
    assert found(job, language="de") == ["fou"], "every kind of German, and nothing else that begins so"
    assert found(job, language="de-DE") == []
    assert found(job, words="o", size=9.0) == ["o"]
    put = Exchange(size=10.0, family="EB Garamond", swatch="black", language="fr-FR")
    edit, count, _ = exchanged(job, Query(language="de"), put)
    assert count == 1
    before = job_to_json(job)
    change = workspace.do(edit)
    (made,) = [span.type for span in job.stories["main"].paragraphs[0].spans if span.start == 12]
    assert made == TypeSpec(size=10.0, family="EB Garamond", swatch="black", language="fr-FR")
    workspace.run(change.inverse)
    assert job_to_json(job) == before
    with pytest.raises(SearchError, match="swatch is no longer"):
        exchanged(job, Query("two"), Exchange(swatch="gone"))
