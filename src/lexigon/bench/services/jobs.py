"""Open jobs: the live, composed job behind the views, synchronised with the database.

A process keeps the jobs it used last open and composed. Before use it applies the edits that other
processes logged since; an edit commits only if the job's revision is still the one it was made on, so
several workers agree through the database. An edit is in the database before it is answered.
"""

from __future__ import annotations

import threading
import weakref
from collections import OrderedDict
from collections.abc import Callable, Collection, Iterable, Iterator
from contextlib import contextmanager
from dataclasses import astuple
from typing import Any, TypeVar

from django.conf import settings
from django.db import transaction
from django.http import Http404
from django.utils import timezone

from lexigon.bench import models
from lexigon.bench.services import changes, log, rows
from lexigon.bench.services.files import Files, path_among
from lexigon.bench.services.log import BACK, FORTH, logged
from lexigon.bench.services.reading import is_reading
from lexigon.bench.services.storage import trouble_of
from lexigon.core.document import model
from lexigon.core.document.consistency import check
from lexigon.core.document.model import FORMAT, all_in
from lexigon.core.document.registry import TABLES
from lexigon.core.editing.edits import Primitive, edits_to_plain
from lexigon.core.editing.intents import EditNodes, Intent
from lexigon.core.editing.intents.intent import history_label
from lexigon.core.editing.rebasing import Shift, Stale, rebased, shifts_of
from lexigon.core.editing.touches import EntryTouch, ObjectsTouch, touches_of
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.story_flow import Progress
from lexigon.core.flow.workspace import Change, Workspace
from lexigon.core.type.line_cache import line_cache

OPEN_JOBS = 6
MOST_TRIES = 5
"""Times that an edit is made anew because another process was faster, before that has to wait for it."""
T = TypeVar("T")


