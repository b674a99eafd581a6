"""Carrying out a spec line: the intents for what is selected."""

from __future__ import annotations

from collections.abc import Iterable

from lexigon.core.job.cascade import Cascade
from lexigon.core.job.intents import ChangeFrame, FormatText, Intent, Place, SetParagraphs, locate
from lexigon.core.job.model import FrameSpec, Job, Paragraph, ParaSpec, Span, TypeSpec, overlay
from lexigon.core.type.spec.grammar import Understood


def intents_for_text(
    job: Job, cascade: Cascade, understood: Understood, story_id: str, start: Place, end: Place, whole: bool = False
) -> list[Intent]:  # fmt: skip
    """What it does to the text between two places: characters where words are selected, else (or with ``whole``) whole
    paragraphs."""
    story, places = locate(job, story_id, start, end)
    (first, begin), (last, finish) = sorted(places)
    words = not whole and (first, begin) != (last, finish)
    paragraphs = story.paragraphs[first : last + 1]
    a, z = paragraphs[0].id, paragraphs[-1].id
    made: list[Intent] = []
    if understood.paragraph_style or (understood.clear and not words):
        made.append(SetParagraphs(story_id, a, z, style=understood.paragraph_style, clear=understood.clear))
    if understood.clear and words:
        made.append(FormatText(story_id, start, end, style=""))
    if understood.character_style:
        ends = (start, end) if words else (Place(a, 0), Place(z, len(paragraphs[-1].text)))
        made.append(FormatText(story_id, *ends, style=understood.character_style))
    if understood.para != ParaSpec():
        made.append(SetParagraphs(story_id, a, z, para=understood.para))
    if understood.type != TypeSpec():
        if words:
            made.append(FormatText(story_id, start, end, understood.type))
        else:
            made.append(SetParagraphs(story_id, a, z, type=understood.type))
            made += [intent for p in paragraphs if (intent := _over_spans(story_id, p, understood.type))]
    if understood.size_by or understood.leading_by:
        for number, p in enumerate(paragraphs):
            low = begin if words and number == 0 else 0
            high = finish if words and number == len(paragraphs) - 1 else len(p.text)
            made += _resized(cascade, understood, story_id, p, low, high, words)
    return made


def _over_spans(story: str, paragraph: Paragraph, spec: TypeSpec) -> Intent | None:
    """A whole paragraph is set: its stretches with their own size or family follow."""
    own = [
        span
        for span in paragraph.spans
        if span.type and overlay(span.type, spec) != span.type and _says(span.type, spec)
    ]
    if not own:
        return None
    return FormatText(story, Place(paragraph.id, own[0].start), Place(paragraph.id, own[-1].end), _shared(spec))


def _says(span: TypeSpec, spec: TypeSpec) -> bool:
    return any(getattr(span, name) is not None and getattr(spec, name) is not None for name in ("size", "family"))


def _shared(spec: TypeSpec) -> TypeSpec:
    return TypeSpec(size=spec.size, family=spec.family)


def _resized(
    cascade: Cascade, understood: Understood, story: str, p: Paragraph, low: int, high: int, words: bool
) -> Iterable[Intent]:  # fmt: skip
    """Each stretch larger or smaller by as much, whatever size it has."""
    by = understood.size_by
    if by and not words:
        yield SetParagraphs(story, p.id, p.id, type=TypeSpec(size=max(cascade.face(p).size + by, 0.1)))
    at = low
    for span in (*p.spans, Span(len(p.text), len(p.text))):
        for start, end, which in ((at, span.start, None), (span.start, span.end, span)):
            start, end = max(start, low), min(end, high)
            own = which is not None and which.type is not None and which.type.size is not None
            if by and start < end and (words or own):
                size = TypeSpec(size=max(cascade.face(p, which).size + by, 0.1))
                yield FormatText(story, Place(p.id, start), Place(p.id, end), size)
        at = span.end
    if understood.leading_by:
        leading = max(cascade.setting(p).leading + understood.leading_by, 0.5)
        yield SetParagraphs(story, p.id, p.id, para=ParaSpec(leading=leading))


def intents_for_frames(understood: Understood, frames: Iterable[tuple[str, str]]) -> list[Intent]:
    """What it does to frames, given as (page, frame) ids."""
    if understood.frame == FrameSpec() and not understood.changes and not understood.clear:
        return []
    return [
        ChangeFrame(page, frame, spec=understood.frame, clear=understood.clear, **understood.changes)
        for page, frame in frames
    ]
