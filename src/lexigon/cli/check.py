"""``lexigon check``: what a printer would send back, found in a job."""

from __future__ import annotations

import argparse
import json

from lexigon.cli.jobs import open_job
from lexigon.cli.options import FINDINGS, add_json
from lexigon.core.check.kinds import LEVELS
from lexigon.core.check.report import report_of

DESCRIPTION = (
    "Check a job before it is printed. Each finding has a line: how grave it is, its page, and what to do.\n"
    "Findings that were accepted in the job are listed with their reasons, and do not count."
)
EXAMPLES = ("lexigon check novel.lexigon", "lexigon check flyer.lexigon --level error --json")


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("job", help="the job file")
    parser.add_argument(
        "--level", choices=LEVELS, default=LEVELS[-1], help="the least grave findings that count (default: %(default)s)"
    )
    add_json(parser)


def run(options: argparse.Namespace) -> int:
    report = report_of(open_job(options.job).composition)
    counted = LEVELS[: LEVELS.index(options.level) + 1]
    rows = report.to_json()
    rows["open"] = [row for row in rows["open"] if row["level"] in counted]
    if options.json:
        print(json.dumps(rows, indent=2, ensure_ascii=False))
        return FINDINGS if rows["open"] else 0
    for row in rows["open"]:
        print(f"{row['level']:8} {_place(row['label']):10} {row['text']}")
    for row in rows["accepted"]:
        print(f"{'accepted':8} {_place(row['label']):10} {row['text']} Reason: {row['reason']}")
    if not rows["open"]:
        print("No findings." if not rows["accepted"] else "No open findings.")
    return FINDINGS if rows["open"] else 0


def _place(label: str) -> str:
    return f"page {label}" if label else ""
