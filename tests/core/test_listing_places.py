"""Listings inserted where readers look for them, and ready ones that list what their names say."""

from __future__ import annotations

from pathlib import Path

import pytest

from lexigon.cli import main
from lexigon.core.flow.desk import Change, Desk
from lexigon.core.flow.gathering import gathered
from lexigon.core.job import package
from lexigon.core.job.checks import check
from lexigon.core.job.edits import EditError, apply_all
from lexigon.core.job.intents import InsertListing, PourText, PutListing, PutStyle
from lexigon.core.job.model import Listing, ListingSource, Paragraph, ParaSpec
from lexigon.core.job.ready import ready
from lexigon.core.job.serial import job_to_json
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


def poured(*paragraphs: Paragraph) -> Desk:
    desk = Desk(book())
    desk.do(PourText("main", paragraphs))
    desk.do(PutListing(Listing("contents", "Contents", (ListingSource("chapter"),))))
    return desk


def insert(desk: Desk, where: str = "front", heading: str = "Contents") -> Change:
    now = tuple(found.entry for found in gathered(desk.composition, desk.job.listings["contents"]))
    return desk.do(InsertListing("contents", "main", now, where, heading))  # type: ignore[arg-type]


def styles(desk: Desk) -> list[str]:
    return [p.style for p in desk.job.stories["main"].paragraphs]


def test_contents_come_behind_the_front_matter_on_a_page_of_their_own_and_undo_removes_them() -> None:
    desk = poured(*FRONT, *TEXT)
    before = job_to_json(desk.job)
    change = insert(desk)
    check(desk.job)
    assert styles(desk)[:8] == [
        "title",
        "imprint",
        "dedication",
        "contentshead",
        "contents",
        "contents",
        "contents",
        "chapter",
    ]
    head = desk.job.stories["main"].paragraphs[3]
    pages = [desk.composition.page_of("main", p, 0) for p in ("d", head.id, "c0")]
    assert pages == sorted(set(pages)), "each on a page of its own"  # type: ignore[type-var]
    numbers = [found.page for found in gathered(desk.composition, desk.job.listings["contents"])]
    assert numbers == [desk.composition.page_of("main", f"c{n}", 0) for n in range(3)], (
        "right with the new page counted"
    )
    apply_all(desk.job, change.inverse)
    assert job_to_json(desk.job) == before


def test_a_number_above_the_first_heading_stays_with_it() -> None:
    desk = poured(*FRONT)
    desk.do(PutStyle("paragraph", name="Chapter number", based_on="body"))
    number = next(key for key, one in desk.job.paragraph_styles.items() if one.name == "Chapter number")
    above = Paragraph("n", number, "1", para=ParaSpec(keep_next=True))
    desk.do(PourText("main", (*FRONT, above, *TEXT)))
    insert(desk)
    kept = styles(desk)
    assert kept[kept.index(number) + 1] == "chapter"


def test_a_listing_at_the_end_takes_the_place_of_an_empty_paragraph() -> None:
    desk = poured(*TEXT, Paragraph("e", "body", ""))
    insert(desk, "end", "")
    assert styles(desk)[-4:] == ["body", "contents", "contents", "contents"]


def test_what_cannot_be_inserted_is_explained() -> None:
    desk = poured(Paragraph("b", "body", "No headings."))
    with pytest.raises(EditError, match="nothing to gather"):
        insert(desk)
    desk = poured(*TEXT)
    now = tuple(found.entry for found in gathered(desk.composition, desk.job.listings["contents"]))
    with pytest.raises(EditError, match="Insert the listing on a separate page"):
        desk.do(InsertListing("contents", "elsewhere", now))
    insert(desk)
    with pytest.raises(EditError, match="in a story already"):
        insert(desk)


def test_the_listing_of_figures_is_of_figures_and_chapters_with_summaries_lists_chapters() -> None:
    desk = poured(*TEXT)
    desk.do(PutStyle("paragraph", name="Summary", based_on="body"))
    summary = next(key for key, one in desk.job.paragraph_styles.items() if one.name == "Summary")
    paragraphs = (
        Paragraph("c", "chapter", "Chapter"), Paragraph("s", summary, "What it says"), Paragraph("h", "section", "Section"),
        Paragraph("f", "caption", "Figure 1. Dunlin"), Paragraph("t", "tablecaption", "Table 1. Counts"),
    )  # fmt: skip
    desk.do(PourText("main", paragraphs))
    found = {one.name: [source.style for source in one.sources] for one in ready(desk.job)}
    assert found["Figures"] == ["caption"]
    assert found["Tables"] == ["tablecaption"]
    assert found["Chapters with summaries"] == ["chapter", summary]


def test_contents_are_inserted_on_the_command_line(tmp_path: Path) -> None:
    desk = Desk(book())
    desk.do(PourText("main", (*FRONT, *TEXT)))
    path = tmp_path / "guide.lexigon"
    path.write_bytes(package.write(desk.job, {}))
    assert main(["listings", str(path), "--add", "Contents", "--insert", "front"]) == 0
    made = Desk(package.read(path.read_bytes()))
    assert [p.text for p in made.job.stories["main"].paragraphs][3] == "Contents"
    assert styles(made)[3:5] == ["contentshead", "contents"]
