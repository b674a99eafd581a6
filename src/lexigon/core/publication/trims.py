"""Jobs of a publication whose trim differs, so that their pages could not be bound with the others."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from lexigon.core import lengths
from lexigon.core.document.model import Job

SLACK = 0.1
"""Points within which two trims are the same: rounding to another unit leaves less."""


def odd_trims(jobs: Sequence[Job]) -> dict[str, str]:
    """A message for each job, by id, whose trim differs from that of most jobs. Covers and folded pieces are left
    out."""
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
