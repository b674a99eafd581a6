"""Lengths. 1 in = 25.4 mm = 72 pt exactly (ISO 32000-2, 8.3.2.3); 1 px = 1/96 in (CSS Values 4, 6.2)."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lexigon.core import lengths
from lexigon.core.brief.sizes import SIZES
from lexigon.core.lengths import LengthError, parse, show


@pytest.mark.parametrize(
    ("typed", "points"),
    [
        ("1in", 72),
        ("25.4 mm", 72),
        ("2.54cm", 72),
        ("72pt", 72),
        ("6p", 72),
        ("96px", 72),
        ('1"', 72),
        ("3p6", 42),
        ("1 inch", 72),
        ("12,7mm", 36),
        ("6in + 6in + 0.338in", 12.338 * 72),
        ("105mm*2", 210 / 25.4 * 72),
        ("(1in - 0.5in) / 2", 18),
        ("-3mm", -3 / 25.4 * 72),
        ("2*(3p + 6pt)", 84),
        ("1in+3", 72 + 3 / 25.4 * 72),
        ("10", 10 / 25.4 * 72),
    ],
)
def test_reads_units_sums_and_products(typed: str, points: float) -> None:
    assert parse(typed, "mm") == pytest.approx(points)


def test_fifteen_points_are_5_29_mm() -> None:
    assert show(15, "mm") == "5.29 mm"  # common practice, no source: indent of an 11/15 text


@pytest.mark.parametrize(
    "typed",
    ["", "  ", "3 furlongs", "1in*2in", "((2", "2)", "4//2", "1/0", "5mm/2mm", "abc", "1e999", "9" * 300, "💥", "3 4"],
)
def test_says_what_is_wrong(typed: str) -> None:
    with pytest.raises(LengthError) as error:
        parse(typed, "mm")
    assert len(str(error.value)) > 15


def test_minimum_and_maximum_are_named() -> None:
    with pytest.raises(LengthError, match="at least 5 mm"):
        parse("4mm", "mm", minimum=parse("5mm"))
    with pytest.raises(LengthError, match="120 m"):
        parse("100000 in")


@given(st.floats(0, 20000), st.sampled_from(sorted(lengths.POINTS)))
def test_shown_lengths_read_back(points: float, unit: str) -> None:
    tolerance = lengths.POINTS[unit] * 10 ** -lengths.DECIMALS[unit]
    assert parse(show(points, unit), unit) == pytest.approx(points, abs=tolerance)


ISO_216 = {
    "a0": (841, 1189),
    "a1": (594, 841),
    "a2": (420, 594),
    "a3": (297, 420),
    "a4": (210, 297),
    "a5": (148, 210),
    "a6": (105, 148),
    "a7": (74, 105),
    "a8": (52, 74),
    "b0": (1000, 1414),
    "b1": (707, 1000),
    "b2": (500, 707),
    "b3": (353, 500),
    "b4": (250, 353),
    "b5": (176, 250),
    "b6": (125, 176),
    "b7": (88, 125),
    "b8": (62, 88),
}
"""ISO 216:2007, tables of the A and B series."""


def test_iso_216_sizes() -> None:
    found = {id_: (round(s.width / 72 * 25.4, 6), round(s.height / 72 * 25.4, 6)) for id_, s in SIZES.items()}
    assert {id_: found[id_] for id_ in ISO_216} == ISO_216


def test_inch_sizes_are_what_they_say() -> None:
    assert (SIZES["6x9in"].width, SIZES["6x9in"].height) == (432, 648)
