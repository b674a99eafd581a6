"""Intents about pages: adding, copying, moving, deleting them, their masters, numbers and sections.

Facing pages stay in pairs: a page that comes to the other side of its spread keeps the distance of its frames
from its text area, and blanks before sections that must open on one side are made or taken away.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import partial
from typing import Literal

from lexigon.core.document import story_text
from lexigon.core.document.limits import MOST_PAGES
from lexigon.core.document.model import Job, Object, Page, Section, Side, each_frame
from lexigon.core.document.page_ranges import page_range
from lexigon.core.editing.clipping import clipped
from lexigon.core.editing.edits import EditError, Primitive, page_edits
from lexigon.core.editing.intents.objects.frames import without_frames
from lexigon.core.numerals import integer

MOST_AT_ONCE = 2000


def arranged(job: Job, pages: Iterable[Page], copied: dict[str, int] | None = None) -> list[Page]:
    """The pages in this order as they must stand: fillers where sections need them, frames moved with their side.

    ``copied`` gives for pages that are new the index of the page they are copies of.
    """
    brief = job.brief
    sides: dict[str, Side] = {page.id: brief.side(index) for index, page in enumerate(job.pages)}
    sides.update({page_id: brief.side(index) for page_id, index in (copied or {}).items()})
    ordered: list[Page] = []
    for page in pages:
        if page.filler:
            continue
        opens = page.section.opens if page.section else "anywhere"
        if brief.facing and opens != "anywhere" and brief.side(len(ordered)) != opens:
            ordered.append(Page(story_text.new_id("g"), filler=True))
        side = brief.side(len(ordered))
        before = sides.get(page.id, side)
        if before != side and page.objects:
            master = job.masters.get(page.master or "")
            shift = job.master_area(master, side).x - job.master_area(master, before).x
            page = replace(page, objects=each_frame(page.objects, partial(_shifted, shift=shift)))
        ordered.append(page)
    return ordered


def _shifted(frame: Object, shift: float) -> Object:
    return frame.at(frame.rect.moved(shift, 0)) if frame.rect else frame


def rearranged(job: Job, pages: Iterable[Page], copied: dict[str, int] | None = None) -> list[Primitive]:
    """The edits from the job's pages to these, arranged; only the stretch that differs is touched."""
    old, new = job.pages, arranged(job, pages, copied)
    for at, page in enumerate(new):
        if page.filler and at < len(old) and old[at].filler:
            new[at] = old[at]  # a filler page in the place of another is the same one
    if not any(not page.filler for page in new):
        raise EditError("A job must have at least one page.")
    if len(new) > MOST_PAGES:
        raise EditError(f"A job has at most {integer(MOST_PAGES)} pages.")
    return page_edits(job, new)


def chosen(job: Job, ids: Iterable[str]) -> list[int]:
    """The indexes of the pages named, in order. Raises EditError if one is gone or none is named."""
    ids_ = set(ids)
    indexes = [index for index, page in enumerate(job.pages) if page.id in ids_]
    if not ids_ or len(indexes) != len(ids_):
        raise EditError("A selected page is no longer in the job.")
    return indexes


@dataclass(slots=True, frozen=True)
class AddPages:
    """New pages before the page at index ``at`` (the number of pages adds them at the end)."""

    at: int
    count: int = 1
    master: str | None = None
    like: str | None = None
    """A page whose master they use."""
    do: Literal["add-pages"] = "add-pages"
    label = "Add pages"

    def expand(self, job: Job) -> list[Primitive]:
        if not 1 <= self.count <= MOST_AT_ONCE:
            raise EditError(f"Add 1 to {integer(MOST_AT_ONCE)} pages at a time.")
        if not 0 <= self.at <= len(job.pages):
            raise EditError("That page is no longer in the job.")
        if self.master is not None and self.master not in job.masters:
            raise EditError("That master page is no longer in the job.")
        master = self.master
        if self.like is not None:
            master = job.pages[chosen(job, [self.like])[0]].master
        new = [Page(story_text.new_id("g"), master) for _ in range(self.count)]
        return rearranged(job, [*job.pages[: self.at], *new, *job.pages[self.at :]])


@dataclass(slots=True, frozen=True)
class DuplicatePages:
    """Add copies of pages, with their frames and stories, before index ``at``; after the last of them by default."""

    pages: tuple[str, ...]
    at: int | None = None
    do: Literal["duplicate-pages"] = "duplicate-pages"
    label = "Duplicate pages"

    def expand(self, job: Job) -> list[Primitive]:
        indexes = chosen(job, self.pages)
        at = indexes[-1] + 1 if self.at is None else self.at
        if not 0 <= at <= len(job.pages):
            raise EditError("That page is no longer in the job.")
        copy = clipped(
            [job.pages[index].objects for index in indexes],
            job.stories,
            job.inlays,
            job.tables,
            led=True,
            main=job.main_story,
        )
        new = [
            replace(job.pages[index], id=story_text.new_id("g"), objects=objects, section=None, made_by_flow=False)
            for index, objects in zip(indexes, copy.holders, strict=True)
        ]
        edits = rearranged(
            job, [*job.pages[:at], *new, *job.pages[at:]], dict(zip((p.id for p in new), indexes, strict=True))
        )
        return [*copy.edits, *edits]


