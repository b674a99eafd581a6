"""Listings and references: their numbers follow the pages, and what an editor changed in a listing outlives its
update."""

from __future__ import annotations

import random
import subprocess
from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.check.findings import findings_of
from lexigon.core.collation import collation
from lexigon.core.document.consistency import check
from lexigon.core.document.listing_merge import standing
from lexigon.core.document.model import (
    OBJECT,
    Anchor,
    Gathered,
    Job,
    Listing,
    ListingSource,
    ListMark,
    Paragraph,
    ParaSpec,
    Section,
    Span,
    Target,
)
from lexigon.core.editing.edits import EditError, apply_all
from lexigon.core.editing.intents import (
    AddPages,
    AddTable,
    AddTextFrame,
    InsertField,
    MovePages,
    MoveParagraphs,
    Place,
    PlaceListing,
    PourText,
    PutListing,
    PutSection,
    RemoveListing,
    RemoveStyle,
    ReplaceText,
    SetParagraphs,
    UpdateListing,
)
from lexigon.core.fileformat.jobs import job_from_json, job_to_json
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.listing_entries import due, gathered, words_of
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.core.helpers import book, examples, words

CONTENTS = Listing("contents", "Contents", (ListingSource("chapter"), ListingSource("section", level=2)))


def field(before: str, *anchors: Anchor) -> tuple[str, tuple[Span, ...]]:
    """Words with fields behind them, parted by spaces."""
    text, spans = before, []
    for anchor in anchors:
        text += f" {OBJECT}"
        spans.append(Span(len(text) - 1, len(text), object=anchor))
    return f"{text}.", tuple(spans)


def chapters(count: int = 5, seed: int = 0) -> list[Paragraph]:
    made = [Paragraph("top", "contentshead", "Contents"), Paragraph("slot", "body", "")]
    for n in range(count):
        made.append(Paragraph(f"h{n}", "chapter", f"Chapter {n}"))
        for s in range(2):
            made.append(Paragraph(f"s{n}{s}", "section", f"Of {words(3, seed + n * 2 + s)}", (Span(0, 2, "emphasis"),)))
            for k in range(4):
                text, spans = field(
                    words(50, n + k), Anchor("page"), Anchor("pages"), Anchor("reference", f"h{(n + k) % count}")
                )
                made.append(Paragraph(f"p{n}{s}{k}", "body", text, spans))
    return made


def placed(listing: Listing = CONTENTS, paragraphs: list[Paragraph] | None = None) -> Workspace:
    workspace = Workspace(book())
    workspace.do(PourText("main", tuple(paragraphs or chapters())))
    workspace.do(PutListing(listing))
    workspace.do(PlaceListing(listing.id, "main", Place("slot", 0), now(workspace, listing.id)))
    return workspace


def now(workspace: Workspace, key: str = "contents") -> tuple[Gathered, ...]:
    return tuple(found.entry for found in gathered(workspace.composition, workspace.job.listings[key]))


def entries(workspace: Workspace, key: str = "contents") -> list[str]:
    """The entries as they are shown."""
    stands = standing(workspace.job, workspace.job.listings[key])
    assert stands is not None
    story, first, behind = stands
    return [found.shown.paragraph.text for found in workspace.composition.flows[story.id].paragraphs[first:behind]]


def update(workspace: Workspace, *taken: str, key: str = "contents") -> None:
    workspace.do(UpdateListing(key, now(workspace, key), taken))
    check(workspace.job)


def waiting(workspace: Workspace) -> list[str]:
    merge = due(workspace.composition, workspace.job.listings["contents"])
    assert merge is not None
    return [one.what for one in merge.differences]


def entries_text(workspace: Workspace, begin: str) -> bool:
    return any(p.text.startswith(begin) for p in workspace.job.stories["main"].paragraphs)


def put_in(workspace: Workspace, key: str, words_: str, start: int = 0, end: int = 0) -> None:
    workspace.do(ReplaceText("main", Place(key, start), Place(key, end), words_))


