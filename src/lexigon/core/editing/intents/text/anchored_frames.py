"""Intents about anchored frames."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Literal

from lexigon.core.document.limits import MOST_ENTRIES, Length, Many
from lexigon.core.document.model import Job, Object, Pose
from lexigon.core.editing.edits import EditError, Primitive, put
from lexigon.core.editing.intents.objects.frames import check_place
from lexigon.core.geometry import Rect


@dataclass(slots=True, frozen=True)
class FrameWidth:
    """An anchored frame, and its new width in points."""

    inlay: str
    width: Length


@dataclass(slots=True, frozen=True)
class ScaleInlays:
    """Scale anchored frames to other widths; they and their pictures keep their proportions."""

    sizes: Annotated[tuple[FrameWidth, ...], Many(MOST_ENTRIES, 1)]
    do: Literal["scale-inlays"] = "scale-inlays"
    label = "Scale anchored frames"

    def expand(self, job: Job) -> list[Primitive]:
        edits: list[Primitive] = []
        for one in self.sizes:
            if one.inlay not in job.inlays:
                raise EditError("That frame is no longer in the story.")
            edits.append(put("inlays", _scaled(job.inlays[one.inlay], one.width)))
        return edits


def _scaled(one: Object, width: float) -> Object:
    rect = one.rect
    if rect is None:
        raise EditError("The size of that frame cannot be changed.")
    by = width / rect.width
    scaled = check_place(Rect(rect.x, rect.y, width, rect.height * by))
    content, shown_picture = one.content, one.picture
    if shown_picture is not None and (crop := shown_picture.box) is not None:
        content = replace(shown_picture, box=Rect(crop.x * by, crop.y * by, crop.width * by, crop.height * by))
    return replace(one, place=replace(one.place, rect=scaled) if one.place else Pose(scaled), content=content)
