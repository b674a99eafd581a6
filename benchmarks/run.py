"""``lexigon bench``: every benchmark in a process of its own, and a table of figures and budgets."""

from __future__ import annotations

import json
import platform
import subprocess
import sys
from dataclasses import asdict

from benchmarks.measure import Row
from benchmarks.novel import novel

SUBJECTS = (
    "compose",
    "narrow",
    "restyle",
    "memory",
    "keystroke",
    "press",
    "pictures",
    "contact",
    "typing",
    "objects",
    "slip",
    "flatplan",
    "rules",
    "listings",
    "notes",
    "formats",
    "merge",
    "compare",
    "quality",
)
QUICK = ("compose", "keystroke", "press")


def main(as_json: bool = False, quick: bool = False) -> int:
    """Run and print, each result as it comes. Returns 1 if a budget was exceeded or a benchmark failed."""
    novel()
    rows: list[Row] = []
    failed = False
    for subject in QUICK if quick else SUBJECTS:
        done = subprocess.run(
            [sys.executable, "-m", f"benchmarks.{subject}"], stdout=subprocess.PIPE, text=True, check=False
        )
        if done.returncode:
            print(f"{subject}: failed", file=sys.stderr, flush=True)
            failed = True
            continue
        results = [Row(**row) for row in json.loads(done.stdout.splitlines()[-1])]
        rows += results
        if not as_json:
            for row in results:
                print(_line(row), flush=True)
    if as_json:
        machine = {"machine": platform.platform(), "python": platform.python_version()}
        print(json.dumps({**machine, "rows": [{**asdict(row), "kept": row.kept} for row in rows]}, indent=2))
    return 0 if all(row.kept for row in rows) and not failed else 1


def _line(row: Row) -> str:
    budget = "" if row.budget is None else f"at most {row.budget:g}, {'kept' if row.kept else 'EXCEEDED'}"
    return f"{row.name:32} {row.value:9.2f} {row.unit:6} {budget:24} {row.note}"