class OpenJob:
    """One job, live. Use it within ``opened``, which holds its lock and brings it up to date."""

    def __init__(self, key: str) -> None:
        """Read the job and compose it. Raises ``models.Job.DoesNotExist``, or LexigonError if its rows make no job."""
        row, job = rows.load(key)
        self.key, self.revision = key, row.revision
        self.owner = row.owner_id
        self.files = Files(key)
        with line_cache(key):
            self.workspace = Workspace(job, self.files.path_of, today=timezone.localdate())
        weakref.finalize(self, self.workspace.composition.let_go).atexit = False
        self._hurried = ""
        self.shifts: list[Shift] = []
        """How places that the client of the last edit types on from were moved by what others did since its base."""
        self.broken = False
        """Something went wrong while it was changed: it is read anew before it is used again."""
        self.fits = True
        """Return whether the pages fit their stories. If not, the next request that may write corrects them."""
        # Composing again may need other pages than were saved: where a font is newer, say.
        self._write_fitting(self.workspace.opening)
        self.catch_up()

    @property
    def job(self) -> model.Job:
        return self.workspace.job

    def editable_by(self, user: Any) -> bool:
        """Return whether somebody may change the job. None is the application itself."""
        return (
            user is None or user.pk == self.owner or models.Job.objects.editable_by(user).filter(pk=self.key).exists()
        )

    def _require_editor(self, user: Any) -> None:
        if not self.editable_by(user):
            raise LexigonError(
                f"You can view “{self.job.name}” and comment on it, but not edit it. Nothing was changed."
            )

    def catch_up(self) -> None:
        """Apply the edits other processes made since; a job left open overnight shows the new day's date.

        What a change of styles left for later is composed first.
        """
        self._finish()
        if self.workspace.composition.today != timezone.localdate():
            self.workspace.composition.show_day(timezone.localdate())
        for row in models.Edit.objects.filter(job=self.key, revision__gt=self.revision):
            try:
                self.workspace.run(logged(row.edits, row.form))
            except BaseException:
                self.broken = True
                raise
            self.revision, self._hurried = row.revision, ""
        if not self.fits and not is_reading():
            self._write_fitting(self.workspace.fit(), self._hurried)

    def _finish(self) -> None:
        """Compose what a hurried change left, and keep the page edits it takes with that change: one step to undo."""
        rest = self.workspace.finish()
        if rest is not None:
            self._write_fitting(rest, self._hurried)

    def _write_fitting(self, change: Change, group: str = "") -> None:
        """Write page edits that composing called for. They are taken back where that cannot be done now (a request that
        only reads, another process that was faster, a full disk), so that the live job is what its rows are."""
        self.fits = not change.edits or (not is_reading() and self._commit_if_possible(change, group))
        if not self.fits:
            self.workspace.run(change.inverse)

    def do(
        self,
        intents: list[Intent],
        user: Any,
        *,
        base: int | None = None,
        group: str = "",
        token: str = "",
        near: Collection[int] = (),
        on_progress: Progress | None = None,
        before: Callable[[Intent], None] | None = None,
    ) -> Change:
        """Carry out intents made on revision ``base`` as one change, and save it.

        With ``near``, a change of styles in a long job is composed on those pages first, and the rest when the job is
        next used. ``on_progress`` receives the progress in a long story; ``before`` receives each intent just before it
        is carried out.

        ``token`` identifies the request: ``done_before`` recognises it when it is repeated.

        Raises Stale if the words that they refer to have changed since, LexigonError if they cannot be done, or not by
        ``user``.
        """
        base = self.revision if base is None else base
        self._require_editor(user)

        def attempt() -> Change | None:
            if self.done_before(token):
                return Change(history_label(intents), (), ())
            change = self.workspace.do(*self.rebased(intents, base), near=near, on_progress=on_progress, before=before)
            if not change.edits:
                return change
            if missing := self.files.missing(_files_named(change.edits) - _files_named(change.inverse)):
                self.workspace.run(change.inverse)
                self.files.add_from_jobs_of(user, missing)
                if self.files.missing(missing):
                    raise LexigonError("The file is in none of your jobs. Import it first. Nothing was changed.")
                change = self.workspace.do(
                    *self.rebased(intents, base), near=near, on_progress=on_progress, before=before
                )  # now with its files
            named = group
            if self.workspace.pending:
                named = self._hurried = group or f"styles-{self.revision + 1}"
            if self._commit(change, user, group=named, token=token):
                return change
            self.workspace.run(change.inverse)
            return None

        return self._retry(attempt)

    def _retry(self, attempt: Callable[[], T | None]) -> T:
        """Have an attempt made until no other process was faster. The database is locked for writing alone, not while
        the job is composed; only somebody who was late again and again has it for himself."""
        for _ in range(MOST_TRIES):
            result = attempt()
            if result is not None:
                return result
            self.catch_up()
        return self._alone(attempt)

    def _alone(self, attempt: Callable[[], T | None]) -> T:
        """Another process was faster: try again while no other can change the job, on what it is by then."""
        problem: LexigonError | None = None
        result = None
        try:
            with transaction.atomic():
                models.Job.objects.select_for_update().filter(pk=self.key).first()
                self.catch_up()
                try:
                    result = attempt()
                except LexigonError as error:  # called once the edits of other processes are stored
                    problem = error
        except BaseException:
            self.broken = True  # the savepoint was rolled back, so the live job has too much
            raise
        if problem is not None:
            raise problem
        assert result is not None, "no other process can have been faster"
        return result

    def done_before(self, token: str) -> bool:
        """Return whether a request of this name was carried out already (its answer was lost on the way)."""
        return bool(token) and models.Edit.objects.filter(job=self.key, token=token).exists()

    def change_named(self, token: str) -> Change | None:
        """The change that a request of this name made; None if there was none."""
        row = models.Edit.objects.filter(job=self.key, token=token).first() if token else None
        return (
            Change(row.label, tuple(logged(row.edits, row.form)), tuple(logged(row.inverse, row.form))) if row else None
        )

    def undo(self, user: Any, near: Collection[int] = ()) -> Change | None:
        """Take back the last change that stands, or its group of typing: the user's own, where what others did since
        touches nothing of it. None if none is left."""
        self._require_editor(user)
        return self._replay("undo", *BACK, models.Edit.UNDONE, user, lambda r: r.inverse, near)

    def redo(self, user: Any, near: Collection[int] = ()) -> Change | None:
        """Do again what was taken back last. None if nothing was."""
        self._require_editor(user)
        return self._replay("redo", *FORTH, models.Edit.STANDS, user, lambda r: r.edits, near)

    def go_back(self, revision: int, label: str, user: Any) -> Change | None:
        """Make the job what it was at a revision: one change, which can be undone like any other. None if it is
        that."""
        self._require_editor(user)
        self.shifts = []

        def attempt() -> tuple[Change | None] | None:
            since = models.Edit.objects.filter(job=self.key, revision__gt=revision).order_by("-revision")
            edits = [edit for row in since for edit in logged(row.inverse, row.form)]
            if not edits:
                return (None,)
            change = Change(label, tuple(edits), tuple(self.workspace.run(edits)))
            if self._commit(change, user):
                return (change,)
            self.workspace.run(change.inverse)
            return None

        return self._retry(attempt)[0]

    def history(self, user: Any = None) -> tuple[str, str]:
        """The labels of what undo and redo would do for somebody; with whose change it is where that is somebody
        else's."""
        return log.labels(self.key, user)

    def _replay(
        self,
        kind: str,
        state: str,
        order: str,
        becomes: str,
        user: Any,
        part: Callable[[models.Edit], Any],
        near: Collection[int],
    ) -> Change | None:
        self.shifts = []

        def attempt() -> tuple[Change | None] | None:
            changes = log.changes_to_step(self.key, self.job, state, order, user)
            if not changes:
                return (None,)
            edits = [edit for row in changes for edit in logged(part(row), row.form)]
            change = Change(changes[0].label, tuple(edits), tuple(self.workspace.run(edits, near)))
            if self._commit(change, user, kind=kind, replayed=changes, state=becomes):
                return (change,)
            self.workspace.run(change.inverse)
            return None

        return self._retry(attempt)[0]

    def _commit(
        self,
        change: Change,
        user: Any,
        *,
        group: str = "",
        token: str = "",
        kind: str = "do",
        replayed: list[models.Edit] | None = None,
        state: str = "",
    ) -> bool:
        """Write a change that was applied to the live job. False if another process was faster."""
        job = self.job
        values = {"revision": self.revision + 1, "changed": timezone.now()} | rows.job_values(job, change.edits)
        try:
            with transaction.atomic():
                if not models.Job.objects.filter(pk=self.key, revision=self.revision).update(**values):
                    return False
                rows.write(self.key, job, change.edits)
                if kind == "do":
                    models.Edit.objects.filter(job=self.key, kind="do", state=models.Edit.UNDONE).update(
                        state=models.Edit.DROPPED
                    )
                else:
                    models.Edit.objects.filter(pk__in=[row.pk for row in replayed or ()]).update(state=state)
                models.Edit.objects.create(
                    job_id=self.key,
                    where=changes.where(self.workspace, change)[:80],
                    form=FORMAT,
                    revision=self.revision + 1,
                    label=change.label,
                    kind=kind,
                    group=group,
                    by=user,
                    token=token or None,
                    edits=edits_to_plain(change.edits),
                    inverse=edits_to_plain(change.inverse),
                )
        except BaseException:
            self.broken = True  # the live job has a change that its rows have not
            raise
        self.revision += 1
        return True

    def _commit_if_possible(self, change: Change, group: str = "") -> bool:
        """Write a change nobody asked for. False if another process was faster, or nothing can be written now."""
        try:
            return self._commit(change, None, group=group)
        except Exception as error:
            if trouble_of(error) is None:
                raise
            self.broken = False
            return False

    # Edits made on an older revision

    def rebased(self, intents: list[Intent], base: int, token: str = "") -> list[Intent]:
        """Return the intents, made on revision ``base``, rebased onto the present one. Raises Stale.

        ``shifts`` then says how changes of others since ``base`` move the places that the client continues from. A
        change with the name ``token`` is the client's own.
        """
        self.shifts = []
        if base >= self.revision:
            return intents
        for intent in intents:
            if isinstance(intent, EditNodes):
                self._check_outline(intent.page, intent.object, base)
        stories = {getattr(intent, "story", "") for intent in intents}
        own = False
        moved = intents
        for row in models.Edit.objects.filter(job=self.key, revision__gt=base).order_by("revision"):
            if token and row.token == token:
                own = True
                continue
            since = shifts_of(logged(row.edits, row.form), logged(row.inverse, row.form))
            since = [shift for shift in since if shift.story in stories]
            if own:  # they were made on what these intents left
                self.shifts += since
            else:
                moved, since = rebased(moved, since)
                self.shifts += since
        return moved

    def shifts_since(self, intents: list[Intent], base: int, token: str) -> list[Shift]:
        """``shifts`` of a request that was carried out before, whose answer was lost."""
        try:
            self.rebased(intents, base, token)
        except Stale:
            self.shifts = []
        return self.shifts

    def moves(self, change: Change, painted: bool) -> list[list[Any]]:
        """Return how the client is to move its places after a change: past what others did since its base, and past the
        change itself where it has not ``painted`` that. Each is [story, paragraph, at, removed, inserted, to, by]; see
        ``Shift``."""
        own = [] if painted else shifts_of(change.edits, change.inverse)
        return plain_shifts([*self.shifts, *own])

    def _check_outline(self, page: str, key: str, base: int) -> None:
        """Refuse edits of nodes, which are addressed by number, if the path has changed since ``base``. Raises
        Stale."""
        for row in models.Edit.objects.filter(job=self.key, revision__gt=base):
            shapes = [
                {
                    (one.outline, one.place)
                    for touch in touches_of(logged(edits, row.form))
                    if isinstance(touch, ObjectsTouch) and touch.holder == page
                    for one in all_in(touch.insert)
                    if one.id == key
                }
                for edits in (row.edits, row.inverse)
            ]
            if shapes[0] != shapes[1]:
                raise Stale(
                    "This path was changed in another window at the same moment. Check it, then repeat your change."
                )


