"""The bin: jobs and publications that were deleted, for as long as they can be restored."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.db.models import QuerySet
from django.utils import timezone

from lexigon.bench.models import Job, Publication
from lexigon.bench.services.jobs import forget

BIN_PERIOD = timedelta(days=30)


def jobs_in_bin(owner: Any) -> QuerySet[Job]:
    """An owner's jobs in the bin, the latest first."""
    return Job.objects.owned_by(owner).filter(binned__gte=timezone.now() - BIN_PERIOD).order_by("-binned")


def publications_in_bin(owner: Any) -> QuerySet[Publication]:
    """An owner's publications in the bin, the latest first."""
    return Publication.objects.filter(owner=owner, binned__gte=timezone.now() - BIN_PERIOD).order_by("-binned")


def delete_expired() -> None:
    """Delete for good what has been in anybody's bin for too long."""
    before = timezone.now() - BIN_PERIOD
    for job in Job.objects.filter(binned__lt=before):
        forget(job.pk)
        job.delete()
    Publication.objects.filter(binned__lt=before).delete()
