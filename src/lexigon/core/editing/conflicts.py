"""The parts of a job that edits touch, so that two changes without a common part can be undone in either order."""

from __future__ import annotations

from collections.abc import Iterable

from lexigon.core.document.cell_stories import table_of
from lexigon.core.editing.edits import (
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
"""The kind and key of a thing: a story, the objects of a holder, the order of pages, an entry of a table, a value of
the job."""


def touched(edits: Iterable[Primitive]) -> set[Touched]:
    """Everything that some edits read or change. Where pages are added or deleted, all their objects are included."""
    touched_keys: set[Touched] = set()
    for edit in edits:
        match edit:
            case SpliceParagraphs() if table := table_of(edit.story):
                touched_keys.add(("tables", table))
            case SpliceParagraphs() | SetFrames():
                touched_keys.add(("stories", edit.story))
            case PutEntry():
                touched_keys |= {
                    (edit.table, edit.key),
                    *((("order", edit.table),) if edit.value is None or edit.at is not None else ()),
                }
            case SplicePages():
                touched_keys |= {("pages", ""), *(("page", page.id) for page in edit.insert)}
            case SetPage():
                touched_keys.add(("page", edit.page.id))
            case SetGuides():
                touched_keys.add(("masters" if edit.master else "guides", edit.holder))
            case SetReading():
                touched_keys.add(("reading", edit.holder))
            case _ if isinstance(edit, OBJECT_SPLICES):
                half = master_half(edit.holder)
                touched_keys.add(
                    ("masters", half[0]) if half else ("inlays" if edit.holder == INLAYS else "page", edit.holder)
                )
            case _:
                touched_keys.add(("job", edit.op))
    return touched_keys
