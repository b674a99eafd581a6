"""Listings in stories: their entries as paragraphs, and the merge of the previous entries, an editor's changes to them,
and the entries gathered now.

The merge goes entry by entry: a change on one side is taken over, a change on both is a conflict, in which the editor's
words stay unless the caller decides otherwise.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from lexigon.core.document import story_text
from lexigon.core.document.model import (
    OBJECT,
    Anchor,
    Gathered,
    Inner,
    Job,
    Listing,
    ListingEntry,
    Paragraph,
    Span,
    Story,
)

CONTENTS = "contents"
"""The style of entries where nothing else is said; those of lower levels are named ``contents-2`` and so on."""
INDEX, LETTER = "index", "index-letter"
"""The styles of an index's entries (``index-2`` and so on below the first level), and of the letters they begin
with."""
MAIN = "index-main"
"""The character style of the numbers of main places."""
What = Literal["new", "gone", "words", "style", "moved", "conflict", "kept"]
"""``kept``: its source is gone, but it stays because its words were edited."""


@dataclass(slots=True, frozen=True)
class Difference:
    """The change that an update makes to an entry, or would make if nobody had edited it (``conflict``, ``kept``)."""

    what: What
    entry: str
    old: str
    new: str
    mine: str = ""
    """The words of the entry in the story."""


@dataclass(slots=True)
class Merge:
    paragraphs: list[Paragraph]
    """In place of those from the first entry to the last."""
    entries: list[ListingEntry]
    differences: list[Difference] = field(default_factory=list)


def entry_style(job: Job, entry: Gathered) -> str:
    """The style an entry is set in."""
    if entry.style:
        return entry.style
    return CONTENTS if entry.level == 1 else f"{CONTENTS}-{entry.level}"


def line_of(listing: Listing, key: str, entry: Gathered) -> tuple[str, tuple[Span, ...]]:
    """The text of an entry's paragraph, its number as an object in it; with run-in entries, theirs after it."""
    text, spans = _numbered(listing, key, entry)
    for number, one in enumerate(entry.inner):
        text += ": " if number == 0 and not entry.targets and not entry.behind else "; "
        more, own = _numbered(listing, inner_key(key, number), one)
        spans = (*spans, *_shifted(own, len(text)))
        text += more
    return text, spans


def inner_key(key: str, number: int) -> str:
    """Return how the numbers of an entry within another's paragraph are named."""
    return f"{key}.{number}"


def _numbered(listing: Listing, key: str, entry: Gathered | Inner) -> tuple[str, tuple[Span, ...]]:
    if listing.number == "none" or not entry.targets:
        return entry.words + entry.behind, entry.spans
    anchor = Anchor("entry", listing.id, key)
    if listing.number == "before":
        moved = _shifted(entry.spans, 1 + len(listing.separator))
        return OBJECT + listing.separator + entry.words, (Span(0, 1, object=anchor), *moved)
    text = entry.words + listing.separator + OBJECT
    return text + entry.behind, (*entry.spans, Span(len(text) - 1, len(text), object=anchor))


def _shifted(spans: Iterable[Span], by: int) -> Iterator[Span]:
    return (replace(span, start=span.start + by, end=span.end + by) for span in spans)


def entry_paragraphs(job: Job) -> set[str]:
    """The paragraphs that are entries of listings: what they say is a copy of what is elsewhere in the job."""
    return {one.paragraph for listing in job.listings.values() for one in listing.entries if not one.out}


def standing(job: Job, listing: Listing) -> tuple[Story, int, int] | None:
    """Return the place of a listing: its story, the index of its first entry's paragraph, and the index after its last;
    None if it is in no story."""
    own = {one.paragraph for one in listing.entries if not one.out}
    for story in job.stories.values():
        places = [at for at, p in enumerate(story.paragraphs) if p.id in own]
        if places:
            return story, places[0], places[-1] + 1
    return None


