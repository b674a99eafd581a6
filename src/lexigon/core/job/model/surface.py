"""What is drawn: lines, surfaces, and the swatches they are drawn in."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from lexigon.core.job.limits import Dash, Key, KeyOrEmpty, Many, Name, Part, StrokeWeight, Tint


@dataclass(slots=True, frozen=True)
class Stroke:
    """A drawn line: ``weight`` in points, 0 for none. With a ``style`` what is left open comes from that rule style."""

    weight: StrokeWeight | None = None
    swatch: KeyOrEmpty | None = None
    tint: Tint | None = None
    """Part of the swatch's full strength, 0 to 1."""
    dash: Dash | None = None
    """Lengths of strokes and gaps in turn; empty for a line without gaps."""
    style: KeyOrEmpty | None = None


@dataclass(slots=True, frozen=True)
class Fill:
    """An even surface in a swatch; "" for none."""

    swatch: KeyOrEmpty = ""
    tint: Tint = 1.0


@dataclass(slots=True, frozen=True)
class Swatch:
    """A named colour. ``values`` are fractions 0 to 1: four for CMYK, three for RGB."""

    id: Key
    name: Name
    space: Literal["cmyk", "rgb"]
    values: Annotated[tuple[Part, ...], Many(4, 3)]


@dataclass(slots=True, frozen=True)
class RuleStyle:
    """A named way to draw lines: what a Stroke of this style leaves open."""

    id: Key
    name: Name
    based_on: Key | None = None
    stroke: Stroke = Stroke()
