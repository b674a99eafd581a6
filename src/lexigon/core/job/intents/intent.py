"""What all intents have in common."""

from __future__ import annotations

from typing import Protocol

from lexigon.core.job.edits import Primitive
from lexigon.core.job.model import Job


class Intent(Protocol):
    """Something that a person does: a frozen dataclass, checked when it is expanded."""

    @property
    def do(self) -> str:
        """Its name in JSON, such as ``put-along``."""

    @property
    def label(self) -> str:
        """Its line in the history."""

    def expand(self, job: Job) -> list[Primitive]:
        """The edits that carry it out in this job. Raises EditError with what is wrong, in plain words."""
