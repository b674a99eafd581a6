"""Hyphenation, break opportunities, fonts and shaping against other people's results."""

from __future__ import annotations

import re
from itertools import accumulate, pairwise
from pathlib import Path

import pyphen
import pytest
import uharfbuzz as hb
from hypothesis import given
from hypothesis import strategies as st
from icu4py.breakers import CharacterBreaker, LineBreaker

from lexigon.core.document.cascade import Cascade
from lexigon.core.document.model import Paragraph, ParaSpec, Span, TypeSpec
from lexigon.core.document.story_text import LINE_BREAK
from lexigon.core.type.breaks import no_break_offsets
from lexigon.core.type.fonts import shipped
from lexigon.core.type.hyphenation import LEFT_OUT, Hyphenator, dictionary
from lexigon.core.type.line import place_line
from lexigon.core.type.paragraph import set_paragraph
from lexigon.core.type.runs import runs_of
from lexigon.core.type.words import is_whole
from tests.core.helpers import book, words

TEST_WORDS = [
    "hyphenation",
    "extraordinary",
    "observatory",
    "counting",
    "associated",
    "project",
    "reciprocity",
    "Redshank’s",
    "birds",
    "establishment",
    "the",
    "antidisestablishmentarianism",
    "Wandervögel",
    "Donaudampfschifffahrt",
    "typographie",
    "développement",
    "ciudadano",
    "perfectamente",
]


@pytest.mark.parametrize("language", sorted({name for name in pyphen.LANGUAGES if "_" in name} - LEFT_OUT))
def test_hyphenation_equals_pyphens_own(language: str, monkeypatch: pytest.MonkeyPatch) -> None:
    theirs = pyphen.HyphDict(pyphen.LANGUAGES[language])
    monkeypatch.setattr(pyphen, "HyphDict", lambda _: theirs)  # each file is read once: that takes most of the time
    ours = Hyphenator(language.replace("_", "-"))
    for word in TEST_WORDS:
        assert ours.points(word) == tuple(p for p in theirs.positions(word) if not p.data), word


def test_no_dictionary_that_is_used_is_under_the_gpl_alone() -> None:
    """By the header of each file, and the note that comes with it where there is one."""
    strict = set()
    for name, path in pyphen.LANGUAGES.items():
        file = Path(path)
        header = re.split(r"^UTF-8\n(?=[^%#\n])", file.read_bytes()[:6000].decode("utf-8", "replace"), flags=re.M)[0]
        notes = [
            note
            for note in file.parent.glob("README_hyph_*")
            if note.stem.removeprefix("README_hyph_") in (name, name[:2])
        ]
        said = (header + "".join(note.read_text("utf-8", "replace") for note in notes)).replace("\n", " ")
        if re.search(r"General Public|\bGPL", said) and not re.search(
            r"Lesser General|LGPL|MPL|Mozilla|LPPL|MIT|BSD", said
        ):
            strict.add(file.stem.removeprefix("hyph_"))
    assert strict <= LEFT_OUT, strict - LEFT_OUT
    assert "ro_RO" in LEFT_OUT
    assert dictionary("ro-RO") is None
    assert Hyphenator("ro").points("televiziune") == ()


def test_a_language_without_patterns_divides_nothing() -> None:
    assert Hyphenator("tlh").points("hyphenation") == ()


TEST_FILE = Path("/usr/share/unicode/auxiliary/LineBreakTest.txt")


@pytest.mark.skipif(not TEST_FILE.exists(), reason="Debian's unicode-data is not installed")
def test_break_opportunities_against_the_unicode_test_file() -> None:
    """Unicode's LineBreakTest.txt. ICU tailors numbers and follows a newer version, so a few rows may differ."""
    wrong, total = [], 0
    for row in TEST_FILE.read_text("utf-8").splitlines():
        row = row.partition("#")[0].strip()
        if not row:
            continue
        marks = row.split()
        text = "".join(chr(int(code, 16)) for code in marks[1::2] if not 0xD800 <= int(code, 16) < 0xE000)
        wanted, at = [], 0
        for mark, code in zip(marks[2::2], marks[1::2], strict=False):
            at += len(chr(int(code, 16)))
            if mark == "÷":
                wanted.append(at)
        total += 1
        if list(accumulate(map(len, LineBreaker(text, "en")))) != wanted:
            wrong.append(row)
    assert total > 5000
    assert len(wrong) < total * 0.02, wrong[:5]


def test_every_shipped_face_may_be_embedded_and_has_its_licence() -> None:
    library = shipped()
    assert len(library.families) >= 14
    for face in library.faces:
        assert not face.fs_type & 2, f"{face} forbids embedding (OpenType 1.9, OS/2 fsType, bit 1)"
        assert "SIL" in (face.path.parent / "OFL.txt").read_text("utf-8").upper()


