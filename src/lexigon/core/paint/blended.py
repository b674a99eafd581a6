"""Regions of a page that a screen shows differently from print: something is blended, translucent or fades out (a
press mixes inks, a screen light), or overprints.

Such a region is shown as pixels, in which the inks are mixed (``press/proofing.region_image``), over what is drawn up
to the last thing in it that is mixed. What looks nearly the same both ways is left to the screen.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from zlib import crc32

from lexigon.core.colour.colours import Colour, Components, light_lab, screen_rgb
from lexigon.core.colour.difference import delta_e
from lexigon.core.geometry import Rect
from lexigon.core.paint.coverage import colours_of, reach_of
from lexigon.core.paint.items import Group, Item, Picture, blends

MOST = 5.0
"""The difference (CIEDE2000) up to which a mixture of light stands for one of inks: a colour that most people still
take for the same when they see it by itself (common practice, no source)."""
PAPER = Colour("cmyk", (0.0, 0.0, 0.0, 0.0))


@dataclass(slots=True, frozen=True)
class Region:
    """A region of a page, and all that is painted in it up to the last thing that is mixed. ``key`` is another whenever
    it looks different."""

    rect: Rect
    items: tuple[Item, ...]
    key: str
    last: int
    """The index of the last of its items on the page."""


def regions(items: Sequence[Item], page: Rect) -> list[Region]:
    """The regions of a page that a screen would show differently from print, without overlaps."""
    if not any(may_differ(item) for item in items):
        return []
    boxes = [within(reach_of((item,)), page) for item in items]
    colours = [_colours((item,)) for item in items]
    places = [at for at, item in enumerate(items) if is_blended(item) or _differs(item, at, boxes, colours)]
    mixed = [box for at in places if (box := boxes[at])]
    return [_region(rect, items, boxes, places) for rect in together(mixed)]


def _region(rect: Rect, items: Sequence[Item], boxes: Sequence[Rect | None], places: Iterable[int]) -> Region:
    def meets(at: int) -> bool:
        box = boxes[at]
        return box is not None and _meet(box, rect)

    last = max(at for at in places if meets(at))
    near = tuple(items[at] for at in range(last + 1) if meets(at))
    return Region(rect, near, f"{crc32(repr((rect, near)).encode('utf-8', 'surrogatepass')):08x}", last)


def is_blended(item: Item) -> bool:
    """Return whether something in an item is blended, or set to overprint."""
    return blends((item,)) or any(colour.overprint for colour in colours_of((item,)))


def may_differ(item: Item) -> bool:
    """Return whether something in an item is mixed with what lies below it."""
    return is_blended(item) or any(True for _ in _veils((item,)))


@dataclass(slots=True, frozen=True)
class _Veil:
    """A translucent part: its opacities, and its colours, where None stands for a picture, which may have any."""

    parts: tuple[float, ...]
    colours: frozenset[Colour | None]


def _veils(items: Iterable[Item], opacity: float = 1.0) -> Iterator[_Veil]:
    for item in items:
        if not isinstance(item, Group):
            continue
        part = opacity * item.opacity
        if item.shadow is not None:
            most = part * item.shadow.opacity
            yield _Veil(_fading(most), frozenset({item.shadow.colour}))
        if item.opacity < 1.0 or item.fade is not None:
            yield _Veil(_fading(part) if item.fade is not None else (part,), _colours((item,)))
        yield from _veils(item.items, part)


def _fading(most: float) -> tuple[float, ...]:
    return (most / 4, most / 2, most * 3 / 4, most)


def _colours(items: Iterable[Item]) -> frozenset[Colour | None]:
    return frozenset({*colours_of(items), *([None] if _has_picture(items) else [])})


def _has_picture(items: Iterable[Item]) -> bool:
    return any(isinstance(item, Picture) or (isinstance(item, Group) and _has_picture(item.items)) for item in items)


def _differs(item: Item, at: int, boxes: Sequence[Rect | None], colours: Sequence[frozenset[Colour | None]]) -> bool:
    """Return whether a translucent part of an item prints visibly different from how a screen mixes it with paper or
    objects below."""
    veils = list(_veils((item,)))
    box = boxes[at]
    if not veils or box is None:
        return False
    own = {PAPER, *colours[at]}
    if any(_look_different(veil, own) for veil in veils):
        return True
    others = set().union(*colours[:at]) - own
    different = {one for one in others if any(_look_different(veil, (one,)) for veil in veils)}
    return bool(different) and any(
        under is not None and not different.isdisjoint(some) and _meet(under, box)
        for under, some in zip(boxes[:at], colours, strict=False)
    )


def _look_different(veil: _Veil, below: Iterable[Colour | None]) -> bool:
    parts = [round(part, 2) for part in veil.parts if 0.02 < part < 0.98]
    return any(
        one is None or other is None or difference(one.cmyk, other.cmyk, part) > MOST
        for other in below
        for one in veil.colours
        for part in parts
        if one != other
    )


@lru_cache(16_384)
def difference(above: Components, below: Components, part: float) -> float:
    """Return how different ``part`` of one colour over another looks when inks are mixed and when light is
    (CIEDE2000)."""
    printed = screen_rgb(tuple(round(b + (a - b) * part, 4) for a, b in zip(above, below, strict=True)))
    light = tuple(b + (a - b) * part for a, b in zip(screen_rgb(above), screen_rgb(below), strict=True))
    return delta_e(light_lab(printed), light_lab(light))


def within(rect: Rect | None, page: Rect) -> Rect | None:
    """The part of a box that lies on a page, a point wider."""
    if rect is None:
        return None
    x0, y0 = max(rect.x - 1, page.x), max(rect.y - 1, page.y)
    x1, y1 = min(rect.right + 1, page.right), min(rect.foot + 1, page.foot)
    return Rect(x0, y0, x1 - x0, y1 - y0) if x1 > x0 and y1 > y0 else None


def together(rects: Iterable[Rect]) -> list[Rect]:
    """Boxes that overlap become one, until none do."""
    merged: list[Rect] = []
    for rect in rects:
        while near := next((one for one in merged if _meet(one, rect)), None):
            merged.remove(near)
            x, y = min(near.x, rect.x), min(near.y, rect.y)
            rect = Rect(x, y, max(near.right, rect.right) - x, max(near.foot, rect.foot) - y)
        merged.append(rect)
    return merged


def _meet(one: Rect, other: Rect) -> bool:
    return one.x < other.right and one.right > other.x and one.y < other.foot and one.foot > other.y
