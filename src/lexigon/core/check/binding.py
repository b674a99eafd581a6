"""Page counts that the binding cannot make."""

from __future__ import annotations

from collections.abc import Iterator

from lexigon.core.brief import binding
from lexigon.core.check.findings import Finding, rule
from lexigon.core.flow.composition import Composition


@rule(at_once=True)
def page_count(composition: Composition) -> Iterator[Finding]:
    job = composition.job
    count = binding.count(job.brief.binding, len(job.pages))
    if len(job.pages) > 1 and not count.ok:  # with one page, a book is only begun
        divides = len(job.pages) % binding.MULTIPLE[job.brief.binding] == 0
        yield Finding("binding", count.why, fix="" if divides else "add blank pages")
