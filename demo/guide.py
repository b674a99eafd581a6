"""The pocket field guide “Birds of the Merrow Flats”: its interior, set the way a printer would want it."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Literal

from demo import backmatter
from demo.pictures import file_of, heron, morning, redshank
from lexigon.core.brief.paper import PAPERS
from lexigon.core.document.model import (
    OBJECT,
    Anchor,
    Brief,
    Edges,
    Job,
    Listing,
    ListingSource,
    ListMark,
    Paragraph,
    ParaSpec,
    PictureFile,
    Section,
    Span,
    TableColumn,
    TypeSpec,
)
from lexigon.core.document.starter import new_book
from lexigon.core.document.story_text import LINE_BREAK, new_id
from lexigon.core.editing.intents import (
    AddMaster,
    AddNote,
    AddPages,
    AddTable,
    AddTextFrame,
    ChangeTable,
    FramePicture,
    InsertField,
    LearnWord,
    Place,
    PlaceListing,
    PlacePicture,
    PourText,
    PutCopy,
    PutListing,
    PutMarking,
    PutSection,
    PutStyle,
    ReplaceText,
    SetParagraphs,
)
from lexigon.core.editing.intents.tables.content import CellSaid
from lexigon.core.flow.listing_entries import gathered
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.manuscript.readers.decode import decode
from lexigon.core.manuscript.readers.plain_text import read_plain

MM = 72 / 25.4
NAME = "Birds of the Merrow Flats"
SOURCE = Path(__file__).with_name("birds_of_the_merrow_flats.txt")

IMPRINT = (
    "Text, counts and mistakes by the wardens and volunteers of thirty-one winters.",
    "Set in EB Garamond on a 14 point grid. Made with Lexigon.",
    "This guide may be copied for the use of anybody who is sitting still.",
    "Third edition, with the whole of the second corrected by hand.",
)
FOREWORD = (
    (
        "This is a small book for a large place. It was begun as a sheet of paper pinned up in the sluice hide, on "
        "which each of the wardens wrote down the question that they were most tired of being asked, and, beneath it, "
        "the answer. The sheet became two sheets. Somebody drew a curlew in the margin. When the nail would no longer "
        "hold it, we copied it out fairly and had it printed, and it has now reached its third edition, which is as "
        "large as a pocket will take."
    ),
    (
        "We have tried to be useful in the field and not merely true indoors. The descriptions are of birds as they are"
        " commonly seen from our bank: far away, in a wind, with one’s eyes watering. Where a fact is our own, from the"
        " counts, it is given as a figure. Where it is somebody’s opinion, it can generally be recognised by its tone."
    ),
    (
        "To everyone who has carried a telescope to Wherry Hole in February, and in particular to those who carried it "
        "back: thank you. The plank is yours."
    ),
)


NOTES = (
    (
        "replaced twice in thirty-one years",
        "The second plank, in the eleventh winter, was four inches shorter. It is still talked about.",
    ),
    (
        "Females have the longer bills",
        "By a third, on average; the counts of bills are kept in the second hide, with the counts of teaspoons.",
    ),
)
"""What is noted at the foot of pages, and behind which words."""


QUERIES = (
    (
        "Nobody who works at the observatory goes beyond the second withy",
        "W.D.: the second from the sluice, or from the plank?",
    ),
    ("The creeks have names", "is Wherry Hole one word in the log-book?"),
)
"""What the editor is asked, and behind which words."""
LEXICON = (
    "avocet avocets brent chiffchaff curlews dunlin eelgrass fieldfares Garamond glasswort godwit kirrick Lexigon "
    "Merrow Merrowick oystercatcher oystercatchers pratincole purslane ragworms redshank saltings saltmarsh shelduck "
    "tideline twite tyu-hu-hu wheatear wheeoo whimbrel withy"
)
"""Words of the marsh, which no dictionary has."""
PLATED = (
    "Grey-brown, with red legs",
    "two fields away",
    "It lies on the sill of the sluice hide",
)
"""Where the plates are spoken of, behind which words, in their order."""
FIGURES = " Dunlin: 6,100"
COUNTS = """Highest counts\tFirst ten winters\tSecond ten\tSince
Dunlin\t6,100\t5,400\t4,700
Knot\t5,900\t4,200\t5,100
Curlew\t1,020\t760\t470
Brent goose\t1,900\t3,050\t3,000"""
RULES = (
    "after Section heading, first 2 words: Small capitals",
    r'like "\b(?:[Rr]inged plover|[Bb]rent goose|[Ll]ittle (?:egret|tern)|[Mm]arsh harrier|[Rr]eed bunting)\b": Bird',
    'from " [†" through "]": Query, hidden',
)


def _paragraph(style: str, text: str, **more: object) -> Paragraph:
    return Paragraph(new_id("p"), style, text, **more)  # type: ignore[arg-type]


def front_matter(publisher: str = "") -> list[Paragraph]:
    """Half-title, title, imprint, and the head of the contents with the place where they are put in; the publisher's
    name is standing copy."""
    rows = [_paragraph("halftitle", NAME)]
    rows += [
        _paragraph("title", f"Birds of{LINE_BREAK}the Merrow Flats"),
        _paragraph("author", "A pocket guide for people who can sit still"),
    ]
    rows.append(_paragraph("author", "The Saltmarsh Observatory", para=ParaSpec(space_before=126.0)))
    text, at = f"Published by {OBJECT}, The Bank, Merrowick.", len("Published by ")
    span = Span(at, at + 1, object=Anchor("copy", publisher))
    rows += [_paragraph("imprint", text, spans=(span,)), *(_paragraph("imprint", line) for line in IMPRINT)]
    return [*rows, _paragraph("contentshead", "Contents"), _paragraph("contents", "")]


def _contents(workspace: Workspace) -> None:
    """Parts and chapters as a listing, which follows the pages."""
    listing = Listing("contents", "Contents", (ListingSource("part"), ListingSource("chapter", level=2)))
    workspace.do(PutListing(listing))
    found = gathered(workspace.composition, workspace.job.listings["contents"])
    slot = next(p for p in workspace.job.stories["main"].paragraphs if p.style == "contents")
    workspace.do(PlaceListing("contents", "main", Place(slot.id, 0), tuple(one.entry for one in found)))


def _with_initials(text: list[Paragraph]) -> list[Paragraph]:
    """Chapters begin with a large initial of two lines."""
    made: list[Paragraph] = []
    for paragraph in text:
        opens = (
            made
            and made[-1].style == "chapter"
            and paragraph.style in ("first", "body")
            and paragraph.text[:1].isalpha()
        )
        made.append(replace(paragraph, para=ParaSpec(drop_lines=2, drop_gap=2.0)) if opens else paragraph)
    return made


def guide() -> Job:
    """The composed interior."""
    brief = Brief(
        120 * MM,
        190 * MM,
        Edges(19 * MM, 22 * MM, 18 * MM, 13 * MM),
        Edges(3 * MM, 3 * MM, 3 * MM, 3 * MM),
        "mm",
        language="en-GB",
    )
    brief = replace(brief, binding="perfect", paper="cream")
    job = new_book(NAME, brief, family="EB Garamond", size=10.5, leading=14.0)
    job.papers = dict(PAPERS)
    styles = job.paragraph_styles
    # The text's punctuation hangs into the margins.
    body = styles["body"]
    styles["body"] = replace(body, para=replace(body.para, optical=True))
    entry = styles["contents"]
    styles["contents"] = replace(
        entry, type=replace(entry.type, weight=500), para=replace(entry.para, space_before=14.0)
    )
    inner = ParaSpec(indent_left=28.0, space_before=0.0)
    styles["contents-2"] = replace(
        entry, id="contents-2", name="Contents, chapters", based_on="contents", type=TypeSpec(weight=400), para=inner
    )
    read = read_plain(decode(SOURCE.read_bytes()))
    foreword = [
        _paragraph("chapter", "Foreword"),
        *(_paragraph("first" if i == 0 else "body", t) for i, t in enumerate(FOREWORD)),
    ]
    text = [*_with_initials([*foreword, *read.paragraphs]), *backmatter.paragraphs()]
    workspace = Workspace(job)
    with workspace.batch():
        workspace.do(PutCopy("Publisher", "the Saltmarsh Observatory"))
        (publisher,) = job.copies.values()
        workspace.do(PourText("main", (*front_matter(publisher.id), *text)))
        _table(workspace)
    _contents(workspace)
    _sections(workspace)
    with workspace.batch():
        for words, note in NOTES:
            p = next(p for p in job.stories["main"].paragraphs if words in p.text)
            place = Place(p.id, p.text.index(words) + len(words))
            workspace.do(AddNote("main", place, place, note))
        _rules(workspace)
    backmatter.add_back_matter(workspace)
    job.masters["text"] = replace(job.masters["text"], name="Text pages")
    with workspace.batch():
        workspace.do(AddMaster("Plates", "text", main=False))
        _plates(workspace)
    return job


def _table(workspace: Workspace) -> None:
    """The four rows that the text speaks of, as a table behind it."""
    p = next(p for p in workspace.job.stories["main"].paragraphs if FIGURES in p.text)
    begin = p.text.index(FIGURES)
    workspace.do(ReplaceText("main", Place(p.id, begin), Place(p.id, len(p.text)), ""))
    workspace.do(AddTable("main", Place(p.id, 0), words=COUNTS))
    (table,) = workspace.job.tables.values()
    cells = [CellSaid(cell.paragraphs[0].text, was=at) for at, cell in enumerate(c for row in table.rows for c in row)]
    rows = tuple(tuple(cells[at : at + table.columns]) for at in range(0, len(cells), table.columns))
    numbers = (TableColumn(), *[TableColumn("share", 1.0, "decimal")] * (table.columns - 1))
    workspace.do(ChangeTable(table.id, rows, 1, sizes=numbers))


def _rules(workspace: Workspace) -> None:
    """What is marked by rules: how an entry begins, the names of birds, and queries to the editor, which do not
    print."""
    for words, query in QUERIES:
        p = next(p for p in workspace.job.stories["main"].paragraphs if words in p.text)
        place = Place(p.id, p.text.index(words) + len(words))
        workspace.do(ReplaceText("main", place, place, f" [† {query}]"))
    workspace.do(
        PutStyle("character", name="Bird", type=TypeSpec(no_break=True)),
        PutStyle("character", name="Query", type=TypeSpec(italic=True)),
    )
    workspace.do(*(PutMarking(line) for line in RULES))
    workspace.do(*(LearnWord(word) for word in LEXICON.split()))


def _plates(workspace: Workspace) -> None:
    """A leaf of plates behind the text, each with its caption."""
    job = workspace.job
    first = len(job.pages)
    plates = next(key for key, master in job.masters.items() if master.name == "Plates")
    workspace.do(AddPages(first, 2, plates))
    workspace.do(PutSection(job.pages[first].id, Section("Plates")))
    wader, upright, light = (
        file_of(redshank(), "Redshank", "A redshank stands on wet mud and looks to the left"),
        file_of(heron(), "Heron", "A heron, standing"),
        file_of(morning(), "The flats at first light", "The sun comes up over reeds and water"),
    )
    area = job.text_area(first)
    wide = area.width * 1540 / 2100
    _plate(
        workspace,
        first,
        Rect(area.x, area.y, area.width, wide),
        wader,
        "The redshank. It has seen you, and is about to say so.",
    )
    low = Rect(area.x, area.y + wide + 34, area.width, area.height - wide - 34 - 20)
    _plate(workspace, first, low, upright, "The heron at the Comb, which is not waiting for you.", "fit")
    area = job.text_area(first + 1)
    _plate(
        workspace,
        first + 1,
        Rect(area.x, area.y, area.width, area.height - 20),
        light,
        "The flats at first light, from the sluice hide.",
    )
    captions = [
        job.stories[frame.story or ""].paragraphs[0]
        for page in job.pages[first:]
        for frame in page.frames
        if frame.name == "Caption"
    ]
    for words, caption in zip(PLATED, captions, strict=True):
        p = next(p for p in job.stories["main"].paragraphs if words in p.text)
        at = p.text.index(words) + len(words)
        workspace.do(ReplaceText("main", Place(p.id, at), Place(p.id, at), " ()"))
        field = Anchor("reference", caption.id, "number")
        workspace.do(InsertField("main", Place(p.id, at + 2), Place(p.id, at + 2), field))


def _plate(
    workspace: Workspace, page: int, rect: Rect, file: PictureFile, words: str, fit: Literal["fill", "fit"] = "fill"
) -> None:
    """A picture, and what it shows in italics below it."""
    key = workspace.job.pages[page].id
    workspace.do(PlacePicture(key, rect, file.id, file))
    workspace.do(FramePicture(key, workspace.job.pages[page].objects[-1].id, fit=fit))
    workspace.do(AddTextFrame(key, Rect(rect.x, rect.foot + 5, rect.width, 15), name="Caption", text=words))
    story = workspace.job.pages[page].frames[-1].story or ""
    (line,) = workspace.job.stories[story].paragraphs
    numbers = ListMark("number", "Plate #.", style="", series="Plates", gap="space")
    plain = ParaSpec(align="left", indent_first=0.0, leading=12.0, hyphenate=False, grid=False, list=numbers)
    workspace.do(SetParagraphs(story, line.id, line.id, para=plain, type=TypeSpec(italic=True, size=9.5)))


def _sections(workspace: Workspace) -> None:
    """Front matter in roman numerals; the first part begins on page 1."""
    pages = workspace.job.pages
    workspace.do(PutSection(pages[0].id, Section("Front matter", 1, "i")))
    parts = [h for h in workspace.composition.running.all if h.style == "part"]
    with workspace.batch():
        for number, part in enumerate(parts):
            name = part.text.partition(": ")[2] or part.text
            workspace.do(PutSection(pages[part.page].id, Section(name, 1 if number == 0 else None)))
