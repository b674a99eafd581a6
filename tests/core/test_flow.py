"""Flow: keeps, grid, recto starts, pages made and given back, and incremental equal to full composition."""

from __future__ import annotations

import random
from dataclasses import fields, replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.document.model import Anchor, Job, ListMark, Overlay, OwnFont, Paper, Paragraph, ParaSpec, TypeSpec
from lexigon.core.document.registry import TABLES
from lexigon.core.editing.edits import PutEntry
from lexigon.core.editing.intents import (
    AddTable,
    AddTextFrame,
    ChangeFrame,
    InsertField,
    LinkFrames,
    Place,
    PourText,
    PutCopy,
    PutPaper,
    RemoveFrame,
    ReplaceText,
    SetParagraphs,
    UnlinkFrame,
)
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.overset import overset_of
from lexigon.core.flow.story_growth import paged
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from tests.core.helpers import book, examples, paragraphs, poured, words


def shape(composition: Composition) -> object:
    return {
        key: ([(c.slot, c.blocks, c.begin, c.end) for c in flow.columns], flow.end)
        for key, flow in composition.flows.items()
    }


def test_all_text_is_placed_once_and_in_order() -> None:
    workspace = poured(80)
    flow = workspace.composition.main
    assert flow is not None
    placed = [(b.paragraph, line) for c in flow.columns for b in c.blocks for line in range(b.first_line, b.last_line)]
    assert placed == [(i, line) for i in range(len(flow)) for line in range(len(flow.lines(i, 324.0)))]
    assert not flow.overset


def test_no_single_first_or_last_lines_and_no_stranded_headings() -> None:
    flow = poured(300, seed=4).composition.main
    assert flow is not None
    for column in flow.columns:
        for number, block in enumerate(column.blocks):
            lines = flow.line_count(block.paragraph, 324.0, 0)
            if number == len(column.blocks) - 1 and block.last_line < lines and block.first_line == 0:
                assert block.last_line >= 2
            if number == 0 and block.first_line:
                assert lines - block.first_line >= 2
        if column.blocks and column.end[0] < len(flow):
            last = column.blocks[-1]
            forced = flow.setting(column.end[0]).start != "anywhere"
            assert not flow.setting(last.paragraph).keep_next or len(column.blocks) == 1 or forced


def test_lines_stand_on_the_baseline_grid_on_facing_pages() -> None:
    workspace = poured(120, seed=2)
    grid = workspace.job.brief
    for index in range(len(workspace.job.pages)):
        for frame in Display(workspace.composition).page(index).frames:
            if frame.story == "main":
                for line in frame.lines:
                    steps = (line.baseline - grid.grid_start) / grid.grid_step
                    assert steps == pytest.approx(round(steps), abs=1e-6)


def test_chapters_begin_on_rectos_and_blank_pages_show_no_running_head() -> None:
    workspace = poured(240, seed=6)
    flow, display = workspace.composition.main, Display(workspace.composition)
    assert flow is not None
    blanks = 0
    for column in flow.columns:
        for block in column.blocks:
            if flow.setting(block.paragraph).start == "recto" and block.first_line == 0:
                assert column.slot.page % 2 == 0
                names = [f.frame.name for f in display.page(column.slot.page).frames]
                assert names == ["Main text", "Folio"], "an opening has a folio and no running head"
        if not column.blocks:
            blanks += 1
            assert [f.frame.name for f in display.page(column.slot.page).frames] == ["Main text"]
    assert blanks


def test_running_heads_and_folios_say_where_one_is() -> None:
    workspace = poured(120, seed=3)
    display = Display(workspace.composition)
    for index in range(len(workspace.job.pages)):
        texts = {
            f.frame.name: "".join(run.text for line in f.lines for run in line.runs)
            for f in display.page(index).frames
            if f.is_field
        }
        if "Folio" in texts:
            assert texts["Folio"] == str(index + 1)
        if "Running head" in texts:
            assert texts["Running head"] == (
                workspace.job.name if index % 2 else workspace.composition.running.title(Anchor("heading"), index)
            )


def test_pages_come_with_text_and_go_with_it() -> None:
    workspace = poured(200)
    many = len(workspace.job.pages)
    assert many > 20
    text = workspace.job.stories["main"].paragraphs
    change = workspace.do(ReplaceText("main", Place(text[10].id, 0), Place("$", 0), ""))
    assert len(workspace.job.pages) < 6
    workspace.run(change.inverse)
    assert len(workspace.job.pages) == many


