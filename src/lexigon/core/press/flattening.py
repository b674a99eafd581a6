"""Transparency taken out of a page, for files that may have none (PDF/X-1a): what is mixed becomes pixels in the inks of the press, as the
press would mix it, and everything above the last of it stays a drawing.

How it is reckoned. In inks, blend modes that work on each ink by itself (ISO 32000-2, 11.3.5.2) mix the complements of the amounts (11.3.4), and each plate by
itself: a plate of a page is a grey page, whose greys are the complements of that ink. So every plate is drawn by PDFium as a page of light, and the plates
are put together. What overprints leaves plates alone that it has no ink on.
"""

from __future__ import annotations

import io
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from math import ceil
from pathlib import Path as FilePath
from tempfile import TemporaryDirectory
from typing import Any

from PIL import Image

from lexigon.core.colour.colours import ALL, Colour, Gradient
from lexigon.core.colour.profiles import Profile
from lexigon.core.geometry import Affine, Rect
from lexigon.core.paint.coverage import reach_of
from lexigon.core.paint.items import Glyphs, Group, Item, Path, Pen, Picture
from lexigon.core.picture.conversion import Raster, raster
from lexigon.core.picture.files import PictureError, has_alpha, opened
from lexigon.core.press.shadows import drawn_on_white

PROCESS = ("Cyan", "Magenta", "Yellow", "Black")
TYPE_PPI = 600
"""Where words are among what becomes pixels; elsewhere the recipe's resolution is enough."""
MOST = 14_000
"""Pixels on the longer side of a region."""
Find = Callable[[str], FilePath | None]


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
    mixed = [at for at, item in enumerate(items) if _see_through(item, find)]
    if not mixed:
        return Flattened((), (), tuple(items))
    under = tuple(items[: mixed[-1] + 1])
    regions = _together([found for at in mixed if (found := _within(reach_of((items[at],)), page))])
    below = tuple(item for at, item in enumerate(under) if at not in set(mixed))
    with TemporaryDirectory() as folder:
        plater = _Plater(ppi, profile, find, FilePath(folder))
        patches = tuple(plater.patch(under, region) for region in regions)
    return Flattened(below, patches, tuple(items[mixed[-1] + 1 :]))


def _see_through(item: Item, find: Find | None) -> bool:
    if isinstance(item, Group):
        return item.mixed or item.shadow is not None or any(_see_through(inner, find) for inner in item.items)
    if not isinstance(item, Picture):
        return False
    if item.vector or item.look.cut is not None:
        return True
    path = find(item.file) if find else None
    try:
        return path is not None and has_alpha(opened(path))
    except PictureError:
        return False


def _within(rect: Rect | None, page: Rect) -> Rect | None:
    if rect is None:
        return None
    x0, y0 = max(rect.x - 1, page.x), max(rect.y - 1, page.y)
    x1, y1 = min(rect.right + 1, page.right), min(rect.foot + 1, page.foot)
    return Rect(x0, y0, x1 - x0, y1 - y0) if x1 > x0 and y1 > y0 else None


def _together(rects: list[Rect]) -> list[Rect]:
    """Boxes that overlap become one, until none do."""
    made: list[Rect] = []
    for rect in rects:
        while True:
            near = next(
                (
                    one
                    for one in made
                    if one.x < rect.right and one.right > rect.x and one.y < rect.foot and one.foot > rect.y
                ),
                None,
            )
            if near is None:
                break
            made.remove(near)
            x, y = min(near.x, rect.x), min(near.y, rect.y)
            rect = Rect(x, y, max(near.right, rect.right) - x, max(near.foot, rect.foot) - y)
        made.append(rect)
    return made


