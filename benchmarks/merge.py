"""Merging: cards with a portrait and a QR code to one PDF, a verdict for every record, and one record on the screen."""

from __future__ import annotations

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


def main() -> None:
    job = warden_cards()
    own, files = record_set("d1", "Wardens", records())
    with tempfile.TemporaryDirectory() as folder:
        for data in portraits().values():
            files[hashlib.sha256(data).hexdigest()] = data
        for name, content in files.items():
            Path(folder, name).write_bytes(content)
        merger = Merger(job, own, lambda name: Path(folder, name))
        before = time.process_time()
        for number in range(CHECKED):
            merger.show(number)
        shown = (time.process_time() - before) / CHECKED * 1000
        check, before = RecordCheck(merger), time.process_time()
        for number in range(CHECKED):
            check.verdict(number)
        checked = (time.process_time() - before) / CHECKED * 1000
        before, target = time.perf_counter(), Path(folder, "cards.pdf")
        with target.open("wb") as stream:
            write_merged(merger, range(CARDS), recipe("print"), stream, WHEN, processes=processes_available())
        wall = time.perf_counter() - before
        peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
        size = target.stat().st_size / 1e6
    report(
        [
            Row("merge: show a record", shown, "ms CPU"),
            Row("merge: verdict of a record", checked, "ms CPU"),
            Row(f"merge: {CARDS:,} cards, two pages each, to PDF/X-4", wall, "s", 20.0, f"{size:.1f} MB"),
            Row("merge: peak memory", peak, "MB"),
        ]
    )


if __name__ == "__main__":
    main()
