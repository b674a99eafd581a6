"""Spreads: the pages that are side by side."""

from __future__ import annotations

from lexigon.core.document.model import Job


def spread_of(job: Job, index: int) -> list[int]:
    """The indexes of the pages on the same spread as ``index``, left to right."""
    if not job.brief.facing or index == 0:
        return [index]
    left = index if index % 2 else index - 1
    return [page for page in (left, left + 1) if page < len(job.pages)]


def spreads_from(job: Job, index: int, count: int = 1) -> list[int]:
    """The pages of so many spreads in a row, the first that of ``index``; fewer where the job has no more. Where it
    would end with them, those before are among them instead."""
    spread = spread_of(job, index)
    while len(spread) < len(job.pages) and count > 1:
        count -= 1
        behind = spread[-1] + 1 < len(job.pages)
        spread = [*spread, *spread_of(job, spread[-1] + 1)] if behind else [*spread_of(job, spread[0] - 1), *spread]
    return spread


def spreads(job: Job) -> list[list[int | None]]:
    """All spreads in order; with facing pages each has two places, ``None`` where there is no page."""
    if not job.brief.facing:
        return [[index] for index in range(len(job.pages))]
    rows: list[list[int | None]] = [[None, 0]]
    for left in range(1, len(job.pages), 2):
        rows.append([left, left + 1 if left + 1 < len(job.pages) else None])
    return rows
