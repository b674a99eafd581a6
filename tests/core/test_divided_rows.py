"""Rows of tables that go on in the next column: every line of every cell stands once, in order, in its room, with two
on either side."""

from __future__ import annotations

import random
from collections import defaultdict
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.document.consistency import check
from lexigon.core.document.model import Cell, Job, Paragraph, TextTable
from lexigon.core.editing import intents as do
from lexigon.core.editing.edits import EditError
from lexigon.core.editing.intents.tables.content import CellSaid
from lexigon.core.editing.intents.text.words import Place
from lexigon.core.fileformat.jobs import job_from_json, job_to_json
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.tables import LEAST_LINES
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from lexigon.core.paint.page import FrameArt
from tests.core.helpers import book, examples, words


def frames_with(rows: list[list[int]], sizes: list[tuple[float, float]], heads: int = 0, foots: int = 0) -> Workspace:
    """A table with so many words in its cells, in frames of these widths and heights led from page to page."""
    workspace = Workspace(book(facing=False))
    workspace.do(do.AddPages(len(workspace.job.pages), max(len(sizes) - len(workspace.job.pages), 0)))
    for page, (wide, high) in zip(workspace.job.pages, sizes, strict=False):
        workspace.do(do.AddTextFrame(page.id, Rect(60, 60, wide, high)))
    led = [page.frames[-1] for page in workspace.job.pages[: len(sizes)]]
    for one, two, page in zip(led, led[1:], workspace.job.pages[1:], strict=False):
        workspace.do(do.LinkFrames(one.id, page.id, two.id))
    key = next(story.id for story in workspace.job.stories.values() if led[0].id in story.frames)
    first = workspace.job.stories[key].paragraphs[0].id
    workspace.do(
        do.AddTable(key, Place(first, 0), heads=heads, words="\n".join("\t".join("x" for _ in row) for row in rows))
    )
    (table,) = workspace.job.tables.values()
    cells = tuple(
        tuple(
            Cell((Paragraph(f"c{r}-{c}", "body", words(count, 31 * r + c)),)) if count else Cell()
            for c, count in enumerate(row)
        )
        for r, row in enumerate(rows)
    )
    workspace.job.tables[table.id] = replace(table, rows=cells, foots=foots, divide=True)
    return Workspace(workspace.job)


def cells_of(workspace: Workspace) -> dict[str, list[tuple[int, FrameArt]]]:
    """The parts of each cell, page by page."""
    found: dict[str, list[tuple[int, FrameArt]]] = defaultdict(list)
    for index in range(len(workspace.job.pages)):
        for one in Display(workspace.composition).page(index).frames:
            if one.role == "cell":
                found[one.story or ""].append((index, one))
    return found


def table_in(job: Job) -> TextTable:
    (table,) = job.tables.values()
    return table


@settings(max_examples=examples(40), deadline=None)
@given(
    st.lists(st.lists(st.sampled_from([0, 3, 12, 40, 90, 160]), min_size=2, max_size=2), min_size=1, max_size=6),
    st.lists(st.tuples(st.sampled_from([180.0, 240.0, 300.0]), st.floats(60, 260)), min_size=14, max_size=14),
    st.integers(0, 1),
)
def test_every_word_of_every_cell_stands_once_whatever_the_columns(
    rows: list[list[int]], sizes: list[tuple[float, float]], heads: int
) -> None:
    """By a count of the words: what stands in the parts of a cell, one after another, is the cell's text as far as
    there are columns."""
    workspace = frames_with([[2, 2], *rows] if heads else rows, sizes, heads)
    flow = next(flow for key, flow in workspace.composition.flows.items() if key != workspace.job.main_story)
    parts = cells_of(workspace)
    table = table_in(workspace.job)
    for r, row in enumerate(table.rows):
        if r < heads:
            continue
        for c, cell in enumerate(row):
            text = cell.paragraphs[0].text if cell.paragraphs else ""
            at = 0
            for page, art in parts[f"{table.id}/{r}.{c}"]:
                frame = next(one for one in workspace.job.pages[page].frames if not one.main)
                assert frame.rect is not None
                for line in art.lines:
                    assert line.start == at
                    assert line.baseline <= art.rect.foot
                    at = line.end + (text[line.end : line.end + 1] == " ")
            if not flow.overset:
                assert at == len(text), (r, c, at, len(text))
    # What stands at the foot of a column stays within it, but for what no column could hold.
    for column in flow.columns:
        for block in column.blocks:
            foot = column.slot.rect.foot
            assert block.foot <= foot + 0.1 or len(column.blocks) == block.last_line - block.first_line == 1
    check(workspace.job)


