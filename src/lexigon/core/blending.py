"""Blend modes and their arithmetic."""

from __future__ import annotations

from typing import Literal, get_args

Blend = Literal[
    "normal",
    "multiply",
    "screen",
    "overlay",
    "darken",
    "lighten",
    "color-dodge",
    "color-burn",
    "hard-light",
    "soft-light",
    "difference",
    "exclusion",
]
"""The separable modes of ISO 32000-2, 11.3.5.2, that CSS has too, by the names of CSS
(Compositing and Blending Level 1)."""

BLENDS: tuple[Blend, ...] = get_args(Blend)


def blend_words(blend: str) -> str:
    """Return what a mode is called where people read: ``colour dodge``."""
    return blend.replace("color", "colour").replace("-", " ")
