"""Soft shadows and soft edges for the press: how dark each is where, found by drawing what throws it and softening
that."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path as FilePath
from typing import TYPE_CHECKING, Protocol

from lexigon.core.colour.colours import BLACK
from lexigon.core.geometry import Rect
from lexigon.core.paint.items import Fade, Item, Path, Pen, Shadow

if TYPE_CHECKING:
    from PIL import Image


class Find(Protocol):
    def __call__(self, file: str, /) -> FilePath | None:
        """Return the path of a picture's file, None if it is missing."""


class Draw(Protocol):
    def __call__(
        self, items: Sequence[Item], area: Rect, per_point: float, find: Find | None, ground: tuple[int, int, int, int]
    ) -> Image.Image:
        """Return items drawn within an area as pixels on a ground (red, green, blue, opacity; 0 to 255)."""


PPI = 150
"""As fine as a soft edge needs; a hard one is drawn finer."""
HARD_PPI = 600
MOST = 4000
"""Pixels on the longer side."""


def mask_of(shadow: Shadow, items: Sequence[Item], scale: float, find: Find | None, draw: Draw) -> Image.Image:
    """Return the opacity of a shadow within its bounds, as grey values from 0 to its maximum. ``scale`` is its
    magnification on the sheet; ``find`` gives the paths of pictures, ``draw`` makes pixels of items."""
    from PIL import ImageFilter

    reach = shadow.reach
    ppi = (HARD_PPI if shadow.blur < 1 else PPI) * scale
    per_point = min(ppi / 72, MOST / max(reach.width, reach.height))
    mask = _coverage_image(items, reach.moved(-shadow.dx, -shadow.dy), per_point, find, draw)
    soft = mask.filter(ImageFilter.GaussianBlur(shadow.deviation * per_point)) if shadow.blur else mask
    return soft.point(lambda value: round(value * shadow.opacity))


def fade_of(fade: Fade, scale: float, draw: Draw) -> Image.Image:
    """Return the visibility within the bounds of an object with a soft edge, as grey values: its outline, reduced by
    half of the width, softened. ``scale`` is its magnification on the sheet."""
    from PIL import ImageChops, ImageFilter

    per_point = min(PPI * scale / 72, MOST / max(fade.bounds.width, fade.bounds.height))
    edge = Path(fade.steps, pen=Pen(fade.width, BLACK, join="round"), even_odd=fade.even_odd)
    within = _coverage_image((Path(fade.steps, BLACK, even_odd=fade.even_odd),), fade.bounds, per_point, None, draw)
    stroke_mask = _coverage_image((edge,), fade.bounds, per_point, None, draw)
    return ImageChops.multiply(within, ImageChops.invert(stroke_mask)).filter(
        ImageFilter.GaussianBlur(fade.deviation * per_point)
    )


def _coverage_image(items: Sequence[Item], area: Rect, per_point: float, find: Find | None, draw: Draw) -> Image.Image:
    """Return what is painted within an area, as one shape: how much it hides of what lies below it."""
    return draw(items, area, per_point, find, (255, 255, 255, 0)).convert("RGBA").getchannel("A")
