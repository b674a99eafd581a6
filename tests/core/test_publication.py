"""Several jobs as one publication: numbers that go on, styles brought into line, one file."""

from __future__ import annotations

import io
import json
from dataclasses import replace
from datetime import datetime, timezone
from pathlib import Path

import pikepdf
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from lexigon.cli.main import main
from lexigon.core.document.consistency import check
from lexigon.core.document.listing_merge import standing
from lexigon.core.document.model import (
    Gathered,
    Job,
    Listing,
    ListingSource,
    ListMark,
    NoteKind,
    Page,
    Paragraph,
    ParagraphStyle,
    ParaSpec,
    Section,
    Swatch,
    TypeSpec,
)
from lexigon.core.document.numbering import counts, labels
from lexigon.core.editing import intents as do
from lexigon.core.editing.intents.text.listings import PutAbroad
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat import package
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.flow.listing_entries import gathered
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.press.document import Part, write_parts
from lexigon.core.press.facts import pdf_facts
from lexigon.core.press.recipes import recipe
from lexigon.core.publication.order import Counted, numbering, starts
from lexigon.core.publication.other_jobs import abroad
from lexigon.core.publication.styles import AlignStyles, differences
from tests.core.helpers import book, examples, words


def of(pages: int, start: int | None = None, facing: bool = True, roman: bool = False) -> Job:
    job = book(facing=facing)
    section = Section(start=start, style="i" if roman else "1") if start is not None or roman else None
    job.pages = [Page(f"p{n}", section=section if n == 0 else None) for n in range(pages)]
    return job


def with_section(job: Job, section: Section) -> Job:
    return replace(job, pages=[replace(job.pages[0], section=section), *job.pages[1:]])


def test_numbers_go_on_over_jobs_and_facing_ones_begin_on_the_right() -> None:
    cover, front, one, two = of(4, facing=False), of(7, 1, roman=True), of(20, 1), of(5)
    found = starts([(cover, "apart"), (front, "own"), (one, "own"), (two, "on")])
    assert [(s.number, s.blank, s.labels) for s in found] == [
        (None, False, ("1", "4")),
        (None, False, ("i", "vii")),
        (None, True, ("1", "20")),
        (21, False, ("21", "25")),
    ]
    assert starts([(front, "own"), (two, "on")])[1].labels == ("1", "5"), "arabic numbers begin after roman ones"
    assert starts([(two, "on"), (two, "on")])[1].labels == ("7", "11"), "the empty page is 6, and counted"
    plates = with_section(of(4), Section("Plates", style="I"))
    index = with_section(of(2), Section("Index", prefix="A-"))
    found = starts([(front, "own"), (two, "on"), (plates, "on"), (two, "on"), (index, "on"), (front, "on")])
    assert [one.labels for one in found] == [
        ("i", "vii"),
        ("1", "5"),
        ("I", "IV"),
        ("6", "10"),
        ("A-1", "A-2"),
        ("viii", "xiv"),
    ], "each way of writing numbers continues by itself"
    assert starts([(two, "on"), (of(3), "on")])[1].number == 7


@settings(max_examples=examples(60), deadline=None)
@given(
    st.lists(
        st.tuples(st.integers(1, 9), st.sampled_from(["on", "own", "apart"]), st.booleans()), min_size=1, max_size=6
    )
)
def test_the_numbers_of_jobs_that_go_on_are_those_of_one_job_of_all_their_pages(
    parts: list[tuple[int, Counted, bool]],
) -> None:
    """Against counting the sides of leaves one by one; once numbered, nothing more is due."""
    jobs = [(of(pages, facing=facing), way) for pages, way, facing in parts]
    side, number, expected = 0, 0, list[int]()
    begun = False
    for job, way in jobs:
        if way == "apart":
            expected.append(1)
            continue
        if job.brief.facing and side % 2:
            side, number = side + 1, number + 1
        if way == "own" or not begun:
            number = 0
        begun = True
        expected.append(number + 1)
        side, number = side + len(job.pages), number + len(job.pages)
    for (job, _), start in zip(jobs, starts(jobs), strict=True):
        for intent in numbering(job, start):
            for edit in intent.expand(job):
                edit.apply(job)
    assert [counts(job)[0] for job, _ in jobs] == expected
    again = starts(jobs)
    assert not any(numbering(job, start) for (job, _), start in zip(jobs, again, strict=True))
    assert [start.labels for start in again] == [(labels(job)[0], labels(job)[-1]) for job, _ in jobs]


