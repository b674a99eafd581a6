"""What writers do by hand: found, counted, shown as it is and as it would be, put right only where that is wanted; and
the survey's counts."""

from __future__ import annotations

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from demo.manuscripts import docx, rtf
from lexigon.core.document.model import Paragraph, Span, TypeSpec
from lexigon.core.manuscript.mapping import converted
from lexigon.core.manuscript.model import Manuscript
from lexigon.core.manuscript.reading import read
from lexigon.core.manuscript.review.cleaning import CLEAN_UPS, Cleaner
from lexigon.core.manuscript.review.fixes import Fix, fixed
from lexigon.core.manuscript.review.survey import odd_headings, parts_of, surveyed
from lexigon.core.manuscript.source import Source, SourceParagraph
from lexigon.core.type.fonts import FontLibrary
from tests.core.helpers import book

ALL = {one.id: True for one in CLEAN_UPS}
NONE = dict.fromkeys(ALL, False)


@pytest.mark.parametrize(
    ("id_", "language", "was", "now"),
    [
        ("spaces", "en-GB", "One.  Two.   Three.", "One. Two. Three."),
        ("tabs", "en-GB", "One\ttwo \t three", "One two three"),
        ("lines", "en-GB", "the tide\u2028turned at six.\u2028The rest", "the tide turned at six.\u2028The rest"),
        ("divided", "en-GB", "the exam- ple of pre- and post-war hides", "the example of pre- and post-war hides"),
        ("soft", "en-GB", "ob\u00adser\u00advatory", "observatory"),
        ("stops", "en-GB", "Wait , then go . . . or stay ; so .5 m", "Wait, then go . . . or stay; so .5 m"),
        ("stops", "fr", "Oui , non ; peut-être !", "Oui, non ; peut-être !"),
        ("dashes", "en-US", "Wait -- or go---now - so", "Wait—or go—now—so"),
        ("dashes", "en-GB", "-- begun, well-known, 3-4", "– begun, well-known, 3-4"),
        ("dashes", "fr", "Oui - non", "Oui – non"),
        ("ellipses", "en-GB", "so ... and . . . and .... on", "so … and … and …. on"),
        ("ranges", "en-GB", "pp. 12-48, 2026-11-24, A1-4", "pp. 12–48, 2026-11-24, A1-4"),
        ("quotes", "en-GB", '"It\'s the \'90s," he said: 6\'2", 7" tall', "‘It’s the ’90s,’ he said: 6′2″, 7″ tall"),
        ("quotes", "en-US", '"I counted 12" she said.', "“I counted 12” she said."),
        (
            "spacing",
            "fr",
            "Oui ! Non: «ainsi» ; voilà?",
            "Oui\u202f! Non\u00a0: «\u00a0ainsi\u00a0»\u202f; voilà\u202f?",
        ),
        ("spacing", "de", "z. B. und d.h. in § 5, 12 km", "z.\u202fB. und d.\u202fh. in §\u00a05, 12\u00a0km"),
        ("spacing", "en-GB", "5 km in 3 hours, 12 °C, 4 mind", "5\u00a0km in 3 hours, 12\u00a0°C, 4 mind"),
    ],
)
def test_each_clean_up_by_itself_and_only_where_it_is_wanted(id_: str, language: str, was: str, now: str) -> None:
    """Common practice of typesetters, no source; French spaces after the Imprimerie nationale's rules, from memory."""
    assert Cleaner(language, NONE | {id_: True}).clean(was)[0] == now
    left = Cleaner(language, NONE)
    assert left.clean(was) == (was, ())
    (found,) = [one for one in left.findings if one.id == id_]
    assert found.count
    assert len(found.examples) == min(found.count, 3)
    for example in found.examples:
        assert f"{example.before}{example.was}{example.behind}" in was
    again = Cleaner(language, NONE | {id_: True})
    again.clean(now)
    assert all(one.id != id_ for one in again.findings), "done twice it finds nothing"


@given(
    st.text(alphabet="ab \t-.'\"\u2028\ufffc12,", max_size=60),
    st.lists(st.tuples(st.integers(0, 60), st.integers(0, 60)), max_size=4),
    st.sampled_from(["en-GB", "en-US", "fr", "de"]),
)
def test_letters_and_what_stands_in_the_line_stay_and_keep_their_looks(
    text: str, places: list[tuple[int, int]], language: str
) -> None:
    spans = tuple(
        Span(min(a, b), min(max(a, b), len(text)), type=TypeSpec(italic=True))
        for a, b in places
        if min(a, b) < min(max(a, b), len(text))
    )
    made, moved = Cleaner(language, ALL).clean(text, spans)
    bare = lambda words: [sign for sign in words if sign in "ab\ufffc12"]  # noqa: E731
    assert bare(made) == bare(text)
    assert all(0 <= one.start < one.end <= len(made) for one in moved)
    kept = [span for span in spans if bare(text[span.start : span.end])]
    assert [bare(made[one.start : one.end]) for one in moved if bare(made[one.start : one.end])] == [
        bare(text[one.start : one.end]) for one in kept
    ]


