"""Intents about the index: words marked in the text, and the terms they are marked for."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from lexigon.core.job import text as texts
from lexigon.core.job.anchoring import without_spans
from lexigon.core.job.edits import EditError, Primitive, PutEntry, SpliceParagraphs, put
from lexigon.core.job.intents.text import Place, locate
from lexigon.core.job.limits import Key, Many, Name
from lexigon.core.job.model import OBJECT, Anchor, IndexTerm, Job, Paragraph, Span

MOST_MARKS = 20_000
"""Places that are marked at once."""


def term_named(job: Job, name: str, parent: str = "") -> IndexTerm | None:
    """A term by its words, capitals or not, among those under the same one."""
    return next(
        (one for one in job.terms.values() if one.parent == parent and one.name.casefold() == name.casefold()), None
    )


def _known(job: Job, name: str, parent: str) -> tuple[IndexTerm, list[Primitive]]:
    """The term of these words, and the edits that make it where there is none."""
    name = " ".join(texts.clean(name.replace(OBJECT, "")).split())[:200]
    if not name:
        raise EditError("Say what the index is to list.", "name")
    if parent and parent not in job.terms:
        raise EditError("The term that this one is to stand under is no longer in the job.", "parent")
    found = term_named(job, name, parent)
    if found is not None:
        return found, []
    made = IndexTerm(texts.new_id("x"), name, parent)
    return made, [put("terms", made)]


@dataclass(slots=True, frozen=True)
class MarkTerm:
    """Mark a place for the index, or a stretch from ``start`` to ``end`` that goes over paragraphs; with ``every`` all places where the
    selected words stand in texts."""

    story: str
    start: Place
    end: Place
    name: Name
    under: Name = ""
    """The words of the term that it stands under."""
    every: bool = False
    do: Literal["mark-term"] = "mark-term"
    label = "Marking for the index"

    def expand(self, job: Job) -> list[Primitive]:
        story, places = locate(job, self.story, self.start, self.end)
        (first, begin), (last, end) = sorted(places)
        edits: list[Primitive] = []
        parent = ""
        if self.under.strip():
            above, edits = _known(job, self.under, "")
            parent = above.id
            if edits:
                job = replace(job, terms=job.terms | {above.id: above})
        term, made = _known(job, self.name, parent)
        edits = [*edits, *made]
        if self.every:
            chosen = story.paragraphs[first].text[begin:end].replace(OBJECT, "").strip() if first == last else ""
            return [*edits, *_everywhere(job, term.id, chosen or term.name)]
        if first == last:
            return [*edits, SpliceParagraphs(story.id, first, 1, (_marked(story.paragraphs[first], term.id, begin),))]
        head = SpliceParagraphs(story.id, first, 1, (_marked(story.paragraphs[first], term.id, begin, "begin"),))
        foot = SpliceParagraphs(story.id, last, 1, (_marked(story.paragraphs[last], term.id, end, "end"),))
        return [*edits, head, foot]


def _marked(p: Paragraph, term: str, at: int, form: str = "") -> Paragraph:
    sign = Paragraph("", "", OBJECT, (Span(0, 1, object=Anchor("index", term, form)),))
    return texts.joined(texts.joined(texts.piece(p, 0, at), sign), texts.piece(p, at, len(p.text)))


def _everywhere(job: Job, term: str, words: str) -> Iterator[Primitive]:
    """Marks before every place where words stand as whole words, but where there is one already."""
    if not words:
        raise EditError("Select the words that are to be marked wherever they stand.")
    pattern = re.compile(rf"(?<!\w){re.escape(words)}(?!\w)", re.IGNORECASE)
    count = 0
    for story in job.stories.values():
        if story.kind != "text":
            continue
        for number, p in enumerate(story.paragraphs):
            places = [match.start() for match in pattern.finditer(p.text)]
            there = {
                span.end
                for span in p.spans
                if span.object is not None and span.object.kind == "index" and span.object.ref == term
            }
            made = p
            for at in reversed(places):
                if at not in there:
                    made = _marked(made, term, at)
                    count += 1
            if count > MOST_MARKS:
                raise EditError(
                    f"“{words}” stands in more than {MOST_MARKS:,} places: mark those that are worth looking up."
                )
            if made is not p:
                yield SpliceParagraphs(story.id, number, 1, (made,))


@dataclass(slots=True, frozen=True)
class PutTerm:
    """A term's words, what it is sorted as, what it stands under and leads to; without an id a new one."""

    name: Name
    id: Key | None = None
    parent: str = ""
    sort: Name = ""
    see: Annotated[tuple[Key, ...], Many(40)] = ()
    also: Annotated[tuple[Key, ...], Many(40)] = ()
    do: Literal["put-term"] = "put-term"
    label = "Changing a term of the index"

    def expand(self, job: Job) -> list[Primitive]:
        if self.id is not None and self.id not in job.terms:
            raise EditError("That term is no longer in the index.")
        name = " ".join(texts.clean(self.name).split())
        if not name:
            raise EditError("Give the term its words.", "name")
        there = term_named(job, name, self.parent)
        if there is not None and there.id != self.id:
            raise EditError(f"There is a term “{name}” there already.", "name")
        above = self.parent
        while above:
            if above == self.id or above not in job.terms:
                raise EditError("A term cannot stand under itself.", "parent")
            above = job.terms[above].parent
        if any(one == self.id or one not in job.terms for one in (*self.see, *self.also)):
            raise EditError("A term leads to other terms of the index.", "see")
        made = IndexTerm(self.id or texts.new_id("x"), name, self.parent, self.sort.strip(), self.see, self.also)
        return [put("terms", made)]


@dataclass(slots=True, frozen=True)
class RemoveTerm:
    """A term goes with its marks; those under it stand where it stood, and what led to it leads there no more."""

    id: Key
    do: Literal["remove-term"] = "remove-term"
    label = "Deleting a term of the index"

    def expand(self, job: Job) -> list[Primitive]:
        term = job.terms.get(self.id)
        if term is None:
            raise EditError("That term is no longer in the index.")
        edits: list[Primitive] = []
        for story in job.stories.values():
            for number, p in enumerate(story.paragraphs):
                made = without_spans(p, lambda anchor: anchor.kind == "index" and anchor.ref == self.id)
                if made is not p:
                    edits.append(SpliceParagraphs(story.id, number, 1, (made,)))
        for one in job.terms.values():
            kept = replace(
                one, parent=term.parent if one.parent == self.id else one.parent, see=tuple(key for key in one.see if key != self.id),
                also=tuple(key for key in one.also if key != self.id),
            )  # fmt: skip
            if one.id != self.id and kept != one:
                edits.append(put("terms", kept))
        return [*edits, PutEntry("terms", self.id, None)]
