"""Intents made on an older revision, moved past what others did to the words since.

Places are code point offsets into paragraphs. What others did to a paragraph is a ``Shift``: so many characters removed
at an offset and so many inserted. Several intents of one request follow each other, so each is moved past the shifts, and
then the shifts past it (operational transformation after Ellis and Gibbs, "Concurrency Control in Groupware Systems",
SIGMOD 1989): what is left in the end moves what the client typed after it sent the request.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Any

from lexigon.core.errors import LexigonError
from lexigon.core.job.edits import SpliceParagraphs
from lexigon.core.job.intents import Intent, Place, ReplaceText
from lexigon.core.job.text import difference


class Stale(LexigonError):
    """The same words were changed elsewhere meanwhile; the edit was not made."""


@dataclass(slots=True, frozen=True)
class Shift:
    """In ``paragraph`` of ``story``, ``removed`` characters from ``at`` on became ``inserted`` others; ``gone`` if the
    paragraph itself was removed."""

    story: str
    paragraph: str
    at: int
    removed: int
    inserted: int
    gone: bool = False

    def moved(self, place: Place) -> Place:
        """The place after the change. Raises Stale if it was within what changed."""
        if place.paragraph != self.paragraph:
            return place
        if self.gone:
            raise Stale("The paragraph you were typing in was deleted in another window.")
        if place.offset <= self.at:
            return place
        if place.offset >= self.at + self.removed:
            return replace(place, offset=place.offset + self.inserted - self.removed)
        raise Stale("The words you were typing in were changed in another window at the same moment.")

    def past(self, typed: ReplaceText) -> Shift | None:
        """The shift as it reads once ``typed`` was done first; None if ``typed`` replaced what it is about."""
        if typed.story != self.story or self.gone:
            return self
        (start, end), last = (typed.start, typed.end), len(typed.text.rsplit("\n", 1)[-1])
        if start.paragraph == end.paragraph and start.offset > end.offset:
            start, end = end, start
        if self.paragraph == start.paragraph and self.at < start.offset and self.at + self.removed <= start.offset:
            return self
        if self.paragraph == end.paragraph and self.at >= end.offset:
            return replace(self, **self._behind(typed, start, end, last))
        return None if self.paragraph in (start.paragraph, end.paragraph) else self

    def _behind(self, typed: ReplaceText, start: Place, end: Place, last: int) -> dict[str, Any]:
        """Its paragraph and offset where ``typed`` ends before it; ``last`` is the length of the last line typed. The ids are
        those that ``ReplaceText`` gives."""
        one, at = start.paragraph == end.paragraph, self.at - end.offset + last
        if "\n" in typed.text:
            led_to = one and not start.offset and typed.text.startswith("\n")  # an empty paragraph came before it
            return {"paragraph": self.paragraph if led_to else typed.ids[-1] if typed.ids else "", "at": at}
        nothing_left = not one and not start.offset and not typed.text
        return {"paragraph": end.paragraph if nothing_left else start.paragraph, "at": at + start.offset}


def shifts_of(edits: Iterable[Any], inverse: Sequence[Any]) -> list[Shift]:
    """What a change did to the words of paragraphs, from its edits and the edits that undo it."""
    done = [edit for edit in edits if isinstance(edit, SpliceParagraphs)]
    undone = [edit for edit in inverse if isinstance(edit, SpliceParagraphs)]
    found = []
    for forth, back in zip(done, reversed(undone), strict=False):
        after = {p.id: p.text for p in forth.insert}
        for p in back.insert:
            text = after.get(p.id)
            if text is None:
                found.append(Shift(forth.story, p.id, 0, len(p.text), 0, gone=True))
            elif text != p.text:
                start, tail = difference(p.text, text)
                found.append(Shift(forth.story, p.id, start, len(p.text) - start - tail, len(text) - start - tail))
    return found


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
    return replace(intent, **places) if places else intent  # type: ignore[arg-type]
