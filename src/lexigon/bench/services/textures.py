"""The texture of pages: marks, figures, and remedies that were tried."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from lexigon.bench.services.jobs import OpenJob
from lexigon.bench.services.speclines import plain_intents
from lexigon.core.editing.intents import SetParagraphs
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.texture import Mark, marks_of, numbers_of, remedies_for
from lexigon.core.paint.texture import placed_columns


def texture(live: OpenJob, pages: Iterable[int], story_id: str = "") -> dict[str, Any]:
    """The marks on some pages, and the story in figures."""
    composition = live.workspace.composition
    report = {
        index: [_mark(mark) for mark in marks_of(placed_columns(composition, index))]
        for index in pages
        if 0 <= index < len(live.job.pages)
    }
    longest = max(composition.flows.values(), key=len, default=None)
    flow = composition.flows.get(story_id) or composition.main or longest
    return {"pages": report, "numbers": plain(numbers_of(flow)) if flow else {}}


def _mark(mark: Mark) -> dict[str, Any]:
    boxes = [[round(v, 2) for v in box] for box in mark.boxes]
    return {"kind": mark.kind, "p": mark.paragraph, "o": mark.offset, "value": round(mark.value, 2), "boxes": boxes}


def next_texture(live: OpenJob, page: int, kinds: set[str], step: int) -> int | None:
    """The next page (or the one before) that has a mark of some kinds."""
    composition = live.workspace.composition
    index = page + step
    while 0 <= index < len(live.job.pages):
        if any(mark.kind in kinds for mark in marks_of(placed_columns(composition, index))):
            return index
        index += step
    return None


def remedies(live: OpenJob, story_id: str, paragraph_id: str, kind: str) -> dict[str, Any]:
    """Return what would make one paragraph's texture better, with the intents that do it."""
    flow = live.workspace.composition.flows.get(story_id)
    index = next((i for i, p in enumerate(flow.paragraphs) if p.paragraph.id == paragraph_id), None) if flow else None
    if flow is None or index is None:
        raise LexigonError("That paragraph is no longer in the story.")
    measures = (block.measure for column in flow.columns for block in column.blocks if block.paragraph == index)
    measure = next(measures, flow.columns[0].slot.rect.width)
    now, offers = remedies_for(flow, index, measure, kind)
    return {
        "now": plain(now),
        "offers": [
            {
                "words": o.words,
                "merit": plain(o.merit),
                "intents": plain_intents(
                    [SetParagraphs(story_id, paragraph_id, paragraph_id, para=o.para, type=o.type)]
                ),
            }
            for o in offers[:4]
        ],
    }
