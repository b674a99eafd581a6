"""The index: marks that survive what is done to the text, terms under terms, see and see also, in the order of the
language."""

from __future__ import annotations

import io
import random
import re
from collections.abc import Iterable
from dataclasses import replace
from datetime import datetime, timezone
from itertools import pairwise

import pikepdf
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.document.consistency import check
from lexigon.core.document.listing_merge import standing
from lexigon.core.document.model import Listing, ListingSource, Object, Paragraph, ParaSpec
from lexigon.core.editing.edits import EditError, apply_all
from lexigon.core.editing.intents import (
    MarkTerm,
    MarkTerms,
    Place,
    PlaceListing,
    PourText,
    PutListing,
    PutTerm,
    RemoveTerm,
    ReplaceText,
    UpdateListing,
)
from lexigon.core.editing.intents.text.index_terms import term_named
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.continuation_lines import line_over
from lexigon.core.flow.index import marked
from lexigon.core.flow.listing_entries import gathered
from lexigon.core.flow.resolved_text import GoesUnder
from lexigon.core.flow.workspace import Workspace
from lexigon.core.manuscript.review.finding import Query, hits
from lexigon.core.paint.display import Display
from lexigon.core.paint.items import Glyphs, Group, Item
from lexigon.core.paint.pieces import pieces
from lexigon.core.press.document import write_pdf
from lexigon.core.press.recipes import recipe
from tests.core.helpers import book, examples, words
from tests.core.test_objects_in_texts import flow_of
from tests.core.test_objects_in_texts import told as all_told

INDEX = Listing(
    "i", "Index", (ListingSource("marks", "marks"),), separator=", ", order="alphabetical", ranges=True, letters=True
)


def marsh(pages: int = 6) -> Workspace:
    """A page each with its number as its first words."""
    workspace = Workspace(book(facing=False))
    rows = [
        Paragraph(f"p{n}", "body", f"Page{n} knot dunlin Knots {words(20, n)}", para=ParaSpec(start="page"))
        for n in range(pages)
    ]
    workspace.do(PourText("main", (*rows, Paragraph("slot", "body", "", para=ParaSpec(start="page")))))
    return workspace


def mark(
    workspace: Workspace, name: str, page: int, under: str = "", end: tuple[int, int] | None = None, every: bool = False
) -> None:
    start = Place(f"p{page}", 5)
    workspace.do(MarkTerm("main", start, Place(f"p{end[0]}", end[1]) if end else start, name, under, every))
    check(workspace.job)


def shown(workspace: Workspace) -> list[str]:
    """The index as it stands in the text, its levels as dashes."""
    stands = standing(workspace.job, workspace.job.listings["i"])
    assert stands is not None
    story, first, behind = stands
    found = [one.shown.paragraph for one in workspace.composition.flows[story.id].paragraphs[first:behind]]
    return [("-" * int(p.style.rpartition("-")[2]) if p.style[-1].isdigit() else "") + p.text for p in found]


def put_in(workspace: Workspace) -> None:
    workspace.do(PutListing(INDEX))
    workspace.do(
        PlaceListing("i", "main", Place("slot", 0), tuple(one.entry for one in gathered(workspace.composition, INDEX)))
    )
    check(workspace.job)


def test_an_index_with_levels_ranges_letters_and_what_leads_on() -> None:
    workspace = marsh()
    for name, page in (
        ("Knot", 0),
        ("Knot", 1),
        ("Knot", 2),
        ("Knot", 5),
        ("dunlin", 1),
        ("Élan", 3),
        ("eel", 3),
        ("2 May", 0),
    ):
        mark(workspace, name, page)
    mark(workspace, "on the Comb", 4, under="Knot")
    mark(workspace, "Tide", 1, end=(3, 2))
    terms = workspace.job.terms
    knot = term_named(workspace.job, "knot")
    assert knot is not None
    workspace.do(PutTerm("Red knot", see=(knot.id,)))
    dunlin = term_named(workspace.job, "Dunlin")
    assert dunlin is not None
    workspace.do(PutTerm("dunlin", dunlin.id, also=(knot.id,)))
    workspace.do(PutTerm("K", sort="zz"))  # leads nowhere: left out, and no letter of others
    put_in(workspace)
    assert shown(workspace) == [
        "0–9",
        "2 May, 1",
        "D",
        "dunlin, 2. See also Knot",
        "E",
        "eel, 4",
        "Élan, 4",
        "K",
        "Knot, 1–3, 6",
        "--on the Comb, 5",
        "R",
        "Red knot, see Knot",
        "T",
        "Tide, 2–4",
    ]
    # Words before it, a page before it: the numbers follow by themselves.
    workspace.do(ReplaceText("main", Place("p0", 0), Place("p0", 0), words(900, 3) + "\n"))
    first = workspace.composition.page_of("main", marked(workspace.composition)[knot.id][0][1].paragraph, 5)
    assert first == 3
    assert "Knot, 4–6, 9" in shown(workspace)
    workspace.do(PutTerm("Calidris", knot.id))
    assert "Knot, 4–6, 9" in shown(workspace), "words are brought up to date when it is said"
    workspace.do(
        UpdateListing("i", tuple(one.entry for one in gathered(workspace.composition, workspace.job.listings["i"])))
    )
    lines = shown(workspace)
    assert lines.index("Calidris, 4–6, 9") < lines.index("D") < lines.index("dunlin, 5. See also Calidris")
    assert "K" not in lines
    assert len(terms) == 9


