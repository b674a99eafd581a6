"""What stands on pages and masters: frames, how they are made and what keeps clear of them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from lexigon.core.geometry import Rect
from lexigon.core.job.limits import (
    MOST_FRAMES,
    Colour,
    Columns,
    Extent,
    FileName,
    Id,
    Key,
    Length,
    Many,
    Name,
    Note,
    Opacity,
    OutlinePart,
    PageColumns,
    PathData,
    Turn,
    TypeSize,
)
from lexigon.core.job.model.brief import Edges
from lexigon.core.job.model.surface import Fill, Stroke
from lexigon.core.job.model.words import FirstLine, Side, Vertical


@dataclass(slots=True, frozen=True)
class Wrap:
    """How text keeps clear of a frame.

    ``sides``: text runs on both sides of it, only on one, only on the wider one, or jumps over it. ``offsets`` are head
    right foot left round its box; round its outline the first counts. ``inverted``: text runs only within the outline.
    """

    sides: Literal["none", "both", "left", "right", "largest", "jump"] = "both"
    offsets: tuple[Length, Length, Length, Length] = (0.0, 0.0, 0.0, 0.0)
    outline: bool = False
    inverted: bool = False


@dataclass(slots=True, frozen=True)
class Outline:
    """A frame's outline other than its box: an ellipse, a polygon of points, or a path, in parts of its width and height.

    A path's ``data`` are steps M x y, L x y, C with three points, and Z, as in SVG.
    """

    kind: Literal["ellipse", "polygon", "path"] = "ellipse"
    points: Annotated[tuple[tuple[OutlinePart, OutlinePart], ...], Many(20_000)] = ()
    data: PathData = ""


Insets = tuple[Extent, Extent, Extent, Extent]


@dataclass(slots=True, frozen=True)
class FrameSpec:
    """What a frame takes from its style where it says nothing itself. ``None`` leaves a value open."""

    columns: Columns | None = None
    gutter: Extent | None = None
    column_rule: Stroke | None = None
    balanced: bool | None = None
    insets: Insets | None = None
    vertical: Vertical | None = None
    stretch: Extent | None = None
    first: FirstLine | None = None
    first_at: Length | None = None
    fill: Fill | None = None
    stroke: Stroke | None = None
    wrap: Wrap | None = None
    passes: bool | None = None


@dataclass(slots=True, frozen=True)
class FrameStyle:
    """A named way frames are made."""

    id: Key
    name: Name
    based_on: Key | None = None
    frame: FrameSpec = FrameSpec()


@dataclass(slots=True, frozen=True)
class Frame:
    """A box on a page or on a master's half.

    ``rect`` is ``None`` for a main text frame that fills its page's margins. ``origin`` names the
    master's frame that this one, on a page, has taken over.
    """

    id: Id
    kind: Literal["text", "shape"] = "text"
    role: Literal["", "main"] = ""
    name: Name = ""
    rect: Rect | None = None
    story: Id | None = None
    columns: Columns | None = None
    gutter: Extent | None = None
    insets: Extent | Insets | None = None
    """How far text keeps from the edges: one length, or head right foot left."""
    vertical: Vertical | None = None
    turn: Literal[0, 90, 180, 270] = 0
    """Degrees its contents are turned clockwise, as on a panel that hangs head over foot."""
    hide_on: Annotated[tuple[Literal["opening", "blank", "front"], ...], Many(3)] = ()
    """Master frames only: not shown on pages a chapter opens on, on pages the text leaves blank, or on
    those before the first heading (half-title, title, imprint)."""
    origin: Id | None = None
    style: Key | None = None
    """Frame style, which gives what is left open here."""
    column_rule: Stroke | None = None
    balanced: bool | None = None
    """The last columns of a text are made equally high."""
    stretch: Extent | None = None
    """Vertically justified: the most that is added between paragraphs, before lines part; in points."""
    first: FirstLine | None = None
    """What of the first line reaches the frame's head; ``leading`` and ``fixed`` set the distance of its baseline."""
    first_at: Length | None = None
    """The least distance of the first baseline from the head, or with ``fixed`` the distance."""
    fill: Fill | None = None
    stroke: Stroke | None = None
    wrap: Wrap | None = None
    passes: bool | None = None
    """Its own text pays no heed to what other frames keep clear."""
    outline: Outline | None = None
    rotation: Turn = 0.0
    """Degrees the whole frame is turned clockwise about its centre."""
    group: Id | None = None
    """Frames of a page with the same group are selected and moved together."""
    alt: Note = ""
    """What a shape is read out as."""
    fit: Literal["none", "line", "size", "height"] = "none"
    """Kept to: ``line`` the largest size at which no line of its text breaks, ``size`` the largest at which all of it
    has room, ``height`` a frame as high as its text."""
    fit_sizes: tuple[TypeSize, TypeSize] = (4.0, 400.0)
    """The least and the greatest size of the text's first character, in points."""


@dataclass(slots=True, frozen=True)
class Guide:
    """A line to set things against: at ``at`` points from the page's left or head."""

    axis: Literal["x", "y"]
    at: Length
    side: Literal["both", "recto", "verso"] = "both"


@dataclass(slots=True, frozen=True)
class Master:
    """What pages have in common. Values left ``None`` are the brief's; frames of ``based_on`` show below its own."""

    id: Key
    name: Name
    recto: Annotated[tuple[Frame, ...], Many(MOST_FRAMES)] = ()
    verso: Annotated[tuple[Frame, ...], Many(MOST_FRAMES)] = ()
    colour: Colour = "#1E5B4F"
    based_on: Key | None = None
    margins: Edges | None = None
    columns: PageColumns | None = None
    gutter: Extent | None = None
    turned: bool = False
    """Its pages lie on their side."""
    guides: Annotated[tuple[Guide, ...], Many(1000)] = ()

    def half(self, side: Side) -> tuple[Frame, ...]:
        return self.recto if side == "recto" else self.verso


@dataclass(slots=True, frozen=True)
class Overlay:
    """A printer's template laid over the board, centred on its sheet. It never prints, whatever the settings."""

    id: Key
    name: Name
    file: FileName
    """SHA-256 of the file, by which it is kept."""
    width: Extent
    height: Extent
    opacity: Opacity = 0.5
    page: Id | None = None
    """The page it lies on; ``None`` for every page."""
