"""Work in the background: queued, claimed by one worker, kept alive, and passed on when a worker dies.

The queue (Django's task framework) only carries ids; the row is what counts. A task that is queued twice is done once,
because a claim is one conditional write.
"""

from __future__ import annotations

import secrets
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import timedelta
from importlib import import_module
from typing import Any, TypeVar

from django.conf import settings
from django.db import connection
from django.db.models import Q
from django.utils import timezone

from lexigon.bench.models import Work
from lexigon.core.reclaim import reclaim

LEASE = timedelta(seconds=settings.LEXIGON_LEASE)
BEAT = settings.LEXIGON_LEASE / 4
"""Seconds between two extensions of a lease."""
PATIENCE = timedelta(minutes=10)
"""How long something waits in a queue before it is put there again (a queue may have lost it)."""
WATCH = settings.LEXIGON_LEASE / 9
"""Seconds between two looks for work whose worker died."""

Row = TypeVar("Row", bound=Work)
KINDS: dict[type[Work], Callable[[Any], str]] = {}
"""What puts a row of each kind of work in the queue, by its id; it returns the task's id."""
MODULES = ("manuscripts", "outputs", "merge_outputs", "merge_chunks")
"""The services that register their work here."""
LEFT: dict[type[Work], Callable[[Any], None]] = {}
"""What takes away the files of a claim whose worker died before it could say what it made."""


def kinds() -> dict[type[Work], Callable[[Any], str]]:
    """Return what puts each kind of work in the queue, in a process that has not loaded all of them, too."""
    for name in MODULES:
        import_module(f"lexigon.bench.services.{name}")
    return KINDS


class Superseded(Exception):
    """The work was stopped, or the lease ran out and another worker has it."""


def queue(row: Work) -> None:
    """Put work in the queue."""
    kind = type(row)
    kind._default_manager.filter(pk=row.pk).update(lease=timezone.now() + PATIENCE)
    task = kinds()[kind](row.pk)
    kind._default_manager.filter(pk=row.pk).update(task=task)


def stop(row: Work) -> None:
    _open(type(row)).filter(pk=row.pk).update(state=Work.STOPPED, ended=timezone.now())


def _open(kind: type[Row]) -> Any:
    return kind._default_manager.filter(state__in=(Work.WAITING, Work.RUNNING))


def overdue() -> int:
    """Put back in the queue what no worker does any more. Returns how much."""
    count = 0
    now = timezone.now()
    for kind in kinds():
        lost = Q(lease__lt=now) | Q(lease=None, started__lt=now - LEASE)
        for row in _open(kind).filter(lost):
            # One of several that look at the same time gets to do it.
            if kind._default_manager.filter(pk=row.pk, state=row.state, lease=row.lease).update(
                state=Work.WAITING, claim="", done=0, lease=now + PATIENCE
            ):
                if kind in LEFT:
                    LEFT[kind](row)
                queue(row)
                count += 1
    return count


def abandoned() -> None:
    """No worker runs any more, as when all of them were just started anew: what they held is free at once."""
    for kind in kinds():
        kind._default_manager.filter(state=Work.RUNNING).update(lease=timezone.now())


@contextmanager
def claimed(kind: type[Row], pk: int) -> Iterator[Row | None]:
    """Take up a piece of work and hold it; None if it was stopped, is done, or is another's."""
    claim = secrets.token_hex(8)
    waiting = kind._default_manager.filter(pk=pk, state=Work.WAITING)
    if not waiting.update(state=Work.RUNNING, claim=claim, lease=timezone.now() + LEASE):
        yield None
        return
    over = threading.Event()

    def beat() -> None:
        try:
            while not over.wait(BEAT):
                _mine(kind, pk, claim).update(lease=timezone.now() + LEASE)
        finally:
            connection.close()

    keeper = threading.Thread(target=beat, daemon=True)
    keeper.start()
    try:
        yield kind._default_manager.get(pk=pk)
    finally:
        over.set()
        keeper.join()
        reclaim()


def _mine(kind: type[Work], pk: int, claim: str) -> Any:
    return kind._default_manager.filter(pk=pk, claim=claim, state=Work.RUNNING)


def report(row: Work, done: int, total: int) -> None:
    """Say how far it is. Raises Superseded if it is no longer ours to do."""
    updated = _mine(type(row), row.pk, row.claim).update(done=done, total=total, lease=timezone.now() + LEASE)
    if not updated:
        raise Superseded


def end(row: Work, state: str, **values: Any) -> bool:
    """Say how it ended; False if that is no longer ours to say."""
    return bool(_mine(type(row), row.pk, row.claim).update(state=state, ended=timezone.now(), **values))


def watch(over: threading.Event) -> None:
    """Look for work whose worker has died, until stopped. To be run in a thread of its own."""
    try:
        while not over.wait(WATCH):
            overdue()
            connection.close_if_unusable_or_obsolete()
    finally:
        connection.close()
