"""A workspace: the live job with its composition, changed only through intents.

The web view, the command line, the demo and the tests all work through a workspace. What it returns is what
is logged: the primitive edits done and the ones that take them back, page edits of the flow included.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import date

from lexigon.core.document.model import Job
from lexigon.core.editing.edits import Primitive, apply_all
from lexigon.core.editing.intents import Intent
from lexigon.core.editing.intents.intent import history_label
from lexigon.core.editing.touches import only_entries
from lexigon.core.editing.validation import check_edits
from lexigon.core.fileformat.values import passed
from lexigon.core.flow.composition import MOST_ROUNDS, Composition
from lexigon.core.flow.story_flow import Progress
from lexigon.core.flow.story_growth import grown, paged
from lexigon.core.type.fonts import FontLibrary
from lexigon.core.type.ownfonts import Find

LONG = 300
"""Paragraphs from which on a change of styles is shown first where one looks."""


@dataclass(slots=True, frozen=True)
class Change:
    """Something that was done: its line in the history, its edits, and the edits that undo it."""

    label: str
    edits: tuple[Primitive, ...]
    inverse: tuple[Primitive, ...]


class Workspace:
    def __init__(self, job: Job, library: FontLibrary | Find | None = None, today: date | None = None) -> None:
        """Compose the job (dates show ``today``) in the fonts of ``library``, or in those that ship and its own, whose
        files it finds. ``opening`` holds the page edits that made it fit, if any were needed."""
        self.job = job
        self.composition = Composition(job, library, today)
        self._batch: list[Primitive] | None = None
        self.opening = self.fit()

    @property
    def pending(self) -> bool:
        """Only the pages in view follow the last change; ``finish`` composes the rest."""
        return self.composition.pending

    def do(
        self,
        *intents: Intent,
        near: Collection[int] = (),
        on_progress: Progress | None = None,
        before: Callable[[Intent], None] | None = None,
    ) -> Change:
        """Carry out intents one after another, as one change. Raises LexigonError and leaves the job unchanged.

        Each intent is expanded on the result of the one before; ``before`` is called with it just before that. Their
        edits pass the same validation as files, so that a saved job can always be read.

        With ``near``, a change of styles in a long job is composed on those pages alone: see ``pending``.
        ``on_progress`` receives the progress in the main story; if it raises, the workspace must be discarded."""
        left = self.finish()
        done: list[Primitive] = list(left.edits) if left else []
        inverse: list[Primitive] = list(left.inverse) if left else []
        try:
            for intent in intents:
                if before is not None:
                    before(intent)
                edits = [passed(edit) for edit in intent.expand(self.job)]
                inverse = apply_all(self.job, edits) + inverse
                done += edits
            check_edits(self.job, done)
        except Exception:
            for edit in inverse:
                edit.apply(self.job)
            if left is not None:
                self.composition.follow(left.inverse)
            raise
        if self._batch is not None:
            self._batch += done
            return Change(history_label(intents), tuple(done), tuple(inverse))
        if near and self._may_hurry(done):
            self.composition.hurry(near)
            return Change(history_label(intents), tuple(done), tuple(inverse))
        self.composition.follow(done, on_progress)
        more, back = self._settle()
        return Change(history_label(intents), (*done, *more), (*back, *inverse))

    @contextmanager
    def batch(self) -> Iterator[None]:
        """Compose what is done within once, when it ends: to build a job from many changes of which none depends on
        where another stands. No log can have them: the page edits that the flow takes in the end belong to none."""
        assert self._batch is None, "a batch within a batch"
        self._batch = []
        try:
            yield
        finally:
            edits, self._batch = self._batch, None
            if edits:
                self.composition.follow(edits)
                self._settle()

    def run(self, edits: Iterable[Primitive], near: Collection[int] = ()) -> list[Primitive]:
        """Apply logged edits (an undo, a redo, another process's change); return their inverses."""
        edits = list(edits)
        inverse = apply_all(self.job, edits)
        if self.pending:  # what the hurried change would still have done to the pages is in no log: it is left undone
            self.composition.finish()
        elif near and self._may_hurry(edits):
            self.composition.hurry(near)
        else:
            self.composition.follow(edits)
        return inverse

    def finish(self) -> Change | None:
        """Compose what a hurried change left; the page edits that it takes, None if nothing was left."""
        if not self.pending:
            return None
        self.composition.finish()
        return self.fit()

    def fit(self) -> Change:
        """Make pages and frames fit their stories. Returns the change that was necessary, without edits if all
        fitted."""
        edits, inverse = self._settle()
        return Change("Fit pages", tuple(edits), tuple(inverse))

    def _may_hurry(self, edits: list[Primitive]) -> bool:
        tables = ("paragraph_styles", "character_styles")
        main = self.composition.main
        styles = all(only_entries(edit, tables) for edit in edits)
        long = main is not None and len(main) > LONG
        return bool(edits) and styles and long and not self.composition.only_looks(edits)

    def _settle(self) -> tuple[list[Primitive], list[Primitive]]:
        """Make pages and frames fit their stories, and again where fields show the new pages and need more or less
        room."""
        done: list[Primitive] = []
        back: list[Primitive] = []
        for _ in range(MOST_ROUNDS):
            edits = paged(self.composition)
            back = apply_all(self.job, edits) + back
            if edits:
                self.composition.settled()
            higher = grown(self.composition)
            if higher:
                back = apply_all(self.job, higher) + back
                self.composition.follow(higher)
            done += [*edits, *higher]
            if not edits and not higher:
                break
        return done, back
