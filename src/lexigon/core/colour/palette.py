"""A job's swatches, resolved: what is painted is colours and gradients, and no painter looks a swatch up."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from math import cos, hypot, radians, sin

from lexigon.core.colour.colours import BLACK, REGISTRATION, Colour, Gradient, Paint
from lexigon.core.document.model import Fill, InkSet, Stroke, Swatch
from lexigon.core.document.model.frames import Way
from lexigon.core.document.model.surface import Gradient as Blended
from lexigon.core.geometry import Point, Rect


def colour_of(swatch: Swatch | None) -> Colour:
    """A swatch's own colour at full strength; a missing one, and what is made of others by itself, is black."""
    if swatch is None or swatch.kind.made_of:
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
                key: replace(one, base=played[key]) if key in played and one.kind.played else one
                for key, one in swatches.items()
            }
        self._mixed: dict[tuple[str, float], Colour] = {}

    def name(self, swatch: str) -> str:
        """Return what a swatch is called; of a missing one what edits call it."""
        entry = self._swatches.get(swatch)
        return entry.name if entry else swatch

    def colour(self, swatch: str, tint: float = 1.0) -> Colour:
        """One even colour: of a gradient its first."""
        cached = self._mixed.get((swatch, tint))
        if cached is None:
            entry = self._swatches.get(swatch)
            if entry is not None and entry.gradient is not None:
                first = entry.gradient.stops[0]
                cached = self.colour(first.swatch, first.tint).at(tint)
            elif entry is not None and entry.base is not None:
                cached = self.colour(entry.base.swatch, entry.base.tint).at(tint)
            else:
                cached = colour_of(entry).at(tint)
            self._mixed[swatch, tint] = cached
        return cached

    def fill(self, fill: Fill, rect: Rect, way: Way = ()) -> Paint | None:
        """Return what a surface is filled with that fills ``rect``; None for nothing. ``way`` is where a gradient goes,
        in parts of ``rect``."""
        if not fill.swatch:
            return None
        entry = self._swatches.get(fill.swatch)
        if entry is not None and entry.gradient is not None:
            return self.blended(entry.gradient, rect, fill.tint, way)
        return self.colour(fill.swatch, fill.tint)

    def blended(self, gradient: Blended, rect: Rect, tint: float = 1.0, by_hand: Way = ()) -> Gradient:
        """A gradient as it fills ``rect``, in colours."""
        stops = tuple((stop.at, self.colour(stop.swatch, stop.tint * tint)) for stop in gradient.stops)
        mids = tuple(stop.mid for stop in gradient.stops[:-1])
        if all(mid == 0.5 for mid in mids):
            mids = ()
        begin, end = self.way(gradient, rect, by_hand)
        return Gradient(gradient.kind, begin, end, stops, mids)

    @staticmethod
    def way(gradient: Blended, rect: Rect, by_hand: Way = ()) -> tuple[Point, Point]:
        """From where to where a gradient goes that fills ``rect``; of a radial one from its middle to its rim."""
        if by_hand:
            x0, y0, x1, y1 = by_hand
            return (rect.x + x0 * rect.width, rect.y + y0 * rect.height), (
                rect.x + x1 * rect.width,
                rect.y + y1 * rect.height,
            )
        x, y = rect.x + rect.width / 2, rect.y + rect.height / 2
        if gradient.kind == "radial":
            return (x, y), (x + hypot(rect.width, rect.height) / 2, y)
        c, s = cos(radians(gradient.angle)), sin(radians(gradient.angle))
        half = (abs(rect.width * c) + abs(rect.height * s)) / 2  # to where its edge leaves the box
        return (x - c * half, y - s * half), (x + c * half, y + s * half)

    def stroke(self, stroke: Stroke) -> Colour:
        """Return what a line is drawn in."""
        return self.colour(stroke.swatch or "", 1.0 if stroke.tint is None else stroke.tint)
