"""Findings, and the registry of the checks that make them: one function for each."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Iterator
from dataclasses import dataclass
from importlib import import_module

from lexigon.core.check.acceptance import Marks
from lexigon.core.check.kinds import KINDS, Level
from lexigon.core.flow.composition import Composition

SUBJECTS = ("room", "edges", "layers", "pages", "pictures", "inks", "fine", "codes", "type", "listings", "binding")
"""The modules with rules, those on whose findings most depends first."""


@dataclass(slots=True, frozen=True)
class Finding:
    """What a check found: what is wrong, and what to do about it, in one plain line."""

    kind: str
    """Its name in ``KINDS``."""
    text: str
    page: int | None = None
    """The index of its page, if it is in one place."""
    fix: str = ""
    """The name of its fix in ``FIXES``, if it has one."""
    subject: str = ""
    """The id of the object, story, layer or other entry that it is about, if it is one alone."""

    @property
    def level(self) -> Level:
        """Return how grave it is."""
        return KINDS[self.kind].level


Check = Callable[[Composition], Iterable[Finding]]


@dataclass(slots=True, frozen=True)
class Rule:
    check: Check
    at_once: bool
    """Whether it reads no stories, so that it is quick enough to run after every edit."""

    @property
    def subject(self) -> str:
        """Return the name of its module."""
        return self.check.__module__.rpartition(".")[2]


RULES: list[Rule] = []


def rule(*, at_once: bool = False) -> Callable[[Check], Check]:
    """Put a function on the list of the rules."""

    def register(check: Check) -> Check:
        RULES.append(Rule(check, at_once))
        return check

    return register


def findings_of(composition: Composition, subjects: Collection[str] = SUBJECTS) -> list[Finding]:
    """Return the findings of a job that are not accepted, the subjects on which most depends first; those of some
    ``subjects`` alone if these are given."""
    rules = (one for one in _rules() if one.subject in subjects)
    return _unaccepted(composition, (finding for one in rules for finding in one.check(composition)))


def count_at_once(composition: Composition) -> int:
    """Return the number of findings that do not need the stories."""
    rules = (one for one in _rules() if one.at_once)
    return len(_unaccepted(composition, (finding for one in rules for finding in one.check(composition))))


def all_findings(composition: Composition) -> list[Finding]:
    """Return the findings of a job, those that are accepted included."""
    return [finding for one in _rules() for finding in one.check(composition)]


def _unaccepted(composition: Composition, findings: Iterable[Finding]) -> list[Finding]:
    """Return the findings without those that are accepted."""
    job = composition.job
    if not job.acceptances:
        return list(findings)
    accepted, marks = {one.mark for one in job.acceptances.values()}, Marks(job)
    kinds = {one.kind for one in job.acceptances.values()}  # marks of others, which take time, are not needed
    return [one for one in findings if one.kind not in kinds or marks.of(one) not in accepted]


def _rules() -> Iterator[Rule]:
    for subject in SUBJECTS:
        import_module(f"{__package__}.{subject}")
    yield from RULES


FIXES = {
    "scale to column": "Scale to the column",
    "add blank pages": "Add blank pages at the end",
    "move onto the page": "Move onto the page",
    "move into the safe zone": "Move into the safe zone",
}
"""The fixes that take one step, by name, with the label of their button; what they do is in ``fixes``."""