def held(workspace: Workspace) -> None:
    """Every field and every number is what is so where it stands, found by looking at the columns themselves."""
    composition = workspace.composition
    labels = composition.values.labels
    begins: dict[str, int] = {}
    for story, flow in composition.flows.items():
        for column in flow.columns:
            for block in column.blocks:
                p = flow.paragraphs[block.paragraph]
                if block.first_line == block.base == 0:
                    begins[p.paragraph.id] = column.slot.page
                lines = flow.lines(block.paragraph, block.measure, block.base)[block.first_line : block.last_line]
                for span in p.shown.paragraph.spans:
                    if span.object is None or not lines[0].start <= span.start < lines[-1].next:
                        continue
                    shown = p.shown.paragraph.text[span.start : span.end]
                    if span.object.kind == "page":
                        assert shown == labels[column.slot.page], story
                    elif span.object.kind == "pages":
                        assert shown == str(len(workspace.job.pages))
    for flow in composition.flows.values():
        for p in flow.paragraphs:
            for span in p.shown.paragraph.spans:
                shown = p.shown.paragraph.text[span.start : span.end]
                if span.object is not None and span.object.kind == "reference" and not span.object.form:
                    assert shown == labels[begins[span.object.ref]]
                elif span.object is not None and span.object.kind == "entry":
                    listing = workspace.job.listings[span.object.ref]
                    (entry,) = (one for one in listing.entries if one.id == span.object.form)
                    assert shown == labels[begins[entry.made.targets[0].paragraph]]


@settings(max_examples=examples(12), deadline=None)
@given(st.integers(0, 10**6))
def test_every_number_is_right_where_it_stands_whatever_is_done(seed: int) -> None:
    chance = random.Random(seed)
    workspace = placed(paragraphs=chapters(3, seed))
    workspace.do(AddTextFrame(workspace.job.pages[0].id, Rect(60, 60, 200, 60), text="aside"))
    start, undo = job_to_json(workspace.job), []
    held(workspace)
    for _ in range(4):
        p = chance.choice([p for p in workspace.job.stories["main"].paragraphs if p.style == "body"])
        match chance.randrange(5):
            case 0:
                intent = ReplaceText("main", Place(p.id, 0), Place(p.id, 0), words(chance.randint(1, 150), seed) + "\n")
            case 1:
                intent = ReplaceText("main", Place(p.id, 0), Place(p.id, len(p.text)), "")
            case 2:
                intent = AddPages(0, chance.randint(1, 3), None)
            case 3:
                intent = PutSection(
                    chance.choice(workspace.job.pages).id,
                    Section("A", start=chance.choice([1, 98]), style=chance.choice(["1", "i"])),
                )
            case _:
                intent = UpdateListing("contents", now(workspace))
        undo.append(workspace.do(intent))
        check(workspace.job)
        held(workspace)
    fresh = Composition(job_from_json(job_to_json(workspace.job)))
    for story, flow in workspace.composition.flows.items():
        assert [p.shown.paragraph.text for p in flow.paragraphs] == [
            p.shown.paragraph.text for p in fresh.flows[story].paragraphs
        ]
    for change in reversed(undo):
        apply_all(workspace.job, change.inverse)
    assert job_to_json(workspace.job) == start


def test_a_field_that_moves_its_own_line_to_another_page_shows_that_page() -> None:
    """“Page viii” is wider than “page i”: the line breaks, and with it the page, follow from what the number itself
    says."""
    workspace = Workspace(book())
    text, spans = field("seen on page", *[Anchor("page")] * 12)
    workspace.do(PourText("main", tuple(Paragraph(f"p{n}", "body", text, spans) for n in range(150))))
    workspace.do(PutSection(workspace.job.pages[0].id, Section("", style="i", start=7)))
    held(workspace)


