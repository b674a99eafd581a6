"""What stands behind the guide's text: its glossary, gathered from notes, the winter's tides as a table over three
pages, and the birds by their names."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace

from lexigon.core.document.model import (
    OBJECT,
    Edges,
    Fill,
    Job,
    Listing,
    ListingSource,
    NoteKind,
    Paragraph,
    ParaSpec,
    Stroke,
    TableColumn,
    TableStyle,
    TypeSpec,
)
from lexigon.core.document.story_text import new_id
from lexigon.core.editing.intents import (
    AddNote,
    AddTable,
    ApplyMaster,
    ChangeMaster,
    ChangeTable,
    DuplicateMaster,
    FormatText,
    MarkTerm,
    MarkTerms,
    Place,
    PlaceListing,
    PutListing,
    PutNoteKind,
    PutStyle,
    PutTableStyle,
    PutTerm,
    ReplaceText,
)
from lexigon.core.editing.intents.tables.content import CellSaid
from lexigon.core.editing.intents.text.index_terms import term_named
from lexigon.core.editing.intents.text.note_kinds import SIDE
from lexigon.core.flow.listing_entries import gathered
from lexigon.core.flow.workspace import Workspace

MM = 72 / 25.4
GLOSSARY, TIDES, INDEX = "A short glossary", "The tides of the winter quarter", "The birds by their names"
TIDES_SAID = (
    (
        "Clock time and metres above the sill, at the sluice. The table is worked out on the plank, with a pencil, and "
        "is right to within the width of one. The great springs come in the first days of January and again after the "
        "equinox; the neaps lie between them, a week from each, when sea and land leave each other in peace."
    ),
    (
        "Where the tide of the morning has a dash it comes after midday, and that of the evening on the next day. The "
        "wind is not in the table: a gale from the north-west brings the water half an hour early and half a metre "
        "higher. Do not walk by it."
    ),
)
ASIDES = (
    ("at the sluice", "Add twelve minutes at Wherry Hole, twenty at the outer bar."),
    (
        "The great springs",
        "The causeway is under water for three hours, and so is the boat, unless somebody has moved it.",
    ),
    ("gale from the north-west", "The plank was lost on such a tide, once."),
)
"""What is noted beside which words."""
MONTHS = (("Jan", 31), ("Feb", 28), ("Mar", 31))
HALF_TIDE = 12 * 60 + 25
"""Minutes from one high water to the next."""
BIRDS = """dunlin
ringed plover = plover > ringed
ringed plovers = plover > ringed
knot
redshank
redshanks = redshank
curlew
curlews = curlew
brent goose = goose > brent
brent geese = goose > brent
pink-footed goose = goose > pink-footed
shelduck
wigeon
oystercatcher
oystercatchers = oystercatcher
avocet
avocets = avocet
little tern = tern > little
sandwich tern = tern > sandwich
little egret = egret > little
lapwing
swallow
swallows = swallow
peregrine
marsh harrier = harrier > marsh
short-eared owl = owl > short-eared
barn owl = owl > barn
herring gull = gull > herring
skylark
meadow pipit = pipit > meadow
reed bunting = bunting > reed
linnet
twite
whimbrel
spoonbill
wheatear
heron"""
SEEN_AS = (("sea-pie", "oystercatcher"), ("peewit", "lapwing"), ("seven whistlers", "whimbrel"))


def paragraphs() -> list[Paragraph]:
    """The chapters behind the text, each with the place where what belongs there is put in."""
    return [
        Paragraph(new_id("p"), "chapter", TIDES),
        *(Paragraph(new_id("p"), "body" if at else "first", words) for at, words in enumerate(TIDES_SAID)),
        Paragraph("tides", "body", ""),
        Paragraph(new_id("p"), "chapter", INDEX),
        Paragraph("names", "body", ""),
    ]


def add_back_matter(workspace: Workspace) -> None:
    """Glossary, tides and index; ``paragraphs`` were poured behind the text."""
    _glossary(workspace)
    _tides(workspace)
    _index(workspace)


def _chapter(job: Job, name: str) -> list[Paragraph]:
    """The paragraphs behind a chapter's heading, up to the next one."""
    all_ = job.stories["main"].paragraphs
    first = next(at for at, p in enumerate(all_) if p.style == "chapter" and p.text == name) + 1
    behind = next((at for at, p in enumerate(all_) if at >= first and p.style in ("chapter", "part")), len(all_))
    return all_[first:behind]


