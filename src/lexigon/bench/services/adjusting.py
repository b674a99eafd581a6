"""The board with a record in place of the design: its pages, and what is done to them as adjustments of the record."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from copy import copy

from lexigon.bench.services import merging
from lexigon.bench.services.jobs import OpenJob
from lexigon.core.editing.intents import AdjustRecord, Intent, RemoveRecordAdjustment
from lexigon.core.errors import LexigonError
from lexigon.core.merge.adjusting import adjusted
from lexigon.core.merge.model import RecordError

ON_BOARD = "board"
"""The merger of the board is its own: the one of Merge checks one record after another meanwhile."""


@contextmanager
def job_with(live: OpenJob, record: str) -> Iterator[tuple[OpenJob, str]]:
    """Give the job to be read as the board shows it: with a ``record``, named as ``set:number``, in place of the
    design, if it exists; and the name of the record that is shown, "" for the design."""
    own = _locked(live, record) if record else None
    if own is None:
        yield live, ""
        return
    try:
        view = copy(live)
        view.workspace = own.merger.workspace
        yield view, record
    finally:
        own.lock.release()


def _locked(live: OpenJob, record: str) -> merging.LiveMerge | None:
    """Show a record in the merger of the board. Return the merger, locked, or None if the record does not exist."""
    try:
        key, number = _named(record)
        own = merging.live_merge(live, key, ON_BOARD)
        own.lock.acquire()
        try:
            own.merger.show(number)
        except LexigonError:
            own.lock.release()
            raise
        return own
    except LexigonError:
        return None


def adjusting_intents(live: OpenJob, record: str, intents: Sequence[Intent]) -> list[Intent]:
    """Return intents for adjustments that change the pages of a ``record``, named as ``set:number``, as ``intents``
    would. Intents for adjustments are returned unchanged. Raises LexigonError."""
    if all(isinstance(one, AdjustRecord | RemoveRecordAdjustment) for one in intents):
        return list(intents)
    key, number = _named(record)
    own = merging.live_merge(live, key, ON_BOARD)
    with own.lock:
        return adjusted(own.merger, number, intents)


def _named(record: str) -> tuple[str, int]:
    """The id of the set, and the number of a record. Raises RecordError."""
    key, _, number = record.rpartition(":")
    if not number.isdecimal() or len(number) > 9:
        raise RecordError("That record is no longer in the set.")
    return key, int(number)
