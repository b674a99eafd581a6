"""Ink sets: which one a page is painted with, and which one the job has now."""

from __future__ import annotations

from lexigon.core.document.model import InkSet, Job


def ink_set_of(job: Job, index: int) -> str:
    """The ink set of the section that a page is in; "" for the job's own colours."""
    if not job.ink_sets:
        return ""
    for page in job.pages[min(index, len(job.pages) - 1) :: -1]:
        if page.section is not None:
            return page.section.ink_set if page.section.ink_set in job.ink_sets else ""
    return ""


def chosen(job: Job) -> InkSet | None:
    """The set whose swatches play all the roles it fills now, where there is one."""
    for one in job.ink_sets.values():
        bases = [job.swatches[part.role].base for part in one.parts]
        if bases and all(
            base is not None and (base.swatch, base.tint) == (part.swatch, part.tint)
            for base, part in zip(bases, one.parts, strict=True)
        ):
            return one
    return None
