"""Slots: the columns that a story fills, in order."""

from __future__ import annotations

from dataclasses import dataclass

from lexigon.core.geometry import Rect
from lexigon.core.job.model import Frame, Job, Side, Story


@dataclass(slots=True, frozen=True)
class Slot:
    """One column of one frame. ``heads_page`` marks the first column of the story on its page."""

    page: int
    frame: str
    column: int
    rect: Rect
    side: Side
    heads_page: bool
    vertical: str = "top"


def columns_of(frame: Frame, rect: Rect) -> list[Rect]:
    """The frame's columns within its insets, left to right; never narrower than a point."""
    inner = rect.inset(frame.insets, frame.insets, frame.insets, frame.insets)
    count = max(frame.columns, 1)
    width = max((inner.width - frame.gutter * (count - 1)) / count, 1.0)
    return [Rect(inner.x + i * (width + frame.gutter), inner.y, width, max(inner.height, 0.0)) for i in range(count)]


def upright(frame: Frame, rect: Rect) -> Rect:
    """The box a frame's contents are set in before they are turned about its centre."""
    if frame.turn in (90, 270):
        return Rect(
            rect.x + (rect.width - rect.height) / 2, rect.y + (rect.height - rect.width) / 2, rect.height, rect.width
        )
    return rect


def frame_slots(job: Job, page: int, frame: Frame, heads_page: bool, master_id: str | None = None) -> list[Slot]:
    side = job.brief.side(page)
    rect = upright(frame, job.frame_rect(frame, page, master_id))
    return [
        Slot(page, frame.id, column, area, side, heads_page and column == 0, frame.vertical)
        for column, area in enumerate(columns_of(frame, rect))
    ]


def main_slots(job: Job, page: int, master_id: str | None = None) -> list[Slot]:
    """The main story's columns on a page: its main frames, then frames it was led into by hand there.

    With ``master_id`` the page need not exist yet: the slots it would have.
    """
    slots: list[Slot] = []
    led = job.stories[job.main_story].frames if job.main_story else []
    if page < len(job.pages):
        frames = [frame for frame, _ in job.page_frames(page)]
    else:
        frames = [frame for frame, _ in job.master_frames(master_id, job.brief.side(page))]
    for frame in frames:
        if frame.role == "main":
            slots += frame_slots(job, page, frame, not slots, master_id)
    if led:
        own = {frame.id: frame for frame in frames}
        for frame_id in led:
            if frame_id in own:
                slots += frame_slots(job, page, own[frame_id], not slots)
    return slots


def story_slots(job: Job, story: Story) -> list[Slot]:
    """The columns of a story that stands in frames placed by hand."""
    where = {frame.id: (index, frame) for index, page in enumerate(job.pages) for frame in page.frames}
    slots: list[Slot] = []
    seen: set[int] = set()
    for frame_id in story.frames:
        if frame_id in where:
            index, frame = where[frame_id]
            slots += frame_slots(job, index, frame, index not in seen)
            seen.add(index)
    return slots
