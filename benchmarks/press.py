"""The whole book to PDF/X-4 from a composed job."""

from __future__ import annotations

import resource
import tempfile
from datetime import datetime, timezone
from pathlib import Path

from benchmarks.measure import Row, book, cpu, report
from lexigon.core.flow.workspace import Workspace
from lexigon.core.press.document import write_pdf
from lexigon.core.press.recipes import recipe


def main() -> list[Row]:
    workspace = Workspace(book())
    when = datetime(2026, 1, 1, tzinfo=timezone.utc)
    with tempfile.TemporaryDirectory() as folder:
        target = Path(folder) / "book.pdf"
        with target.open("wb") as stream:
            took = cpu(lambda: write_pdf(workspace.composition, recipe("print"), stream, when))
        size = target.stat().st_size
    note = f"{len(workspace.job.pages)} pages, {size / 1e6:.1f} MB"
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    return [Row("PDF/X-4 of the book", took, "s CPU", 6.0, note), Row("peak of the process", peak, "MB")]


if __name__ == "__main__":
    report(main())
