"""Intents that make groups of objects, and undo them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Literal

from lexigon.core.job import text as texts
from lexigon.core.job.edits import EditError, Primitive
from lexigon.core.job.holders import Holder, holder
from lexigon.core.job.intents.frames import check_free
from lexigon.core.job.limits import MOST_FRAMES, Many, Name
from lexigon.core.job.model import Group, Job, Object, exchanged, found_in


@dataclass(slots=True, frozen=True)
class GroupObjects:
    """Objects of one page become a group, which stands where the topmost of them stood. Groups among them stay groups."""

    page: str
    objects: Annotated[tuple[str, ...], Many(MOST_FRAMES, 1)]
    name: Name = "Group"
    do: Literal["group-objects"] = "group-objects"
    label = "Grouping"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        wanted = set(self.objects)
        chosen = [one for one in place.objects if any(found_in((one,), key) for key in wanted)]
        layers = list(job.layers)
        chosen.sort(key=lambda one: layers.index(one.layer))  # as they lie above each other
        if any(found_in(place.objects, key) is None for key in wanted):
            raise EditError("Something chosen stands on the master page, or is gone: take it over first.")
        if len(chosen) < 2:
            raise EditError("Choose at least two objects to make a group of.")
        for one in chosen:
            check_free(job, place.objects, one.id)
        top = chosen[-1]
        group = Object(texts.new_id("u"), self.name, content=Group(tuple(chosen)), layer=top.layer)
        new = {one.id: () for one in chosen[:-1]} | {top.id: (group,)}
        return place.with_objects(exchanged(place.objects, new))


@dataclass(slots=True, frozen=True)
class Ungroup:
    """A group's objects stand by themselves again, in its place. ``group`` is its id, or of anything in it: then the
    outermost group is meant."""

    page: str
    group: str
    do: Literal["ungroup"] = "ungroup"
    label = "Undoing a group"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        found = _group(place, self.group)
        check_free(job, place.objects, found.id)
        made = found.group
        assert made is not None
        if made.opacity != 1.0 or made.blend != "normal" or made.clip is not None:
            raise EditError("This group is cut off or mixed as one: make it plain first, or it would look different.")
        parts = tuple(
            replace(one, layer=found.layer, prints=one.prints and found.prints, locked=one.locked or found.locked,
                    hide_on=tuple(dict.fromkeys((*one.hide_on, *found.hide_on))))
            for one in made.objects
        )  # fmt: skip
        return place.with_objects(exchanged(place.objects, {found.id: parts}))


def _group(place: Holder, key: str) -> Object:
    own = found_in(place.objects, key)
    if own is not None and own.group is not None:
        return own
    found = next((one for one in place.objects if one.group and found_in((one,), key)), None)
    if found is None:
        raise EditError("That is not in a group of this page.")
    return found
