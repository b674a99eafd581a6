"""An intent that puts objects into a place in the stack: on a layer, above or below another object, into a group or out
of one."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.document.limits import Key
from lexigon.core.document.model import Job, Object, all_in, exchanged, find_object
from lexigon.core.editing.edits import EditError, Primitive
from lexigon.core.editing.intents.objects.arranging import Some, selected_objects
from lexigon.core.editing.intents.objects.frames import check_free


@dataclass(slots=True, frozen=True)
class StackObjects:
    """Objects of one page put next to another one, ``above`` or ``below`` it, with which they share a group then and a
    layer; ``in`` a group, above all it holds; or, without another one, above all on a layer."""

    objects: Some
    layer: Key | None = None
    other: str | None = None
    where: Literal["above", "below", "in"] = "above"
    do: Literal["stack-objects"] = "stack-objects"
    label = "Change stacking order"

    def expand(self, job: Job) -> list[Primitive]:
        chosen = selected_objects(job, self.objects)
        place = chosen[0].place
        if any(one.place.key != place.key for one in chosen):
            raise EditError("Select objects of one page.")
        moving = {one.object.id for one in chosen}
        whole = [one for one in all_in(place.objects) if one.id in moving]  # in stacking order
        if any(find_object((one,), self.other or "") for one in whole):
            raise EditError("An object cannot be moved next to or into itself.")
        left = exchanged(place.objects, dict.fromkeys(moving, ()))
        if self.other is None:
            if self.layer not in job.layers:
                raise EditError("That layer is no longer in the job.")
            if job.layers[self.layer].locked:
                raise EditError(f"“{job.layers[self.layer].name}” is locked. Unlock it first.")
            return place.with_objects((*left, *(replace(one, layer=self.layer) for one in whole)))
        target = find_object(left, self.other)
        if target is None:
            raise EditError("That object belongs to the master page or was deleted.")
        check_free(job, place.objects, target.id)
        outer = next(one for one in left if find_object((one,), target.id))
        new = tuple(replace(one, layer=outer.layer) for one in whole)
        if self.where == "in":
            if target.group is None:
                raise EditError("Objects can be moved into groups only.")
            return place.with_objects(exchanged(left, {target.id: (target.holding((*target.group.objects, *new)),)}))
        both: tuple[Object, ...] = (target, *new) if self.where == "above" else (*new, target)
        return place.with_objects(exchanged(left, {target.id: both}))
