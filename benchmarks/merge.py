"""Merging: cards with a portrait and a QR code to one PDF, a verdict for every record, and one record on the screen."""

from __future__ import annotations

import argparse
import hashlib
import resource
import tempfile
import time
from datetime import datetime, timezone
from pathlib import Path

from benchmarks.measure import Row, report
from demo.cards import FIELDS, PEOPLE, portraits, warden_cards
from lexigon.core.forks import processes_available
from lexigon.core.merge.merger import Merger
from lexigon.core.merge.model import Records
from lexigon.core.merge.output import write_merged
from lexigon.core.merge.storage import record_set
from lexigon.core.merge.verdicts import RecordCheck
from lexigon.core.press.recipes import recipe

CARDS = 1000
MANY = 3000
"""Those of the largest merges take half an hour: ``python -m benchmarks.merge --records 100000``."""
CHECKED = 100
WHEN = datetime(2026, 1, 1, tzinfo=timezone.utc)


def records(count: int = CARDS) -> Records:
    """Return records: the wardens repeatedly, each time with another number and another code."""
    names = sorted(portraits())
    rows = []
    for number in range(count):
        person, post, motto, watch = PEOPLE[number % len(PEOPLE)]
        portrait = names[number % len(names)]
        rows.append((f"{number + 1:05}", f"{person[:20]} {number}", post, motto, f"0170 {number:06}", portrait, watch))
    return Records(FIELDS, tuple(rows))


def merger_of(count: int, folder: str) -> Merger:
    """Return what shows so many records, whose files are in a folder."""
    own, files = record_set("d1", "Wardens", records(count))
    for data in portraits().values():
        files[hashlib.sha256(data).hexdigest()] = data
    for name, content in files.items():
        Path(folder, name).write_bytes(content)
    return Merger(warden_cards(), own, lambda name: Path(folder, name))


def merge(count: int, folder: str) -> tuple[float, float]:
    """Write cards to one PDF. Returns the seconds and the size in megabytes."""
    merger = merger_of(count, folder)
    before, target = time.perf_counter(), Path(folder, "cards.pdf")
    with target.open("wb") as stream:
        write_merged(merger, range(count), recipe("print"), stream, WHEN, processes=processes_available())
    return time.perf_counter() - before, target.stat().st_size / 1e6


def peak() -> float:
    """Return the most memory that this process has had, in megabytes."""
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def one_by_one(folder: str) -> tuple[float, float]:
    """Return the milliseconds to show a record, and for its verdict."""
    merger = merger_of(CHECKED, folder)
    before = time.process_time()
    for number in range(CHECKED):
        merger.show(number)
    shown = (time.process_time() - before) / CHECKED * 1000
    check, before = RecordCheck(merger), time.process_time()
    for number in range(CHECKED):
        check.verdict(number)
    return shown, (time.process_time() - before) / CHECKED * 1000


def main() -> None:
    options = argparse.ArgumentParser()
    options.add_argument("--records", type=int, default=MANY, help="as many as are merged in chunks")
    many = options.parse_args().records
    with tempfile.TemporaryDirectory() as folder:
        shown, checked = one_by_one(folder)
        wall, size = merge(CARDS, folder)
        memory = peak()
        long, large = merge(many, folder)
    report(
        [
            Row("merge: show a record", shown, "ms CPU"),
            Row("merge: verdict of a record", checked, "ms CPU"),
            Row(f"merge: {CARDS:,} cards, two pages each, to PDF/X-4", wall, "s", 20.0, f"{size:.1f} MB"),
            Row("merge: peak memory", memory, "MB"),
            Row(f"merge: {many:,} cards in chunks", long, "s", 20.0 * many / CARDS, f"{large:.1f} MB"),
            Row(f"merge: peak memory with {many:,} cards", peak(), "MB", 1.6 * memory),
        ]
    )


if __name__ == "__main__":
    main()
