"""Whom a job is shared with, and what each of them may do with it."""

from __future__ import annotations

from typing import Any

from django.contrib.auth import get_user_model
from django.db import transaction

from lexigon.bench.models import Job, Presence, Role, Share
from lexigon.bench.services import outputs
from lexigon.core.errors import LexigonError

MOST_PEOPLE = 100


def role_in(job: Job, user: Any) -> Role:
    """Return what ``user``, who sees the job, may do with it. The one it belongs to may do everything."""
    if job.owner_id == user.pk:
        return Role.OWN
    # Read from what is prefetched, where it is.
    role = next((share.role for share in job.shares.all() if share.user_id == user.pk), Role.VIEW)
    return Role(role)


def share(job: Job, name: str, role: Role) -> Any:
    """Share a job with somebody, by the name they sign in with; returns them. Raises LexigonError."""
    if not name:
        raise LexigonError("Type the user name of the person to share with.", "name")
    user = get_user_model().objects.filter(username__iexact=name, is_active=True).first()
    if user is None:
        raise LexigonError(f"There is no user named “{name[:60]}”.", "name")
    if user.pk == job.owner_id:
        raise LexigonError(f"“{job.name}” belongs to {user.get_username()} already.", "name")
    with transaction.atomic():
        if not job.shares.filter(user=user).exists() and job.shares.count() >= MOST_PEOPLE:
            raise LexigonError(f"A job is shared with at most {MOST_PEOPLE} people.", "name")
        Share.objects.update_or_create(job=job, user=user, defaults={"role": role})
    return user


def change_role(job: Job, user: int, role: Role) -> None:
    """Give somebody with whom a job is shared another role."""
    job.shares.filter(user=user).update(role=role)


def unshare(job: Job, user: int) -> None:
    """End the sharing with somebody: what they had in the queue is stopped, and they are no longer shown as present."""
    job.shares.filter(user=user).delete()
    outputs.stop_of(job, user)
    Presence.objects.filter(job=job, user=user).delete()