def test_every_place_is_marked_once_and_a_term_goes_with_its_marks() -> None:
    workspace = marsh()
    workspace.do(MarkTerm("main", Place("p0", 6), Place("p0", 10), "Knot", every=True))
    check(workspace.job)
    (term,) = workspace.job.terms
    places = marked(workspace.composition)[term]
    assert len(places) == 6, "whole words: Knots are none"
    workspace.do(MarkTerm("main", Place("p0", 7), Place("p0", 11), "Knot", every=True))
    assert len(marked(workspace.composition)[term]) == 6
    workspace.do(PutListing(INDEX))
    (letter, entry) = gathered(workspace.composition, INDEX)
    assert (letter.entry.words, entry.entry.words, len(entry.entry.targets)) == ("K", "Knot", 6)
    (line,) = (p for p in workspace.composition.flows["main"].paragraphs if p.paragraph.id == "p0")
    assert line.shown.paragraph.text.startswith("Page0 knot dunlin Knots"), "marks take no room"
    before = job_to_json(workspace.job)
    change = workspace.do(RemoveTerm(term))
    assert not marked(workspace.composition)
    assert workspace.job.stories["main"].paragraphs[0].text.startswith("Page0 knot dunlin")
    apply_all(workspace.job, change.inverse)
    assert job_to_json(workspace.job) == before


def test_an_index_set_run_in_with_main_places_of_their_own_look() -> None:
    workspace = marsh()
    for page in range(6):
        mark(workspace, "Knot", page)
    workspace.do(MarkTerm("main", Place("p1", 6), Place("p1", 6), "Knot", main=True))
    workspace.do(MarkTerm("main", Place("p3", 6), Place("p4", 6), "Tide", main=True))
    mark(workspace, "on the Comb", 4, under="Knot")
    mark(workspace, "at dusk", 2, under="roosts")
    knot = term_named(workspace.job, "Knot")
    assert knot is not None
    comb = term_named(workspace.job, "on the Comb", knot.id)
    assert comb is not None
    workspace.do(PutTerm("in rain", parent=comb.id))
    rain = term_named(workspace.job, "in rain", comb.id)
    assert rain is not None
    workspace.do(PutTerm("in rain", rain.id, parent=comb.id, also=(knot.id,)))
    run_in = replace(INDEX, letters=False, run_in=True)
    workspace.do(PutListing(run_in))
    workspace.do(
        PlaceListing("i", "main", Place("slot", 0), tuple(one.entry for one in gathered(workspace.composition, run_in)))
    )
    check(workspace.job)
    # Ranges of main places and of others are told apart.
    assert shown(workspace) == [
        "Knot, 1, 2, 3–6; on the Comb, 5; on the Comb, in rain. See also Knot",
        "roosts: at dusk, 3",
        "Tide, 4–5",
    ]
    stands = standing(workspace.job, workspace.job.listings["i"])
    assert stands is not None
    first, *_, tide = workspace.composition.flows["main"].paragraphs[stands[1] : stands[2]]
    bold = [p.text[s.start : s.end] for p in (first.shown.paragraph,) for s in p.spans if s.style == "index-main"]
    assert bold == ["2"]
    assert [s.style for s in tide.shown.paragraph.spans] == ["index-main"] * 3
    # In a screen PDF each number leads to its page by itself.
    target = io.BytesIO()
    write_pdf(workspace.composition, recipe("screen"), target, datetime(2026, 1, 1, tzinfo=timezone.utc))
    with pikepdf.open(target) as pdf:
        notes = [note for page in pdf.pages for note in page.get("/Annots", [])]  # type: ignore[union-attr]
        boxes = [[float(value) for value in note.Rect] for note in notes]
    assert len(boxes) == 8
    rows = {round(box[1]) for box in boxes}
    for row in rows:
        along = sorted(box for box in boxes if round(box[1]) == row)
        assert all(left[2] <= right[0] + 0.01 for left, right in pairwise(along)), "none lies over another"
    # The numbers of each go on following their places.
    workspace.do(ReplaceText("main", Place("p4", 0), Place("p4", 0), words(900, 3) + "\n"))
    assert shown(workspace)[0].startswith("Knot, 1, 2, 3–4, ")
    assert workspace.composition.job.listings["i"] == workspace.job.listings["i"]
    workspace.do(
        UpdateListing("i", tuple(one.entry for one in gathered(workspace.composition, workspace.job.listings["i"])))
    )
    assert shown(workspace) == shown(Workspace(workspace.job))