def plain_shifts(shifts: list[Shift]) -> list[list[Any]]:
    """Shifts as a client reads them."""
    return [list(astuple(shift)[:7]) for shift in shifts]


def _files_named(edits: Iterable[Primitive]) -> set[str]:
    entries = (touch for touch in touches_of(edits) if isinstance(touch, EntryTouch) and touch.value)
    return {file for touch in entries for file in TABLES[touch.table].files_of(touch.value)}


class _Slot:
    """The place of one open job: its lock, and the job once it is read."""

    def __init__(self) -> None:
        self.lock = threading.RLock()
        self.live: OpenJob | None = None
        self.users = 0


_slots: OrderedDict[str, _Slot] = OrderedDict()
_guard = threading.Lock()
"""Held for a moment, to find a job's place; never while a job is read, composed or written."""


@contextmanager
def _slot(key: str) -> Iterator[_Slot]:
    with _guard:
        slot = _slots.setdefault(key, _Slot())
        _slots.move_to_end(key)
        slot.users += 1
    try:
        with slot.lock:
            yield slot
    finally:
        with _guard:
            slot.users -= 1
            spare = len(_slots) - getattr(settings, "LEXIGON_OPEN_JOBS", OPEN_JOBS)
            for idle in [name for name, other in _slots.items() if not other.users][: max(spare, 0)]:
                del _slots[idle]
            if slot.live is None and not slot.users and _slots.get(key) is slot:
                del _slots[key]