def test_fixes_against_a_plain_replacement_from_behind() -> None:
    rng = random.Random(7)
    for _ in range(300):
        text = "".join(rng.choice("abcdef") for _ in range(rng.randrange(1, 30)))
        cuts = sorted(rng.sample(range(len(text) + 1), min(len(text) + 1, 2 * rng.randrange(1, 5)) // 2 * 2))
        fixes = [Fix(a, b, rng.choice(["", "X", "YZ"])) for a, b in zip(cuts[::2], cuts[1::2], strict=True)]
        made = text
        for fix in reversed(fixes):
            made = made[: fix.start] + fix.text + made[fix.end :]
        assert fixed(text, (), fixes)[0] == made


def source(*texts: str) -> Source:
    return Source("a test", [SourceParagraph(text, style="Normal") for text in texts])


def test_clean_ups_of_whole_paragraphs() -> None:
    copy = source("\tThe tide turned and", "went out again.", "", "A new one.")
    read_ = converted(copy, {}, Cleaner("en-GB", {"parted": True}))
    assert [p.text for p in read_.paragraphs] == ["The tide turned and went out again.", "A new one."]
    assert {one.id: (one.count, one.on) for one in read_.found} == {
        "indents": (1, True),
        "parted": (1, True),
        "empty": (1, True),
    }
    assert read_.counts["words"] == 10
    assert read_.doubts == ("The tide turned and\nwent out again.",)
    as_it_is = converted(copy, {}, Cleaner("en-GB", NONE))
    assert [p.text for p in as_it_is.paragraphs] == [one.text for one in copy.paragraphs]


@pytest.mark.parametrize("made", [docx, rtf])
def test_the_demos_manuscript_has_what_its_writer_did_by_hand(made: object) -> None:
    """The same words in both formats; with all clean-ups no straight mark is left, and every heading, note and table is
    there."""
    read_ = read(made(), "copy", cleaned=ALL, mapping={"lines formatted as bold": "chapter"})  # type: ignore[operator]
    text = "\n".join(p.text for p in read_.paragraphs) + "\n".join(
        p.text for note in read_.notes for p in note.paragraphs
    )
    assert not set("\"'\t") & set(text)
    assert "  " not in text
    found = {one.id: one.count for one in read_.found}
    assert found["empty"] == 14
    assert found["indents"] > 20
    assert found["quotes"] > 30
    assert read_.counts["footnotes"] == 4
    assert read_.counts["tables"] == 1
    assert read_.counts["deletions"] == 10
    assert {use.name: use.target for use in read_.uses}.items() >= {
        "heading 1": "part",
        "heading 2": "chapter",
        "heading 3": "section",
        "lines typed in capitals": "section",
    }.items()
    survey = surveyed(read_, book(), FontLibrary())
    assert (
        sum(part.words for part in survey.parts)
        + sum(len(p.text.split()) for p in read_.paragraphs if p.style in ("title", "part", "chapter", "section"))
        == read_.counts["words"]
    )
    assert survey.longest[0] == 137
    assert [part.text for part in survey.parts if part.style == "part"][0] == "Part One: The Place"


def test_the_survey_tells_odd_headings_other_languages_and_signs_that_no_font_has() -> None:
    styles = [
        ("chapter", "One"),
        ("chapter", "* * *"),
        ("body", "Words."),
        ("section", "Notes"),
        ("body", "x"),
        ("section", "Notes"),
        ("body", "y"),
        ("section", "Notes"),
        ("body", "z"),
    ]
    paragraphs = tuple(Paragraph(f"p{n}", style, text) for n, (style, text) in enumerate(styles))
    assert [(one.number, one.why) for one in odd_headings(paragraphs)] == [
        (0, "no text follows it"),
        (1, "no letters in it"),
        *((n, "the same words 3 times") for n in (3, 5, 7)),
    ]
    parts = parts_of([Paragraph("f", "body", "Before all."), *paragraphs])
    assert [(part.number, part.depth, part.words) for part in parts] == [
        (-1, 0, 2),
        (1, 0, 0),
        (2, 0, 1),
        (4, 1, 1),
        (6, 1, 1),
        (8, 1, 1),
    ]
    text = "He said ça va to the \U00013080 twice."
    french = Span(8, 13, type=TypeSpec(language="fr"))
    survey = surveyed(Manuscript((Paragraph("p", "body", text, (french,)),), "a test", {}, ()), book(), FontLibrary())
    assert survey.foreign == (("fr", 2, "ça va"),)
    assert [(one.sign, one.count, one.name) for one in survey.lacking] == [
        ("\U00013080", 1, "egyptian hieroglyph d010")
    ]


FRONT = """Slack Water

Slack Water

by Wren Dunlin

Contents

The plank 1

The sluice 9

For the wardens of the second hide

\u00a9 2026 The Saltmarsh Observatory

All rights reserved.

Foreword

The tide has been good to us this year, and the log-book says so.

Also by Wren Dunlin

The Long Thread

Chapter One

It began with the tide.
"""


def test_front_matter_comes_in_the_trades_order_if_that_is_wanted() -> None:
    """The Chicago Manual of Style, 17th edition, 1.4 (from memory); which pieces begin on the right is common
    practice."""
    left = read(FRONT.encode(), "copy.txt")
    assert [one.count for one in left.found if one.id == "front"] == [1]
    assert left.paragraphs[3].text == "Contents"
    made = read(FRONT.encode(), "copy.txt", cleaned={"front": True})
    starts = [(p.text.split(".")[0], p.para.start) for p in made.paragraphs if p.para]
    assert starts == [
        ("Slack Water", "recto"),
        ("Also by Wren Dunlin", "verso"),
        ("Slack Water", "recto"),
        ("\u00a9 2026 The Saltmarsh Observatory", "verso"),
        ("For the wardens of the second hide", "recto"),
        ("Contents", "recto"),
        ("Foreword", "recto"),
        ("Chapter One", "recto"),
    ]
    assert sorted(p.text for p in made.paragraphs) == sorted(p.text for p in left.paragraphs)
    assert [made.paragraphs[one.number].text for one in made.headings] == [one.text for one in made.headings]
    assert {p.text: p.style for p in made.paragraphs}["All rights reserved."] == "imprint"
    plain = read(b"Chapter One\n\nFor the wardens it began with the tide.\n", "copy.txt", cleaned={"front": True})
    assert not any(one.id == "front" for one in plain.found)


@pytest.mark.parametrize(
    ("language", "text", "wanted"),
    [
        (
            "en-GB",
            "Mrs Tarn and Sir Ines – of St Osyth – met Dr. Reed.",
            "Mrs~Tarn and Sir~Ines~– of St~Osyth~– met Dr.~Reed.",
        ),
        ("en-GB", "No. 7 is here. No. He said no.", "No.~7 is here. No. He said no."),
        ("en-GB", "The miss was near; a mr in small letters", "The miss was near; a mr in small letters"),
        ("de", "Herr Reed – und Frau Tarn, Nr. 3", "Herr~Reed~– und Frau~Tarn, Nr.~3"),
        ("fr", "M. Tarn et Mme Reed, M Paris", "M.~Tarn et Mme~Reed, M Paris"),
        ("nl", "Mrs Tarn – hier", "Mrs Tarn~– hier"),
    ],
)
def test_titles_dashes_and_numbers_do_not_part_from_what_they_belong_to(language: str, text: str, wanted: str) -> None:
    """Common practice of typesetters, no source."""
    cleaner = Cleaner(language, {one.id: one.id == "spacing" for one in CLEAN_UPS})
    assert cleaner.clean(text)[0] == wanted.replace("~", "\u00a0")
    assert Cleaner(language).findings == ()
    assert next(one for one in CLEAN_UPS if one.id == "spacing").standard


@pytest.mark.parametrize(("around", "within"), [("en-GB", "fr-FR"), ("fr-FR", "en-GB")])
def test_no_clean_up_crosses_languages(around: str, within: str) -> None:
    """The spaces that French sets before its marks stay in French; titles are kept with names where the text is
    English."""
    before, passage, behind = "Then : Mr Dale ; ", "« Mr Vane ? Quoi ; »", " Mr Dale : gone ?"
    spans = (Span(len(before), len(before + passage), type=TypeSpec(language=within)),)
    clean, moved = Cleaner(around).clean(before + passage + behind, spans)
    parts = [Cleaner(around).clean(before)[0], Cleaner(within).clean(passage)[0], Cleaner(around).clean(behind)[0]]
    assert clean == "".join(parts)
    assert clean[moved[0].start : moved[0].end] == parts[1]
    assert ("\u202f" in parts[1]) == (within == "fr-FR")
