"""Open jobs: the live, composed job behind the views, kept in step with the database.

A process keeps the jobs it used last open and composed. Before use it applies the edits that other
processes logged since; an edit commits only if the job's revision is still the one it was made on, so
several workers agree through the database. An edit is in the database before it is answered.
"""

from __future__ import annotations

import threading
import time
from collections import OrderedDict
from collections.abc import Callable, Collection, Iterator
from contextlib import contextmanager
from dataclasses import replace
from typing import Any

from django.conf import settings
from django.db import transaction
from django.utils import timezone

from lexigon.bench import models
from lexigon.bench.services import files
from lexigon.bench.services.rows import Rows
from lexigon.core.errors import LexigonError
from lexigon.core.flow.desk import Change, Desk
from lexigon.core.job import model
from lexigon.core.job.edits import (
    Primitive,
    SetBrief,
    SetKind,
    SetMainStory,
    SetName,
    SpliceParagraphs,
    edits_from_plain,
    edits_to_plain,
)
from lexigon.core.job.intents import Intent, Place
from lexigon.core.job.serial import plain
from lexigon.core.job.text import difference

OPEN_JOBS = 6
TRIES = 5


class Stale(LexigonError):
    """The same words were changed elsewhere meanwhile; the edit was not made."""


class OpenJob:
    """One job, live. Use it within ``opened``, which holds its lock and brings it up to date."""

    def __init__(self, row: models.Job) -> None:
        self.key = row.key
        self.revision = row.revision
        self.rows = Rows.load(row)
        self.desk = Desk(self.rows.job, files.path_of, today=timezone.localdate())
        self.lock = threading.RLock()
        self._hurried = ""
        self.used = time.monotonic()
        if self.desk.opening.edits:
            # Composing again needs other pages than were saved (another version of a font, say): keep them.
            self._commit(self.desk.opening, user=None)

    @property
    def job(self) -> model.Job:
        return self.desk.job

    def catch_up(self) -> None:
        """Apply the edits other processes made since; a job left open overnight shows the new day's date.

        What a change of styles left for later is composed first.
        """
        self._finish()
        if self.desk.composition.today != timezone.localdate():
            self.desk.composition.show_day(timezone.localdate())
        missed = list(models.Edit.objects.filter(job=self.key, revision__gt=self.revision))
        for row in missed:
            self.desk.run(edits_from_plain(row.edits))
            self.revision = row.revision
        if missed:
            self._reload_ranks()  # ranks are dealt by the process that wrote the rows

    def _finish(self) -> None:
        """Compose what a hurried change left, and keep the page edits it takes with that change: one step to undo."""
        if not self.desk.pending:
            return
        rest = self.desk.finish()
        if rest is not None and rest.edits and not self._commit(rest, None, group=self._hurried):
            self.desk.run(rest.inverse)
            self._reload_ranks()

    def _reload_ranks(self) -> None:
        fresh = Rows.load(models.Job.objects.get(pk=self.key))
        self.rows.pages, self.rows.paragraphs, self.rows.story_ids = fresh.pages, fresh.paragraphs, fresh.story_ids

    def do(
        self, intents: list[Intent], user: Any, *, base: int | None = None, group: str = "", token: str = "",
        near: Collection[int] = (),
    ) -> Change:  # fmt: skip
        """Carry out intents made on revision ``base`` as one change, and keep it.

        With ``near`` a change of styles in a long job is composed on those pages first; the rest when the job is next used.

        ``token`` names the request: ``done_before`` recognises it when it comes a second time.

        Raises Stale if the words they mean were changed since, LexigonError if they cannot be done.
        """
        for _ in range(TRIES):
            change = self.desk.do(*(intents if base is None else self.rebased(intents, base)), near=near)
            if not change.edits:
                return change
            if self.desk.pending:
                group = self._hurried = group or f"styles-{self.revision + 1}"
            if self._commit(change, user, group=group, token=token):
                return change
            self.desk.run(change.inverse)
            base = self.revision if base is None else base
            self._reopen()
        raise LexigonError("The job is being changed in many places at once; nothing was lost, please try again.")

    def done_before(self, token: str) -> bool:
        """Whether a request of this name was carried out already (its answer was lost on the way)."""
        return bool(token) and models.Edit.objects.filter(job=self.key, token=token).exists()

    def undo(self, user: Any, near: Collection[int] = ()) -> Change | None:
        """Take back the last change that stands (or its group of typing). None if none is left."""
        row = self._last(models.Edit.STANDS, "-revision")
        if row is None:
            return None
        rows = self._group(row, models.Edit.STANDS, "-revision")
        return self._replay(rows, "undo", models.Edit.UNDONE, user, lambda r: r.inverse, near)

    def redo(self, user: Any, near: Collection[int] = ()) -> Change | None:
        """Do again what was taken back last. None if nothing was."""
        row = self._last(models.Edit.UNDONE, "revision")
        if row is None:
            return None
        rows = self._group(row, models.Edit.UNDONE, "revision")
        return self._replay(rows, "redo", models.Edit.STANDS, user, lambda r: r.edits, near)

    def history(self) -> tuple[str, str]:
        """The labels of what undo and redo would do."""
        back, forward = self._last(models.Edit.STANDS, "-revision"), self._last(models.Edit.UNDONE, "revision")
        return (back.label if back else ""), (forward.label if forward else "")

    def _last(self, state: str, order: str) -> models.Edit | None:
        return models.Edit.objects.filter(job=self.key, kind="do", state=state).order_by(order).first()

    def _group(self, row: models.Edit, state: str, order: str) -> list[models.Edit]:
        rows = models.Edit.objects.filter(job=self.key, kind="do", state=state).order_by(order)
        if not row.group:
            return [row]
        found = []
        for other in rows[:2000]:
            if other.group != row.group:
                break
            found.append(other)
        return found

    def _replay(
        self, rows: list[models.Edit], kind: str, state: str, user: Any, part: Callable[[models.Edit], Any],
        near: Collection[int],
    ) -> Change:  # fmt: skip
        edits = [edit for row in rows for edit in edits_from_plain(part(row))]
        inverse = self.desk.run(edits, near)
        change = Change(rows[0].label, tuple(edits), tuple(inverse))
        if not self._commit(change, user, kind=kind, rows=rows, state=state):
            self.desk.run(inverse)
            self._reopen()
            raise LexigonError("The job was changed in another window at the same moment; please try again.")
        return change

    def _commit(
        self, change: Change, user: Any, *, group: str = "", token: str = "", kind: str = "do",
        rows: list[models.Edit] | None = None, state: str = "",
    ) -> bool:  # fmt: skip
        """Write a change that was applied to the live job. False if another process was faster."""
        job = self.job
        values: dict[str, Any] = {"revision": self.revision + 1, "changed": timezone.now()}
        for edit in change.edits:
            if isinstance(edit, SetBrief):
                values["brief"] = plain(job.brief)
            elif isinstance(edit, SetName):
                values["name"] = job.name
            elif isinstance(edit, SetKind):
                values["kind"] = job.kind
            elif isinstance(edit, SetMainStory):
                values["main_story"] = job.main_story
        try:
            with transaction.atomic():
                if not models.Job.objects.filter(pk=self.key, revision=self.revision).update(**values):
                    return False
                self.rows.write(self.key, change.edits)
                if kind == "do":
                    models.Edit.objects.filter(job=self.key, kind="do", state=models.Edit.UNDONE).update(
                        state=models.Edit.DROPPED
                    )
                else:
                    models.Edit.objects.filter(pk__in=[row.pk for row in rows or ()]).update(state=state)
                models.Edit.objects.create(
                    job_id=self.key, revision=self.revision + 1, label=change.label, kind=kind, group=group, by=user, token=token or None,
                    edits=edits_to_plain(change.edits), inverse=edits_to_plain(change.inverse),
                )  # fmt: skip
        except BaseException:
            forget(self.key)
            raise
        self.revision += 1
        return True

    def _reopen(self) -> None:
        """Another process was faster: take over what it did."""
        self._reload_ranks()
        self.catch_up()

    # Edits made on an older revision

    def rebased(self, intents: list[Intent], base: int) -> list[Intent]:
        """The intents, made on revision ``base``, as they read on the present one. Raises Stale."""
        return [self._rebased(intent, base) for intent in intents] if base < self.revision else intents

    def _rebased(self, intent: Intent, base: int) -> Intent:
        """The intent with its places moved past the edits made since ``base``."""
        places = {name: value for name in ("start", "end") if isinstance(value := getattr(intent, name, None), Place)}
        if not places:
            return intent
        story = getattr(intent, "story", "")
        for row in models.Edit.objects.filter(job=self.key, revision__gt=base):
            for done, undone in zip(_splices(row.edits, story), reversed(_splices(row.inverse, story)), strict=False):
                before = {p.id: p.text for p in undone.insert}
                after = {p.id: p.text for p in done.insert}
                for name, place in places.items():
                    if place.paragraph in before:
                        places[name] = _moved(place, before[place.paragraph], after.get(place.paragraph))
        return replace(intent, **places)  # type: ignore[arg-type]


