"""The cells of tables as texts: what is done to texts is done to them, wherever they stand, and comes to nothing where
they are gone."""

from __future__ import annotations

import random
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.document.cell_stories import cell_key, text_of
from lexigon.core.document.consistency import check
from lexigon.core.document.model import Anchor, Cell, Paragraph, ParaSpec, TextTable, TypeSpec
from lexigon.core.editing import intents as do
from lexigon.core.editing.conflicts import parts_touched
from lexigon.core.editing.edits import EditError, apply_all
from lexigon.core.editing.intents.text.words import Place
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.jobs import job_from_json, job_to_json
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.plain_text import field_text, texts_of
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.manuscript.writers.outgoing import copy_of
from lexigon.core.manuscript.writers.writing import written
from lexigon.core.paint.display import Display
from lexigon.core.paint.page import FrameArt
from lexigon.core.paint.svg import svg_of
from lexigon.core.tables.sums import total
from tests.core.helpers import book, examples, words


def with_table(rows: int = 3, columns: int = 3, heads: int = 1) -> tuple[Workspace, str]:
    workspace = Workspace(book())
    workspace.do(do.PourText("main", (Paragraph("pa", "body", words(30)), Paragraph("pb", "body", words(30, 2)))))
    told = "\n".join("\t".join(f"r{r}c{c}" for c in range(columns)) for r in range(rows))
    workspace.do(do.AddTable("main", Place("pa", 3), heads=heads, words=told))
    return workspace, next(iter(workspace.job.tables))


def rows_of(workspace: Workspace, table: str) -> list[list[str]]:
    return [["|".join(p.text for p in cell.paragraphs) for cell in row] for row in workspace.job.tables[table].rows]


def cells(workspace: Workspace, page: int) -> list[FrameArt]:
    return [one for one in Display(workspace.composition).page(page).frames if one.role == "cell"]


def painted(composition: Composition) -> list[str]:
    display = Display(composition)
    return [svg_of(display.page(index).items()) for index in range(len(composition.job.pages))]


def begin(workspace: Workspace, key: str, offset: int = 0) -> Place:
    story = text_of(workspace.job, key)
    assert story is not None
    return Place(story.paragraphs[0].id, offset)


def test_a_cell_is_typed_in_set_and_taken_back_as_any_text() -> None:
    workspace, table = with_table()
    before = job_to_json(workspace.job)
    key = cell_key(table, 1, 2)
    done = [workspace.do(do.ReplaceText(key, begin(workspace, key, 4), begin(workspace, key, 4), " and\nmore"))]
    assert rows_of(workspace, table)[1] == ["r1c0", "r1c1", "r1c2 and|more"]
    second = workspace.job.tables[table].rows[1][2].paragraphs[1].id
    done.append(workspace.do(do.FormatText(key, Place(second, 0), Place(second, 4), TypeSpec(italic=True))))
    done.append(workspace.do(do.SetParagraphs(key, second, second, para=ParaSpec(align="right"))))
    done.append(workspace.do(do.ReplaceText(key, Place(second, -1), Place(second, 0), "")))  # joined again
    assert rows_of(workspace, table)[1][2] == "r1c2 andmore"
    check(workspace.job)
    assert parts_touched(done[0].edits) == {("tables", table)}
    assert "r1c2 andmore" in " ".join(
        "".join(run.text for line in one.lines for run in line.runs) for one in cells(workspace, 0)
    )
    for change in reversed(done):
        apply_all(workspace.job, change.inverse)
    assert job_to_json(workspace.job) == before


def test_what_is_no_longer_there_changes_nothing() -> None:
    workspace, table = with_table()
    key = cell_key(table, 1, 0)
    place = begin(workspace, key)
    before = job_to_json(workspace.job)
    for wrong, at in (
        (cell_key(table, 9, 0), place),
        (cell_key("gone", 0, 0), place),
        (cell_key(table, 2, 0), place),
        ("t/x", place),
    ):
        with pytest.raises(EditError, match=r"no longer in the job|changed in another window"):
            workspace.do(do.ReplaceText(wrong, at, at, "x"))
    for refused in (
        do.AddNote(key, place, place, "note"),
        do.AddTable(key, place, words="a"),
        do.AddInlay(key, place, place, 20, 20, where="near"),
    ):
        with pytest.raises(EditError, match="can be in a story on pages"):
            workspace.do(refused)
    assert job_to_json(workspace.job) == before