def test_numbers_written_as_ranges_once_a_page_and_by_words() -> None:
    terms = [
        Paragraph(
            f"p{n}",
            "body",
            f"The dunlin {words(30, n)}",
            (Span(4, 10, "emphasis"),),
            para=ParaSpec(start="page") if n in (2, 3, 6) else None,
        )
        for n in range(8)
    ]
    glossary = Listing(
        "g",
        "Birds",
        (ListingSource("emphasis", "words"),),
        separator=", ",
        order="alphabetical",
        merged=True,
        ranges=True,
    )
    workspace = placed(glossary, [Paragraph("slot", "body", ""), *terms])
    assert entries(workspace, "g") == ["dunlin, 1–4"]
    workspace.do(PutListing(replace(glossary, ranges=False, number="before")))
    update(workspace, key="g")
    assert entries(workspace, "g") == ["1, 2, 3, 4, dunlin"]
    workspace.do(PutListing(replace(glossary, number="none")))
    update(workspace, key="g")
    assert entries(workspace, "g") == ["dunlin"]


def test_entries_of_a_glossary_have_the_explanation_after_their_term() -> None:
    def term(p: str, text: str, word: str) -> Paragraph:
        at = text.index(word)
        return Paragraph(p, "body", text, (Span(at, at + len(word), "emphasis"),))

    terms = [
        term(
            "a", "Beyond the wall are saltings: marsh that spring tides flood; cattle graze it. More text.", "saltings"
        ),
        term("b", "A creek is a channel.", "creek"),
        term("c", "The Saltings again. Nothing more.", "Saltings"),
        term("d", "They call it a gut.", "gut"),
    ]
    source = ListingSource("emphasis", "words", explain="sentence")
    glossary = Listing("g", "Glossary", (source,), number="none", order="alphabetical", merged=True)
    workspace = placed(glossary, [Paragraph("slot", "body", ""), *terms])
    assert entries(workspace, "g") == [
        "creek is a channel.",
        "gut",
        "saltings: marsh that spring tides flood; cattle graze it.",
    ], "each term once, explained where it is first"
    entry = next(p for p in workspace.job.stories["main"].paragraphs if p.text.startswith("saltings"))
    assert [(span.start, span.end, span.style) for span in entry.spans] == [(0, 8, "emphasis")], "the term is distinct"
    for explain, mark, wanted in (
        ("mark", ";", "saltings: marsh that spring tides flood"),
        ("paragraph", ";", "saltings: marsh that spring tides flood; cattle graze it. More text."),
        ("no", ";", "saltings"),
        ("mark", "§", "saltings: marsh that spring tides flood; cattle graze it. More text."),
    ):
        workspace.do(PutListing(replace(glossary, sources=(replace(source, explain=explain, mark=mark),))))  # type: ignore[arg-type]
        update(workspace, key="g")
        assert entries(workspace, "g")[-1] == wanted


def test_words_of_entries() -> None:
    def of(text: str, spans: tuple[Span, ...] = (), **more: object) -> str:
        return words_of(Paragraph("p", "body", text, spans), ListingSource("body", **more))[0]  # type: ignore[arg-type]

    long = words(400, 1)
    assert len(long) > 2000
    assert of(long) == long, "nothing is cut off at a length"
    assert of("One. Two “three!” Four?", take="sentences", count=2) == "One. Two “three!”"
    assert of("One two  three", take="words", count=2) == "One two"
    assert of("Knot\u2028and dun\u00adlin1", (Span(16, 17, object=Anchor("note", "n")),)) == "Knot and dunlin"
    assert of("") == ""
    assert of("  x", take="sentences") == "x"


def test_alphabetical_order_is_the_languages() -> None:
    """Unicode Technical Standard 10, table 1 (“Swedish: z < ö, German: ö < z”) and section 1.1 (accents after letters,
    case last)."""
    names = ["zebra", "öl", "oder", "Oder", "role", "roles", "rôle"]
    assert sorted(names[:3], key=collation("sv-SE")) == ["oder", "zebra", "öl"]
    assert sorted(names[:3], key=collation("de-DE")) == ["oder", "öl", "zebra"]
    assert sorted(names[2:], key=collation("en-GB")) == ["oder", "Oder", "role", "rôle", "roles"]


