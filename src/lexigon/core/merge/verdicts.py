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
from lexigon.core.merge.applying import Problem, bound_fields
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
    keys = Counter(_keys(merger))
    used = sorted({name.casefold() for name, _ in bound_fields(merger.job)})
    for number in numbers:
        yield verdict(merger, number, keys, used)


def _keys(merger: Merger) -> Iterator[str]:
    """The values of the key field, or all values where there is none: what no two records should share."""
    for number in merger.numbers():
        row = merger.rows.row(number)
        key = merger.rows.records.key
        yield merger.record(number).get(key, "").strip() if key else "\0".join(row.values)


def verdict(merger: Merger, number: int, keys: Counter[str], used: Iterable[str]) -> Verdict:
    """Return the verdict of a record; ``keys`` counts the keys of all, ``used`` are the fields in use."""
    findings = merger.findings(number)
    shown = merger.show(number)
    problems = list(shown.problems)
    names = {name.casefold(): name for name in shown.record}
    removable = _removable(merger)
    named = {one.field for one in problems}
    for name in used:
        own = names.get(name)
        if own is not None and not shown.record[own].strip() and own not in named and name not in removable:
            problems.append(Problem("empty", f"The field “{own}” is empty.", field=own))
    problems += [Problem(one.kind, one.text) for one in findings]
    key = merger.rows.records.key
    own_key = shown.record.get(key, "").strip() if key else "\0".join(merger.rows.row(number).values)
    if keys[own_key] > 1 and own_key:
        same = counted(keys[own_key], "record")
        words = f"{same} have the {key} “{own_key}”." if key else f"{same} are the same in every field."
        problems.append(Problem("duplicate", words, field=key))
    if key and not own_key:
        problems.append(
            Problem("empty", f"The key field “{key}” is empty: adjustments cannot be kept for it.", field=key)
        )
    problems.sort(key=lambda one: one.kind not in ERRORS)
    flows = merger.composition.flows
    count = sum(count_words(merger.job.stories[story].paragraphs) for story in flows)
    over = tuple(story for story, flow in flows.items() if overset_of(flow) is not None)
    return Verdict(number, shown.key, tuple(problems), count, over)


def _removable(merger: Merger) -> set[str]:
    """The fields in small letters that may be empty, since their line is left out then."""
    return {
        span.object.ref.casefold()
        for story in merger.plan.stories
        for paragraph in merger.plan.texts[story]
        for span in paragraph.spans
        if span.object is not None and span.object.kind == "record" and span.object.form == "line"
    }
