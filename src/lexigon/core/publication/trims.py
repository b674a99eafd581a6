"""The trims of a publication's jobs: those whose pages could not be bound with the others."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from lexigon.core import lengths
from lexigon.core.job.model import Job

SLACK = 0.1
"""Points by which two trims may differ and still be the same: what rounding to another unit leaves."""


def odd_trims(jobs: Sequence[Job]) -> dict[str, str]:
    """The jobs whose trim is not that of most others, each with both in words. Covers and folded pieces have sizes of their own."""
    inside = [job for job in jobs if job.brief.form is None]
    counted = Counter(_steps(job) for job in inside)
    if len(counted) < 2:
        return {}
    usual = max(counted, key=lambda trim: counted[trim])  # of equally many the first
    like = next(job for job in inside if _steps(job) == usual)
    unit = like.brief.unit
    most = lengths.size(like.brief.width, like.brief.height, unit)
    return {
        job.id: f"Its trim is {lengths.size(job.brief.width, job.brief.height, unit)}; the others’ is {most}."
        for job in inside
        if _steps(job) != usual
    }


def _steps(job: Job) -> tuple[int, int]:
    return round(job.brief.width / SLACK), round(job.brief.height / SLACK)
