"""What frames stand on: a page, or one half of a master page."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from lexigon.core.geometry import Rect
from lexigon.core.job.edits import Primitive, frame_edits, frames_of, master_half
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

    @property
    def key(self) -> str:
        """What edits call it."""
        if self.page is not None:
            return self.page.id
        assert self.master is not None
        return f"master:{self.master.id}:{self.side}"

    def with_frames(self, frames: tuple[Frame, ...]) -> list[Primitive]:
        """The edits that give it these frames."""
        return frame_edits(self.key, self.frames, frames)


def holder(job: Job, key: str) -> Holder:
    """Find a page by its id, or a master's half by ``master:<id>:<side>``. Raises EditError if it is gone."""
    frames_of(job, key)
    if found := master_half(key):
        return Holder(job, found[1], master=job.masters[found[0]])
    index = job.page_index(key)
    assert index is not None
    return Holder(job, job.brief.side(index), index, job.pages[index])


def stories_in_use(job: Job, without: Collection[str] = ()) -> set[str]:
    """The stories that some frame shows (those named in ``without`` left out), and the main one."""
    used = {job.main_story} if job.main_story else set()
    halves = [half for master in job.masters.values() for half in (master.recto, master.verso)]
    for frames in (*(page.frames for page in job.pages), *halves):
        used |= {frame.story for frame in frames if frame.story and frame.id not in without}
    return used