def test_a_list_marks_the_longest_words_once_each_and_what_cannot_be_read_is_told() -> None:
    workspace = marsh(3)
    workspace.do(ReplaceText("main", Place("p0", 0), Place("p0", 0), "The red knot, a Knot, knots and dunlin nests. "))
    listed = "knot\nred knot\n\nknots = knot\nknots=Knot\ndunlin nests = dunlin > nests\nsanderling"
    workspace.do(MarkTerms(listed))
    check(workspace.job)
    found = {one.name: len(marked(workspace.composition).get(one.id, ())) for one in workspace.job.terms.values()}
    assert found == {"knot": 1 + 1 + 3 + 3, "red knot": 1, "dunlin": 0, "nests": 1, "sanderling": 0}
    with pytest.raises(EditError, match="or are already marked everywhere"):
        workspace.do(MarkTerms(listed))
    for bad in ("= knot", "a = b = c", "a = b > c > d", "  \n", "knot >"):
        with pytest.raises(EditError, match=r"cannot be read|one on each line"):
            workspace.do(MarkTerms(bad))


@settings(max_examples=examples(15), deadline=None)
@given(st.integers(0, 10**6))
def test_marks_survive_what_is_typed_round_them(seed: int) -> None:
    chance = random.Random(seed)
    workspace = marsh(3)
    for page in range(3):
        mark(workspace, f"Term {page}", page)
    undo, start = [], job_to_json(workspace.job)
    for _ in range(6):
        p = chance.choice([p for p in workspace.job.stories["main"].paragraphs if len(p.text) > 12])
        at = chance.choice([0, 8, len(p.text)])
        end = min(at + chance.choice([0, 3]), len(p.text)) if at >= 8 else at
        marked_word = re.search(r"Page\d\ufffc", p.text)
        if marked_word is not None and at < marked_word.end() and end > marked_word.start():
            end = at  # what was typed before has moved the marked word here: it is not to be deleted
        if marked_word is not None and marked_word.start() < at < marked_word.end():
            at = end = marked_word.start()
        undo.append(
            workspace.do(
                ReplaceText(
                    "main", Place(p.id, at), Place(p.id, end), chance.choice(["x", "two words", "\n", ""]) or "y"
                )
            )
        )
        check(workspace.job)
        found = marked(workspace.composition)
        assert sorted(len(places) for places in found.values()) == [1, 1, 1]
        for term, places in found.items():
            ((_, target),) = places
            number = workspace.job.terms[term].name[-1]
            (p,) = (p for p in workspace.job.stories["main"].paragraphs if p.id == target.paragraph)
            assert f"Page{number}\ufffc" in p.text
    for change in reversed(undo):
        apply_all(workspace.job, change.inverse)
    assert job_to_json(workspace.job) == start


def test_the_board_is_told_which_characters_are_painted_where() -> None:
    """Behind a mark each painted character still is the one of the paragraph that a caret meets there; also where one
    stands within a word."""
    workspace = Workspace(book(facing=False))
    workspace.do(PourText("main", (Paragraph("a", "body", "Knots and dunlin"),)))
    for at in (12, 6, 0):
        workspace.do(MarkTerm("main", Place("a", at), Place("a", at), f"Term {at}"))
    (frame,) = (f for f in Display(workspace.composition).page(0).frames if f.frame.main)
    text = workspace.job.stories["main"].paragraphs[0].text
    found = [(piece.start, piece.text, piece.x) for run in frame.lines[0].runs for piece in pieces(run)]
    assert [words_ for _, words_, _ in found] == ["Knots ", "and du", "nlin"]
    assert all(text[start : start + len(words_)] == words_ for start, words_, _ in found)
    bare = Workspace(book(facing=False))
    bare.do(PourText("main", (Paragraph("a", "body", "Knots and dunlin"),)))
    (run,) = next(f for f in Display(bare.composition).page(0).frames if f.frame.main).lines[0].runs
    whole = run.x + sum(part.advance for part in run.parts)
    (last,) = (run for run in frame.lines[0].runs)
    assert last.x + sum(part.advance for part in last.parts) == pytest.approx(whole)
    assert [x for _, _, x in found] == sorted(x for _, _, x in found)


