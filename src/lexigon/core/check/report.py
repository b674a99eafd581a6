"""The report of the checks: what is open, and what is accepted, with the reasons."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from typing import Any

from lexigon.core.check.acceptance import Marks
from lexigon.core.check.findings import FIXES, Finding, all_findings
from lexigon.core.check.kinds import KINDS, LEVELS, Level
from lexigon.core.document.model import Acceptance
from lexigon.core.flow.composition import Composition


@dataclass(slots=True, frozen=True)
class Entry:
    """A finding with its mark, and with its acceptance if it is accepted."""

    finding: Finding
    mark: str
    acceptance: Acceptance | None = None


@dataclass(slots=True, frozen=True)
class Report:
    """The findings of a job, the gravest first, and by page where they are equally grave."""

    entries: tuple[Entry, ...]
    labels: tuple[str, ...]
    """The labels of the pages, such as iv."""

    @property
    def open(self) -> list[Entry]:
        """Return the findings that are not accepted."""
        return [one for one in self.entries if one.acceptance is None]

    @property
    def accepted(self) -> list[Entry]:
        """Return the findings that are accepted."""
        return [one for one in self.entries if one.acceptance is not None]

    def counts(self) -> dict[Level, int]:
        """Return how many findings of each level are open."""
        counts = Counter(one.finding.level for one in self.open)
        return {level: counts[level] for level in LEVELS}

    def to_json(self) -> dict[str, Any]:
        """Return the report as JSON values: ``open`` and ``accepted`` findings. Pages are counted from 1."""
        return {"open": [self._row(one) for one in self.open], "accepted": [self._row(one) for one in self.accepted]}

    def _row(self, entry: Entry) -> dict[str, Any]:
        finding, kind = entry.finding, KINDS[entry.finding.kind]
        row: dict[str, Any] = {
            "kind": finding.kind,
            "level": kind.level,
            "title": kind.title,
            "text": finding.text,
            "why": kind.why,
            "page": None if finding.page is None else finding.page + 1,
            "label": "" if finding.page is None else self.labels[finding.page] or str(finding.page + 1),
            "subject": finding.subject,
            "mark": entry.mark,
        }
        if finding.fix:
            row |= {"fix": finding.fix, "fix_label": FIXES[finding.fix]}
        if entry.acceptance is not None:
            row |= {"acceptance": entry.acceptance.id, "reason": entry.acceptance.reason}
        return row


def report_of(composition: Composition) -> Report:
    """Return the report of a job in its present state."""
    job, marks = composition.job, Marks(composition.job)
    acceptances = {one.mark: one for one in job.acceptances.values()}
    findings = all_findings(composition)
    findings.sort(key=lambda one: (LEVELS.index(one.level), one.page if one.page is not None else -1))
    entries = [Entry(one, mark, acceptances.get(mark)) for one in findings for mark in [marks.of(one)]]
    return Report(tuple(entries), tuple(composition.values.labels))