def _placed(workspace: Workspace, listing: Listing, slot: str) -> None:
    workspace.do(PutListing(listing))
    found = gathered(workspace.composition, workspace.job.listings[listing.id])
    workspace.do(PlaceListing(listing.id, "main", Place(slot, 0), tuple(one.entry for one in found)))


def _glossary(workspace: Workspace) -> None:
    """Each word of the glossary becomes a note without a number, cited where the word first stands; a listing puts them
    in order."""
    job = workspace.job
    with workspace.batch():
        first = _words_as_notes(workspace)
    style = next(one.id for one in job.paragraph_styles.values() if one.name == "Glossary")
    listing = Listing(
        "glossary", "Glossary", (ListingSource("words", "notes", entry=style),), separator=" ", order="alphabetical"
    )
    _placed(workspace, listing, first.id)


def _words_as_notes(workspace: Workspace) -> Paragraph:
    """Move each entry of the chapter into a note; return the first, which is empty then."""
    job = workspace.job
    workspace.do(
        PutNoteKind(NoteKind("words", "Words of the marsh", "gathered", "none")),
        PutStyle(
            "paragraph",
            name="Glossary",
            based_on="body",
            para=ParaSpec(indent_first=-12.0, indent_left=12.0, space_before=0.0),
        ),
    )
    meant = [p for p in _chapter(job, GLOSSARY) if p.text and p.spans and p.spans[0].start == 0]
    opening = _chapter(job, GLOSSARY)[0]
    for p in meant:
        word = p.text[: p.spans[0].end].rstrip(".").partition(",")[0]
        place = _first(job, word.casefold(), meant[0].id) or Place(opening.id, len(opening.text))
        workspace.do(AddNote("main", place, place, p.text, "words"))
        note = [*job.stories.values()][-1]
        head = note.paragraphs[0].id
        workspace.do(FormatText(note.id, Place(head, 0), Place(head, p.spans[0].end), style="emphasis"))
    first, last = meant[0], meant[-1]
    workspace.do(ReplaceText("main", Place(first.id, 0), Place(last.id, len(last.text)), ""))
    return first


def _first(job: Job, word: str, own: str) -> Place | None:
    """Behind the place where a word first stands in running text."""
    for p in job.stories["main"].paragraphs:
        if p.id == own:
            return None
        if p.style not in ("body", "first"):
            continue
        at = f" {p.text.casefold()} ".replace(",", " ").replace(".", " ").replace(";", " ").find(f" {word} ")
        if at >= 0:
            return Place(p.id, at + len(word))
    return None


def _tides(workspace: Workspace) -> None:
    """A row for each day, over three pages that have room for notes beside the text."""
    job = workspace.job
    with workspace.batch():
        key = _tide_table(workspace)
    workspace.do(ApplyMaster(key, tuple(job.pages[index].id for index in _pages_of(workspace, TIDES, INDEX))))
    with workspace.batch():
        for words, aside in ASIDES:
            p = next(p for p in _chapter(job, TIDES) if words in p.text)
            place = Place(p.id, p.text.index(words) + len(words))
            workspace.do(AddNote("main", place, place, aside, SIDE))
        side = job.note_kinds[SIDE]
        workspace.do(PutNoteKind(replace(side, width=29 * MM, away=4 * MM)))


