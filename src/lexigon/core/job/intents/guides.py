"""Intents about guides: the lines of a page, or of a master's pages, to set things against."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from lexigon.core.job.edits import EditError, Primitive, SetGuides, master_half
from lexigon.core.job.holders import holder
from lexigon.core.job.limits import Many
from lexigon.core.job.model import Guide, Job

MOST_GUIDES = 400


@dataclass(slots=True, frozen=True)
class PutGuides:
    """The guides of a page; or of a master page's half, where those of the other half and of both stay."""

    page: str
    guides: Annotated[tuple[Guide, ...], Many(MOST_GUIDES)]
    do: Literal["put-guides"] = "put-guides"
    label = "Setting guides"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        half = master_half(self.page)
        if place.page is None and half is None:
            raise EditError("Guides stand on pages and master pages.")
        new = tuple(dict.fromkeys(self.guides))
        if place.master is not None:
            others = tuple(guide for guide in place.master.guides if guide.side not in ("both", place.side))
            new = (*others, *new)
            old = place.master.guides
        else:
            assert place.page is not None
            old = place.page.guides
        return [SetGuides(half[0] if half else self.page, new, half is not None)] if new != old else []
