"""A verdict for each record before output: what its fields cannot set, and what the checks find in the piece with it.

Every record is shown and checked; none is taken for another.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from typing import Literal

from lexigon.core.document.story_text import count_words
from lexigon.core.flow.overset import overset_of
from lexigon.core.merge.applying import Problem
from lexigon.core.merge.merger import Merger
from lexigon.core.plural import counted

Level = Literal["ready", "warning", "error"]
ERRORS = {
    "missing field",
    "missing picture",
    "near picture",
    "unknown",
    "value",
    "code",
    "code too small",
    "code contrast",
    "overset",
    "missing glyphs",
    "coarse picture",
    "missing",
}
"""Kinds of problems and findings with which a record would come back from the printer; others are warnings."""


@dataclass(slots=True, frozen=True)
class Verdict:
    """What is wrong with a record, the gravest first. ``words`` is the number of words in the piece with it."""

    number: int
    key: str
    problems: tuple[Problem, ...] = ()
    words: int = 0
    overset: tuple[str, ...] = field(default=())
    """The stories that do not fit with it."""

    @property
    def level(self) -> Level:
        if not self.problems:
            return "ready"
        return "error" if any(one.kind in ERRORS for one in self.problems) else "warning"


def verdicts(merger: Merger, numbers: Iterable[int]) -> Iterator[Verdict]:
    """Iterate over the verdicts of records, each as soon as it is known."""
    check = RecordCheck(merger)
    return (check.verdict(number) for number in numbers)


class RecordCheck:
    """Checks the records of a merger one by one. Make a new one when the records or the job changed."""

    def __init__(self, merger: Merger) -> None:
        self.merger = merger
        self.key = merger.rows.records.key
        self._same = Counter(self._identity(number) for number in merger.numbers())
        self._used = sorted(merger.plan.used - self._removable())

    def _identity(self, number: int) -> str:
        """The value of the key field, or all values where there is none: what no two records should share."""
        if self.key:
            return self.merger.record(number).get(self.key, "").strip()
        return "\0".join(self.merger.rows.row(number).values)

    def count(self, number: int) -> int:
        """Return how many records share the key of a record, or all its values."""
        return self._same[self._identity(number)]

    def _removable(self) -> set[str]:
        """The fields in small letters that may be empty, since their line is left out then."""
        plan = self.merger.plan
        return {
            span.object.ref.casefold()
            for story in plan.stories
            for paragraph in plan.texts[story]
            for span in paragraph.spans
            if span.object is not None and span.object.kind == "record" and span.object.form == "line"
        }

    def verdict(self, number: int) -> Verdict:
        """Return the verdict of a record."""
        merger, key = self.merger, self.key
        findings = merger.findings(number)
        merged = merger.show(number)
        problems = list(merged.problems)
        names = {name.casefold(): name for name in merged.record}
        named = {one.field for one in problems}
        for name in self._used:
            own = names.get(name)
            if own is not None and not merged.record[own].strip() and own not in named:
                problems.append(Problem("empty", f"The field “{own}” is empty.", field=own))
        problems += [Problem(one.kind, one.text) for one in findings]
        identity = self._identity(number)
        if self._same[identity] > 1 and identity:
            same = counted(self._same[identity], "record")
            words = f"{same} have the {key} “{identity}”." if key else f"{same} are the same in every field."
            problems.append(Problem("duplicate", words, field=key))
        if key and not identity:
            words = f"The key field “{key}” is empty: adjustments cannot be found again when records are reloaded."
            problems.append(Problem("empty", words, field=key))
        problems.sort(key=lambda one: one.kind not in ERRORS)
        flows = merger.composition.flows
        count = sum(count_words(merger.job.stories[story].paragraphs) for story in flows)
        over = tuple(story for story, flow in flows.items() if overset_of(flow) is not None)
        return Verdict(number, merged.key, tuple(problems), count, over)
