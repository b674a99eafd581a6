"""Cells of a table chosen together: their looks, rules of their own, turned words, rows and columns beside them, joined
and parted."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from math import isclose

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.document.consistency import check
from lexigon.core.document.model import (
    OBJECT,
    Cell,
    CellRules,
    Code,
    Fill,
    Paragraph,
    ParaSpec,
    PictureFile,
    RuleStyle,
    Stroke,
    TableColumn,
    TableStyle,
    TextTable,
    TypeSpec,
)
from lexigon.core.editing import intents as do
from lexigon.core.editing.edits import EditError, apply_all
from lexigon.core.editing.intents.tables.content import CellSaid
from lexigon.core.editing.intents.text.words import Place
from lexigon.core.fileformat import package
from lexigon.core.fileformat.jobs import job_from_json, job_to_json
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from lexigon.core.paint.items import Group, Item, Path
from lexigon.core.paint.page import CellArt
from lexigon.core.path.steps import bounds
from lexigon.core.spec.sharing import looks_in
from lexigon.core.tables.grid import placed_cells
from lexigon.core.tables.shapes import Range, joined, parted, put_in, take_out, within
from tests.core.helpers import book, examples
from tests.core.test_cells import cells, rows_of, with_table
from tests.core.test_table_looks import body_of


def chosen(table: str, top: int, left: int, bottom: int, right: int) -> do.Cells:
    return do.Cells(table, top, left, bottom, right)


def rules(workspace: Workspace, weight: float, page: int = 0) -> list[tuple[float, float, float, float]]:
    """The lines of a weight on a page, as boxes."""
    found: list[tuple[float, float, float, float]] = []

    def look(item: Item) -> None:
        if isinstance(item, Group):
            for inner in item.items:
                look(inner)
        elif isinstance(item, Path) and item.pen is not None and isclose(item.pen.weight, weight):
            box = bounds(item.steps)
            assert box is not None
            found.append((box.x, box.y, box.right, box.foot))

    for item in Display(workspace.composition).page(page).items():
        look(item)
    return found


def place_of(cell: CellArt) -> tuple[int, int]:
    return cell.row, cell.column


def fresh(row: int, column: int) -> Cell:
    return Cell((Paragraph(f"n{row}-{column}", "body"),))


@st.composite
def tables(draw: st.DrawFn) -> TextTable:
    """A table in which some rectangles were joined."""
    high, wide = draw(st.integers(1, 6)), draw(st.integers(1, 6))
    rows = tuple(tuple(Cell((Paragraph(f"{r}-{c}", "body", f"{r} {c}"),)) for c in range(wide)) for r in range(high))
    table = TextTable("t", "T", rows, sizes=(TableColumn("fixed", 30.0),) * draw(st.integers(0, wide)))
    for _ in range(draw(st.integers(0, 3))):
        a, b = sorted((draw(st.integers(0, high - 1)), draw(st.integers(0, high - 1))))
        c, d = sorted((draw(st.integers(0, wide - 1)), draw(st.integers(0, wide - 1))))
        table = joined(table, Range(a, c, b, d))
    return table


def covered(table: TextTable) -> tuple[int, int]:
    """How high and wide a table is; every place of its grid belongs to one cell."""
    seen: set[tuple[int, int]] = set()
    for one in placed_cells(table):
        own = {(one.row + r, one.column + c) for r in range(one.down) for c in range(one.across)}
        assert not own & seen
        seen |= own
    high, wide = len(table.rows), 1 + max(column for _, column in seen)
    assert len(seen) == high * wide
    return high, wide


def words_in(table: TextTable) -> list[str]:
    return sorted(p.text for row in table.rows for cell in row for p in cell.paragraphs if p.text)


@settings(max_examples=examples(150))
@given(tables(), st.data())
def test_rows_and_columns_come_and_go_without_holes(table: TextTable, data: st.DataObject) -> None:
    high, wide = covered(table)
    before = words_in(table)
    way = data.draw(st.sampled_from(["rows", "columns"]))
    size = high if way == "rows" else wide
    at, count = data.draw(st.integers(0, size)), data.draw(st.integers(1, 3))
    larger = put_in(table, way, at, count, fresh)
    assert covered(larger) == ((high + count, wide) if way == "rows" else (high, wide + count))
    assert words_in(larger) == before
    assert take_out(larger, way, at, at + count - 1) == table
    span, inside = within(table, Range(0, 0, data.draw(st.integers(0, high - 1)), data.draw(st.integers(0, wide - 1))))
    one = joined(table, span)
    assert covered(one) == (high, wide)
    assert words_in(one) == before
    again = parted(one, span, fresh)
    assert covered(again) == (high, wide)
    assert words_in(again) == before
    assert len(within(again, span)[1]) == (span.bottom - span.top + 1) * (span.right - span.left + 1) >= len(inside)
    if size > 1:
        first = data.draw(st.integers(0, size - 2))
        smaller = take_out(table, way, first, first)
        assert covered(smaller) == ((high - 1, wide) if way == "rows" else (high, wide - 1))


def test_heads_feet_and_sizes_follow_rows_and_columns() -> None:
    workspace, key = with_table(rows=5, columns=3, heads=1)
    table = replace(workspace.job.tables[key], foots=1, sizes=(TableColumn(), TableColumn("fixed", 40.0)))
    workspace.job.tables[key] = table
    assert put_in(table, "rows", 0, 2, fresh).heads == 3
    assert put_in(table, "rows", 1, 2, fresh).heads == 1
    assert put_in(table, "rows", 4, 1, fresh).foots == 1
    assert put_in(table, "rows", 5, 1, fresh).foots == 2
    assert [one.value for one in put_in(table, "columns", 1, 1, fresh).sizes] == [0, 0, 40]
    assert (take_out(table, "rows", 0, 1).heads, take_out(table, "rows", 3, 4).foots) == (0, 0)
    assert [one.value for one in take_out(table, "columns", 0, 0).sizes] == [40]
    workspace.do(do.PutInCells(chosen(key, 1, 0, 2, 0), behind=True))
    assert [row[0] for row in rows_of(workspace, key)] == ["r0c0", "r1c0", "r2c0", "", "", "r3c0", "r4c0"]
    workspace.do(do.PutInCells(chosen(key, 0, 2, 0, 2), way="columns"))
    assert rows_of(workspace, key)[0] == ["r0c0", "r0c1", "", "r0c2"]
    workspace.do(do.TakeOutCells(chosen(key, 3, 0, 4, 3)))
    workspace.do(do.TakeOutCells(chosen(key, 0, 2, 9, 2), way="columns"))
    assert rows_of(workspace, key) == [[f"r{r}c{c}" for c in range(3)] for r in range(5)]
    check(workspace.job)
    with pytest.raises(EditError, match="at least one cell"):
        workspace.do(do.TakeOutCells(chosen(key, 0, 0, 99, 0)))


def test_cells_are_set_together_and_taken_back() -> None:
    workspace, key = with_table()
    before = job_to_json(workspace.job)
    look = do.SetCells(chosen(key, 1, 0, 2, 1), vertical="bottom", fill=Fill("black", 0.1), height=40.0)
    change = workspace.do(look)
    held = {(one.row, one.column): one.cell for one in placed_cells(workspace.job.tables[key])}
    assert all((held[r, c].vertical == "bottom") == (r > 0 and c < 2) for r in range(3) for c in range(3))
    assert body_of(workspace).bands[1].height == pytest.approx(40.0)
    assert job_from_json(job_to_json(workspace.job)) == workspace.job
    workspace.do(do.SetCells(chosen(key, 0, 0, 9, 9), as_style=("vertical", "fill"), height=0.0))
    assert job_to_json(workspace.job) == before
    assert change.inverse
    workspace.do(do.ClearCells(chosen(key, 0, 1, 9, 1)))
    assert [row[1] for row in rows_of(workspace, key)] == ["", "", ""]
    with pytest.raises(EditError, match="no longer"):
        workspace.do(do.SetCells(chosen("gone", 0, 0, 0, 0), turn=90))
    with pytest.raises(EditError, match="several cells"):
        workspace.do(do.JoinCells(chosen(key, 1, 1, 1, 1)))
    with pytest.raises(EditError, match="foot rows and body rows cannot be merged with"):
        workspace.do(do.JoinCells(chosen(key, 0, 1, 1, 1)))
    with pytest.raises(EditError, match="None of these"):
        workspace.do(do.PartCells(chosen(key, 1, 1, 2, 2)))
    workspace.do(do.JoinCells(chosen(key, 1, 0, 2, 0)))
    assert rows_of(workspace, key)[1:] == [["r1c0|r2c0", "", "r1c2"], ["", "r2c2"]]
    workspace.do(do.PartCells(chosen(key, 1, 0, 1, 0)))
    assert rows_of(workspace, key)[1:] == [["r1c0|r2c0", "", "r1c2"], ["", "", "r2c2"]]
    check(workspace.job)


def test_rules_round_a_rectangle_are_drawn_once_and_replace_those_of_the_style() -> None:
    """The table's box from its cells: a rule of 3 pt on all four sides of two by two cells, none within, the style's
    elsewhere."""
    workspace, key = with_table(rows=4, columns=4, heads=0)
    plain = rules(workspace, 0.25)
    sides = ("head", "right", "foot", "left")
    workspace.do(do.SetCells(chosen(key, 1, 1, 2, 2), edges=sides, rule=Stroke(3.0)))
    boxes = {place_of(one.cell): one.rect for one in cells(workspace, 0) if one.cell}
    first, last = boxes[1, 1], boxes[2, 2]
    found = rules(workspace, 3.0)
    down = sorted(one for one in found if one[0] == one[2])
    across = sorted(one for one in found if one[1] == one[3])
    assert [round(one[0], 3) for one in down] == [round(x, 3) for x in (first.x, first.x, last.right, last.right)]
    assert min(one[0] for one in across) == pytest.approx(first.x - 1.5)  # the corners are full
    assert max(one[2] for one in across) == pytest.approx(last.right + 1.5)
    assert sorted({round(one[1], 3) for one in across}) == [round(first.y, 3), round(last.foot, 3)]
    # Of the rules between rows those at these two heights are left out there.
    left = [one for one in rules(workspace, 0.25) if isclose(one[1], first.y, abs_tol=0.01)]
    assert [(round(one[0], 2), round(one[2], 2)) for one in sorted(left)] == [
        (round(plain[0][0], 2), round(first.x, 2)),
        (round(last.right, 2), round(plain[0][2], 2)),
    ]
    # A neighbour that is given another rule for the same side takes it over; none of it is left on the first.
    workspace.do(do.SetCells(chosen(key, 0, 1, 0, 2), edges=("foot",), rule=Stroke(1.0)))
    assert workspace.job.tables[key].rows[1][1].rules == CellRules(left=Stroke(3.0))
    assert not [one for one in rules(workspace, 3.0) if one[1] == one[3] and isclose(one[1], first.y, abs_tol=0.01)]
    workspace.do(do.SetCells(chosen(key, 0, 0, 3, 3), edges=(*sides, "across", "down")))
    assert rules(workspace, 0.25) == plain
    assert all(cell.rules is None for row in workspace.job.tables[key].rows for cell in row)


def test_of_two_cells_the_heavier_rule_is_drawn_and_none_is_none() -> None:
    """CSS 2.1, 17.6.2.1, third rule: the wider of two borders that meet is drawn."""
    workspace, key = with_table(rows=2, columns=2, heads=0)
    table = workspace.job.tables[key]
    (a, b), below = table.rows
    a, b = replace(a, rules=CellRules(right=Stroke(1.0))), replace(b, rules=CellRules(left=Stroke(2.0)))
    workspace.job.tables[key] = replace(table, rows=((a, b), below))
    workspace = Workspace(workspace.job)
    assert (len(rules(workspace, 2.0)), len(rules(workspace, 1.0))) == (1, 0)
    plain = len(rules(workspace, 0.25))
    workspace.do(do.SetCells(chosen(key, 0, 0, 1, 1), edges=("across",), rule=Stroke(0.0)))
    assert len(rules(workspace, 0.25)) == plain - 1 == 0


def test_a_rule_style_that_goes_is_replaced_in_cells() -> None:
    workspace, key = with_table()
    for name in ("hair", "thick"):
        workspace.job.rule_styles[name] = RuleStyle(name, name.capitalize(), stroke=Stroke(1.0))
    workspace.do(do.SetCells(chosen(key, 1, 1, 1, 1), edges=("foot",), rule=Stroke(style="hair")))
    workspace.do(do.RemoveStyle("rule", "hair", "thick"))
    own = workspace.job.tables[key].rows[1][1].rules
    assert own is not None
    assert own.foot == Stroke(style="thick")
    with pytest.raises(EditError, match="no longer"):
        workspace.do(do.SetCells(chosen(key, 1, 1, 1, 1), edges=("foot",), rule=Stroke(style="hair")))


def paths(workspace: Workspace, page: int = 0) -> int:
    """How many outlines a page is drawn with."""

    def count(items: Iterable[Item]) -> int:
        return sum(count(one.items) if isinstance(one, Group) else isinstance(one, Path) for one in items)

    return count(Display(workspace.composition).page(page).items())


def test_pictures_and_codes_stand_in_cells_and_make_their_rows_as_high() -> None:
    workspace, key = with_table(rows=2, columns=2, heads=0)
    low = body_of(workspace).bands[1].height
    file = PictureFile("knot", "Knot", "ab" * 32, 400, 300)
    workspace.do(do.ShowInCell(key, 1, 0, 60.0, 45.0, "knot", file))
    high = body_of(workspace).bands[1].height
    assert high > low + 45.0  # in a line of its own, below the words
    arts = Display(workspace.composition).page(0).frames
    own = next(one for one in arts if one.role == "inlay")
    box = next(one.rect for one in arts if one.cell and place_of(one.cell) == (1, 0))
    assert own.frame.picture is not None
    assert box.x < own.rect.x < own.rect.right < box.right
    assert box.y < own.rect.y < own.rect.foot <= box.foot
    workspace.do(do.ChangeFrame("inlays", own.frame.id, rect=Rect(0, 0, 80.0, 60.0)))
    assert body_of(workspace).bands[1].height == pytest.approx(high + 15.0)
    workspace.do(do.ShowInCell(key, 0, 1, 40.0, 40.0, code=Code(form="qr", text="https://merrow.example")))
    assert sum(one.role == "inlay" for one in Display(workspace.composition).page(0).frames) == 2
    check(workspace.job)
    assert package.read(package.write(workspace.job, {file.file: b""})) == workspace.job
    with pytest.raises(EditError, match="or type the content of the code"):
        workspace.do(do.ShowInCell(key, 0, 0, 40.0, 40.0))
    with pytest.raises(EditError, match="no longer in the table"):
        workspace.do(do.ShowInCell(key, 9, 0, 40.0, 40.0, "knot"))
    with pytest.raises(EditError, match="always in the line"):
        workspace.do(do.SetInlayPlace(own.frame.id, "near"))
    workspace, key = with_table(rows=2, columns=2, heads=0)
    before = job_to_json(workspace.job)
    change = workspace.do(do.ShowInCell(key, 1, 0, 60.0, 45.0, "knot", file))
    apply_all(workspace.job, change.inverse)
    assert job_to_json(workspace.job) == before


def test_a_code_in_a_cell_of_a_turned_frame_is_drawn_with_it() -> None:
    """Where cells are drawn with their frame what stands in them is, too: as many outlines as where they stand by
    themselves."""
    counts = []
    for turn in (0, 90):
        workspace = Workspace(book())
        workspace.do(do.AddTextFrame(workspace.job.pages[0].id, Rect(60, 60, 300, 300)))
        frame = workspace.job.pages[0].frames[-1]
        assert frame.story is not None
        first = workspace.job.stories[frame.story].paragraphs[0].id
        workspace.do(do.AddTable(frame.story, Place(first, 0), words="a\tb\nc\td"))
        workspace.do(do.ChangeFrame(workspace.job.pages[0].id, frame.id, turn=turn))  # type: ignore[arg-type]
        plain = paths(workspace)
        (key,) = workspace.job.tables
        workspace.do(do.ShowInCell(key, 1, 1, 40.0, 40.0, code=Code(form="qr", text="Slack water")))
        counts.append(paths(workspace) - plain)
    assert counts[0] == counts[1] > 0


@pytest.mark.parametrize("turn", [90, 270])
def test_words_on_end_take_their_length_as_height_and_their_lines_as_width(turn: int) -> None:
    """From what the same words ask for lying down: the row is as high as their line is long, the column as wide as it
    is high."""
    workspace, key = with_table(rows=2, columns=2, heads=0)
    words = "Low water at the outer bar"
    place = workspace.job.tables[key].rows[0][0].paragraphs[0].id
    workspace.do(do.ReplaceText(f"{key}/0.0", Place(place, 0), Place(place, 4), words))
    lying = body_of(workspace)
    _, most, *_ = lying.words.measures(lying.words.cells[0])
    line = lying.bands[0].height - 2 * lying.look.over
    workspace.do(do.SetCells(chosen(key, 0, 0, 0, 0), turn=turn))  # type: ignore[arg-type]
    body = body_of(workspace)
    assert body.bands[0].height == pytest.approx(most - 2 * body.look.beside + 2 * body.look.over)
    least, natural = body.words._column_widths()[0]
    assert natural == pytest.approx(max(line + 2 * body.look.beside, body.words.measures(body.words.cells[2])[1]))
    assert least <= natural
    art = next(one for one in cells(workspace, 0) if one.cell and place_of(one.cell) == (0, 0))
    assert art.words_map is not None
    xs, ys = zip(*(art.words_map.apply(line.x, line.baseline) for line in art.lines), strict=True)
    inside = art.rect
    assert all(inside.x <= x <= inside.right for x in xs)
    assert all(inside.y <= y <= inside.foot for y in ys)
    # A height that is asked for makes its lines as long, and as many as they need.
    workspace.do(do.SetCells(chosen(key, 0, 0, 0, 0), height=60.0))
    art = next(one for one in cells(workspace, 0) if one.cell and place_of(one.cell) == (0, 0))
    assert len(art.lines) > 1
    assert body_of(workspace).bands[0].height == pytest.approx(60.0)
    workspace.do(do.SetCells(chosen(key, 0, 0, 0, 0), turn=180, height=0.0))
    assert body_of(workspace).bands[0].height == pytest.approx(lying.bands[0].height)


def test_words_of_cells_are_set_against_what_their_table_makes_of_them() -> None:
    """Body text is justified with an indent; in cells it is neither, until somebody says so."""
    workspace, key = with_table()
    cell = f"{key}/1.1"
    p = workspace.job.tables[key].rows[1][1].paragraphs[0].id

    def own() -> ParaSpec | None:
        return workspace.job.tables[key].rows[1][1].paragraphs[0].para

    def shown() -> str:
        body = body_of(workspace)
        held = next(one for one in body.words.cells if (one.row, one.column) == (1, 1))
        return workspace.composition.cascade.setting(held.cell.paragraphs[0]).align

    body = workspace.job.paragraph_styles["body"]
    workspace.do(do.PutStyle("paragraph", "body", para=replace(body.para, align="justified")))
    assert shown() == "left"
    workspace.do(do.SetParagraphs(cell, p, p, para=ParaSpec(align="justified")))
    assert (own(), shown()) == (ParaSpec(align="justified"), "justified")
    workspace.do(do.SetParagraphs(cell, p, p, para=ParaSpec(align="left", indent_first=0.0)))
    assert (own(), shown()) == (None, "left")
    everywhere = chosen(key, 0, 0, 9, 9)
    workspace.do(do.SetCellWords(everywhere, para=ParaSpec(align="centre"), type=TypeSpec(weight=700)))
    held = {(one.row, one.column): one.cell.paragraphs[0] for one in placed_cells(workspace.job.tables[key])}
    assert all(one.para == ParaSpec(align="centre") for one in held.values())
    assert held[1, 1].type == TypeSpec(weight=700)
    assert held[0, 1].type is None, "heads are bold anyway"
    workspace.do(do.SetColumns(chosen(key, 0, 1, 0, 1), align="right", size="fixed", value=50.0))
    workspace.do(do.SetCellWords(everywhere, clear=True))
    assert shown() == "right"
    assert body_of(workspace).words.edges[2] - body_of(workspace).words.edges[1] == pytest.approx(50.0)
    looks = looks_in(workspace.job, workspace.composition.cascade, cell, Place("^", 0), Place("$", 0), whole=True)
    assert [setting.align for _, setting in looks] == ["right"]
    workspace.do(do.SetColumns(chosen(key, 0, 1, 0, 1), size="content", value=0.0, as_words=True))
    assert workspace.job.tables[key].sizes == ()


def test_a_table_goes_into_another_job_with_all_that_stands_in_its_cells_and_makes_its_looks() -> None:
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    workspace.do(do.AddTextFrame(page, Rect(60, 60, 300, 300)))
    frame = workspace.job.pages[0].frames[-1]
    assert frame.story is not None
    workspace.do(
        do.AddTable(frame.story, Place(workspace.job.stories[frame.story].paragraphs[0].id, 0), words="a\tb\nc\td")
    )
    (key,) = workspace.job.tables
    workspace.do(do.PutSwatch(name="Reed", space="cmyk", values=(0.3, 0.0, 0.6, 0.2)))
    reed = next(one.id for one in workspace.job.swatches.values() if one.name == "Reed")
    workspace.do(do.PutTableStyle(TableStyle("counts", "Counts", outer=Stroke(3.0))))
    workspace.do(do.ShowInCell(key, 1, 1, 40.0, 40.0, code=Code(form="qr", text="Slack water")))
    workspace.do(do.SetCells(chosen(key, 0, 0, 0, 0), fill=Fill(reed), edges=("foot",), rule=Stroke(2.0, reed)))
    workspace.job.tables[key] = replace(workspace.job.tables[key], style="counts")
    clip = do.clip_of(workspace.job, [do.Chosen(page, frame.id)])
    other = Workspace(book(facing=False))
    other.do(do.PasteObjects(other.job.pages[0].id, clip))
    check(other.job)
    (table,) = other.job.tables.values()
    (code,) = other.job.inlays.values()
    assert code.code is not None
    assert table.id != key
    assert table.rows[0][0].fill == Fill(reed)
    assert (table.style, other.job.table_styles["counts"].outer) == ("counts", Stroke(3.0))
    assert other.job.swatches[reed].name == "Reed"
    assert sum(one.role == "inlay" for one in Display(other.composition).page(0).frames) == 1


def test_the_sheet_keeps_pictures_among_the_words_of_a_cell() -> None:
    workspace, key = with_table(rows=2, columns=2, heads=0)
    workspace.do(do.ShowInCell(key, 1, 1, 40.0, 40.0, code=Code(form="qr", text="Slack water")))
    before = job_to_json(workspace.job)

    def said(ahead: str) -> tuple[tuple[CellSaid, ...], ...]:
        rows = workspace.job.tables[key].rows
        return tuple(
            tuple(
                CellSaid(ahead + "\n".join(p.text for p in cell.paragraphs), was=2 * r + c)
                for c, cell in enumerate(row)
            )
            for r, row in enumerate(rows)
        )

    workspace.do(do.ChangeTable(key, said("")))
    assert job_to_json(workspace.job) == before
    workspace.do(do.ChangeTable(key, said("New ")))
    check(workspace.job)
    assert [p.text for p in workspace.job.tables[key].rows[1][1].paragraphs] == ["New r1c1", OBJECT]
    assert sum(one.role == "inlay" for one in Display(workspace.composition).page(0).frames) == 1
