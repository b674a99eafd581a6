"""Front matter and listings that stay in place when a new manuscript is poured over a story."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from lexigon.core.document.cascade import Cascade
from lexigon.core.document.listing_merge import standing
from lexigon.core.document.model import Job, Paragraph, Story
from lexigon.core.editing.intents.text.listings import HEADING
from lexigon.core.manuscript.front import ORDER, front_matter


@dataclass(slots=True, frozen=True)
class FrontAndBack:
    """The paragraphs of a story after a manuscript has been poured into it."""

    paragraphs: tuple[Paragraph, ...]
    names: tuple[str, ...] = ()
    """The names of what stays in place: title page, imprint, the names of listings."""


@dataclass(slots=True, frozen=True)
class _Block:
    """A listing with its heading, as a range of paragraph numbers; ``end`` is not included."""

    name: str
    start: int
    end: int


def around(job: Job, story: Story, new: Sequence[Paragraph]) -> FrontAndBack:
    """Combine the paragraphs of a manuscript with the front matter and the listings of a story that stay in place."""
    blocks = _blocks(job, story)
    inside = {number for block in blocks for number in range(block.start, block.end)}
    numbers = [number for number in range(len(story.paragraphs)) if number not in inside]
    own = [story.paragraphs[number] for number in numbers]
    before, incoming = front_matter(own), front_matter(new)
    if not before and not blocks:
        return FrontAndBack(tuple(new))
    kinds = {leaf.kind for leaf in incoming}
    stays = [leaf for leaf in before if leaf.kind not in kinds]
    end = max((leaf.end for leaf in before), default=0)
    begins = numbers[end] if end < len(numbers) else len(story.paragraphs)
    listed, last = (
        [p for block in blocks if (block.start < begins) == first for p in story.paragraphs[block.start : block.end]]
        for first in (True, False)
    )
    body = new[max((leaf.end for leaf in incoming), default=0) :]
    merged: list[Paragraph] = []
    pieces = [(leaf, own[leaf.start : leaf.end]) for leaf in stays] + [
        (leaf, list(new[leaf.start : leaf.end])) for leaf in incoming
    ]
    order = list(ORDER)
    after = order.index("contents")
    for leaf, paragraphs in sorted(pieces, key=lambda one: order.index(one[0].kind)):
        if listed and order.index(leaf.kind) > after:
            merged += listed
            listed = []
        merged += paragraphs
    merged += listed
    names = (*(ORDER[leaf.kind][0] for leaf in stays), *(block.name for block in blocks))
    return FrontAndBack((*merged, *body, *last), names)


def _blocks(job: Job, story: Story) -> list[_Block]:
    """Return the listings in a story with their headings, in order."""
    cascade, blocks = Cascade(job), list[_Block]()
    for listing in job.listings.values():
        place = standing(job, listing)
        if place is None or place[0].id != story.id:
            continue
        _, start, end = place
        while start and _heads(cascade, story.paragraphs[start - 1]):
            start -= 1
        blocks.append(_Block(listing.name, start, end))
    return sorted(blocks, key=lambda one: one.start)


def _heads(cascade: Cascade, p: Paragraph) -> bool:
    """Return whether a paragraph directly before a listing is its heading."""
    return p.style == HEADING or (bool(p.text) and cascade.setting(p).keep_next)
