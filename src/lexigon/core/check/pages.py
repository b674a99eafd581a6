"""Frames off the page, and pages of mixed orientation."""

from __future__ import annotations

from collections.abc import Iterator

from lexigon.core.check.findings import Finding, counted, rule
from lexigon.core.flow.composition import Composition


@rule(at_once=True)
def off_the_page(composition: Composition) -> Iterator[Finding]:
    job, off = composition.job, list[int]()
    sizes: dict[str | None, tuple[float, float]] = {}  # pages of one master are of one size
    for index, page in enumerate(job.pages):
        if not page.objects:
            continue
        if page.master not in sizes:
            sizes[page.master] = job.page_size(index)
        width, height = sizes[page.master]
        for frame in page.frames:
            rect = frame.rect
            if rect is not None and (rect.right <= 0 or rect.foot <= 0 or rect.x >= width or rect.y >= height):
                off.append(index)
    if off:
        label = composition.values.labels[off[0]] or str(off[0] + 1)
        lie = f"{counted(len(off), 'object')} lie{'s' if len(off) == 1 else ''}"
        yield Finding("off the page", f"{lie} wholly off the page, first on page {label}.", off[0])


@rule(at_once=True)
def mixed_orientation(composition: Composition) -> Iterator[Finding]:
    job = composition.job
    first = {page.master: index for index, page in enumerate(job.pages)}
    if len({job.page_size(index) for index in first.values()}) > 1:
        yield Finding("mixed orientation", "Some pages lie on their side: the file has pages of two orientations.")
