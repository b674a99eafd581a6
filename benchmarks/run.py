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
    "flatplan",
    "rules",
    "listings",
    "notes",
    "formats",
    "compare",
    "quality",
)
QUICK = ("compose", "keystroke", "press")


def main(as_json: bool = False, quick: bool = False) -> int:
    """Run and print. Returns 1 if a budget was not kept."""
    novel()
    rows: list[Row] = []
    for subject in QUICK if quick else SUBJECTS:
        if not as_json:
            print(f"{subject} ...", file=sys.stderr, flush=True)
        done = subprocess.run(
            [sys.executable, "-m", f"benchmarks.{subject}"], stdout=subprocess.PIPE, text=True, check=True
        )
        rows += [Row(**row) for row in json.loads(done.stdout.splitlines()[-1])]
    if as_json:
        machine = {"machine": platform.platform(), "python": platform.python_version()}
        print(json.dumps({**machine, "rows": [{**asdict(row), "kept": row.kept} for row in rows]}, indent=2))
    else:
        for row in rows:
            budget = "" if row.budget is None else f"at most {row.budget:g}, {'kept' if row.kept else 'NOT KEPT'}"
            print(f"{row.name:32} {row.value:9.2f} {row.unit:6} {budget:24} {row.note}")
    return 0 if all(row.kept for row in rows) else 1
