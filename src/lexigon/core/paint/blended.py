"""Where a screen would show a page otherwise than it prints: something is blended (the press mixes inks, a screen
light), or overprints.

Such a region is shown as pixels, in which the inks are mixed (``press/proofing.region_image``), over what is drawn up
to the last thing on the page that is blended. What is only half seen is left to the screen: it differs less.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from zlib import crc32

from lexigon.core.geometry import Rect
from lexigon.core.paint.coverage import colours_of, reach_of
from lexigon.core.paint.items import Item, blends


@dataclass(slots=True, frozen=True)
class Region:
    """A region of a page, and all that is painted in it up to the last thing that is blended. ``key`` is another
    whenever it looks different."""

    rect: Rect
    items: tuple[Item, ...]
    key: str


def is_blended(item: Item) -> bool:
    """Whether something in an item is blended, or set to overprint."""
    return blends((item,)) or any(colour.overprint for colour in colours_of((item,)))


def regions(items: Sequence[Item], page: Rect) -> list[Region]:
    """The regions of a page in which something is blended or overprints, none of which overlap."""
    places = [at for at, item in enumerate(items) if is_blended(item)]
    if not places:
        return []
    under = items[: places[-1] + 1]
    boxes = [box for at in places if (box := within(reach_of((items[at],)), page))]
    return [_region(box, under) for box in together(boxes)]


def _region(rect: Rect, items: Sequence[Item]) -> Region:
    near = tuple(item for item in items if within(reach_of((item,)), rect))
    return Region(rect, near, f"{crc32(repr((rect, near)).encode('utf-8', 'surrogatepass')):08x}")


def within(rect: Rect | None, page: Rect) -> Rect | None:
    """The part of a box that lies on a page, a point wider."""
    if rect is None:
        return None
    x0, y0 = max(rect.x - 1, page.x), max(rect.y - 1, page.y)
    x1, y1 = min(rect.right + 1, page.right), min(rect.foot + 1, page.foot)
    return Rect(x0, y0, x1 - x0, y1 - y0) if x1 > x0 and y1 > y0 else None


def together(rects: Iterable[Rect]) -> list[Rect]:
    """Boxes that overlap become one, until none do."""
    made: list[Rect] = []
    for rect in rects:
        while near := next((one for one in made if _meet(one, rect)), None):
            made.remove(near)
            x, y = min(near.x, rect.x), min(near.y, rect.y)
            rect = Rect(x, y, max(near.right, rect.right) - x, max(near.foot, rect.foot) - y)
        made.append(rect)
    return made


def _meet(one: Rect, other: Rect) -> bool:
    return one.x < other.right and one.right > other.x and one.y < other.foot and one.foot > other.y
