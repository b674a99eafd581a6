"""Tables' styles, the sizes of their columns, decimal fractions, feet, what is said where they go on, sorting."""

from __future__ import annotations

import random
from decimal import Decimal
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.collation import in_order, number_in
from lexigon.core.document.consistency import check
from lexigon.core.document.model import Cell, Fill, Paragraph, Stroke, TableColumn, TableStyle, TextTable, TypeSpec
from lexigon.core.editing.edits import EditError
from lexigon.core.editing.intents import (
    AddNote,
    AddTextFrame,
    ChangeTable,
    Place,
    PutStyle,
    PutSwatch,
    PutTableStyle,
    RemoveStyle,
    RemoveSwatch,
    RemoveTableStyle,
    ReplaceText,
    SortTable,
)
from lexigon.core.editing.intents.tables.content import CellSaid
from lexigon.core.fileformat import package
from lexigon.core.fileformat.jobs import job_from_json, job_to_json
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.model import Column
from lexigon.core.flow.table_columns import solved
from lexigon.core.flow.tables import TableBody
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from lexigon.core.paint.items import Glyphs, Group, Item, Path
from tests.core.helpers import examples, words
from tests.core.test_objects_in_texts import told
from tests.core.test_tables import placed, table

ROOM = 324.0


@settings(max_examples=examples(200))
@given(
    st.lists(
        st.tuples(
            st.floats(12, 120), st.floats(0, 300), st.sampled_from(["content", "fixed", "share"]), st.floats(1, 200)
        ),
        min_size=1,
        max_size=8,
    ),
    st.floats(60, 900),
)
def test_columns_are_solved_together(drawn: list[tuple[float, float, str, float]], room: float) -> None:
    """What follows from the rule for whatever is asked: fixed ones have their width, shares are in proportion but for
    those at their least, and the room is filled where anything may grow."""
    asked = [(least, least + more) for least, more, _, _ in drawn]
    sizes = [TableColumn(size, value if size != "content" else 0.0) for _, _, size, value in drawn]  # type: ignore[arg-type]
    found = solved(sizes, asked, room)
    fixed = sum(one.value for one in sizes if one.size == "fixed")
    least = sum(asked[at][0] for at, one in enumerate(sizes) if one.size != "fixed")
    assert all(width >= -1e-6 for width in found)
    if fixed + least > room:
        return  # too narrow for what is asked: nothing is promised but an order
    for at, one in enumerate(sizes):
        if one.size == "fixed":
            assert found[at] == pytest.approx(one.value)
        else:
            assert found[at] >= asked[at][0] - 1e-6
    if any(one.size != "fixed" for one in sizes):
        assert sum(found) == pytest.approx(room)
    else:
        assert sum(found) == pytest.approx(fixed)
    free = [at for at, one in enumerate(sizes) if one.size == "share" and found[at] > asked[at][0] + 1e-6]
    ratios = [found[at] / sizes[at].value for at in free]
    assert not ratios or max(ratios) == pytest.approx(min(ratios))
    if any(one.size == "share" for one in sizes):
        assert all(found[at] <= asked[at][1] + 1e-6 for at, one in enumerate(sizes) if one.size == "content")


def test_worked_examples_of_columns() -> None:
    """By hand: 60 fixed, words of 80, and two shares 1 : 2 of the 180 that are left; all fixed; shares below their
    least."""
    natural = [(20.0, 80.0)] * 4
    sizes = [TableColumn("fixed", 60.0), TableColumn(), TableColumn("share", 1.0), TableColumn("share", 2.0)]
    assert solved(sizes, natural, 320.0) == pytest.approx([60, 80, 60, 120])
    assert solved([TableColumn("fixed", 50.0)] * 2, natural[:2], 320.0) == [50, 50]
    assert solved([TableColumn("fixed", 300.0)] * 2, natural[:2], 320.0) == pytest.approx([160, 160])
    assert solved([TableColumn("share", 1.0), TableColumn("share", 9.0)], [(50.0, 50.0)] * 2, 200.0) == pytest.approx(
        [50, 150]
    )


