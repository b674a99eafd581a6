"""Tables as they are set: every row once and in order, heads repeated, columns as wide as they must be, going on equal
to composing anew."""

from __future__ import annotations

import random
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.check.findings import findings_of
from lexigon.core.document.consistency import check
from lexigon.core.document.model import OBJECT, Anchor, Cell, Paragraph, ParaSpec, Span, Story, TextTable, TypeSpec
from lexigon.core.document.story_text import is_table
from lexigon.core.editing.edits import apply_all
from lexigon.core.editing.intents import (
    AddNote,
    AddTable,
    AddTextFrame,
    ChangeTable,
    DuplicatePages,
    InsertRich,
    MoveText,
    Place,
    PourText,
    ReplaceText,
)
from lexigon.core.editing.intents.tables.content import CellSaid
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.jobs import job_from_json, job_to_json
from lexigon.core.flow.cell_measures import deep
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.resolved_text import ResolvedText
from lexigon.core.flow.table_columns import widths
from lexigon.core.flow.table_text import as_set
from lexigon.core.flow.tables import set_table
from lexigon.core.flow.texture import numbers_of
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.manuscript.richtext import carried
from lexigon.core.paint.display import Display
from lexigon.core.paint.items import Glyphs, Group
from lexigon.core.paint.outlines import outlined
from lexigon.core.paint.texture import placed_columns
from lexigon.core.tables.delimited import cells_of
from lexigon.core.tables.grid import bands_of, placed_cells
from tests.core.helpers import book, examples, words


def cell(text: str, key: str, across: int = 1, down: int = 1) -> Cell:
    return Cell((Paragraph(key, "body", text),), across, down)


def table(seed: int, rows: int = 30, heads: int = 1) -> TextTable:
    """One with cells that go over several columns and rows, named so that each is known again."""
    chance = random.Random(seed)
    columns = chance.randint(1, 5)
    made: list[list[Cell]] = [[] for _ in range(rows)]
    taken: set[tuple[int, int]] = set()
    for r in range(rows):
        for c in range(columns):
            if (r, c) in taken:
                continue
            free = next((n for n in range(c, columns) if (r, n) in taken), columns) - c
            across = chance.randint(1, free) if chance.random() < 0.15 else 1
            down = chance.randint(1, 3) if chance.random() < 0.1 else 1
            down = min(down, rows - r if r >= heads else heads - r)
            taken |= {(r + y, c + x) for y in range(down) for x in range(across)}
            made[r].append(
                cell(f"R{r}C{c} {words(chance.choice([0, 1, 3, 12]), seed + r)}".strip(), f"c{r}-{c}", across, down)
            )
    return TextTable("t", "Table 1", tuple(map(tuple, made)), heads)


SHOWN = Paragraph("t", "body", OBJECT, (Span(0, 1, object=Anchor("table", "t")),))


def placed(made: TextTable, before: int = 60) -> Workspace:
    workspace = Workspace(book())
    workspace.do(
        PourText(
            "main",
            (Paragraph("a", "body", words(before, 1)), SHOWN, Paragraph("b", "body", words(80, 2))),
            tables=(made,),
        )
    )
    check(workspace.job)
    return workspace


def printed(composition: Composition, page: int) -> list[tuple[str, float, float]]:
    """The first words of cells on a page, as they are painted, with where."""
    found: list[tuple[str, float, float]] = []

    def look(item: object) -> None:
        if isinstance(item, Group):
            for inner in item.items:
                look(inner)
        elif isinstance(item, Glyphs) and item.run.text.startswith("R") and item.run.text[1:2].isdigit():
            found.append((item.run.text.split()[0], item.run.x, item.baseline))

    for one in Display(composition).page(page).items():
        look(one)
    return found


