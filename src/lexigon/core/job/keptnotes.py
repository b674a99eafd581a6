"""The kind of a note of a job."""

from __future__ import annotations

from lexigon.core.job.model import Job, NoteKind

FOOTNOTES = NoteKind("foot", "Footnotes", divided=False)
"""How notes are kept where a job says nothing of them: as they were before jobs could."""


def kind_of(job: Job, form: str) -> tuple[int, NoteKind]:
    """The kind that a note names, and which of the job's that is: the first, where it names none or one that is gone."""
    kinds = list(job.note_kinds.values())
    found = next((at for at, kind in enumerate(kinds) if kind.id == form), 0)
    return (found, kinds[found]) if kinds else (0, FOOTNOTES)
