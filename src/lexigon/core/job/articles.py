"""Numbers of articles: how they are typed, their check digits, and what a code of each kind holds.

The check digit makes the sum of all digits, the last and then every other one three-fold from the one before it, a multiple of ten
(GS1 General Specifications, 7.9; the same in ISO/IEC 15420, annex A). A book number of ten digits has one of its own, modulo eleven
(ISO 2108, annex C), and becomes one of thirteen behind 978.
"""

from __future__ import annotations

from lexigon.core.errors import LexigonError
from lexigon.core.job.model.codes import SYMBOLOGIES, CodeForm


class ArticleError(LexigonError):
    """The typed text is not a number of this kind."""


def check_digit(digits: str) -> str:
    """Return what follows these digits."""
    total = sum(int(digit) * (3 if at % 2 == 0 else 1) for at, digit in enumerate(reversed(digits)))
    return str(-total % 10)


def normal(form: CodeForm, text: str) -> str:
    """Return what a code of this kind holds, from how people type it: article numbers without hyphens and spaces, with their check digit, which may
    be left out; a book number of ten digits as one of thirteen. Other kinds as typed. Raises ArticleError in plain words."""
    wanted = SYMBOLOGIES[form].digits
    if not wanted:
        return text
    typed = "".join(
        sign for sign in text.upper().removeprefix("ISBN").removeprefix(":") if sign not in " -\u2010\u2011\u2013\u2014"
    )
    if form == "ean 13" and len(typed) == 10:
        typed = _from_ten(typed)
    if not (typed.isascii() and typed.isdigit()) or len(typed) not in (wanted - 1, wanted):
        raise ArticleError(f"{SYMBOLOGIES[form].name} has {wanted} figures. The last may be omitted; it is computed.")
    right = check_digit(typed[: wanted - 1])
    if len(typed) == wanted and typed[-1] != right:
        raise ArticleError(f"The last figure should be {right}, not {typed[-1]}: one of them is wrong.")
    return typed[: wanted - 1] + right


def _from_ten(typed: str) -> str:
    body, last = typed[:9], typed[9]
    if not (body.isascii() and body.isdigit()):
        raise ArticleError("A book number has ten or thirteen figures; the last of ten may be X.")
    right = -sum(int(digit) * (10 - at) for at, digit in enumerate(body)) % 11
    if last != ("X" if right == 10 else str(right)):
        raise ArticleError(f"The last figure should be {'X' if right == 10 else right}: one of them is wrong.")
    return f"978{body}"


def is_book(text: str) -> bool:
    """Return whether an EAN-13 is a book number (ISO 2108)."""
    return len(text) == 13 and text.startswith(("978", "979"))
