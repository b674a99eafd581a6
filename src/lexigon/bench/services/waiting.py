"""What waits to be put right before a file is made, told ahead of it."""

from __future__ import annotations

from lexigon.bench.services.jobs import OpenJob
from lexigon.core.brief import binding
from lexigon.core.press.cautions import Caution, at_a_glance, cautions


def of_job(live: OpenJob) -> list[Caution]:
    """Everything there is to look at."""
    return [*_binding(live), *cautions(live.desk.composition)]


def count(live: OpenJob) -> int:
    """How much of it shows without looking at every letter: for the strip."""
    return len(_binding(live)) + len(at_a_glance(live.desk.composition))


def _binding(live: OpenJob) -> list[Caution]:
    job = live.job
    if len(job.pages) < 2:
        return []  # a book that is only begun
    found = binding.count(job.brief.binding, len(job.pages))
    return [] if found.ok else [Caution("binding", found.why)]
