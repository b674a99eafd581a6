"""Finding words in a text."""

from __future__ import annotations

import re
from typing import Any

from lexigon.bench.services.jobs import OpenJob
from lexigon.core.errors import LexigonError

MOST_FOUND = 5000


def find(live: OpenJob, story_id: str, words: str, case: bool, whole: bool, pattern: bool) -> dict[str, Any]:
    """Every place of some words in a story, in order; with the page of each."""
    story = live.job.stories.get(story_id)
    if story is None:
        raise LexigonError("That text is no longer in the job.")
    source = words if pattern else re.escape(words)
    if whole:
        source = rf"\b(?:{source})\b"
    try:
        wanted = re.compile(source, 0 if case else re.IGNORECASE)
    except re.error as error:
        raise LexigonError(f"The pattern cannot be read: {error}.") from error
    found: list[dict[str, Any]] = []
    for p in story.paragraphs:
        for match in wanted.finditer(p.text):
            if match.end() > match.start():
                found.append({"p": p.id, "o": match.start(), "e": match.end()})
                if len(found) >= MOST_FOUND:
                    return {"found": found, "more": True}
    return {"found": found, "more": False}
