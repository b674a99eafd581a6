"""Properties of frames: outlines, text wrap, and the values that a frame style may give."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import AfterValidator

from lexigon.core.blending import Blend
from lexigon.core.document.limits import Blur, Columns, Extent, Key, Length, Many, Name, Opacity, OutlinePart, PathData
from lexigon.core.document.model.choices import FirstLine, Vertical
from lexigon.core.document.model.surface import Fill, Shadow, Stroke


@dataclass(slots=True, frozen=True)
class Wrap:
    """Text wrap around a frame.

    ``sides``: text runs on both sides of it, only on one, only on the wider one, or jumps over it. ``offsets`` are head
    right foot left round its box; round its outline the first counts. ``inverted``: text runs only within the outline.
    """

    sides: Literal["none", "both", "left", "right", "largest", "jump"] = "both"
    offsets: tuple[Length, Length, Length, Length] = (0.0, 0.0, 0.0, 0.0)
    outline: bool = False
    inverted: bool = False
    contour: bool = False
    """Round what is seen of the frame's picture, where that is cut out or see-through, and not round the frame."""


def _way(value: tuple[float, ...]) -> tuple[float, ...]:
    if len(value) not in (0, 4) or (value and value[:2] == value[2:]):
        raise ValueError("A custom gradient runs from one point to another.")
    return value


CornerKind = Literal["round", "hollow", "cut", "notch"]
"""How a box's corner is taken off: as a round, as a round that curves inward, straight, as a square step."""


@dataclass(slots=True, frozen=True)
class Outline:
    """A frame's outline other than its plain box: a box with round corners, an ellipse, a polygon of points, or a path.

    Points are parts of the frame's width and height. A path's ``data`` are steps M x y, L x y, C with three points, and
    Z, as in SVG."""

    kind: Literal["ellipse", "polygon", "path", "box"] = "ellipse"
    points: Annotated[tuple[tuple[OutlinePart, OutlinePart], ...], Many(20_000)] = ()
    data: PathData = ""
    even_odd: bool = False
    """Of a path: what lies within an even number of its rings is left out. A polygon is always so."""
    radii: tuple[Extent, Extent, Extent, Extent] = (0.0, 0.0, 0.0, 0.0)
    """Of a box: how much of each corner is taken off, from the head's left clockwise, in points; corners never
    overlap."""
    corners: tuple[CornerKind, CornerKind, CornerKind, CornerKind] = ("round", "round", "round", "round")


LINE = Outline("path", data="M 0 0.5 L 1 0.5")
"""What makes an object a rule: a line along the middle of its box."""

Way = Annotated[tuple[OutlinePart, ...], AfterValidator(_way)]
"""Two points as parts of a box's width and height, x and y in turn; empty for none."""

Insets = tuple[Extent, Extent, Extent, Extent]


@dataclass(slots=True, frozen=True)
class FrameSpec:
    """Properties of a frame that a style can give. ``None`` leaves a value open."""

    columns: Columns | None = None
    gutter: Extent | None = None
    column_rule: Stroke | None = None
    balanced: bool | None = None
    """Whether the last columns of a story are made equally high."""
    insets: Insets | None = None
    """How far text keeps from the edges: head right foot left."""
    vertical: Vertical | None = None
    stretch: Extent | None = None
    """Vertically justified: the most that is added between paragraphs, before lines part; in points."""
    first: FirstLine | None = None
    """What of the first line reaches the frame's head; ``leading`` and ``fixed`` set the distance of its baseline."""
    first_at: Length | None = None
    """The least distance of the first baseline from the head, or with ``fixed`` the distance."""
    fill: Fill | None = None
    way: Way | None = None
    """Where a gradient that fills it begins and ends, set by hand; empty goes by the gradient's angle and the frame's
    box."""
    stroke: Stroke | None = None
    overprint: bool | None = None
    """Its fill and its edge leave the inks below them where they have none themselves."""
    shadow: Shadow | None = None
    opacity: Opacity | None = None
    """Of all that it is and holds, as one; its shadow fades with it."""
    blend: Blend | None = None
    soft_edge: Blur | None = None
    """Over so many points inward from its outline all that it is and holds fades out."""
    wrap: Wrap | None = None
    passes: bool | None = None
    """Its own text pays no heed to what other frames keep clear."""


NOTHING_SAID = FrameSpec()


@dataclass(slots=True, frozen=True)
class FrameStyle:
    """A named way frames are made."""

    id: Key
    name: Name
    based_on: Key | None = None
    frame: FrameSpec = FrameSpec()