def test_rows_are_added_before_the_feet_with_the_looks_of_the_last() -> None:
    workspace, table = with_table(4)
    rows = workspace.job.tables[table].rows
    tall = Cell(rows[1][0].paragraphs, down=2, vertical="bottom")
    made = TextTable(table, "t", (rows[0], (tall, *rows[1][1:]), rows[2][1:], rows[3]), 1, 1)
    workspace.job.tables[table] = made
    workspace.do(do.AddTableRow(table))
    assert rows_of(workspace, table)[2:] == [["r2c1", "r2c2"], ["", "", ""], ["r3c0", "r3c1", "r3c2"]]
    added = workspace.job.tables[table].rows[3]
    assert (added[0].vertical, added[0].down, added[1].vertical) == ("bottom", 1, None)
    check(workspace.job)
    with pytest.raises(EditError):
        workspace.do(do.AddTableRow("gone"))


def test_cells_from_a_spreadsheet_fill_a_table_which_grows_before_its_feet() -> None:
    workspace, table = with_table(3)
    rows = workspace.job.tables[table].rows
    workspace.job.tables[table] = replace(workspace.job.tables[table], foots=1)
    looked = workspace.do(
        do.FormatText(
            cell_key(table, 1, 1),
            begin(workspace, cell_key(table, 1, 1)),
            begin(workspace, cell_key(table, 1, 1), 4),
            TypeSpec(weight=700),
        )
    )
    assert looked.edits
    change = workspace.do(do.FillCells(table, 1, 1, "r1c1!\tb\tc\n1\t2\t3\n\t\t\n"))
    check(workspace.job)
    assert rows_of(workspace, table) == [
        ["r0c0", "r0c1", "r0c2", ""],
        ["r1c0", "r1c1!", "b", "c"],
        ["", "1", "2", "3"],
        ["", "", "", ""],
        ["r2c0", "r2c1", "r2c2", ""],
    ]
    (bold,) = workspace.job.tables[table].rows[1][1].paragraphs[0].spans
    assert bold.start == 0, "looks of words that stay are kept"
    workspace.run(change.inverse)
    assert rows_of(workspace, table)[2] == ["r2c0", "r2c1", "r2c2"]
    wide = replace(rows[1][0], across=3)
    workspace.job.tables[table] = replace(workspace.job.tables[table], rows=(rows[0], (wide,), rows[2]))
    workspace.do(do.FillCells(table, 0, 0, "a,b,c\nd,e,f"))
    assert rows_of(workspace, table)[:2] == [["a", "b", "c"], ["d"]]
    for wrong in (
        do.FillCells(table, 9, 0, "x"),
        do.FillCells(table, 0, 0, " \n"),
        do.FillCells(table, 0, 0, "x\t" * 3000),
    ):
        with pytest.raises(LexigonError):
            workspace.do(wrong)


def test_a_head_that_is_repeated_is_one_text_and_rows_know_their_page() -> None:
    workspace, table = with_table(120)
    pages = [page for page in range(len(workspace.job.pages)) if cells(workspace, page)]
    assert len(pages) > 2
    head = cell_key(table, 0, 1)
    for page in pages:
        (shown,) = (one for one in cells(workspace, page) if one.story == head)
        assert (shown.number > 0) == (page != pages[0])
    workspace.do(do.ReplaceText(head, begin(workspace, head), begin(workspace, head, 4), "Height"))
    for page in pages:
        (shown,) = (one for one in cells(workspace, page) if one.story == head)
        assert "".join(run.text for run in shown.lines[0].runs) == "Height"
        (host,) = {one.cited for one in cells(workspace, page)}
        assert host is not None
        assert host[0] == "main"
    assert workspace.composition.page_of(head, "", 0) is None, "it stands on all of them"
    rows = [workspace.composition.page_of(cell_key(table, row, 0), "", 0) for row in range(1, 120)]
    assert rows == sorted(rows, key=lambda page: page or 0)
    assert {*rows} == {*pages}


def test_in_a_frame_that_is_turned_or_mixed_cells_are_drawn_with_it() -> None:
    workspace, _table = with_table()
    page = workspace.job.pages[0].id
    workspace.do(do.AddTextFrame(page, Rect(60, 60, 220, 200)))
    frame = workspace.job.pages[0].frames[-1]
    workspace.do(do.AddTable(frame.story or "", Place("^", 0), words="a\tb\nc\td"))
    assert len(cells(workspace, 0)) == 9 + 4
    whole = painted(workspace.composition)[0].count("<text")
    workspace.do(do.ChangeFrame(page, frame.id, rotation=20.0))
    assert len(cells(workspace, 0)) == 9
    assert painted(workspace.composition)[0].count("<text") == whole


