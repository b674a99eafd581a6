"""Transparency taken out of a page, for files that may have none (PDF/X-1a): what is mixed becomes pixels in the inks of the press, as the
press would mix it, and everything above the last of it stays a drawing.

How the plates of what is mixed are reckoned: ``plates.py``.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from math import ceil
from pathlib import Path as FilePath
from tempfile import TemporaryDirectory

from PIL import Image

from lexigon.core.colour.colours import Colour
from lexigon.core.colour.profiles import Profile
from lexigon.core.geometry import Rect
from lexigon.core.paint.blended import together, within
from lexigon.core.paint.coverage import reach_of
from lexigon.core.paint.items import Glyphs, Group, Item, Picture
from lexigon.core.picture.files import PictureError, has_alpha, opened
from lexigon.core.press.plates import Find, Plater

TYPE_PPI = 600
"""Where words are among what becomes pixels; elsewhere the recipe's resolution is enough."""
MOST = 14_000
"""Pixels on the longer side of a region."""


@dataclass(slots=True, frozen=True)
class Patch:
    """A region of a page as pixels: a plate for each ink by name, 255 for all of it."""

    rect: Rect
    plates: dict[str, Image.Image]
    spots: tuple[Colour, ...] = ()


@dataclass(slots=True, frozen=True)
class Flattened:
    """A page without transparency: what is drawn, pixels over that, and what is drawn over these."""

    below: tuple[Item, ...]
    patches: tuple[Patch, ...]
    above: tuple[Item, ...]


def flattened(items: Sequence[Item], page: Rect, ppi: int, profile: Profile, find: Find | None) -> Flattened:
    """What a page paints within a box, such as its bleed, with nothing in it that is mixed with what lies below it."""
    mixed = [at for at, item in enumerate(items) if see_through(item, find)]
    if not mixed:
        return Flattened((), (), tuple(items))
    under = tuple(items[: mixed[-1] + 1])
    regions = together([found for at in mixed if (found := within(reach_of((items[at],)), page))])
    below = tuple(item for at, item in enumerate(under) if at not in set(mixed))
    with TemporaryDirectory() as folder:
        plater = Plater(ppi, profile, find, FilePath(folder))
        patches = tuple(_patch(plater, under, region) for region in regions)
    return Flattened(below, patches, tuple(items[mixed[-1] + 1 :]))


def see_through(item: Item, find: Find | None) -> bool:
    """Whether something in an item is mixed with what lies below it."""
    if isinstance(item, Group):
        return item.mixed or item.shadow is not None or any(see_through(inner, find) for inner in item.items)
    if not isinstance(item, Picture):
        return False
    path = find(item.file) if find else None
    if item.look.cut is not None:
        return True
    if item.vector:
        return path is None or not stays_drawn(item, path)
    try:
        return path is not None and has_alpha(opened(path))
    except PictureError:
        return False


def stays_drawn(picture: Picture, path: FilePath) -> bool:
    """Whether a page of a PDF goes into a file without transparency as it is."""
    from lexigon.core.picture.placedinks import is_opaque_ink  # what reads PDF files is loaded where there is one

    return picture.look.as_it_is and is_opaque_ink(path, picture.look.page)


def _patch(plater: Plater, items: Sequence[Item], rect: Rect) -> Patch:
    near = tuple(item for item in items if within(reach_of((item,)), rect))
    ppi = max(plater.ppi, TYPE_PPI) if any(_may_have_words(leaf) for leaf in _leaves(near)) else plater.ppi
    per_point = min(ppi / 72, MOST / max(rect.width, rect.height))
    # Whole pixels: a region that ends within one would be stretched, and stand beside what is drawn round it.
    rect = Rect(rect.x, rect.y, ceil(rect.width * per_point) / per_point, ceil(rect.height * per_point) / per_point)
    return Patch(rect, plater.plates(near, rect, per_point), tuple(plater.spots(near).values()))


def _may_have_words(leaf: Item) -> bool:
    return isinstance(leaf, Glyphs) or (isinstance(leaf, Picture) and leaf.vector)


def _leaves(items: Iterable[Item]) -> Iterator[Item]:
    for item in items:
        if isinstance(item, Group):
            yield from _leaves(item.items)
        else:
            yield item