def test_an_editors_changes_outlive_the_update() -> None:
    workspace = placed()
    own = standing(workspace.job, workspace.job.listings["contents"])
    assert own is not None
    first, second, _, fourth = (p.id for p in own[0].paragraphs[own[1] : own[1] + 4])
    put_in(workspace, first, "The first, ")
    put_in(workspace, second, "\nA line of the editor’s own", 0, 0)  # a paragraph of its own before the second
    workspace.do(ReplaceText("main", Place(fourth, 0), Place(fourth, 9), ""))
    put_in(workspace, "h1", "Changed ")
    put_in(workspace, "s11", "Also ")
    workspace.do(ReplaceText("main", Place("h4", 0), Place("h4", 9), "Otherwise"))
    shown = entries(workspace)
    merge = due(workspace.composition, workspace.job.listings["contents"])
    assert merge is not None
    assert {(one.what, one.new.split()[0]) for one in merge.differences} == {
        ("conflict", "Changed"),
        ("words", "Also"),
        ("words", "Otherwise"),
    }
    (conflict,) = (one for one in merge.differences if one.what == "conflict")
    kinds = [one.text for one in findings_of(workspace.composition) if one.kind == "stale listing"]
    assert kinds == ["The listing “Contents” is not up to date: 2 changes to take over, 1 place to decide on."]
    update(workspace)
    after = entries(workspace)
    assert after[0].startswith("The first, Chapter 0\t")
    assert after[1:3] == shown[1:3]
    assert after[4].split("\t")[0] == "", "the words an editor took out stay out"
    assert any(line.startswith("Otherwise\t") for line in after)
    undo = workspace.do(UpdateListing("contents", now(workspace), mine=(conflict.entry,)))
    assert not waiting(workspace), "what is decided is not asked about again"
    put_in(workspace, "h1", "Once more ")
    assert waiting(workspace) == ["conflict"], "until it changes once more"
    workspace.do(ReplaceText("main", Place("h1", 0), Place("h1", 10), ""))
    apply_all(workspace.job, undo.inverse)
    workspace = Workspace(workspace.job)
    update(workspace, conflict.entry)
    assert any(line.startswith("Changed Chapter 1\t") for line in entries(workspace))
    assert not [one for one in findings_of(workspace.composition) if one.kind == "stale listing"]
    workspace.do(ReplaceText("main", Place("h0", 0), Place("h0", 9), ""))
    assert waiting(workspace) == ["kept"], "its place is gone, its words are the editor's"
    workspace.do(
        UpdateListing(
            "contents",
            now(workspace),
            mine=tuple(one.entry for one in due(workspace.composition, workspace.job.listings["contents"]).differences),
        )
    )
    assert not waiting(workspace)
    assert entries_text(workspace, "The first, Chapter 0")
    held(workspace)


