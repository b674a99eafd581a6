"""A job's swatches, resolved: what is painted is colours, and no painter looks a swatch up."""

from __future__ import annotations

from collections.abc import Mapping

from lexigon.core.colour.colours import BLACK, Colour
from lexigon.core.job.model import Fill, Stroke, Swatch


def colour_of(swatch: Swatch | None) -> Colour:
    """A swatch's own colour at full strength; a missing one is black."""
    return BLACK if swatch is None else Colour(swatch.space, swatch.values)


class Palette:
    """The colours of some swatches at any tint, each mixed once. Make a new one when a swatch was changed."""

    def __init__(self, swatches: Mapping[str, Swatch]) -> None:
        self._swatches = swatches
        self._mixed: dict[tuple[str, float], Colour] = {}

    def colour(self, swatch: str, tint: float = 1.0) -> Colour:
        known = self._mixed.get((swatch, tint))
        if known is None:
            known = self._mixed[swatch, tint] = colour_of(self._swatches.get(swatch)).at(tint)
        return known

    def fill(self, fill: Fill) -> Colour | None:
        """What a surface is filled with; None for nothing."""
        return self.colour(fill.swatch, fill.tint) if fill.swatch else None

    def stroke(self, stroke: Stroke) -> Colour:
        """What a line is drawn in."""
        return self.colour(stroke.swatch or "", 1.0 if stroke.tint is None else stroke.tint)
