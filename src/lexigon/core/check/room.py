"""Texts that have no room."""

from __future__ import annotations

from collections.abc import Iterator

from lexigon.core.check.findings import Finding, counted, rule
from lexigon.core.flow.composition import Composition
from lexigon.core.paint.display import overset_of


@rule(at_once=True)
def overset(composition: Composition) -> Iterator[Finding]:
    for story_id, flow in composition.flows.items():
        if over := overset_of(flow):
            name = composition.job.stories[story_id].name
            page = flow.filled[-1].columns[-1].slot.page if flow.filled and flow.filled[-1].columns else None
            words = f"{counted(over.words, 'word')} ({counted(over.lines, 'line')})"
            yield Finding("overset", f"{words} of “{name}” do not fit.", page)
