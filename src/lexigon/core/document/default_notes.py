"""The kind of a note of a job."""

from __future__ import annotations

from lexigon.core.document.model import Job, NoteKind

FOOTNOTES = NoteKind("foot", "Footnotes", divided=False)
"""The settings of notes in a job that has no kinds of notes: as they were before there were kinds."""


def kind_of(job: Job, form: str) -> tuple[int, NoteKind]:
    """The kind that a note names, and which of the job's that is: the first, where it names none or one that is
    gone."""
    kinds = list(job.note_kinds.values())
    position = next((at for at, kind in enumerate(kinds) if kind.id == form), 0)
    return (position, kinds[position]) if kinds else (0, FOOTNOTES)
