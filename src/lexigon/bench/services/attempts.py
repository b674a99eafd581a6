"""Limits on attempts to sign in and to sign up from one address."""

from __future__ import annotations

from datetime import timedelta

from django.conf import settings
from django.http import HttpRequest
from django.utils import timezone

from lexigon.bench.models import Attempt

LIMITS = {
    Attempt.SIGN_IN: (30, timedelta(minutes=15)),
    Attempt.SIGN_UP: (20, timedelta(hours=1)),
}
"""Attempts from one address in so long a time: wrong passwords over whatever names, and new accounts. An office shares
one address."""


def address_of(request: HttpRequest) -> str:
    """Return the address that a request comes from; behind a proxy, the one that the nearest proxy reports."""
    through = request.headers.get("X-Forwarded-For", "") if settings.CSRF_TRUSTED_ORIGINS else ""
    return (through.rpartition(",")[2].strip() or str(request.META.get("REMOTE_ADDR", "")))[:64]


def too_many(request: HttpRequest, kind: str) -> bool:
    """Return whether the request's address has used up its attempts of this kind for now."""
    most, period = LIMITS[kind]
    since = timezone.now() - period
    return Attempt.objects.filter(kind=kind, address=address_of(request), at__gte=since).count() >= most


def note(request: HttpRequest, kind: str) -> None:
    """Record an attempt, and delete those older than the period of their limit."""
    Attempt.objects.create(kind=kind, address=address_of(request))
    Attempt.objects.filter(kind=kind, at__lt=timezone.now() - LIMITS[kind][1]).delete()
