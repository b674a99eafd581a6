"""Intents about the flow of a story: linking frames, unlinking, dividing at a frame, and adding the frames it needs."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.document import story_text
from lexigon.core.document.model import Job, Object, Page, Paragraph, Story, exchanged
from lexigon.core.editing.edits import (
    EditError,
    Primitive,
    PutEntry,
    SetFrames,
    SplicePages,
    SpliceParagraphs,
    object_edits,
    put,
)
from lexigon.core.editing.holders import holder
from lexigon.core.editing.intents.text.words import Place, locate

MOST_GROWN = 500


def led_after(job: Job, after: str, frame_id: str) -> tuple[str, list[str]]:
    """Return the story of frame ``after``, with ``frame_id`` inserted into its manually linked frames after it."""
    frame_place = job.find_frame(after)
    story_id = frame_place[1].story if frame_place else job.main_story
    if story_id is None or story_id not in job.stories:
        raise EditError("That frame contains no text that could continue in another frame.")
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
    label = "Link frame"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.into_page)
        frame = next((f for f in place.frames if f.id == self.into), None)
        if frame is None or frame.main:
            raise EditError("Another frame already flows into that frame.")
        if place.page is None:
            raise EditError(
                "Frames can be linked on pages. The main text frames of a master page are linked automatically."
            )
        if self.after == self.into:
            raise EditError("A frame cannot flow into itself.")
        frame_place = job.find_frame(self.after)
        story_id = frame_place[1].story if frame_place else job.main_story
        old = job.stories.get(frame.story or "")
        if old is not None and old.id == story_id:
            raise EditError("Both frames already show the same story.")
        story_id, order = led_after(job, self.after, self.into)
        edits: list[Primitive] = []
        led = place.with_exchanged(frame.showing(story=story_id))
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
    """End the flow before this frame; it keeps its position with an empty story of its own."""

    page: str
    frame: str
    do: Literal["unlink-frame"] = "unlink-frame"
    label = "Remove frame from the flow"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        frame = next((f for f in place.frames if f.id == self.frame), None)
        story = job.stories.get(frame.story or "") if frame else None
        if frame is None or story is None or frame.id not in story.frames:
            raise EditError("This frame was not linked by you and cannot be removed from the flow.")
        if story.id != job.main_story and story.frames == [frame.id]:
            raise EditError("This is the only frame of its story.")
        own = Story(
            story_text.new_id("s"), f"{story.name}, apart", [Paragraph(story_text.new_id("p"), job.body)], [frame.id]
        )
        new = place.with_exchanged(frame.showing(story=own.id))
        rest = tuple(f for f in story.frames if f != frame.id)
        return [put("stories", own), SetFrames(story.id, rest), *new]


@dataclass(slots=True, frozen=True)
class CutStory:
    """Divide a story at a frame: the text from ``at`` on becomes a story of its own, with that frame and those after
    it."""

    story: str
    at: Place
    frame: str
    do: Literal["cut-story"] = "cut-story"
    label = "Divide story"

    def expand(self, job: Job) -> list[Primitive]:
        story, ((index, offset),) = locate(job, self.story, self.at)
        if self.frame not in story.frames or story.frames[0] == self.frame:
            raise EditError("A story is divided at a frame that is linked to one before it.")
        number = story.frames.index(self.frame)
        whole = story.paragraphs[index]
        behind = replace(
            story_text.piece(whole, offset, len(whole.text)), id=story_text.new_id("p") if offset else whole.id
        )
        left: tuple[Paragraph, ...] = (story_text.piece(whole, 0, offset),) if offset else ()
        if not left and index == 0:
            left = (Paragraph(story_text.new_id("p"), whole.style),)
        moved = [behind, *story.paragraphs[index + 1 :]]
        new = Story(story_text.new_id("s"), f"{story.name}, part 2", moved, story.frames[number:])
        edits: list[Primitive] = [
            SpliceParagraphs(story.id, index, len(story.paragraphs) - index, left),
            SetFrames(story.id, tuple(story.frames[:number])),
            put("stories", new),
        ]
        gone = set(new.frames)
        for page in job.pages:
            led = {frame.id: (frame.showing(story=new.id),) for frame in page.frames if frame.id in gone}
            edits += object_edits(page.id, page.objects, exchanged(page.objects, led)) if led else []
        return edits


@dataclass(slots=True, frozen=True)
class GrowStory:
    """Give a story more room: ``into`` names existing frames and pages, in the order of the flow, then ``count`` pages
    are added.

    An existing one is an empty frame of a page, or a page, which gets a frame like ``like`` (else the story's last
    one), as do added pages.
    """

    story: str
    count: int
    into: tuple[str, ...] = ()
    like: str | None = None
    do: Literal["grow-story"] = "grow-story"
    label = "Add frames for overset text"

    def expand(self, job: Job) -> list[Primitive]:
        story = job.stories.get(self.story)
        frame_place = job.find_frame(self.like or story.frames[-1]) if story and story.frames else None
        if story is None or frame_place is None:
            raise EditError("This story is in no frame of a page.")
        if not 0 <= self.count <= MOST_GROWN or not (self.count or self.into):
            raise EditError(f"At most {MOST_GROWN} frames can be added at once.")
        index, model = frame_place
        rect = job.frame_rect(model, index)
        width, _ = job.page_size(index)

        def like(page: int) -> Object:
            mirrored = job.brief.side(page) != job.brief.side(index)
            own = replace(rect, x=width - rect.right) if mirrored else rect
            return replace(model.at(own).showing(story=story.id), id=story_text.new_id("f"), origin=None)

        last = max((at[0] for f in story.frames if (at := job.find_frame(f))), default=index)
        pages = dict[int, tuple[Object, ...]]()
        order, edits = list(story.frames), list[Primitive]()
        for key in self.into:
            page, frame = _spare(job, key)
            objects = pages.setdefault(page, job.pages[page].objects)
            if frame is None:
                new_frame = like(page)
                pages[page] = (*objects, new_frame)
            else:
                new_frame = frame.showing(story=story.id)
                pages[page] = exchanged(objects, {new_frame.id: (new_frame,)})
                if frame.story in job.stories:
                    edits.append(PutEntry("stories", frame.story, None))
            order.append(new_frame.id)
            last = max(last, page)
        for page, objects in pages.items():
            edits = [*object_edits(job.pages[page].id, job.pages[page].objects, objects), *edits]
        added = [
            Page(story_text.new_id("g"), job.pages[index].master, (like(last + n),)) for n in range(1, self.count + 1)
        ]
        if added:
            edits.append(SplicePages(last + 1, 0, tuple(added)))
        return [*edits, SetFrames(story.id, (*order, *(page.objects[0].id for page in added)))]


def is_empty(job: Job, frame: Object) -> bool:
    """Return whether a page's own text frame holds nothing and takes part in no flow."""
    if frame.text is None or frame.main or frame.origin is not None:
        return False
    story = job.stories.get(frame.story or "")
    return story is None or (story.frames == [frame.id] and not any(p.text for p in story.paragraphs))


def _spare(job: Job, key: str) -> tuple[int, Object | None]:
    """An empty frame by its id, with its page's index; or a page."""
    page, frame_place = job.page_index(key), job.find_frame(key)
    if page is not None:
        return page, None
    if frame_place is None or not is_empty(job, frame_place[1]):
        raise EditError("A frame that the story should continue in is no longer empty. Select another.")
    return frame_place