def merged(
    job: Job,
    listing: Listing,
    gathered: Sequence[Gathered],
    paragraphs: Sequence[Paragraph],
    replaced: Collection[str] = (),
    mine: Collection[str] = (),
) -> Merge:
    """Return the new paragraphs of a listing. Where both sides have changed an entry, the editor's change is dropped if
    the entry is named in ``replaced``, and accepted for the future if it is named in ``mine``; in all other cases it
    stays, and is reported."""
    merging = _Merging(job, listing, paragraphs, replaced, mine)
    merging.run(gathered)
    return merging.result


class _Merging:
    def __init__(
        self,
        job: Job,
        listing: Listing,
        paragraphs: Sequence[Paragraph],
        replaced: Collection[str],
        mine: Collection[str],
    ) -> None:
        self.job, self.listing, self.before, self.taken, self.mine = job, listing, paragraphs, replaced, mine
        self.there = {p.id: p for p in paragraphs}
        self.own = {one.paragraph for one in listing.entries}
        """The paragraphs that are entries; all others are an editor's own."""
        self.made: dict[str, Paragraph] = {}
        self.order: list[str] = []
        """As it is gathered."""
        self.kept: list[str] = []
        self.result = Merge([], [])

    def tell(self, what: What, entry: str, old: str, new: str, mine: str = "") -> None:
        self.result.differences.append(Difference(what, entry, _line_text(old), _line_text(new), _line_text(mine)))

    def run(self, gathered: Sequence[Gathered]) -> None:
        previous = _matched(self.listing.entries, gathered)
        for number, new in enumerate(gathered):
            old = previous.get(number)
            if old is not None and (old.out or old.paragraph not in self.there):
                self.result.entries.append(replace(old, made=new, out=True))
                continue
            entry, p = self.begun(new) if old is None else self.updated(old, new, self.there[old.paragraph])
            self.made[p.id] = p
            self.order.append(p.id)
            self.result.entries.append(entry)
        matched = {one.id for one in previous.values()}
        for old in self.listing.entries:
            if old.id not in matched and old.paragraph in self.there and not old.out:
                self.left(old, self.there[old.paragraph])
        self.result.paragraphs = self.in_order()

    def begun(self, new: Gathered) -> tuple[ListingEntry, Paragraph]:
        """An entry that was not there before."""
        entry, p = entry_of(self.job, self.listing, new)
        self.tell("new", entry.id, "", p.text)
        return entry, p

    def updated(self, old: ListingEntry, new: Gathered, p: Paragraph) -> tuple[ListingEntry, Paragraph]:
        """An entry that was there before, and is gathered still."""
        text, spans = line_of(self.listing, old.id, new)
        spans, style = story_text.tidy(spans), entry_style(self.job, new)
        if (text, spans) != (old.text, old.spans) and (p.text, p.spans) != (text, spans):
            if not _by_hand(old, p) or old.id in self.taken:
                self.tell("words", old.id, old.text, text, p.text)
                p = replace(p, text=text, spans=spans)
            elif old.id not in self.mine:
                self.tell("conflict", old.id, old.text, text, p.text)
                return replace(old, made=new), p  # both stand as they were: it is asked about again
        if style != old.style and p.style == old.style:
            self.tell("style", old.id, text, text)
            p = replace(p, style=style)
        return replace(old, made=new, text=text, spans=spans, style=style), p

    def left(self, old: ListingEntry, p: Paragraph) -> None:
        """An entry whose place is gone."""
        if old.id in self.mine:
            self.own.discard(p.id)  # it is the editor's own from now on
        elif _by_hand(old, p) and old.id not in self.taken:
            self.tell("kept", old.id, old.text, "", p.text)
            self.made[p.id] = p
            self.kept.append(p.id)
            self.result.entries.append(old)
        else:
            self.tell("gone", old.id, old.text, "", p.text)

    def in_order(self) -> list[Paragraph]:
        """The paragraphs in order: as gathered; where that order is unchanged, as an editor has arranged them.
        Paragraphs added by the editor stay after the entry they follow."""
        stood = [p.id for p in self.before if p.id in self.made]
        before = [one.paragraph for one in self.listing.entries if one.paragraph in self.order]
        common = [key for key in self.order if key in set(stood)]
        final = self.as_put(stood, common) if common == before else self.as_gathered(stood, before, common)
        followers: dict[str, list[Paragraph]] = {}
        last = ""
        for p in self.before:
            if p.id in self.made:
                last = p.id
            elif p.id not in self.own:
                followers.setdefault(last, []).append(p)
        paragraphs = list(followers.get("", ()))
        for key in final:
            paragraphs += [self.made[key], *followers.get(key, ())]
        return paragraphs

    def as_put(self, stood: list[str], common: list[str]) -> list[str]:
        """Keep their order, with each new entry after the one that it follows among the gathered ones."""
        final, last = list(stood), ""
        present = {*common}
        for key in self.order:
            if key not in present:
                final.insert(final.index(last) + 1 if last else 0, key)
            last = key
        return final

    def as_gathered(self, stood: list[str], before: list[str], common: list[str]) -> list[str]:
        """In the order of the gathered ones, since that is another now."""
        shifted = {*common} - {*_longest_common(before, common)}
        entries = {one.paragraph: one.id for one in self.result.entries}
        for key in common:
            if key in shifted:
                self.tell("moved", entries[key], self.made[key].text, self.made[key].text)
        final = list(self.order)
        for key in self.kept:
            ahead = [other for other in stood[: stood.index(key)] if other in final]
            final.insert(final.index(ahead[-1]) + 1 if ahead else 0, key)
        return final


