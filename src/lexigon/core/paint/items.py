"""The display list: what is painted of a page, in order, and the protocol of those who paint it.

There are four kinds of item: groups, paths, glyphs, and pictures. All lengths are points from the page's top left trim
corner, y downward. Colours are mixed already and everything turned is a matrix: a painter knows nothing of jobs, frames
and swatches.

A painter is an object with a method for each kind, as a pen is for the steps of an outline::

    paint(display_list, painter)

calls ``begin`` and ``end`` round what a group holds, and ``path``, ``glyphs`` and ``picture`` in between. Nobody
changes an item; those of which a book has ten thousand are not frozen, because a frozen one takes three times as long
to make."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal, Protocol

from lexigon.core.blending import Blend
from lexigon.core.colour.colours import Colour, Paint
from lexigon.core.geometry import Affine, Rect
from lexigon.core.path.steps import Steps
from lexigon.core.picture.looks import PLAIN, Look
from lexigon.core.type.line import LineRun

MITER_LIMIT = 10.0
"""The miter limit: a corner longer than so many times the line's weight is bevelled (the default of PDF, ISO 32000-2,
table 52)."""


@dataclass(slots=True, frozen=True)
class Pen:
    """The properties of a stroke; ``dash`` are lengths of strokes and gaps in turn."""

    weight: float
    colour: Colour
    dash: tuple[float, ...] = ()
    cap: Literal["butt", "round", "square"] = "butt"
    join: Literal["miter", "round", "bevel"] = "miter"


@dataclass(slots=True, frozen=True)
class Path:
    """An outline, filled and then drawn."""

    steps: Steps
    fill: Paint | None = None
    pen: Pen | None = None
    even_odd: bool = False
    """What lies within an even number of outlines is left out."""


@dataclass(slots=True, unsafe_hash=True)
class Glyphs:
    """Some words of one line in one look."""

    run: LineRun
    baseline: float
    colour: Colour


@dataclass(slots=True, frozen=True)
class Picture:
    """A picture, whole: what cuts it off is a group's clip."""

    file: str
    """The SHA-256 of its file's content."""
    map: Affine
    """From the unit square, whose (0, 0) is its left upper corner and (1, 1) its right lower one."""
    space: Literal["grey", "rgb", "cmyk"] = "rgb"
    look: Look = PLAIN
    """The adjustments with which it is shown."""
    vector: bool = False
    """It is a page of a PDF, and drawn as that."""


@dataclass(slots=True, frozen=True)
class Shadow:
    """The shadow of what a group paints, under it: so far to the right and down, fading over ``blur`` points."""

    dx: float
    dy: float
    blur: float
    colour: Colour
    opacity: float
    bounds: Rect
    """Of what the group paints; it may be a little wide."""

    @property
    def reach(self) -> Rect:
        """Within which it is seen."""
        edge = self.blur * 1.5 + 1.0
        b = self.bounds
        return Rect(b.x + self.dx - edge, b.y + self.dy - edge, b.width + 2 * edge, b.height + 2 * edge)

    @property
    def deviation(self) -> float:
        """Of the Gaussian that softens it: the edge fades from end to end over twice as much."""
        return self.blur / 2


@dataclass(slots=True, frozen=True)
class Fade:
    """What a group paints fades out towards an outline: all of it is seen ``width`` points within, half of it halfway,
    nothing on the outline and beyond. In the coordinates of the group's items."""

    steps: Steps
    even_odd: bool
    width: float
    bounds: Rect

    @property
    def deviation(self) -> float:
        """Of the Gaussian that softens the outline, moved inward by half of the width: four of them are the width."""
        return self.width / 4


@dataclass(slots=True, unsafe_hash=True)
class Owner:
    """The object that a group draws: a frame, or a line of the paragraph ``id``."""

    kind: Literal["frame", "line"]
    id: str


@dataclass(slots=True, unsafe_hash=True)
class Group:
    """Items that are turned, cut off, or mixed with what lies below them as one."""

    items: tuple[Item, ...]
    transform: Affine | None = None
    """The matrix from its items to its surroundings."""
    clip: Steps = ()
    """Only what lies within is seen; before ``transform``, as the items are."""
    even_odd: bool = False
    """What lies within an even number of the clip's outlines is left out."""
    opacity: float = 1.0
    blend: Blend = "normal"
    owner: Owner | None = None
    shadow: Shadow | None = None
    fade: Fade | None = None

    @property
    def mixed(self) -> bool:
        """Whether it is painted as a whole before it is laid over what is below."""
        return self.opacity < 1.0 or self.blend != "normal" or self.fade is not None

    @property
    def whole(self) -> bool:
        """Whether it is painted by itself first: also where it is clipped, and something within is blended. That is
        then blended with nothing outside, which is so in browsers (CSS Masking Level 1, 6: a clip path makes an
        isolated group), and therefore everywhere."""
        return self.mixed or (bool(self.clip) and blends(self.items))


def blends(items: Iterable[Item]) -> bool:
    """Return whether something among items has a blend mode."""
    return any(isinstance(item, Group) and (item.blend != "normal" or blends(item.items)) for item in items)


Item = Group | Path | Glyphs | Picture


class Painter(Protocol):
    """One who paints display lists."""

    def begin(self, group: Group) -> None:
        """Begin a group: the following items belong to it, until its ``end``."""

    def end(self, group: Group) -> None: ...
    def path(self, path: Path) -> None: ...
    def glyphs(self, glyphs: Glyphs) -> None: ...
    def picture(self, picture: Picture) -> None: ...


def paint(items: Iterable[Item], painter: Painter) -> None:
    """Let a painter paint a display list."""
    for item in items:
        if isinstance(item, Glyphs):
            painter.glyphs(item)
        elif isinstance(item, Path):
            painter.path(item)
        elif isinstance(item, Picture):
            painter.picture(item)
        else:
            painter.begin(item)
            paint(item.items, painter)
            painter.end(item)
