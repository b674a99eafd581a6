"""Lengths with units, typed the way people type them: ``6in + 0.338in``, ``105mm*2``, ``(1in-3mm)/2``.

The model's unit is the PostScript point, 1/72 in (ISO 32000-2, 8.3.2.3). 1 in = 25.4 mm exactly
(international inch). A pica is 12 points; ``3p6`` is three picas and six points (trade notation).
A pixel is the CSS reference pixel, 1/96 in (CSS Values and Units Level 4, section 6.2).
"""

from __future__ import annotations

import math
import re

from lexigon.core import numerals
from lexigon.core.errors import LexigonError

POINTS: dict[str, float] = {
    "pt": 1.0,
    "in": 72.0,
    "mm": 72.0 / 25.4,
    "cm": 720.0 / 25.4,
    "p": 12.0,
    "px": 0.75,
}
"""Points in one of each unit."""

ALIASES = {
    '"': "in",
    "″": "in",
    "inch": "in",
    "inches": "in",
    "pica": "p",
    "picas": "p",
    "pc": "p",
    "point": "pt",
    "points": "pt",
    "pts": "pt",
    "q": "q",
}
DECIMALS = {"pt": 2, "in": 4, "mm": 2, "cm": 3, "p": 3, "px": 2}
LIMIT = 72.0 * 12 * 400
"""Longest length accepted, about 120 m in points: longer is a slip of the finger, and would break drawing."""

_TOKEN = re.compile(
    rf"""\s*(?:(?P<pica>\d+p\d+(?:\.\d+)?(?![\w.]))|(?P<number>{numerals.NUMBER})|(?P<unit>[A-Za-zµ]+|["″])|(?P<op>[-+*/()×÷−]))"""
)


class LengthError(LexigonError):
    """The typed text is not a length."""


def parse(text: str, unit: str = "pt", *, minimum: float | None = None, maximum: float | None = None) -> float:
    """Return the length ``text`` describes, in points.

    A bare number takes ``unit``. Sums, differences, products and quotients with brackets work; a
    product has at most one length in it, and a quotient of two lengths is refused.

    Raises LengthError with a message in plain words.
    """
    if len(text) > 200:
        raise LengthError("This is too long for a length.")
    value, dimension = _Parser(text, unit).run()
    if dimension == 0:
        value *= POINTS[unit]
    if not math.isfinite(value) or abs(value) > LIMIT:
        raise LengthError(f"“{text.strip()}” is larger than anything that can be printed (about 120 m).")
    if minimum is not None and value < minimum - 1e-9:
        raise LengthError(f"“{text.strip()}” is too small: at least {show(minimum, unit)}.")
    if maximum is not None and value > maximum + 1e-9:
        raise LengthError(f"“{text.strip()}” is too large: at most {show(maximum, unit)}.")
    return value


OPERATORS = "+*/×÷"
"""The first character of a change of a length; ``-3mm`` alone is a length, since objects may be above and left of the
page."""


def change(text: str, unit: str = "pt") -> tuple[float, float]:
    """Return how many times what a length was, and how many points more, ``text`` says: ``+2mm``, ``*0.5``, ``/3 +
    1mm``; a plain length is none of what was, and all of itself.

    Raises LengthError with a message in plain words.
    """
    if not text.strip().startswith(tuple(OPERATORS)):
        return 0.0, parse(text, unit)
    none, one = parse(f"0pt{text}", unit), parse(f"1pt{text}", unit)
    return one - none, none


def show(points: float, unit: str = "mm", marks: numerals.Notation | None = None) -> str:
    """Write ``points`` in ``unit`` with no more decimals than matter: ``show(72, "in")`` is ``1 in``.

    Without ``marks`` the number is written as the reader's country writes it (``numerals``).
    """
    number = f"{points / POINTS[unit]:.{DECIMALS[unit]}f}"
    if "." in number:
        number = number.rstrip("0").rstrip(".")
    if number == "-0":
        number = "0"
    return f"{numerals.figures(number, marks)} {unit}"