def test_text_that_grows_over_many_pages_while_numbers_change_behind_it_keeps_all_of_them() -> None:
    """The second change of one edit (the numbers of a list) begins on pages that the first one made."""
    numbered = ParaSpec(list=ListMark("number", "#."))
    rest = tuple(Paragraph(f"q{n}", "body", words(6, n), para=numbered) for n in range(3))
    workspace = Workspace(book())
    workspace.do(PourText("main", (Paragraph("pa", "body", words(900)), *rest)))
    assert len(workspace.job.pages) < 6
    workspace.do(SetParagraphs("main", "pa", "pa", type=TypeSpec(size=30.0), para=replace(numbered, leading=36.0)))
    assert len(workspace.job.pages) > 10
    assert not workspace.composition.flows["main"].overset
    assert shape(workspace.composition) == shape(Composition(workspace.job))


def test_a_page_with_a_frame_of_its_own_is_not_given_back() -> None:
    workspace = poured(60)
    last = workspace.job.pages[-1].id
    workspace.do(AddTextFrame(last, Rect(100, 100, 100, 100)))
    count = len(workspace.job.pages)
    workspace.do(ReplaceText("main", Place("^", 0), Place("$", 0), ""))
    assert len(workspace.job.pages) == count


def random_edit(workspace: Workspace, chance: random.Random) -> object:
    story = workspace.job.stories["main"].paragraphs
    a, b = sorted(chance.choices(range(len(story)), k=2))
    b = min(b, a + chance.choice([0, 0, 0, 1, 4]))
    start, end = chance.randint(0, len(story[a].text)), chance.randint(0, len(story[b].text))
    if a == b:
        start, end = sorted((start, end))
        end = min(end, start + 12)
    kind = chance.random()
    if kind < 0.15:
        return SetParagraphs(
            "main", story[a].id, story[b].id, style=chance.choice(["body", "first", "section", "chapter", "quote"])
        )
    if kind < 0.25:
        return SetParagraphs(
            "main",
            story[a].id,
            story[b].id,
            para=ParaSpec(
                space_before=chance.choice([0.0, 7.0, 30.0]),
                keep_next=chance.random() < 0.5,
                keep_previous=chance.random() < 0.3,
                floats=chance.random() < 0.3,
            ),
        )
    text = chance.choice(["", "", "a", "word ", "\n", "one\ntwo\nthree", words(60, chance.randint(0, 99)), "\u2028"])
    return ReplaceText("main", Place(story[a].id, start), Place(story[b].id, end), text)


@settings(max_examples=examples(22), deadline=None)
@given(st.integers(0, 10**6))
def test_incremental_composition_equals_full_composition_and_undo_restores_everything(seed: int) -> None:
    chance = random.Random(seed)
    workspace = poured(50, seed=seed % 7 + 1, width=300.0, height=400.0)
    before, undo = job_to_json(workspace.job), []
    if chance.random() < 0.5:  # a second measure in the flow of the main text
        page = workspace.job.pages[chance.randrange(len(workspace.job.pages))]
        frame = workspace.job.masters["text"].half(workspace.job.brief.side(workspace.job.page_index(page.id)))[0]
        undo.append(
            workspace.do(
                ChangeFrame(
                    page.id,
                    frame.id,
                    rect=Rect(60, 60, chance.choice([90.0, 150.0]), 200),
                    columns=chance.choice([1, 2]),
                    gutter=10.0,
                )
            )
        )
    for _ in range(12):
        undo.append(workspace.do(random_edit(workspace, chance)))  # type: ignore[arg-type]
        assert shape(workspace.composition) == shape(Composition(workspace.job))
        assert not paged(workspace.composition)
    for change in reversed(undo):
        workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before
    assert shape(workspace.composition) == shape(Composition(workspace.job))


