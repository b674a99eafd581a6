"""Accepting findings."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from lexigon.core.document import story_text
from lexigon.core.document.limits import Id, Key, Name, Note
from lexigon.core.document.model import Acceptance, Job
from lexigon.core.editing.edits import EditError, Primitive, PutEntry, put


@dataclass(slots=True, frozen=True)
class AcceptFinding:
    """Accept a finding as it is, with the reason; one that was accepted before gets another reason."""

    kind: Name
    mark: Key
    text: Note
    reason: Note
    do: Literal["accept-finding"] = "accept-finding"
    label = "Accept finding"

    def expand(self, job: Job) -> list[Primitive]:
        if not self.reason.strip():
            raise EditError("Type the reason for which this finding is accepted.")
        former = next((one.id for one in job.acceptances.values() if one.mark == self.mark), None)
        key = former or story_text.new_id("x")
        return [put("acceptances", Acceptance(key, self.kind, self.mark, self.text, self.reason.strip()))]


@dataclass(slots=True, frozen=True)
class ReopenFinding:
    """List a finding again that was accepted."""

    id: Id
    do: Literal["reopen-finding"] = "reopen-finding"
    label = "Reopen finding"

    def expand(self, job: Job) -> list[Primitive]:
        if self.id not in job.acceptances:
            raise EditError("This finding is not accepted any more.")
        return [PutEntry("acceptances", self.id, None)]
