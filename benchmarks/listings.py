"""A keystroke in a book with its contents and an index of thousands of marks; a table of 1,600 cells."""

from __future__ import annotations

import time
from dataclasses import replace

from benchmarks.measure import Row, book, report
from lexigon.core.document.model import Listing, ListingSource, TableColumn
from lexigon.core.editing.intents import AddTable, MarkTerm, Place, PlaceListing, PutListing, ReplaceText
from lexigon.core.flow.listing_entries import gathered
from lexigon.core.flow.workspace import Workspace

NAMES = (
    "Elizabeth",
    "Darcy",
    "Bingley",
    "Jane",
    "Wickham",
    "Collins",
    "Longbourn",
    "Netherfield",
    "Meryton",
    "Pemberley",
    "London",
    "Lydia",
    "Catherine",
)
LISTINGS = (
    Listing("c", "Contents", (ListingSource("chapter"),)),
    Listing(
        "i",
        "Index",
        (ListingSource("marks", "marks"),),
        separator=", ",
        order="alphabetical",
        ranges=True,
        letters=True,
    ),
)


def keystrokes(workspace: Workspace) -> float:
    """The time of a keystroke that 95 of 100 take at most, in ms of CPU."""
    story = workspace.job.main_story or ""
    took = []
    for p in [p for p in workspace.job.stories[story].paragraphs if len(p.text) > 200][10:60]:
        start = time.process_time()
        workspace.do(ReplaceText(story, Place(p.id, 50), Place(p.id, 50), "x"))
        took.append(time.process_time() - start)
    return sorted(took)[int(len(took) * 0.95)] * 1000


def in_cell(workspace: Workspace, key: str) -> float:
    """The median time of a keystroke in a cell of a table, in ms of CPU."""
    cell = workspace.job.tables[key].rows[100][3].paragraphs[0].id
    took = []
    for _ in range(20):
        start = time.process_time()
        workspace.do(ReplaceText(f"{key}/100.3", Place(cell, 4), Place(cell, 4), "x"))
        took.append(time.process_time() - start)
    return sorted(took)[10] * 1000


def main() -> list[Row]:
    workspace = Workspace(book())
    story = workspace.job.main_story or ""
    bare = keystrokes(workspace)
    for name in NAMES:
        p = next(p for p in workspace.job.stories[story].paragraphs if name in p.text)
        at = p.text.index(name)
        workspace.do(MarkTerm(story, Place(p.id, at), Place(p.id, at + len(name)), name, every=True))
    marks = sum(
        span.object is not None and span.object.kind == "index"
        for p in workspace.job.stories[story].paragraphs
        for span in p.spans
    )
    for listing in LISTINGS:
        workspace.do(PutListing(listing))
        now = tuple(one.entry for one in gathered(workspace.composition, listing))
        workspace.do(PlaceListing(listing.id, story, Place("^", 0), now))
    full = keystrokes(workspace)
    words = "\n".join("\t".join(f"cell {row} {column} of some words" for column in range(8)) for row in range(200))
    start = time.process_time()
    workspace.do(AddTable(story, Place("$", 0), words=words))
    table = time.process_time() - start
    key = next(iter(workspace.job.tables))
    by_content = in_cell(workspace, key)
    workspace.job.tables[key] = replace(workspace.job.tables[key], sizes=(TableColumn("share", 1.0),) * 8)
    workspace = Workspace(workspace.job)
    by_shares = in_cell(workspace, key)
    return [
        Row("keystroke, bare, p95", bare, "ms CPU", 20.0),
        Row("keystroke with contents and index, p95", full, "ms CPU", 20.0, f"{marks:,} marks, 61 chapters"),
        Row("a table of 1,600 cells put in", table, "s CPU", 1.0),
        Row("keystroke in one of its cells", by_shares, "ms CPU", 80.0, "median; columns of shares"),
        Row("the same, columns by content", by_content, "ms CPU", None, "each letter makes all columns others"),
    ]


if __name__ == "__main__":
    report(main())
