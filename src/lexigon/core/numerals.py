"""Numbers as a reader's country writes them: the decimal mark, and the mark between groups of three digits.

What is shown to somebody is written with the marks of ``notation()``, which the application sets for the time of an
answer
(``written_as``); without that it is English: 1,234.5. Documents never depend on it. Typed numbers are read either way
where that is not ambiguous: ``1,234.5`` and ``1.234,5`` are the same number. A single mark followed by exactly three
digits separates groups
where the reader's own notation does that, and is a decimal mark otherwise.

The marks of a country are those of the Unicode CLDR (see ``lexigon.bench.services.regions``).
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Notation:
    """The marks that numbers are written with."""

    decimal: str = "."
    group: str = ","


ENGLISH = Notation()
PLAIN = Notation(".", "")
"""For what programs read, and for documents: no groups."""
SPACES = " \u00a0\u202f"
GROUPS = f".,’'{SPACES}"
"""What may separate groups of digits in typed numbers."""
NUMBER = rf"\d{{1,3}}(?:[{GROUPS}]\d{{3}})+(?:[.,]\d+)?(?!\d)|\d+(?:[.,]\d+)?|[.,]\d+"
"""A typed number without plus or minus, as a regular expression."""

_notation: ContextVar[Callable[[], Notation]] = ContextVar("notation", default=lambda: ENGLISH)


def notation() -> Notation:
    """The notation of whoever reads what is written now."""
    return _notation.get()()


@contextmanager
def written_as(choose: Callable[[], Notation]) -> Iterator[None]:
    """Write numbers in the notation that ``choose`` returns; it is asked only when a number is written."""
    token = _notation.set(choose)
    try:
        yield
    finally:
        _notation.reset(token)


def figures(number: str, marks: Notation | None = None) -> str:
    """A number in English digits without groups, such as ``-1234.5``, with the marks of a notation: ``-1,234.5``."""
    marks = marks or notation()
    sign, digits = ("-", number[1:]) if number.startswith("-") else ("", number)
    whole, _, fraction = digits.partition(".")
    grouped = re.sub(r"(?<=\d)(?=(?:\d{3})+$)", lambda _: marks.group, whole)
    return f"{sign}{grouped}{marks.decimal if fraction else ''}{fraction}"


def integer(number: int) -> str:
    """A count with its digits in groups, in the notation of whoever reads it: ``1,234``."""
    return figures(str(number))


def read(text: str, marks: Notation | None = None) -> float:
    """The value of a typed number (``NUMBER``), read by the rules above."""
    marks = marks or notation()
    plain = re.sub(rf"[{SPACES}’']", "", text)
    used = re.findall(r"[.,]", plain)
    if len(used) > 1:
        decimal = used[-1] if used[-1] != used[0] else ""
        group = used[0]
        plain = plain.replace(group, "")
        return float(plain.replace(decimal, ".") if decimal else plain)
    if used and used[0] == marks.group and re.fullmatch(r"[1-9]\d{0,2}[.,]\d{3}", plain):
        return float(re.sub(r"[.,]", "", plain))
    return float(plain.replace(",", "."))