class _Plater:
    """Draws the plates of a region."""

    def __init__(self, ppi: int, profile: Profile, find: Find | None, folder: FilePath) -> None:
        self.ppi, self.profile, self.find, self.folder = ppi, profile, find, folder
        self._rasters: dict[tuple[str, int, int, object], Raster | None] = {}

    def patch(self, items: Sequence[Item], rect: Rect) -> Patch:
        near = tuple(item for item in items if _within(reach_of((item,)), rect))
        spots = {colour.spot: colour for colour in _colours(near) if colour.spot and colour.spot != ALL}
        ppi = max(self.ppi, TYPE_PPI) if any(isinstance(leaf, Glyphs) for leaf in _leaves(near)) else self.ppi
        per_point = min(ppi / 72, MOST / max(rect.width, rect.height))
        # Whole pixels: a region that ends within one would be stretched, and stand beside what is drawn round it.
        rect = Rect(rect.x, rect.y, ceil(rect.width * per_point) / per_point, ceil(rect.height * per_point) / per_point)
        plates = {
            ink: drawn_on_white([made for item in near if (made := self._item(item, ink, Affine(), False)) is not None], rect, per_point, self._plate_file).point(lambda v: 255 - v)
            for ink in (*PROCESS, *spots)
        }  # fmt: skip
        return Patch(rect, plates, tuple(replace(colour, strength=1.0) for colour in spots.values()))

    def _plate_file(self, name: str) -> FilePath | None:
        path = self.folder / name
        return path if path.exists() else None

    def _grey(self, colour: Colour, ink: str, inside: bool) -> Colour | None:
        """A colour as the grey of a plate; None where it leaves that alone. ``inside`` what is mixed as a whole nothing overprints what lies below
        that: it is mixed over nothing first."""
        amount = self._amount(colour, ink)
        overprints = colour.overprint or (not colour.spot and Colour("cmyk", colour.inks(self.profile)).black_only)
        if overprints and amount == 0 and not inside:
            return None
        return Colour("rgb", (round(1 - amount, 6),) * 3)

    def _amount(self, colour: Colour, ink: str) -> float:
        if colour.spot == ALL:
            return colour.strength
        if colour.spot:
            return colour.strength if colour.spot == ink else 0.0
        return colour.inks(self.profile)[PROCESS.index(ink)] if ink in PROCESS else 0.0

    def _item(self, item: Item, ink: str, map_: Affine, inside: bool) -> Item | None:
        if isinstance(item, Group):
            inner = item.transform.then(map_) if item.transform else map_
            made = tuple(
                one for part in item.items if (one := self._item(part, ink, inner, inside or item.mixed)) is not None
            )
            shadow = None
            if item.shadow is not None and (grey := self._grey(item.shadow.colour, ink, inside)) is not None:
                shadow = replace(item.shadow, colour=grey)
            return replace(item, items=made, shadow=shadow)
        if isinstance(item, Path):
            fill: Any = item.fill
            if isinstance(fill, Gradient):
                fill = replace(
                    fill,
                    stops=tuple(
                        (at, Colour("rgb", (round(1 - self._amount(colour, ink), 6),) * 3)) for at, colour in fill.stops
                    ),
                )
            elif fill is not None:
                fill = self._grey(fill, ink, inside)
            pen = item.pen
            if pen is not None:
                grey = self._grey(pen.colour, ink, inside)
                pen = Pen(pen.weight, grey, pen.dash, pen.cap, pen.join) if grey is not None else None
            return replace(item, fill=fill, pen=pen) if fill is not None or pen is not None else None
        if isinstance(item, Glyphs):
            grey = self._grey(item.colour, ink, inside)
            return replace(item, colour=grey) if grey is not None else None
        return self._picture(item, ink, map_)

    def _picture(self, picture: Picture, ink: str, map_: Affine) -> Picture | None:
        """One plate of a picture, as a grey picture of its own."""
        whole = picture.map.then(map_)
        most = tuple(
            max(round((abs(a) + abs(b)) / 72 * self.ppi), 1) for a, b in ((whole.a, whole.b), (whole.c, whole.d))
        )
        key = (picture.file, most[0], most[1], picture.look)
        if key not in self._rasters:
            path = self.find(picture.file) if self.find else None
            try:
                self._rasters[key] = raster(path, self.profile, (most[0], most[1]), picture.look) if path else None
            except PictureError:
                self._rasters[key] = None
        made = self._rasters[key]
        if made is None:
            return None
        number = list(self._rasters).index(key)
        name = f"{number}-{ink}".encode().hex()
        target = self.folder / name
        if not target.exists():
            grey = _plate_of(made, ink).point(lambda v: 255 - v)
            if made.alpha is not None:
                grey.putalpha(Image.frombytes("L", (made.width, made.height), made.alpha))
            grey.save(target, "PNG", compress_level=1)
        return Picture(name, picture.map, "grey")


def _plate_of(made: Raster, ink: str) -> Image.Image:
    """How much of an ink a picture has, pixel by pixel."""
    size = (made.width, made.height)
    if made.inks is not None:
        found = []
        for value in range(256):
            amount = 0.0
            for colour, part in zip(made.inks.colours, made.inks.strengths((255 - value) / 255), strict=True):
                if colour.spot:
                    amount += colour.strength * part * (colour.spot == ink)
                elif ink in PROCESS:
                    amount += colour.cmyk[PROCESS.index(ink)] * part
            found.append(round(255 * min(amount, 1.0)))
        return Image.frombytes("L", size, made.pixels).point(found)
    if ink not in PROCESS:
        return Image.new("L", size, 0)
    picture = Image.open(io.BytesIO(made.jpeg)) if made.jpeg else Image.frombytes(made.mode, size, made.pixels)
    if made.mode == "L":
        return picture.convert("L").point(lambda v: 255 - v) if ink == "Black" else Image.new("L", size, 0)
    return picture.getchannel(PROCESS.index(ink))


def _leaves(items: Iterable[Item]) -> Iterator[Item]:
    for item in items:
        if isinstance(item, Group):
            yield from _leaves(item.items)
        else:
            yield item


def _colours(items: Iterable[Item]) -> Iterator[Colour]:
    """Every colour that items are painted in."""
    for item in items:
        if isinstance(item, Group):
            if item.shadow is not None:
                yield item.shadow.colour
            yield from _colours(item.items)
        elif isinstance(item, Path):
            if isinstance(item.fill, Gradient):
                yield from (colour for _, colour in item.fill.stops)
            elif item.fill is not None:
                yield item.fill
            if item.pen is not None:
                yield item.pen.colour
        elif isinstance(item, Glyphs):
            yield item.colour
        else:
            yield from item.look.colours


__all__ = ["Flattened", "Patch", "flattened"]