def test_entries_come_go_stay_out_and_move() -> None:
    workspace = placed(CONTENTS)
    own = standing(workspace.job, workspace.job.listings["contents"])
    assert own is not None
    key = own[0].paragraphs[own[1] + 3].id  # Chapter 1
    at = own[1] + 3
    assert own[0].paragraphs[at].text.startswith("Chapter 1")
    before = own[0].paragraphs[at - 1]
    workspace.do(
        ReplaceText("main", Place(before.id, len(before.text)), Place(key, len(own[0].paragraphs[at].text)), "")
    )
    update(workspace)
    assert not any(line.startswith("Chapter 1\t") for line in entries(workspace)), (
        "what an editor deletes does not come back"
    )
    workspace.do(ReplaceText("main", Place("p400", 0), Place("p400", 0), "A new part\n"))
    new = next(p for p in workspace.job.stories["main"].paragraphs if p.text == "A new part")
    workspace.do(SetParagraphs("main", new.id, new.id, "section"))
    workspace.do(ReplaceText("main", Place("h2", 0), Place("h2", 9), ""))
    update(workspace)
    lines = [line.split("\t")[0] for line in entries(workspace)]
    assert lines[lines.index("Chapter 4") + 2] == "A new part"
    assert "Chapter 2" not in lines
    texts = [p.id for p in workspace.job.stories["main"].paragraphs]
    workspace.do(MoveParagraphs("main", "h4", workspace.job.stories["main"].paragraphs[-1].id, "h3"))
    assert texts != [p.id for p in workspace.job.stories["main"].paragraphs]
    merge = due(workspace.composition, workspace.job.listings["contents"])
    assert merge is not None
    assert {one.what for one in merge.differences} == {"moved"}
    update(workspace)
    lines = [line.split("\t")[0] for line in entries(workspace)]
    assert lines.index("Chapter 4") < lines.index("Chapter 3")
    held(workspace)


@pytest.mark.parametrize("seed", range(16))
def test_the_merge_is_that_of_three_texts(seed: int, tmp_path: Path) -> None:
    """Against git merge-file, another three-way merge (of lines): where it sees no conflict, the same lines come out of
    both."""
    chance = random.Random(seed)
    heads = [Paragraph(f"h{n}", "chapter", f"Head {n}") for n in range(12)]
    workspace = placed(
        Listing("contents", "Contents", (ListingSource("chapter"),), number="none"),
        [Paragraph("slot", "body", ""), *heads],
    )
    stands = standing(workspace.job, workspace.job.listings["contents"])
    assert stands is not None
    own = [p.id for p in stands[0].paragraphs[stands[1] : stands[2]]]
    base = entries(workspace)
    for n in chance.sample(range(12), 3):
        put_in(workspace, own[n], "mine ")
    mine = entries(workspace)
    for n in chance.sample(range(12), 3):
        put_in(workspace, f"h{n}", "theirs ")
    theirs = list(base)
    for n in range(12):
        theirs[n] = next(p.text for p in workspace.job.stories["main"].paragraphs if p.id == f"h{n}")
    names = []
    for name, lines in (("mine", mine), ("base", base), ("theirs", theirs)):
        names.append(tmp_path / name)
        names[-1].write_text(
            "".join(f"{line}\n" + "-\n" * 4 for line in lines)
        )  # set apart: neighbours are no conflict here
    done = subprocess.run(["git", "merge-file", "-p", *map(str, names)], capture_output=True, text=True, check=False)
    merge = due(workspace.composition, workspace.job.listings["contents"])
    assert merge is not None
    conflicts = [one for one in merge.differences if one.what == "conflict"]
    assert (done.returncode > 0) == bool(conflicts)
    if not conflicts:
        assert [p.text for p in merge.paragraphs] == [line for line in done.stdout.splitlines() if line != "-"]


def test_references_show_pages_words_and_numbers_and_tell_when_they_are_broken() -> None:
    workspace = Workspace(book())
    figure = Paragraph("fig", "body", "The mud", para=ParaSpec(list=ListMark("number", "Figure #.")))
    text, spans = field(
        "see", *(Anchor("reference", "fig", form) for form in ("", "words", "number")), Anchor("reference", "h")
    )
    workspace.do(PourText("main", (Paragraph("a", "body", text, spans), Paragraph("h", "chapter", "Of mud"), figure)))
    shown = workspace.composition.flows["main"].paragraphs[0].shown
    assert shown.paragraph.text == "see 3 The mud Figure 1 3."
    put_in(workspace, "fig", "Deep ")
    assert "Deep The mud" in workspace.composition.flows["main"].paragraphs[0].shown.paragraph.text
    assert not [one for one in findings_of(workspace.composition) if one.kind == "broken reference"]
    workspace.do(ReplaceText("main", Place("h", 0), Place("fig", 12), ""))
    assert workspace.composition.flows["main"].paragraphs[0].shown.paragraph.text == "see ?? ?? ?? 3."
    assert len([one for one in findings_of(workspace.composition) if one.kind == "broken reference"]) == 3
    workspace.do(InsertField("main", Place("a", 0), Place("a", 0), Anchor("reference", "nowhere")))
    assert workspace.composition.flows["main"].paragraphs[0].shown.paragraph.text.startswith("??see")


