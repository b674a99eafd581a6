"""Several records on a page: an object repeated for all records in rows and columns, with headings of groups.

The first page is the page that has the object; records that do not fit follow on further pages with its master page.
The result is a job whose pages can be checked, printed and edited like any others.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from lexigon.core.document.limits import MOST_PAGES
from lexigon.core.document.model import Job, Object, Page, Repeat, all_in, bounds_of, mapped
from lexigon.core.document.story_text import new_id
from lexigon.core.editing.clipping import clipped
from lexigon.core.editing.edits import apply_all
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.jobs import job_from_plain
from lexigon.core.fileformat.values import plain
from lexigon.core.geometry import Affine, Rect
from lexigon.core.merge.applying import unbound
from lexigon.core.merge.merger import Merger

SLACK = 0.01
"""Points by which objects may exceed the room."""


@dataclass(slots=True)
class _Sheet:
    """A page being filled: its objects so far, and where the next row begins."""

    objects: list[Object] = field(default_factory=list)
    y: float = 0.0
    column: int = 0


@dataclass(slots=True, frozen=True)
class _Design:
    """What is repeated: the page it is on, the object and its heading with their boxes."""

    index: int
    object: Object
    box: Rect
    repeat: Repeat
    heading: Object | None
    heading_box: Rect | None


def repeated_object(job: Job) -> tuple[int, Object] | None:
    """Return the page (its index) and the object that is repeated for all records; None if there is none."""
    return next(((at, one) for at, page in enumerate(job.pages) for one in page.objects if one.repeat), None)


def repeated_job(merger: Merger, numbers: Sequence[int], name: str) -> Job:
    """Return a new job called ``name`` in which the object of the page is repeated for the records of these numbers.
    Raises LexigonError if there is no such object, or no room for one."""
    merger.reset()
    job = job_from_plain(plain(merger.job))
    design = _design_of(job)
    area = job.text_area(design.index)
    sheets = _Filling(merger, job, design, area).filled(_grouped(merger, numbers, design.repeat.group))
    page = job.pages[design.index]
    gone = {design.object.id, design.heading.id if design.heading else ""}
    rest = tuple(one for one in page.objects if one.id not in gone)
    pages = [replace(page, objects=(*rest, *sheets[0].objects), bindings=())]
    for sheet in sheets[1:]:
        pages.append(Page(new_id("g"), page.master, tuple(sheet.objects), guides=page.guides))
    if len(job.pages) + len(pages) > MOST_PAGES:
        raise LexigonError(f"These records would need more than {MOST_PAGES:,} pages. Export them in several ranges.")
    job.pages[design.index : design.index + 1] = pages
    used = {one.story for each in job.pages for one in all_in(each.objects) if one.story}
    lost = {one.story for one in all_in((design.object, *([design.heading] if design.heading else [])))} - used
    job.stories = {key: story for key, story in job.stories.items() if key not in lost}
    return replace(job, id=new_id("j"), name=name, record_sets={}, record_adjustments={})


def _design_of(job: Job) -> _Design:
    place = repeated_object(job)
    if place is None:
        raise LexigonError("No object is repeated for the records. Select one on the board and repeat it.")
    index, one = place
    box, repeat = bounds_of((one,)), one.repeat or Repeat()
    heading = next((other for other in job.pages[index].objects if other.id == repeat.heading), None)
    if box is None:
        raise LexigonError("The repeated object has no position.")
    return _Design(index, one, box, repeat, heading, bounds_of((heading,)) if heading else None)


def _grouped(merger: Merger, numbers: Sequence[int], group: str) -> list[tuple[str, list[int]]]:
    """Records by the values of a field, in order of first appearance; all in one group without a field."""
    groups: dict[str, list[int]] = {}
    for number in numbers:
        groups.setdefault(merger.record(number).get(group, "") if group else "", []).append(number)
    return list(groups.items())


class _Filling:
    def __init__(self, merger: Merger, job: Job, design: _Design, area: Rect) -> None:
        self.merger, self.job, self.design, self.area = merger, job, design, area
        box, repeat = design.box, design.repeat
        room = area.right - box.x + SLACK
        fitting = int((room + repeat.gap[0]) // (box.width + repeat.gap[0]))
        self.columns = min(repeat.columns or fitting, fitting)
        if self.columns < 1 or area.y + box.height > area.foot + SLACK:
            raise LexigonError("The repeated object does not fit within the margins of its page.")
        first = design.box.y if design.heading_box is None else min(design.box.y, design.heading_box.y)
        self.sheets = [_Sheet(y=first)]

    def filled(self, groups: Sequence[tuple[str, list[int]]]) -> list[_Sheet]:
        for _, numbers in groups:
            self._begin_group(numbers[0])
            for number in numbers:
                self._place(number)
            self._end_row()
        return self.sheets

    @property
    def sheet(self) -> _Sheet:
        return self.sheets[-1]

    def _begin_group(self, number: int) -> None:
        heading, box = self.design.heading, self.design.heading_box
        if heading is None or box is None:
            return
        distance = max(self.design.box.y - box.foot, 0.0)
        self._make_room(box.height + distance + self.design.box.height)
        self._add(heading, box, number, box.x, self.sheet.y)
        self.sheet.y += box.height + distance

    def _place(self, number: int) -> None:
        box, repeat = self.design.box, self.design.repeat
        if self.sheet.column == 0:
            self._make_room(box.height)
        self._add(
            self.design.object, box, number, box.x + self.sheet.column * (box.width + repeat.gap[0]), self.sheet.y
        )
        self.sheet.column += 1
        if self.sheet.column == self.columns:
            self._end_row()

    def _end_row(self) -> None:
        if self.sheet.column:
            self.sheet.y += self.design.box.height + self.design.repeat.gap[1]
            self.sheet.column = 0

    def _make_room(self, height: float) -> None:
        """Begin another page if there is no room for so much on this one."""
        if self.sheet.y + height > self.area.foot + SLACK and self.sheet.objects:
            self.sheets.append(_Sheet(y=self.area.y))

    def _add(self, one: Object, box: Rect, number: int, x: float, y: float) -> None:
        """Add a copy of an object as a record sets it, with its box at a place."""
        self.merger.show(number)
        page = self.merger.job.pages[self.design.index]
        own = next((other for other in page.objects if other.id == one.id), None)
        if own is None:
            return  # the record hides it; its place stays empty
        copies = clipped([(own,)], self.merger.job.stories, self.merger.job.inlays, self.merger.job.tables, led=True)
        apply_all(self.job, copies.edits)
        (copy,) = copies.holders[0]
        moved = mapped(unbound(copy), Affine(1.0, 0.0, 0.0, 1.0, x - box.x, y - box.y))
        self.sheet.objects.append(moved)
