"""The entries that a listing gathers from a composed job, in order, with their places."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

from lexigon.core.collation import collation
from lexigon.core.document import story_text
from lexigon.core.document.listing_merge import Merge, merged, standing
from lexigon.core.document.model import Gathered, Listing, ListingSource, Paragraph, Span, Target
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.index import terms_gathered
from lexigon.core.flow.notes import BEHIND_NUMBER, NOTE_NUMBER
from lexigon.core.flow.paragraphs import SetParagraph
from lexigon.core.flow.references import runs_in

_ENDS = r"[.!?…]++[\"'”’»)\]]*+(?=\s|$)"
_END = re.compile(_ENDS)
_SENTENCE = re.compile(rf".(?:{_ENDS}|.*?(?:(?<![.!?…]){_ENDS}|$))")
_WORD = re.compile(r"\S+")
_LOOSE = re.compile("[\u00ad\u200b\ufffc]|[\u2028\t ]+")
UNPLACED = 1 << 30


@dataclass(slots=True, frozen=True)
class FoundEntry:
    """An entry with the page it begins on; None where the text does not get there."""

    entry: Gathered
    page: int | None
    label: str = ""
    """The number of its page in another job of the publication, if it is there."""
    away: tuple[str, int] | None = None
    """That job, and the index of the page there."""
    term: str = ""
    """The term of a glossary entry, by which it is sorted and merged; "" for an entry without an explanation."""

    @property
    def key(self) -> str:
        return self.term or self.entry.words


def gathered(composition: Composition, listing: Listing) -> list[FoundEntry]:
    """The entries of a listing as the job stands, in its order; entries of the same words as one where it says so."""
    entries = [one for _, one in sorted(_all(composition, listing), key=lambda one: one[0])]
    if listing.over == "publication":
        entries = [*_abroad(composition, listing, True), *entries, *_abroad(composition, listing, False)]
    for source in listing.sources:
        if source.of == "marks":
            entries += [
                _with_page(composition, entry, page) for entry, page in terms_gathered(composition, listing, source)
            ]
            return entries
    if listing.order == "alphabetical":
        key = collation(composition.job.brief.language)
        entries.sort(key=lambda one: key(one.key))
    return _merged(entries) if listing.merged else entries


def _abroad(composition: Composition, listing: Listing, before: bool) -> Iterator[FoundEntry]:
    """Return the entries found for it in the jobs before this one, or after it."""
    for part in composition.job.abroad.values():
        if part.before == before:
            for one in part.found:
                if one.listing == listing.id:
                    page = next((page for page in one.pages if 0 <= page < len(part.labels)), None)
                    yield (
                        FoundEntry(one.made, None)
                        if page is None
                        else FoundEntry(one.made, None, part.labels[page], (part.id, page))
                    )


def _with_page(composition: Composition, entry: Gathered, page: int | None) -> FoundEntry:
    """An entry by a page that is counted through all jobs of the publication."""
    if page is None or 0 <= page < len(composition.job.pages):
        return FoundEntry(entry, page)
    beyond = composition.values.references.beyond
    return FoundEntry(entry, None, beyond.label(page) or "", beyond.place(page))


def _all(composition: Composition, listing: Listing) -> Iterator[tuple[tuple[int, int, int, int], FoundEntry]]:
    """Every entry with what orders it by appearance: page, text, paragraph, place in it."""
    own = {one.paragraph for other in composition.job.listings.values() for one in other.entries}
    paragraphs = {source.style: source for source in listing.sources if source.of == "paragraphs"}
    words = [source for source in listing.sources if source.of == "words"]
    notes = {source.style: source for source in listing.sources if source.of == "notes"}
    pages = _pages(composition, listing)
    for rank, (key, flow) in enumerate(composition.flows.items()):
        if listing.stories and key not in listing.stories:
            continue
        for at, set_ in enumerate(flow.paragraphs):
            paragraph = set_.shown.paragraph
            source = paragraphs.get(paragraph.style)
            if set_.paragraph.id in own:
                continue
            if notes and set_.notes:
                for offset, note in _notes(composition, key, set_, notes):
                    if pages is None or note.page in pages:
                        yield (UNPLACED if note.page is None else note.page, rank, at, offset), note
            if source is None and not words:
                continue
            places = [(Target(set_.paragraph.id), 0, source, paragraph)] if source is not None else []
            places += _in_words(composition.marked.of(key, set_.paragraph), words)
            for target, offset, from_, piece in places:
                text, spans = words_of(piece, from_)
                page = composition.where.page(key, set_.paragraph.id, offset) if text else None
                if text and (pages is None or page in pages):
                    order = (UNPLACED if page is None else page, rank, at, offset)
                    term = ""
                    if from_.of == "words" and from_.explain != "no":
                        term = words_of(story_text.piece(piece, 0, runs_in(piece, from_.style)[0][1]), from_)[0]
                    yield order, FoundEntry(Gathered((target,), text, spans, from_.level, from_.entry), page, term=term)


def _notes(
    composition: Composition, story: str, set_: SetParagraph, sources: Mapping[str, ListingSource]
) -> Iterator[tuple[int, FoundEntry]]:
    """The notes of some kinds that a paragraph cites, an entry for each of their paragraphs, with the place they are
    cited at."""
    numbers = composition.notes.numbers(story)
    for at, ref in set_.notes:
        cited = numbers.get(ref)
        source = sources.get(cited.kind.id) if cited is not None else None
        if cited is None or source is None:
            continue
        offset = set_.shown.source(at)
        page = composition.where.page(story, set_.paragraph.id, offset)
        for number, p in enumerate(composition.job.stories[ref].paragraphs):
            words = composition.showing.written(ref, p)
            text, spans = words_of(words, source)
            if number == 0 and cited.number:
                mark = Paragraph("", "", cited.number, (Span(0, len(cited.number), NOTE_NUMBER),))
                mark = story_text.joined(mark, Paragraph("", "", BEHIND_NUMBER))
                whole = story_text.joined(mark, Paragraph("", "", text, spans))
                text, spans = whole.text, whole.spans
            if text:
                yield (
                    offset,
                    FoundEntry(Gathered((Target(p.id),), text, spans, source.level, source.entry or p.style), page),
                )


def _in_words(paragraph: Paragraph, sources: list[ListingSource]) -> list[tuple[Target, int, ListingSource, Paragraph]]:
    """The words of a paragraph, as rules have it, that are in a character style; also those that a rule hides, such as
    queries."""
    return [
        (
            Target(paragraph.id, source.style, nth),
            start,
            source,
            _without_hidden(story_text.piece(paragraph, start, _explained(paragraph.text, end, source))),
        )
        for source in sources
        for nth, (start, end) in enumerate(runs_in(paragraph, source.style))
    ]


def _explained(text: str, end: int, source: ListingSource) -> int:
    """Return the offset at which the explanation of a term ends. The term itself ends at ``end``."""
    if source.explain == "no":
        return end
    if source.explain == "sentence" and _END.match(text, end):
        return end
    if source.explain == "mark":
        position = text.find(source.mark, end)
        return len(text) if position < 0 else position
    if source.explain == "sentence":
        rest = _SENTENCE.match(text, end)
        return rest.end() if rest else end
    return len(text)


def _without_hidden(paragraph: Paragraph) -> Paragraph:
    spans = (
        replace(span, object=None) if span.object is not None and span.object.kind == "hidden" else span
        for span in paragraph.spans
    )
    return replace(paragraph, spans=tuple(spans))


def _pages(composition: Composition, listing: Listing) -> set[int] | None:
    """The pages it is restricted to, None for all."""
    if not listing.sections:
        return None
    pages, within = set(), False
    for index, page in enumerate(composition.job.pages):
        if page.section is not None:
            within = page.id in listing.sections
        if within:
            pages.add(index)
    return pages


def words_of(paragraph: Paragraph, source: ListingSource) -> tuple[str, tuple[Span, ...]]:
    """The words of an entry on one line with their local formatting, without numbers of notes, soft hyphens and line
    ends."""
    whole = paragraph
    for span in reversed(paragraph.spans):
        if span.object is not None and span.object.kind in ("note", "frame", "table", "hidden", "index"):
            whole = _exchanged(whole, span.start, span.end, "")
    for match in reversed(list(_LOOSE.finditer(whole.text))):
        # The number of a list is parted from its words by a tab.
        want = "" if match[0][0] in "\u00ad\u200b\ufffc" else " "
        if match[0] != want:
            whole = _exchanged(whole, match.start(), match.end(), want)
    left = len(whole.text) - len(whole.text.lstrip())
    right = _until(whole.text, source) if source.take != "all" else len(whole.text.rstrip())
    whole = story_text.piece(whole, left, max(right, left))
    plain = source.of == "words" and source.explain == "no"  # a term stays distinct from its explanation
    spans = (
        replace(
            span,
            object=None,
            link="",
            style=None if plain and span.style == source.style else span.style,
        )
        for span in whole.spans
    )
    return whole.text, story_text.tidy(tuple(span for span in spans if span.style or span.type))


def _exchanged(paragraph: Paragraph, start: int, end: int, words: str) -> Paragraph:
    """Replace a range by other words without formatting."""
    head = story_text.joined(story_text.piece(paragraph, 0, start), Paragraph("", "", words))
    return story_text.joined(head, story_text.piece(paragraph, end, len(paragraph.text)))


def _until(text: str, source: ListingSource) -> int:
    """Return where the first words or sentences end."""
    units = list((_WORD if source.take == "words" else _SENTENCE).finditer(text))
    return len(text[: units[min(source.count, len(units)) - 1].end()].rstrip()) if units else 0


def _merged(entries: list[FoundEntry]) -> list[FoundEntry]:
    """Entries of the same words and level as one, which leads to all their places."""
    merged: dict[tuple[str, int], FoundEntry] = {}
    for one in entries:
        key = one.key.casefold(), one.entry.level
        first = merged.get(key)
        if first is None:
            merged[key] = one
        else:
            targets = (*first.entry.targets, *one.entry.targets)
            merged[key] = replace(first, entry=replace(first.entry, targets=targets))
    return list(merged.values())


def due(composition: Composition, listing: Listing) -> Merge | None:
    """Return the changes that updating a listing would make; None if it is in no story."""
    stands = standing(composition.job, listing)
    if stands is None:
        return None
    story, first, behind = stands
    now = [one.entry for one in gathered(composition, listing)]
    return merged(composition.job, listing, now, story.paragraphs[first:behind])


def first_place(composition: Composition, listing: Listing) -> tuple[str, str] | None:
    """The story that a listing is in, and the paragraph that it begins with."""
    stands = standing(composition.job, listing)
    return (stands[0].id, stands[0].paragraphs[stands[1]].id) if stands else None
