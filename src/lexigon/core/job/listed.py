"""Listings in texts: their entries as paragraphs, and the merge of what was gathered before, what an editor made of it since, and what is
gathered now.

The merge goes entry by entry: what only one side changed is taken over, what both changed is a conflict, in which the editor's words stay
unless told otherwise.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from lexigon.core.job import text as texts
from lexigon.core.job.model import (
    OBJECT,
    Anchor,
    Gathered,
    Job,
    Listing,
    ListingEntry,
    Paragraph,
    Span,
    Story,
)

CONTENTS = "contents"
"""The style of entries where nothing else is said; those of lower levels are named ``contents-2`` and so on."""
What = Literal["new", "gone", "words", "style", "moved", "conflict", "kept"]
"""``kept``: what it was gathered from is gone, but its words were changed by hand, and so it stays."""


@dataclass(slots=True, frozen=True)
class Difference:
    """What an update does to an entry, or would but for an editor's change (``conflict``, ``kept``)."""

    what: What
    entry: str
    old: str
    new: str
    mine: str = ""
    """What stands there now."""


@dataclass(slots=True)
class Merge:
    paragraphs: list[Paragraph]
    """In place of those from the first entry to the last."""
    entries: list[ListingEntry]
    differences: list[Difference] = field(default_factory=list)


def entry_style(job: Job, made: Gathered) -> str:
    """The style an entry is set in."""
    if made.style:
        return made.style
    return CONTENTS if made.level == 1 else f"{CONTENTS}-{made.level}"


def line_of(listing: Listing, key: str, made: Gathered) -> tuple[str, tuple[Span, ...]]:
    """The text of an entry's paragraph, its number as an object in it."""
    if listing.number == "none":
        return made.words, made.spans
    shown = Anchor("entry", listing.id, key)
    if listing.number == "before":
        behind = 1 + len(listing.separator)
        moved = (replace(span, start=span.start + behind, end=span.end + behind) for span in made.spans)
        return OBJECT + listing.separator + made.words, (Span(0, 1, object=shown), *moved)
    text = made.words + listing.separator + OBJECT
    return text, (*made.spans, Span(len(text) - 1, len(text), object=shown))


def standing(job: Job, listing: Listing) -> tuple[Story, int, int] | None:
    """Where a listing stands: its text, its first entry's place among the paragraphs, and the place behind its last; None for nowhere."""
    own = {one.paragraph for one in listing.entries if not one.out}
    for story in job.stories.values():
        places = [at for at, p in enumerate(story.paragraphs) if p.id in own]
        if places:
            return story, places[0], places[-1] + 1
    return None


def merged(
    job: Job, listing: Listing, gathered: Sequence[Gathered], paragraphs: Sequence[Paragraph], taken: Collection[str] = ()
) -> Merge:  # fmt: skip
    """What becomes of a listing's paragraphs. Of the entries named in ``taken`` the editor's change gives way where both changed."""
    there = {p.id: p for p in paragraphs}
    known = _matched(listing.entries, gathered)
    made: dict[str, Paragraph] = {}
    order: list[str] = []
    result = Merge([], [])
    for number, new in enumerate(gathered):
        old = known.get(number)
        if old is None:
            entry, p = _new_entry(job, listing, new)
            result.differences.append(Difference("new", entry.id, "", _said(p.text)))
        elif old.out or old.paragraph not in there:
            result.entries.append(replace(old, made=new, out=True))
            continue
        else:
            entry, p = _updated(job, listing, old, new, there[old.paragraph], old.id in taken, result)
        made[p.id] = p
        order.append(p.id)
        result.entries.append(entry)
    matched = {one.id for one in known.values()}
    kept: list[str] = []
    for old in listing.entries:
        stands = there.get(old.paragraph)
        if old.id in matched or stands is None or old.out:
            continue
        what: What = "kept" if _by_hand(old, stands) and old.id not in taken else "gone"
        result.differences.append(Difference(what, old.id, _said(old.text), "", _said(stands.text)))
        if what == "kept":
            made[stands.id] = stands
            kept.append(stands.id)
            result.entries.append(old)
    result.paragraphs = _in_order(listing, paragraphs, made, order, kept, result)
    return result