def forget(key: str) -> None:
    """Close a job; it is read anew when next used."""
    with _slot(key) as slot:
        slot.live = None


def forget_all() -> None:
    """Close every job that is open and not in use."""
    for key in list(_slots):
        forget(key)


@contextmanager
def opened(key: str) -> Iterator[OpenJob]:
    """The live job, up to date, locked for this thread. What breaks it on the way closes it."""
    with _slot(key) as slot:
        try:
            if slot.live is None:
                slot.live = OpenJob(key)
            slot.live.catch_up()
            yield slot.live
        except (LexigonError, Http404):
            raise
        except BaseException:
            slot.live = None
            raise
        finally:
            if slot.live is not None and slot.live.broken:
                slot.live = None


def create_job(owner: Any, job: model.Job, files: Collection[str] = ()) -> models.Job:
    """Store a new job, with ``files`` (names of stored ones, which its owner may have). Its pages are made to fit its
    text first."""
    check(job)
    with line_cache(job.id):
        Workspace(job, path_among(files)).composition.let_go()
    with transaction.atomic():
        row = models.Job.objects.create(
            key=job.id,
            owner=owner,
            name=job.name,
            kind=job.kind,
            form=FORMAT,
            brief=plain(job.brief),
            main_story=job.main_story,
        )
        rows.create(row.pk, job)
        Files(row.pk).add(files)
    return row


__all__ = ["OpenJob", "Primitive", "Stale", "create_job", "forget", "forget_all", "opened"]
