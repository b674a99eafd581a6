"""The parts of a job that edits touch, so that two changes without a common part can be undone in either order."""

from __future__ import annotations

from collections.abc import Iterable
from typing import assert_never

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

PartKey = tuple[str, str]
"""The kind and key of a part: a story, the objects of a holder, the order of pages, an entry of a table, a value of
the job."""


_OWN_PARTS = ("guides", "reading")
"""Values of a page that have their own edits; an edit of all its values changes them too."""


def parts_touched(edits: Iterable[Edit]) -> set[PartKey]:
    """Return every part that edits read or change. Where pages are added or deleted, all their objects are included."""
    return {part for touch in touches_of(edits) for part in _parts(touch)}


def _parts(touch: Touch) -> list[PartKey]:
    match touch:
        case ParagraphsTouch():
            return [("tables", touch.table) if touch.table else ("stories", touch.story)]
        case StoryFramesTouch():
            return [("stories", touch.story)]
        case EntryTouch():
            return [(touch.table, touch.key), *([("order", touch.table)] if touch.order else [])]
        case PagesTouch():
            return [("pages", ""), *((part, page.id) for page in touch.insert for part in ("page", *_OWN_PARTS))]
        case PageTouch():
            return (
                [("page", touch.page), *((part, touch.page) for part in _OWN_PARTS)]
                if touch.part == "values"
                else [(touch.part, touch.page)]
            )
        case ObjectsTouch():
            return [("masters", touch.half[0]) if touch.half else ("page", touch.holder)]
        case ValueTouch():
            return [("job", touch.field)]
        case _:
            assert_never(touch)