def _tide_table(workspace: Workspace) -> str:
    """The master page, the styles and the table itself; return the master page's id."""
    job = workspace.job
    workspace.do(DuplicateMaster("text"))
    key = [*job.masters][-1]
    workspace.do(ChangeMaster(key, name="Tide tables", margins=Edges(19 * MM, 22 * MM, 16 * MM, 38 * MM)))
    workspace.do(
        PutStyle(
            "paragraph",
            name="Tides",
            based_on="body",
            type=TypeSpec(size=9.0, figures="tabular lining"),
            para=ParaSpec(leading=11.0, indent_first=0.0, hyphenate=False, grid=False),
        ),
        PutStyle(
            "paragraph",
            name="Tides, heads",
            based_on="body",
            type=TypeSpec(size=8.5, caps="small"),
            para=ParaSpec(leading=11.0, indent_first=0.0, hyphenate=False, grid=False, align="centre"),
        ),
    )
    named = {style.name: style.id for style in job.paragraph_styles.values()}
    look = TableStyle(
        "tides",
        "Tide table",
        outer=Stroke(1.0),
        head=Stroke(0.5),
        rows=Stroke(0.0),
        other=Fill("black", 0.08),
        every=1,
        beside=3.0,
        over=1.6,
        head_style=named["Tides, heads"],
        body_style=named["Tides"],
    )
    workspace.do(PutTableStyle(look), AddTable("main", Place("tides", 0), 1, 5))
    table = [*job.tables.values()][-1]
    top = (CellSaid("Day", down=2), CellSaid("Morning", across=2), CellSaid("Evening", across=2))
    under = tuple(CellSaid(words) for words in ("time", "metres") * 2)
    rows = (top, under, *(tuple(CellSaid(words) for words in row) for row in tide_rows()))
    sizes = (TableColumn("share", 1.1), *(TableColumn("share", 1.0, align) for align in ("centre", "decimal") * 2))
    workspace.do(ChangeTable(table.id, rows, 2, style=look.id, sizes=sizes, continued="The tides, continued"))
    return key


def tide_rows() -> Iterator[tuple[str, str, str, str, str]]:
    """The high waters of each day: the time moves on with the moon, the height goes between neaps and springs twice a
    month."""
    at = 5 * 60 + 10.0
    day = 0
    for month, days in MONTHS:
        for number in range(1, days + 1):
            waters = []
            while at < 24 * 60 * (day + 1):
                spring = math.cos((at / 1440 - 4.2) / 14.765 * 2 * math.pi)
                season = math.cos((at / 1440 - 79) / 182.6 * 2 * math.pi)
                waters.append((at - day * 1440, 4.6 + 0.95 * spring + 0.18 * season))
                at += HALF_TIDE
            first, second = ([*waters, None] if waters and waters[0][0] < 720 else [None, *waters])[:2]
            yield f"{number} {month}", *_water(first), *_water(second)
            day += 1


def _water(found: tuple[float, float] | None) -> tuple[str, str]:
    if found is None:
        return "–", ""
    minutes = round(found[0])
    return f"{minutes // 60:02}.{minutes % 60:02}", f"{found[1]:.1f}"


def _pages_of(workspace: Workspace, name: str, following: str) -> range:
    """The pages of a chapter, up to that on which the next one begins."""
    found = []
    for heading in (name, following):
        p = next(p for p in workspace.job.stories["main"].paragraphs if p.style == "chapter" and p.text == heading)
        page = workspace.composition.page_of("main", p.id, 0)
        assert page is not None
        found.append(page)
    return range(*found)


def _index(workspace: Workspace) -> None:
    """The birds wherever they are named; the pages of their own sections are the main places."""
    with workspace.batch():
        _mark_terms(workspace)
    sources = (ListingSource("marks", "marks"),)
    _placed(
        workspace,
        Listing(
            "birds",
            "Index of birds",
            sources,
            separator=", ",
            order="alphabetical",
            ranges=True,
            letters=True,
            continued="continued",
        ),
        "names",
    )
    job = workspace.job
    styles = [style for name, style in job.paragraph_styles.items() if name.startswith("index")]
    workspace.do(*(PutStyle("paragraph", style.id, para=replace(style.para, split=2)) for style in styles))


def _mark_terms(workspace: Workspace) -> None:
    job = workspace.job
    workspace.do(MarkTerms(BIRDS))
    for p in list(job.stories["main"].paragraphs):
        if p.style != "section":
            continue
        kind, _, family = p.text.replace(OBJECT, "").rpartition(" ")
        above = term_named(job, family)
        name, under = (kind, family) if kind and above and term_named(job, kind, above.id) else (family, "")
        if above is not None and (under or not kind):
            end = Place(p.id, len(p.text))
            workspace.do(MarkTerm("main", end, end, name, under, main=True))
    for words, meant in SEEN_AS:
        term = term_named(job, meant)
        assert term is not None
        workspace.do(PutTerm(words, see=(term.id,)))
