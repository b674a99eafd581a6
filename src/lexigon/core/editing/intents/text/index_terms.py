"""Intents about the index: words marked in the text, and the terms they are marked for."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from lexigon.core.document import story_text
from lexigon.core.document.anchors import without_spans
from lexigon.core.document.limits import Key, Many, Name, Text
from lexigon.core.document.listing_merge import MAIN, entry_paragraphs
from lexigon.core.document.model import OBJECT, Anchor, CharacterStyle, IndexTerm, Job, Paragraph, Span, TypeSpec
from lexigon.core.editing.edits import EditError, Primitive, PutEntry, SpliceParagraphs, put
from lexigon.core.editing.intents.text.words import Place, locate
from lexigon.core.numerals import integer

MOST_MARKS = 20_000
"""Places that are marked at once."""
MOST_LISTED = 5_000
_WORD = re.compile(r"\w+")


def term_named(job: Job, name: str, parent: str = "") -> IndexTerm | None:
    """A term by its words, capitals or not, among those under the same one."""
    return next(
        (one for one in job.terms.values() if one.parent == parent and one.name.casefold() == name.casefold()), None
    )


def _term_of(job: Job, name: str, parent: str) -> IndexTerm:
    """The term of these words; a new one, which the job has not got, where there is none."""
    name = " ".join(story_text.clean(name.replace(OBJECT, "")).split())[:200]
    if not name:
        raise EditError("Type the term as the index lists it.", "name")
    if parent and parent not in job.terms:
        raise EditError("The main term of this sub-entry is no longer in the index.", "parent")
    return term_named(job, name, parent) or IndexTerm(story_text.new_id("x"), name, parent)


@dataclass(slots=True, frozen=True)
class MarkTerm:
    """Mark a place for the index, or a range from ``start`` to ``end`` that spans paragraphs; with ``every``, all
    places in stories with the selected words."""

    story: str
    start: Place
    end: Place
    name: Name
    under: Name = ""
    """The words of the term that it stands under."""
    every: bool = False
    main: bool = False
    """The subject is treated foremost there: its number is set off."""
    do: Literal["mark-term"] = "mark-term"
    label = "Add index entry"

    def expand(self, job: Job) -> list[Primitive]:
        story, places = locate(job, self.story, self.start, self.end)
        (first, begin), (last, end) = sorted(places)
        term, new_terms = _under(job, self.under, self.name)
        edits: list[Primitive] = [put("terms", one) for one in new_terms]
        if self.main:
            edits += _main_style(job)
        if self.every:
            chosen = story.paragraphs[first].text[begin:end].replace(OBJECT, "").strip() if first == last else ""
            return [*edits, *_everywhere(job, [(chosen or term.name, term.id)])]
        main = "main" if self.main else ""
        if first == last:
            return [
                *edits,
                SpliceParagraphs(story.id, first, 1, (_marked(story.paragraphs[first], term.id, begin, main),)),
            ]
        form = f"begin {main}".strip()
        head = SpliceParagraphs(story.id, first, 1, (_marked(story.paragraphs[first], term.id, begin, form),))
        foot = SpliceParagraphs(story.id, last, 1, (_marked(story.paragraphs[last], term.id, end, "end"),))
        return [*edits, head, foot]


def _marked(p: Paragraph, term: str, at: int, form: str = "") -> Paragraph:
    sign = Paragraph("", "", OBJECT, (Span(0, 1, object=Anchor("index", term, form)),))
    return story_text.joined(story_text.joined(story_text.piece(p, 0, at), sign), story_text.piece(p, at, len(p.text)))


def _under(job: Job, under: str, name: str) -> tuple[IndexTerm, list[IndexTerm]]:
    """A term, which may stand under another, and those of the two that are new."""
    above = _term_of(job, under, "") if under.strip() else None
    term = _term_of(_with_terms(job, [above] if above else []), name, above.id if above else "")
    return term, [one for one in (above, term) if one is not None and one.id not in job.terms]


def _with_terms(job: Job, new_terms: Sequence[IndexTerm]) -> Job:
    return replace(job, terms=job.terms | {one.id: one for one in new_terms}) if new_terms else job


def _main_style(job: Job) -> list[Primitive]:
    if MAIN in job.character_styles:
        return []
    return [put("character_styles", CharacterStyle(MAIN, "Index, main place", type=TypeSpec(weight=700)))]


def _everywhere(job: Job, searches: Sequence[tuple[str, str]]) -> Iterator[Primitive]:
    """Marks before every place where words stand as whole words, each for its term, but where there is one already, and
    but for the entries of listings. Of words that begin at one place the longest count."""
    terms: dict[str, list[str]] = {}
    begun: dict[str, set[tuple[str, int]]] = {}
    for words, term in searches:
        first = _WORD.search(words)
        if first is None:
            raise EditError("Select the words to mark wherever they occur.")
        terms.setdefault(words.casefold(), []).append(term)
        begun.setdefault(first[0].casefold(), set()).add((words.casefold(), first.start()))
    by_word = {word: sorted(some, key=lambda one: -len(one[0])) for word, some in begun.items()}

    def matches_in(text: str) -> Iterator[tuple[int, str]]:
        """Return the places of the words of the list, without overlaps."""
        at = 0
        for match in _WORD.finditer(text):
            for words, before in by_word.get(match[0].casefold(), ()):
                begin, end = match.start() - before, match.start() - before + len(words)
                if begin >= at and text[begin:end].casefold() == words and not _WORD.match(text, end):
                    yield begin, words
                    at = end
                    break

    count = 0
    entries = entry_paragraphs(job)
    for story in job.stories.values():
        if story.kind != "text":
            continue
        for number, p in enumerate(story.paragraphs):
            if p.id in entries:
                continue
            there = {
                span.end: span.object.ref for span in p.spans if span.object is not None and span.object.kind == "index"
            }
            paragraph = p
            for at, words in reversed(list(matches_in(p.text))):
                begin, marks = at, set[str]()
                while begin in there:
                    marks.add(there[begin])
                    begin -= 1
                for term in dict.fromkeys(terms[words]):
                    if term not in marks:
                        paragraph = _marked(paragraph, term, at)
                        count += 1
            if count > MOST_MARKS:
                raise EditError(
                    f"These words occur in more than {integer(MOST_MARKS)} places: mark only those that are worth "
                    "looking up."
                )
            if paragraph is not p:
                yield SpliceParagraphs(story.id, number, 1, (paragraph,))


@dataclass(slots=True, frozen=True)
class MarkTerms:
    """Mark, for each line of a list, every place where its words stand: ``dunlin``, ``dunlins = dunlin`` for words that
    are listed under others, ``dunlin nests = dunlin > nests`` for a term under another. Lines without words are passed
    over."""

    words: Text
    do: Literal["mark-terms"] = "mark-terms"
    label = "Add index entries from a list"

    def expand(self, job: Job) -> list[Primitive]:
        searches: list[tuple[str, str]] = []
        edits: list[Primitive] = []
        for number, line in enumerate(self.words.split("\n"), 1):
            searched, _, term_name = (part.strip() for part in line.partition("="))
            if not searched and not term_name:
                continue
            under, _, name = (part.strip() for part in (term_name or searched).rpartition(">"))
            if not searched or not name or "=" in term_name or ">" in under:
                raise EditError(
                    f"Line {number} cannot be read: “{line.strip()[:60]}”. Type words, or words = term, or words = term"
                    " > sub-entry."
                )
            term, new_terms = _under(job, under, name)
            job = _with_terms(job, new_terms)
            edits += [put("terms", one) for one in new_terms]
            searches.append((story_text.clean(searched.replace(OBJECT, "")), term.id))
            if len(searches) > MOST_LISTED:
                raise EditError(f"A list has at most {integer(MOST_LISTED)} lines with words.")
        if not searches:
            raise EditError("Type the words to mark, one on each line.", "words")
        marks = list(_everywhere(job, searches))
        if not marks:
            raise EditError("These words do not occur, or are already marked everywhere.")
        return [*edits, *marks]


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
    label = "Change index term"

    def expand(self, job: Job) -> list[Primitive]:
        if self.id is not None and self.id not in job.terms:
            raise EditError("That term is no longer in the index.")
        name = " ".join(story_text.clean(self.name).split())
        if not name:
            raise EditError("Type the term.", "name")
        there = term_named(job, name, self.parent)
        if there is not None and there.id != self.id:
            raise EditError(f"There is a term “{name}” there already.", "name")
        above = self.parent
        while above:
            if above == self.id or above not in job.terms:
                raise EditError("A term cannot be a sub-entry of itself.", "parent")
            above = job.terms[above].parent
        if any(one == self.id or one not in job.terms for one in (*self.see, *self.also)):
            raise EditError("“See” refers to other terms of the index.", "see")
        changed_term = IndexTerm(
            self.id or story_text.new_id("x"), name, self.parent, self.sort.strip(), self.see, self.also
        )
        return [put("terms", changed_term)]


@dataclass(slots=True, frozen=True)
class RemoveTerm:
    """Delete a term with its marks; the terms under it take its place, and references to it are removed."""

    id: Key
    do: Literal["remove-term"] = "remove-term"
    label = "Delete index term"

    def expand(self, job: Job) -> list[Primitive]:
        term = job.terms.get(self.id)
        if term is None:
            raise EditError("That term is no longer in the index.")
        edits: list[Primitive] = []
        for story in job.stories.values():
            for number, p in enumerate(story.paragraphs):
                paragraph = without_spans(p, lambda anchor: anchor.kind == "index" and anchor.ref == self.id)
                if paragraph is not p:
                    edits.append(SpliceParagraphs(story.id, number, 1, (paragraph,)))
        for one in job.terms.values():
            listing = replace(
                one,
                parent=term.parent if one.parent == self.id else one.parent,
                see=tuple(key for key in one.see if key != self.id),
                also=tuple(key for key in one.also if key != self.id),
            )
            if one.id != self.id and listing != one:
                edits.append(put("terms", listing))
        return [*edits, PutEntry("terms", self.id, None)]
