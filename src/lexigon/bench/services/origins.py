"""Records of a job's text as it was imported or exported, by fingerprints of its paragraphs."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from typing import Any

from lexigon.bench.models import Manuscript, Origin
from lexigon.core.document.model import Paragraph
from lexigon.core.manuscript.review.versions import mark

MOST_SAVED = 6
"""Versions of a job's copy that are remembered."""
LEAST_SHARED = 0.3
"""How much of a version must be in the new one for it to be what that began with."""


def remember(key: str, name: str, paragraphs: Iterable[Paragraph], row: Manuscript | None = None) -> None:
    """Keep what the copy is now, as it comes in or goes out."""
    mapping, cleaned = (row.mapping, row.cleaned) if row else ({}, {})
    Origin.objects.create(
        job_id=key,
        name=name[:255],
        marks=[mark(p) for p in paragraphs],
        mapping=mapping,
        cleaned=cleaned,
        headings=_headings(row.account or {}) if row else {},
    )
    old = Origin.objects.filter(job_id=key).values_list("pk", flat=True)[MOST_SAVED:]
    Origin.objects.filter(pk__in=list(old)).delete()


def _headings(account: dict[str, Any]) -> dict[str, str]:
    """The styles selected for single headings, by their words."""
    chosen = account.get("restyled", {})
    return {one["text"]: chosen[str(one["n"])] for one in account.get("headings", []) if str(one["n"]) in chosen}


def choices_of(key: str) -> Origin | None:
    """The latest version of a job's copy that was imported with choices in its survey; the next version gets the same
    ones."""
    came = Origin.objects.filter(job_id=key)
    return next((one for one in came if one.mapping or one.cleaned or one.headings), None)


def base_of(key: str, marks: Collection[str]) -> Origin | None:
    """The remembered version that shares most with a new one, the latest of those."""
    best, shared = None, 0
    for one in Origin.objects.filter(job_id=key):
        count = len(marks & set(one.marks))  # type: ignore[operator]
        if count > shared and count >= LEAST_SHARED * len(one.marks):
            best, shared = one, count
    return best