def test_a_row_is_divided_where_two_lines_of_each_cell_stand_on_either_side() -> None:
    """By hand: rows of a line and of many; what goes on is on the page behind, in its own columns' widths, below the
    head row."""
    workspace = frames_with([[2, 2], [3, 60], [3, 3]], [(240, 100), (180, 400), (240, 400)], heads=1)
    parts = cells_of(workspace)
    key = table_in(workspace.job).id
    long = parts[f"{key}/1.1"]
    assert [page for page, _ in long] == [0, 1]
    assert all(len(art.lines) >= LEAST_LINES for _, art in long)
    assert [page for page, _ in parts[f"{key}/0.0"]] == [0, 1]  # the head is repeated
    assert [page for page, _ in parts[f"{key}/2.0"]] == [1]
    end = long[0][1].lines[-1].end
    p = table_in(workspace.job).rows[1][1].paragraphs[0].id
    assert [workspace.composition.page_of(f"{key}/1.1", p, at) for at in (0, end - 1, end + 1, end + 30)] == [
        0,
        0,
        1,
        1,
    ]
    # Where rows may not be divided it stands whole on the page behind.
    table = table_in(workspace.job)
    workspace.do(
        do.ChangeTable(
            key,
            tuple(
                tuple(CellSaid(" ".join(p.text for p in cell.paragraphs), was=2 * r + c) for c, cell in enumerate(row))
                for r, row in enumerate(table.rows)
            ),
            heads=1,
            divide=False,
        )
    )
    assert [page for page, _ in cells_of(workspace)[f"{key}/1.1"]] == [1]


def test_a_cell_higher_than_any_page_goes_over_all_of_them() -> None:
    workspace = frames_with([[160, 5]], [(200, 150)] * 12)
    flow = next(flow for key, flow in workspace.composition.flows.items() if key != workspace.job.main_story)
    assert not flow.overset
    parts = cells_of(workspace)[f"{table_in(workspace.job).id}/0.0"]
    assert len(parts) > 4
    assert [page for page, _ in parts] == list(range(len(parts)))


def test_rows_bound_together_turned_or_citing_notes_are_not_divided() -> None:
    for how in ("bound", "turned"):
        workspace = frames_with([[3, 60], [3, 60], [3, 3]], [(240, 130), (240, 500), (240, 500)])
        key = table_in(workspace.job).id
        assert len(cells_of(workspace)[f"{key}/0.1"]) + len(cells_of(workspace)[f"{key}/1.1"]) > 2, "divided as it is"
        cells = do.Cells(key, 0, 0, 1, 0)
        workspace.do(do.JoinCells(cells) if how == "bound" else do.SetCells(cells, turn=90))
        assert all(len(found) == 1 for found in cells_of(workspace).values())
    workspace = Workspace(book())
    workspace.do(do.PourText("main", (Paragraph("pa", "body", words(300)), Paragraph("pb", "body", ""))))
    workspace.do(do.AddTable("main", Place("pb", 0), heads=0, words="a\tb\nc\td"))
    key = table_in(workspace.job).id
    place = Place(table_in(workspace.job).rows[0][0].paragraphs[0].id, 0)
    with pytest.raises(EditError, match="A note can be in a story on pages"):
        workspace.do(do.AddNote(f"{key}/0.0", place, place, "note"))


def test_typing_in_a_divided_cell_is_followed_as_if_composed_anew() -> None:
    workspace = frames_with([[40, 120], [160, 12], [30, 200]], [(240, 120), (200, 160), (260, 150)] * 5)
    key = table_in(workspace.job).id
    chance = random.Random(7)
    for _ in range(examples(12)):
        row = chance.randrange(3)
        p = table_in(workspace.job).rows[row][1].paragraphs[0]
        at = chance.randrange(len(p.text))
        end = min(at + chance.randrange(40), len(p.text))
        workspace.do(
            do.ReplaceText(f"{key}/{row}.1", Place(p.id, at), Place(p.id, end), words(chance.randrange(25), at))
        )
        fresh = Composition(job_from_json(job_to_json(workspace.job)))
        for one, two in zip(_drawn(workspace.composition), _drawn(fresh), strict=True):
            assert one == two


def _drawn(composition: Composition) -> list[list[tuple[str, float, int, int]]]:
    """Every line on every page."""
    return [
        [
            (line.paragraph, round(line.baseline, 4), line.start, line.end)
            for one in Display(composition).page(index).frames
            for line in one.lines
        ]
        for index in range(len(composition.job.pages))
    ]
