"""Strokes, fills, and the swatches that they use."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from lexigon.core.document.limits import (
    Blur,
    Dash,
    Fall,
    Key,
    KeyOrEmpty,
    Many,
    Midpoint,
    Name,
    Opacity,
    Part,
    StrokeWeight,
    Tint,
    Turn,
)

PLAIN_SWATCH = "black"
"""The swatch of what is given none: black ink alone. Nobody takes it away."""

Space = Literal["cmyk", "rgb", "grey", "lab", "gradient", "tint", "role", "registration"]
"""The colour space of a swatch: process inks, light, black ink, CIE L*a*b*; or a gradient of other swatches, a tint of
another swatch, a role that a swatch is assigned to, or all plates at once."""


@dataclass(slots=True, frozen=True)
class SwatchKind:
    """Properties of a type of swatch: its values, and its possible uses."""

    values: int = 0
    """How many it has; 0 where it is not mixed itself."""
    word: str = ""
    """What one without a name goes by; of mixed ones it is their mixture."""
    made_of: Literal["", "gradient", "base"] = ""
    """The other field of a swatch that says what it is made of."""
    played: bool = False
    """A swatch that is mixed itself plays it."""
    spot: bool = False
    """Whether it may be a spot ink."""
    in_gradients: bool = True
    in_tints: bool = True


SWATCH_KINDS: dict[Space, SwatchKind] = {
    "cmyk": SwatchKind(4, spot=True),
    "rgb": SwatchKind(3),
    "lab": SwatchKind(3),
    "grey": SwatchKind(1),
    "gradient": SwatchKind(word="Gradient", made_of="gradient", in_gradients=False, in_tints=False),
    "tint": SwatchKind(word="Tint", made_of="base", in_tints=False),
    "role": SwatchKind(word="Role", made_of="base", played=True),
    "registration": SwatchKind(word="Registration", in_gradients=False),
}

LineEnd = Literal["none", "arrow", "barb", "dot", "ring", "bar", "diamond"]
"""What an open line begins or ends with: a filled triangle, an open arrow, a disc, a circle, a stroke across, a square
on its corner."""


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
    cap: Literal["butt", "round", "square"] | None = None
    """What its ends and those of its dashes are like (ISO 32000-2, table 53). A dash of no length with round ends is a
    dot."""
    join: Literal["miter", "round", "bevel"] | None = None
    """What its corners are like (table 54)."""
    align: Literal["centre", "inside", "outside"] | None = None
    """How it lies on a closed outline."""
    begin: LineEnd | None = None
    end: LineEnd | None = None


@dataclass(slots=True, frozen=True)
class Fill:
    """An even surface in a swatch; "" for none."""

    swatch: KeyOrEmpty = ""
    tint: Tint = 1.0


@dataclass(slots=True, frozen=True)
class Shadow:
    """The shadow of an object; without a ``swatch`` there is none.

    It falls so many points to the right and down, however the object is turned, and fades over ``blur`` points; over 0
    it is hard."""

    dx: Fall = 3.0
    dy: Fall = 3.0
    blur: Blur = 6.0
    swatch: KeyOrEmpty = ""
    opacity: Opacity = 0.5


@dataclass(slots=True, frozen=True)
class Stop:
    """A colour of a gradient, at a part of its way. Its swatch is no gradient itself."""

    at: Part
    swatch: Key
    tint: Tint = 1.0
    mid: Midpoint = 0.5
    """Where, of the way to the next colour, both are mixed half and half."""


@dataclass(slots=True, frozen=True)
class Gradient:
    """Colours that pass into each other: along a line through the middle of what is filled, or from its middle
    outward."""

    stops: Annotated[tuple[Stop, ...], Many(40, 2)]
    """In order; the first and the last colour extend beyond their stops."""
    kind: Literal["linear", "radial"] = "linear"
    angle: Turn = 0.0
    """Of a linear one, in degrees: 0 goes from left to right, 90 from head to foot."""


@dataclass(slots=True, frozen=True)
class Swatch:
    """A named colour. ``values`` are fractions 0 to 1: four for CMYK, three for RGB, one for grey (1 is black); for Lab
    L* of 100, and a* and b* of -128 to 127 (as in ISO 15076-1, 6.3.4.2); none for what is made of other swatches."""

    id: Key
    name: Name
    space: Space
    values: Annotated[tuple[Part, ...], Many(4)] = ()
    spot: bool = False
    """Whether it is a spot ink, on a plate with the swatch's name; the values describe how it appears in process
    inks."""
    gradient: Gradient | None = None
    base: Fill | None = None
    """Of a tint: which swatch it is part of, and how strong; neither a gradient nor a tint itself. Of a role: the
    swatch that plays it now; one that is mixed itself."""
    group: Name = ""
    """Swatches of one group are listed together under its name."""

    @property
    def kind(self) -> SwatchKind:
        return SWATCH_KINDS[self.space]


@dataclass(slots=True, frozen=True)
class Casting:
    """A role, which is a swatch itself, and the swatch that plays it."""

    role: Key
    swatch: Key
    tint: Tint = 1.0


@dataclass(slots=True, frozen=True)
class InkSet:
    """An ink set: the swatch of each role. With another set the job changes its colours in one step."""

    id: Key
    name: Name
    parts: Annotated[tuple[Casting, ...], Many(200)] = ()


@dataclass(slots=True, frozen=True)
class RuleStyle:
    """A named way to draw lines: what a Stroke of this style leaves open."""

    id: Key
    name: Name
    based_on: Key | None = None
    stroke: Stroke = Stroke()
