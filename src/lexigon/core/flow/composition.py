"""A job, composed: every story set and flowed, kept up to date edit by edit."""

from __future__ import annotations

import gc
from collections.abc import Iterable, Iterator
from contextlib import contextmanager

from lexigon.core.flow.column import Grid
from lexigon.core.flow.slots import Slot, main_slots, story_slots
from lexigon.core.flow.story import Column, SetParagraph, StoryFlow
from lexigon.core.job.cascade import Cascade
from lexigon.core.job.edits import Primitive, SetName, SplicePages, SpliceParagraphs
from lexigon.core.job.model import Job, Page, Story
from lexigon.core.job.text import new_id
from lexigon.core.type.fonts import FontLibrary, shipped

MOST_PAGES = 5000


class Composition:
    """The composed state of one job. ``job`` is the live object; tell ``follow`` what was done to it."""

    def __init__(self, job: Job, library: FontLibrary | None = None) -> None:
        self.job = job
        self.library = library or shipped()
        self.cascade = Cascade(job)
        self.flows: dict[str, StoryFlow] = {}
        self._by_page: dict[int, list[tuple[str, Column]]] | None = None
        self._compose({})

    @property
    def main(self) -> StoryFlow | None:
        """The flow of the job's main text."""
        return self.flows.get(self.job.main_story or "")

    def columns_on(self, page: int) -> list[tuple[str, Column]]:
        """(story id, column) pairs on a page."""
        if self._by_page is None:
            self._by_page = {}
            for story_id, flow in self.flows.items():
                for column in flow.columns:
                    self._by_page.setdefault(column.slot.page, []).append((story_id, column))
        return self._by_page.get(page, [])

    def page_of(self, story_id: str, paragraph_id: str, offset: int) -> int | None:
        """The page a place in a text stands on; None where the text is not placed."""
        flow = self.flows.get(story_id)
        if flow is None:
            return None
        index = next((i for i, p in enumerate(flow.paragraphs) if p.paragraph.id == paragraph_id), None)
        if index is None:
            return None
        found = None
        for column in flow.columns:
            if column.end[0] < index:
                continue
            for block in column.blocks:
                if block.paragraph == index:
                    lines = flow.lines(index, column.slot.rect.width, block.base)
                    found = column.slot.page
                    if offset < lines[block.last_line - 1].next or block.last_line == len(lines):
                        return found
            if column.begin[0] > index:
                break
        return found

    def follow(self, edits: Iterable[Primitive]) -> None:
        """Bring the composition up to date with edits that were just applied to the job."""
        edits = [edit for edit in edits if not isinstance(edit, SetName)]
        self._by_page = None
        if all(isinstance(edit, SpliceParagraphs) for edit in edits):
            for edit in edits:
                if isinstance(edit, SpliceParagraphs) and edit.story in self.flows:
                    self.flows[edit.story].change(edit.at, edit.remove, edit.insert)
            return
        cascade = Cascade(self.job)
        kept: dict[int, SetParagraph] = {}
        if cascade.same_as(self.cascade):
            kept = {id(p.paragraph): p for flow in self.flows.values() for p in flow.paragraphs}
        else:
            self.cascade = cascade
        self._compose(kept)

    def settle(self) -> list[Primitive]:
        """The page edits that make the job fit its main text: pages added at the end, or given back.

        Only pages made for the flow, with nothing of their own, are given back. When the edits are
        applied, call ``settled``: the columns are already where they belong.
        """
        flow = self.main
        if flow is None:
            return []
        pages = self.job.pages
        used = 1 + max((column.slot.page for column in flow.columns if column.blocks), default=0)
        if used > len(pages):
            master = self._growing_master()
            new = tuple(Page(new_id("g"), master, made_by_flow=True) for _ in range(used - len(pages)))
            return [SplicePages(len(pages), 0, new)]
        keep = len(pages)
        while keep > max(used, 1) and pages[keep - 1].made_by_flow and not pages[keep - 1].frames:
            keep -= 1
        return [SplicePages(keep, len(pages) - keep)] if keep < len(pages) else []

    def settled(self) -> None:
        """The edits of ``settle`` were applied."""
        self._by_page = None
        count = len(self.job.pages)
        for flow in self.flows.values():
            flow.pages = count
            flow.columns = [column for column in flow.columns if column.slot.page < count]

    def _compose(self, kept: dict[int, SetParagraph]) -> None:
        self._by_page = None
        self.grid = Grid(self.job.brief.grid_start, self.job.brief.grid_step)
        flows = {}
        with _uncollected():
            for story in self._flowing():
                slots = self._main_slots if story.id == self.job.main_story else _HandLed(self.job, story)
                flows[story.id] = StoryFlow(
                    story.paragraphs, self.cascade, self.library, self.grid, slots, len(self.job.pages), kept
                )
        self.flows = flows

    def _flowing(self) -> Iterator[Story]:
        """The stories that stand on pages; those of master frames are set page by page when painted."""
        for story in self.job.stories.values():
            if story.id == self.job.main_story or story.frames:
                yield story

    def _main_slots(self) -> Iterator[Slot]:
        for page in range(len(self.job.pages)):
            yield from main_slots(self.job, page)
        master = self._growing_master()
        if master is not None:
            for page in range(len(self.job.pages), MOST_PAGES):
                yield from main_slots(self.job, page, master)

    def _growing_master(self) -> str | None:
        """The master of pages added for the flow: the last page's that carries a main text frame."""
        for page in reversed(self.job.pages):
            master = self.job.masters.get(page.master or "")
            if master and any(frame.role == "main" for frame in master.recto):
                return master.id
        return None


@contextmanager
def _uncollected() -> Iterator[None]:
    """Without the garbage collector: a book is millions of small values and no cycles, so it would find nothing."""
    was = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was:
            gc.enable()


class _HandLed:
    """The slots of a story led by hand, asked for anew at each filling."""

    def __init__(self, job: Job, story: Story) -> None:
        self.job, self.story = job, story

    def __call__(self) -> Iterator[Slot]:
        return iter(story_slots(self.job, self.story))
