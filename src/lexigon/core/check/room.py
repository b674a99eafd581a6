"""Texts that have no room."""

from __future__ import annotations

from collections.abc import Iterator

from lexigon.core.check.findings import Finding, counted, rule
from lexigon.core.flow.composition import Composition
from lexigon.core.paint.display import Display, overset_of


@rule()
def rows(composition: Composition) -> Iterator[Finding]:
    """Rows of tables that are higher than the column they stand in: they run out of it."""
    for flow in composition.flows.values():
        for column in flow.columns:
            for block in column.blocks:
                if flow.unbroken(block.paragraph) and block.foot > column.slot.rect.foot + 0.5:
                    words = (
                        "A row of a table is higher than its column, and runs out of it: shorten it, or part it in two."
                    )
                    yield Finding("row too high", words, column.slot.page)


@rule(at_once=True)
def overset(composition: Composition) -> Iterator[Finding]:
    for story_id, flow in composition.flows.items():
        if over := overset_of(flow):
            name = composition.job.stories[story_id].name
            page = flow.filled[-1].columns[-1].slot.page if flow.filled and flow.filled[-1].columns else None
            words = f"{counted(over.words, 'word')} ({counted(over.lines, 'line')})"
            yield Finding("overset", f"{words} of “{name}” do not fit.", page)


@rule()
def notes(composition: Composition) -> Iterator[Finding]:
    """Notes that no column could hold: they run out at the foot, over what stands there."""
    for flow in composition.flows.values():
        for column in flow.columns:
            for note in column.notes:
                if note.bottom(flow) > column.slot.rect.foot + 0.5:
                    number = note.body.flow.paragraphs[0].shown.paragraph.text.split("\u00a0")[0]
                    told = f"Note {number} is higher than its column has room for, and runs out of it at the foot."
                    yield Finding("note too high", told, column.slot.page)


@rule()
def inlays(composition: Composition) -> Iterator[Finding]:
    """Frames in lines whose text does not fit."""
    held = {one.story for one in composition.job.inlays.values() if one.story}
    pages = {composition.page_of(story, composition.job.stories[story].paragraphs[0].id, 0) for story in held}
    display = Display(composition)
    for page in sorted(page for page in pages if page is not None):
        for art in display.page(page).frames:
            if art.role == "inlay" and art.overset is not None:
                words = f"{counted(art.overset.words, 'word')} ({counted(art.overset.lines, 'line')})"
                yield Finding("overset", f"{words} in “{art.frame.name}” do not fit.", page)
