"""Flattening of transparency, for files that may have none (PDF/X-1a): blended areas become pixels in the inks of the
press, as the press would blend them, and everything above the last of them stays a drawing.

How the plates of blended areas are computed: ``plates.py``.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from math import ceil
from pathlib import Path as FilePath
from tempfile import TemporaryDirectory

from lexigon.core.colour.profiles import Profile
from lexigon.core.geometry import Rect
from lexigon.core.paint.blended import together, within
from lexigon.core.paint.coverage import reach_of
from lexigon.core.paint.items import Glyphs, Group, Item, Picture
from lexigon.core.pdf.patches import Patch
from lexigon.core.picture.files import PictureError, has_alpha, opened
from lexigon.core.press.plates import Find, Plater

TYPE_PPI = 600
"""Where words are among what becomes pixels; elsewhere the recipe's resolution is enough."""
MOST = 14_000
"""Pixels on the longer side of a region."""
BAND = 40_000_000
"""Pixels that are drawn at once: some 600 MB while they are put together."""


@dataclass(slots=True, frozen=True)
class FlatPage:
    """A page without transparency: what is drawn, pixels over that, and what is drawn over these."""

    below: tuple[Item, ...]
    patches: Iterable[Patch]
    """To be taken once: each is made when it is asked for, so that one at a time is held."""
    above: tuple[Item, ...]


def flattened(items: Sequence[Item], page: Rect, ppi: int, profile: Profile, find: Find | None) -> FlatPage:
    """Return what a page paints within a box, such as its bleed, with nothing in it that is mixed with what lies below
    it."""
    mixed = [at for at, item in enumerate(items) if see_through(item, find, profile)]
    if not mixed:
        return FlatPage((), (), tuple(items))
    under = tuple(items[: mixed[-1] + 1])
    regions = together([area for at in mixed if (area := within(reach_of((items[at],)), page))])
    below = tuple(item for at, item in enumerate(under) if at not in set(mixed))
    return FlatPage(below, _patches(under, regions, ppi, profile, find), tuple(items[mixed[-1] + 1 :]))


def _patches(
    items: Sequence[Item], regions: Sequence[Rect], ppi: int, profile: Profile, find: Find | None
) -> Iterator[Patch]:
    """Return what is painted in some regions as pixels. A large region is divided into bands: of all its pixels at once
    a poster would take several gigabytes."""
    with TemporaryDirectory() as folder:
        plater = Plater(ppi, profile, find, FilePath(folder))
        for region in regions:
            per_point = _fineness(plater, items, region)
            for band in _bands(region, per_point):
                near = tuple(item for item in items if within(reach_of((item,)), band))
                yield Patch(band, plater.plates(near, band, per_point), tuple(plater.spots(near).values()))


def see_through(item: Item, find: Find | None, inks: Profile | None = None) -> bool:
    """Return whether an item has transparency. With ``inks``, placed pages that cannot be drawn in those inks alone
    count as well."""
    if isinstance(item, Group):
        return item.mixed or item.shadow is not None or any(see_through(inner, find, inks) for inner in item.items)
    if not isinstance(item, Picture):
        return False
    path = find(item.file) if find else None
    if item.look.cut is not None:
        return True
    if item.vector:
        return path is None or not stays_vector(item, path, inks)
    try:
        return path is not None and has_alpha(opened(path))
    except PictureError:
        return False


def stays_vector(picture: Picture, path: FilePath, inks: Profile | None) -> bool:
    """Return whether a page of a PDF is drawn without transparency as it is, or with its colours in ``inks``."""
    from lexigon.core.picture.placedinks import is_opaque_ink  # what reads PDF files is loaded where there is one

    if not picture.look.as_it_is:
        return False
    if inks is None:
        return is_opaque_ink(path, picture.look.page)
    from lexigon.core.pdf.placed.inked_pages import inked_page

    return inked_page(path, picture.look.page, inks) is not None


def _fineness(plater: Plater, items: Sequence[Item], region: Rect) -> float:
    """Pixels a point of a region: as fine as words need, where there are some."""
    near = (item for item in items if within(reach_of((item,)), region))
    ppi = max(plater.ppi, TYPE_PPI) if any(_may_have_words(leaf) for leaf in _leaves(near)) else plater.ppi
    return min(ppi / 72, MOST / max(region.width, region.height))


def _bands(region: Rect, per_point: float) -> Iterator[Rect]:
    """A region in bands of whole pixels: one that ended within a pixel would be stretched, and not match what is drawn
    round it. Each extends a pixel into the next, so that no gap shows between them."""
    width, height = ceil(region.width * per_point), ceil(region.height * per_point)
    high = max(BAND // width, 1)
    for top in range(0, height, high):
        tall = min(high + 1, height - top)
        yield Rect(region.x, region.y + top / per_point, width / per_point, tall / per_point)


def _may_have_words(leaf: Item) -> bool:
    return isinstance(leaf, Glyphs) or (isinstance(leaf, Picture) and leaf.vector)


def _leaves(items: Iterable[Item]) -> Iterator[Item]:
    for item in items:
        if isinstance(item, Group):
            yield from _leaves(item.items)
        else:
            yield item
