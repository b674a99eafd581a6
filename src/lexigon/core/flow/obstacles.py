"""Obstacles for text: boxes and outlines of frames with text wrap, grown by their offsets."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache
from math import inf

from lexigon.core.document.model import Insets, Object, Wrap
from lexigon.core.document.outlines import outline_polygon
from lexigon.core.geometry import (
    Interval,
    Polygon,
    Rect,
    polygon_of,
    touched,
    turned_about,
    within,
    without,
)

EVERYWHERE: Interval = (-inf, inf)


def within_insets(rect: Rect, insets: Insets) -> Rect:
    """The box within a frame's insets (head right foot left), never smaller than a point."""
    inner = rect.inset(*insets)
    return Rect(inner.x, inner.y, max(inner.width, 1.0), max(inner.height, 1.0))


@lru_cache(512)
def grown(polygon: Polygon, by: float) -> Polygon:
    """The polygon moved outward by a distance (inward if negative), corners rounded; its largest part if it falls
    apart."""
    if not by:
        return polygon
    from shapely import Polygon as Shape  # a second to import, and few jobs need it

    shape = Shape(polygon).buffer(0).buffer(by, quad_segs=6)
    parts = [part for part in getattr(shape, "geoms", [shape]) if not part.is_empty]
    if not parts:
        return polygon
    return tuple(max(parts, key=lambda part: part.area).exterior.coords)[:-1]


@lru_cache(256)
def _bands_of(ground: Polygon) -> dict[Interval, list[Interval]]:
    """One memory for every obstacle of the same ground."""
    return {}


@dataclass(slots=True, frozen=True, eq=False)
class Obstacle:
    """The ground a frame keeps for itself, on which sides text may pass it, and how high it reaches."""

    ground: Polygon
    sides: str
    inverted: bool
    head: float
    foot: float
    bands: dict[Interval, list[Interval]]
    """What was found of its ground between two heights; lines of a grid ask the same again."""

    @classmethod
    def of(cls, frame: Object, rect: Rect, wrap: Wrap, contour: Polygon | None = None) -> Obstacle:
        """The obstacle of a frame in a box; a ``contour`` is that of its picture, before the frame is rotated."""
        if contour is not None:
            ground = grown(contour, wrap.offsets[0])
        elif wrap.outline or wrap.inverted:
            ground = grown(outline_polygon(frame.outline, rect), -wrap.offsets[0] if wrap.inverted else wrap.offsets[0])
        else:
            head, right, foot, left = wrap.offsets
            ground = polygon_of(rect.inset(-head, -right, -foot, -left))
        if frame.place is not None and (map_ := frame.place.map):
            ground = tuple(map_.apply(x, y) for x, y in ground)
        return cls(ground, wrap.sides, wrap.inverted, *_reach(ground), _bands_of(ground))

    def in_frame(self, frame: Object, rect: Rect) -> Obstacle:
        """Return it in the coordinates of a frame whose contents are rotated."""
        map_ = frame.place.map if frame.place is not None else None
        if not frame.turn and map_ is None:
            return self
        turned = turned_about(rect, frame.turn)
        back = (turned.then(map_) if map_ else turned).inverse()
        assert back is not None
        ground = tuple(back.apply(x, y) for x, y in self.ground)
        head, foot = _reach(ground)
        return replace(self, ground=ground, head=head, foot=foot, bands=_bands_of(ground))

    def meets(self, rect: Rect) -> bool:
        """Return whether it can be in the way of text in a box."""
        if self.inverted:
            return True
        xs = [x for x, _ in self.ground]
        return self.head < rect.foot and self.foot > rect.y and min(xs) < rect.right and max(xs) > rect.x

    def blocked_intervals(self, y0: float, y1: float, edges: Interval) -> list[Interval]:
        """The stretches between a column's edges that a line between two heights must leave free."""
        if self.inverted:
            return without([EVERYWHERE], within(self.ground, y0, y1))
        if self.foot <= y0 or self.head >= y1:
            return []
        band = self.bands.get((y0, y1))
        if band is None:
            band = self.bands[y0, y1] = touched(self.ground, y0, y1)
        free = [(a, b) for a, b in band if a < edges[1] and b > edges[0]]
        if not free:
            return []
        left, right = free[0][0], free[-1][1]
        sides = self.sides
        if sides == "largest":
            sides = "left" if left - edges[0] >= edges[1] - right else "right"
        if sides == "jump":
            return [EVERYWHERE]
        return [(left, inf)] if sides == "left" else [(-inf, right)] if sides == "right" else free


def _reach(ground: Polygon) -> Interval:
    ys = [y for _, y in ground]
    return min(ys), max(ys)