def entry_of(job: Job, listing: Listing, new: Gathered) -> tuple[ListingEntry, Paragraph]:
    """Return a gathered entry as an entry in a story: its record, and its paragraph."""
    key, style = story_text.new_id("e"), entry_style(job, new)
    text, spans = line_of(listing, key, new)
    p = Paragraph(story_text.new_id("p"), style, text, story_text.tidy(spans))
    return ListingEntry(key, new, text, p.spans, style, p.id), p


def _matched(entries: Iterable[ListingEntry], gathered: Sequence[Gathered]) -> dict[int, ListingEntry]:
    """Return the previous entry of each gathered one: by its target, else by its words, which were cut and inserted
    elsewhere."""
    left = {one.id: one for one in entries}
    by_target = {(target, one.made.level): one.id for one in left.values() for target in one.made.targets}
    matches: dict[int, ListingEntry] = {}
    for number, new in enumerate(gathered):
        for target in new.targets:
            key = by_target.get((target, new.level))
            if key in left:
                matches[number] = left.pop(key)
                break
    by_words: dict[tuple[str, int], list[str]] = {}
    for one in left.values():
        by_words.setdefault((one.made.words, one.made.level), []).append(one.id)
    for number, new in enumerate(gathered):
        if number not in matches and (keys := by_words.get((new.words, new.level))):
            matches[number] = left[keys.pop(0)]
    return matches


def _by_hand(entry: ListingEntry, p: Paragraph) -> bool:
    """Return whether an editor has changed an entry's words or their formatting."""
    return (p.text, p.spans) != (entry.text, entry.spans)


def _longest_common(before: Sequence[str], now: Sequence[str]) -> list[str]:
    """The largest set of them that are in the same order as before."""
    from difflib import SequenceMatcher

    blocks = SequenceMatcher(None, before, now, autojunk=False).get_matching_blocks()
    return [key for block in blocks for key in before[block.a : block.a + block.size]]


def _line_text(text: str) -> str:
    """A line as it is shown in a list of changes: without its number and the separator."""
    return " ".join(text.replace(OBJECT, " ").split())