def test_a_listing_of_some_sections_or_texts_alone() -> None:
    workspace = placed()
    page = next(p for p in workspace.job.pages[6:])
    workspace.do(PutSection(page.id, Section("Second")))
    part = replace(CONTENTS, id="part", name="Part", sections=(page.id,))
    workspace.do(PutListing(part))
    index = workspace.job.page_index(page.id)
    assert index is not None
    found = gathered(workspace.composition, workspace.job.listings["part"])
    whole = gathered(workspace.composition, workspace.job.listings["contents"])
    assert 0 < len(found) < len(whole)
    assert found == [one for one in whole if one.page is not None and one.page >= index]
    assert gathered(workspace.composition, replace(CONTENTS, stories=("other",))) == []


def test_what_cannot_be_is_told() -> None:
    workspace = placed()
    for intent, told in (
        (PutListing(replace(CONTENTS, id="x")), "already"),
        (PutListing(Listing("x", " ", CONTENTS.sources)), "name"),
        (PutListing(Listing("x", "X")), "at least one"),
        (PutListing(Listing("x", "X", (ListingSource("wild"),))), "no longer"),
        (UpdateListing("x", ()), "no longer"),
        (PlaceListing("contents", "main", Place("slot", 0), ()), "nothing"),
        (PlaceListing("contents", "main", Place("h0", 0), (Gathered((Target("h0"),), "x"),)), "already"),
    ):
        with pytest.raises(EditError, match=told):
            workspace.do(intent)
    before = plain(workspace.job)
    change = workspace.do(RemoveListing("contents"))
    assert not workspace.job.listings
    assert not any("contents" in p.style for p in workspace.job.stories["main"].paragraphs if p.id != "top")
    apply_all(workspace.job, change.inverse)
    assert plain(workspace.job) == before


def test_a_style_that_goes_is_replaced_in_listings_and_in_cells() -> None:
    workspace = placed()
    workspace.do(AddTable("main", Place("h0", 0), words="a\tb"))
    (table,) = workspace.job.tables.values()
    first = replace(table.rows[0][0], paragraphs=(replace(table.rows[0][0].paragraphs[0], style="section"),))
    workspace.job.tables[table.id] = replace(table, rows=((first, *table.rows[0][1:]), *table.rows[1:]))
    before = entries(workspace)
    change = workspace.do(RemoveStyle("paragraph", "section", "chapter"))
    check(workspace.job)
    assert [source.style for source in workspace.job.listings["contents"].sources] == ["chapter", "chapter"]
    assert workspace.job.tables[table.id].rows[0][0].paragraphs[0].style == "chapter"
    apply_all(workspace.job, change.inverse)
    workspace = Workspace(workspace.job)
    assert entries(workspace) == before
    assert workspace.job.tables[table.id].rows[0][0].paragraphs[0].style == "section"


def test_moved_pages_and_copies_of_the_job_keep_their_numbers() -> None:
    workspace = placed()
    workspace.do(AddPages(0, 2, None))
    held(workspace)
    workspace.do(
        ReplaceText("main", Place("h1", 0), Place("h1", 0), "\n")
    )  # what leads to a heading goes with its words
    held(workspace)
    assert workspace.composition.values.references.find("h1")[1].text == "Chapter 1"  # type: ignore[index]
    workspace.do(MovePages((workspace.job.pages[0].id,), 2))
    held(workspace)
    job: Job = job_from_json(job_to_json(workspace.job))
    assert plain(Workspace(job).job.listings["contents"]) == plain(workspace.job.listings["contents"])
