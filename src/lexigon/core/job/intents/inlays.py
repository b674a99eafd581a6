"""Intents about frames that are in a text."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Literal

from lexigon.core.geometry import Rect
from lexigon.core.job.edits import EditError, Primitive, put
from lexigon.core.job.intents.frames import check_place
from lexigon.core.job.limits import MOST_ENTRIES, Length, Many
from lexigon.core.job.model import Job, Object, Pose


@dataclass(slots=True, frozen=True)
class Scaled:
    """A frame in a text, and the width in points that it gets."""

    inlay: str
    width: Length


@dataclass(slots=True, frozen=True)
class ScaleInlays:
    """Frames in texts scaled to other widths; they and the pictures in them keep their proportions."""

    sizes: Annotated[tuple[Scaled, ...], Many(MOST_ENTRIES, 1)]
    do: Literal["scale-inlays"] = "scale-inlays"
    label = "Scale anchored frames"

    def expand(self, job: Job) -> list[Primitive]:
        made: list[Primitive] = []
        for one in self.sizes:
            if one.inlay not in job.inlays:
                raise EditError("That frame is no longer in the story.")
            made.append(put("inlays", _scaled(job.inlays[one.inlay], one.width)))
        return made


def _scaled(one: Object, width: float) -> Object:
    rect = one.rect
    if rect is None:
        raise EditError("The size of that frame cannot be changed.")
    by = width / rect.width
    scaled = check_place(Rect(rect.x, rect.y, width, rect.height * by))
    content, shown = one.content, one.picture
    if shown is not None and shown.box is not None:
        crop = shown.box
        content = replace(shown, box=Rect(crop.x * by, crop.y * by, crop.width * by, crop.height * by))
    return replace(one, place=replace(one.place, rect=scaled) if one.place else Pose(scaled), content=content)
