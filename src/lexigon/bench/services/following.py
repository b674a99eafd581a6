"""Updates that a job takes from others: a cover the page count of its inside, a part of a publication its first page
number.

Nothing is written while a job is only looked at. A page that shows a job with something ``due`` asks for ``follow``.
"""

from __future__ import annotations

from typing import Any

from lexigon.bench.services import publications, ties
from lexigon.bench.services.jobs import OpenJob


def is_due(live: OpenJob, user: Any) -> bool:
    """Return whether a job lags behind those that it depends on, or its pages behind its stories, and ``user`` may edit
    it."""
    return live.editable_by(user) and bool(not live.fits or ties.due(live, user) or publications.number_due(live))


def follow(live: OpenJob, user: Any) -> None:
    """Bring a job up to those that it depends on, where ``user`` may edit it."""
    if live.editable_by(user):
        if intents := ties.due(live, user):
            live.do(intents, user)
        if intents := publications.number_due(live):
            live.do(intents, user)