def put(workspace: Workspace, table: str, value: object) -> None:
    getattr(workspace.job, table)[value.id] = value  # type: ignore[attr-defined]
    workspace.__init__(workspace.job)  # type: ignore[misc]


def test_what_differs_is_told_and_brought_into_line_by_names_with_what_it_needs() -> None:
    lead, other = Workspace(book()), Workspace(book())
    assert not differences(lead.job, other.job)
    put(lead, "swatches", Swatch("reed", "Reed", "cmyk", (0.4, 0.0, 0.9, 0.2)))
    put(other, "swatches", Swatch("y1", "reed", "cmyk", (0.4, 0.0, 0.9, 0.3)))
    put(lead, "character_styles", replace(next(iter(lead.job.character_styles.values())), id="number", name="Number"))
    put(
        lead,
        "paragraph_styles",
        ParagraphStyle(
            "c1",
            "Caption",
            "body",
            type=TypeSpec(size=8.0, swatch="reed"),
            para=ParaSpec(list=ListMark("number", "#.", style="number")),
        ),
    )
    put(other, "paragraph_styles", ParagraphStyle("y2", "caption", None, type=TypeSpec(size=9.0)))
    put(lead, "note_kinds", NoteKind("end", "Endnotes", "gathered", style="c1"))
    body = lead.job.paragraph_styles["body"]
    put(lead, "paragraph_styles", replace(body, type=replace(body.type, size=12.5)))
    put(other, "paragraph_styles", ParagraphStyle("own", "Its own affair"))
    found = {(one.kind, one.name): one for one in differences(lead.job, other.job)}
    assert {key: one.what for key, one in found.items()} == {
        ("ink", "Reed"): "differs",
        ("character style", "Number"): "missing",
        ("paragraph style", "Caption"): "differs",
        ("paragraph style", "Body"): "differs",
        ("kind of notes", "Endnotes"): "missing",
    }
    assert ("size", "8", "9") in found["paragraph style", "Caption"].values
    assert [value[0] for value in found["paragraph style", "Body"].values] == ["size"]
    before = job_to_json(other.job)
    change = other.do(AlignStyles(lead.job, [("paragraph_styles", "c1")]))
    check(other.job)
    caption = other.job.paragraph_styles["y2"]
    assert (caption.name, caption.based_on, caption.type.size, caption.type.swatch) == ("Caption", "body", 8.0, "y1")
    assert caption.para.list is not None
    assert caption.para.list.style == "number", "which came along"
    assert other.job.swatches["y1"].values[3] == 0.3, "there already, so left as it is"
    other.run(change.inverse)
    assert job_to_json(other.job) == before
    wanted = [(one.table, one.id) for one in differences(lead.job, other.job)]
    other.do(AlignStyles(lead.job, wanted))
    check(other.job)
    assert not differences(lead.job, other.job)
    assert other.job.note_kinds["end"].style == "y2"
    assert "own" in other.job.paragraph_styles
    with pytest.raises(LexigonError, match="already"):
        other.do(AlignStyles(lead.job, wanted))


