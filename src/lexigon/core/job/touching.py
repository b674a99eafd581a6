"""The parts of a job that edits touch, so that two changes without a common part can be undone in either order."""

from __future__ import annotations

from collections.abc import Iterable

from lexigon.core.job.celltexts import table_of
from lexigon.core.job.edits import (
    INLAYS,
    OBJECT_SPLICES,
    Primitive,
    PutEntry,
    SetFrames,
    SetGuides,
    SetPage,
    SetReading,
    SplicePages,
    SpliceParagraphs,
    master_half,
)

Touched = tuple[str, str]
"""What kind of thing, and its key: a text, what stands on a page, the order of pages, an entry of a table, a value of the job."""


def touched(edits: Iterable[Primitive]) -> set[Touched]:
    """Everything that some edits read or change. Where pages come and go, all that stands on them is theirs."""
    found: set[Touched] = set()
    for edit in edits:
        match edit:
            case SpliceParagraphs() if table := table_of(edit.story):
                found.add(("tables", table))
            case SpliceParagraphs() | SetFrames():
                found.add(("stories", edit.story))
            case PutEntry():
                found |= {
                    (edit.table, edit.key),
                    *((("order", edit.table),) if edit.value is None or edit.at is not None else ()),
                }
            case SplicePages():
                found |= {("pages", ""), *(("page", page.id) for page in edit.insert)}
            case SetPage():
                found.add(("page", edit.page.id))
            case SetGuides():
                found.add(("masters" if edit.master else "guides", edit.holder))
            case SetReading():
                found.add(("reading", edit.holder))
            case _ if isinstance(edit, OBJECT_SPLICES):
                half = master_half(edit.holder)
                found.add(
                    ("masters", half[0]) if half else ("inlays" if edit.holder == INLAYS else "page", edit.holder)
                )
            case _:
                found.add(("job", edit.op))
    return found
