"""Intents that make groups of objects, mix them or cut them off as one, and undo them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from lexigon.core.blending import Blend
from lexigon.core.document import story_text
from lexigon.core.document.limits import MOST_FRAMES, Many, Name, Opacity
from lexigon.core.document.model import LINE, Group, Job, Object, Outline, exchanged, find_object
from lexigon.core.editing.edits import EditError, Primitive
from lexigon.core.editing.holders import Holder, holder
from lexigon.core.editing.intents.objects.frames import check_free


@dataclass(slots=True, frozen=True)
class GroupObjects:
    """Group objects of one page; the group takes the position of the topmost of them. Groups among them stay groups."""

    page: str
    objects: Annotated[tuple[str, ...], Many(MOST_FRAMES, 1)]
    name: Name = "Group"
    do: Literal["group-objects"] = "group-objects"
    label = "Group"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        chosen = _wholes(job, place, self.objects)
        if len(chosen) < 2:
            raise EditError("Select at least two objects to group.")
        top = chosen[-1]
        group = Object(story_text.new_id("u"), self.name, content=Group(tuple(chosen)), layer=top.layer)
        return _gathered(place, chosen, group)


@dataclass(slots=True, frozen=True)
class Ungroup:
    """A group's objects stand by themselves again, in its place. ``group`` is its id, or of anything in it: then the
    outermost group is meant."""

    page: str
    group: str
    do: Literal["ungroup"] = "ungroup"
    label = "Ungroup"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        group = _group(place, self.group)
        check_free(job, place.objects, group.id)
        content = group.group
        assert content is not None
        if not content.plain:
            raise EditError(
                "This group is clipped, transparent or blended. Release the clip and reset opacity and blend mode "
                "first, or its objects would look different."
            )
        parts = tuple(
            replace(
                one,
                layer=group.layer,
                prints=one.prints and group.prints,
                locked=one.locked or group.locked,
                hide_on=tuple(dict.fromkeys((*one.hide_on, *group.hide_on))),
            )
            for one in content.objects
        )
        return place.with_objects(exchanged(place.objects, {group.id: parts}))


@dataclass(slots=True, frozen=True)
class CutOff:
    """Of objects on one page only what lies within the topmost of them is seen. They become a group; what cuts it off
    lies below all in it, as its ground. A plain group that is cut off stays that group."""

    page: str
    objects: Annotated[tuple[str, ...], Many(MOST_FRAMES, 1)]
    do: Literal["cut-off"] = "cut-off"
    label = "Clip"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        chosen = _wholes(job, place, self.objects)
        if len(chosen) < 2:
            raise EditError("Select the objects to clip and, on top of them, the shape to clip them to.")
        *below, top = chosen
        if top.group is not None or top.place is None or top.outline == LINE:
            raise EditError("The topmost object clips those below it. It must be a closed shape or a frame.")
        name = next((one.name for one in below if one.group), "") or "Cut off"
        parts = (top, *below)
        if len(below) == 1 and below[0].group and below[0].group.plain:
            parts = (top, *below[0].group.objects)
        group = Object(
            story_text.new_id("u"), name, top.place, Group(parts, clip=top.outline or Outline("box")), layer=top.layer
        )
        return _gathered(place, chosen, group)


@dataclass(slots=True, frozen=True)
class ChangeGroup:
    """Change opacity and blend mode of a group; ``None`` leaves a value unchanged. ``whole`` releases its clip."""

    page: str
    group: str
    opacity: Opacity | None = None
    blend: Blend | None = None
    whole: bool = False
    do: Literal["change-group"] = "change-group"
    label = "Change group"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        group = _group(place, self.group)
        check_free(job, place.objects, group.id)
        content = group.group
        assert content is not None
        if self.whole and content.clip is not None:
            content = replace(content, clip=None, rotation=group.rotation)
        content = replace(
            content,
            opacity=content.opacity if self.opacity is None else self.opacity,
            blend=self.blend or content.blend,
        )
        new = replace(group, content=content, place=None if self.whole else group.place)
        return place.with_objects(exchanged(place.objects, {group.id: (new,)})) if new != group else []


def _gathered(place: Holder, chosen: Sequence[Object], group: Object) -> list[Primitive]:
    """The edits that put a group in the place of the topmost of what it was made of."""
    new = {one.id: () for one in chosen[:-1]} | {chosen[-1].id: (group,)}
    return place.with_objects(exchanged(place.objects, new))


def _wholes(job: Job, place: Holder, keys: Sequence[str]) -> list[Object]:
    """Return the selected objects, groups whole, the lowest first."""
    if any(find_object(place.objects, key) is None for key in keys):
        raise EditError("Part of the selection belongs to the master page or was deleted. Override it first.")
    chosen = [one for one in place.objects if any(find_object((one,), key) for key in keys)]
    layers = list(job.layers)
    chosen.sort(key=lambda one: layers.index(one.layer))  # in stacking order
    for one in chosen:
        check_free(job, place.objects, one.id)
    return chosen


def _group(place: Holder, key: str) -> Object:
    own = find_object(place.objects, key)
    if own is not None and own.group is not None:
        return own
    group = next((one for one in place.objects if one.group and find_object((one,), key)), None)
    if group is None:
        raise EditError("That object is not in a group on this page.")
    return group