@pytest.fixture
def files(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    monkeypatch.chdir(tmp_path)
    for name, text in (
        ("front", "Contents to come."),
        ("one", "Chapter 1\n\nThe tide turns."),
        ("two", "Chapter 2\n\nIt comes back."),
    ):
        Path(f"{name}.txt").write_text(text)
        assert (
            main(
                [
                    "new",
                    "--manuscript",
                    f"{name}.txt",
                    "--name",
                    name.title(),
                    "--bleed",
                    "3mm",
                    "--out",
                    f"{name}.lexigon",
                ]
            )
            == 0
        )
    return tmp_path


def test_from_three_files_to_one_pdf(files: Path, capsys: pytest.CaptureFixture[str]) -> None:
    Image.new("RGB", (300, 200), (200, 30, 30)).save("post.png")
    main(["pictures", "two.lexigon", "post.png"])
    data = Path("two.lexigon").read_bytes()
    workspace = Workspace(package.read(data))
    (picture,) = workspace.job.pictures
    workspace.do(do.PlacePicture(workspace.job.pages[0].id, Rect(60, 300, 90, 60), picture))
    Path("two.lexigon").write_bytes(package.write(workspace.job, package.read_files(data)))
    capsys.readouterr()
    jobs = ["front.lexigon", "one.lexigon", "two.lexigon"]
    assert main(["publication", *jobs, "--own", "one.lexigon"]) == 3
    said = capsys.readouterr()
    assert said.out.splitlines() == [
        "Front: 1 page, 1 to 1 (own numbering)",
        "One: 1 page, 1 to 1 (own numbering), after an empty page",
        "Two: 1 page, 3 to 3 (continues), after an empty page",
    ]
    assert "“Two” starts with page 1, but should start with 3" in said.err
    assert (
        main(
            [
                "publication",
                *jobs,
                "--own",
                "one.lexigon",
                "--number",
                "--out",
                "all.pdf",
                "--recipe",
                "screen",
                "--name",
                "Slack water",
            ]
        )
        == 0
    )
    assert labels(package.read(Path("two.lexigon").read_bytes())) == ["3"]
    with pikepdf.open("all.pdf") as pdf:
        assert str(pdf.docinfo["/Title"]) == "Slack water"
        assert len(pdf.pages) == 5
        assert [page.label for page in pdf.pages] == ["1", "", "1", "", "3"]
        contents = [page.Contents.read_bytes() for page in pdf.pages]
        assert [bool(data) for data in contents] == [True, False, True, False, True]
        assert b" Do" in contents[4], "the picture is in it"
        with pdf.open_outline() as outline:
            assert [item.title for item in outline.root] == ["Front", "Chapter 1", "Chapter 2"]
    assert main(["publication", *jobs, "--own", "one.lexigon", "--out", "print.pdf", "--strict"]) == 0
    facts = pdf_facts(Path("print.pdf"))
    assert (facts["pages"], facts["conforms"], facts["findings"]) == (5, "PDF/X-4", [])
    first = Path("print.pdf").read_bytes()
    assert main(["publication", *jobs, "--own", "one.lexigon", "--out", "print.pdf"]) == 0
    assert Path("print.pdf").read_bytes() == first, "the same jobs give the same bytes"


def test_styles_are_told_and_brought_into_line_and_bad_wishes_refused(
    files: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    workspace = Workspace(package.read(Path("one.lexigon").read_bytes()))
    workspace.do(do.PutStyle("paragraph", "body", type=TypeSpec(size=12.0)))
    Path("one.lexigon").write_bytes(package.write(workspace.job, {}))
    capsys.readouterr()
    assert main(["publication", "front.lexigon", "one.lexigon", "--json"]) == 3
    told = json.loads(capsys.readouterr().out)
    assert [one["name"] for one in told[1]["differences"]] == ["Body"]
    assert main(["publication", "front.lexigon", "one.lexigon", "--align"]) == 3
    assert package.read(Path("one.lexigon").read_bytes()).paragraph_styles["body"].type.size == 11.0
    workspace = Workspace(package.read(Path("front.lexigon").read_bytes()))
    workspace.do(do.PutListing(Listing("c", "Contents", (ListingSource("chapter"),), over="publication")))
    workspace.do(do.PlaceListing("c", "main", do.Place("^", 0), (Gathered((), "to come"),)))
    Path("front.lexigon").write_bytes(package.write(workspace.job, {}))
    main(["publication", "front.lexigon", "one.lexigon", "two.lexigon", "--own", "one.lexigon", "--number", "--gather"])
    assert lines(Workspace(package.read(Path("front.lexigon").read_bytes())), "c") == ["Chapter 1\t1", "Chapter 2\t3"]
    # A contents that grows moves the pages that it names: both come to rest together.
    Path("one.txt").write_text("\n".join(f"Chapter {n}\n\nThe tide turns.\n" for n in range(1, 60)))
    assert main(["new", "--manuscript", "one.txt", "--name", "One", "--out", "one.lexigon"]) == 0
    assert main(["publication", "front.lexigon", "one.lexigon", "--number", "--gather"]) == 0
    front, one = (Workspace(package.read(Path(f"{name}.lexigon").read_bytes())) for name in ("front", "one"))
    assert len(front.job.pages) > 1
    first = one.composition.values.labels[0]
    assert int(first) == len(front.job.pages) + len(front.job.pages) % 2 + 1
    entries = lines(front, "c")
    assert len(entries) == 59
    assert entries[0] == f"Chapter 1\t{first}"
    heads = [p for p in one.job.stories["main"].paragraphs if p.style == "chapter"]
    last = one.composition.page_of("main", heads[-1].id, 0)
    assert last is not None
    assert entries[-1] == f"Chapter 59\t{one.composition.values.labels[last]}"
    before = {name: Path(f"{name}.lexigon").read_bytes() for name in ("front", "one", "two")}
    capsys.readouterr()
    for wish, answer in (
        (["one.lexigon"], "the same job"),
        (["--lead", "two.lexigon"], "not among the files of the publication"),
        (["--out", "x", "--recipe", "png"], "one PDF"),
        (["--out", "."], "folder"),
        (["--out", "x.pdf", "--recipe", "gold"], "no recipe"),
        (["two.lexigon", "--out", "x.pdf", "--strict"], "Nothing was exported"),
    ):
        assert main(["publication", "front.lexigon", "one.lexigon", *wish]) == 2
        assert answer in capsys.readouterr().err
    assert not Path("x.pdf").exists()
    assert main(["publication", "front.lexigon", "two.lexigon", "--number", "--out", "x", "--recipe", "png"]) == 2
    assert {name: Path(f"{name}.lexigon").read_bytes() for name in before} == before, (
        "refused before anything is written"
    )


def chapters(name: str, *titles: str, pages: int = 2) -> Workspace:
    """A job of chapters, each with so many pages."""
    workspace = Workspace(book(facing=False))
    workspace.job.id, workspace.job.name = f"j{name}", name
    rows = []
    for number, title in enumerate(titles):
        rows.append(Paragraph(f"h{number}", "chapter", title, para=ParaSpec(start="page")))
        rows += [
            Paragraph(
                f"t{number}x{n}", "body", f"knot dunlin {title}", para=ParaSpec(start="page" if n else "anywhere")
            )
            for n in range(pages)
        ]
    workspace.do(do.PourText("main", tuple(rows)))
    return workspace


def numbered(*workspaces: Workspace) -> None:
    ways: list[Counted] = ["own", *["on"] * (len(workspaces) - 1)]  # type: ignore[list-item]
    for workspace, start in zip(
        workspaces, starts([(one.job, way) for one, way in zip(workspaces, ways, strict=True)]), strict=True
    ):
        if intents := numbering(workspace.job, start):
            workspace.do(*intents)


def looked_round(*workspaces: Workspace) -> None:
    for at, workspace in enumerate(workspaces):
        workspace.do(PutAbroad(abroad([one.composition for one in workspaces], at)))
        check(workspace.job)


def lines(workspace: Workspace, key: str) -> list[str]:
    """A listing as it stands."""
    stands = standing(workspace.job, workspace.job.listings[key])
    assert stands is not None
    story, first, behind = stands
    return [one.shown.paragraph.text for one in workspace.composition.flows[story.id].paragraphs[first:behind]]


def put_in(workspace: Workspace, listing: Listing) -> None:
    workspace.do(do.PutListing(listing))
    looked = workspace.job.listings[listing.id]
    workspace.do(
        do.PlaceListing(
            listing.id, "main", do.Place("^", 0), tuple(one.entry for one in gathered(workspace.composition, looked))
        )
    )


def test_one_contents_over_all_jobs_keeps_its_numbers_and_an_editors_words() -> None:
    front, one, two = chapters("Front"), chapters("One", "The ebb", "Slack water"), chapters("Two", "The flood")
    contents = Listing("c", "Contents", (ListingSource("chapter"),), over="publication")
    front.do(do.PutListing(contents))
    numbered(front, one, two)
    looked_round(front, one, two)
    put_in(front, contents)
    assert lines(front, "c") == ["The ebb\t2", "Slack water\t4", "The flood\t6"]
    assert not one.job.abroad, "nothing gathers from there"
    # An entry changed by hand stays; pages that come before another move its number with the next look.
    entry = front.job.listings["c"].entries[1]
    front.do(do.ReplaceText("main", do.Place(entry.paragraph, 0), do.Place(entry.paragraph, 5), "Still"))
    one.do(do.ReplaceText("main", do.Place("t0x1", 0), do.Place("t0x1", 0), words(700)))
    numbered(front, one, two)
    looked_round(front, one, two)
    wanted = [
        workspace.composition.values.labels[workspace.composition.page_of("main", key, 0) or 0]
        for workspace, key in ((one, "h0"), (one, "h1"), (two, "h0"))
    ]
    assert int(wanted[1]) > 4
    assert [line.split("\t")[1] for line in lines(front, "c")] == wanted
    two.do(do.ReplaceText("main", do.Place("h0", 4), do.Place("h0", 9), "spring flood"))
    looked_round(front, one, two)
    front.do(
        do.UpdateListing("c", tuple(found.entry for found in gathered(front.composition, front.job.listings["c"])))
    )
    assert lines(front, "c") == [
        f"{name}\t{page}" for name, page in zip(("The ebb", "Still water", "The spring flood"), wanted, strict=True)
    ]
    assert package.read(package.write(front.job, {})).abroad == front.job.abroad
    # A job that is in none any more has nothing of the others.
    front.do(PutAbroad(()))
    assert not gathered(front.composition, front.job.listings["c"])
    # In one file its entries lead to the pages of the others.
    looked_round(front, one, two)
    target = io.BytesIO()
    parts = [Part(workspace.composition, list(range(len(workspace.job.pages)))) for workspace in (front, one, two)]
    write_parts(parts, "All", recipe("screen"), target, datetime(2026, 1, 1, tzinfo=timezone.utc))
    with pikepdf.open(target) as pdf:
        pages = [page.objgen for page in pdf.pages]
        leads = [
            pages.index(note.Dest[0].objgen)
            for page in pdf.pages[: len(front.job.pages)]
            for note in page.get("/Annots", ())
        ]
    counts_ = [len(workspace.job.pages) for workspace in (front, one, two)]
    assert leads == [counts_[0], counts_[0] + (one.composition.page_of("main", "h1", 0) or 0), counts_[0] + counts_[1]]


def test_one_index_over_all_jobs_has_terms_of_the_same_words_once() -> None:
    one, two = chapters("One", "The ebb", "Slack water"), chapters("Two", "The flood", pages=3)
    index = Listing(
        "i",
        "Index",
        (ListingSource("marks", "marks"),),
        separator=", ",
        order="alphabetical",
        ranges=True,
        over="publication",
    )

    def mark(workspace: Workspace, name: str, paragraph: str, under: str = "") -> None:
        workspace.do(do.MarkTerm("main", do.Place(paragraph, 2), do.Place(paragraph, 2), name, under))

    mark(one, "knot", "t1x1")
    mark(one, "dunlin", "t0x0")
    for paragraph in ("t0x0", "t0x1"):
        mark(two, "Knot", paragraph)
    mark(two, "nests", "t0x2", under="dunlin")
    mark(two, "avocet", "t0x2")
    two.do(do.PutListing(index))
    numbered(one, two)
    looked_round(one, two)
    put_in(two, index)
    assert lines(two, "i") == ["avocet, 8", "dunlin, 1", "nests, 8", "Knot, 4, 6, 7"] or lines(two, "i") == [
        "avocet, 7",
        "dunlin, 1",
        "nests, 7",
        "Knot, 4–6",
    ]
    own = [found for found in gathered(two.composition, two.job.listings["i"]) if found.page is not None]
    assert {found.entry.words for found in own} == {"avocet", "nests"}, "the others begin in the job before"
    assert (
        next(found.label for found in gathered(two.composition, two.job.listings["i"]) if found.entry.words == "dunlin")
        == "1"
    )
