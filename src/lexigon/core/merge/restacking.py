"""An entry whose text is longer or shorter than that of the design: its frames have the height of their text, what is
below them moves along, and what surrounds them is as much higher or lower.

The rule is that of a column of boxes, as in the block layout of CSS 2.1 (section 9.4.1): an object begins as far below
what is above it as in the design.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

from lexigon.core.document.model import Object, all_in, bounds_of, exchanged, mapped
from lexigon.core.geometry import Affine, Rect

SLACK = 0.01
"""Points within which heights and positions are the same."""


@dataclass(slots=True, frozen=True)
class Entry:
    """An object as a record sets it, restacked, and by how many points it is higher than the design."""

    object: Object
    growth: float


@dataclass(slots=True, frozen=True)
class _Change:
    """By how much an object moves down, and by how much it is higher."""

    shift: float = 0.0
    growth: float = 0.0

    @property
    def foot(self) -> float:
        return self.shift + self.growth


def restacked(design: Object, own: Object) -> Entry:
    """Return an object, or a group of them, as a record sets it, with what follows from the heights of the frames that
    always fit their text. ``own`` has the ids of its ``design``."""
    growths = _growths(design, own)
    if not growths:
        return Entry(own, 0.0)
    boxes = {one.id: box for one in all_in((design,)) if one.group is None and (box := bounds_of((one,)))}
    elastic = {one.id for one in all_in((design,)) if _is_elastic(one)}
    changes: dict[str, _Change] = {}
    # What ends higher comes first, and what is inside something else before it.
    for key, box in sorted(boxes.items(), key=lambda pair: (pair[1].foot, -pair[1].y, pair[0] not in growths)):
        earlier = [(boxes[other], change.foot) for other, change in changes.items() if _beside(boxes[other], box)]
        shift = max((foot for one, foot in earlier if one.foot <= box.y + SLACK), default=0.0)
        growth = growths.get(key, 0.0)
        if key in elastic:
            inner = [(one, foot) for one, foot in earlier if _encloses(box, one)]
            growth = _lowest(inner) - max(one.foot for one, _ in inner) - shift if inner else 0.0
        changes[key] = _Change(shift, growth)
    before = max(box.foot for box in boxes.values())
    after = _lowest((box, changes[key].foot) for key, box in boxes.items())
    pieces = {one.id: (_changed(one, changes[one.id], growths),) for one in all_in((own,)) if one.id in changes}
    (new,) = exchanged((own,), pieces)
    return Entry(new, after - before)


def _lowest(boxes: Iterable[tuple[Rect, float]]) -> float:
    """The lowest foot of boxes, each moved down by so much."""
    return max(box.foot + shift for box, shift in boxes)


def _growths(design: Object, own: Object) -> dict[str, float]:
    """By how much the frames that always fit their text are higher than in the design, by their ids."""
    before = {one.id: one.rect for one in all_in((design,)) if one.text is not None and one.text.fit == "height"}
    return {
        one.id: one.rect.height - rect.height
        for one in all_in((own,))
        if (rect := before.get(one.id)) and one.rect is not None and abs(one.rect.height - rect.height) > SLACK
    }


def _beside(one: Rect, other: Rect) -> bool:
    """Whether two boxes share some of the width of the page."""
    return min(one.right, other.right) - max(one.x, other.x) > SLACK


def _is_elastic(one: Object) -> bool:
    """Whether an object may be made higher: a shape or a line, upright and empty."""
    return one.content is None and one.place is not None and not one.place.rotation


def _encloses(outer: Rect, inner: Rect) -> bool:
    """Whether a box reaches from above another to below it."""
    return outer.y <= inner.y + SLACK and outer.foot >= inner.foot - SLACK


def _changed(one: Object, change: _Change, growths: Mapping[str, float]) -> Object:
    if change.growth and one.id not in growths and one.place is not None:
        rect = one.place.rect
        one = one.at(replace(rect, height=max(rect.height + change.growth, 0.0)))
    return mapped(one, Affine(1.0, 0.0, 0.0, 1.0, 0.0, change.shift)) if change.shift else one
