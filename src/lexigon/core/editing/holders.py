"""Holders of objects: a page, one half of a master page, or stories."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass

from lexigon.core.document.anchors import anchors_in
from lexigon.core.document.holder_keys import INLAYS, master_half
from lexigon.core.document.model import SIDES, Job, Master, Object, Page, Side, exchanged, frames_in
from lexigon.core.editing.edits import Primitive, object_edits, objects_of
from lexigon.core.geometry import Rect


@dataclass(slots=True, frozen=True)
class Holder:
    """``index`` and ``page`` are those of a page, ``master`` is that of a side of a master page; without either, the
    holder of anchored frames."""

    job: Job
    side: Side
    index: int = -1
    page: Page | None = None
    master: Master | None = None

    @property
    def objects(self) -> tuple[Object, ...]:
        """Return the objects of the holder, groups whole."""
        if self.page is not None:
            return self.page.objects
        return self.master.half(self.side) if self.master is not None else tuple(self.job.inlays.values())

    @property
    def frames(self) -> tuple[Object, ...]:
        """Return the objects of the holder, those in groups included."""
        return frames_in(self.objects)

    def inherited_objects(self) -> list[Object]:
        """Return what it shows of the master pages below it, groups whole."""
        if self.page is not None:
            return [one for one, below in self.job.page_objects(self.index) if below]
        if self.master is None:
            return []
        return [one for one, owner in self.job.master_objects(self.master.id, self.side) if owner != self.master.id]

    def inherited(self) -> tuple[Object, ...]:
        """The same without the groups."""
        return frames_in(tuple(self.inherited_objects()))

    def rect(self, frame: Object) -> Rect:
        if frame.rect is not None:
            return frame.rect
        return self.job.text_area(self.index) if self.page else self.job.master_area(self.master, self.side)

    @property
    def key(self) -> str:
        """Return what edits call it."""
        if self.page is not None:
            return self.page.id
        if self.master is None:
            return INLAYS
        return f"master:{self.master.id}:{self.side}"

    def with_objects(self, objects: tuple[Object, ...]) -> list[Primitive]:
        """The edits that give it these objects."""
        return object_edits(self.key, self.objects, objects)

    def with_new(self, *objects: Object) -> list[Primitive]:
        """Return the edits that add objects above all others there."""
        return self.with_objects((*self.objects, *objects))

    def with_exchanged(self, *objects: Object) -> list[Primitive]:
        """The edits that put objects in the place of those of the same id."""
        return self.with_objects(exchanged(self.objects, {one.id: (one,) for one in objects}))


def holder(job: Job, key: str) -> Holder:
    """Find a page by its id, a side of a master page by ``master:<id>:<side>``, or the anchored frames by ``inlays``.
    Raises EditError if it is missing."""
    objects_of(job, key)
    if key == INLAYS:
        return Holder(job, "recto")
    if side := master_half(key):
        return Holder(job, side[1], master=job.masters[side[0]])
    index = job.page_index(key)
    assert index is not None
    return Holder(job, job.brief.side(index), index, job.pages[index])


def everywhere(job: Job) -> Iterator[tuple[str, tuple[Object, ...]]]:
    """Return the objects of each page, each half of a master page and the stories, with the names of the holders."""
    for page in job.pages:
        yield page.id, page.objects
    for master in job.masters.values():
        for side in SIDES:
            yield f"master:{master.id}:{side}", master.half(side)
    if job.inlays:
        yield INLAYS, tuple(job.inlays.values())


def stories_in_use(job: Job, without: Collection[str] = ()) -> set[str]:
    """The stories that some frame shows (those named in ``without`` left out), and the main one."""
    used = {job.main_story} if job.main_story else set()
    used |= {
        anchor.ref for story in job.stories.values() for anchor in anchors_in(story.paragraphs) if anchor.kind == "note"
    }
    for _, objects in everywhere(job):
        used |= {frame.story for frame in frames_in(objects) if frame.story and frame.id not in without}
    return used
