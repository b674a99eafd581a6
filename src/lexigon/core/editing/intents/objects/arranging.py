"""Intents that arrange objects: align, distribute, match sizes, move above and below each other, fit to the page.

An object selected within a group stands for the whole group. Boxes are upright, round the rotated objects.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from lexigon.core.document.holder_keys import INLAYS
from lexigon.core.document.limits import MOST_ENTRIES, Length, Many, Part, Within
from lexigon.core.document.model import Job, Object, bounds_of, exchanged, find_object, mapped
from lexigon.core.editing.edits import EditError, Primitive
from lexigon.core.editing.holders import Holder, holder
from lexigon.core.editing.intents.objects.areas import Area, area_for, to_fill
from lexigon.core.editing.intents.objects.frames import check_free, check_place
from lexigon.core.editing.intents.objects.selection import Chosen, by_holder, outermost
from lexigon.core.geometry import Affine, Rect

Some = Annotated[tuple[Chosen, ...], Many(MOST_ENTRIES, 1)]
To = Literal["selection", "first", "margins", "page", "bleed", "panel", "column", "spread"]
"""The reference for aligning: the box round the selection, the object selected first, or an area of the page."""


@dataclass(slots=True, frozen=True)
class SelectedObject:
    """A selected object with its position, and its box there."""

    place: Holder
    object: Object
    box: Rect


def selected_objects(job: Job, objects: Sequence[Chosen], *, free: bool = True) -> list[SelectedObject]:
    """Return the selected objects, each once, in the order of selection. Raises EditError for objects of a master page,
    main text frames and, unless they may be skipped, locked objects."""
    selected: list[SelectedObject] = []
    for chosen in objects:
        if chosen.page == INLAYS:
            raise EditError("Part of the selection is anchored in a story and moves with its text.")
        place = holder(job, chosen.page)
        one = outermost(place.objects, chosen.id)
        if chosen.inner:
            one = find_object((one,), chosen.id) or one
        if any(other.object.id == one.id for other in selected):
            continue
        if free:
            check_free(job, place.objects, one.id)
        box = bounds_of((one,))
        if box is None:
            raise EditError("A main text frame that fills the margins follows the margins. It cannot be moved.")
        selected.append(SelectedObject(place, one, box))
    return selected


def moved_by(changes: Sequence[tuple[SelectedObject, Affine]]) -> list[Primitive]:
    """The edits that put each of some things where a map puts it."""
    return exchange((one, mapped(one.object, map_)) for one, map_ in changes if map_ != Affine())


def exchange(changes: Iterable[tuple[SelectedObject, Object]]) -> list[Primitive]:
    """The edits that replace some objects by others, each where it is. Raises EditError where one would lie off every
    page."""
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
    """Move the selection."""

    objects: Some
    dx: Length = 0.0
    dy: Length = 0.0
    do: Literal["move-objects"] = "move-objects"
    label = "Move object"

    def expand(self, job: Job) -> list[Primitive]:
        return moved_by([(one, Affine.move(self.dx, self.dy)) for one in selected_objects(job, self.objects)])


@dataclass(slots=True, frozen=True)
class AlignObjects:
    """Align one edge, or the middle, of the selected objects."""

    objects: Some
    edge: Literal["left", "centre", "right", "head", "middle", "foot"]
    to: To = "selection"
    do: Literal["align-objects"] = "align-objects"
    label = "Align object"

    def expand(self, job: Job) -> list[Primitive]:
        chosen = selected_objects(job, self.objects)
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
    """Distribute the selected objects of a page with equal gaps, in their order there: of a given size, or so that the
    outermost keep their positions, or so that they fill an area of the page."""

    objects: Some
    axis: Literal["across", "down"]
    to: To = "selection"
    gap: Length | None = None
    do: Literal["spread-objects"] = "spread-objects"
    label = "Distribute object"

    def expand(self, job: Job) -> list[Primitive]:
        chosen = selected_objects(job, self.objects)
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
    """Make the selected objects as wide, as high, or both, as the object selected first; their top left corners
    stay."""

    objects: Some
    width: bool = True
    height: bool = True
    do: Literal["match-sizes"] = "match-sizes"
    label = "Match sizes"

    def expand(self, job: Job) -> list[Primitive]:
        first, *others = selected_objects(job, self.objects)
        if not others or not (self.width or self.height):
            raise EditError("Select at least two objects to match their sizes.")
        changes = []
        for one in others:
            across = first.box.width / one.box.width if self.width else 1.0
            down = first.box.height / one.box.height if self.height else 1.0
            changes.append((one, Affine(across, 0.0, 0.0, down, one.box.x * (1 - across), one.box.y * (1 - down))))
        return moved_by(changes)


@dataclass(slots=True, frozen=True)
class SizeChange:
    """The change of a measure: a factor, and points to add. A factor of ``0`` sets it."""

    times: Annotated[float, Within(0, 1000, "A size can be changed to at most 1,000 times the present one.")] = 0.0
    plus: Length = 0.0

    def of(self, was: float) -> float:
        return was * self.times + self.plus


@dataclass(slots=True, frozen=True)
class SizeObjects:
    """Change the width and height of each selected object by the same rule, along its rotated axes; of a group, those
    of its box. The point ``about`` of its unrotated box stays, in fractions of its width and height."""

    objects: Some
    width: SizeChange = SizeChange(1.0)
    height: SizeChange = SizeChange(1.0)
    about: tuple[Part, Part] = (0.0, 0.0)
    do: Literal["size-objects"] = "size-objects"
    label = "Resize object"

    def expand(self, job: Job) -> list[Primitive]:
        return exchange((one, self._sized(one)) for one in selected_objects(job, self.objects))

    def _sized(self, one: SelectedObject) -> Object:
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
    """Make the selected objects as large as an area of their page; a panel and the spread include their bleed."""

    objects: Some
    to: Area = "bleed"
    do: Literal["fill-area"] = "fill-area"
    label = "Enlarge object to fill area"

    def expand(self, job: Job) -> list[Primitive]:
        changes = []
        for one in selected_objects(job, self.objects):
            to = to_fill(one.place, self.to, one.box)
            across, down = to.width / max(one.box.width, 0.01), to.height / max(one.box.height, 0.01)
            changes.append((one, Affine(across, 0.0, 0.0, down, to.x - one.box.x * across, to.y - one.box.y * down)))
        return moved_by(changes)


@dataclass(slots=True, frozen=True)
class OrderObjects:
    """Move the selected objects above or below the others on their layer: all of them, or the next one."""

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
            outer_ids = {outermost(place.objects, key).id for key in ids}
            for key in outer_ids:
                check_free(job, place.objects, key)
            edits += place.with_objects(self._ordered(place.objects, outer_ids))
        return edits

    def _ordered(self, objects: tuple[Object, ...], outer_ids: set[str]) -> tuple[Object, ...]:
        if self.to in ("front", "back"):
            chosen = tuple(one for one in objects if one.id in outer_ids)
            others = tuple(one for one in objects if one.id not in outer_ids)
            return (*others, *chosen) if self.to == "front" else (*chosen, *others)
        # One step is past the next object of the same layer: others are not seen to change places with it.
        order = list(objects) if self.to == "backward" else list(objects)[::-1]
        for at, one in enumerate(order):
            if one.id not in outer_ids:
                continue
            before = next((n for n in range(at - 1, -1, -1) if order[n].layer == one.layer), None)
            if before is not None and order[before].id not in outer_ids:
                order.insert(before, order.pop(at))
        return tuple(order if self.to == "backward" else order[::-1])
