"""Regions of a page that are pixels in the inks of the press."""

from __future__ import annotations

from dataclasses import dataclass

from PIL import Image

from lexigon.core.colour.colours import Colour
from lexigon.core.geometry import Rect


@dataclass(slots=True, frozen=True)
class Patch:
    """A region of a page as pixels: a plate for each ink by name, 255 for all of it."""

    rect: Rect
    plates: dict[str, Image.Image]
    spots: tuple[Colour, ...] = ()