def _splices(edits: Any, story: str) -> list[SpliceParagraphs]:
    return [e for e in edits_from_plain(edits) if isinstance(e, SpliceParagraphs) and e.story == story]


def _moved(place: Place, before: str, after: str | None) -> Place:
    """The place in a paragraph whose text became ``after``; Stale if it lay within what changed."""
    if after is None:
        raise Stale("The paragraph you were typing in was removed in another window. What you typed is kept here.")
    if before == after:
        return place
    start, tail = difference(before, after)
    if place.offset <= start:
        return place
    if place.offset >= len(before) - tail:
        return replace(place, offset=place.offset + len(after) - len(before))
    raise Stale(
        "These words were changed in another window meanwhile. What you typed is kept here; look at the page and try again."
    )


_open: OrderedDict[str, OpenJob] = OrderedDict()
_opening = threading.Lock()


def forget(key: str) -> None:
    """Close a job; it is read anew when next used."""
    with _opening:
        _open.pop(key, None)


@contextmanager
def opened(key: str) -> Iterator[OpenJob]:
    """The live job, up to date, locked for this thread."""
    with _opening:
        found = _open.get(key)
        if found is None:
            found = _open[key] = OpenJob(models.Job.objects.get(pk=key))
        _open.move_to_end(key)
        while len(_open) > getattr(settings, "LEXIGON_OPEN_JOBS", OPEN_JOBS):
            _open.popitem(last=False)
    with found.lock:
        found.catch_up()
        yield found


def create_job(owner: Any, job: model.Job) -> models.Job:
    """Keep a new job. Its pages are made to fit its text first."""
    Desk(job)
    with transaction.atomic():
        row = models.Job.objects.create(
            key=job.id,
            owner=owner,
            name=job.name[:200],
            kind=job.kind,
            brief=plain(job.brief),
            main_story=job.main_story,
        )
        Rows.create(row, job)
    return row


__all__ = ["OpenJob", "Primitive", "Stale", "create_job", "forget", "opened"]
