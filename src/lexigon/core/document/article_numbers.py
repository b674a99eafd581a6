"""Numbers of articles: how they are typed, their check digits, and what a code of each kind holds.

The check digit makes the weighted sum of all digits a multiple of ten. Counted from the check digit, weights are
alternately one and three (GS1 General Specifications, 7.9; the same in ISO/IEC 15420, annex A). A book number of ten
digits has a check digit modulo eleven (ISO 2108, annex C), and becomes one of thirteen digits with the prefix 978.
"""

from __future__ import annotations

from lexigon.core.document.model.codes import SYMBOLOGIES, CodeForm
from lexigon.core.errors import LexigonError


class ArticleError(LexigonError):
    """The typed text is not a number of this kind."""


def check_digit(digits: str) -> str:
    """Return what follows these digits."""
    total = sum(int(digit) * (3 if at % 2 == 0 else 1) for at, digit in enumerate(reversed(digits)))
    return str(-total % 10)


def normal(form: CodeForm, text: str) -> str:
    """Return what a code of this kind holds, from how people type it: article numbers without hyphens and spaces, with
    their check digit, which may be left out; a book number of ten digits as one of thirteen. Other kinds as typed.
    Raises ArticleError in plain words."""
    digits = SYMBOLOGIES[form].digits
    if not digits:
        return text
    typed = "".join(
        sign for sign in text.upper().removeprefix("ISBN").removeprefix(":") if sign not in " -\u2010\u2011\u2013\u2014"
    )
    if form == "ean 13" and len(typed) == 10:
        typed = _from_ten(typed)
    if not (typed.isascii() and typed.isdigit()) or len(typed) not in (digits - 1, digits):
        raise ArticleError(f"{SYMBOLOGIES[form].name} has {digits} figures. The last may be omitted; it is computed.")
    right = check_digit(typed[: digits - 1])
    if len(typed) == digits and typed[-1] != right:
        raise ArticleError(f"The last figure should be {right}, not {typed[-1]}: one of them is wrong.")
    return typed[: digits - 1] + right


def _from_ten(typed: str) -> str:
    body, last = typed[:9], typed[9]
    if not (body.isascii() and body.isdigit()):
        raise ArticleError("A book number has ten or thirteen figures; the last of ten may be X.")
    right = -sum(int(digit) * (10 - at) for at, digit in enumerate(body)) % 11
    if last != ("X" if right == 10 else str(right)):
        raise ArticleError(f"The last figure should be {'X' if right == 10 else right}: one of them is wrong.")
    return f"978{body}"
