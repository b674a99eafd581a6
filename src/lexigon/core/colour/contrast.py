"""Contrast between two colours (WCAG 2.2)."""

from __future__ import annotations

from lexigon.core.colour.colours import Colour

TEXT, LARGE = 4.5, 3.0
"""The least contrast of text, and of large type (WCAG 2.2, 1.4.3)."""


def luminance(colour: Colour) -> float:
    """Relative luminance (WCAG 2.2, from IEC 61966-2-1)."""
    linear = [v / 12.92 if v <= 0.04045 else ((v + 0.055) / 1.055) ** 2.4 for v in colour.rgb]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(one: Colour, other: Colour) -> float:
    """Return how much lighter the lighter is, 1 to 21."""
    light, dark = sorted((luminance(one), luminance(other)), reverse=True)
    return (light + 0.05) / (dark + 0.05)
