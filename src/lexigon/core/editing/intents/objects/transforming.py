"""Intents that scale, rotate, skew and flip a selection as one, set the box of a group, and swap two objects."""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import hypot, radians, sqrt, tan
from typing import Literal

from lexigon.core.document.limits import Part, Skew, Turn
from lexigon.core.document.model import Job, Object, Pose, bounds_of, exchanged, find_object, mapped, pose_of
from lexigon.core.editing.edits import EditError, Primitive
from lexigon.core.editing.holders import holder
from lexigon.core.editing.intents.objects.arranging import Some, around, exchange, moved_by, selected_objects
from lexigon.core.editing.intents.objects.frames import check_free, check_place
from lexigon.core.geometry import Affine, Rect, turned_about


@dataclass(slots=True, frozen=True)
class TransformObjects:
    """Transform the selected objects of a page together: their box becomes another one (``to``), then is flipped,
    skewed to the right and rotated clockwise about a point of the box, given in fractions of its width and height. Type
    keeps its size, and so do strokes unless ``strokes`` is set: then their weights are scaled, too."""

    objects: Some
    to: Rect | None = None
    mirror: Literal["", "across", "down"] = ""
    skew: Skew = 0.0
    turn: Turn = 0.0
    about: tuple[Part, Part] = (0.5, 0.5)
    strokes: bool = False
    do: Literal["transform-objects"] = "transform-objects"

    @property
    def label(self) -> str:
        if self.to is not None:
            return "Scale object"
        return "Flip object" if self.mirror else "Skew object" if self.skew else "Rotate object"

    def expand(self, job: Job) -> list[Primitive]:
        chosen = selected_objects(job, self.objects)
        if len({one.place.key for one in chosen}) > 1:
            raise EditError("Select objects of one page.")
        box = around([one.box for one in chosen])
        own = pose_of(chosen[0].object) if len(chosen) == 1 and self.to is None else None
        if own is not None:
            box = own.rect  # what is rotated already is rotated further about its own centre
        map_ = self.map_of(box)
        for one in chosen:
            if (new := bounds_of((mapped(one.object, map_),))) is not None:
                check_place(Rect(new.x, new.y, max(new.width, 4.0), max(new.height, 4.0)))
        if not self.strokes:
            return moved_by([(one, map_) for one in chosen])
        factor = mean_scale(map_)
        return exchange((one, with_scaled_strokes(mapped(one.object, map_), factor)) for one in chosen)

    def map_of(self, box: Rect) -> Affine:
        """The map from the original box to the new one."""
        map_ = Affine()
        if self.to is not None:
            to = check_place(self.to)
            across, down = to.width / max(box.width, 0.01), to.height / max(box.height, 0.01)
            map_ = Affine(across, 0.0, 0.0, down, to.x - box.x * across, to.y - box.y * down)
            box = to
        x, y = box.x + self.about[0] * box.width, box.y + self.about[1] * box.height
        there, back = Affine.move(-x, -y), Affine.move(x, y)
        if self.mirror:
            flip = Affine(-1.0) if self.mirror == "across" else Affine(d=-1.0)
            map_ = map_.then(there).then(flip).then(back)
        if self.skew:
            map_ = map_.then(there).then(Affine(c=-tan(radians(self.skew)))).then(back)
        if self.turn:
            map_ = map_.then(turned_about(Rect(x, y, 0.0, 0.0), self.turn))
        return map_


@dataclass(slots=True, frozen=True)
class PlaceGroup:
    """A group, or the object of that id, in another box: ``rect`` is the box before it is rotated clockwise about its
    centre. Everything in the group is moved, scaled and rotated with it; stroke weights are scaled only with
    ``strokes``."""

    page: str
    group: str
    rect: Rect
    rotation: Turn = 0.0
    strokes: bool = False
    do: Literal["place-group"] = "place-group"
    label = "Resize group"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        own = find_object(place.objects, self.group)
        old = pose_of(own) if own is not None else None
        if own is None or old is None:
            raise EditError("That group is no longer on the page.")
        check_free(job, place.objects, own.id)
        new = Pose(check_place(self.rect), self.rotation, old.skew, old.mirrored)
        map_ = map_between(old, new)
        moved = mapped(own, map_)
        if self.strokes:
            moved = with_scaled_strokes(moved, mean_scale(map_))
        if (box := bounds_of((moved,))) is not None:
            check_place(Rect(box.x, box.y, max(box.width, 4.0), max(box.height, 4.0)))
        return place.with_objects(exchanged(place.objects, {own.id: (moved,)})) if moved != own else []


def map_between(old: Pose, new: Pose) -> Affine:
    """The map that brings what is in one box into another."""
    across = new.rect.width / max(old.rect.width, 0.01)
    down = new.rect.height / max(old.rect.height, 0.01)
    boxes = Affine(across, 0.0, 0.0, down, new.rect.x - old.rect.x * across, new.rect.y - old.rect.y * down)
    back = old.map.inverse() if old.map else None
    map_ = back.then(boxes) if back else boxes
    return map_.then(new.map) if new.map else map_


def mean_scale(map_: Affine) -> float:
    """By how much a map scales lengths, on average over all directions: the root of how it scales areas."""
    return sqrt(hypot(map_.a, map_.b) * hypot(map_.c, map_.d))


def with_scaled_strokes(one: Object, scale: float) -> Object:
    """The object with everything in it, with the weights and dashes of its own strokes multiplied by ``scale``."""
    if one.group is not None:
        return one.holding(tuple(with_scaled_strokes(inner, scale) for inner in one.group.objects))
    stroke = one.make.stroke
    if scale == 1.0 or stroke is None or not stroke.weight:
        return one
    dash = tuple(part * scale for part in stroke.dash) if stroke.dash is not None else None
    return one.with_spec(stroke=replace(stroke, weight=stroke.weight * scale, dash=dash))


@dataclass(slots=True, frozen=True)
class SwapPlaces:
    """Two things of a page, each with its middle where the other's was; they keep their sizes and their layers."""

    objects: Some
    do: Literal["swap-places"] = "swap-places"
    label = "Swap positions"

    def expand(self, job: Job) -> list[Primitive]:
        both = selected_objects(job, self.objects)
        if len(both) != 2:
            raise EditError("Select two objects to swap.")
        one, other = both
        if one.place.key != other.place.key:
            raise EditError("Only objects of one page can be swapped.")
        dx = other.box.x + other.box.width / 2 - one.box.x - one.box.width / 2
        dy = other.box.y + other.box.height / 2 - one.box.y - one.box.height / 2
        return moved_by([(one, Affine.move(dx, dy)), (other, Affine.move(-dx, -dy))])