def test_marks_are_looked_through() -> None:
    workspace = marsh(1)
    for at in (6, 11, 13):
        workspace.do(MarkTerm("main", Place("p0", at), Place("p0", at), f"Term {at}"))
    found = [
        (hit.text.replace("\ufffc", ""), hit.has_object)
        for hit in hits(workspace.job, Query("knot dunlin", whole=True))
    ]
    assert found == [("knot dunlin", True)], "found, and left as it is by what would replace it"
    assert [hit.text for hit in hits(workspace.job, Query("knot", whole=True))] == ["knot"]


def test_what_cannot_be_in_an_index_is_told() -> None:
    workspace = marsh()
    mark(workspace, "Knot", 0)
    knot = term_named(workspace.job, "Knot")
    assert knot is not None
    for intent, told in (
        (MarkTerm("main", Place("p0", 0), Place("p0", 0), " "), "Type the term as the index lists it"),
        (PutTerm("knot"), "already"),
        (PutTerm("Knot", knot.id, parent=knot.id), "A term cannot be a sub-entry of itself"),
        (PutTerm("Knot", knot.id, see=(knot.id,)), "other terms"),
        (PutTerm("x", "gone"), "no longer"),
        (RemoveTerm("gone"), "no longer"),
        (PutTerm(" "), "Type the term"),
    ):
        with pytest.raises(EditError, match=told):
            workspace.do(intent)


def test_a_column_that_goes_on_under_a_term_says_so_in_a_line_over_it() -> None:
    """Wherever a column begins below the first level; nothing else stands lower, and the words follow the term."""
    workspace = marsh(4)
    mark(workspace, "knot", 0)
    for n in range(120):
        mark(workspace, f"place {n:03}", n % 4, under="knot")
    wanted = replace(INDEX, letters=False, continued="continued")
    workspace.do(PutListing(wanted))
    workspace.do(
        PlaceListing("i", "main", Place("slot", 0), tuple(one.entry for one in gathered(workspace.composition, wanted)))
    )

    def overs() -> list[str]:
        """What is said over columns, page by page."""
        display, found = Display(workspace.composition), list[str]()

        def look(items: Iterable[Item]) -> None:
            for item in items:
                if isinstance(item, Group):
                    look(item.items)
                elif isinstance(item, Glyphs) and "continued" in item.run.text:
                    found.append(item.run.text)

        for index in range(len(workspace.job.pages)):
            look(display.page(index).items(printed=True))
        return found

    flow = workspace.composition.main
    assert flow is not None
    levels = {one.paragraph: one.made.level for one in workspace.job.listings["i"].entries}
    going_on = [
        column
        for column in flow.columns
        if column.blocks and levels.get(flow.paragraphs[column.blocks[0].paragraph].paragraph.id, 1) > 1
    ]
    assert len(going_on) >= 2
    for column in flow.columns:
        assert (column.over is not None) == (column in going_on)
        if column.over is not None:
            first = column.blocks[0]
            leading = flow.over(first.paragraph)
            assert first.baseline == pytest.approx(column.over + leading)
            assert column.blocks[-1].bottom(flow) <= column.slot.rect.foot + 0.01
    assert len(overs()) == len(going_on)
    assert all_told(workspace.composition) == all_told(Composition(workspace.job))
    before = job_to_json(workspace.job)
    change = workspace.do(PutListing(replace(workspace.job.listings["i"], continued="")))
    assert not overs()
    assert all(column.over is None for column in flow_of(workspace).columns)
    assert all_told(workspace.composition) == all_told(Composition(workspace.job))
    workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before
    assert len(overs()) == len(going_on)
    # Too long a term is cut to the line that is kept for it.
    term = next(one for one in workspace.job.terms.values() if one.name == "knot")
    workspace.do(PutTerm("knot " * 15 + "and no end of it", term.id, "", "", (), ()))
    listing = workspace.job.listings["i"]
    workspace.do(UpdateListing("i", tuple(one.entry for one in gathered(workspace.composition, listing))))
    assert all_told(workspace.composition) == all_told(Composition(workspace.job))
    cut = line_over(
        flow_of(workspace),
        flow_of(workspace).paragraphs[going_on[-1].blocks[0].paragraph].shown.under or GoesUnder("", "", ""),
        120.0,
        workspace.composition.places.setting(Object("over")),
    )
    assert len(cut.lines(0, 120.0)) == 1
    assert "… (continued)" in cut.paragraphs[0].paragraph.text
    check(workspace.job)
