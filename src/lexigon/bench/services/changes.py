"""The pages, objects, paragraphs and choices that a change affects, for the history and the board."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any, assert_never

from lexigon.core.document.model import Job, frames_in
from lexigon.core.document.page_ranges import page_words
from lexigon.core.editing.touches import (
    Edit,
    EntryTouch,
    ObjectsTouch,
    PagesTouch,
    PageTouch,
    ParagraphsTouch,
    StoryFramesTouch,
    Touch,
    ValueTouch,
    touches_of,
)
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.workspace import Change, Workspace

MOST_DESCRIBED = 60
"""The edits of a change from which its place in the history is described. Finding a place costs a search in its
story."""
MOST_MARKED = 500
"""Frames, and paragraphs of a story, that one change affected, for marking on the board."""
_UNNAMED = ("stories", "overlays")
"""Tables whose entries people know by the pages that show them."""


def where(workspace: Workspace, change: Change) -> str:
    """Return where a change shows, in the words of the history list."""
    job, pages, names = workspace.job, set[int](), dict[str, None]()
    for touch in touches_of(change.edits[:MOST_DESCRIBED]):
        pages |= _pages(workspace.composition, touch)
        if isinstance(touch, ObjectsTouch) and touch.half:
            names[_name(job, "masters", touch.half[0])] = None
        elif isinstance(touch, EntryTouch) and touch.part != "whole":
            names[_name(job, touch.table, touch.key)] = None
        elif isinstance(touch, EntryTouch) and touch.value and touch.table not in _UNNAMED:
            names[str(touch.value.get("name", ""))] = None
    named = [f"“{name[:30]}”" for name in list(names)[:2]] + (["others"] if len(names) > 2 else [])
    whole = len(pages) > 2 and len(pages) == len(job.pages)
    return ", ".join([*named, *(["all pages"] if whole else [page_words(sorted(pages))] if pages else [])])


def _name(job: Job, table: str, key: str) -> str:
    entry = getattr(job, table).get(key)
    return entry.name if entry is not None else key


def _pages(composition: Composition, touch: Touch) -> set[int]:
    """Return the indices of the pages on which a touch shows by itself."""
    job = composition.job
    match touch:
        case ParagraphsTouch():
            return _only(composition.page_of(touch.story, touch.insert[0].id, 0)) if touch.insert else set()
        case PagesTouch():
            return set(range(touch.at, min(touch.at + max(len(touch.insert), 1), len(job.pages))))
        case PageTouch():
            return _only(job.page_index(touch.page))
        case ObjectsTouch():
            return _only(job.page_index(touch.holder))
        case EntryTouch() | StoryFramesTouch() | ValueTouch():
            return set()
        case _:
            assert_never(touch)


def _only(page: int | None) -> set[int]:
    return set() if page is None else {page}


def page_of_change(composition: Composition, edits: Iterable[Edit]) -> int | None:
    """Return the page on which a change that moved no caret shows first; None where it shows on none by itself."""
    for touch in touches_of(edits):
        if isinstance(touch, PagesTouch):
            if touch.insert:
                return min(touch.at, len(composition.job.pages) - 1)
        elif pages := _pages(composition, touch):
            return min(pages)
        elif isinstance(touch, ParagraphsTouch) and touch.insert:
            return None
    return None


def additions(composition: Composition, edits: Sequence[Edit]) -> dict[str, Any]:
    """Return what edits added and is still in the job: its first page, its frames, and its paragraphs by story."""
    job = composition.job
    frames, paragraphs, pages = list[str](), dict[str, list[str]](), set[int]()
    for touch in touches_of(edits):
        match touch:
            case ParagraphsTouch() if touch.story in job.stories:
                there = {p.id for p in job.stories[touch.story].paragraphs}
                ids = [p.id for p in touch.insert if p.id in there][:MOST_MARKED]
                paragraphs.setdefault(touch.story, []).extend(ids)
                pages |= _only(composition.page_of(touch.story, ids[0], 0) if ids else None)
            case ObjectsTouch():
                frames += [f.id for f in frames_in(touch.insert)][:MOST_MARKED]
                pages |= _only(job.page_index(touch.holder))
            case PagesTouch():
                ids = [page.id for page in touch.insert[:MOST_MARKED]]
                pages |= {at for key in ids if (at := job.page_index(key)) is not None}
                frames += [f.id for page in touch.insert[:MOST_MARKED] for f in page.frames]
            case PageTouch(part="values"):
                pages |= _only(job.page_index(touch.page))
    return {"page": min(pages, default=None), "frames": frames, "paragraphs": paragraphs}


def object_ids(edits: Iterable[Edit]) -> set[str]:
    """Return the ids of the objects of pages and master pages that edits inserted or replaced."""
    ids: set[str] = set()
    for touch in touches_of(edits):
        match touch:
            case PagesTouch():
                ids |= {frame.id for page in touch.insert for frame in page.frames}
            case ObjectsTouch():
                ids |= {frame.id for frame in frames_in(touch.insert)}
            case EntryTouch(table="masters", value=dict() as master):
                ids |= {frame["id"] for half in ("recto", "verso") for frame in master.get(half, ())}
    return ids


def changes_choices(job: Job, edits: Iterable[Edit]) -> bool:
    """Return whether edits may change the choices of the board: master pages, styles, uses of standing copy and of
    pictures."""
    return any(_changes_choices(job, touch) for touch in touches_of(edits))


def _changes_choices(job: Job, touch: Touch) -> bool:
    match touch:
        case ObjectsTouch():
            return bool(job.pictures or job.copies)
        case ParagraphsTouch():
            return any(span.object for paragraph in touch.insert for span in paragraph.spans)
        case EntryTouch():
            return touch.part == "whole"
        case PageTouch():
            return touch.part == "values"
        case PagesTouch():
            return True
        case StoryFramesTouch() | ValueTouch():
            return False
        case _:
            assert_never(touch)


def changes_sheet(edits: Iterable[Edit]) -> bool:
    """Return whether edits changed the set-up of the job."""
    return any(isinstance(touch, ValueTouch) and touch.field == "brief" for touch in touches_of(edits))