def test_a_paragraph_goes_on_in_a_column_of_another_measure_without_losing_a_word() -> None:
    workspace = Workspace(book())
    page = workspace.job.pages[0].id
    workspace.do(AddTextFrame(page, Rect(50, 50, 120, 80)))
    first = workspace.job.pages[0].frames[0]
    text = words(120)
    workspace.do(ReplaceText(first.story or "", Place("^", 0), Place("^", 0), text))
    workspace.do(AddTextFrame(page, Rect(50, 200, 220, 70), after=first.id))
    second = workspace.job.pages[0].frames[1]
    workspace.do(AddTextFrame(page, Rect(50, 300, 90, 1500), after=second.id))
    arts = [f for f in Display(workspace.composition).page(0).frames if f.story == first.story]
    assert [f.number for f in arts] == [1, 2, 3]
    shown = " ".join(
        "".join(run.text for run in line.runs).removesuffix("-" if line.runs[-1].hyphen else "\0")
        + ("" if line.runs[-1].hyphen else " ")
        for f in arts
        for line in f.lines
    )
    assert shown.replace(" ", "") == text.replace(" ", "")


def test_linking_and_unlinking_frames() -> None:
    workspace = Workspace(book())
    page = workspace.job.pages[0].id
    workspace.do(AddTextFrame(page, Rect(50, 50, 120, 40)))
    workspace.do(AddTextFrame(page, Rect(50, 300, 120, 200)))
    one, two = workspace.job.pages[0].frames
    workspace.do(ReplaceText(one.story or "", Place("^", 0), Place("^", 0), words(40)))
    workspace.do(ReplaceText(two.story or "", Place("^", 0), Place("^", 0), "held before"))
    before = job_to_json(workspace.job)
    art = next(f for f in Display(workspace.composition).page(0).frames if f.frame.id == one.id)
    assert art.overset is not None
    assert art.overset.words > 5
    assert art.overset.lines > 1
    linked = workspace.do(LinkFrames(one.id, page, two.id))
    assert [p.text for p in workspace.job.stories[one.story or ""].paragraphs][-1] == "held before", (
        "nothing that was held is lost"
    )
    assert not workspace.composition.flows[one.story or ""].overset
    workspace.do(UnlinkFrame(page, two.id))
    assert workspace.composition.flows[one.story or ""].overset
    workspace.do(RemoveFrame(page, two.id))
    assert [f.id for f in workspace.job.pages[0].frames] == [one.id]
    workspace = Workspace(workspace.job)
    assert before != job_to_json(workspace.job)
    assert linked.label == "Link frame"


def test_overset_text_is_counted_in_words_and_lines() -> None:
    workspace = Workspace(book())
    page = workspace.job.pages[0].id
    workspace.do(AddTextFrame(page, Rect(50, 50, 300, 20)))
    frame = workspace.job.pages[0].frames[0]
    workspace.do(
        ReplaceText(
            frame.story or "", Place("^", 0), Place("^", 0), "one line here\u2028two words\u2028three more words"
        )
    )
    art = Display(workspace.composition).page(0).frames[-1]
    assert art.overset is not None
    assert (art.overset.words, art.overset.lines) == (5, 2)
    assert (art.overset.short, art.overset.long, art.overset.fits) == ("5 words", "5 words (2 lines)", "do not fit")


def test_overset_lines_without_words_and_overset_rows_are_counted_as_such() -> None:
    workspace = Workspace(book())
    page = workspace.job.pages[0].id
    workspace.do(AddTextFrame(page, Rect(50, 50, 300, 20)))
    story = workspace.job.pages[0].frames[0].story or ""
    workspace.do(ReplaceText(story, Place("^", 0), Place("^", 0), "one line here\n"))
    art = Display(workspace.composition).page(0).frames[-1]
    assert art.overset is not None
    assert (art.overset.short, art.overset.long, art.overset.fits) == ("1 line", "1 empty line", "does not fit")
    cells = "\n".join("\t".join(["mud and sand"] * 3) for _ in range(30))
    workspace.do(ReplaceText(story, Place("^", 0), Place("$", 0), "tide"), AddTable(story, Place("^", 0), words=cells))
    over = overset_of(workspace.composition.flows[story])
    assert over is not None
    assert over.rows >= 29
    assert over.words == over.rows * 9
    assert over.short == f"{over.rows} rows"


