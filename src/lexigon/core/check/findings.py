"""Findings, and the list of the checks that make them."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Iterator
from dataclasses import dataclass
from importlib import import_module

from lexigon.core.flow.composition import Composition

SUBJECTS = ("room", "edges", "layers", "pages", "pictures", "inks", "fine", "codes", "type", "listings", "binding")
"""The modules with rules, those on whose findings most depends first."""


@dataclass(slots=True, frozen=True)
class Finding:
    """``kind`` is for scripts, ``text`` one plain line; ``page`` is an index, where it is of one place."""

    kind: str
    text: str
    page: int | None = None
    fix: str = ""
    """The name of its fix in ``FIXES``, if it has one."""


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
    """All there is to look at in a job, the gravest first; of some ``subjects`` alone where these are given."""
    return [finding for one in _rules() if one.subject in subjects for finding in one.check(composition)]


def count_at_once(composition: Composition) -> int:
    """Return the number of findings that do not need the stories."""
    return sum(len(list(one.check(composition))) for one in _rules() if one.at_once)


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
