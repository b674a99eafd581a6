"""The plates of a region of a page: the amount of each ink at each pixel, as the press would blend it.

Blend modes that act on each ink separately (ISO 32000-2, 11.3.5.2) blend the complements of the amounts (11.3.4), each
plate by itself: a plate of a page is a grey page whose greys are the complements of that ink. So every plate is drawn
by PDFium as a page in RGB. An overprinting object leaves plates unchanged on which it has no ink.

PDFium differs in two cases, for which its input is adjusted. A source of 1 that dodges a backdrop of 0 leaves 0, and
one of 0 that burns a backdrop of 1 leaves 1 (ISO 32000-2, 11.3.5.2; ISO 32000-1 differed): such a source is moved away
from its end by a step of 255, which gives the same result. And modes that do not leave white unchanged do not blend
spot inks (11.7.4.2).
"""

from __future__ import annotations

import io
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import suppress
from dataclasses import dataclass, replace
from hashlib import sha256
from pathlib import Path as FilePath
from typing import Any

from PIL import Image

from lexigon.core.colour.colours import ALL, Colour, Gradient
from lexigon.core.colour.profiles import Profile
from lexigon.core.geometry import Affine, Rect
from lexigon.core.paint.coverage import colours_of
from lexigon.core.paint.items import Glyphs, Group, Item, Path, Pen, Picture
from lexigon.core.pdf.rasters import paint_on_white
from lexigon.core.picture.conversion import Raster, raster
from lexigon.core.picture.files import PictureError

PROCESS = ("Cyan", "Magenta", "Yellow", "Black")
Find = Callable[[str], FilePath | None]
STEP = 1 / 255
LIGHT_WITHIN = {"color-dodge": (0.0, 1.0 - STEP), "color-burn": (STEP, 1.0)}
"""Bounds of the light of what is blended in a mode."""
PROCESS_ONLY = ("difference", "exclusion")
"""Modes that do not blend spot inks."""
ALL_LIGHT = (0.0, 1.0)


@dataclass(slots=True, frozen=True)
class _Within:
    """The context in which an item of a plate is drawn: its matrix, whether it is in a group that is painted as a
    whole, and the bounds of its colour."""

    map: Affine
    whole: bool = False
    light: tuple[float, float] = ALL_LIGHT

    def grey(self, amount: float) -> Colour:
        """Return an amount of ink as a grey of a plate."""
        return Colour("rgb", (round(min(max(1 - amount, self.light[0]), self.light[1]), 6),) * 3)


