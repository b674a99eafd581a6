"""Intents made on an older revision, moved past what others did to the words since.

Places are code point offsets into paragraphs. What others did to a paragraph is a ``Shift``: so many characters removed
at an offset and so many inserted. Several intents of one request follow each other, so each is moved past the shifts,
and then the shifts past it (operational transformation after Ellis and Gibbs, "Concurrency Control in Groupware
Systems", SIGMOD 1989): what is left in the end moves what the client typed after it sent the request."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Any, cast

from lexigon.core.document.model import Paragraph
from lexigon.core.document.story_text import difference
from lexigon.core.editing.intents import Intent, Place, ReplaceText
from lexigon.core.editing.touches import Edit, ParagraphsTouch, paragraph_touches
from lexigon.core.errors import LexigonError


class Stale(LexigonError):
    """The same words were changed elsewhere meanwhile; the edit was not made."""


@dataclass(slots=True, frozen=True)
class Shift:
    """In ``paragraph`` of ``story``, ``removed`` characters from ``at`` on became ``inserted`` others.

    With ``to``, everything after ``at`` is now in that paragraph, ``by`` characters from its beginning: it was split
    there, or with ``at`` of -1 all of it was joined to another. ``gone``: the paragraph was deleted with its words.
    """

    story: str
    paragraph: str
    at: int
    removed: int
    inserted: int
    to: str = ""
    by: int = 0
    gone: bool = False

    def moved(self, place: Place) -> Place:
        """The place after the change. Raises Stale if it was within what changed."""
        if place.paragraph != self.paragraph:
            return place
        if self.gone:
            raise Stale("The paragraph that you were typing in was deleted in another window.")
        if place.offset <= self.at:
            return place
        if self.to:
            return Place(self.to, place.offset - self.at + self.by)
        if place.offset >= self.at + self.removed:
            return replace(place, offset=place.offset + self.inserted - self.removed)
        raise Stale("The words that you were typing in were changed in another window at the same moment.")

    def past(self, typed: ReplaceText) -> Shift | None:
        """The shift as it reads once ``typed`` was done first; None if ``typed`` replaced what it is about."""
        if typed.story != self.story or self.gone:
            return self
        if self.to and self.at < 0:  # where its words went to is the end of another paragraph, wherever that is by then
            end_of = Shift(self.story, self.to, self.by + 1, 0, 0).past(typed)
            return replace(self, to=end_of.paragraph, by=end_of.at - 1) if end_of else None
        (start, end), last = (typed.start, typed.end), len(typed.text.rsplit("\n", 1)[-1])
        if start.paragraph == end.paragraph and start.offset > end.offset:
            start, end = end, start
        if self.to and self.paragraph == start.paragraph and self.at < start.offset:
            return self  # both ends are after the split
        if self.paragraph == start.paragraph and self.at < start.offset and self.at + self.removed <= start.offset:
            return self
        if self.paragraph == end.paragraph and self.at >= end.offset:
            return replace(self, **self._behind(typed, start, end, last))
        return None if self.paragraph in (start.paragraph, end.paragraph) else self

    def _behind(self, typed: ReplaceText, start: Place, end: Place, last: int) -> dict[str, Any]:
        """Its paragraph and offset where ``typed`` ends before it; ``last`` is the length of the last line typed. The
        ids are those that ``ReplaceText`` gives."""
        one, at = start.paragraph == end.paragraph, self.at - end.offset + last
        if "\n" in typed.text:
            led_to = one and not start.offset and typed.text.startswith("\n")  # an empty paragraph came before it
            return {"paragraph": self.paragraph if led_to else typed.ids[-1] if typed.ids else "", "at": at}
        nothing_left = not one and not start.offset and not typed.text
        return {"paragraph": end.paragraph if nothing_left else start.paragraph, "at": at + start.offset}


def shifts_of(edits: Iterable[Edit], inverse: Iterable[Edit]) -> list[Shift]:
    """Return what a change did to the words of paragraphs, from its edits and the edits that undo it."""
    done, undone = list(paragraph_touches(edits)), list(paragraph_touches(inverse))
    return [
        shift
        for forth, back in zip(done, reversed(undone), strict=False)
        for p in back.insert
        if (shift := _shift(forth, p, {one.id for one in back.insert})) is not None
    ]


def _shift(forth: ParagraphsTouch, p: Paragraph, before: set[str]) -> Shift | None:
    """Return what a splice did to one of the paragraphs that were there before; None if it left its words alone."""
    after = next((one.text for one in forth.insert if one.id == p.id), None)
    if after is None:
        other = next((one for one in forth.insert if p.text and one.text.endswith(p.text)), None)
        if other is None:
            return Shift(forth.story, p.id, 0, len(p.text), 0, gone=True)
        return Shift(forth.story, p.id, -1, 0, 0, other.id, len(other.text) - len(p.text) - 1)
    if after == p.text:
        return None
    start, tail = difference(p.text, after)
    rest = p.text[start:]
    if start == len(after) and rest:
        other = next((one for one in forth.insert if one.id not in before and one.text.endswith(rest)), None)
        if other is not None:
            return Shift(forth.story, p.id, start, 0, 0, other.id, len(other.text) - len(rest))
    return Shift(forth.story, p.id, start, len(p.text) - start - tail, len(after) - start - tail)


def rebased(intents: Sequence[Intent], shifts: Sequence[Shift]) -> tuple[list[Intent], list[Shift]]:
    """The intents moved past ``shifts``, and the shifts past the intents. Raises Stale."""
    moved = []
    left = list(shifts)
    for intent in intents:
        now: Intent = intent
        following = []
        for shift in left:
            before = now
            now = _moved(now, shift)
            still = shift.past(before) if isinstance(before, ReplaceText) else shift
            if still is not None:
                following.append(still)
        left = following
        moved.append(now)
    return moved, left


def _moved(intent: Intent, shift: Shift) -> Intent:
    """The intent with its places moved past a shift of the words they are in."""
    if getattr(intent, "story", None) != shift.story:
        return intent
    places = {
        name: shift.moved(value)
        for name in ("start", "end")
        if isinstance(value := getattr(intent, name, None), Place) and value.paragraph == shift.paragraph
    }
    return replace(cast(Any, intent), **places) if places else intent
