"""Page numbering of a publication: jobs continue from each other, and jobs with facing pages start on a right-hand
page."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.document.model import Job, NumberStyle, Section
from lexigon.core.document.numbering import counted_pages, counts, labels
from lexigon.core.editing.intents import Intent, PutSection

Counted = Literal["on", "own", "apart"]
"""The pages of a job continue (``on``) those of the job before (from 1 where there is none, or where its numbers have
another format), or have numbers of their ``own`` that those after them continue; or the job is not numbered
(``apart``), like covers and cards: nothing continues it, and it takes no place among the leaves."""


def usual(job: Job) -> Counted:
    """Return the default numbering of a job: books and magazines continue; covers, cards, flyers and folded pieces are
    not numbered."""
    return usual_of(job.kind)


def usual_of(kind: str) -> Counted:
    """The same by the kind of job."""
    return "on" if kind in ("book", "magazine") else "apart"


@dataclass(slots=True, frozen=True)
class Start:
    """The first page of a job in a publication."""

    number: int | None
    """The number its first page is to have; None where it keeps its own."""
    blank: bool
    """Whether an empty page is before it, so that it begins on a right-hand page."""
    labels: tuple[str, str]
    """The numbers of its first and its last page as they are written, once it is numbered so."""


def starts(jobs: Sequence[tuple[Job, Counted]]) -> list[Start]:
    """Return where each job of a publication begins, in order.

    A job with facing pages begins on a right-hand page: after an odd number of pages an empty page is inserted, which
    is counted, too. Each format of numbers (arabic, roman, with a prefix) is counted separately: a text that follows
    front matter numbered i to viii begins with 1, and continues after plates numbered I to IV (common practice, no
    source).
    """
    starts: list[Start] = []
    last: dict[Way, int] = {}
    before: Way | None = None
    sides = 0
    for job, counted in jobs:
        if counted == "apart":
            starts.append(Start(None, False, _ends(job, None)))
            continue
        blank = job.brief.facing and sides % 2 == 1
        ways = _ways(job)
        counts_blank = blank and before == ways[0]  # otherwise it is ambiguous which of the two it belongs to
        number = last.get(ways[0], 0) + 1 + counts_blank if counted == "on" else None
        sides += blank + len(job.pages)
        last.update(zip(ways, counts(job if number is None else _numbered(job, number)), strict=True))
        before = ways[-1]
        starts.append(Start(number, blank, _ends(job, number)))
    return starts


Way = tuple[NumberStyle, str]
"""A numbering format: the number style and the prefix."""


def _ways(job: Job) -> list[Way]:
    """Return the numbering format of each page."""
    return [(section.style, section.prefix) for _, section in counted_pages(job)]


def _numbered(job: Job, number: int) -> Job:
    first = job.pages[0]
    return replace(job, pages=[replace(first, section=_section(job, number)), *job.pages[1:]])


def _section(job: Job, number: int) -> Section:
    return replace(job.pages[0].section or Section(), start=number)


def _ends(job: Job, number: int | None) -> tuple[str, str]:
    written = labels(job if number is None else _numbered(job, number))
    return written[0], written[-1]


@dataclass(slots=True, frozen=True)
class NumberOn(PutSection):
    """Begin with the number that follows on the job before."""

    @property
    def label(self) -> str:
        return "Continue numbering from the previous job"


def numbering(job: Job, start: Start) -> list[Intent]:
    """Return what makes a job begin with its number; nothing where it does."""
    if start.number is None or counts(job)[0] == start.number:
        return []
    return [NumberOn(job.pages[0].id, _section(job, start.number))]


@dataclass(slots=True, frozen=True)
class NumberAnew(PutSection):
    """Count from 1 again."""

    @property
    def label(self) -> str:
        return "Number from 1"


def anew(job: Job) -> list[Intent]:
    """Return the edit that makes a job that continued another begin with 1; None where it does already."""
    section = job.pages[0].section
    if section is None or section.start is None:
        return []
    left = replace(section, start=None)
    return [NumberAnew(job.pages[0].id, left if left != Section() else None)]
