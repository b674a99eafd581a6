"""The same text, size and measure through general libraries, as whole processes: ReportLab, and Chromium's print.

Each makes a PDF of the whole text with the same font. Ours is ``lexigon export``: it reads the job file, composes it
and writes PDF/X-4, the first time with an empty cache, the second time with what the first has saved there.
"""

from __future__ import annotations

import html
import json
import os
import resource
import subprocess
import sys
import tempfile
import time
from datetime import datetime, timezone
from pathlib import Path

from benchmarks.measure import Row, book, paragraphs, report
from lexigon.core.fileformat import package
from lexigon.core.flow.workspace import Workspace
from lexigon.core.type.fonts import shipped
from tests.browser.conftest import CHROMIUM

ROUNDS = 3
FIRST, SECOND = 1.5, 1.0
"""Budgets of the first and the second export, as multiples of ReportLab's time."""


def chromium_print() -> float:
    """Processor time of Chromium and its children, hyphenation and justification on."""
    font = shipped().face("EB Garamond").path.as_uri()
    body = "".join(f"<p>{html.escape(text)}</p>" for text in paragraphs())
    page = (
        f"<html lang=en-GB><meta charset=utf-8><style>@page{{size:5.5in 8.5in;margin:.7in .6in .75in .8in}}"
        f"@font-face{{font-family:B;src:url({font})}}p{{margin:0;font:11pt/15pt B;text-align:justify;"
        f"text-indent:15pt;hyphens:auto}}</style>{body}"
    )
    with tempfile.TemporaryDirectory() as folder:
        source = Path(folder) / "book.html"
        source.write_text(page, "utf-8")
        before = resource.getrusage(resource.RUSAGE_CHILDREN)
        subprocess.run(
            [
                CHROMIUM or "",
                "--headless",
                "--no-sandbox",
                "--disable-gpu",
                "--disable-background-networking",
                "--no-first-run",
                f"--user-data-dir={folder}/profile",
                "--no-pdf-header-footer",
                f"--print-to-pdf={folder}/book.pdf",
                source.as_uri(),
            ],
            check=True,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        after = resource.getrusage(resource.RUSAGE_CHILDREN)
    return after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime


def whole_process(*command: str, **more: str) -> tuple[float, float]:
    """Seconds that a process takes from its start to its end, and its processor time; ``more`` is added to its
    environment."""
    before, begun = resource.getrusage(resource.RUSAGE_CHILDREN), time.perf_counter()
    environment = {**os.environ, "PYTHONPATH": os.pathsep.join(filter(None, sys.path)), **more}
    subprocess.run([sys.executable, *command], check=True, env=environment, stdout=subprocess.DEVNULL)
    wall, after = time.perf_counter() - begun, resource.getrusage(resource.RUSAGE_CHILDREN)
    return wall, after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime


def main() -> list[Row]:
    runs: dict[str, list[tuple[float, float]]] = {"first": [], "second": [], "other": []}
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        text, job = folder / "text.json", folder / "book.lexigon"
        text.write_text(json.dumps(paragraphs()), "utf-8")
        job.write_bytes(package.write(Workspace(book()).job, {}, datetime(2026, 1, 1, tzinfo=timezone.utc)))
        font = str(shipped().face("EB Garamond").path)
        ours = ("-m", "lexigon", "export", str(job), "--output", str(folder / "ours.pdf"))
        other = ("-m", "benchmarks.reportlab_book", str(text), font, str(folder / "other.pdf"))
        for turn in range(ROUNDS):  # one after another, so that all share a busy minute of the machine
            cache = {"LEXIGON_CACHE": str(folder / f"cache-{turn}")}
            runs["first"].append(whole_process(*ours, **cache))
            runs["other"].append(whole_process(*other))
            runs["second"].append(whole_process(*ours, **cache))
    best = {name: (min(wall for wall, _ in some), min(cpu for _, cpu in some)) for name, some in runs.items()}
    wall, cpu = best["other"]
    rows = [Row("text to PDF, ReportLab", wall, "s", None, f"{cpu:.2f} s CPU; first fit, no hyphens, no keeps")]
    for name, budget in (("first", FIRST), ("second", SECOND)):
        own_wall, own_cpu = best[name]
        note = f"{own_wall:.2f} s, {own_cpu:.2f} s CPU ({own_cpu / cpu:.2f} x)"
        rows.append(Row(f"{name} export / ReportLab", own_wall / wall, "x", budget, note))
    if CHROMIUM:
        rows.append(Row("text to PDF, Chromium print", chromium_print(), "s CPU"))
    return rows


if __name__ == "__main__":
    report(main())
