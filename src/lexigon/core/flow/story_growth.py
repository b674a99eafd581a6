"""Room for a story that is too long: frames as high as their text, empty frames, empty pages, and only then new
pages."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from lexigon.core.document.limits import MOST_PAGES
from lexigon.core.document.model import Object, Page, exchanged
from lexigon.core.document.story_text import new_id
from lexigon.core.editing.edits import Primitive, SplicePages, object_edits
from lexigon.core.editing.intents import GrowStory
from lexigon.core.editing.intents.text.linking import is_empty
from lexigon.core.errors import LexigonError
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.fitting import height_of
from lexigon.core.flow.model import State
from lexigon.core.flow.text_area import fill_area


@dataclass(slots=True, frozen=True)
class Spare:
    """A frame that holds nothing, or with ``frame`` None a whole page."""

    page: int
    frame: Object | None = None


def spare_behind(composition: Composition, page: int) -> Iterator[Spare]:
    """Return the empty frames of a page and of the following pages, in reading order, up to the first page in use."""
    job = composition.job
    for index in range(page, len(job.pages)):
        frames = [f for f in job.pages[index].frames if is_empty(job, f)]
        yield from (
            Spare(index, f) for f in sorted(frames, key=lambda f: (f.rect.y, f.rect.x) if f.rect else (0.0, 0.0))
        )
        if index > page and not frames:
            own = job.pages[index]
            if own.objects or own.section is not None or composition.places.main(index):
                return
            yield Spare(index)


def growing(composition: Composition, story_id: str) -> GrowStory:
    """Return the intent that gives a story the room that it still needs. Raises LexigonError where it has enough, or
    where no room would help."""
    job, places, flow = composition.job, composition.places, composition.flows.get(story_id)
    if flow is None:
        raise LexigonError("That story is in no frame of a page.")
    if not flow.overset or story_id == job.main_story:
        raise LexigonError("Nothing of the story is overset.")
    story = job.stories[story_id]
    *_, area = places.led(story)
    state = flow.end

    def left(state: State) -> bool:
        return state.paragraph < len(flow) or bool(state.left)

    into: list[str] = []
    for spare in spare_behind(composition, area.page):
        if not left(state):
            break
        here = replace(area, page=spare.page, obstacles=())
        if spare.frame is not None:
            here = places.area(spare.page, spare.frame, True, [f for f, _ in job.page_frames(spare.page)])
        end = fill_area(flow, here, state, flow.grid).end
        if end == state:
            continue  # not even a line has room there
        state = end
        into.append(spare.frame.id if spare.frame else job.pages[spare.page].id)
    count = 0
    while left(state) and count < MOST_PAGES:
        end = fill_area(flow, replace(area, obstacles=()), state, flow.grid).end
        if end == state and count > 1:
            raise LexigonError(
                "The story does not fit into frames like this one, because a word or a line is too large. Enlarge the "
                "frame or reduce the type."
            )
        state, count = end, count + 1
    return GrowStory(story_id, count, tuple(into), story.frames[-1])


def paged(composition: Composition) -> list[Primitive]:
    """Return the page edits that make the job fit its main story: pages added at the end, or removed again.

    Only pages that were added for the flow, without objects or settings of their own, are removed. After the edits are
    applied, call ``settled``: the columns are already where they belong.
    """
    flow = composition.main
    if flow is None:
        return []
    pages = composition.job.pages
    used = 1 + max((column.slot.page for column in flow.columns if column.used), default=0)
    if used > len(pages):
        master = composition.growing_master()
        new = tuple(Page(new_id("g"), master, made_by_flow=True) for _ in range(used - len(pages)))
        return [SplicePages(len(pages), 0, new)]
    keep = len(pages)
    while keep > max(used, 1) and pages[keep - 1].made_by_flow and not pages[keep - 1].objects:
        keep -= 1
    return [SplicePages(keep, len(pages) - keep)] if keep < len(pages) else []


def grown(composition: Composition) -> list[Primitive]:
    """Return the edits that set the height of frames that always fit their text."""
    edits: list[Primitive] = []
    job = composition.job
    for index, page in enumerate(job.pages):
        for frame in page.frames if page.objects else ():
            if frame.text is not None and frame.text.fit == "height":
                edits += _grown(composition, index, frame)
    return edits


def _grown(composition: Composition, index: int, frame: Object) -> list[Primitive]:
    """The same for a frame of a page whose text flows through no other frame."""
    job = composition.job
    story, flow = job.stories.get(frame.story or ""), composition.flows.get(frame.story or "")
    if story is None or flow is None or story.id == job.main_story or len(story.frames) != 1:
        return []
    rect = job.frame_rect(frame, index)
    (area,) = composition.places.led(story)
    height = round(height_of(flow, area), 3)
    if abs(height - rect.height) <= 0.01:
        return []
    page = job.pages[index]
    own = frame.at(replace(rect, height=height))
    return list(object_edits(page.id, page.objects, exchanged(page.objects, {own.id: (own,)})))
