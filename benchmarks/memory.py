"""What the composed book holds beyond its text, by tracemalloc: the job's own objects, words shaped, lines, columns."""

from __future__ import annotations

import gc
import tracemalloc

from benchmarks.measure import Row, book, report
from lexigon.core.flow.workspace import Workspace
from lexigon.core.type.fonts import shipped


def main() -> list[Row]:
    shipped()
    job = book()
    gc.collect()
    tracemalloc.start()
    workspace = Workspace(job)
    gc.collect()
    held = tracemalloc.get_traced_memory()[0]
    tracemalloc.stop()
    assert workspace.composition.main
    return [Row("composed book above its text", held / 1e6, "MB", 40.0, "lines, columns, and every shaped word")]


if __name__ == "__main__":
    report(main())
