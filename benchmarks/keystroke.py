"""A key pressed on page 3: recompose, repaginate, and the page's reply, as the web view does it."""

from __future__ import annotations

import json
import time

from benchmarks.measure import Row, book, percentile, report
from lexigon.core.editing.intents import Place, ReplaceText
from lexigon.core.flow.workspace import Workspace
from lexigon.core.paint.display import Display
from lexigon.core.paint.standing import standing
from lexigon.core.paint.svg import svg_of

KEYS = 300


def main() -> list[Row]:
    workspace = Workspace(book())
    composition = workspace.composition
    flow = composition.main
    assert flow is not None
    column = next(column for column in flow.columns if column.slot.page == 2 and column.blocks)
    paragraph = flow.paragraphs[column.blocks[len(column.blocks) // 2].paragraph].paragraph.id
    times = []
    for n, key in enumerate(("then she walked on towards the grove and " * 20)[:KEYS]):
        begun = time.perf_counter()
        workspace.do(ReplaceText("main", Place(paragraph, n), Place(paragraph, n), key))
        display = Display(composition)
        arts = [display.page(i) for i in (1, 2)]
        json.dumps([(svg_of(art.items()), standing(art)) for art in arts])
        times.append((time.perf_counter() - begun) * 1000)
    return [
        Row(
            "keystroke on page 3, p95",
            percentile(times, 0.95),
            "ms",
            20.0,
            f"{KEYS} keys in a book of {len(workspace.job.pages)} pages",
        ),
        Row("keystroke on page 3, p50", percentile(times, 0.5), "ms"),
    ]


if __name__ == "__main__":
    report(main())