@settings(max_examples=examples(15), deadline=None)
@given(st.integers(0, 10**6))
def test_every_cell_is_printed_once_in_its_place_and_heads_on_every_part(seed: int) -> None:
    made = table(seed, random.Random(seed).choice([3, 30, 60]))
    workspace = placed(made)
    begins = {one.cell.paragraphs[0].text.split()[0]: one for one in placed_cells(made)}
    high = {one.row for one in begins.values() if one.down == 1}
    seen: list[str] = []
    for page in range(len(workspace.job.pages)):
        here = printed(workspace.composition, page)
        if not here:
            continue
        heads = [name for name, _, _ in here if begins[name].row < made.heads]
        assert len(heads) == len(set(heads)) == sum(one.row < made.heads for one in begins.values())
        seen += [name for name, _, _ in here if begins[name].row >= made.heads]
        at = {name: (x, y) for name, x, y in here}
        for name, (x, y) in at.items():
            for other, (x2, y2) in at.items():
                one, two = begins[name], begins[other]
                if one.row == two.row:
                    assert y == pytest.approx(y2), "cells of a row begin on one line"
                if one.column == two.column:
                    assert x == pytest.approx(x2), "cells of a column begin at one edge"
                if one.row < two.row:
                    assert y <= y2
                    assert y < y2 or one.row not in high, "only a row of cells that go on below has no height"
    rows = [begins[name].row for name in seen]
    assert sorted(seen) == sorted(name for name, one in begins.items() if one.row >= made.heads)
    assert rows == sorted(rows)


@settings(max_examples=examples(10), deadline=None)
@given(st.integers(0, 10**6))
def test_going_on_equals_composing_anew_and_undo_restores(seed: int) -> None:
    chance = random.Random(seed)
    workspace = placed(table(seed, 25))
    start, undo = job_to_json(workspace.job), []
    for _ in range(5):
        where = chance.choice(["a", "b"])
        undo.append(
            workspace.do(
                ReplaceText(
                    "main",
                    Place(where, 0),
                    Place(where, 0),
                    words(chance.randint(1, 60), seed) + chance.choice(["", "\n"]),
                )
            )
        )
        fresh = Composition(job_from_json(job_to_json(workspace.job)))
        columns = [
            [(b.paragraph, b.first_line, b.last_line, b.lines) for b in c.blocks]
            for c in workspace.composition.flows["main"].columns
        ]
        assert columns == [
            [(b.paragraph, b.first_line, b.last_line, b.lines) for b in c.blocks] for c in fresh.flows["main"].columns
        ]
    for change in reversed(undo):
        apply_all(workspace.job, change.inverse)
    assert job_to_json(workspace.job) == start


def test_cells_stand_where_html_puts_them() -> None:
    """The worked example of HTML 4.01, section 11.2.6: “Average” over height and weight, “Red eyes” down beside
    both."""
    rows = (
        (cell("", "e", down=2), cell("Average", "a", across=2), cell("Red eyes", "r", down=2)),
        (cell("height", "h"), cell("weight", "w")),
        (cell("Males", "m"), cell("1.9", "1"), cell("0.003", "2"), cell("40%", "3")),
        (cell("Females", "f"), cell("1.7", "4"), cell("0.002", "5"), cell("43%", "6")),
    )
    made = TextTable("t", "T", rows, 2)
    at = {one.cell.paragraphs[0].text: (one.row, one.column) for one in placed_cells(made)}
    assert at["Average"] == (0, 1)
    assert (at["height"], at["weight"], at["Red eyes"]) == ((1, 1), (1, 2), (0, 3))
    assert at["43%"] == (3, 3)
    assert bands_of(made) == [range(2), range(2, 3), range(3, 4)]


@pytest.mark.parametrize(
    ("asked", "room", "wanted"),
    [
        ([(10, 20), (10, 20)], 60, [30, 30]),  # CSS 2.1, 17.5.2.2: what is left over is shared
        ([(10, 20), (10, 200)], 100, [20, 80]),  # a narrow column keeps its natural width
        ([(10, 20), (10, 200), (10, 300)], 120, [20, 50, 50]),
        ([(40, 60), (10, 200), (10, 300)], 100, [40, 30, 30]),  # none is narrower than its longest word
        ([(80, 90), (80, 90)], 80, [40, 40]),
        ([(5, 5)], 70, [70]),
    ],
)
def test_widths_of_columns(asked: list[tuple[float, float]], room: float, wanted: list[float]) -> None:
    assert widths(asked, room) == pytest.approx(wanted)
    assert sum(widths(asked, room)) == pytest.approx(room)


