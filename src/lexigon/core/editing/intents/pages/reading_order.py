"""An intent about the reading order of a page."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from lexigon.core.document.limits import MOST_FRAMES, Id, Many
from lexigon.core.document.model import Job
from lexigon.core.editing.edits import EditError, Primitive, SetReading
from lexigon.core.editing.holders import holder


@dataclass(slots=True, frozen=True)
class PutReading:
    """Set the reading order of the objects of a page, by id; an empty order follows the stacking order."""

    page: str
    order: Annotated[tuple[Id, ...], Many(MOST_FRAMES)] = ()
    do: Literal["put-reading"] = "put-reading"
    label = "Change reading order"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        if place.page is None:
            raise EditError("Only objects of the page, not of its master page, have a reading order.")
        own = {one.id for one in place.frames}
        order = tuple(key for key in dict.fromkeys(self.order) if key in own)
        return [SetReading(self.page, order)] if order != place.page.reading else []
