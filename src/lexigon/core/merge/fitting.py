"""Text that does not fit with some records: one size, one tracking, one width or one height of the frame with which all
of them fit, or a smaller size where it is needed.

Each is an offer with its effect on the set; nothing changes until one is accepted.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from math import ceil
from typing import Literal

from lexigon.core.document.model import Object, Property, Text, all_in, bounds_of
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
NARROW = 0.1
"""Points: the step in which the width of a frame is offered."""
Way = Literal["size", "each", "tracking", "width", "height"]


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
    width: float = 0.0
    """Of the frame now, in points."""
    wider: Rect | None = None
    """The frame as wide as it must be for the text of all records to wrap within it; None where that would leave the
    page, or where the margins or records set its width."""
    beside: tuple[str, ...] = ()
    """The objects that the wider frame would overlap, by name."""

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
    index = next((at for at, page in enumerate(merger.job.pages) if page.id == holder), None)
    room = _room_beside(merger, frame, index) if index is not None else None
    wider = 0.0
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
        if room is not None and wider <= room.most and not text.fits_wider(wider):
            wider = _wider(text, wider, room.most)
    merger.reset()
    higher = overlaps = widened = beside = None
    rect = _own_rect(frame, "y", "height")
    if room is not None and index is not None and wider <= room.most:
        widened = room.rect(wider)
        beside = _overlaps(merger.job.pages[index].objects, frame, widened)
    if rect is not None and index is not None and rect.y + height <= merger.job.page_size(index)[1]:
        higher = round(height + 0.005, 2)
        overlaps = _overlaps(merger.job.pages[index].objects, frame, replace(rect, height=higher))
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
        room.box.width if room is not None else 0.0,
        widened,
        beside or (),
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


def _wider(text: FittedText, least: float, most: float) -> float:
    """By how much areas must be wider for the text to fit, in steps of NARROW; more than ``most`` if it never does."""
    if not text.fits_wider(most):
        return most + 1
    low, high = least, most
    while high - low > NARROW:
        middle = (low + high) / 2
        low, high = (low, middle) if text.fits_wider(middle) else (middle, high)
    return min(ceil(high / NARROW) * NARROW, most)


@dataclass(slots=True, frozen=True)
class _Room:
    """How far a frame can be widened on its page, away from where its lines begin: its box, the part of what is added
    that goes to the left, and at most how much is added, in points."""

    box: Rect
    left: float
    most: float

    def rect(self, by: float) -> Rect:
        """Return the box, wider ``by`` points."""
        return Rect(self.box.x - self.left * by, self.box.y, self.box.width + by, self.box.height)


def _room_beside(merger: Merger, frame: Object, index: int) -> _Room | None:
    """The room that a frame has on its page, None if it cannot be widened."""
    rect = _own_rect(frame, "x", "width")
    if rect is None or frame.text is None or frame.text.along:
        return None
    story = merger.job.stories[frame.story or ""]
    align = merger.composition.cascade.setting(story.paragraphs[0]).align
    left = {"centre": 0.5, "right": 1.0}.get(align, 0.0)
    beside = [(rect.x, left), (merger.job.page_size(index)[0] - rect.right, 1 - left)]
    most = min(room / part for room, part in beside if part)
    return _Room(rect, left, most) if most > 0 else None


def _own_rect(frame: Object, *properties: Property) -> Rect | None:
    """The box of a frame that can be enlarged: neither rotated, nor set by the margins, nor in these ``properties`` by
    records."""
    bound = any(one.property in (*properties, "rotation") for one in frame.bindings)
    return frame.place.rect if frame.place is not None and not frame.place.rotation and not bound else None


def _overlaps(objects: Sequence[Object], frame: Object, new: Rect) -> tuple[str, ...]:
    """The objects of a page, by name, that a frame does not overlap now, but would with another box."""
    names = []
    for one in objects:
        box, own = bounds_of((one,)), frame.place.rect if frame.place is not None else None
        if box is None or own is None or any(each.id == frame.id for each in all_in((one,))):
            continue
        if box.overlaps(new, 0.1) and not box.overlaps(own, 0.1):
            names.append(one.name or "Object")
    return tuple(names)


def fit_intents(merger: Merger, fit: Fit, way: Way) -> list[Intent]:
    """Return the intents that make a story fit: its type in one size, its characters closer, or its frame wider or
    higher, for all records; or, for ``each``, every record set as large as fits, from the size of the offer to the
    present one. Raises LexigonError where that is not possible."""
    holder, frame = _frame_of(merger, fit.story)
    merger.reset()
    story, cascade = merger.job.stories[fit.story], merger.composition.cascade
    if way == "tracking":
        if fit.closer is None:
            raise LexigonError("The characters would be too close. Reduce the type, or enlarge the frame.")
        return tracked_story(story, cascade, fit.closer - fit.tracking)
    if way == "width":
        if fit.wider is None:
            raise LexigonError("The frame would leave the page. Reduce the type, or shorten the longest records.")
        return [ChangeFrame(holder, frame.id, rect=fit.wider)]
    if way == "height":
        rect = _own_rect(frame, "y", "height")
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
