"""The log of a job: reading its changes back, and finding those that undo and redo apply to."""

from __future__ import annotations

from collections import OrderedDict
from typing import Any

from django.db.models import QuerySet

from lexigon.bench import models
from lexigon.core.document.consistency import check
from lexigon.core.document.model import Job
from lexigon.core.editing.conflicts import PartKey, parts_touched
from lexigon.core.editing.edits import Primitive, apply_all, edits_from_plain
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.upgrades import upgraded_edits

MOST_PASSED = 200
"""Changes of others that are looked through for one's own."""
BACK, FORTH = (models.Edit.STANDS, "-revision"), (models.Edit.UNDONE, "revision")
"""The state of the changes that undo and redo are about, and their order."""


def logged(edits: Any, form: int) -> list[Primitive]:
    """Edits from the log, written in format ``form``."""
    return edits_from_plain(upgraded_edits(edits, form))


def labels(key: str, user: Any = None) -> tuple[str, str]:
    """The labels of what undo and redo would do for somebody; with whose change it is where that is somebody else's."""

    def label(last: models.Edit | None) -> str:
        if last is None:
            return ""
        if user is None or last.by_id in (None, user.pk):
            return last.label
        own = _own(key, *(BACK if last.state == models.Edit.STANDS else FORTH), user)
        return own[0].label if own else f"{last.label} ({last.by})"

    return label(_last(key, *BACK)), label(_last(key, *FORTH))


def changes_to_step(key: str, job: Job, state: str, order: str, user: Any) -> list[models.Edit]:
    """The changes that undo or redo is about: the last ones of one step, or somebody's own where those of others do not
    touch them."""
    last = _last(key, state, order)
    if last is None:
        return []
    if user is not None and last.by_id not in (None, user.pk):
        own = _own(key, state, order, user)
        part = "inverse" if state == models.Edit.STANDS else "edits"
        if own and _fit(job, [edit for row in own for edit in logged(getattr(row, part), row.form)]):
            return own
    return _group(key, last, state, order)


def _fit(job: Job, edits: list[Primitive]) -> bool:
    """Return whether edits leave a whole job though later ones stand: what somebody made may be what others built on.
    Tried, and taken back, before anything is composed."""
    try:
        inverse = apply_all(job, edits)
    except LexigonError:
        return False
    try:
        check(job)
    except LexigonError:
        return False
    finally:
        apply_all(job, inverse)
    return True


def _own(key: str, state: str, order: str, user: Any) -> list[models.Edit]:
    """The last changes of one step that somebody made, if what others did since touches nothing of them."""
    others: set[PartKey] = set()
    own: list[models.Edit] = []
    for row in _changes(key, state).defer("edits", "inverse").order_by(order)[:MOST_PASSED]:
        edits = _touched_by(row)
        if row.by_id != user.pk:
            others |= edits
        elif (own and (not row.group or row.group != own[0].group)) or edits & others:
            break
        else:
            own.append(row)
    return own


def _last(key: str, state: str, order: str) -> models.Edit | None:
    """A change whose edits are read when they are asked for; its label is known after every change."""
    return _changes(key, state).defer("edits", "inverse").order_by(order).first()


def _changes(key: str, state: str) -> QuerySet[models.Edit]:
    return models.Edit.objects.filter(job=key, kind="do", state=state)


def _group(key: str, row: models.Edit, state: str, order: str) -> list[models.Edit]:
    if not row.group:
        return [row]
    group = []
    left_out = "edits" if state == models.Edit.STANDS else "inverse"
    for other in _changes(key, state).defer(left_out).order_by(order)[:2000].iterator(50):
        if other.group != row.group:
            break
        group.append(other)
    return group


_touched_cache: OrderedDict[tuple[str, int], set[PartKey]] = OrderedDict()
MOST_KNOWN = 1000
"""Changes of which it is remembered what they touch: a long text that was poured in takes a while to be read."""


def _touched_by(row: models.Edit) -> set[PartKey]:
    cached = _touched_cache.get((row.job_id, row.pk))
    if cached is None:
        cached = _touched_cache[row.job_id, row.pk] = parts_touched(
            [*logged(row.edits, row.form), *logged(row.inverse, row.form)]
        )
        while len(_touched_cache) > MOST_KNOWN:
            _touched_cache.popitem(last=False)
    return cached
