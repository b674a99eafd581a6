"""Numbers as a country writes them, typed either way; the marks of countries are those of the CLDR."""

from __future__ import annotations

import pytest
from babel.numbers import format_decimal
from hypothesis import given
from hypothesis import strategies as st

from lexigon.core import lengths
from lexigon.core.document.model import Anchor
from lexigon.core.editing.intents import InsertField, Place
from lexigon.core.numerals import ENGLISH, PLAIN, Notation, figures, read, written_as
from tests.core.helpers import poured

GERMAN = Notation(",", ".")
FRENCH = Notation(",", "\u202f")


@pytest.mark.parametrize(
    ("typed", "value"),
    [
        ("1,234.5", 1234.5),
        ("1.234,5", 1234.5),
        ("1.234.567", 1234567.0),
        ("1,234,567.25", 1234567.25),
        ("12,5", 12.5),
        ("12.5", 12.5),
        ("1 234,5", 1234.5),
        ("1\u202f234,5", 1234.5),
        ("1’234.5", 1234.5),
        (",5", 0.5),
        (".5", 0.5),
        ("1,2345", 1.2345),
        ("0,125", 0.125),
        ("0.125", 0.125),
    ],
)
@pytest.mark.parametrize("marks", [ENGLISH, GERMAN, FRENCH])
def test_a_number_is_read_either_way(typed: str, value: float, marks: Notation) -> None:
    assert read(typed, marks) == value
    if value < lengths.LIMIT:
        assert lengths.parse(f"{typed} pt") == value


def test_a_single_mark_before_three_digits_is_what_the_reader_writes() -> None:
    assert (read("1,234", ENGLISH), read("1,234", GERMAN)) == (1234.0, 1.234)
    assert (read("1.234", ENGLISH), read("1.234", GERMAN)) == (1.234, 1234.0)


@given(
    st.decimals(min_value=-(10**7), max_value=10**7, places=3, allow_nan=False),
    st.sampled_from([("en", ENGLISH), ("de", GERMAN)]),
)
def test_what_is_written_is_what_the_cldr_writes_and_is_read_back(
    number: object, country: tuple[str, Notation]
) -> None:
    """Babel formats by the CLDR, independently of this code."""
    locale, marks = country
    plain = f"{number:f}".rstrip("0").rstrip(".") if "." in f"{number:f}" else f"{number:f}"
    written = figures(plain, marks)
    if float(plain):
        assert written == format_decimal(number, locale=locale)
    assert (-read(written[1:], marks) if written.startswith("-") else read(written, marks)) == float(plain)


def test_lengths_are_written_for_the_reader_and_plain_for_programs() -> None:
    points = 1234.5 * 72 / 25.4
    assert lengths.show(points, "mm") == "1,234.5 mm"
    with written_as(lambda: GERMAN):
        assert lengths.show(points, "mm") == "1.234,5 mm"
        assert lengths.show(points, "mm", PLAIN) == "1234.5 mm"
        assert lengths.parse("1.234,5 mm + 0,5mm") == pytest.approx(1235 * 72 / 25.4)
        with pytest.raises(lengths.LengthError, match="at most 1,5 in"):
            lengths.parse("2 in", "in", maximum=108)
    assert lengths.show(points, "mm") == "1,234.5 mm", "only for the time of an answer"


def test_what_several_numbers_side_by_side_are_is_not_guessed() -> None:
    for typed in ("1 2", "12 34 mm", "1,2,3"):
        with pytest.raises(lengths.LengthError):
            lengths.parse(typed)


def test_a_document_does_not_depend_on_the_country_of_its_reader() -> None:
    with written_as(lambda: GERMAN):
        workspace = poured(2, width=5.5 * 72, height=8.5 * 72)
        at = Place(workspace.job.stories["main"].paragraphs[0].id, 0)
        workspace.do(InsertField("main", at, at, Anchor("fact", "size")))
        assert "5.5 × 8.5" in workspace.composition.main.paragraphs[0].shown.paragraph.text  # type: ignore[union-attr]
