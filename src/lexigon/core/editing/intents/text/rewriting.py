"""Many paragraphs of a job made others at once, wherever they stand: by finding and replacing, by rules, by corrected
spellings."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Annotated, Literal

from lexigon.core.document.limits import MOST_ENTRIES, MOST_PARAGRAPHS, Key, Many
from lexigon.core.document.model import Job, Paragraph, StandingCopy, TextTable
from lexigon.core.editing.edits import EditError, Primitive, SpliceParagraphs, put


@dataclass(slots=True, frozen=True)
class Rewrite:
    """``paragraphs`` are others in place of those of the same ids, by text; whole tables and standing copies likewise.
    Words, spans and styles are as they are given."""

    paragraphs: Annotated[dict[Key, Annotated[tuple[Paragraph, ...], Many(MOST_PARAGRAPHS)]], Many(MOST_ENTRIES)] = (
        field(default_factory=dict)
    )
    tables: Annotated[tuple[TextTable, ...], Many(MOST_ENTRIES)] = ()
    copies: Annotated[tuple[StandingCopy, ...], Many(MOST_ENTRIES)] = ()
    do: Literal["rewrite"] = "rewrite"
    label = "Replace"

    def expand(self, job: Job) -> list[Primitive]:
        edits: list[Primitive] = []
        for key, paragraphs in self.paragraphs.items():
            if key not in job.stories:
                raise EditError("That story is no longer in the job.")
            edits += self._splices(job, key, paragraphs)
        for table in self.tables:
            if table.id not in job.tables:
                raise EditError("That table is no longer in the job.")
            edits.append(put("tables", table))
        for copy in self.copies:
            if copy.id not in job.copies:
                raise EditError("That standing copy is no longer in the job.")
            edits.append(put("copies", copy))
        return edits

    def _splices(self, job: Job, key: str, paragraphs: tuple[Paragraph, ...]) -> Iterator[SpliceParagraphs]:
        """One for each run of neighbours, the last first."""
        places = {p.id: at for at, p in enumerate(job.stories[key].paragraphs)}
        if any(p.id not in places for p in paragraphs):
            raise EditError("A paragraph is no longer in the job.")
        runs: list[list[Paragraph]] = []
        last = -2
        for p in sorted(paragraphs, key=lambda one: places[one.id]):
            if places[p.id] != last + 1:
                runs.append([])
            runs[-1].append(p)
            last = places[p.id]
        for run in reversed(runs):
            yield SpliceParagraphs(key, places[run[0].id], len(run), tuple(run))
