"""Intents that stretch, turn, lean and mirror what is chosen as one, and let two things change places."""

from __future__ import annotations

from dataclasses import dataclass
from math import radians, tan
from typing import Literal

from lexigon.core.geometry import Affine, Rect, turned_about
from lexigon.core.job.edits import EditError, Primitive
from lexigon.core.job.intents.arranging import Some, around, held, moved_by
from lexigon.core.job.intents.frames import check_place
from lexigon.core.job.limits import Part, Skew, Turn
from lexigon.core.job.model import Job, bounds_of, mapped


@dataclass(slots=True, frozen=True)
class TransformObjects:
    """All that is chosen on a page as one: its box made another one (``to``), then mirrored, leaned to the right and turned clockwise
    about a point of the box, given in parts of its width and height. Type and lines keep their sizes."""

    objects: Some
    to: Rect | None = None
    mirror: Literal["", "across", "down"] = ""
    skew: Skew = 0.0
    turn: Turn = 0.0
    about: tuple[Part, Part] = (0.5, 0.5)
    do: Literal["transform-objects"] = "transform-objects"

    @property
    def label(self) -> str:
        if self.to is not None:
            return "Stretching"
        return "Mirroring" if self.mirror else "Leaning" if self.skew else "Turning"

    def expand(self, job: Job) -> list[Primitive]:
        chosen = held(job, self.objects)
        if len({one.place.key for one in chosen}) > 1:
            raise EditError("Choose objects of one page.")
        map_ = self.map_of(around([one.box for one in chosen]))
        for one in chosen:
            if (box := bounds_of((mapped(one.object, map_),))) is not None:
                check_place(Rect(box.x, box.y, max(box.width, 4.0), max(box.height, 4.0)))
        return moved_by([(one, map_) for one in chosen])

    def map_of(self, box: Rect) -> Affine:
        """From where things stand in a box to where they come to stand."""
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
class SwapPlaces:
    """Two things of a page, each with its middle where the other's was; they keep their sizes and their layers."""

    objects: Some
    do: Literal["swap-places"] = "swap-places"
    label = "Changing places"

    def expand(self, job: Job) -> list[Primitive]:
        both = held(job, self.objects)
        if len(both) != 2:
            raise EditError("Choose two things to change places.")
        one, other = both
        if one.place.key != other.place.key:
            raise EditError("Only what stands on one page changes places.")
        dx = other.box.x + other.box.width / 2 - one.box.x - one.box.width / 2
        dy = other.box.y + other.box.height / 2 - one.box.y - one.box.height / 2
        return moved_by([(one, Affine.move(dx, dy)), (other, Affine.move(-dx, -dy))])
