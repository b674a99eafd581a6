"""Find hidden layers with objects, which are not printed: that is easily forgotten. A layer that is set not to print is
intended."""

from __future__ import annotations

from collections.abc import Iterator

from lexigon.core.check.findings import Finding, rule
from lexigon.core.editing.holders import everywhere
from lexigon.core.flow.composition import Composition
from lexigon.core.plural import counted


@rule(at_once=True)
def hidden_layers(composition: Composition) -> Iterator[Finding]:
    job = composition.job
    for layer in job.layers.values():
        if layer.visible:
            continue
        holders = [key for key, objects in everywhere(job) for one in objects if one.layer == layer.id]
        if count := len(holders):
            are = "is" if count == 1 else "are"
            text = f"The layer “{layer.name}” is hidden: {counted(count, 'object')} on it {are} not printed."
            yield Finding("hidden layer", text, job.page_index(holders[0]), subject=layer.id)
