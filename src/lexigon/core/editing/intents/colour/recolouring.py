"""Other swatches in the place of those that some objects are drawn in: artwork from elsewhere comes to the job's inks
in one list."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from lexigon.core.document.limits import Key, Many
from lexigon.core.document.model import Job, Object, Story, frames_in
from lexigon.core.document.model import exchanged as put_in
from lexigon.core.editing.edits import EditError, Primitive, SpliceParagraphs
from lexigon.core.editing.holders import holder
from lexigon.core.editing.intents.objects.selection import Chosen, by_holder, outermost
from lexigon.core.editing.swatch_uses import exchanged, swatches_in


def _own_texts(job: Job, objects: Sequence[Object]) -> Iterator[Story]:
    """The stories that are in these objects and nowhere else."""
    ids = {one.id for one in frames_in(tuple(objects))}
    for one in frames_in(tuple(objects)):
        story = job.stories.get(one.story or "")
        if story is not None and one.id == story.frames[0] and set(story.frames) <= ids:
            yield story


def _selection(job: Job, objects: Sequence[Chosen]) -> list[tuple[str, tuple[Object, ...], list[Object]]]:
    """By holder: its id in edits, all its objects, and the selected ones among them, groups whole."""
    result = []
    for page, keys in by_holder(objects):
        all_ = holder(job, page).objects
        result.append((page, all_, list(dict.fromkeys(outermost(all_, key) for key in keys))))
    return result


def swatches_of(job: Job, objects: Sequence[Chosen]) -> dict[str, int]:
    """The swatches of some objects, those of their text included, with the number of times each is used; the most used
    first.

    Swatches that come from a style are not counted.
    """
    counts: Counter[str] = Counter()
    for _, _, chosen in _selection(job, objects):
        for one in chosen:
            counts.update(swatches_in(one))
        for story in _own_texts(job, chosen):
            for paragraph in story.paragraphs:
                counts.update(swatches_in((paragraph.type, paragraph.para, *paragraph.spans)))
    return dict(counts.most_common())


@dataclass(slots=True, frozen=True)
class ExchangeSwatches:
    """Replace swatches in some objects, and in stories that are in these alone, by others, all at once; keys are the
    former swatches."""

    objects: Annotated[tuple[Chosen, ...], Many(1000, 1)]
    pairs: Annotated[dict[Key, Key], Many(500, 1)]
    do: Literal["exchange-swatches"] = "exchange-swatches"
    label = "Recolour"

    def expand(self, job: Job) -> list[Primitive]:
        for new in self.pairs.values():
            if new not in job.swatches:
                raise EditError("That swatch is no longer in the job.")
        edits: list[Primitive] = []
        for page, all_, chosen in _selection(job, self.objects):
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
