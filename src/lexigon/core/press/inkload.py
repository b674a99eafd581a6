"""The highest total ink of a page as it is blended and printed: plates added, pixel by pixel.

The ink of overlapping swatches follows from their values without drawing. Pictures, blended areas and overprinting
objects are drawn.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path as FilePath
from tempfile import TemporaryDirectory

import numpy as np

from lexigon.core.colour.profiles import Profile
from lexigon.core.flow.composition import Composition
from lexigon.core.geometry import Rect
from lexigon.core.paint.coverage import PROCESS, Mark, colours_of, coverage
from lexigon.core.paint.display import Display
from lexigon.core.paint.items import Group, Item, Picture
from lexigon.core.press.flattening import see_through
from lexigon.core.press.plates import Find, Plater

FINE = 1.0
"""Pixels a point: a place a third of a millimetre wide is seen."""
MOST_PIXELS = 4_000_000
SMALLEST = 4
"""Pixels together that make a place: fewer are edges, which the drawing mixes with what lies beside them."""


@dataclass(slots=True, frozen=True)
class InkLoad:
    """``most``: all inks together where there is most of them, 1 for one full ink; ``over``: what part of the page has
    more than was asked about."""

    most: float
    over: float


def ink_load(items: Sequence[Item], page: Rect, profile: Profile, find: Find | None, limit: float) -> InkLoad:
    """Return what is painted within a box, against a limit."""
    marks = [mark for mark in coverage(items) if _meet(mark.bounds, page)]
    if not any(_needs_drawing(item, find) for item in items) and not _overprinted(marks):
        most = max((mark.total for mark in marks), default=0.0)
        area = page.width * page.height
        return InkLoad(
            most, sum(_area(mark.bounds, page) for mark in marks if mark.total > limit) / area if area else 0.0
        )
    per_point = min(FINE, (MOST_PIXELS / max(page.width * page.height, 1.0)) ** 0.5)
    with TemporaryDirectory() as folder:
        plates = Plater(round(72 * per_point), profile, find, FilePath(folder)).plates(items, page, per_point)
    total = np.sum([np.asarray(plate, np.float64) / 255 for plate in plates.values()], axis=0)
    ranked = np.sort(total, axis=None)
    return InkLoad(float(ranked[-min(SMALLEST, len(ranked))]), float((total > limit + 0.01).mean()))


def job_ink(composition: Composition, pages: Sequence[int], profile: Profile) -> dict[str, object]:
    """Return the place with the most ink on some pages, as a fraction and its page; the limit of the paper and the
    pages above it; and whether inks are blended or overprint on any page, so that a reader of the file shows them
    differently from print."""
    display, most, where, over, simulated = Display(composition), 0.0, 0, [], False
    for index in pages:
        width, height = composition.job.page_size(index)
        items = display.page(index).items(printed=True)
        simulated = simulated or inks_meet(items, composition.find)
        load = ink_load(items, Rect(0.0, 0.0, width, height), profile, composition.find, profile.most_ink)
        if load.most > most:
            most, where = load.most, index
        if load.most > profile.most_ink + 0.005:
            over.append(index)
    return {"most": round(most, 4), "page": where, "limit": profile.most_ink, "over": over, "simulated": simulated}


def inks_meet(items: Sequence[Item], find: Find | None) -> bool:
    """Return whether an item is transparent, blended or overprinting, so that inks are mixed on the page."""
    if any(_needs_drawing(item, find) for item in items if not _is_plain(item)) or _overprinted(coverage(items)):
        return True
    return any(colour.overprint for colour in colours_of(items))


def _is_plain(item: Item) -> bool:
    """Return whether an item is an opaque raster picture."""
    return isinstance(item, Picture) and not item.vector


def _needs_drawing(item: Item, find: Find | None) -> bool:
    if isinstance(item, Group) and not see_through(item, find):
        return any(_needs_drawing(inner, find) for inner in item.items)
    return isinstance(item, Picture) or see_through(item, find)


def _overprinted(marks: Sequence[Mark]) -> bool:
    """Return whether black alone, which overprints, may lie over other inks."""
    black = [mark.bounds for mark in marks if set(mark.inks) == {PROCESS[3]}]
    others = [mark.bounds for mark in marks if set(mark.inks) - {PROCESS[3]}]
    return any(_meet(one, other) for one in others for other in black)


def _meet(one: Rect, other: Rect) -> bool:
    return one.x < other.right and one.right > other.x and one.y < other.foot and one.foot > other.y


def _area(one: Rect, page: Rect) -> float:
    width = min(one.right, page.right) - max(one.x, page.x)
    height = min(one.foot, page.foot) - max(one.y, page.y)
    return max(width, 0.0) * max(height, 0.0)
