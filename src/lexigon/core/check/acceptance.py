"""Findings that are accepted: as long as neither what a finding says nor what it is about changes."""

from __future__ import annotations

import hashlib
import json
from collections import Counter
from typing import Any, Protocol

from lexigon.core.document.model import Job, all_in
from lexigon.core.editing.holders import everywhere
from lexigon.core.fileformat.values import plain

LENGTH = 24
"""Digits of a mark."""


class HasSubject(Protocol):
    """A finding."""

    @property
    def kind(self) -> str: ...
    @property
    def text(self) -> str: ...
    @property
    def subject(self) -> str: ...


class Marks:
    """The marks of findings in a job, as it is now."""

    def __init__(self, job: Job) -> None:
        self.job = job
        self._objects: dict[str, Any] | None = None
        self._digests: Counter[str] = Counter()

    def of(self, finding: HasSubject) -> str:
        """Return the digest of a finding with all that is stored of what it is about: an object with its words, a
        story with its frames, or an entry of a table such as a layer. Ask for each finding once, in order."""
        content: list[Any] = [finding.kind, finding.text, finding.subject]
        content += self._stored(finding.subject) if finding.subject else []
        digest = _digest(content)
        self._digests[digest] += 1
        count = self._digests[digest]  # several findings may say the same of the same, such as of rows of a table
        return digest if count == 1 else _digest([digest, count])

    def _stored(self, subject: str) -> list[Any]:
        """What is stored of a subject, as JSON values."""
        job = self.job
        if self._objects is None:
            self._objects = {one.id: one for _, objects in everywhere(job) for one in all_in(objects)}
        own = self._objects.get(subject)
        stored = [plain(own)] if own is not None else []
        story = job.stories.get((own.story or "") if own is not None else subject)
        if story is not None:
            frames = story.frames if own is None else ()
            stored += [plain(story), *(plain(self._objects[one]) for one in frames if one in self._objects)]
        tables = (job.layers, job.listings, job.pictures, job.tables, job.paragraph_styles)
        return stored + [plain(table[subject]) for table in tables if subject in table]


def _digest(content: list[Any]) -> str:
    return hashlib.sha256(json.dumps(content, sort_keys=True).encode()).hexdigest()[:LENGTH]