def size(width: float, height: float, unit: str) -> str:
    """A size as people write it: ``6 × 9 in``."""
    return f"{show(width, unit).split(' ')[0]} × {show(height, unit)}"


class _Parser:
    """Recursive descent over (value, dimension) pairs: dimension 1 is a length, 0 a bare number."""

    def __init__(self, text: str, unit: str) -> None:
        if unit not in POINTS:
            raise LengthError(f"Lexigon does not know the unit “{unit}”.")
        self.text, self.unit = text, unit
        self.tokens: list[tuple[str, str]] = []
        position, text = 0, text.rstrip()
        while position < len(text):
            match = _TOKEN.match(text, position)
            if not match:
                raise LengthError(f"“{text[position:].strip()[:12]}” is not part of a length.")
            kind = match.lastgroup or ""
            self.tokens.append((kind, match.group(kind)))
            position = match.end()
        self.next = 0

    def run(self) -> tuple[float, int]:
        if not self.tokens:
            raise LengthError("Type a length, for example 120 mm or 6in + 3mm.")
        result = self.sum()
        if self.next < len(self.tokens):
            raise LengthError(f"“{self.tokens[self.next][1]}” is not expected in “{self.text.strip()}”.")
        return result

    def peek(self) -> tuple[str, str]:
        return self.tokens[self.next] if self.next < len(self.tokens) else ("", "")

    def sum(self) -> tuple[float, int]:
        value, dimension = self.product()
        while self.peek()[1] in ("+", "-", "−"):
            sign = 1.0 if self.peek()[1] == "+" else -1.0
            self.next += 1
            other, other_dimension = self.product()
            if dimension != other_dimension:
                # A bare number beside a length takes the field's unit: "6in + 3" means what it looks like.
                scale = POINTS[self.unit]
                value, other = (value * scale, other) if dimension == 0 else (value, other * scale)
                dimension = 1
            value += sign * other
        return value, dimension

    def product(self) -> tuple[float, int]:
        value, dimension = self.factor()
        while self.peek()[1] in ("*", "/", "×", "÷"):
            operator = self.peek()[1]
            self.next += 1
            other, other_dimension = self.factor()
            if operator in "*×":
                if dimension and other_dimension:
                    raise LengthError("A length times a length is an area, not a length.")
                value, dimension = value * other, dimension + other_dimension
            else:
                if other_dimension:
                    raise LengthError("Divide by a plain number, not by a length.")
                if other == 0:
                    raise LengthError("That divides by zero.")
                value /= other
        return value, dimension

    def factor(self) -> tuple[float, int]:
        kind, token = self.peek()
        self.next += 1
        if token in ("-", "−", "+"):
            value, dimension = self.factor()
            return (value if token == "+" else -value), dimension
        if token == "(":
            value, dimension = self.sum()
            if self.peek()[1] != ")":
                raise LengthError("A bracket is open: add “)”.")
            self.next += 1
            return value, dimension
        if kind == "pica":
            picas, points = token.split("p")
            return float(picas) * 12 + float(points), 1
        if kind == "number":
            number = numerals.read(token)
            kind, name = self.peek()
            if kind != "unit":
                return number, 0
            self.next += 1
            name = ALIASES.get(name.lower(), name.lower())
            if name == "q":
                return number * POINTS["mm"] / 4, 1
            if name not in POINTS:
                raise LengthError(f"Lexigon does not know the unit “{name}”. It knows mm, cm, in, pt, p (pica), px.")
            return number * POINTS[name], 1
        if kind == "unit":
            raise LengthError(f"“{self.text.strip()}” is not a length. Type a number and a unit, such as 120 mm.")
        raise LengthError(
            f"“{token}” is not possible there."
            if token
            else f"Something is missing at the end of “{self.text.strip()}”."
        )