def of(*rows: tuple[str, ...], **more: object) -> TextTable:
    made = tuple(
        tuple(Cell((Paragraph(f"c{r}-{c}", "body", text),)) for c, text in enumerate(row)) for r, row in enumerate(rows)
    )
    return TextTable("t", "Table 1", made, **more)  # type: ignore[arg-type]


def body_of(workspace: Workspace) -> TableBody:
    flow = workspace.composition.main
    assert flow is not None
    at = next(n for n, found in enumerate(flow.paragraphs) if found.shown.table is not None)
    made = flow.table(at, ROOM)
    assert made is not None
    return made


def glyphs(workspace: Workspace, page: int = 0) -> list[Glyphs]:
    found: list[Glyphs] = []

    def look(item: Item) -> None:
        if isinstance(item, Group):
            for inner in item.items:
                look(inner)
        elif isinstance(item, Glyphs):
            found.append(item)

    for one in Display(workspace.composition).page(page).items():
        look(one)
    return found


def paths(workspace: Workspace, page: int = 0) -> list[Path]:
    return [
        one
        for frame in Display(workspace.composition).page(page).frames
        for one in frame.under
        if isinstance(one, Path)
    ]


def test_the_signs_of_decimal_fractions_stand_below_each_other() -> None:
    made = of(
        ("Bird", "Count"),
        ("Dunlin", "6,100.5"),
        ("Knot", "12.25"),
        ("Curlew", "7"),
        heads=1,
        sizes=(TableColumn(), TableColumn(align="decimal")),
    )
    workspace = placed(made)
    shown = {one.run.text: one.run for one in glyphs(workspace)}
    signs = []
    for text in ("6,100.5", "12.25"):
        run = shown[text]
        signs.append(run.x + run.look.width(text[: text.index(".")]))
    signs.append(shown["7"].x + shown["7"].width)
    assert max(signs) - min(signs) < 0.05
    ends = max(shown[text].x + shown[text].width for text in ("6,100.5", "12.25"))
    head = shown["Count"]
    assert head.x + head.width == pytest.approx(ends, abs=0.05), "the widest ends where the head does"


def test_a_style_gives_rules_grounds_insets_and_paragraph_styles() -> None:
    workspace = placed(of(("Bird", "Count"), ("Dunlin", "1"), ("Knot", "2"), ("Curlew", "3"), heads=1))
    plain = body_of(workspace).bands[1].height
    workspace.do(
        PutSwatch(name="Reed", space="cmyk", values=(0.3, 0.0, 0.6, 0.2)),
        PutStyle("paragraph", name="Figures", type=TypeSpec(size=7.0)),
    )
    reed = next(key for key, one in workspace.job.swatches.items() if one.name == "Reed")
    figures = next(key for key, one in workspace.job.paragraph_styles.items() if one.name == "Figures")
    style = TableStyle(
        "s",
        "Counts",
        outer=Stroke(2.0),
        sides=Stroke(1.5),
        rows=Stroke(0.0),
        columns=Stroke(0.4, reed),
        fill=Fill(reed, 0.2),
        other=Fill(),
        beside=8.0,
        over=6.0,
        body_style=figures,
    )
    workspace.do(PutTableStyle(style))
    rows = tuple(
        tuple(CellSaid("\n".join(p.text for p in cell.paragraphs), was=2 * r + c) for c, cell in enumerate(row))
        for r, row in enumerate(workspace.job.tables["t"].rows)
    )
    workspace.do(ChangeTable("t", rows, 1, style="s"))
    weights = sorted(one.pen.weight for one in paths(workspace) if one.pen)
    assert weights == pytest.approx([0.4] * 4 + [0.5] + [1.5] * 2 + [2.0] * 2)
    assert sum(one.fill is not None for one in paths(workspace)) == 4, (
        "every other row has the ground, in two cells each"
    )
    body = body_of(workspace)
    assert body.bands[1].height != plain
    assert body.bands[1].cells[0].inner.x == pytest.approx(8.0)
    size = {one.run.text: one.run.look.size for one in glyphs(workspace)}
    assert size["Dunlin"] == 7.0
    assert size["Bird"] > 7.0
    assert told(workspace.composition) == told(Composition(workspace.job))
    # What it names may go: others come in its place, and without it tables are plain.
    workspace.do(RemoveSwatch(reed, "black"))
    assert workspace.job.table_styles["s"].fill.swatch == "black"
    workspace.do(RemoveStyle("paragraph", figures, "body"))
    assert workspace.job.table_styles["s"].body_style == "body"
    assert package.read(package.write(workspace.job, {})).table_styles == workspace.job.table_styles
    workspace.do(RemoveTableStyle("s"))
    assert workspace.job.tables["t"].style == ""
    assert body_of(workspace).bands[1].height == pytest.approx(plain)
    workspace.run(workspace.do(ChangeTable("t", rows, 1, sizes=(TableColumn("fixed", 50.0),))).inverse)
    with pytest.raises(EditError, match="no longer"):
        workspace.do(ChangeTable("t", rows, 1, style="s"))


