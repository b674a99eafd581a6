"""A merger: a copy of a job that shows one record after another.

Only what a record changes is composed again: the edits of the record before are undone, those of the next applied, and
the composition follows both. Records may be shown in any order.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from contextlib import suppress
from dataclasses import dataclass, field
from datetime import date
from functools import partial
from pathlib import Path

from lexigon.core.check.findings import Finding, findings_of
from lexigon.core.document.model import Job, RecordAdjustment, RecordSet
from lexigon.core.editing.edits import Primitive, apply_all
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.jobs import job_from_plain
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.workspace import Workspace
from lexigon.core.merge.applying import MergePlan, Problem
from lexigon.core.merge.expressions import Surroundings
from lexigon.core.merge.files import FileNames
from lexigon.core.merge.model import RecordError, Records
from lexigon.core.merge.storage import RecordRows
from lexigon.core.press.document import Part
from lexigon.core.type.fonts import FontLibrary

OF_RECORD = ("room", "pictures", "codes", "type")
OF_DESIGN = ("edges", "pages")
"""Subjects of checks whose findings count for each record, and of those that count where the design without one has
no such finding: Press reports those."""
Find = Callable[[str], Path | None]


@dataclass(slots=True)
class Merged:
    """A record as it is shown: its number (from 0), its values, what names it, and the pages it uses."""

    number: int
    record: dict[str, str]
    key: str
    pages: list[int]
    problems: list[Problem] = field(default_factory=list)


class Merger:
    """Shows the records of a set in a copy of a job."""

    def __init__(
        self,
        job: Job,
        records: RecordSet,
        find: Find | None = None,
        today: date | None = None,
        library: FontLibrary | None = None,
        other_files: Iterable[str] = (),
    ) -> None:
        """``find`` gives the files of the job and of its records. ``other_files`` are names of pictures that are not in
        the job, for suggestions."""
        self.workspace = Workspace(job_from_plain(plain(job)), library or find, today)
        self.composition.find = self.composition.find or find
        self.job = self.workspace.job
        self.rows = RecordRows(records, find or (lambda name: None))
        self.around = Surroundings(job.brief.language, self._other_sets(records, find))
        families = {face.family for face in self.composition.library.faces}
        self.plan = MergePlan(self.job, records.names, families, other_files)
        self.adjustments: dict[str, list[RecordAdjustment]] = {}
        for one in job.record_adjustments.values():
            if one.set == records.id:
                self.adjustments.setdefault(one.record, []).append(one)
        self.shown: Merged | None = None
        self._undo: list[Primitive] = []
        self._template: list[Finding] | None = None
        self._numbers: list[int] | None = None

    @property
    def other_sets(self) -> bool:
        """Return whether computed fields look up other record sets."""
        return bool(self.around.sets)

    @property
    def composition(self) -> Composition:
        return self.workspace.composition

    def _other_sets(self, records: RecordSet, find: Find | None) -> dict[str, Records]:
        """Return the sets that the computed fields of the records may look up."""
        if find is None or not any("lookup" in one.expression.casefold() for one in records.computed):
            return {}
        others: dict[str, Records] = {}
        for one in self.job.record_sets.values():
            with suppress(RecordError):  # one whose files are missing is not there to be looked up
                if one.id != records.id:
                    others[one.name] = RecordRows(one, find).whole(Surroundings(self.job.brief.language))
        return others

    def numbers(self) -> list[int]:
        """Return the numbers of the records that are merged, without those switched off."""
        if self._numbers is None:
            self._numbers = [number for number, row in enumerate(self.rows) if row.on]
        return list(self._numbers)

    def record(self, number: int) -> dict[str, str]:
        """Return a record with its computed fields."""
        return self.rows.record(number, self.around)[0]

    def pictures_named(self, names: Iterable[str]) -> list[str]:
        """Return those of the names of picture files that records name exactly, once each."""
        files = FileNames(names)
        templates = [
            template
            for _, _, bound in self.plan.holders
            for one in bound
            for binding, template in one.bindings
            if binding.property == "picture"
        ]
        matches: dict[str, None] = {}
        for number in range(len(self.rows)):
            record = self.record(number)
            for template in templates:
                match = files.match(template.of(record))
                if match.state == "found":
                    matches[match.files[0]] = None
        return list(matches)

    def show(self, number: int) -> Merged:
        """Show a record. Raises RecordError if there is none of that number, or if it cannot be set."""
        if self.shown is not None and self.shown.number == number:
            return self.shown
        if not 0 <= number < len(self.rows):
            raise RecordError("That record is no longer in the set.")
        record, faults = self.rows.record(number, self.around)
        key = self.rows.key(number, record)
        done = self._reset()
        try:
            applied = self.plan.apply(record, self.adjustments.get(key, ()))
            undo = self._undo = apply_all(self.job, applied.edits)
        except LexigonError:
            self.composition.follow(done)  # the job is as it is without a record, and so is what is composed of it
            raise
        self.composition.follow([*done, *applied.edits])
        self._undo = [*self.workspace.fit().inverse, *undo]
        pages = [index for index, page in enumerate(self.job.pages) if page.id not in applied.left_out]
        problems = [*self.plan.problems, *(Problem("value", fault) for fault in faults), *applied.problems]
        self.shown = Merged(number, record, key, pages, problems)
        return self.shown

    def reset(self) -> None:
        """Show the job without a record."""
        self.composition.follow(self._reset())

    def _reset(self) -> list[Primitive]:
        """Undo what the last record did to the job. Returns the edits, which the composition has still to follow."""
        undo, self._undo, self.shown = self._undo, [], None
        apply_all(self.job, undo)
        return undo

    def findings(self, number: int) -> list[Finding]:
        """Return what the checks find in the piece with a record."""
        if self._template is None:
            self.reset()
            self._template = findings_of(self.composition, OF_DESIGN)
        self.show(number)
        design = [one for one in findings_of(self.composition, OF_DESIGN) if one not in self._template]
        return [*findings_of(self.composition, OF_RECORD), *design]

    def parts(self, numbers: Iterable[int]) -> Iterator[Part]:
        """Iterate over the records of these numbers as parts of a file. Each is shown once, to know its pages."""
        varying = any(one.property == "used" for page in self.job.pages for one in page.bindings)
        for number in numbers:
            if varying or self.shown is None or self.job.main_story is not None:
                self.show(number)
            assert self.shown is not None
            title = self.rows.key(number, self.record(number))
            yield Part(self.composition, self.shown.pages, prepare=partial(self._prepare, number), title=title)

    def _prepare(self, number: int) -> None:
        self.show(number)
