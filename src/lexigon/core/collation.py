"""The order of words in a language, and of cells that hold numbers."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from decimal import Decimal, InvalidOperation
from functools import lru_cache
from typing import Any

_GROUPS = "\u00a0\u202f '’"
_CURRENCY = "€£$¥"
_UNIT = re.compile(r"[\u00a0\u202f ]?[^\d\s,;()]{1,6}")
_NUMBER = re.compile(rf"(?:[{_CURRENCY}][\u00a0\u202f ]?)?[-−–+]?[{_CURRENCY}]?[\d.,\u00a0\u202f '’]*\d[\d.,]*")


@lru_cache(16)
def collation(language: str) -> Callable[[str], Any]:
    """The sort key of a language (ICU's collation: Unicode Technical Standard 10, tailored by CLDR)."""
    import icu

    collator = icu.Collator.createInstance(icu.Locale(language.replace("-", "_")))
    return lambda text: (collator.getSortKey(text), text)


@lru_cache(64)
def decimal_sign(language: str) -> str:
    """The decimal separator in a language (CLDR, from ICU)."""
    import icu

    symbols = icu.DecimalFormatSymbols(icu.Locale(language.replace("-", "_")))
    return str(symbols.getSymbol(icu.DecimalFormatSymbols.kDecimalSeparatorSymbol))


def group_sign(language: str) -> str:
    """Return the group separator of a language (CLDR, by ICU)."""
    import icu

    symbols = icu.DecimalFormatSymbols(icu.Locale(language.replace("-", "_")))
    return str(symbols.getSymbol(icu.DecimalFormatSymbols.kGroupingSeparatorSymbol))


def number_in(text: str, language: str) -> Decimal | None:
    """The number that a cell begins with, with or without a currency before it and separators between thousands; None
    where it begins with none."""
    match = _NUMBER.match(text.strip())
    if match is None:
        return None
    sign = decimal_sign(language)
    plain = match[0].replace("−", "-").replace("–", "-")
    for other in _GROUPS + _CURRENCY + ("," if sign == "." else "."):
        plain = plain.replace(other, "")
    try:
        return Decimal(plain.replace(sign, "."))
    except InvalidOperation:
        return None


def format_of(text: str, language: str) -> tuple[str, str]:
    """Return what a cell has before its number, a currency, and after it, a unit: ``€ 3.50`` gives ``("€ ", "")``, ``12
    km`` gives ``("", " km")``."""
    text = text.strip()
    match = _NUMBER.match(text)
    if match is None or number_in(text, language) is None:
        return "", ""
    before = "".join(
        one
        for one in match[0][: len(match[0]) - len(match[0].lstrip(_CURRENCY + _GROUPS + "-−–+"))]
        if one not in "-−–+"
    )
    behind = text[match.end() :]
    return before, behind if _UNIT.fullmatch(behind) else ""


def in_order(cells: Sequence[str], language: str, descending: bool = False) -> list[int]:
    """The order of cells, by their numbers where all that are not empty begin with one, else by their words; empty ones
    last."""
    numbers = [number_in(text, language) for text in cells]
    filled = [at for at, text in enumerate(cells) if text.strip()]
    numeric = bool(filled) and all(numbers[at] is not None for at in filled)
    key = collation(language)
    keys: dict[int, Any] = {at: numbers[at] if numeric else key(cells[at]) for at in filled}
    filled.sort(key=keys.__getitem__, reverse=descending)
    return filled + [at for at, text in enumerate(cells) if not text.strip()]
