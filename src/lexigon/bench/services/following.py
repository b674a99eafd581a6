"""What a job takes over from others when it is opened: a cover the page count of its inside, a part of a publication
its number."""

from __future__ import annotations

from typing import Any

from lexigon.bench.services import publications, ties
from lexigon.bench.services.jobs import OpenJob
from lexigon.bench.services.storage import write_if_possible


def follow(live: OpenJob, user: Any) -> None:
    """Bring a job up to those it depends on, where ``user`` may edit it and something can be written now."""
    if live.editable_by(user):
        with write_if_possible():
            ties.follow(live, user)
            publications.follow(live, user)
