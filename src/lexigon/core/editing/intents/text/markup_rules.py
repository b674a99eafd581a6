"""Intents for mark-up rules and for words that a job knows."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Literal

from lexigon.core.document import story_text
from lexigon.core.document.limits import Key, Language, Matching, Name
from lexigon.core.document.model import Job, KnownWord, Marking
from lexigon.core.editing.edits import EditError, Primitive, PutEntry, put
from lexigon.core.editing.intents.text.rewriting import Rewrite
from lexigon.core.markup.marker import done_once
from lexigon.core.markup.notation import read_rule

Line = Annotated[str, Matching(r"[^\x00-\x1f]*", "A rule has at most 2,000 characters.", 2000)]


@dataclass(slots=True, frozen=True)
class PutMarking:
    """Add a rule by its line, or change one."""

    line: Line
    name: Name = ""
    id: Key | None = None
    do: Literal["put-marking"] = "put-marking"

    @property
    def label(self) -> str:
        return "Change rule" if self.id else "Add rule"

    def expand(self, job: Job) -> list[Primitive]:
        old = job.markings.get(self.id or "")
        if self.id is not None and old is None:
            raise EditError("That rule is no longer in the job.")
        rule = read_rule(self.line, job, self.id or story_text.new_id("r"), self.name.strip())
        return [put("markings", replace(rule, on=old.on) if old else rule)]


@dataclass(slots=True, frozen=True)
class SwitchMarking:
    """Have a rule act, or not."""

    id: Key
    on: bool
    do: Literal["switch-marking"] = "switch-marking"

    @property
    def label(self) -> str:
        return "Switch rule on" if self.on else "Switch rule off"

    def expand(self, job: Job) -> list[Primitive]:
        return [put("markings", replace(_rule(job, self.id), on=self.on))]


@dataclass(slots=True, frozen=True)
class MoveMarking:
    """Put a rule in another place of the order in which they act."""

    id: Key
    to: int
    do: Literal["move-marking"] = "move-marking"
    label = "Move rule"

    def expand(self, job: Job) -> list[Primitive]:
        rule = _rule(job, self.id)
        to = min(max(self.to, 0), len(job.markings) - 1)
        if list(job.markings).index(self.id) == to:
            return []
        return [PutEntry("markings", self.id, None), put("markings", rule, to)]


@dataclass(slots=True, frozen=True)
class RemoveMarking:
    id: Key
    do: Literal["remove-marking"] = "remove-marking"
    label = "Delete rule"

    def expand(self, job: Job) -> list[Primitive]:
        _rule(job, self.id)
        return [PutEntry("markings", self.id, None)]


@dataclass(slots=True, frozen=True)
class DoMarking:
    """Set by hand what a rule would: it is switched off, and what it did stays."""

    id: Key
    do: Literal["do-marking"] = "do-marking"
    label = "Apply rule once"

    def expand(self, job: Job) -> list[Primitive]:
        rule = _rule(job, self.id)
        edits = done_once(rule, job)
        return [*Rewrite(edits).expand(job), *([put("markings", replace(rule, on=False))] if rule.on else [])]


@dataclass(slots=True, frozen=True)
class LearnWord:
    """A word is no mistake in this job."""

    word: Annotated[str, Matching(r"\S+", "A word cannot contain spaces.", 80)]
    language: Language | Literal[""] = ""
    do: Literal["learn-word"] = "learn-word"
    label = "Learn word"

    def expand(self, job: Job) -> list[Primitive]:
        if any(one.word == self.word and one.language == self.language for one in job.lexicon.values()):
            return []
        return [put("lexicon", KnownWord(story_text.new_id("w"), self.word, self.language))]


@dataclass(slots=True, frozen=True)
class ForgetWord:
    id: Key
    do: Literal["forget-word"] = "forget-word"
    label = "Forget word"

    def expand(self, job: Job) -> list[Primitive]:
        if self.id not in job.lexicon:
            raise EditError("That word is no longer in the job.")
        return [PutEntry("lexicon", self.id, None)]


def _rule(job: Job, key: str) -> Marking:
    if key not in job.markings:
        raise EditError("That rule is no longer in the job.")
    return job.markings[key]