def test_a_row_higher_than_any_column_runs_out_and_the_text_goes_on() -> None:
    made = TextTable("t", "T", ((cell("R0C0", "h"),), (cell(words(1500, 1), "x"),), (cell("R2C0", "y"),)), 1)
    workspace = placed(made)
    assert not workspace.composition.flows["main"].overset
    assert [one.kind for one in findings_of(workspace.composition) if one.kind == "row too high"] == ["row too high"]
    assert any(
        "R2C0" in [name for name, _, _ in printed(workspace.composition, page)]
        for page in range(len(workspace.job.pages))
    )


def test_notes_cited_in_cells_stand_at_the_foot_and_are_counted_in_their_place() -> None:
    note = Story("n", "Note", [Paragraph("np", "body", "From the hide.")], kind="note")
    cited = Paragraph("c", "body", f"Knot{OBJECT}", (Span(4, 5, object=Anchor("note", "n")),))
    made = TextTable("t", "T", ((cell("Bird", "h"),), (Cell((cited,)),)), 1)
    workspace = Workspace(book())
    workspace.do(
        PourText(
            "main",
            (Paragraph("a", "body", "One two"), SHOWN, Paragraph("b", "body", "Three")),
            notes=(note,),
            tables=(made,),
        )
    )
    workspace.do(
        AddNote("main", Place("a", 7), Place("a", 7), "First."), AddNote("main", Place("b", 5), Place("b", 5), "Third.")
    )
    (column, *_) = workspace.composition.flows["main"].columns
    shown = [one.body.flow.paragraphs[0].shown.paragraph.text for one in column.notes]
    assert [text.replace("\u00a0", " ") for text in shown] == ["1 First.", "2 From the hide.", "3 Third."]


def test_a_table_is_set_once_for_a_width() -> None:
    workspace = placed(table(3))
    flow = workspace.composition.flows["main"]
    body = flow.table(1, flow.columns[0].slot.rect.width)
    assert body is not None
    again = set_table(body.table, body.width, workspace.composition.cascade, workspace.composition.library, flow.show)
    assert again is body


def cells(workspace: Workspace) -> list[list[str]]:
    (made,) = workspace.job.tables.values()
    return [["|".join(p.text for p in one.paragraphs) for one in row] for row in made.rows]


def shape(workspace: Workspace) -> list[str]:
    return ["table" if is_table(p) else p.text for p in workspace.job.stories["main"].paragraphs]


@pytest.mark.parametrize(
    ("text", "wanted"),
    [
        ("a\tb\nc\td", [["a", "b"], ["c", "d"]]),
        ('a,b\n"c, d",e\n', [["a", "b"], ["c, d", "e"]]),
        ("1;2,5\n3;4,5", [["1", "2,5"], ["3", "4,5"]]),
        ("one\ntwo", [["one"], ["two"]]),
        ("a\tb\nc", [["a", "b"], ["c", ""]]),
        ("", []),
        ("Knot, the\n", [["Knot", "the"]]),
        ('a\t"two\nlines"\r\nb\tc', [["a", "two\nlines"], ["b", "c"]]),
    ],
)
def test_cells_from_the_clipboard(text: str, wanted: list[list[str]]) -> None:
    """RFC 4180, section 2: quoted cells may hold commas and line ends."""
    assert cells_of(text) == wanted