@dataclass(slots=True, frozen=True)
class MovePages:
    """Move pages, in their order, before the page that is at index ``at`` now."""

    pages: tuple[str, ...]
    at: int
    do: Literal["move-pages"] = "move-pages"
    label = "Move pages"

    def expand(self, job: Job) -> list[Primitive]:
        indexes = chosen(job, self.pages)
        if not 0 <= self.at <= len(job.pages):
            raise EditError("That place is no longer in the job.")
        moved = {job.pages[index].id for index in indexes}
        before = [page for page in job.pages[: self.at] if page.id not in moved]
        after = [page for page in job.pages[self.at :] if page.id not in moved]
        return rearranged(job, [*before, *(job.pages[i] for i in indexes), *after])


@dataclass(slots=True, frozen=True)
class DeletePages:
    """Delete pages with their frames. A section that began on one begins on the next remaining page."""

    pages: tuple[str, ...]
    do: Literal["delete-pages"] = "delete-pages"
    label = "Delete pages"

    def expand(self, job: Job) -> list[Primitive]:
        indexes = set(chosen(job, self.pages))
        if len(indexes) == len(job.pages):
            raise EditError("A job must have at least one page. The last page cannot be deleted.")
        remaining: list[Page] = []
        orphan: Section | None = None
        for index, page in enumerate(job.pages):
            if index in indexes:
                orphan = page.section or orphan
                continue
            if orphan is not None and page.section is None and not page.filler:
                page = replace(page, section=orphan)
            if not page.filler:
                orphan = None
            remaining.append(page)
        gone = [frame for index in indexes for frame in job.pages[index].frames]
        return [*rearranged(job, remaining), *without_frames(job, gone)]


@dataclass(slots=True, frozen=True)
class ApplyMaster:
    """Give pages a master: those named, or ``which`` of all, or a typed range of page places such as 3-8, 12."""

    master: str | None
    pages: tuple[str, ...] = ()
    which: Literal["these", "all", "odd", "even", "range"] = "these"
    range: str = ""
    do: Literal["apply-master"] = "apply-master"
    label = "Apply master page"

    def expand(self, job: Job) -> list[Primitive]:
        if self.master is not None and self.master not in job.masters:
            raise EditError("That master page is no longer in the job.")
        every = list(range(len(job.pages)))
        indexes = {
            "these": lambda: chosen(job, self.pages),
            "all": lambda: every,
            "odd": lambda: every[::2],
            "even": lambda: every[1::2],
            "range": lambda: page_range(self.range, len(every)),
        }[self.which]()
        positions = set(indexes)
        new = [
            replace(page, master=self.master, made_by_flow=page.made_by_flow and self.master is not None)
            if index in positions and not page.filler
            else page
            for index, page in enumerate(job.pages)
        ]
        return rearranged(job, new)


@dataclass(slots=True, frozen=True)
class NumberPages:
    """Show or hide the number of pages."""

    pages: tuple[str, ...]
    shown: bool
    do: Literal["number-pages"] = "number-pages"

    @property
    def label(self) -> str:
        return "Show page numbers" if self.shown else "Hide page numbers"

    def expand(self, job: Job) -> list[Primitive]:
        positions = set(chosen(job, self.pages))
        return rearranged(
            job, [replace(p, number_shown=self.shown) if i in positions else p for i, p in enumerate(job.pages)]
        )


@dataclass(slots=True, frozen=True)
class PutSection:
    """Begin a section on a page, change the one that begins there, or (with none) join it to the one before."""

    page: str
    section: Section | None
    do: Literal["put-section"] = "put-section"

    @property
    def label(self) -> str:
        return "Change section" if self.section else "Merge sections"

    def expand(self, job: Job) -> list[Primitive]:
        (index,) = chosen(job, (self.page,))
        section = self.section
        if section is not None:
            if section.start is not None and not 0 <= section.start <= 100_000:
                raise EditError("A section starts with a page number from 0 to 100,000.")
            section = replace(
                section, name=story_text.clean(section.name).strip()[:80], prefix=story_text.clean(section.prefix)[:20]
            )
        pages = list(job.pages)
        pages[index] = replace(pages[index], section=section)
        return rearranged(job, pages)
