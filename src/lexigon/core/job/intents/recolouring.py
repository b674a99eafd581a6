"""Other swatches in the place of those that some objects are drawn in: artwork from elsewhere comes to the job's inks in one list."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from lexigon.core.job.edits import EditError, Primitive, SpliceParagraphs
from lexigon.core.job.holders import holder
from lexigon.core.job.intents.chosen import Chosen, by_holder, outermost
from lexigon.core.job.limits import Key, Many
from lexigon.core.job.model import Job, Object, Story, frames_in
from lexigon.core.job.model import exchanged as put_in
from lexigon.core.job.recolour import exchanged, swatches_in


def _own_texts(job: Job, objects: Sequence[Object]) -> Iterator[Story]:
    """The texts that stand in these objects and nowhere else."""
    ids = {one.id for one in frames_in(tuple(objects))}
    for one in frames_in(tuple(objects)):
        story = job.stories.get(one.story or "")
        if story is not None and one.id == story.frames[0] and set(story.frames) <= ids:
            yield story


def _meant(job: Job, objects: Sequence[Chosen]) -> list[tuple[str, tuple[Object, ...], list[Object]]]:
    """By holder: what edits call it, all that stands there, and of that what is chosen, groups whole."""
    made = []
    for page, keys in by_holder(objects):
        all_ = holder(job, page).objects
        made.append((page, all_, list(dict.fromkeys(outermost(all_, key) for key in keys))))
    return made


def swatches_of(job: Job, objects: Sequence[Chosen]) -> dict[str, int]:
    """The swatches that some objects are drawn in, those of their own words too, with how often each is named; the most used first.

    What a style gives is the style's, and not counted.
    """
    found: Counter[str] = Counter()
    for _, _, chosen in _meant(job, objects):
        for one in chosen:
            found.update(swatches_in(one))
        for story in _own_texts(job, chosen):
            for paragraph in story.paragraphs:
                found.update(swatches_in((paragraph.type, paragraph.para, *paragraph.spans)))
    return dict(found.most_common())


@dataclass(slots=True, frozen=True)
class ExchangeSwatches:
    """In some objects, and in texts that stand in these alone, other swatches in the place of some, by the old ones; all at once."""

    objects: Annotated[tuple[Chosen, ...], Many(1000, 1)]
    pairs: Annotated[dict[Key, Key], Many(500, 1)]
    do: Literal["exchange-swatches"] = "exchange-swatches"
    label = "Recolour"

    def expand(self, job: Job) -> list[Primitive]:
        for new in self.pairs.values():
            if new not in job.swatches:
                raise EditError("That swatch is no longer in the job.")
        edits: list[Primitive] = []
        for page, all_, chosen in _meant(job, self.objects):
            if any(one.locked for one in chosen):
                raise EditError("Something in the selection is locked.")
            edits += holder(job, page).with_objects(
                put_in(all_, {one.id: (exchanged(one, self.pairs),) for one in chosen})
            )
            for story in _own_texts(job, chosen):
                changed = tuple(exchanged(paragraph, self.pairs) for paragraph in story.paragraphs)
                if changed != tuple(story.paragraphs):
                    edits.append(SpliceParagraphs(story.id, 0, len(changed), changed))
        return edits
