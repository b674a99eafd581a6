"""``lexigon facts``: the facts of a PDF or a job."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

from lexigon.cli.jobs import open_job
from lexigon.cli.options import add_json
from lexigon.core.colour.profiles import COATED
from lexigon.core.press.facts import job_facts, pdf_facts
from lexigon.core.press.inkload import job_ink

DESCRIPTION = "Show boxes, fonts, inks and resolution of a PDF, or set-up, text and findings of a job."
EXAMPLES = ("lexigon facts flyer.pdf", "lexigon facts novel.lexigon --json")


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("file", help="a PDF or a job file")
    add_json(parser)


def run(options: argparse.Namespace) -> int:
    path = Path(options.file)
    path.stat()  # raises OSError for a missing file, whatever its kind
    facts = _job_facts(path) if path.suffix == ".lexigon" else pdf_facts(path)
    if options.json:
        print(json.dumps(facts, indent=2, ensure_ascii=False))
        return 0
    for name, value in facts.items():
        print(f"{name.replace('_', ' '):12} {_describe(value)}")
    return 0


def _job_facts(path: Path) -> dict[str, Any]:
    composition = open_job(str(path)).composition
    ink = job_ink(composition, range(len(composition.job.pages)), COATED)
    return {"file": path.name, **job_facts(composition), "ink": ink}


def _describe(value: Any) -> str:
    if isinstance(value, list) and value and isinstance(value[0], dict):
        return ", ".join(item["name"] + ("" if item.get("embedded", True) else " (not embedded)") for item in value)
    if isinstance(value, (list, tuple)):
        return ", ".join(map(str, value)) or "none"
    if isinstance(value, dict):
        return "; ".join(f"{key}: {inner}" for key, inner in value.items()) or "none"
    return str(value)
