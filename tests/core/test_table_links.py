"""Tables whose words come from a file, which changes while an editor does."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.cli.main import main
from lexigon.core.document.consistency import check
from lexigon.core.document.model import Cell, Paragraph, Span, TextTable
from lexigon.core.editing import intents as do
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat import package
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.flow.workspace import Workspace
from lexigon.core.manuscript.readers.cell_files import CellFile, cells_in
from lexigon.core.tables.grid import cell_at, placed_cells
from lexigon.core.tables.links import TableUpdate, refreshed, words_of
from lexigon.core.tables.shapes import Range, joined
from tests.core.helpers import book, examples
from tests.core.test_workbooks import workbook

Rows = list[list[str]]


def table(rows: Rows, heads: int = 0) -> TextTable:
    made = (
        tuple(Cell((Paragraph(f"p{r}x{c}", "body", words),)) for c, words in enumerate(row))
        for r, row in enumerate(rows)
    )
    return TextTable("t", "Table", tuple(made), heads)


def linked(rows: Rows, heads: int = 0) -> TextTable:
    return refreshed(table(rows, heads), rows, "tides.csv").table


def said(found: TableUpdate) -> tuple[int, int, int, int]:
    return found.changed, found.new, found.gone, found.kept


TIDES = [["Place", "High", "Low"], ["Comb", "3.1", "0.4"], ["Merrow", "2.9", "0.2"], ["Gut", "3.3", "0.6"]]


def test_what_only_the_file_changed_is_taken_over_and_what_was_changed_by_hand_stays() -> None:
    first = linked(TIDES, heads=1)
    rows = [list(row) for row in first.rows]
    rows[1][1] = replace(
        rows[1][1], fill=None, paragraphs=(replace(rows[1][1].paragraphs[0], spans=(Span(0, 3, style="emphasis"),)),)
    )
    rows[2][2] = Cell((replace(rows[2][2].paragraphs[0], text="0.25"),))
    own = table([["Own row", "by hand", ""]]).rows[0]
    mine = replace(first, rows=(*map(tuple, rows[:3]), own, tuple(rows[3])))
    new = [["Place", "High", "Low"], ["Barrow", "2.0", "0.1"], ["Comb", "3.2", "0.4"], ["Merrow", "2.9", "0.3"]]
    found = refreshed(mine, new, "tides.csv")
    assert words_of(found.table) == [
        ["Place", "High", "Low"],
        ["Barrow", "2.0", "0.1"],
        ["Comb", "3.2", "0.4"],
        ["Merrow", "2.9", "0.25"],
        ["Own row", "by hand", ""],
    ]
    assert said(found) == (1, 1, 1, 1), "a cell changed, a row came, Gut went, 0.25 stays"
    assert found.summary == "1 cell changed, 1 row new, 1 row gone, 1 place left as you changed them"
    comb = found.table.rows[2][1].paragraphs[0]
    assert [(span.start, span.style) for span in comb.spans] == [(0, "emphasis")], (
        "in the looks of the words that were there"
    )
    again = refreshed(found.table, new, "tides.csv")
    assert said(again) == (0, 0, 0, 0), "the file has changed nothing since"
    assert again.table == found.table
    # A row that was taken out by hand stays out; one that the file dropped stays if it was changed here.
    without = replace(found.table, rows=(found.table.rows[0], *found.table.rows[2:]))
    kept = refreshed(without, [TIDES[0], ["Comb", "3.2", "0.4"], ["Barrow", "2.0", "9.9"]], "tides.csv")
    assert [row[0] for row in words_of(kept.table)] == ["Place", "Comb", "Merrow", "Own row"]
    assert (kept.gone, kept.kept) == (0, 2)


@settings(max_examples=examples(80), deadline=None)
@given(st.data())
def test_a_table_nobody_touched_becomes_what_the_file_holds_and_a_file_nobody_changed_leaves_all_as_it_is(
    data: st.DataObject,
) -> None:
    wide = data.draw(st.integers(1, 4))
    word = st.sampled_from(["", "a", "b", "knot", "3.1"])
    grid = st.lists(st.lists(word, min_size=wide, max_size=wide), min_size=1, max_size=7)
    before, after = data.draw(grid), data.draw(grid)
    first = linked(before)
    assert words_of(first) == before
    found = refreshed(first, after, "x")
    assert words_of(found.table) == after
    assert found.kept == 0
    assert found.table.given == tuple(map(tuple, after))
    assert refreshed(found.table, after, "x").table == found.table
    # By hand in one cell: that stays whatever the file says elsewhere, as long as its row is told by its first cell.
    ids = [p.id for row in found.table.rows for cell in row for p in cell.paragraphs]
    assert len(set(ids)) == len(ids)
    row, column = data.draw(st.integers(0, len(before) - 1)), data.draw(st.integers(0, wide - 1))
    rows = [list(one) for one in first.rows]
    rows[row][column] = Cell((replace(rows[row][column].paragraphs[0], text="HAND"),))
    same = refreshed(replace(first, rows=tuple(map(tuple, rows))), before, "x")
    assert words_of(same.table)[row][column] == "HAND"
    assert sum(len(one) for one in same.table.rows) == sum(len(one) for one in first.rows)


def test_cells_merged_in_the_file_are_merged_in_the_table_also_when_rows_come() -> None:
    first = [["Tides", "", ""], ["Comb", "3.1", "0.2"], ["", "3.3", "0.4"], ["Barrow", "2.0", "0.1"]]
    spans = [Range(0, 0, 0, 2), Range(1, 0, 2, 0)]
    start = replace(table([["", ""], ["", ""]], heads=1), given=())
    found = refreshed(start, first, "x.xlsx", spans)
    assert "2 cells merged" in found.summary
    merged = [
        (one.row, one.column, one.across, one.down) for one in placed_cells(found.table) if one.across * one.down > 1
    ]
    assert merged == [(0, 0, 3, 1), (1, 0, 1, 2)]
    assert refreshed(found.table, first, "x.xlsx", spans).table == found.table, "nothing has changed"
    more = [*first[:3], ["", "3.6", "0.5"], ["Gut", "1.0", "0.3"], first[3]]
    longer = refreshed(found.table, more, "x.xlsx", [spans[0], Range(1, 0, 3, 0)])
    assert words_of(longer.table) == more
    assert cell_at(longer.table, 3, 0) == cell_at(longer.table, 1, 0)
    by_hand = replace(longer.table, rows=joined(longer.table, Range(4, 1, 4, 2)).rows)
    again = refreshed(by_hand, [*more[:5], ["Barrow", "2.1", "0.1"]], "x.xlsx", [spans[0], Range(1, 0, 3, 0)])
    placed = cell_at(again.table, 4, 2)
    assert placed
    assert placed.across == 2, "what was merged by hand stays"
    assert words_of(again.table)[5][1] == "2.1"


def test_a_table_is_linked_refreshed_undone_and_kept_in_the_file(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    workspace = Workspace(book(facing=False))
    workspace.do(do.PourText("main", (Paragraph("pa", "body", ""),)))
    workspace.do(do.AddTable("main", do.Place("pa", 0), words="Place,High\nComb,3.1\n"))
    (key,) = workspace.job.tables
    workspace.do(do.RefreshTable(key, "tides.csv", "Place,High\nComb,3.1\n"))
    assert workspace.job.tables[key].source == "tides.csv"
    before = job_to_json(workspace.job)
    change = workspace.do(do.RefreshTable(key, "tides.csv", "Place,High,Low\nComb,3.2,0.4\nGut,3.3,0.6\n"))
    check(workspace.job)
    assert words_of(workspace.job.tables[key]) == [
        ["Place", "High", "Low"],
        ["Comb", "3.2", "0.4"],
        ["Gut", "3.3", "0.6"],
    ]
    assert package.read(package.write(workspace.job, {})).tables == workspace.job.tables
    workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before
    for words, why in (("", "nothing to paste"), (",".join("x" * 900), "columns")):
        with pytest.raises(LexigonError, match=why):
            workspace.do(do.RefreshTable(key, "tides.csv", words))
    change = workspace.do(do.RefreshTable(key, "tides.csv", "Place,High\nComb,3.1\n", merged=(do.Merge(0, 0, 0, 1),)))
    assert len(workspace.job.tables[key].rows[0]) == 1
    with pytest.raises(LexigonError, match="A merged cell in the file ends before it"):
        workspace.do(do.RefreshTable(key, "tides.csv", "Place,High\n", merged=(do.Merge(1, 0, 0, 1),)))
    workspace.run(change.inverse)
    # The same from the command line.
    monkeypatch.chdir(tmp_path)
    Path("t.lexigon").write_bytes(package.write(workspace.job, {}))
    Path("tides.csv").write_bytes("Place;High\nComb;3.1\nMérrow;2.9\n".encode("cp1252"))
    assert main(["tables", "t.lexigon", "--refresh", "tides.csv"]) == 0
    assert main(["tables", "t.lexigon"]) == 0
    assert (
        capsys.readouterr().out
        == "Table 1: 1 row new\nt.lexigon: written\nTable 1: 3 rows of 2 columns, from tides.csv\n"
    )
    assert words_of(package.read(Path("t.lexigon").read_bytes()).tables[key])[2] == ["Mérrow", "2.9"]
    Path("other.csv").write_text("a,b")
    assert main(["tables", "t.lexigon", "--refresh", "other.csv"]) == 2
    assert main(["tables", "t.lexigon", "--refresh", "other.csv", "--table", "None"]) == 2
    assert "Name the table to update" in capsys.readouterr().err
    # A workbook of several sheets: one is named once, then known by where the table came from.
    Path("counts.xlsx").write_bytes(
        workbook({"Spring": [["Place", "High"], ["Comb", 3.1]], "Autumn": [["Place", "High"], ["Comb", 0.5]]})
    )
    assert main(["tables", "t.lexigon", "--refresh", "counts.xlsx", "--table", "Table 1"]) == 2
    assert "“Spring” and “Autumn”. Select one with --sheet" in capsys.readouterr().err
    assert main(["tables", "t.lexigon", "--refresh", "counts.xlsx", "--table", "Table 1", "--sheet", "Winter"]) == 2
    assert main(["tables", "t.lexigon", "--refresh", "counts.xlsx", "--table", "Table 1", "--sheet", "Autumn"]) == 0
    Path("counts.xlsx").write_bytes(workbook({"Spring": [["a", "b"]], "Autumn": [["Place", "High"], ["Comb", 0.75]]}))
    assert main(["tables", "t.lexigon", "--refresh", "counts.xlsx"]) == 0
    assert "1 cell changed" in capsys.readouterr().out
    table = package.read(Path("t.lexigon").read_bytes()).tables[key]
    assert table.source == "counts.xlsx, Autumn"
    assert words_of(table)[1] == ["Comb", "0.75"]
    # A single column whose words hold commas stays one.
    Path("one.xlsx").write_bytes(workbook({"Only": [["a, b"], ["c, d"]]}))
    assert isinstance(found := cells_in(Path("one.xlsx").read_bytes(), "one.xlsx", "en"), CellFile)
    assert found.rows == [["a, b"], ["c, d"]]
    bound = workspace.job.tables[key]
    bound = replace(bound, rows=((replace(bound.rows[0][0], down=2), bound.rows[0][1]), bound.rows[1][1:]))
    with pytest.raises(LexigonError, match="Split them first"):
        refreshed(bound, [["Place", "High"], ["New", "1"], ["Comb", "3.1"]], "x")
