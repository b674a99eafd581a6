"""A job's swatches, resolved: what is painted is colours and gradients, and no painter looks a swatch up."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from math import cos, hypot, radians, sin

from lexigon.core.colour.colours import BLACK, REGISTRATION, Colour, Gradient, Paint
from lexigon.core.geometry import Rect
from lexigon.core.job.model import Fill, InkSet, Stroke, Swatch
from lexigon.core.job.model.surface import Gradient as Blended


def colour_of(swatch: Swatch | None) -> Colour:
    """A swatch's own colour at full strength; a missing one, and what is made of others by itself, is black."""
    if swatch is None or swatch.space in ("gradient", "tint", "role"):
        return BLACK
    if swatch.space == "registration":
        return REGISTRATION
    if swatch.space == "grey":
        return Colour("cmyk", (0.0, 0.0, 0.0, *swatch.values))
    if swatch.space == "lab":
        light, a, b = swatch.values
        return Colour("lab", (100 * light, round(255 * a - 128, 6), round(255 * b - 128, 6)))
    return Colour("cmyk" if swatch.space == "cmyk" else "rgb", swatch.values, swatch.name if swatch.spot else "")


class Palette:
    """The colours of some swatches at any tint, each mixed once. Make a new one when a swatch was changed."""

    def __init__(self, swatches: Mapping[str, Swatch], ink_set: InkSet | None = None) -> None:
        """With an ``ink_set`` its swatches play the roles it fills, and those that play them now the others."""
        self._swatches = swatches
        self.ink_set = ink_set.id if ink_set else ""
        if ink_set is not None:
            played = {part.role: Fill(part.swatch, part.tint) for part in ink_set.parts}
            self._swatches = {
                key: replace(one, base=played[key]) if key in played and one.space == "role" else one
                for key, one in swatches.items()
            }
        self._mixed: dict[tuple[str, float], Colour] = {}

    def name(self, swatch: str) -> str:
        """What a swatch is called; of a missing one what edits call it."""
        found = self._swatches.get(swatch)
        return found.name if found else swatch

    def colour(self, swatch: str, tint: float = 1.0) -> Colour:
        """One even colour: of a gradient its first."""
        known = self._mixed.get((swatch, tint))
        if known is None:
            found = self._swatches.get(swatch)
            if found is not None and found.gradient is not None:
                first = found.gradient.stops[0]
                known = self.colour(first.swatch, first.tint).at(tint)
            elif found is not None and found.base is not None:
                known = self.colour(found.base.swatch, found.base.tint).at(tint)
            else:
                known = colour_of(found).at(tint)
            self._mixed[swatch, tint] = known
        return known

    def fill(self, fill: Fill, rect: Rect) -> Paint | None:
        """What a surface is filled with that fills ``rect``; None for nothing."""
        if not fill.swatch:
            return None
        found = self._swatches.get(fill.swatch)
        if found is not None and found.gradient is not None:
            return self._gradient(found.gradient, fill.tint, rect)
        return self.colour(fill.swatch, fill.tint)

    def _gradient(self, gradient: Blended, tint: float, rect: Rect) -> Gradient:
        x, y = rect.x + rect.width / 2, rect.y + rect.height / 2
        stops = tuple((stop.at, self.colour(stop.swatch, stop.tint * tint)) for stop in gradient.stops)
        if gradient.kind == "radial":
            return Gradient("radial", (x, y), (x + hypot(rect.width, rect.height) / 2, y), stops)
        c, s = cos(radians(gradient.angle)), sin(radians(gradient.angle))
        half = (abs(rect.width * c) + abs(rect.height * s)) / 2  # to where its edge leaves the box
        return Gradient("linear", (x - c * half, y - s * half), (x + c * half, y + s * half), stops)

    def stroke(self, stroke: Stroke) -> Colour:
        """What a line is drawn in."""
        return self.colour(stroke.swatch or "", 1.0 if stroke.tint is None else stroke.tint)
