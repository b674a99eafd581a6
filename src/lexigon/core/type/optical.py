"""Optical margins: how far characters hang over the edges of the measure, as parts of their width.

A straight edge of small marks looks dented, so they stand outside it in part. The values are common
practice (no source); Han The Thanh, "Micro-typographic extensions to the TeX typesetting system" (2000),
describes the method.
"""

from __future__ import annotations

from lexigon.core.type.runs import Look

RIGHT = {
    **dict.fromkeys("-‐­", 0.6),
    **dict.fromkeys(".,", 0.7),
    **dict.fromkeys("'’‘\"”“", 0.6),
    **dict.fromkeys(":;", 0.4),
    "–": 0.3,
    "—": 0.2,
    "!": 0.2,
    "?": 0.15,
    ")": 0.1,
    "]": 0.05,
    **dict.fromkeys("AFKLPTVWY", 0.05),
    **dict.fromkeys("krtvwxy", 0.05),
}
LEFT = {
    **dict.fromkeys("'’‘\"”“„", 0.6),
    **dict.fromkeys("-‐", 0.5),
    "–": 0.3,
    "—": 0.2,
    "(": 0.1,
    "[": 0.05,
    "«": 0.3,
    "‹": 0.3,
    **dict.fromkeys("AJTVWXY", 0.05),
    **dict.fromkeys("tvwxy", 0.04),
}


def left_hang(look: Look, character: str) -> float:
    """Points by which a character at a line's beginning stands outside the measure."""
    part = LEFT.get(character)
    return part * look.width(character) if part else 0.0


def right_hang(look: Look, character: str) -> float:
    part = RIGHT.get(character)
    return part * look.width(character) if part else 0.0
