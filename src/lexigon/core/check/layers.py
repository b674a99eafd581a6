"""Layers that are hidden: what stands on them is not printed, which is easily forgotten. One that is set not to print is meant so."""

from __future__ import annotations

from collections.abc import Iterator

from lexigon.core.check.findings import Finding, counted, rule
from lexigon.core.flow.composition import Composition


@rule(at_once=True)
def hidden_layers(composition: Composition) -> Iterator[Finding]:
    job = composition.job
    for layer in job.layers.values():
        if layer.visible:
            continue
        on_pages = [index for index, page in enumerate(job.pages) for one in page.objects if one.layer == layer.id]
        on_masters = [one for m in job.masters.values() for one in (*m.recto, *m.verso) if one.layer == layer.id]
        count = len(on_pages) + len(on_masters)
        if count:
            are = "is" if count == 1 else "are"
            text = f"The layer “{layer.name}” is hidden: {counted(count, 'object')} on it {are} not printed."
            yield Finding("hidden layer", text, on_pages[0] if on_pages else None)
