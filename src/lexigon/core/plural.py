"""Counted things in English words."""

from __future__ import annotations

from lexigon.core.numerals import integer


def counted(count: int, word: str) -> str:
    """A number with its word, in the plural but for one: ``1 line``, ``1,160 words``."""
    return f"{integer(count)} {word}{'' if count == 1 else 's'}"