def test_an_imprint_stands_at_the_foot_of_a_verso() -> None:
    workspace = Workspace(book())
    front = (Paragraph("t", "title", "The Flats"), *(Paragraph(f"i{n}", "imprint", f"Notice {n}") for n in range(4)))
    workspace.do(PourText("main", (*front, Paragraph("c", "chapter", "Slack water"), *paragraphs(3)[1:])))
    flow = workspace.composition.main
    assert flow is not None
    where = {flow.paragraphs[b.paragraph].paragraph.id: (c.slot, b) for c in flow.columns for b in c.blocks}
    slots = [where[f"i{n}"][0] for n in range(4)]
    assert {(slot.page, slot.side) for slot in slots} == {(1, "verso")}
    last = where["i3"][1]
    assert last.foot + flow.extent(last.paragraph)[1] == pytest.approx(slots[0].rect.foot)
    assert where["c"][0].page == 2
    # Where pages do not face each other there is no left: it begins a page.
    apart = Workspace(book(facing=False))
    apart.do(PourText("main", (*front, Paragraph("c", "chapter", "Slack water"))))
    assert apart.composition.main is not None
    assert [c.slot.page for c in apart.composition.main.columns if c.blocks] == [0, 1, 2]


def test_no_word_is_divided_over_the_leaf_but_within_an_opening() -> None:
    def divided(hyphens: object) -> set[tuple[str, bool]]:
        job = book()
        style = job.paragraph_styles["body"]
        job.paragraph_styles["body"] = replace(style, para=replace(style.para, hyphen_column=hyphens))
        workspace = Workspace(job)
        long = ["observatory", "turnstones", "redshanks", "multitudinous", "waterlogged", "estuarine", "the", "of"]
        texts = (" ".join(random.Random(n).choices(long, k=180)) for n in range(60))
        workspace.do(PourText("main", tuple(Paragraph(f"p{n}", "body", text) for n, text in enumerate(texts))))
        flow = workspace.composition.main
        assert flow is not None
        ends = [(c.slot.side, c.blocks[-1]) for c in flow.columns if c.blocks]
        return {(side, flow.divides(b.paragraph, b.measure, b.base, b.last_line - 1)) for side, b in ends}

    everywhere = divided(True)
    assert {("recto", True), ("verso", True)} <= everywhere
    assert {("recto", True), ("verso", True)} & divided("leaf") == {("verso", True)}
    assert {("recto", True), ("verso", True)} & divided(False) == set()


def test_every_table_of_a_job_is_registered() -> None:
    tables = {f.name for f in fields(Job) if str(f.type).startswith("Annotated[dict[")}
    assert set(TABLES) == tables


@pytest.mark.parametrize("table", TABLES)
def test_an_edit_reaches_as_far_as_it_says(table: str) -> None:
    """What is left as it was, is as it would be composed anew; and what only looks otherwise is not composed at all."""
    workspace = poured(30)
    first = workspace.job.stories["main"].paragraphs[1].id
    workspace.do(PutCopy("House", "The Saltmarsh Observatory"), PutPaper(Paper("cream", "Cream", 0.2)))
    (copy,) = workspace.job.copies
    workspace.do(
        *(
            InsertField("main", Place(first, 0), Place(first, 0), f)
            for f in (Anchor("copy", copy), Anchor("fact", "paper"))
        )
    )
    overlay = Overlay("o1", "Template", "0" * 64, 100, 100)
    workspace.run(
        [
            PutEntry("overlays", "o1", plain(overlay)),
            PutEntry("fonts", "t1", plain(OwnFont("t1", "A.otf", "1" * 64, "A"))),
        ]
    )
    entries = getattr(workspace.job, table) or {"new": None}
    flow, lines = workspace.composition.main, list(workspace.composition.main.columns)  # type: ignore[union-attr]
    for key, entry in entries.items():
        if entry is None:
            continue
        changed = {**plain(entry), "name": "Another name"}
        if table == "copies":
            changed["text"] = "Another, much longer name of the house " * 9
        workspace.run([PutEntry(table, key, changed)])
        assert shape(workspace.composition) == shape(Composition(workspace.job)), key
        assert not paged(workspace.composition) or table == "copies"
    if TABLES[table].reach in ("nothing", "looks"):
        assert workspace.composition.main is flow
        assert all(a is b for a, b in zip(flow.columns, lines, strict=True))  # type: ignore[union-attr]


def test_a_frame_too_small_for_a_line_does_not_make_pages_without_end() -> None:
    workspace = Workspace(book())
    workspace.do(PourText("main", (Paragraph("p1", "body", words(50), para=ParaSpec(leading=900.0, grid=False)),)))
    assert len(workspace.job.pages) < 120
    workspace = Workspace(book(height=140.0))
    workspace.do(PourText("main", (Paragraph("p1", "title", words(5)), *paragraphs(3))))
    assert workspace.composition.main is not None
    assert workspace.composition.main.overset
    assert len(workspace.job.pages) < 5