def test_a_table_is_put_in_changed_and_stays_alone_in_its_paragraph() -> None:
    workspace = Workspace(book())
    workspace.do(PourText("main", (Paragraph("a", "body", "One two"), Paragraph("b", "body", "Three"))))
    workspace.do(AddTable("main", Place("a", 3), words="Bird\tSeen\nKnot\t3 May"))
    check(workspace.job)
    assert shape(workspace) == ["One two", "table", "Three"]
    assert cells(workspace) == [["Bird", "Seen"], ["Knot", "3 May"]]
    (made,) = workspace.job.tables.values()
    italic = replace(made.rows[1][0].paragraphs[0], spans=(Span(0, 4, "emphasis"),))
    rows = (made.rows[0], (replace(made.rows[1][0], paragraphs=(italic,)), made.rows[1][1]))
    workspace.job.tables[made.id] = replace(made, rows=rows)
    begun = job_to_json(workspace.job)
    said = (
        (CellSaid("Bird", 2, was=0),),
        (CellSaid("Red Knot\nand more", was=2), CellSaid("3 May", was=3)),
        (CellSaid("New", was=-1), CellSaid()),
    )
    change = workspace.do(ChangeTable(made.id, said, 1))
    check(workspace.job)
    assert cells(workspace) == [["Bird"], ["Red Knot|and more", "3 May"], ["New", ""]]
    (made,) = workspace.job.tables.values()
    assert [(s.start, s.end, s.style) for s in made.rows[1][0].paragraphs[0].spans] == [(4, 8, "emphasis")]
    assert made.rows[0][0].across == 2
    apply_all(workspace.job, change.inverse)
    assert job_to_json(workspace.job) == begun
    workspace = Workspace(workspace.job)
    p = workspace.job.stories["main"].paragraphs[1].id
    for at, put, wanted in (
        (0, "x", ["One two", "x", "table", "Three"]),
        (1, "y", ["One two", "table", "y", "Three"]),
        (0, "z\n", ["One two", "z", "table", "Three"]),
    ):
        back = workspace.do(ReplaceText("main", Place(p, at), Place(p, at), put))
        assert shape(workspace) == wanted
        apply_all(workspace.job, back.inverse)
        workspace = Workspace(workspace.job)
    workspace.do(ReplaceText("main", Place("b", -1), Place("b", 0), ""))
    assert shape(workspace) == ["One two", "table", "Three"], "nothing is joined with a table"
    shown = replace(SHOWN, spans=(Span(0, 1, object=Anchor("table", made.id)),))
    workspace.do(InsertRich("main", Place("a", 3), Place("a", 3), (shown,)))
    check(workspace.job)
    assert shape(workspace) == ["One", "table", " two", "table", "Three"]


def test_what_cannot_be_of_a_table_is_told() -> None:
    workspace = placed(table(1))
    for intent, told in (
        (ChangeTable("x", ((CellSaid(),),)), "no longer"),
        (ChangeTable("t", ((),)), "at least one cell"),
        (AddTable("main", Place("a", 0), words="a\t" * 600), "at most"),
        (AddTable("gone", Place("a", 0)), "no longer"),
    ):
        with pytest.raises(LexigonError, match=told):
            workspace.do(intent)


def test_what_looks_at_lines_of_words_leaves_tables_alone() -> None:
    workspace = placed(table(2, 8))
    flow = workspace.composition.flows["main"]
    words_ = sum(len(flow.lines(at, flow.columns[0].slot.rect.width)) for at in (0, 2))
    assert numbers_of(flow).lines == words_
    lines = [
        line
        for page in range(len(workspace.job.pages))
        for column in placed_columns(workspace.composition, page)
        for line in column
    ]
    assert {line.paragraph for line in lines} == {"a", "b"}
    workspace.do(AddTextFrame(workspace.job.pages[0].id, Rect(60, 60, 200, 200)))
    frame = workspace.job.pages[0].frames[-1]
    workspace.do(AddTable(frame.story or "", Place("^", 0), words="a\tb"))
    with pytest.raises(LexigonError, match="This story contains a table"):
        outlined(workspace.composition, 0, frame.id)


