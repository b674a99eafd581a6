"""Text made to fit, once: its size to its frame, its frame to it, or cut in two."""

from __future__ import annotations

from lexigon.bench.services.jobs import OpenJob
from lexigon.core.errors import LexigonError
from lexigon.core.flow.fitting import fit_factor, height_of
from lexigon.core.geometry import Rect
from lexigon.core.job.cascade import Cascade
from lexigon.core.job.intents import ChangeFrame, FormatText, Intent, Place, SetParagraphs
from lexigon.core.job.intents.flowing import CutStory
from lexigon.core.job.model import ParaSpec, Story, Text, TypeSpec


def fit(live: OpenJob, page: int, frame_id: str, kind: str) -> list[Intent]:
    """The intents that make a frame's text fit once: ``line``, ``size`` or ``height``."""
    job, composition = live.job, live.desk.composition
    found = job.find_frame(frame_id)
    if found is None:
        raise LexigonError("That frame is no longer on a page of its own; take it over from the master first.")
    index, frame = found
    story = job.stories.get(frame.story or "")
    if story is None or frame.story == job.main_story or len(story.frames) != 1:
        raise LexigonError("Text is made to fit where it stands in one frame of its own.")
    flow = composition.flows[story.id]
    key = job.pages[index].id
    if kind == "height":
        rect = job.frame_rect(frame, index)
        (area,) = composition.places.led(story)
        return [
            ChangeFrame(
                key, frame.id, rect=Rect(rect.x, rect.y, rect.width, round(height_of(flow, frame, rect, area), 3))
            )
        ]
    areas = lambda: composition.places.led(story)  # noqa: E731
    factor = fit_factor(
        kind,
        (frame.text or Text()).fit_sizes,
        story.paragraphs,
        composition.cascade,
        composition.library,
        areas,
        flow.show,
    )
    return _scaled(story, composition.cascade, factor)


def _scaled(story: Story, cascade: Cascade, factor: float) -> list[Intent]:
    """Every size and leading in a text times a factor, sizes rounded down to a hundredth of a point."""
    made: list[Intent] = []
    for p in story.paragraphs:
        size = _down(cascade.type_of(p).size * factor)
        leading = _down(cascade.setting(p).leading * factor)
        made.append(SetParagraphs(story.id, p.id, p.id, para=ParaSpec(leading=leading), type=TypeSpec(size=size)))
        for span in p.spans:
            if span.type and span.type.size is not None:
                own = TypeSpec(size=_down(span.type.size * factor))
                made.append(FormatText(story.id, Place(p.id, span.start), Place(p.id, span.end), own))
    return made


def _down(size: float) -> float:
    return max(int(size * 100 + 1e-6) / 100, 0.1)


def cut_at(live: OpenJob, frame_id: str) -> list[Intent]:
    """The intent that cuts a text in two at a frame."""
    found = live.job.find_frame(frame_id)
    story = found[1].story if found else None
    if not story or frame_id not in live.job.stories[story].frames[1:]:
        raise LexigonError("A text is cut at a frame that it was led into from another.")
    return [CutStory(story, live.desk.composition.begin_of(story, frame_id), frame_id)]