@pytest.mark.parametrize(
    ("cells_", "language", "told"),
    [
        (("1.5", "2", "–", "0.25 m"), "en-GB", "3.75"),
        (("1,200", "800", "−50"), "en-GB", "1,950"),
        (("1.234,5", "10"), "de-DE", "1.244,5"),
        (("6 100", "5 900"), "fr-FR", "12 000"),
        (("-3", "1"), "en-GB", "−2"),
        (("0.1", "0.2"), "en-GB", "0.3"),
        (("none", ""), "en-GB", ""),
        (("£3.50", "£1,200.25"), "en-GB", "£1,203.75"),
        (("−$3", "$1"), "en-GB", "−$2"),
        (("€ 1.000,5", "€ -2"), "de-DE", "€ 998,5"),
        (("40 %", "-12 %"), "de-DE", "28 %"),
        (("3 km", "12 km"), "en-GB", "15 km"),
        (("3 km", "12 mi"), "en-GB", "15"),
        (("3 pairs, one ringed", "2 pairs, one ringed"), "en-GB", "5"),
    ],
)
def test_totals_by_hand(cells_: tuple[str, ...], language: str, told: str) -> None:
    assert total(cells_, language) == told


def test_a_sum_follows_its_column_and_goes_out_with_the_copy() -> None:
    workspace, table = with_table(4)
    workspace.job.tables[table] = replace(workspace.job.tables[table], foots=1)
    workspace.do(do.FillCells(table, 1, 1, "5.5\n1,200"))
    foot = cell_key(table, 3, 1)
    workspace.do(do.InsertField(foot, begin(workspace, foot), begin(workspace, foot, 4), Anchor("sum")))
    check(workspace.job)

    def shown() -> str:
        (one,) = (
            cell for page in range(len(workspace.job.pages)) for cell in cells(workspace, page) if cell.story == foot
        )
        return "".join(run.text for run in one.lines[0].runs)

    assert shown() == "1,205.5"
    key = cell_key(table, 1, 1)
    workspace.do(do.ReplaceText(key, begin(workspace, key), begin(workspace, key, 1), "7"))
    assert shown() == "1,207.5"
    workspace.do(do.AddTableRow(table))
    foot = cell_key(table, 4, 1)
    workspace.do(do.FillCells(table, 3, 1, "0.25"))
    assert shown() == "1,207.75"
    workspace.do(do.ReplaceText(foot, begin(workspace, foot), begin(workspace, foot), "All: "))
    assert shown() == "All: 1,207.75", "words stand beside it"
    source = copy_of(workspace.job, texts_of(workspace.composition), field_text(workspace.composition), {}.get)
    assert "All: 1,207.75" in written(source, workspace.job, "md")[0].decode()


@settings(max_examples=examples(12), deadline=None)
@given(st.integers(0, 10**6), st.integers(1, 40), st.integers(1, 4))
def test_edits_of_cells_leave_what_composing_anew_would(seed: int, rows: int, columns: int) -> None:
    """What was kept of cells that did not change is what they would be set as; a job read again is the same."""
    chance = random.Random(seed)
    workspace, table = with_table(rows, columns, heads=min(1, rows - 1))
    done, start = [], job_to_json(workspace.job)
    for _ in range(5):
        row = chance.randrange(len(workspace.job.tables[table].rows))
        key = cell_key(table, row, chance.randrange(columns))
        story = text_of(workspace.job, key)
        assert story is not None
        p = chance.choice(story.paragraphs)
        a, b = sorted((chance.randint(0, len(p.text)), chance.randint(0, len(p.text))))
        typed = chance.choice(["x", "12.5", "\n", "a long run of words that has no room on a line ", ""])
        intents: list[do.Intent] = [do.ReplaceText(key, Place(p.id, a), Place(p.id, b), typed)]
        if chance.random() < 0.3:
            intents.append(do.AddTableRow(table))
        if chance.random() < 0.3:
            intents.append(do.ReplaceText("main", Place("pa", 0), Place("pa", 0), words(chance.randint(1, 90)) + " "))
        done.append(workspace.do(*intents))
        check(workspace.job)
        assert painted(workspace.composition) == painted(Composition(job_from_json(job_to_json(workspace.job))))
    for change in reversed(done):
        workspace.run(change.inverse)
    assert job_to_json(workspace.job) == start
