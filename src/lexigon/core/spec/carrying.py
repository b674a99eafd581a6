"""Carrying out a spec line: the intents for what is selected."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, fields, replace
from typing import Any

from lexigon.core.document.cascade import Cascade, frame_spec
from lexigon.core.document.model import FrameSpec, Job, Paragraph, ParaSpec, Span, TypeSpec, combined
from lexigon.core.editing.holders import holder
from lexigon.core.editing.intents import ChangeFrame, FormatText, Intent, Place, SetParagraphs, locate
from lexigon.core.spec.grammar import SpecReading
from lexigon.core.spec.rules import PATCHED, patched
from lexigon.core.tables.cell_settings import Set, setter

PARA_NAMES = frozenset(f.name for f in fields(ParaSpec))


def intents_for_text(
    job: Job,
    cascade: Cascade,
    understood: SpecReading,
    story_id: str,
    start: Place,
    end: Place,
    whole: bool = False,
    show: Set | None = None,
) -> list[Intent]:
    """Return what it does to the text between two places: characters where words are selected, else (or with ``whole``)
    whole paragraphs."""
    story, places = locate(job, story_id, start, end)
    (first, begin), (last, finish) = sorted(places)
    words = not whole and (first, begin) != (last, finish)
    paragraphs = story.paragraphs[first : last + 1]
    a, z = paragraphs[0].id, paragraphs[-1].id
    intents: list[Intent] = []
    show = show or setter(job, story_id)
    if understood.paragraph_style or (understood.clear and not words):
        intents.append(SetParagraphs(story_id, a, z, style=understood.paragraph_style, clear=understood.clear))
    if understood.clear and words:
        intents.append(FormatText(story_id, start, end, style=""))
    if understood.character_style:
        ends = (start, end) if words else (Place(a, 0), Place(z, len(paragraphs[-1].text)))
        intents.append(FormatText(story_id, *ends, style=understood.character_style))
    parts = PATCHED & set(understood.patches)
    para = replace(understood.para, **dict.fromkeys(parts & PARA_NAMES))
    if para != ParaSpec():
        intents.append(SetParagraphs(story_id, a, z, para=para))
    for name in sorted(parts & PARA_NAMES):
        changes = [patched(understood, name, getattr(cascade.setting(show(p)), name)) for p in paragraphs]
        for run in _alike(paragraphs, changes):
            intents.append(SetParagraphs(story_id, run.first, run.last, para=ParaSpec(**{name: run.value})))
    if understood.type != TypeSpec():
        if words:
            intents.append(FormatText(story_id, start, end, understood.type))
        else:
            intents.append(SetParagraphs(story_id, a, z, type=understood.type))
            intents += [intent for p in paragraphs if (intent := _over_spans(story_id, p, understood.type))]
    if understood.size_by or understood.leading_by:
        for number, p in enumerate(paragraphs):
            low = begin if words and number == 0 else 0
            high = finish if words and number == len(paragraphs) - 1 else len(p.text)
            intents += _resized(cascade, understood, story_id, show(p), low, high, words)
    return intents


@dataclass(slots=True)
class _Run:
    first: str
    last: str
    value: Any


def _alike(paragraphs: list[Paragraph], values: list[Any]) -> list[_Run]:
    """Neighbouring paragraphs for which a value is the same, together."""
    runs: list[_Run] = []
    for p, value in zip(paragraphs, values, strict=True):
        if runs and runs[-1].value == value:
            runs[-1].last = p.id
        else:
            runs.append(_Run(p.id, p.id, value))
    return runs


def _over_spans(story: str, paragraph: Paragraph, spec: TypeSpec) -> Intent | None:
    """A whole paragraph is set: its stretches with their own size or family follow."""
    own = [
        span
        for span in paragraph.spans
        if span.type and combined(span.type, spec) != span.type and _says(span.type, spec)
    ]
    if not own:
        return None
    return FormatText(story, Place(paragraph.id, own[0].start), Place(paragraph.id, own[-1].end), _shared(spec))


def _says(span: TypeSpec, spec: TypeSpec) -> bool:
    return any(getattr(span, name) is not None and getattr(spec, name) is not None for name in ("size", "family"))


def _shared(spec: TypeSpec) -> TypeSpec:
    return TypeSpec(size=spec.size, family=spec.family)


def _resized(
    cascade: Cascade, understood: SpecReading, story: str, p: Paragraph, low: int, high: int, words: bool
) -> Iterable[Intent]:
    """Each stretch larger or smaller by as much, whatever size it has."""
    by = understood.size_by
    if by and not words:
        yield SetParagraphs(story, p.id, p.id, type=TypeSpec(size=max(cascade.type_of(p).size + by, 0.1)))
    at = low
    for span in (*p.spans, Span(len(p.text), len(p.text))):
        for start, end, which in ((at, span.start, None), (span.start, span.end, span)):
            start, end = max(start, low), min(end, high)
            own = which is not None and which.type is not None and which.type.size is not None
            if by and start < end and (words or own):
                size = TypeSpec(size=max(cascade.type_of(p, which).size + by, 0.1))
                yield FormatText(story, Place(p.id, start), Place(p.id, end), size)
        at = span.end
    if understood.leading_by:
        leading = max(cascade.setting(p).leading + understood.leading_by, 0.5)
        yield SetParagraphs(story, p.id, p.id, para=ParaSpec(leading=leading))


def intents_for_frames(job: Job, understood: SpecReading, frames: Iterable[tuple[str, str]]) -> list[Intent]:
    """Return what it does to frames, given as (holder, frame) ids."""
    if understood.frame == FrameSpec() and not understood.changes and not understood.clear:
        return []
    parts = (PATCHED & set(understood.patches)) - PARA_NAMES
    intents: list[Intent] = []
    for key, frame_id in frames:
        spec = understood.frame
        on = holder(job, key) if parts else None
        frame = next((f for f in (*on.frames, *on.inherited()) if f.id == frame_id), None) if on else None
        if frame is not None:
            was = frame_spec(job, frame)
            spec = replace(spec, **{name: patched(understood, name, getattr(was, name)) for name in parts})
        intents.append(ChangeFrame(key, frame_id, spec=spec, clear=understood.clear, **understood.changes))
    return intents
