"""Intents about layers: add, change, move and delete them, and what is on them."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from lexigon.core.document import story_text
from lexigon.core.document.limits import MOST_ENTRIES, MOST_LAYERS, Colour, Key, Many, Name, Opacity
from lexigon.core.document.model import Job, Layer, Object
from lexigon.core.editing.edits import EditError, Primitive, PutEntry, object_edits, put
from lexigon.core.editing.holders import everywhere, holder
from lexigon.core.editing.intents.objects.frames import check_free
from lexigon.core.editing.intents.objects.selection import Chosen, by_holder, outermost

COLOURS = ("#2E93B5", "#7A4E86", "#4F6B1E", "#A3502F", "#2F4B8A", "#9A6A12", "#1E5B4F", "#5D6A70")
"""The marks of layers, dealt out in turn."""


@dataclass(slots=True, frozen=True)
class AddLayer:
    """A new layer right above another, or above all."""

    name: Name = ""
    above: Key | None = None
    do: Literal["add-layer"] = "add-layer"
    label = "Add layer"

    def expand(self, job: Job) -> list[Primitive]:
        if len(job.layers) >= MOST_LAYERS:
            raise EditError(f"A job has at most {MOST_LAYERS} layers.")
        used = [layer.colour for layer in job.layers.values()]
        colour = min(COLOURS, key=lambda one: (used.count(one), COLOURS.index(one)))
        order = list(job.layers)
        at = order.index(self.above) + 1 if self.above in order else len(order)
        return [put("layers", Layer(story_text.new_id("l"), _unused(job, self.name or "Layer"), colour=colour), at)]


@dataclass(slots=True, frozen=True)
class ChangeLayer:
    """Another name, seen or not, locked or not, printed or not, how strong, its colour on the board. ``None`` stays."""

    layer: Key
    name: Name | None = None
    visible: bool | None = None
    locked: bool | None = None
    prints: bool | None = None
    opacity: Opacity | None = None
    colour: Colour | None = None
    do: Literal["change-layer"] = "change-layer"

    @property
    def label(self) -> str:
        if self.visible is not None:
            return "Show layer" if self.visible else "Hide layer"
        if self.locked is not None:
            return "Lock layer" if self.locked else "Unlock layer"
        return "Rename layer" if self.name is not None else "Change layer"

    def expand(self, job: Job) -> list[Primitive]:
        layer = _layer(job, self.layer)
        names = ("visible", "locked", "prints", "opacity", "colour")
        changes = {name: value for name in names if (value := getattr(self, name)) is not None}
        if self.name is not None and self.name.strip() != layer.name:
            if not self.name.strip():
                raise EditError("Type a name for the layer.", "name")
            changes["name"] = _unused(job, self.name)
        changed = replace(layer, **changes)
        return [put("layers", changed)] if changed != layer else []


@dataclass(slots=True, frozen=True)
class MoveLayer:
    """A layer put at another height: ``at`` counts the others that lie below it then."""

    layer: Key
    at: int
    do: Literal["move-layer"] = "move-layer"
    label = "Move layer"

    def expand(self, job: Job) -> list[Primitive]:
        layer = _layer(job, self.layer)
        if not 0 <= self.at < len(job.layers):
            raise EditError("Layers cannot be moved there.")
        if list(job.layers).index(layer.id) == self.at:
            return []
        return [PutEntry("layers", layer.id, None), put("layers", layer, self.at)]


@dataclass(slots=True, frozen=True)
class RemoveLayer:
    """Delete a layer. Its objects move to ``into``, or else to the next one below that is visible and not locked, then
    above: nothing disappears all at once."""

    layer: Key
    into: Key | None = None
    do: Literal["remove-layer"] = "remove-layer"
    label = "Delete layer"

    def expand(self, job: Job) -> list[Primitive]:
        layer = _layer(job, self.layer)
        if len(job.layers) == 1:
            raise EditError("A job must have at least one layer.")
        if layer.locked:
            raise EditError(f"“{layer.name}” is locked. Unlock it first.")
        order = list(job.layers.values())
        at = order.index(layer)
        others = [*order[:at][::-1], *order[at + 1 :]]
        free = next((one for one in others if one.visible and not one.locked), others[0])
        into = self.into or free.id
        if into == layer.id or into not in job.layers:
            raise EditError("Select another layer of the job.")
        move = lambda one: replace(one, layer=into) if one.layer == layer.id else one  # noqa: E731
        return [*_over_all(job, move), PutEntry("layers", layer.id, None)]


@dataclass(slots=True, frozen=True)
class PutOnLayer:
    """Objects put on a layer; of one in a group the whole group."""

    layer: Key
    objects: Annotated[tuple[Chosen, ...], Many(MOST_ENTRIES, 1)]
    do: Literal["put-on-layer"] = "put-on-layer"
    label = "Move object to layer"

    def expand(self, job: Job) -> list[Primitive]:
        layer = _layer(job, self.layer)
        if layer.locked:
            raise EditError(f"“{layer.name}” is locked. Unlock it first.")
        edits: list[Primitive] = []
        for page, ids in by_holder(self.objects):
            place = holder(job, page)
            moved = [outermost(place.objects, key) for key in ids]
            for one in moved:
                check_free(job, place.objects, one.id)
            edits += place.with_exchanged(*(replace(one, layer=layer.id) for one in moved))
        return edits


def _layer(job: Job, key: str) -> Layer:
    if key not in job.layers:
        raise EditError("That layer is no longer in the job.")
    return job.layers[key]


def _unused(job: Job, wanted_name: str) -> str:
    """The name, with a number after it where another layer has it already."""
    wanted_name = story_text.clean(wanted_name).strip()[:80]
    used = {layer.name for layer in job.layers.values()}
    name, number = wanted_name, 2
    while name in used:
        name, number = f"{wanted_name} {number}", number + 1
    return name


def _over_all(job: Job, change: Callable[[Object], Object]) -> Iterable[Primitive]:
    """The edits that change every object of the job, groups and what they hold."""
    for key, objects in everywhere(job):
        yield from object_edits(key, objects, _changed(objects, change))


def _changed(objects: Iterable[Object], change: Callable[[Object], Object]) -> tuple[Object, ...]:
    return tuple(change(one.holding(_changed(one.group.objects, change)) if one.group else one) for one in objects)
