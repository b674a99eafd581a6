"""Intents that make new shapes out of shapes: united, cut out of each other, divided, made one with several rings,
moved outward."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Literal

from lexigon.core.document import story_text
from lexigon.core.document.limits import Within
from lexigon.core.document.model import MAIN_LAYER, Job, Object, exchanged, frames_in
from lexigon.core.document.outlines import outline_on_page, shaped_on_page
from lexigon.core.editing.edits import EditError, Primitive
from lexigon.core.editing.holders import Holder, holder
from lexigon.core.editing.intents.objects.arranging import Some, selected_objects
from lexigon.core.editing.intents.objects.frames import check_place
from lexigon.core.editing.intents.objects.paths import check_nodes
from lexigon.core.path.combining import Shape, combined_shapes, normal, offset, parts_apart, pieces_of
from lexigon.core.path.steps import Steps

Distance = Annotated[float, Within(-2000, 2000, "An outline can be offset by at most 2,000 pt.")]
NOTHING = "Nothing would be left of the shapes."


def _lowest_first(job: Job, place: Holder, objects: Some) -> list[Object]:
    """Return the selected objects of a page in stacking order, groups by their members."""
    chosen = selected_objects(job, objects)
    if len({one.place.key for one in chosen}) > 1:
        raise EditError("Select shapes of one page.")
    ids = {one.object.id for one in chosen}
    layers = list(job.layers)
    shapes = sorted(
        (one for one in place.objects if one.id in ids),
        key=lambda one: layers.index(one.layer if one.layer in job.layers else MAIN_LAYER),
    )
    return [frame for one in shapes for frame in frames_in((one,))]


def _shape(place: Holder, one: Object) -> Shape:
    return outline_on_page(one, place.rect(one))


def _new(place: Holder, of: Object, steps: Steps, even_odd: bool = False, fresh: bool = False) -> Object:
    """An object made like another one, with an outline on the page."""
    shape = shaped_on_page(replace(of, id=story_text.new_id("f")) if fresh else of, steps, even_odd)
    assert shape.rect
    check_place(shape.rect)
    return replace(shape, origin=None) if fresh else shape


@dataclass(slots=True, frozen=True)
class CombineShapes:
    """Combine shapes of one page: ``unite`` them, ``subtract`` the others from the lowest, keep their ``intersect``ion
    or what lies in an odd number of them (``exclude``), ``divide`` them into the pieces they form, or put all their
    outlines into one path (``compound``). The result has the formatting of the lowest when others are subtracted from
    it, else that of the topmost."""

    objects: Some
    how: Literal["unite", "subtract", "intersect", "exclude", "divide", "compound"]
    do: Literal["combine-shapes"] = "combine-shapes"

    @property
    def label(self) -> str:
        return {
            "unite": "Unite shapes",
            "subtract": "Subtract shapes",
            "intersect": "Intersect shapes",
            "exclude": "Exclude overlap of shapes",
            "divide": "Divide shapes",
            "compound": "Combine shapes into one path",
        }[self.how]

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.objects[0].page)
        shapes = _lowest_first(job, place, self.objects)
        if len(shapes) < 2:
            raise EditError("Select at least two shapes.")
        for one in shapes:
            check_nodes(place, one)
        like = shapes[0] if self.how == "subtract" else shapes[-1]
        for one in shapes:
            if one.content is not None and one is not like:
                raise EditError(
                    f"“{one.name or 'A frame'}” has content that would be lost. Only empty shapes can be combined."
                )
        outlines = [_shape(place, one) for one in shapes]
        result: tuple[Object, ...]
        if self.how == "divide":
            if like.content is not None:
                raise EditError("A frame with content cannot be divided.")
            result = tuple(_new(place, shapes[n], steps, fresh=True) for steps, n in pieces_of(outlines))
        elif self.how == "compound":
            result = (_new(place, like, tuple(step for steps, _ in outlines for step in steps), even_odd=True),)
        else:
            steps = combined_shapes(outlines, self.how)
            result = (_new(place, like, steps),) if steps else ()
        if not result:
            raise EditError(NOTHING)
        gone: dict[str, tuple[Object, ...]] = {one.id: () for one in shapes}
        return place.with_objects(exchanged(place.objects, gone | {like.id: result}))


@dataclass(slots=True, frozen=True)
class PartShapes:
    """Shapes of several rings taken apart: each part that does not hang together with the others, with its holes, by
    itself."""

    objects: Some
    do: Literal["part-shapes"] = "part-shapes"
    label = "Separate path"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.objects[0].page)
        new: dict[str, tuple[Object, ...]] = {}
        for one in _lowest_first(job, place, self.objects):
            check_nodes(place, one)
            if one.content is not None:
                continue
            parts = parts_apart(normal(_shape(place, one)))
            if len(parts) > 1:
                first, *others = parts
                new[one.id] = (_new(place, one, first), *(_new(place, one, part, fresh=True) for part in others))
        if not new:
            raise EditError("The selection contains no path with several parts.")
        return place.with_objects(exchanged(place.objects, new))


@dataclass(slots=True, frozen=True)
class OffsetShapes:
    """The outlines of shapes moved outward by so much, inward if that is negative: of copies that lie below them, or
    their own."""

    objects: Some
    by: Distance
    join: Literal["miter", "round", "bevel"] = "miter"
    copies: bool = True
    do: Literal["offset-shapes"] = "offset-shapes"
    label = "Offset outlines"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.objects[0].page)
        new: dict[str, tuple[Object, ...]] = {}
        for one in _lowest_first(job, place, self.objects):
            check_nodes(place, one)
            steps = offset(_shape(place, one), self.by, self.join)
            if not steps:
                raise EditError("At this distance inward, nothing is left of the shape.")
            if self.copies:
                copy = _new(
                    place,
                    replace(one, content=None, alt="", name=f"{one.name or 'Shape'}, offset"),
                    steps,
                    fresh=True,
                )
                new[one.id] = (copy, one) if self.by > 0 else (one, copy)
            else:
                new[one.id] = (_new(place, one, steps),)
        return place.with_objects(exchanged(place.objects, new))