def test_a_copy_of_a_table_is_one_of_its_own_and_what_was_cut_comes_back() -> None:
    workspace = placed(table(5, 6))
    (first,) = workspace.job.tables
    start = Place("a", 0)
    workspace.do(MoveText("main", Place("t", 0), Place("b", 3), "main", start, copy=True))
    check(workspace.job)
    assert len(workspace.job.tables) == 2
    refs = [
        p.spans[0].object.ref for p in workspace.job.stories["main"].paragraphs if is_table(p) and p.spans[0].object
    ]
    assert sorted(refs) == sorted(workspace.job.tables), "each shows its own"
    workspace.do(ChangeTable(first, ((CellSaid("changed"),),), 0))
    (other,) = workspace.job.tables.keys() - {first}
    assert len(workspace.job.tables[other].rows) == 6
    taken = carried(
        [p for p in workspace.job.stories["main"].paragraphs if is_table(p) and p.spans[0].object.ref == other],
        workspace.job,
    )
    workspace.do(ReplaceText("main", *_round(workspace, other), ""))
    workspace.do(
        InsertRich("main", Place("b", 0), Place("b", 0), taken.paragraphs, taken.notes, taken.inlays, taken.tables)
    )
    check(workspace.job)
    assert {
        p.spans[0].object.ref for p in workspace.job.stories["main"].paragraphs if is_table(p) and p.spans[0].object
    } == {first, other}
    workspace.do(DuplicatePages((workspace.job.pages[0].id,)))
    workspace.do(AddTextFrame(workspace.job.pages[0].id, Rect(60, 60, 200, 200), text="x"))
    check(workspace.job)


def _round(workspace: Workspace, ref: str) -> tuple[Place, Place]:
    """The two sides of a table."""
    (p,) = (
        p
        for p in workspace.job.stories["main"].paragraphs
        if is_table(p) and p.spans[0].object and p.spans[0].object.ref == ref
    )
    return Place(p.id, 0), Place(p.id, 1)


def test_cells_that_are_not_set_are_told_as_high_as_they_are_once_they_are() -> None:
    """How high lines of one kind are is known from any of them: held against setting each cell."""
    odd = [
        "",
        "59",
        "Merrow Flats",
        "un\u00a0broken words",
        "a\u2028b",
        "a\tb",
        "Observatory-keepers",
        "1,024.5",
        "ﬁ Åé",
        " x ",
    ]
    looks = [None, TypeSpec(size=14.0), TypeSpec(italic=True), TypeSpec(caps="reduced")]
    ways = [
        None,
        ParaSpec(indent_left=8.0),
        ParaSpec(indent_first=9.0),
        ParaSpec(space_before=5.0),
        ParaSpec(drop_lines=2),
        ParaSpec(leading=19.0),
    ]
    unset = 0
    for seed in range(examples(12)):
        chance = random.Random(seed)

        def paragraph(key: str, chance: random.Random = chance) -> Paragraph:
            made = Paragraph(key, "body", chance.choice([*odd, words(chance.randint(1, 9), chance.randint(0, 99))]))
            return replace(made, type=chance.choice(looks), para=chance.choice(ways))

        columns = chance.randint(1, 5)
        rows = tuple(
            tuple(
                Cell(tuple(paragraph(f"p{seed}.{r}.{c}.{n}") for n in range(chance.choice([1, 1, 1, 2]))))
                for c in range(columns)
            )
            for r in range(12)
        )
        workspace = Workspace(book())
        workspace.do(PourText("main", (Paragraph("a", "body", ""),)))
        laid = as_set(TextTable("t", "T", rows, 1), "body", {})
        body = set_table(
            laid,
            chance.choice([90.0, 200.0, 340.0]),
            workspace.composition.cascade,
            workspace.composition.library,
            ResolvedText,
        )
        held = body.words
        for one in held.cells:
            unset += len(held.measures(one).lines or ()) > 0
            assert held.depth(one) == pytest.approx(deep(held.flow(one))), one.cell
    assert unset > 100, "most are lines"