@pytest.mark.parametrize("family", ["EB Garamond", "Alegreya", "Source Serif 4", "Fira Sans", "Cormorant Garamond"])
@pytest.mark.parametrize("align", ["left", "justified"])
def test_words_add_up_to_the_line_shaped_whole(family: str, align: str) -> None:
    """A line of separately shaped words is as wide as HarfBuzz makes it in one go (spaces that kern included)."""
    job = book()
    cascade, library = Cascade(job), shipped()
    text = "To Alfred, V. “The ‘office’ AV—Table,” Wave. We fly—Tom, Yet fi ffl To. V A’ W" * 3
    paragraph = Paragraph(
        "p", "body", text, para=ParaSpec(align=align, indent_first=0.0, hyphenate=False), type=TypeSpec(family=family)
    )  # type: ignore[arg-type]
    shown, runs = runs_of(cascade, library, paragraph)
    setting = cascade.setting(paragraph)
    for line in set_paragraph(shown, runs, setting, 300, 11)[:-1]:
        (run,) = place_line(shown, runs, line, setting, 0, 300)
        buffer = hb.Buffer()
        buffer.add_str(run.text)
        buffer.guess_segment_properties()
        hb.shape(run.look.cut.face.hb_font, buffer, {})
        whole = sum(p.x_advance for p in buffer.glyph_positions) * run.look.scale + run.word_space * run.text.count(" ")
        assert run.width == pytest.approx(whole, abs=0.05)
        if align == "justified":
            assert run.x + run.width == pytest.approx(300, abs=1e-6)


def setting_of(text: str, measure: float, **para: object) -> list[tuple[str, float, bool]]:
    cascade, library = Cascade(book()), shipped()
    paragraph = Paragraph("p", "body", text, para=ParaSpec(**para))  # type: ignore[arg-type]
    shown, runs = runs_of(cascade, library, paragraph)
    lines = set_paragraph(shown, runs, cascade.setting(paragraph), measure, 11)
    assert lines[0].start == 0
    assert lines[-1].next == len(text)
    for one, two in pairwise(lines):
        assert not shown[one.end : two.start].strip(" " + LINE_BREAK), "only spaces vanish at a break"
    return [(shown[line.start : line.end] + ("-" if line.hyphen else ""), line.ratio, line.stretches) for line in lines]


def test_no_fourth_hyphen_in_a_row_and_no_line_too_long() -> None:
    lines = setting_of(words(3000), 170)
    flags = "".join("h" if text.endswith("-") else "." for text, _, _ in lines)
    assert "h" in flags
    assert "hhhh" not in flags
    assert all(ratio >= -1 - 1e-9 for _, ratio, _ in lines)


def test_a_forced_break_never_stretches_its_line() -> None:
    lines = setting_of(f"A short line{LINE_BREAK}{words(40)}", 300)
    assert lines[0] == ("A short line", 0.0, False)
    assert lines[1][2]


def test_a_lone_word_of_five_thousand_letters_is_broken_and_kept_whole() -> None:
    text = "x" * 5000
    lines = setting_of(text, 300)
    assert "".join(line for line, _, _ in lines) == text
    assert len(lines) > 50


@pytest.mark.parametrize("measure", [0.5, 3.0, 12.0])
def test_a_measure_too_narrow_for_any_word_still_sets(measure: float) -> None:
    text = "a word here"
    assert "".join(line for line, _, _ in setting_of(text, measure)).replace(" ", "") == text.replace(" ", "")


def test_missing_glyphs_come_from_a_face_that_has_them() -> None:
    cascade, library = Cascade(book()), shipped()
    paragraph = Paragraph("p", "body", "plain ☐ Щука end", (Span(0, 5, type=TypeSpec(family="Great Vibes")),))
    _, runs = runs_of(cascade, library, paragraph)
    assert [run.start for run in runs] == sorted(run.start for run in runs)
    assert runs[0].look.cut.face.family == "Great Vibes"
    for run in runs:
        text = paragraph.text[run.start : run.end]
        covered = any(not face.lacks(set(text)) for face in library.faces)
        assert not run.look.cut.face.lacks(set(text)) or not covered


def test_tracked_text_has_no_ligatures() -> None:
    cascade, library = Cascade(book()), shipped()
    for tracking, glyphs in ((0.0, 4), (50.0, 6)):
        paragraph = Paragraph("p", "body", "office", type=TypeSpec(tracking=tracking))
        _, (run,) = runs_of(cascade, library, paragraph)
        assert len(run.look.cut.word("office").glyphs) == glyphs


@given(st.text("ab ,.!?:;/-'\"()[]‘’“”–—…«»1é", max_size=30))
def test_asking_about_few_places_of_a_text_changes_nothing(text: str) -> None:
    """ICU's own answer for the whole text (UAX 14): where a line may not end behind a space."""
    text = " ".join(text.split())
    found = set(accumulate(map(len, LineBreaker(text, "en"))))
    assert no_break_offsets(text, "en") == {at + 1 for at, c in enumerate(text) if c == " " and at + 1 not in found}


@given(st.text("aéX\"'“‘([,.;:!?)’”]", max_size=9))
def test_words_that_are_not_asked_about_are_broken_nowhere(word: str) -> None:
    """ICU's own answer (UAX 14) for a word with its marks."""
    if is_whole(word):
        assert list(accumulate(map(len, LineBreaker(word, "en")))) == [len(word)]


GRAPHEMES = Path("/usr/share/unicode/auxiliary/GraphemeBreakTest.txt")


@pytest.mark.skipif(not GRAPHEMES.exists(), reason="Debian's unicode-data is not installed")
def test_clusters_against_the_unicode_test_file() -> None:
    """Where a word that no line holds may be cut: never within a cluster (UAX 29, its own test file)."""
    wrong = total = 0
    for row in GRAPHEMES.read_text("utf-8").splitlines():
        row = row.partition("#")[0].strip()
        if row:
            wanted = [
                "".join(chr(int(c, 16)) for c in part.replace("×", " ").split()) for part in row.strip("÷ ").split("÷")
            ]
            total += 1
            wrong += list(CharacterBreaker("".join(wanted), "en")) != wanted
    assert total > 500
    assert wrong <= total * 0.02, "the libraries' Unicode versions may differ by a few rules"
