"""The protocol of all intents, and their line in the history."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Protocol

from lexigon.core.document.model import Job
from lexigon.core.editing.edits import Primitive


def history_label(intents: Sequence[Intent]) -> str:
    """The line of a change in the history, such as "Move 3 objects": the label of its first intent with the number of
    its objects.

    Intents of one kind are counted together; an empty string where there is none.
    """
    if not intents:
        return ""
    first = intents[0]
    same = [one for one in intents if type(one) is type(first) and one.label == first.label]
    count = sum(len(getattr(one, "objects", ())) or 1 for one in same)
    if count < 2:
        return first.label
    return re.sub(r"\bobject\b", f"{count} objects", first.label, count=1)


class Intent(Protocol):
    """Something that a person does: a frozen dataclass, checked when it is expanded."""

    @property
    def do(self) -> str:
        """Its name in JSON, such as ``put-along``."""

    @property
    def label(self) -> str:
        """Its line in the history: a verb and what it is done to, such as "Move object"."""

    def expand(self, job: Job) -> list[Primitive]:
        """The edits that carry it out in this job. Raises EditError with what is wrong, in plain words."""
