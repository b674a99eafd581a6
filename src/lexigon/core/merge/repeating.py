"""Several records on a page: an object repeated for all records in rows and columns, with headings of groups.

The first page is the page that has the object; records that do not fit follow on further pages with its master page.
Entries whose text is longer than that of the design may be higher (``restacking``); a row is as high as the highest.
The result is a job whose pages can be checked, printed and edited like any others.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
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
from lexigon.core.merge.restacking import SLACK, Entry, restacked


@dataclass(slots=True)
class _Sheet:
    """A page being filled: where the next row begins, its objects so far, and the boxes of its records by their
    numbers."""

    y: float
    objects: list[Object] = field(default_factory=list)
    boxes: dict[int, Rect] = field(default_factory=dict)


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
    pages = RepeatedPages(merger, numbers)
    pages.fill()
    return pages.finished(name)


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


class RepeatedPages:
    """The pages of an object that is repeated for records, filled as far as they are needed."""

    def __init__(self, merger: Merger, numbers: Sequence[int]) -> None:
        """``numbers`` are those of the records. Raises LexigonError if no object is repeated, or if there is no room
        for one."""
        merger.reset()
        self.merger = merger
        self.job = job_from_plain(plain(merger.job))
        self.design = design = _design_of(self.job)
        self.page = self.job.pages[design.index]
        area, gap = self.job.text_area(design.index), design.repeat.gap[0]
        fitting = int((area.right - design.box.x + SLACK + gap) // (design.box.width + gap))
        self.columns = min(design.repeat.columns or fitting, fitting)
        if self.columns < 1 or area.y + design.box.height > area.foot + SLACK:
            raise LexigonError("The repeated object does not fit within the margins of its page.")
        self.indent = design.box.x - area.x
        first = design.box.y if design.heading_box is None else min(design.box.y, design.heading_box.y)
        self.sheets = [_Sheet(first)]
        self._leader = -1
        """The first record of the group."""
        self._rest = self._rows(numbers)

    def _rows(self, numbers: Sequence[int]) -> Iterator[tuple[bool, list[int]]]:
        """The records of each row, and whether it begins a group. Groups are in order of their first records."""
        groups: dict[str, list[int]] = {}
        group = self.design.repeat.group
        for number in numbers:
            groups.setdefault(self.merger.record(number).get(group, "") if group else "", []).append(number)
        for own in groups.values():
            for at in range(0, len(own), self.columns):
                yield at == 0, own[at : at + self.columns]

    def fill(self, pages: int | None = None) -> bool:
        """Fill pages until all records have their place, or until so many ``pages`` are full. Returns whether all
        records have their place."""
        while pages is None or len(self.sheets) <= pages:
            row = next(self._rest, None)
            if row is None:
                return True
            self._place(*row)
        return False

    def page_with(self, number: int, most: int) -> int | None:
        """Fill pages until the one with a record is full. Returns its number among the pages that are filled, from 0;
        None if the record is on none of the first ``most``."""
        done = False
        while True:
            at = next((at for at, sheet in enumerate(self.sheets[:most]) if number in sheet.boxes), None)
            if done or len(self.sheets) > (most if at is None else at + 1):
                return at
            done = self.fill(len(self.sheets))

    def _place(self, begins: bool, numbers: list[int]) -> None:
        """Place a row, below the heading of its group where it begins one, or continues it on another page."""
        design, entries = self.design, [self._entry(self.design.object, number) for number in numbers]
        height = design.box.height + max((one.growth for one in entries if one), default=0.0)
        if begins:
            self._leader = numbers[0]
            self._place_heading(height)
        elif self._make_room(height) and design.repeat.heading_on_each_page:
            self._place_heading(height)
        margin = self.job.text_area(self.index).x
        for column, (number, entry) in enumerate(zip(numbers, entries, strict=True)):
            right = self.indent + column * (design.box.width + design.repeat.gap[0])
            self._add(entry, design.box, right)
            self.sheet.boxes[number] = Rect(margin + right, self.sheet.y, design.box.width, height)
        self.sheet.y += height + design.repeat.gap[1]

    def _place_heading(self, height: float) -> None:
        """Place the heading of the group, with room for a row of this ``height`` below it, if the design has one."""
        heading, box = self.design.heading, self.design.heading_box
        if heading is None or box is None:
            self._make_room(height)
            return
        entry = self._entry(heading, self._leader)
        distance = max(self.design.box.y - box.foot, 0.0) + box.height + (entry.growth if entry else 0.0)
        self._make_room(distance + height)
        self._add(entry, box, box.x - self.job.text_area(self.design.index).x)
        self.sheet.y += distance

    @property
    def sheet(self) -> _Sheet:
        return self.sheets[-1]

    @property
    def index(self) -> int:
        """The index of the page that is being filled."""
        return self.design.index + len(self.sheets) - 1

    def _make_room(self, height: float) -> bool:
        """Begin another page if there is no room for this ``height`` on this one. Returns whether it did."""
        if self.sheet.y + height <= self.job.text_area(self.index).foot + SLACK or not self.sheet.objects:
            return False
        if len(self.job.pages) >= MOST_PAGES:
            raise LexigonError(
                f"These records would need more than {MOST_PAGES:,} pages. Export them in several ranges."
            )
        page = Page(new_id("g"), self.page.master, guides=self.page.guides)
        self.job.pages.insert(self.index + 1, page)
        self.sheets.append(_Sheet(self.job.text_area(self.index + 1).y))
        return True

    def _entry(self, one: Object, number: int) -> Entry | None:
        """An object of the design as a record sets it; None if the record hides it: its place stays empty."""
        self.merger.show(number)
        own = next((other for other in self.merger.job.pages[self.design.index].objects if other.id == one.id), None)
        if own is None:
            return None
        entry = restacked(one, own)
        job = self.merger.job
        copies = clipped([(entry.object,)], job.stories, job.inlays, job.tables, led=True)
        apply_all(self.job, copies.edits)
        return Entry(unbound(copies.holders[0][0]), entry.growth)

    def _add(self, entry: Entry | None, box: Rect, right: float) -> None:
        """Add an entry, whose box in the design is given, so far to the right of the margin."""
        if entry is not None:
            x = self.job.text_area(self.index).x + right
            self.sheet.objects.append(mapped(entry.object, Affine(1.0, 0.0, 0.0, 1.0, x - box.x, self.sheet.y - box.y)))

    def finished(self, name: str) -> Job:
        """Return the job with the pages that are filled so far. It shares its stories with this object."""
        design, job = self.design, self.job
        gone = {design.object.id, design.heading.id if design.heading else ""}
        rest = tuple(one for one in self.page.objects if one.id not in gone)
        pages = list(job.pages)
        for at, sheet in enumerate(self.sheets, design.index):
            own = (*rest, *sheet.objects) if at == design.index else tuple(sheet.objects)
            pages[at] = replace(pages[at], objects=own, bindings=())
        used = {one.story for each in pages for one in all_in(each.objects) if one.story}
        lost = {one.story for one in all_in((design.object, *([design.heading] if design.heading else [])))} - used
        stories = {key: story for key, story in job.stories.items() if key not in lost}
        return replace(
            job, id=new_id("j"), name=name, pages=pages, stories=stories, record_sets={}, record_adjustments={}
        )
