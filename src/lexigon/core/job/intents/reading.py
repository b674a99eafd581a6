"""An intent about the order in which what stands on a page is read."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from lexigon.core.job.edits import EditError, Primitive, SetReading
from lexigon.core.job.holders import holder
from lexigon.core.job.limits import MOST_FRAMES, Id, Many
from lexigon.core.job.model import Job


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
