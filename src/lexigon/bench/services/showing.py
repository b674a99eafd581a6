"""The view to show after a change: caret, page, and the objects touched."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from lexigon.bench.services.jobs import OpenJob
from lexigon.core.document.model import Job, frames_in
from lexigon.core.document.spreads import spreads_from
from lexigon.core.document.story_text import difference
from lexigon.core.editing.edits import (
    OBJECT_SPLICES,
    Primitive,
    PutEntry,
    SetGuides,
    SetPage,
    SetReading,
    SplicePages,
    SpliceParagraphs,
)
from lexigon.core.editing.intents import (
    AddInlay,
    AddNote,
    InsertField,
    InsertListing,
    InsertRich,
    PlaceListing,
    ReplaceText,
    locate,
)
from lexigon.core.flow.workspace import Change

TypedIntent = ReplaceText | InsertField | InsertRich | AddInlay | AddNote
TYPED = (ReplaceText, InsertField, InsertRich, AddInlay, AddNote)
"""What puts something where the caret is."""
LISTED = (PlaceListing, InsertListing)
"""Intents after which the caret is at the end of the listing, so that the next one follows it."""

MOST_TOUCHED = 500
"""Frames, and paragraphs of a story, that one change affected, for marking on the board."""


def caret_after(
    live: OpenJob, intent: TypedIntent | PlaceListing | InsertListing, change: Change, behind: int
) -> dict[str, Any] | None:
    """Return the place of the caret after typing: ``behind`` characters before the end of the last new paragraph; in a
    new note, the end of its words."""
    if isinstance(intent, AddNote):
        note = next(edit.key for edit in change.edits if isinstance(edit, PutEntry) and edit.table == "stories")
        last = live.job.stories[note].paragraphs[-1]
        return caret(live, note, last.id, len(last.text))
    for edit in reversed(change.edits):
        if isinstance(edit, SpliceParagraphs) and edit.story == intent.story and edit.insert:
            paragraph = edit.insert[-1]
            return caret(live, intent.story, paragraph.id, len(paragraph.text) - behind)
    return None


def caret_again(live: OpenJob, intent: Any, change: Change) -> dict[str, Any] | None:
    """The place of the caret after a request whose first answer was lost. None if the request did not move the caret,
    or its place no longer exists."""
    if isinstance(intent, AddNote):
        note = next((e.key for e in change.edits if isinstance(e, PutEntry) and e.table == "stories"), "")
        return caret_after(live, intent, change, 0) if note in live.job.stories else None
    caret = caret_at_change(live, change) if isinstance(intent, (*TYPED, *LISTED)) else None
    story = live.job.stories.get(caret["story"]) if caret else None
    return caret if story and any(p.id == caret["p"] for p in story.paragraphs) else None  # type: ignore[index]


def caret_at_change(live: OpenJob, change: Change) -> dict[str, Any] | None:
    """Return the place of the caret after an undo or redo: after the words that were inserted or deleted. None if there
    are none."""
    for edit, inverse in zip(reversed(change.edits), change.inverse, strict=True):
        if not (isinstance(edit, SpliceParagraphs) and isinstance(inverse, SpliceParagraphs) and edit.insert):
            continue
        after, before = ("\n".join(p.text for p in splice.insert) for splice in (edit, inverse))
        if before == after:
            continue
        at = len(after) - difference(before, after)[1]
        for paragraph in edit.insert:
            if at <= len(paragraph.text):
                return caret(live, edit.story, paragraph.id, at)
            at -= len(paragraph.text) + 1
    return None


def page_of_change(live: OpenJob, change: Change) -> int | None:
    """The page on which a change that moved no caret shows first."""
    for edit in change.edits:
        if isinstance(edit, SplicePages) and edit.insert:
            return min(edit.at, len(live.job.pages) - 1)
        if isinstance(edit, (SetPage, SetReading, SetGuides, *OBJECT_SPLICES)):
            key = edit.page.id if isinstance(edit, SetPage) else edit.holder
            if (at := live.job.page_index(key)) is not None:
                return at
        if isinstance(edit, SpliceParagraphs) and edit.insert:
            return live.workspace.composition.page_of(edit.story, edit.insert[0].id, 0)
    return None


def touched(live: OpenJob, edits: Sequence[Primitive]) -> dict[str, Any]:
    """Return what edits added and is still in the job: its first page, its frames, and its paragraphs by story."""
    job, composition = live.job, live.workspace.composition
    frames, paragraphs, pages = list[str](), dict[str, list[str]](), set[int]()
    for edit in edits:
        if isinstance(edit, SpliceParagraphs) and edit.story in job.stories:
            there = {p.id for p in job.stories[edit.story].paragraphs}
            touched_ids = [p.id for p in edit.insert if p.id in there][:MOST_TOUCHED]
            paragraphs.setdefault(edit.story, []).extend(touched_ids)
            page = composition.page_of(edit.story, touched_ids[0], 0) if touched_ids else None
            pages |= {page} if page is not None else set()
        elif isinstance(edit, OBJECT_SPLICES):
            frames += [f.id for f in frames_in(edit.insert)][:MOST_TOUCHED]
            at = job.page_index(edit.holder)
            pages |= {at} if at is not None else set()
        elif isinstance(edit, SplicePages):
            ids = [page.id for page in edit.insert]
            pages |= {at for key in ids[:MOST_TOUCHED] if (at := job.page_index(key)) is not None}
            frames += [f.id for page in edit.insert[:MOST_TOUCHED] for f in page.frames]
        elif isinstance(edit, SetPage) and (at := job.page_index(edit.page.id)) is not None:
            pages.add(at)
    return {"page": min(pages, default=None), "frames": frames, "paragraphs": paragraphs}


def text_behind(job: Job, intent: TypedIntent) -> int:
    """Return how many characters follow the replaced range in its paragraph."""
    story, places = locate(job, intent.story, intent.start, intent.end)
    index, offset = max(places)
    return len(story.paragraphs[index].text) - offset


def caret(live: OpenJob, story: str, paragraph: str, offset: int) -> dict[str, Any]:
    page = live.workspace.composition.page_of(story, paragraph, offset)
    return {"story": story, "p": paragraph, "offset": offset, "page": page}


def view_for(
    live: OpenJob, view: list[int], caret_: dict[str, Any] | None = None, page: int | None = None, spreads: int = 1
) -> list[int]:
    """The pages to answer with: the client's, or the spread that the caret went to or ``page`` is on, with the next
    where two are shown."""
    page = caret_["page"] if caret_ else page
    if page is not None and page not in view:
        return spreads_from(live.job, page, spreads)
    remaining = [index for index in view if index < len(live.job.pages)]
    return remaining or spreads_from(live.job, len(live.job.pages) - 1, spreads)
