"""Intents about where a text goes: led on from frame to frame, ended, cut in two, given the frames it needs."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.job import text as texts
from lexigon.core.job.edits import (
    EditError,
    Primitive,
    PutEntry,
    SetFrames,
    SplicePages,
    SpliceParagraphs,
    frame_edits,
    put,
)
from lexigon.core.job.holders import holder
from lexigon.core.job.intents.text import Place, locate
from lexigon.core.job.model import Job, Page, Paragraph, Story

MOST_GROWN = 500


def led_after(job: Job, after: str, frame_id: str) -> tuple[str, list[str]]:
    """The story of frame ``after`` and its hand-led frames with ``frame_id`` put in behind it."""
    found = job.find_frame(after)
    story_id = found[1].story if found else job.main_story
    if story_id is None or story_id not in job.stories:
        raise EditError("That frame holds no text to lead on.")
    order = list(job.stories[story_id].frames)
    order.insert(order.index(after) + 1 if after in order else 0, frame_id)
    return story_id, order


@dataclass(slots=True, frozen=True)
class LinkFrames:
    """Lead the text of frame ``after`` on into frame ``into``; what ``into`` held is added at the end."""

    after: str
    into_page: str
    into: str
    do: Literal["link-frames"] = "link-frames"
    label = "Leading the text on"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.into_page)
        frame = next((f for f in place.frames if f.id == self.into), None)
        if frame is None or frame.role == "main":
            raise EditError("Text flows into that frame already.")
        if place.page is None:
            raise EditError("Text is led on between frames of pages; a master's main frames are linked by themselves.")
        if self.after == self.into:
            raise EditError("A frame cannot flow into itself.")
        found = job.find_frame(self.after)
        story_id = found[1].story if found else job.main_story
        old = job.stories.get(frame.story or "")
        if old is not None and old.id == story_id:
            raise EditError("Both frames hold the same text already.")
        story_id, order = led_after(job, self.after, self.into)
        edits: list[Primitive] = []
        led = place.with_frames(tuple(replace(f, story=story_id) if f.id == frame.id else f for f in place.frames))
        if old is not None:
            others = [f for f in old.frames if f != frame.id]
            if any(p.text for p in old.paragraphs) and not others:
                edits.append(
                    SpliceParagraphs(story_id, len(job.stories[story_id].paragraphs), 0, tuple(old.paragraphs))
                )
            if others:
                edits.append(SetFrames(old.id, tuple(others)))
            else:
                edits.append(PutEntry("stories", old.id, None))
        return [*led, *edits, SetFrames(story_id, tuple(order))]


@dataclass(slots=True, frozen=True)
class UnlinkFrame:
    """End the flow before this frame; it keeps its place with an empty text of its own."""

    page: str
    frame: str
    do: Literal["unlink-frame"] = "unlink-frame"
    label = "Ending the flow"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        frame = next((f for f in place.frames if f.id == self.frame), None)
        story = job.stories.get(frame.story or "") if frame else None
        if frame is None or story is None or frame.id not in story.frames:
            raise EditError("No text is led into this frame by hand.")
        if story.id != job.main_story and story.frames == [frame.id]:
            raise EditError("This is the only frame of its text.")
        own = Story(texts.new_id("s"), f"{story.name}, apart", [Paragraph(texts.new_id("p"), job.body)], [frame.id])
        new = place.with_frames(tuple(replace(f, story=own.id) if f.id == frame.id else f for f in place.frames))
        rest = tuple(f for f in story.frames if f != frame.id)
        return [put("stories", own), SetFrames(story.id, rest), *new]


@dataclass(slots=True, frozen=True)
class CutStory:
    """Cut a text in two at a frame: what stands from ``at`` on goes into a text of its own, with that frame and those
    behind it."""

    story: str
    at: Place
    frame: str
    do: Literal["cut-story"] = "cut-story"
    label = "Cutting a text in two"

    def expand(self, job: Job) -> list[Primitive]:
        story, ((index, offset),) = locate(job, self.story, self.at)
        if self.frame not in story.frames or story.frames[0] == self.frame:
            raise EditError("A text is cut at a frame that it was led into from another.")
        number = story.frames.index(self.frame)
        whole = story.paragraphs[index]
        behind = replace(texts.piece(whole, offset, len(whole.text)), id=texts.new_id("p") if offset else whole.id)
        left: tuple[Paragraph, ...] = (texts.piece(whole, 0, offset),) if offset else ()
        if not left and index == 0:
            left = (Paragraph(texts.new_id("p"), whole.style),)
        moved = [behind, *story.paragraphs[index + 1 :]]
        new = Story(texts.new_id("s"), f"{story.name}, second part", moved, story.frames[number:])
        edits: list[Primitive] = [
            SpliceParagraphs(story.id, index, len(story.paragraphs) - index, left),
            SetFrames(story.id, tuple(story.frames[:number])), put("stories", new),
        ]  # fmt: skip
        gone = set(new.frames)
        for page in job.pages:
            frames = tuple(replace(f, story=new.id) if f.id in gone else f for f in page.frames)
            if frames != page.frames:
                edits += frame_edits(page.id, page.frames, frames)
        return edits


@dataclass(slots=True, frozen=True)
class GrowStory:
    """Give a text ``count`` more frames like its last one, each on a new page behind it."""

    story: str
    count: int
    do: Literal["grow-story"] = "grow-story"
    label = "Making frames for the text"

    def expand(self, job: Job) -> list[Primitive]:
        story = job.stories.get(self.story)
        found = job.find_frame(story.frames[-1]) if story and story.frames else None
        if story is None or found is None:
            raise EditError("This text stands in no frame of a page.")
        if not 1 <= self.count <= MOST_GROWN:
            raise EditError(f"At most {MOST_GROWN} frames are made at once.")
        index, last = found
        rect = job.frame_rect(last, index)
        width, _ = job.page_size(index)
        pages, ids = [], []
        for number in range(1, self.count + 1):
            mirrored = job.brief.side(index + number) != job.brief.side(index)
            own = replace(rect, x=width - rect.right) if mirrored else rect
            frame = replace(last, id=texts.new_id("f"), rect=own, origin=None)
            ids.append(frame.id)
            pages.append(Page(texts.new_id("g"), job.pages[index].master, (frame,)))
        return [SplicePages(index + 1, 0, tuple(pages)), SetFrames(story.id, (*story.frames, *ids))]
