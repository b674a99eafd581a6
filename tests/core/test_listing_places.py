"""Listings inserted where readers look for them, and ready ones that list what their names say."""

from __future__ import annotations

from pathlib import Path

import pytest

from lexigon.cli.main import main
from lexigon.core.document.consistency import check
from lexigon.core.document.model import Listing, ListingSource, Paragraph, ParaSpec
from lexigon.core.editing.edits import EditError, apply_all
from lexigon.core.editing.intents import InsertListing, PourText, PutListing, PutStyle
from lexigon.core.editing.ready_listings import ready
from lexigon.core.fileformat import package
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.flow.listing_entries import gathered
from lexigon.core.flow.workspace import Change, Workspace
from tests.core.helpers import book, words

FRONT = (
    Paragraph("t", "title", "Birds of the Merrow Flats"),
    Paragraph("i", "imprint", "Saltmarsh Observatory"),
    Paragraph("d", "dedication", "For the wardens"),
)
TEXT = tuple(
    p
    for number in range(3)
    for p in (
        Paragraph(f"c{number}", "chapter", f"Chapter {number + 1}"),
        Paragraph(f"b{number}", "body", words(400, number)),
    )
)


def poured(*paragraphs: Paragraph) -> Workspace:
    workspace = Workspace(book())
    workspace.do(PourText("main", paragraphs))
    workspace.do(PutListing(Listing("contents", "Contents", (ListingSource("chapter"),))))
    return workspace


def insert(workspace: Workspace, where: str = "front", heading: str = "Contents") -> Change:
    now = tuple(found.entry for found in gathered(workspace.composition, workspace.job.listings["contents"]))
    return workspace.do(InsertListing("contents", "main", now, where, heading))  # type: ignore[arg-type]


def styles(workspace: Workspace) -> list[str]:
    return [p.style for p in workspace.job.stories["main"].paragraphs]


def test_contents_come_behind_the_front_matter_on_a_page_of_their_own_and_undo_removes_them() -> None:
    workspace = poured(*FRONT, *TEXT)
    before = job_to_json(workspace.job)
    change = insert(workspace)
    check(workspace.job)
    assert styles(workspace)[:8] == [
        "title",
        "imprint",
        "dedication",
        "contentshead",
        "contents",
        "contents",
        "contents",
        "chapter",
    ]
    head = workspace.job.stories["main"].paragraphs[3]
    pages = [workspace.composition.page_of("main", p, 0) for p in ("d", head.id, "c0")]
    assert pages == sorted(set(pages)), "each on a page of its own"  # type: ignore[type-var]
    numbers = [found.page for found in gathered(workspace.composition, workspace.job.listings["contents"])]
    assert numbers == [workspace.composition.page_of("main", f"c{n}", 0) for n in range(3)], (
        "right with the new page counted"
    )
    apply_all(workspace.job, change.inverse)
    assert job_to_json(workspace.job) == before


def test_a_number_above_the_first_heading_stays_with_it() -> None:
    workspace = poured(*FRONT)
    workspace.do(PutStyle("paragraph", name="Chapter number", based_on="body"))
    number = next(key for key, one in workspace.job.paragraph_styles.items() if one.name == "Chapter number")
    above = Paragraph("n", number, "1", para=ParaSpec(keep_next=True))
    workspace.do(PourText("main", (*FRONT, above, *TEXT)))
    insert(workspace)
    kept = styles(workspace)
    assert kept[kept.index(number) + 1] == "chapter"


def test_a_listing_at_the_end_takes_the_place_of_an_empty_paragraph() -> None:
    workspace = poured(*TEXT, Paragraph("e", "body", ""))
    insert(workspace, "end", "")
    assert styles(workspace)[-4:] == ["body", "contents", "contents", "contents"]


def test_what_cannot_be_inserted_is_explained() -> None:
    workspace = poured(Paragraph("b", "body", "No headings."))
    with pytest.raises(EditError, match="nothing to gather"):
        insert(workspace)
    workspace = poured(*TEXT)
    now = tuple(found.entry for found in gathered(workspace.composition, workspace.job.listings["contents"]))
    with pytest.raises(EditError, match="Insert the listing on a separate page"):
        workspace.do(InsertListing("contents", "elsewhere", now))
    insert(workspace)
    with pytest.raises(EditError, match="in a story already"):
        insert(workspace)


def test_the_listing_of_figures_is_of_figures_and_chapters_with_summaries_lists_chapters() -> None:
    workspace = poured(*TEXT)
    workspace.do(PutStyle("paragraph", name="Summary", based_on="body"))
    summary = next(key for key, one in workspace.job.paragraph_styles.items() if one.name == "Summary")
    paragraphs = (
        Paragraph("c", "chapter", "Chapter"),
        Paragraph("s", summary, "What it says"),
        Paragraph("h", "section", "Section"),
        Paragraph("f", "caption", "Figure 1. Dunlin"),
        Paragraph("t", "tablecaption", "Table 1. Counts"),
    )
    workspace.do(PourText("main", paragraphs))
    found = {one.name: [source.style for source in one.sources] for one in ready(workspace.job)}
    assert found["Figures"] == ["caption"]
    assert found["Tables"] == ["tablecaption"]
    assert found["Chapters with summaries"] == ["chapter", summary]


def test_contents_are_inserted_on_the_command_line(tmp_path: Path) -> None:
    workspace = Workspace(book())
    workspace.do(PourText("main", (*FRONT, *TEXT)))
    path = tmp_path / "guide.lexigon"
    path.write_bytes(package.write(workspace.job, {}))
    assert main(["listings", str(path), "--add", "Contents", "--insert", "front"]) == 0
    made = Workspace(package.read(path.read_bytes()))
    assert [p.text for p in made.job.stories["main"].paragraphs][3] == "Contents"
    assert styles(made)[3:5] == ["contentshead", "contents"]
