"""Another size for the body of the whole book, and another colour: until the spread in view shows it, until all pages
follow."""

from __future__ import annotations

import time

from benchmarks.measure import Row, book, report
from lexigon.core.document.model import ParaSpec, TypeSpec
from lexigon.core.editing.intents import PutStyle
from lexigon.core.flow.workspace import Workspace
from lexigon.core.paint.display import Display
from lexigon.core.paint.svg import svg_of

NEAR = (200, 201)
TIMES = 5


def main() -> list[Row]:
    workspace = Workspace(book())
    shown, settled = [], []
    for number in range(TIMES):
        size = 10.5 if number % 2 else 11.5
        begun = time.perf_counter()
        workspace.do(
            PutStyle("paragraph", "body", type=TypeSpec(size=size), para=ParaSpec(space_after=0.25 * number)), near=NEAR
        )
        display = Display(workspace.composition)
        for page in NEAR:
            svg_of(display.page(page).items())
        shown.append(time.perf_counter() - begun)
        begun = time.perf_counter()
        workspace.finish()
        settled.append(time.perf_counter() - begun)
    coloured = []
    for number in range(TIMES):
        begun = time.perf_counter()
        workspace.do(
            PutStyle("paragraph", "body", type=TypeSpec(swatch="black" if number % 2 else "marker")), near=NEAR
        )
        display = Display(workspace.composition)
        for page in NEAR:
            svg_of(display.page(page).items())
        coloured.append(time.perf_counter() - begun)
        assert not workspace.pending, "nothing is left to be composed"
    note = f"{len(workspace.job.pages)} pages; the rest follows in {sorted(settled)[TIMES // 2]:.2f} s"
    return [
        Row("body style changed, spread shown", sorted(shown)[TIMES // 2], "s", 0.3, note),
        Row("body recoloured, all pages", sorted(coloured)[TIMES // 2], "s", 0.1),
    ]


if __name__ == "__main__":
    report(main())
