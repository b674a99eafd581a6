"""Adjusting one record by hand: what is done to the pages as they show a record, as adjustments of this record alone.

The same intents as for the design are carried out on a copy that shows the record; what differs afterwards is what is
adjusted. Only positions, crops and words can differ from the design; anything else is refused, with the way to it.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace

from lexigon.core.document.model import Job, Object, Picture, RecordAdjustment, all_in
from lexigon.core.editing.edits import Primitive, apply_all
from lexigon.core.editing.holders import everywhere
from lexigon.core.editing.intents import AdjustRecord, Intent
from lexigon.core.errors import LexigonError
from lexigon.core.merge.applying import all_texts
from lexigon.core.merge.merger import Merger

CLOSE = 1e-3
"""Points and degrees within which numbers are the same: the board rounds those of the objects that it is sent."""
ONLY = (
    "For one record, only positions, crops and words can be adjusted. Edit the design, or bind the property to a field."
)


class AdjustmentError(LexigonError):
    """What cannot be done for one record alone; nothing was changed."""


def adjusted(merger: Merger, number: int, intents: Iterable[Intent]) -> list[Intent]:
    """Return the intents that adjust a record so that its pages look as if ``intents`` were carried out on them. The
    merger shows the record afterwards, without them. Raises AdjustmentError for anything but moves, crops and words;
    LexigonError where an intent cannot be carried out."""
    merged = merger.show(number)
    job, records = merger.job, merger.rows.records
    before, words, pages = _objects(job), _words(job), _pages(job)
    undo: list[Primitive] = []
    try:
        for intent in intents:
            undo[:0] = apply_all(job, intent.expand(job))
        if _pages(job) != pages:
            raise AdjustmentError(ONLY)
        after, new_words = _objects(job), _words(job)
        if set(after) != set(before):
            raise AdjustmentError(
                "Objects cannot be added, deleted or grouped for one record. Edit the design, or bind the property "
                "“Visible” to a field."
            )
        former = {one.object: one for one in merger.adjustments.get(merged.key, ())}
        texts = _changed_words(words, new_words, after)
        changes: list[Intent] = []
        for key, one in after.items():
            move, picture = _difference(before[key], one)
            if move or picture or key in texts:
                total = _sum(former.get(key), move) if move else None
                changes.append(AdjustRecord(records.id, merged.key, key, total, picture, texts.get(key)))
        if undo and (not changes or list(after) != list(before)):
            raise AdjustmentError(ONLY)  # the stacking order, a swatch, a style
        return changes
    finally:
        apply_all(job, undo)


def _objects(job: Job) -> dict[str, Object]:
    """All objects by their ids; groups without what is in them, whose places are their own."""
    every = (one for _, objects in everywhere(job) for one in all_in(objects))
    return {one.id: one.holding(()) if one.group is not None else one for one in every}


def _pages(job: Job) -> list[tuple[object, ...]]:
    """What records can set of pages."""
    return [(page.id, page.master, page.section) for page in job.pages]


def _words(job: Job) -> dict[str, tuple[tuple[object, ...], ...]]:
    """The text of each story, by paragraph: its words, and what they are formatted as."""
    return {
        story.id: tuple((one.text, one.style, one.para, one.type, one.spans) for one in story.paragraphs)
        for story in all_texts(job)
    }


def _changed_words(
    before: Mapping[str, tuple[tuple[object, ...], ...]],
    after: Mapping[str, tuple[tuple[object, ...], ...]],
    objects: Mapping[str, Object],
) -> dict[str, tuple[str, ...]]:
    """The words of stories that differ, by the frame that shows them. Raises AdjustmentError for formatting."""
    frames = {one.story: key for key, one in objects.items() if one.story}
    texts: dict[str, tuple[str, ...]] = {}
    for story in before.keys() | after.keys():
        old, new = before.get(story), after.get(story)
        if old == new:
            continue
        if old is None or new is None or story not in frames:
            raise AdjustmentError(ONLY)
        words = tuple(str(one[0]) for one in new)
        if words == tuple(one[0] for one in old):
            raise AdjustmentError(ONLY)  # the same words, with other formatting
        texts[frames[story]] = words
    return texts


def _difference(before: Object, after: Object) -> tuple[tuple[float, float] | None, Picture | None]:
    """Return how an object was moved and its new crop, None for what is the same. Raises AdjustmentError for any other
    difference."""
    if before == after:
        return None, None
    move = picture = None
    rest = after
    if before.place is not None and after.place is not None and before.place != after.place:
        old, new = before.place.rect, after.place.rect
        move = new.x - old.x, new.y - old.y
        turned = abs(before.place.rotation - after.place.rotation) + abs(before.place.skew - after.place.skew)
        if max(abs(old.width - new.width), abs(old.height - new.height), turned) > CLOSE:
            raise AdjustmentError(
                "Size and rotation cannot be adjusted for one record. Edit the design, or bind them to a field."
            )
        rest = replace(rest, place=replace(before.place, mirrored=after.place.mirrored))
        move = None if max(map(abs, move)) < CLOSE else move
    if before.picture is not None and after.picture is not None and before.picture != after.picture:
        if before.picture.picture != after.picture.picture:
            raise AdjustmentError("The picture of a record is named in its data. Change it in the table of Merge.")
        picture = after.picture
        rest = replace(rest, content=before.content)
    if rest != before:
        raise AdjustmentError(ONLY)
    return move, picture


def _sum(former: RecordAdjustment | None, move: tuple[float, float]) -> tuple[float, float]:
    """A move with the one made before."""
    x, y = former.move if former is not None and former.move is not None else (0.0, 0.0)
    return x + move[0], y + move[1]
