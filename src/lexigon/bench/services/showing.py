"""The view to show after a change: caret, page, and the objects touched."""

from __future__ import annotations

from typing import Any

from lexigon.bench.services.jobs import OpenJob
from lexigon.core.document.model import Job
from lexigon.core.document.spreads import spreads_from
from lexigon.core.document.story_text import difference
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
from lexigon.core.editing.touches import EntryTouch, paragraph_touches, touches_of
from lexigon.core.flow.workspace import Change

TypedIntent = ReplaceText | InsertField | InsertRich | AddInlay | AddNote
TYPED = (ReplaceText, InsertField, InsertRich, AddInlay, AddNote)
"""What puts something where the caret is."""
LISTED = (PlaceListing, InsertListing)
"""Intents after which the caret is at the end of the listing, so that the next one follows it."""


Moving = TypedIntent | PlaceListing | InsertListing
"""Intents after which the caret is elsewhere."""


def caret_after(live: OpenJob, intent: Moving, change: Change, behind: int) -> dict[str, Any] | None:
    """Return the place of the caret after typing: ``behind`` characters before the end of the last new paragraph; in a
    new note, the end of its words."""
    if isinstance(intent, AddNote):
        note = _story_added(change)
        last = live.job.stories[note].paragraphs[-1]
        return caret(live, note, last.id, len(last.text))
    for touch in reversed(list(paragraph_touches(change.edits))):
        if touch.story == intent.story and touch.insert:
            paragraph = touch.insert[-1]
            return caret(live, intent.story, paragraph.id, len(paragraph.text) - behind)
    return None


def _story_added(change: Change) -> str:
    """Return the id of the first story that a change added, "" if there is none."""
    touches = touches_of(change.edits)
    return next((touch.key for touch in touches if isinstance(touch, EntryTouch) and touch.table == "stories"), "")


def caret_again(live: OpenJob, intent: Any, change: Change) -> dict[str, Any] | None:
    """The place of the caret after a request whose first answer was lost. None if the request did not move the caret,
    or its place no longer exists."""
    if isinstance(intent, AddNote):
        note = _story_added(change)
        return caret_after(live, intent, change, 0) if note in live.job.stories else None
    caret = caret_at_change(live, change) if isinstance(intent, (*TYPED, *LISTED)) else None
    story = live.job.stories.get(caret["story"]) if caret else None
    return caret if story and any(p.id == caret["p"] for p in story.paragraphs) else None  # type: ignore[index]


def caret_at_change(live: OpenJob, change: Change) -> dict[str, Any] | None:
    """Return the place of the caret after an undo or redo: after the words that were inserted or deleted. None if there
    are none."""
    done, undone = list(paragraph_touches(change.edits)), paragraph_touches(change.inverse)
    for forth, back in zip(reversed(done), undone, strict=False):
        if not forth.insert:
            continue
        after, before = ("\n".join(p.text for p in touch.insert) for touch in (forth, back))
        if before == after:
            continue
        at = len(after) - difference(before, after)[1]
        for paragraph in forth.insert:
            if at <= len(paragraph.text):
                return caret(live, forth.story, paragraph.id, at)
            at -= len(paragraph.text) + 1
    return None


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
