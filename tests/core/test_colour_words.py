"""Colours as they are typed, and how far apart two look."""

from __future__ import annotations

import pytest
from coloraide import Color as Outside
from hypothesis import given
from hypothesis import strategies as st

from lexigon.core.colour.difference import delta_e
from lexigon.core.colour.notation import ColourError, read_colour

LABS = st.tuples(st.floats(0, 100), st.floats(-100, 100), st.floats(-100, 100))


@given(LABS, LABS)
def test_the_difference_is_what_coloraide_says(one: tuple[float, ...], other: tuple[float, ...]) -> None:
    wanted = Outside("lab", list(one)).delta_e(Outside("lab", list(other)), method="2000", space="lab")
    assert delta_e(one, other) == pytest.approx(wanted, abs=1e-4)


@pytest.mark.parametrize(
    ("one", "other", "far"),
    [
        ((50.0, 2.6772, -79.7751), (50.0, 0.0, -82.7485), 2.0425),
        ((50.0, 2.5, 0.0), (73.0, 25.0, -18.0), 27.1492),
        ((60.2574, -34.0099, 36.2677), (60.4626, -34.1751, 39.4387), 1.2644),
        ((2.0776, 0.0795, -1.135), (0.9033, -0.0636, -0.5514), 0.9082),
    ],
)
def test_published_pairs(one: tuple[float, ...], other: tuple[float, ...], far: float) -> None:
    """Four of the test pairs of Sharma, Wu and Dalal 2005, table 1 (from memory)."""
    assert delta_e(one, other) == pytest.approx(far, abs=1e-4)


@pytest.mark.parametrize(
    ("text", "space", "values"),
    [
        ("c60 m10 y0 k5", "cmyk", (0.6, 0.1, 0, 0.05)),
        ("C 60, K5", "cmyk", (0.6, 0, 0, 0.05)),
        ("cmyk 60 10 0 5", "cmyk", (0.6, 0.1, 0, 0.05)),
        ("#1E5B4F", "rgb", (30 / 255, 91 / 255, 79 / 255)),
        ("1e5b4f", "rgb", (30 / 255, 91 / 255, 79 / 255)),
        ("#fff", "rgb", (1, 1, 1)),
        ("rgb 30 91 79", "rgb", (30 / 255, 91 / 255, 79 / 255)),
        ("lab 40 -20 10", "lab", (0.4, 108 / 255, 138 / 255)),
        ("grey 35 %", "grey", (0.35,)),
        ("m12,5", "cmyk", (0, 0.125, 0, 0)),
    ],
)
def test_a_colour_is_read_as_it_is_typed(text: str, space: str, values: tuple[float, ...]) -> None:
    found, told = read_colour(text)
    assert found == space
    assert told == pytest.approx(values, abs=1e-5)


@pytest.mark.parametrize(
    "text",
    [
        "",
        "green",
        "c60 c10",
        "rgb 30 91",
        "rgb 300 0 0",
        "lab 40 -200 10",
        "c160",
        "cmyk 1 2 3",
        "#12345",
        "grey",
        "c60 rgb 1 2 3",
    ],
)
def test_what_is_no_colour_says_how_to_type_one(text: str) -> None:
    with pytest.raises(ColourError):
        read_colour(text)
