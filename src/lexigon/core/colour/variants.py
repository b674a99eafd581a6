"""The light or dark counterpart of a set of colours: lightness is inverted, hue preserved, and the contrast of each
colour with its ground restored.

Lightness is CIE L* (D50), contrast that of WCAG 2.2 (``contrast.py``). Results are process inks, to a whole per cent,
judged by how they print.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import floor

from lexigon.core.colour.colours import Colour
from lexigon.core.colour.contrast import LARGE, TEXT, contrast

NIGHT, DAY = 19.0, 96.0
"""L* of a dark ground, which is no more ink than dries, and of a light one, which is hardly any."""


@dataclass(slots=True, frozen=True)
class Variant:
    """A colour's counterpart, and how both stand off their grounds; of a ground itself that is 1."""

    colour: Colour
    contrast: float
    was: float


def ground_of(names: Sequence[str], colours: Sequence[Colour]) -> int:
    """Return which of some colours is the ground: the one that is called so, else the lightest, or of dark ones the
    darkest, whichever is farther from the middle."""
    for number, name in enumerate(names):
        if any(word in name.casefold() for word in ("ground", "paper", "surface")):
            return number
    return max(range(len(colours)), key=lambda number: abs(colours[number].lab[0] - 50))


def varied(colours: Sequence[Colour], ground: int, dark: bool) -> list[Variant]:
    """The counterparts of colours on a ground (its number among them)."""
    before = colours[ground]
    base = _inked((NIGHT if dark else DAY, *_quiet(before)))
    variants = []
    for number, colour in enumerate(colours):
        was = contrast(Colour("cmyk", colour.cmyk), Colour("cmyk", before.cmyk))
        if number == ground:
            variants.append(Variant(base, 1.0, 1.0))
            continue
        light, a, b = colour.lab
        least = TEXT if was >= TEXT else LARGE
        readable = _readable((100 - light, a, b), base, least, dark)
        variants.append(Variant(readable, contrast(readable, base), was))
    return variants


def _quiet(colour: Colour) -> tuple[float, float]:
    """Keep its hue with a third of its chroma: grounds are not colours in their own right."""
    _, a, b = colour.lab
    return a / 3, b / 3


def _readable(lab: tuple[float, float, float], ground: Colour, least: float, lighter: bool) -> Colour:
    """The colour of that hue whose lightness is nearest and that stands off its ground so well; where none does the one
    that does best."""
    light, a, b = lab
    step = 1.0 if lighter else -1.0
    best = _inked(lab)
    while contrast(best, ground) < least and 0 <= light <= 100:
        light += step
        other = _inked((light, a, b))
        if contrast(other, ground) >= contrast(best, ground):
            best = other
    return best


def _inked(lab: tuple[float, float, float]) -> Colour:
    return Colour("cmyk", tuple(floor(100 * part + 0.5) / 100 for part in Colour("lab", lab).cmyk))