def test_a_cell_stands_in_its_height_and_has_a_ground_of_its_own() -> None:
    workspace = placed(of(("One line", words(40, 3)), heads=0))
    high = body_of(workspace).bands[0].height
    said = [CellSaid("One line", was=0, vertical="bottom", fill=Fill("black", 0.1)), CellSaid(words(40, 3), was=1)]
    workspace.do(ChangeTable("t", (tuple(said),)))
    first, second = body_of(workspace).bands[0].cells
    ends = [one.inner.y + one.flow.columns[0].foot(one.flow) for one in (first, second)]
    assert ends[0] == pytest.approx(ends[1])
    assert first.inner.y > second.inner.y + 20
    assert body_of(workspace).bands[0].height == pytest.approx(high)
    assert first.fill.swatch
    assert not second.fill.swatch


def in_columns(workspace: Workspace) -> list[tuple[Column, list[tuple[str, float, float]]]]:
    """The first words of each row of the table as it stands in each column: with the head and the foot of its band."""
    flow = workspace.composition.main
    assert flow is not None
    found = []
    for column in flow.columns:
        for block in column.blocks:
            if flow.unbroken(block.paragraph):
                body = flow.table(block.paragraph, block.measure)
                assert body is not None
                rows = [
                    (band.cells[0].flow.paragraphs[0].paragraph.text, top, top + band.height)
                    for top, band, _ in body.standing(block)
                ]
                found.append((column, rows))
    return found


@settings(max_examples=examples(10), deadline=None)
@given(st.integers(20, 90), st.integers(0, 2), st.integers(0, 2), st.integers(0, 60), st.booleans())
def test_heads_and_feet_stand_in_every_column_and_every_row_once(
    count: int, heads: int, foots: int, before: int, says: bool
) -> None:
    rows = [(f"R{n}", words(random.Random(n).choice([1, 2, 14]), n)) for n in range(count)]
    made = of(*rows, heads=heads, foots=foots, continued="continued" if says else "")
    workspace = placed(made, before * 12 + 1)
    found = in_columns(workspace)
    head, foot = [f"R{n}" for n in range(heads)][:1], [f"R{count - foots + n}" for n in range(foots)][:1]
    inner: list[str] = []
    for number, (column, standing) in enumerate(found):
        names = [name for name, _, _ in standing]
        if number and says:
            assert names.pop(0) == "continued"
        assert names[: len(head)] == head
        assert names[len(names) - len(foot) :] == foot
        inner += names[len(head) : len(names) - len(foot)]
        assert standing[-1][2] <= column.slot.rect.foot + 0.01
        for (_, _, above), (_, below, _) in pairwise(standing):
            assert below == pytest.approx(above)
    assert inner == [f"R{n}" for n in range(heads, count - foots)]
    check(workspace.job)
    workspace.do(ReplaceText("main", Place("a", 0), Place("a", 0), words(50, 8) + " "))
    assert told(workspace.composition) == told(Composition(workspace.job))


