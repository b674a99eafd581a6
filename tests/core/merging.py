"""The demo's cards and what merges them, for the tests of merging."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from datetime import datetime, timezone
from pathlib import Path

from demo.cards import portraits, record_files, warden_cards
from lexigon.core.document.model import Job, Object, all_in
from lexigon.core.fileformat import package
from lexigon.core.merge.merger import Merger

WHEN = datetime(2026, 5, 4, tzinfo=timezone.utc)
Find = Callable[[str], Path | None]


def cards_file() -> bytes:
    """The cards as a file with all that belongs to them."""
    files = record_files() | {hashlib.sha256(data).hexdigest(): data for data in portraits().values()}
    return package.write(warden_cards(), files)


def finder(cards: bytes, folder: Path) -> Find:
    """What finds the files of a job that was written, in a folder."""
    for name, content in package.read_files(cards).items():
        (folder / name).write_bytes(content)
    return lambda name: path if (path := folder / name).is_file() else None


def merger_of(job: Job, find: Find) -> Merger:
    return Merger(job, next(iter(job.record_sets.values())), find, WHEN.date())


def named(job: Job, name: str) -> tuple[str, Object]:
    """The page of an object, and the object, by its name."""
    return next((page.id, one) for page in job.pages for one in all_in(page.objects) if one.name == name)
