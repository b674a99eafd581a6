"""The summary of a job on the shelf: its page count and the miniature of its first page."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import asdict, dataclass
from threading import Lock

from lexigon.bench.models import Job
from lexigon.bench.services import miniatures
from lexigon.bench.services.jobs import OpenJob, opened

MOST = 1000
"""Glances that a process holds until they are saved."""


@dataclass(frozen=True, slots=True)
class Glance:
    """A job at one of its revisions; ``picture`` is the signature of the miniature."""

    revision: int
    pages: int
    picture: str


_recent: OrderedDict[str, Glance] = OrderedDict()
_lock = Lock()


def saved(job: Job) -> Glance | None:
    """Return what was saved with the job, if the job has not changed since."""
    stored = job.glance or {}
    return Glance(**stored) if stored.get("revision") == job.revision else None


def of(job: Job) -> Glance:
    """A glance at a job, which is opened where neither its row nor this process has one. Raises LexigonError."""
    with _lock:
        recent = _recent.get(job.pk)
    if recent is not None and recent.revision == job.revision:
        return recent
    if (glance := saved(job)) is not None:
        return glance
    with opened(job.pk) as live:
        glance = _looked_at(live)
    with _lock:
        _recent[job.pk] = glance
        while len(_recent) > MOST:
            _recent.popitem(last=False)
    return glance


def is_saved(live: OpenJob) -> bool:
    """Return whether the glance that is saved with a job is of its present revision."""
    saved_glance = Job.objects.values_list("glance", flat=True).get(pk=live.key)
    return saved_glance is not None and saved_glance["revision"] == live.revision


def save(live: OpenJob) -> None:
    """Save with a job how the shelf shows it."""
    Job.objects.filter(pk=live.key).update(glance=asdict(_looked_at(live)))


def _looked_at(live: OpenJob) -> Glance:
    return Glance(live.revision, len(live.job.pages), miniatures.signature(live.workspace.composition, 0))