def _matched(entries: Iterable[ListingEntry], gathered: Sequence[Gathered]) -> dict[int, ListingEntry]:
    """Which entry of before each gathered one is: by where it leads, else by its words, which were cut and put in elsewhere."""
    left = {one.id: one for one in entries}
    by_target = {(target, one.made.level): one.id for one in left.values() for target in one.made.targets}
    found: dict[int, ListingEntry] = {}
    for number, new in enumerate(gathered):
        for target in new.targets:
            key = by_target.get((target, new.level))
            if key in left:
                found[number] = left.pop(key)
                break
    by_words: dict[tuple[str, int], list[str]] = {}
    for one in left.values():
        by_words.setdefault((one.made.words, one.made.level), []).append(one.id)
    for number, new in enumerate(gathered):
        if number not in found and (keys := by_words.get((new.words, new.level))):
            found[number] = left[keys.pop(0)]
    return found


def _new_entry(job: Job, listing: Listing, new: Gathered) -> tuple[ListingEntry, Paragraph]:
    key, style = texts.new_id("e"), entry_style(job, new)
    text, spans = line_of(listing, key, new)
    p = Paragraph(texts.new_id("p"), style, text, texts.tidy(spans))
    return ListingEntry(key, new, text, p.spans, style, p.id), p


def _by_hand(entry: ListingEntry, p: Paragraph) -> bool:
    """Whether an editor has changed an entry's words or their looks."""
    return (p.text, p.spans) != (entry.text, entry.spans)


def _updated(
    job: Job, listing: Listing, old: ListingEntry, new: Gathered, p: Paragraph, give_way: bool, result: Merge
) -> tuple[ListingEntry, Paragraph]:  # fmt: skip
    """One entry that was there before, and is gathered still."""
    text, spans = line_of(listing, old.id, new)
    spans, style = texts.tidy(spans), entry_style(job, new)
    fresh = (text, spans) != (old.text, old.spans)
    if fresh and (p.text, p.spans) != (text, spans):
        if not _by_hand(old, p) or give_way:
            result.differences.append(Difference("words", old.id, _said(old.text), _said(text), _said(p.text)))
            p = replace(p, text=text, spans=spans)
        else:
            result.differences.append(Difference("conflict", old.id, _said(old.text), _said(text), _said(p.text)))
            return replace(old, made=new), p  # both stand as they were: it is asked about again
    if style != old.style and p.style == old.style:
        result.differences.append(Difference("style", old.id, _said(text), _said(text)))
        p = replace(p, style=style)
    return replace(old, made=new, text=text, spans=spans, style=style), p


def _in_order(
    listing: Listing, before: Sequence[Paragraph], made: Mapping[str, Paragraph], order: list[str], kept: list[str], result: Merge
) -> list[Paragraph]:  # fmt: skip
    """The paragraphs in their order: as gathered; where that has not changed, as an editor has put them. Paragraphs of the editor's own stay
    behind the entry they follow."""
    stood = [p.id for p in before if p.id in made]
    gathered_before = [one.paragraph for one in listing.entries if one.paragraph in made and one.paragraph in order]
    common = [key for key in order if key in stood]
    if common == gathered_before:  # what is new goes behind what it is gathered behind
        final = [key for key in stood if key in common or key in kept]
        last = ""
        for key in order:
            if key not in stood:
                final.insert(final.index(last) + 1 if last else 0, key)
            last = key
    else:
        shifted = set(common) - set(_longest_kept(gathered_before, common))
        entries = {one.paragraph: one.id for one in result.entries}
        result.differences += [Difference("moved", entries[key], _said(made[key].text), _said(made[key].text)) for key in common if key in shifted]  # fmt: skip
        final = list(order)
        for key in kept:
            ahead = [other for other in stood[: stood.index(key)] if other in final]
            final.insert(final.index(ahead[-1]) + 1 if ahead else 0, key)
    own = {one.paragraph for one in listing.entries}
    followers: dict[str, list[Paragraph]] = {}
    last = ""
    for p in before:
        if p.id in made:
            last = p.id
        elif p.id not in own:
            followers.setdefault(last, []).append(p)
    result_paragraphs = list(followers.get("", ()))
    for key in final:
        result_paragraphs += [made[key], *followers.get(key, ())]
    return result_paragraphs


def _longest_kept(before: Sequence[str], now: Sequence[str]) -> list[str]:
    """The most of them that stand in the same order as before."""
    from difflib import SequenceMatcher

    blocks = SequenceMatcher(None, before, now, autojunk=False).get_matching_blocks()
    return [key for block in blocks for key in before[block.a : block.a + block.size]]


def _said(text: str) -> str:
    """A line as it is told: without its number and what parts it from the words."""
    return " ".join(text.replace(OBJECT, " ").split())
