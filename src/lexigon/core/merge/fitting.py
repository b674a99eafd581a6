"""Text that does not fit with some records: one size, one tracking or one height of the frame with which all of them
fit, or a smaller size where it is needed.

Each is an offer with its effect on the set; nothing changes until one is accepted.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.document.model import Object, Text, all_in, bounds_of
from lexigon.core.editing.holders import everywhere
from lexigon.core.editing.intents import ChangeFrame, Intent
from lexigon.core.errors import LexigonError
from lexigon.core.flow.fit_actions import fitted_text, scaled_story, tracked_story
from lexigon.core.flow.fitting import FittedText, height_of, largest
from lexigon.core.geometry import Rect
from lexigon.core.merge.merger import Merger

LEAST_SIZE = 4.0
"""Points: smaller type is not offered (common practice for print, no source)."""
LEAST_TRACKING = -30.0
"""1/1000 em: characters that are closer than that are not offered (common practice, no source)."""
FINE = 0.5
"""1/1000 em: the step in which tracking is offered."""
Way = Literal["size", "each", "tracking", "height"]


@dataclass(slots=True, frozen=True)
class Fit:
    """Offers for one story: how many ``records`` do not fit now, and with what all of them would."""

    story: str
    name: str
    records: int
    size: float
    """Of the first character now, in points."""
    fitting: float
    """The largest size with which all records fit."""
    tracking: float = 0.0
    """Of the first character now, in 1/1000 em."""
    closer: float | None = None
    """The tracking with which all records fit; None where it would be too close."""
    height: float = 0.0
    """Of the frame now, in points."""
    higher: float | None = None
    """The height of the frame with which all records fit; None where it would leave the page, or where the margins or
    records set it."""
    overlaps: tuple[str, ...] = ()
    """The objects that the higher frame would overlap, by name."""

    @property
    def possible(self) -> bool:
        """Return whether the size is not below the least."""
        return self.fitting >= LEAST_SIZE


def fit_of(merger: Merger, story_id: str, numbers: Iterable[int]) -> Fit:
    """Return the offers for a story that does not fit with some records, given by their ``numbers``. Raises
    LexigonError for text in linked frames, for the main text, and for text on master pages."""
    holder, frame = _frame_of(merger, story_id)
    merger.reset()
    own = merger.job.stories[story_id]
    face = merger.composition.cascade.type_of(own.paragraphs[0])
    factor, closer, height, count = 1.0, 0.0, 0.0, 0
    for number in numbers:
        merger.show(number)
        story = merger.job.stories.get(story_id)
        area = next(merger.composition.places.led(story), None) if story is not None else None
        if story is None or area is None:
            continue
        count += 1
        text = fitted_text(merger.composition, story)
        if not text.fits_by(factor):
            factor = largest(text.fits_by, LEAST_SIZE / 2 / face.size, factor)
        if closer >= LEAST_TRACKING and not text.fits_tracked(closer):
            closer = _closer(text, closer)
        height = max(height, height_of(merger.composition.flows[story_id], area))
    merger.reset()
    higher = overlaps = None
    rect, index = _own_rect(frame), next((at for at, page in enumerate(merger.job.pages) if page.id == holder), None)
    if rect is not None and index is not None and rect.y + height <= merger.job.page_size(index)[1]:
        higher = round(height + 0.005, 2)
        overlaps = _overlaps(merger.job.pages[index].objects, frame, higher)
    return Fit(
        story_id,
        own.name,
        count,
        face.size,
        int(face.size * factor * 100 + 1e-6) / 100,
        face.tracking,
        round(face.tracking + closer, 2) if closer >= LEAST_TRACKING else None,
        rect.height if rect is not None else 0.0,
        higher,
        overlaps or (),
    )


def _closer(text: FittedText, most: float) -> float:
    """The largest tracking with which the text fits, in steps of FINE; less than LEAST_TRACKING if it never does."""
    if not text.fits_tracked(LEAST_TRACKING):
        return LEAST_TRACKING - 1
    low, high = LEAST_TRACKING, most
    while high - low > FINE:
        middle = (low + high) / 2
        low, high = (middle, high) if text.fits_tracked(middle) else (low, middle)
    return low // FINE * FINE  # a little closer than necessary, so that it fits when it is rounded


def _own_rect(frame: Object) -> Rect | None:
    """The box of a frame that can be enlarged downwards: neither rotated, nor set by the margins or by records."""
    bound = any(one.property in ("y", "height", "rotation") for one in frame.bindings)
    return frame.place.rect if frame.place is not None and not frame.place.rotation and not bound else None


def _overlaps(objects: Sequence[Object], frame: Object, height: float) -> tuple[str, ...]:
    """The objects of a page, by name, that a frame does not overlap now, but would with another height."""
    names = []
    for one in objects:
        box, own = bounds_of((one,)), frame.place.rect if frame.place is not None else None
        if box is None or own is None or any(each.id == frame.id for each in all_in((one,))):
            continue
        if box.overlaps(replace(own, height=height), 0.1) and not box.overlaps(own, 0.1):
            names.append(one.name or "Object")
    return tuple(names)


def fit_intents(merger: Merger, fit: Fit, way: Way) -> list[Intent]:
    """Return the intents that make a story fit: its type in one size, its characters closer, or its frame higher, for
    all records; or, for ``each``, every record set as large as fits, from the size of the offer to the present one.
    Raises LexigonError where that is not possible."""
    holder, frame = _frame_of(merger, fit.story)
    merger.reset()
    story, cascade = merger.job.stories[fit.story], merger.composition.cascade
    if way == "tracking":
        if fit.closer is None:
            raise LexigonError("The characters would be too close. Reduce the type, or enlarge the frame.")
        return tracked_story(story, cascade, fit.closer - fit.tracking)
    if way == "height":
        rect = _own_rect(frame)
        if fit.higher is None or rect is None:
            raise LexigonError("The frame would leave the page. Reduce the type, or shorten the longest records.")
        return [ChangeFrame(holder, frame.id, rect=replace(rect, height=fit.higher))]
    if not fit.possible:
        raise LexigonError(
            f"The type would be smaller than {LEAST_SIZE:g} pt. Enlarge the frame, or shorten the longest records."
        )
    if way == "each":
        return [ChangeFrame(holder, frame.id, fit="size", fit_sizes=(min(fit.fitting, fit.size), fit.size))]
    return scaled_story(story, cascade, fit.fitting / fit.size)


def _frame_of(merger: Merger, story_id: str) -> tuple[str, Object]:
    """The holder of the only frame of a story, and the frame."""
    merger.reset()
    frames = [
        (holder, one)
        for holder, objects in everywhere(merger.job)
        for one in all_in(objects)
        if isinstance(one.content, Text) and one.content.story == story_id
    ]
    if story_id not in merger.job.stories or story_id == merger.job.main_story or len(frames) != 1:
        raise LexigonError("Only text in a single frame that shows no other story can be fitted for all records.")
    return frames[0]
