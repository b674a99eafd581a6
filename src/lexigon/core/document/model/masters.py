"""Master pages, guides, layers, and templates laid over the board."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Literal

from lexigon.core.document.limits import (
    MOST_FRAMES,
    Colour,
    Extent,
    FileName,
    Id,
    Key,
    Length,
    Many,
    Name,
    Opacity,
    PageColumns,
)
from lexigon.core.document.model.brief import Edges
from lexigon.core.document.model.choices import MAIN_LAYER, Side
from lexigon.core.document.model.objects import Object
from lexigon.core.geometry import Rect


@dataclass(slots=True, frozen=True)
class Layer:
    """A level of every page of the job. The job's first layer lies lowest; what a master shows lies below the page's
    own within each."""

    id: Key
    name: Name
    visible: bool = True
    """What is not visible is not printed either."""
    locked: bool = False
    prints: bool = True
    opacity: Opacity = 1.0
    colour: Colour = "#2E93B5"
    """Its mark in the drawer of layers."""


ONE_LAYER = Layer(MAIN_LAYER, "Main layer")
"""What a job begins with."""


@dataclass(slots=True, frozen=True)
class Guide:
    """A line to set things against: at ``at`` points from the page's left or head."""

    axis: Literal["x", "y"]
    at: Length
    side: Literal["both", "recto", "verso"] = "both"
    layer: Key | None = None
    """The layer it belongs to: it has that one's colour, and is not shown where that is hidden. One that is gone counts
    as none."""


@dataclass(slots=True, frozen=True)
class Master:
    """A master page: the common objects and values of pages. Values left ``None`` are the brief's; objects of
    ``based_on`` show below its own."""

    id: Key
    name: Name
    recto: Annotated[tuple[Object, ...], Many(MOST_FRAMES)] = ()
    verso: Annotated[tuple[Object, ...], Many(MOST_FRAMES)] = ()
    colour: Colour = "#1E5B4F"
    based_on: Key | None = None
    margins: Edges | None = None
    columns: PageColumns | None = None
    gutter: Extent | None = None
    turned: bool = False
    """Its pages lie on their side."""
    guides: Annotated[tuple[Guide, ...], Many(1000)] = ()

    def half(self, side: Side) -> tuple[Object, ...]:
        return self.recto if side == "recto" else self.verso


def swung(frame: Object, area: Rect, size: tuple[float, float], onto: bool) -> Object | None:
    """A running head or a folio of a master on a page that is laid on its side (``onto``), or stood upright again:
    where it is as the book is held. A page on its side has its head to the left; ``size`` is that of the page. None for
    what is in the text ``area``, or no text."""
    rect = frame.rect
    if rect is None or frame.text is None or frame.main or rect.overlaps(area) or frame.turn != (0 if onto else 90):
        return None
    width, height = size
    if onto:
        place = Rect(width - rect.foot, rect.x, rect.height, rect.width)
        return replace(frame.at(place), content=replace(frame.text, turn=90))
    place = Rect(rect.y, height - rect.right, rect.height, rect.width)
    return replace(frame.at(place), content=replace(frame.text, turn=0))


@dataclass(slots=True, frozen=True)
class Overlay:
    """A printer's template laid over the board, centred on its sheet. It never prints, whatever the settings."""

    id: Key
    name: Name
    file: FileName
    """SHA-256 of the file, under which it is stored."""
    width: Extent
    height: Extent
    opacity: Opacity = 0.5
    page: Id | None = None
    """The page it lies on; ``None`` for every page."""
