"""What frames stand on: a page, or one half of a master page."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, replace
from typing import cast

from lexigon.core.geometry import Rect
from lexigon.core.job.edits import EditError, Primitive, SplicePages, put
from lexigon.core.job.model import Frame, Job, Master, Page, Side


@dataclass(slots=True, frozen=True)
class Holder:
    """``index`` and ``page`` are of a page, ``master`` is of a master's half."""

    job: Job
    side: Side
    index: int = -1
    page: Page | None = None
    master: Master | None = None

    @property
    def frames(self) -> tuple[Frame, ...]:
        """The frames of its own."""
        if self.page is not None:
            return self.page.frames
        assert self.master is not None
        return self.master.half(self.side)

    def inherited(self) -> list[Frame]:
        """The frames it shows of the master pages below it."""
        if self.page is not None:
            return [frame for frame, below in self.job.page_frames(self.index) if below]
        assert self.master is not None
        return [f for f, owner in self.job.master_frames(self.master.id, self.side) if owner != self.master.id]

    def rect(self, frame: Frame) -> Rect:
        if frame.rect is not None:
            return frame.rect
        return self.job.text_area(self.index) if self.page else self.job.master_area(self.master, self.side)

    def with_frames(self, frames: tuple[Frame, ...]) -> Primitive:
        """The edit that gives it these frames."""
        if self.page is not None:
            return SplicePages(self.index, 1, (replace(self.page, frames=frames),))
        assert self.master is not None
        changed = replace(self.master, recto=frames) if self.side == "recto" else replace(self.master, verso=frames)
        return put("masters", changed)


def holder(job: Job, key: str) -> Holder:
    """Find a page by its id, or a master's half by ``master:<id>:<side>``. Raises EditError if it is gone."""
    if key.startswith("master:"):
        _, master_id, side = (*key.split(":"), "", "")[:3]
        if master_id in job.masters and side in ("recto", "verso"):
            return Holder(job, cast(Side, side), master=job.masters[master_id])
        raise EditError("That master page is no longer in the job.")
    for index, page in enumerate(job.pages):
        if page.id == key:
            return Holder(job, job.brief.side(index), index, page)
    raise EditError("That page is no longer in the job.")


def stories_in_use(job: Job, without: Collection[str] = ()) -> set[str]:
    """The stories that some frame shows (those named in ``without`` left out), and the main one."""
    used = {job.main_story} if job.main_story else set()
    halves = [half for master in job.masters.values() for half in (master.recto, master.verso)]
    for frames in (*(page.frames for page in job.pages), *halves):
        used |= {frame.story for frame in frames if frame.story and frame.id not in without}
    return used
