"""Frames off the page, and pages of mixed orientation."""

from __future__ import annotations

from collections.abc import Iterator

from lexigon.core.check.findings import Finding, rule
from lexigon.core.document.model import Object, Page
from lexigon.core.flow.composition import Composition
from lexigon.core.plural import counted

_off: dict[int, tuple[tuple[Object, ...], tuple[float, float], int]] = {}
MOST_KNOWN = 6000
"""The number of pages whose objects outside the page are cached, as long as the objects stay the same."""


def _lie_off(page: Page, size: tuple[float, float]) -> int:
    cached = _off.get(id(page.objects))
    if cached is not None and cached[0] is page.objects and cached[1] == size:
        return cached[2]
    width, height = size
    boxes = [frame.rect for frame in page.frames if frame.rect is not None]
    count = sum(box.right <= 0 or box.foot <= 0 or box.x >= width or box.y >= height for box in boxes)
    if len(_off) > MOST_KNOWN:
        _off.clear()
    _off[id(page.objects)] = (page.objects, size, count)
    return count


@rule(at_once=True)
def off_the_page(composition: Composition) -> Iterator[Finding]:
    job, off = composition.job, list[int]()
    sizes: dict[str | None, tuple[float, float]] = {}  # pages of one master are of one size
    for index, page in enumerate(job.pages):
        if not page.objects:
            continue
        if page.master not in sizes:
            sizes[page.master] = job.page_size(index)
        off += [index] * _lie_off(page, sizes[page.master])
    if off:
        label = composition.values.labels[off[0]] or str(off[0] + 1)
        lie = f"{counted(len(off), 'object')} lie{'s' if len(off) == 1 else ''}"
        yield Finding("off the page", f"{lie} completely off the page, first on page {label}.", off[0])


@rule(at_once=True)
def mixed_orientation(composition: Composition) -> Iterator[Finding]:
    job = composition.job
    first = {page.master: index for index, page in enumerate(job.pages)}
    if len({job.page_size(index) for index in first.values()}) > 1:
        yield Finding("mixed orientation", "Some pages are landscape: the file has pages of two orientations.")
