"""Colours as they are typed: ``c60 m10 y0 k5``, ``#1E5B4F``, ``rgb 30 91 79``, ``lab 40 -20 10``, ``grey 35``."""

from __future__ import annotations

import re
from typing import Literal

from lexigon.core.errors import LexigonError

Mixed = Literal["cmyk", "rgb", "lab", "grey"]
NUMBER = r"(-?\d+(?:[.,]\d+)?)\s*%?"
HEX = re.compile(r"#?([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2})", re.IGNORECASE)
SHORT = re.compile(r"#([0-9a-f])([0-9a-f])([0-9a-f])", re.IGNORECASE)
WAYS = "Type a colour like c60 m10 y0 k5, #1E5B4F, rgb 30 91 79, lab 40 -20 10 or grey 35."


class ColourError(LexigonError):
    """The typed text is not a colour."""


def read_colour(text: str) -> tuple[Mixed, tuple[float, ...]]:
    """Return the colour space of a typed colour, and its values as those of a swatch. Inks that are not named are none.
    Raises ColourError in plain words."""
    plain_text = " ".join(text.replace(";", " ").split()).casefold()
    if match := HEX.fullmatch(plain_text):
        return "rgb", tuple(round(int(pair, 16) / 255, 6) for pair in match.groups())
    if match := SHORT.fullmatch(plain_text):
        return "rgb", tuple(round(int(digit * 2, 16) / 255, 6) for digit in match.groups())
    name, _, rest = plain_text.partition(" ")
    values = [float(value.replace(",", ".")) for value in re.findall(NUMBER, rest)]
    if name in ("rgb", "lab", "cmyk", "grey", "gray") and re.fullmatch(rf"(?:{NUMBER}[\s,/]*)+", rest):
        if name == "rgb":
            return "rgb", _parts(values, 3, 255, "RGB values are numbers from 0 to 255.")
        if name == "cmyk":
            return "cmyk", _parts(values, 4, 100, "Inks are percentages from 0 to 100.")
        if name == "lab":
            return "lab", _lab(values)
        return "grey", _parts(values, 1, 100, "Grey is a percentage from 0 to 100.")
    inks = re.findall(rf"([cmyk])\s*{NUMBER}", plain_text)
    if (
        inks
        and re.fullmatch(rf"(?:[cmyk]\s*{NUMBER}[\s,/]*)+", plain_text)
        and len({ink for ink, _ in inks}) == len(inks)
    ):
        amounts = {ink: float(value.replace(",", ".")) for ink, value in inks}
        return "cmyk", _parts([amounts.get(ink, 0.0) for ink in "cmyk"], 4, 100, "Inks are percentages from 0 to 100.")
    raise ColourError(WAYS)


def _parts(values: list[float], count: int, most: float, words: str) -> tuple[float, ...]:
    if len(values) != count:
        raise ColourError(WAYS)
    if any(not 0 <= value <= most for value in values):
        raise ColourError(words)
    return tuple(round(value / most, 6) for value in values)


def _lab(values: list[float]) -> tuple[float, ...]:
    if len(values) != 3:
        raise ColourError(WAYS)
    light, a, b = values
    if not 0 <= light <= 100 or not all(-128 <= value <= 127 for value in (a, b)):
        raise ColourError("Lab has L from 0 to 100, a and b from -128 to 127.")
    return round(light / 100, 6), round((a + 128) / 255, 6), round((b + 128) / 255, 6)
