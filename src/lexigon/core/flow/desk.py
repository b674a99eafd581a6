"""A job on the desk: the live job with its composition, changed only through intents.

The web view, the command line, the demo and the tests all work through a Desk. What it returns is what
is logged: the primitive edits done and the ones that take them back, page edits of the flow included.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from lexigon.core.flow.composition import Composition
from lexigon.core.job.edits import Primitive, apply_all
from lexigon.core.job.intents import Intent
from lexigon.core.job.model import Job
from lexigon.core.type.fonts import FontLibrary


@dataclass(slots=True, frozen=True)
class Change:
    """Something that was done: its line in the history, its edits, and the edits that undo it."""

    label: str
    edits: tuple[Primitive, ...]
    inverse: tuple[Primitive, ...]


class Desk:
    def __init__(self, job: Job, library: FontLibrary | None = None, today: date | None = None) -> None:
        """Compose the job (dates show ``today``). ``opening`` holds the page edits that made it fit, if any were needed."""
        self.job = job
        self.composition = Composition(job, library, today)
        edits, inverse = self._settle()
        self.opening = Change("Fitting the pages", tuple(edits), tuple(inverse))

    def do(self, *intents: Intent) -> Change:
        """Carry out the intents as one change. Raises LexigonError and leaves the job as it was."""
        done: list[Primitive] = []
        inverse: list[Primitive] = []
        try:
            for intent in intents:
                edits = intent.expand(self.job)
                inverse = apply_all(self.job, edits) + inverse
                done += edits
        except Exception:
            for edit in inverse:
                edit.apply(self.job)
            raise
        self.composition.follow(done)
        more, back = self._settle()
        return Change(intents[0].label if intents else "", (*done, *more), (*back, *inverse))

    def run(self, edits: Iterable[Primitive]) -> list[Primitive]:
        """Apply logged edits (an undo, a redo, another process's change); return their inverses."""
        edits = list(edits)
        inverse = apply_all(self.job, edits)
        self.composition.follow(edits)
        return inverse

    def _settle(self) -> tuple[list[Primitive], list[Primitive]]:
        edits = self.composition.settle()
        inverse = apply_all(self.job, edits)
        if edits:
            self.composition.settled()
        return edits, inverse
