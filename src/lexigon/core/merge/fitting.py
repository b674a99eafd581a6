"""Text that does not fit with some records: one size at which all of them fit, or a smaller size where it is needed.

Both are offers with their effect on the set; nothing changes until one is taken.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import partial
from typing import Literal

from lexigon.core.document.model import Text, all_in
from lexigon.core.editing.holders import everywhere
from lexigon.core.editing.intents import ChangeFrame, Intent
from lexigon.core.errors import LexigonError
from lexigon.core.flow.fit_actions import scaled_story
from lexigon.core.flow.fitting import fit_factor
from lexigon.core.merge.merger import Merger

LEAST_SIZE = 4.0
"""Points: smaller type is not offered (common practice for print, no source)."""
Way = Literal["all", "each"]


@dataclass(slots=True, frozen=True)
class Fit:
    """An offer for one story: how many records do not fit now, the size of its first character now, and the largest at
    which all records fit. Points. ``possible`` says that it is not below the least size."""

    story: str
    name: str
    records: int
    size: float
    fitting: float
    possible: bool = True


def fit_of(merger: Merger, story_id: str, numbers: Iterable[int]) -> Fit:
    """Return the offer for a story that does not fit with some records, given by their ``numbers``. Raises LexigonError
    for text in linked frames, and for the main text."""
    _frame_of(merger, story_id)
    merger.reset()
    story = merger.job.stories[story_id]
    size = merger.composition.cascade.type_of(story.paragraphs[0]).size
    factors = [1.0]
    for number in numbers:
        merger.show(number)
        composition, merged = merger.composition, merger.job.stories.get(story_id)
        if merged is None:
            continue
        factors.append(
            fit_factor(
                "size",
                (LEAST_SIZE / 2, size),
                merged.paragraphs,
                composition.cascade,
                composition.library,
                partial(composition.places.led, merged),
                composition.flows[story_id].show,
            )
        )
    fitting = int(size * min(factors) * 100 + 1e-6) / 100
    return Fit(story_id, story.name, len(factors) - 1, size, fitting, fitting >= LEAST_SIZE)


def fit_intents(merger: Merger, fit: Fit, way: Way) -> list[Intent]:
    """Return the intents that make a story fit: its type in the size of the offer, for ``all`` records; or each record
    set as large as fits, from the size of the offer to the present one."""
    holder, frame = _frame_of(merger, fit.story)
    if way == "each":
        return [ChangeFrame(holder, frame, fit="size", fit_sizes=(min(fit.fitting, fit.size), fit.size))]
    merger.reset()
    story = merger.job.stories[fit.story]
    return scaled_story(story, merger.composition.cascade, fit.fitting / fit.size)


def _frame_of(merger: Merger, story_id: str) -> tuple[str, str]:
    """The holder and the id of the only frame of a story."""
    merger.reset()
    frames = [
        (holder, one.id)
        for holder, objects in everywhere(merger.job)
        for one in all_in(objects)
        if isinstance(one.content, Text) and one.content.story == story_id
    ]
    if story_id not in merger.job.stories or story_id == merger.job.main_story or len(frames) != 1:
        raise LexigonError("Only text in a single frame that shows no other story can be fitted for all records.")
    return frames[0]
