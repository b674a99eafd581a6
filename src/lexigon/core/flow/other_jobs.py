"""The pages of the other jobs of a publication, counted from a job's own: those before it below 0, those after it from
its last on."""

from __future__ import annotations

from lexigon.core.document.model import Job, Target

Marks = list[tuple[int, str]]


class OtherJobs:
    """Places in other jobs of the publication, as a job knows them."""

    def __init__(self, job: Job) -> None:
        self._parts, self._own = list(job.abroad.values()), len(job.pages)
        parts, own = self._parts, self._own
        self._first: dict[str, int] = {}
        self._labels: dict[int, str] = {}
        self._places: dict[Target, int] = {}
        self._marks: dict[tuple[str, str], Marks] = {}
        ahead = -sum(len(part.labels) for part in parts if part.before)
        behind = own
        for part in parts:
            first = ahead if part.before else behind
            self._first[part.id] = first
            self._labels.update(enumerate(part.labels, first))
            if part.before:
                ahead += len(part.labels)
            else:
                behind += len(part.labels)
            for entry in part.found:
                self._places.update(
                    (target, first + page)
                    for target, page in zip(entry.made.targets, entry.pages, strict=False)
                    if page >= 0
                )
            for one in part.terms:
                self._marks[part.id, one.term.id] = [(first + page, form) for page, form in one.marks if page >= 0]

    def still(self, job: Job) -> bool:
        """Return whether it holds for the job as it is now."""
        same = len(self._parts) == len(job.abroad) and self._own == len(job.pages)
        return same and all(a is b for a, b in zip(self._parts, job.abroad.values(), strict=True))

    def place(self, page: int) -> tuple[str, int] | None:
        """The job and the index there of a page of another one."""
        for part in self._parts:
            first = self._first[part.id]
            if first <= page < first + len(part.labels):
                return part.id, page - first
        return None

    def at(self, part: str, page: int) -> int | None:
        """Return how a page of another job is counted here; None for a job that is not known."""
        return self._first[part] + page if part in self._first else None

    def label(self, page: int) -> str | None:
        """Return what is written on a page of another job; None for the job's own."""
        return self._labels.get(page)

    def page_of(self, target: Target) -> int | None:
        return self._places.get(target)

    def marks(self, part: str, term: str) -> Marks:
        return self._marks.get((part, term), [])
