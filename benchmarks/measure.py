"""What every benchmark shares: the book that is measured, clocks, and rows with their budgets."""

from __future__ import annotations

import json
import sys
import time
from collections.abc import Callable, Sequence
from dataclasses import asdict, dataclass
from functools import cache

from benchmarks.novel import novel
from lexigon.core.document.model import Brief, Edges, Job
from lexigon.core.document.starter import new_book
from lexigon.core.document.story_text import LINE_BREAK
from lexigon.core.editing.intents import PourText
from lexigon.core.manuscript.model import Manuscript
from lexigon.core.manuscript.readers.decode import decode
from lexigon.core.manuscript.readers.plain_text import read_plain
from lexigon.core.manuscript.review.cleaning import Cleaner, typographic

INCH = 72.0


@dataclass(slots=True, frozen=True)
class Row:
    """One figure. ``budget`` is the most it may be, None for a figure that is only compared."""

    name: str
    value: float
    unit: str
    budget: float | None = None
    note: str = ""

    @property
    def kept(self) -> bool:
        return self.budget is None or self.value <= self.budget


@cache
def manuscript() -> Manuscript:
    return read_plain(decode(novel().encode()), Cleaner("en-GB", typographic(True)))


def book() -> Job:
    """The novel as a job of some 400 pages, 5.5 x 8.5 in, 11 on 15 pt; its text is there, its pages not yet."""
    brief = Brief(
        5.5 * INCH, 8.5 * INCH, Edges(0.7 * INCH, 0.75 * INCH, 0.8 * INCH, 0.6 * INCH), Edges(9, 9, 9, 9), "in"
    )
    job = new_book("Pride and Prejudice", brief)
    for edit in PourText("main", manuscript().paragraphs).expand(job):
        edit.apply(job)
    return job


def words() -> int:
    return manuscript().counts["words"]


def paragraphs() -> list[str]:
    """The text alone, for the libraries compared with."""
    return [p.text.replace(LINE_BREAK, " ") for p in manuscript().paragraphs]


def cpu(action: Callable[[], object]) -> float:
    """Seconds of processor time, children not counted."""
    begun = time.process_time()
    action()
    return time.process_time() - begun


def percentile(values: Sequence[float], share: float) -> float:
    ordered = sorted(values)
    return ordered[min(int(len(ordered) * share), len(ordered) - 1)]


def report(rows: list[Row]) -> None:
    """Hand the rows to benchmarks.run, which started this process."""
    json.dump([asdict(row) for row in rows], sys.stdout)
