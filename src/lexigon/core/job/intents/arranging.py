"""Intents that arrange objects: aligned, spread evenly, made alike in size, moved above and below each other, fitted to the page.

What is chosen in a group stands for the whole group. Boxes are upright, round what stands there as it is turned.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from lexigon.core.geometry import Affine, Rect
from lexigon.core.job.edits import INLAYS, EditError, Primitive
from lexigon.core.job.holders import Holder, holder
from lexigon.core.job.intents.chosen import Chosen, by_holder, outermost
from lexigon.core.job.intents.frames import check_free, check_place
from lexigon.core.job.intents.places import Area, area_for, to_fill
from lexigon.core.job.limits import MOST_ENTRIES, Length, Many, Part, Within
from lexigon.core.job.model import Job, Object, bounds_of, exchanged, found_in, mapped

Some = Annotated[tuple[Chosen, ...], Many(MOST_ENTRIES, 1)]
To = Literal["selection", "first", "margins", "page", "bleed", "panel", "column", "spread"]
"""What is aligned to: the box round all that is chosen, what was chosen first, or an area of the page."""


@dataclass(slots=True, frozen=True)
class Held:
    """Something chosen, where it stands, and its box there."""

    place: Holder
    object: Object
    box: Rect


def held(job: Job, objects: Sequence[Chosen], *, free: bool = True) -> list[Held]:
    """Return the selected objects, each once, in the order of selection. Raises EditError for what stands on a master, fills its margins or,
    unless it may be left as it is, is locked."""
    found: list[Held] = []
    for chosen in objects:
        if chosen.page == INLAYS:
            raise EditError("Part of the selection is anchored in a story and moves with its text.")
        place = holder(job, chosen.page)
        one = outermost(place.objects, chosen.id)
        if chosen.inner:
            one = found_in((one,), chosen.id) or one
        if any(other.object.id == one.id for other in found):
            continue
        if free:
            check_free(job, place.objects, one.id)
        box = bounds_of((one,))
        if box is None:
            raise EditError("A main text frame that fills the margins follows the margins. It cannot be moved.")
        found.append(Held(place, one, box))
    return found


def moved_by(changes: Sequence[tuple[Held, Affine]]) -> list[Primitive]:
    """The edits that put each of some things where a map puts it."""
    return exchange((one, mapped(one.object, map_)) for one, map_ in changes if map_ != Affine())


def exchange(changes: Iterable[tuple[Held, Object]]) -> list[Primitive]:
    """The edits that replace some objects by others, each where it is. Raises EditError where one would lie off every page."""
    edits: list[Primitive] = []
    by_place: dict[str, tuple[Holder, dict[str, tuple[Object, ...]]]] = {}
    for one, new in changes:
        if (box := bounds_of((new,))) is not None:
            check_place(Rect(box.x, box.y, max(box.width, 4.0), max(box.height, 4.0)))
        by_place.setdefault(one.place.key, (one.place, {}))[1][one.object.id] = (new,)
    for place, new_ in by_place.values():
        edits += place.with_objects(exchanged(place.objects, new_))
    return edits


@dataclass(slots=True, frozen=True)
class MoveObjects:
    """Everything chosen moved by as much."""

    objects: Some
    dx: Length = 0.0
    dy: Length = 0.0
    do: Literal["move-objects"] = "move-objects"
    label = "Move object"

    def expand(self, job: Job) -> list[Primitive]:
        return moved_by([(one, Affine.move(self.dx, self.dy)) for one in held(job, self.objects)])


@dataclass(slots=True, frozen=True)
class AlignObjects:
    """One edge, or the middle, of all that is chosen on a line."""

    objects: Some
    edge: Literal["left", "centre", "right", "head", "middle", "foot"]
    to: To = "selection"
    do: Literal["align-objects"] = "align-objects"
    label = "Align object"

    def expand(self, job: Job) -> list[Primitive]:
        chosen = held(job, self.objects)
        if len(chosen) < 2 and self.to in ("selection", "first"):
            raise EditError("Select at least two objects to align, or align to the page.")
        changes = []
        for one in chosen:
            if self.to == "selection":
                target = around([other.box for other in chosen if other.place.key == one.place.key])
            elif self.to == "first":
                target = chosen[0].box
            else:
                target = area_for(one.place, self.to, one.box)
            changes.append((one, self._moved(one.box, target)))
        return moved_by(changes)

    def _moved(self, box: Rect, to: Rect) -> Affine:
        match self.edge:
            case "left":
                return Affine.move(to.x - box.x, 0.0)
            case "centre":
                return Affine.move(to.x + to.width / 2 - box.x - box.width / 2, 0.0)
            case "right":
                return Affine.move(to.right - box.right, 0.0)
            case "head":
                return Affine.move(0.0, to.y - box.y)
            case "middle":
                return Affine.move(0.0, to.y + to.height / 2 - box.y - box.height / 2)
            case "foot":
                return Affine.move(0.0, to.foot - box.foot)


def around(boxes: Sequence[Rect]) -> Rect:
    """The box round some boxes."""
    x, y = min(box.x for box in boxes), min(box.y for box in boxes)
    return Rect(x, y, max(box.right for box in boxes) - x, max(box.foot for box in boxes) - y)


@dataclass(slots=True, frozen=True)
class SpreadObjects:
    """Equal gaps between all that is chosen on a page, in the order in which it stands: of a size, or so that the outermost keep their
    places, or fill an area of the page."""

    objects: Some
    axis: Literal["across", "down"]
    to: To = "selection"
    gap: Length | None = None
    do: Literal["spread-objects"] = "spread-objects"
    label = "Distribute object"

    def expand(self, job: Job) -> list[Primitive]:
        chosen = held(job, self.objects)
        if len({one.place.key for one in chosen}) > 1:
            raise EditError("Select objects of one page to distribute them.")
        least = 2 if self.gap is not None or self.to != "selection" else 3
        if len(chosen) < least:
            raise EditError(f"Select at least {'two' if least == 2 else 'three'} objects to distribute.")
        start: Callable[[Rect], float] = (lambda box: box.x) if self.axis == "across" else (lambda box: box.y)
        size: Callable[[Rect], float] = (lambda box: box.width) if self.axis == "across" else (lambda box: box.height)
        chosen.sort(key=lambda one: start(one.box) + size(one.box) / 2)
        around_ = around([one.box for one in chosen])
        room = around_
        if self.to != "selection" and self.to != "first":
            room = area_for(chosen[0].place, self.to, around_)
        gap = self.gap
        if gap is None:
            gap = (size(room) - sum(size(one.box) for one in chosen)) / (len(chosen) - 1)
        at, changes = start(room if self.gap is None else around_), []
        for one in chosen:
            by = at - start(one.box)
            changes.append((one, Affine.move(by, 0.0) if self.axis == "across" else Affine.move(0.0, by)))
            at += size(one.box) + gap
        return moved_by(changes)


@dataclass(slots=True, frozen=True)
class MatchSizes:
    """Everything chosen as wide, as high, or both, as what was chosen first; its left upper corner stays."""

    objects: Some
    width: bool = True
    height: bool = True
    do: Literal["match-sizes"] = "match-sizes"
    label = "Match sizes"

    def expand(self, job: Job) -> list[Primitive]:
        first, *others = held(job, self.objects)
        if not others or not (self.width or self.height):
            raise EditError("Select at least two objects to match their sizes.")
        changes = []
        for one in others:
            across = first.box.width / one.box.width if self.width else 1.0
            down = first.box.height / one.box.height if self.height else 1.0
            changes.append((one, Affine(across, 0.0, 0.0, down, one.box.x * (1 - across), one.box.y * (1 - down))))
        return moved_by(changes)


@dataclass(slots=True, frozen=True)
class Resized:
    """What becomes of a measure: so many times what it was, and so many points more. ``0`` times sets it."""

    times: Annotated[float, Within(0, 1000, "A size can be changed to at most 1,000 times the present one.")] = 0.0
    plus: Length = 0.0

    def of(self, was: float) -> float:
        return was * self.times + self.plus


@dataclass(slots=True, frozen=True)
class SizeObjects:
    """Everything chosen made wider and higher, each by the same rule, as it stands turned; a group by its box. A point of its box
    unturned stays: ``about``, in parts of its width and height."""

    objects: Some
    width: Resized = Resized(1.0)
    height: Resized = Resized(1.0)
    about: tuple[Part, Part] = (0.0, 0.0)
    do: Literal["size-objects"] = "size-objects"
    label = "Resize object"

    def expand(self, job: Job) -> list[Primitive]:
        return exchange((one, self._sized(one)) for one in held(job, self.objects))

    def _sized(self, one: Held) -> Object:
        rect = one.object.rect or one.box
        u, v = self.about
        width, height = self.width.of(rect.width), self.height.of(rect.height)
        if (width, height) == (rect.width, rect.height):
            return one.object
        if width <= 0 or height <= 0:
            raise EditError("One of the objects would become too small.")
        if one.object.rect is not None and one.object.group is None:
            x, y = rect.x - u * (width - rect.width), rect.y - v * (height - rect.height)
            return one.object.at(check_place(Rect(x, y, width, height)))
        box = one.box
        across, down = self.width.of(box.width) / box.width, self.height.of(box.height) / box.height
        x, y = box.x + u * box.width, box.y + v * box.height
        return mapped(one.object, Affine(across, 0.0, 0.0, down, x * (1 - across), y * (1 - down)))


@dataclass(slots=True, frozen=True)
class FillArea:
    """Everything chosen as large as an area of what it stands on; a panel and the spread with their bleed."""

    objects: Some
    to: Area = "bleed"
    do: Literal["fill-area"] = "fill-area"
    label = "Enlarge object to fill area"

    def expand(self, job: Job) -> list[Primitive]:
        changes = []
        for one in held(job, self.objects):
            to = to_fill(one.place, self.to, one.box)
            across, down = to.width / max(one.box.width, 0.01), to.height / max(one.box.height, 0.01)
            changes.append((one, Affine(across, 0.0, 0.0, down, to.x - one.box.x * across, to.y - one.box.y * down)))
        return moved_by(changes)


@dataclass(slots=True, frozen=True)
class OrderObjects:
    """Everything chosen above or below what else stands on its layer: all of it, or the next."""

    objects: Some
    to: Literal["front", "back", "forward", "backward"]
    do: Literal["order-objects"] = "order-objects"

    @property
    def label(self) -> str:
        return {
            "front": "Bring object to front",
            "back": "Send object to back",
            "forward": "Bring object forward",
            "backward": "Send object backward",
        }[self.to]

    def expand(self, job: Job) -> list[Primitive]:
        edits: list[Primitive] = []
        for page, ids in by_holder(self.objects):
            if page == INLAYS:
                raise EditError("Part of the selection is anchored in a story and moves with its text.")
            place = holder(job, page)
            taken = {outermost(place.objects, key).id for key in ids}
            for key in taken:
                check_free(job, place.objects, key)
            edits += place.with_objects(self._ordered(place.objects, taken))
        return edits

    def _ordered(self, objects: tuple[Object, ...], taken: set[str]) -> tuple[Object, ...]:
        if self.to in ("front", "back"):
            chosen = tuple(one for one in objects if one.id in taken)
            others = tuple(one for one in objects if one.id not in taken)
            return (*others, *chosen) if self.to == "front" else (*chosen, *others)
        # One step is past the next object of the same layer: others are not seen to change places with it.
        order = list(objects) if self.to == "backward" else list(objects)[::-1]
        for at, one in enumerate(order):
            if one.id not in taken:
                continue
            before = next((n for n in range(at - 1, -1, -1) if order[n].layer == one.layer), None)
            if before is not None and order[before].id not in taken:
                order.insert(before, order.pop(at))
        return tuple(order if self.to == "backward" else order[::-1])
