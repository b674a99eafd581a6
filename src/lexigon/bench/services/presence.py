"""Presence of people in a job: each window reports every few seconds and is forgotten when it falls silent."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.utils import timezone

from lexigon.bench.models import Job, Presence

SILENT = timedelta(seconds=25)
"""Who was not heard of for so long is gone; windows say that they are there every few seconds."""
MOST_OTHERS = 30


def here(job: Job, user: Any, client: str, page: str, chosen: list[dict[str, str]]) -> dict[str, Any]:
    """Record where a user is. Returns the other users in the job, and its revision."""
    now = timezone.now()
    Presence.objects.update_or_create(
        job=job, client=client, defaults={"user": user, "page": page, "chosen": chosen, "at": now}
    )
    Presence.objects.filter(job=job, at__lt=now - SILENT).delete()
    others = Presence.objects.filter(job=job).exclude(client=client).select_related("user").order_by("pk")[:MOST_OTHERS]
    return {
        "revision": Job.objects.values_list("revision", flat=True).get(pk=job.pk),
        "others": [
            {
                "client": one.client,
                "name": one.user.get_username(),
                "self": one.user_id == user.pk,
                "page": one.page,
                "chosen": one.chosen,
            }
            for one in others
        ],
    }


def gone(job: Job, client: str) -> None:
    """A window was closed."""
    Presence.objects.filter(job=job, client=client).delete()
