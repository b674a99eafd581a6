"""Fitting text once: its size to its frame, its frame to it, or cutting it in two."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from typing import Any

from lexigon.core.document.cascade import Cascade
from lexigon.core.document.model import ParaSpec, Story, Text, TypeSpec
from lexigon.core.editing.intents import ChangeFrame, FormatText, Intent, Place, SetParagraphs
from lexigon.core.editing.intents.text.linking import CutStory
from lexigon.core.errors import LexigonError
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.fitting import FittedText, height_of
from lexigon.core.geometry import Rect


def fit_once(composition: Composition, frame_id: str, kind: str) -> list[Intent]:
    """The intents that make a frame's text fit once: ``line``, ``size`` or ``height``."""
    job = composition.job
    frame_place = job.find_frame(frame_id)
    if frame_place is None:
        raise LexigonError(
            "That frame is no longer on the page, or belongs to the master page. Override it in that case."
        )
    index, frame = frame_place
    story = job.stories.get(frame.story or "")
    if story is None or frame.story == job.main_story or len(story.frames) != 1:
        raise LexigonError("Text can be fitted only in a story with a single frame.")
    flow = composition.flows[story.id]
    key = job.pages[index].id
    if kind == "height":
        rect = job.frame_rect(frame, index)
        (area,) = composition.places.led(story)
        return [ChangeFrame(key, frame.id, rect=Rect(rect.x, rect.y, rect.width, round(height_of(flow, area), 3)))]
    text = fitted_text(composition, story)
    return scaled_story(story, composition.cascade, text.factor(kind, (frame.text or Text()).fit_sizes))


def fitted_text(composition: Composition, story: Story) -> FittedText:
    """Return a story of frames placed by hand as text that is to fit into them."""
    areas, flow = partial(composition.places.led, story), composition.flows[story.id]
    return FittedText(story.paragraphs, composition.cascade, composition.library, areas, flow.show, flow.grid)


GROWS = ("indent_first", "indent_left", "indent_right", "space_before", "space_after", "drop_gap")
"""What of a paragraph's setting grows with its type, besides the leading."""


def scaled_story(story: Story, cascade: Cascade, factor: float) -> list[Intent]:
    """Every size in a story, and the distances that scale with it, times a factor; sizes are rounded down to a
    hundredth of a point.

    The story leaves the baseline grid, without which it was fitted: on the grid, lines with another leading would no
    longer fit.
    """
    intents: list[Intent] = []
    for p in story.paragraphs:
        face, setting = cascade.type_of(p), cascade.setting(p)
        grown: dict[str, Any] = {name: round(value * factor, 4) for name in GROWS if (value := getattr(setting, name))}
        if setting.tabs:
            tabs = (replace(tab, at=None if tab.at is None else round(tab.at * factor, 4)) for tab in setting.tabs)
            grown["tabs"] = tuple(tabs)
        if setting.grid:
            grown["grid"] = False
        para = ParaSpec(leading=_down(setting.leading * factor), **grown)
        type_ = TypeSpec(size=_down(face.size * factor), shift=face.shift * factor or None)
        intents.append(SetParagraphs(story.id, p.id, p.id, para=para, type=type_))
        for span in p.spans:
            if span.type and span.type.size is not None:
                own = TypeSpec(size=_down(span.type.size * factor))
                intents.append(FormatText(story.id, Place(p.id, span.start), Place(p.id, span.end), own))
    return intents


def tracked_story(story: Story, cascade: Cascade, by: float) -> list[Intent]:
    """Return the intents that add to the tracking of everything in a story, in 1/1000 em."""
    intents: list[Intent] = []
    for p in story.paragraphs:
        own = TypeSpec(tracking=round(cascade.type_of(p).tracking + by, 2))
        intents.append(SetParagraphs(story.id, p.id, p.id, type=own))
        for span in p.spans:
            if span.style or (span.type and span.type.tracking is not None):
                spec = TypeSpec(tracking=round(cascade.type_of(p, span).tracking + by, 2))
                intents.append(FormatText(story.id, Place(p.id, span.start), Place(p.id, span.end), spec))
    return intents


def _down(size: float) -> float:
    return max(int(size * 100 + 1e-6) / 100, 0.1)


def cut_at(composition: Composition, frame_id: str) -> list[Intent]:
    """Return the intent that divides a story at a frame."""
    frame_place = composition.job.find_frame(frame_id)
    story = frame_place[1].story if frame_place else None
    if not story or frame_id not in composition.job.stories[story].frames[1:]:
        raise LexigonError("A story is divided at a frame that is linked to one before it.")
    return [CutStory(story, composition.begin_of(story, frame_id), frame_id)]