class Plater:
    """Draws the plates of regions; ``folder`` is for what pictures become on the way, ``ppi`` is how fine those are at
    most."""

    def __init__(self, ppi: int, profile: Profile, find: Find | None, folder: FilePath) -> None:
        self.ppi, self.profile, self.find, self.folder = ppi, profile, find, folder
        self._unread: set[tuple[FilePath, int]] = set()
        self._rasters: dict[tuple[str, int, int, object], Raster | None] = {}

    def plates(self, items: Sequence[Item], rect: Rect, per_point: float) -> dict[str, Image.Image]:
        """A plate for each ink by name, so many pixels a point: 255 for all of it."""
        return {ink: self._plate(items, ink, rect, per_point) for ink in (*PROCESS, *self.spots(items))}

    def spots(self, items: Iterable[Item]) -> dict[str, Colour]:
        """The spot inks of what is painted, placed pages among it, by name, each in full."""
        items = tuple(items)
        return {name: colour for page in self._pages(items) for name, colour in page.items()} | spots_of(items)

    def _pages(self, items: Iterable[Item]) -> Iterator[dict[str, Colour]]:
        """The spot inks of each placed page that is taken apart."""
        from lexigon.core.pdf.placed.plates import spots_in
        from lexigon.core.pdf.placed.spaces import Unreadable

        for item in items:
            if isinstance(item, Group):
                yield from self._pages(item.items)
            elif isinstance(item, Picture) and item.vector and self._page(item, PROCESS[0]):
                path = self.find(item.file) if self.find else None
                with suppress(Unreadable):
                    yield spots_in(path, item.look.page) if path else {}

    def _plate(self, items: Sequence[Item], ink: str, rect: Rect, per_point: float) -> Image.Image:
        greys = [grey_item for item in items if (grey_item := self._item(item, ink, _Within(Affine()))) is not None]
        return paint_on_white(greys, rect, per_point, self._plate_file).point(lambda v: 255 - v)

    def _plate_file(self, name: str) -> FilePath | None:
        path = self.folder / name
        return path if path.exists() else None

    def _grey(self, colour: Colour, ink: str, within: _Within) -> Colour | None:
        """A colour as the grey of a plate; None where it leaves that alone. Within what is painted as a whole nothing
        overprints what lies below that: it is mixed over nothing first."""
        amount = self._amount(colour, ink)
        overprints = colour.overprint or (not colour.spot and Colour("cmyk", colour.inks(self.profile)).black_only)
        if overprints and amount == 0 and not within.whole:
            return None
        return within.grey(amount)

    def _amount(self, colour: Colour, ink: str) -> float:
        if colour.spot == ALL:
            return colour.strength
        if colour.spot:
            return colour.strength if colour.spot == ink else 0.0
        return colour.inks(self.profile)[PROCESS.index(ink)] if ink in PROCESS else 0.0

    def _item(self, item: Item, ink: str, within: _Within) -> Item | None:
        if isinstance(item, Group):
            return self._group(item, ink, within)
        if isinstance(item, Path):
            fill: Any = item.fill
            if isinstance(fill, Gradient):
                stops = tuple((at, within.grey(self._amount(colour, ink))) for at, colour in fill.stops)
                fill = replace(fill, stops=stops)
            elif fill is not None:
                fill = self._grey(fill, ink, within)
            pen = item.pen
            if pen is not None:
                grey = self._grey(pen.colour, ink, within)
                pen = Pen(pen.weight, grey, pen.dash, pen.cap, pen.join) if grey is not None else None
            return replace(item, fill=fill, pen=pen) if fill is not None or pen is not None else None
        if isinstance(item, Glyphs):
            grey = self._grey(item.colour, ink, within)
            return replace(item, colour=grey) if grey is not None else None
        return self._picture(item, ink, within)

    def _group(self, group: Group, ink: str, within: _Within) -> Group:
        inner = _Within(
            group.transform.then(within.map) if group.transform else within.map,
            within.whole or group.whole,
            LIGHT_WITHIN.get(group.blend, within.light),
        )
        items = tuple(one for part in group.items if (one := self._item(part, ink, inner)) is not None)
        shadow = None
        if group.shadow is not None and (grey := self._grey(group.shadow.colour, ink, within)) is not None:
            shadow = replace(group.shadow, colour=grey)
        blend = "normal" if group.blend in PROCESS_ONLY and ink not in PROCESS else group.blend
        return replace(group, items=items, shadow=shadow, blend=blend)

    def _picture(self, picture: Picture, ink: str, within: _Within) -> Picture | None:
        """One plate of a picture, as a separate grey picture; of a page of a PDF as a drawing, where that is
        understood."""
        if picture.vector and (name := self._page(picture, ink)):
            return Picture(name, picture.map, "grey", vector=True)
        whole = picture.map.then(within.map)
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
        own_raster = self._rasters[key]
        if own_raster is None:
            return None
        number = list(self._rasters).index(key)
        low, high = (round(255 * end) for end in within.light)
        name = f"{number}-{ink}-{low}-{high}".encode().hex()
        target = self.folder / name
        if not target.exists():
            grey = _plate_of(own_raster, ink).point(lambda v: min(max(255 - v, low), high))
            if own_raster.alpha is not None:
                grey.putalpha(Image.frombytes("L", (own_raster.width, own_raster.height), own_raster.alpha))
            grey.save(target, "PNG", compress_level=0)
        return Picture(name, picture.map, "grey")

    def _page(self, picture: Picture, ink: str) -> str:
        """The name of the plate of a placed page; "" for one that is no drawing here."""
        from lexigon.core.pdf.placed.plates import write_plate  # what reads PDF files is loaded where there is one
        from lexigon.core.pdf.placed.spaces import Unreadable

        path = self.find(picture.file) if self.find else None
        if path is None or not picture.look.as_it_is or (path, picture.look.page) in self._unread:
            return ""
        name = sha256(f"{picture.file}-{picture.look.page}-{ink}".encode()).hexdigest()
        if not (self.folder / name).exists():
            try:
                write_plate(path, picture.look.page, ink, self.profile, self.folder / name)
            except Unreadable:
                self._unread.add((path, picture.look.page))
                return ""
        return name


def _plate_of(raster: Raster, ink: str) -> Image.Image:
    """Return how much of an ink a picture has, pixel by pixel."""
    size = (raster.width, raster.height)
    if raster.inks is not None:
        bands = []
        for value in range(256):
            amount = 0.0
            for colour, part in zip(raster.inks.colours, raster.inks.strengths((255 - value) / 255), strict=True):
                if colour.spot:
                    amount += colour.strength * part * (colour.spot == ink)
                elif ink in PROCESS:
                    amount += colour.cmyk[PROCESS.index(ink)] * part
            bands.append(round(255 * min(amount, 1.0)))
        return Image.frombytes("L", size, raster.pixels).point(bands)
    if ink not in PROCESS:
        return Image.new("L", size, 0)
    picture = Image.open(io.BytesIO(raster.jpeg)) if raster.jpeg else Image.frombytes(raster.mode, size, raster.pixels)
    if raster.mode == "L":
        return picture.convert("L").point(lambda v: 255 - v) if ink == "Black" else Image.new("L", size, 0)
    return picture.getchannel(PROCESS.index(ink))


def spots_of(items: Iterable[Item]) -> dict[str, Colour]:
    """The spot inks that items are painted in, by name, each in full."""
    return {one.spot: replace(one, strength=1.0) for one in colours_of(items) if one.spot and one.spot != ALL}