def test_feet_keep_clear_of_a_note_below_them() -> None:
    made = of(*[(f"R{n}", "some words") for n in range(60)], heads=1, foots=1)
    workspace = placed(made, 30)
    workspace.do(AddNote("main", Place("a", 3), Place("a", 3), words(60)))
    flow = workspace.composition.main
    assert flow is not None
    (column, standing), *_ = in_columns(workspace)
    assert column.notes
    assert standing[-1][0] == "R59"
    assert standing[-1][2] <= column.notes[0].top - 5.9


def test_rows_are_sorted_by_numbers_or_in_the_order_of_the_language() -> None:
    made = of(
        ("Bird", "n"),
        ("Reed", "1,200"),
        ("avocet", "90"),
        ("Éider", "7"),
        ("heron", ""),
        ("All", "1,297"),
        heads=1,
        foots=1,
    )
    workspace = placed(made)
    start = job_to_json(workspace.job)
    workspace.do(SortTable("t", 1))
    names = [row[0].paragraphs[0].text for row in workspace.job.tables["t"].rows]
    assert names == ["Bird", "Éider", "avocet", "Reed", "heron", "All"]
    workspace.do(SortTable("t", 0))
    assert [row[0].paragraphs[0].text for row in workspace.job.tables["t"].rows] == [
        "Bird",
        "avocet",
        "Éider",
        "heron",
        "Reed",
        "All",
    ]
    workspace.do(SortTable("t", 0, descending=True))
    assert [row[0].paragraphs[0].text for row in workspace.job.tables["t"].rows][1] == "Reed"
    other = Workspace(job_from_json(start))
    other.run(other.do(SortTable("t", 1)).inverse)
    assert job_to_json(other.job) == start
    bound = placed(table(3))
    if any(cell.down > 1 for row in bound.job.tables["t"].rows for cell in row):
        with pytest.raises(EditError, match="Rows with merged cells cannot be sorted"):
            bound.do(SortTable("t", 0))


@pytest.mark.parametrize(
    ("text", "language", "number"),
    [
        ("1,234.5", "en-GB", "1234.5"),
        ("1.234,5", "de", "1234.5"),
        ("−7 °C", "en", "-7"),
        ("12 345", "fr", "12345"),
        ("1’000.25", "de-CH", "1000.25"),
        ("no 3", "en", None),
        ("", "en", None),
    ],
)
def test_numbers_of_cells(text: str, language: str, number: str | None) -> None:
    """The signs are CLDR's, by ICU."""
    assert number_in(text, language) == (Decimal(number) if number is not None else None)


def test_mixed_cells_are_in_the_order_of_words_and_empty_ones_last() -> None:
    assert in_order(["10", "9", "", "b"], "en") == [0, 1, 3, 2]
    assert in_order(["10", "9", ""], "en") == [1, 0, 2]
    assert in_order(["ö", "z", "o"], "sv") == [2, 1, 0], "behind z in Swedish (CLDR)"
    assert in_order(["ö", "z", "o"], "de") == [2, 0, 1]


def test_a_narrow_table_ends_where_its_fixed_columns_do() -> None:
    workspace = placed(of(("a", "b"), ("c", "d"), sizes=(TableColumn("fixed", 40.0), TableColumn("fixed", 60.0))))
    assert body_of(workspace).width == pytest.approx(100.0)
    across = [one for one in paths(workspace) if one.pen and one.pen.weight == 0.75]
    assert {round(one.steps[1][1][0][0] - one.steps[0][1][0][0], 3) for one in across} == {100.0}
    workspace.do(AddTextFrame(workspace.job.pages[0].id, Rect(10, 10, 100, 100)))
    assert told(workspace.composition) == told(Composition(workspace.job))
