"""Columns that are too narrow for all that is in them: figures and dates stay whole, text gives way, and what cannot
fit is found."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.check.findings import findings_of
from lexigon.core.document.model import TableColumn
from lexigon.core.editing.intents import AddTable, AddTextFrame, Place
from lexigon.core.flow.table_columns import solved
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.tables.cell_settings import is_value
from tests.core.helpers import book, examples
from tests.core.test_table_looks import ROOM, body_of, glyphs, of
from tests.core.test_tables import placed

VALUES = (
    "1,160",
    "1 160",
    "21–24",
    "12 June 2026",
    "2026-06-12",
    "12/06/26",
    "-3.5",
    "< 0.5 °C",
    "3 km²",
    "40 %",
    "£3.50",
)
TEXTS = ("", "–", "Heron", "June", "12 pairs of geese", "Plate 3 north bank", "the 12th of June", "1 " * 40)


@pytest.mark.parametrize("text", VALUES)
def test_a_figure_a_date_or_a_measure_is_a_value(text: str) -> None:
    assert is_value(text)


@pytest.mark.parametrize("text", TEXTS)
def test_words_are_no_value(text: str) -> None:
    assert not is_value(text)


@settings(max_examples=examples(200))
@given(
    st.lists(
        st.tuples(st.floats(12, 60), st.floats(0, 80), st.floats(0, 300), st.sampled_from(["content", "share"])),
        min_size=1,
        max_size=8,
    ),
    st.floats(60, 900),
)
def test_text_gives_way_before_figures_do(drawn: list[tuple[float, float, float, str]], room: float) -> None:
    """No column is narrower than what may not be divided in it while there is room for that of all of them."""
    firm = [hard for hard, _, _, _ in drawn]
    asked = [(hard + soft, hard + soft + more) for hard, soft, more, _ in drawn]
    sizes = [TableColumn(kind, 1.0 if kind == "share" else 0.0) for _, _, _, kind in drawn]  # type: ignore[arg-type]
    found = solved(sizes, asked, room, lambda: firm)
    assert sum(found) == pytest.approx(room)
    if sum(firm) <= room:
        assert all(width >= hard - 1e-6 for width, hard in zip(found, firm, strict=True))
    if sum(least for least, _ in asked) <= room:
        assert found == solved(sizes, asked, room), "where the longest words fit, nothing is different"


LONG = (
    "Observation",
    "Interdepartmental correspondence",
    "Internationalisation",
    "Counterrevolutionary",
    "Misunderstandings",
)


def test_figures_dates_and_short_words_stay_whole_where_long_words_are_hyphenated() -> None:
    """Columns of words that are wider together than the page, beside a date and a figure."""
    rows = [LONG + ("12 June 2026", "1,160")]
    workspace = placed(of(*rows))
    body = body_of(workspace)
    assert body.width == pytest.approx(ROOM)
    shown = [one.run.text for one in glyphs(workspace)]
    assert "12 June 2026" in shown
    assert "1,160" in shown
    assert "Observation" not in shown, "long words are divided"
    edges = body.words.edges
    firm = body.words.firm()
    assert all(right - left >= need - 0.02 for left, right, need in zip(edges, edges[1:], firm, strict=False))
    assert not any(one.kind == "table too narrow" for one in findings_of(workspace.composition))


def test_a_figure_wider_than_its_column_runs_out_whole_and_is_found() -> None:
    sizes = (TableColumn(), TableColumn("fixed", 20.0))
    workspace = placed(of(("Bird", "Count"), ("Dunlin", "6,100,250"), heads=1, sizes=sizes))
    assert "6,100,250" in [one.run.text for one in glyphs(workspace)]
    (found,) = [one for one in findings_of(workspace.composition) if one.kind == "table too narrow"]
    assert "“Table 1” is too narrow. A figure or word is" in found.text
    assert found.page == 0


def test_a_hyphen_before_a_figure_is_set_as_a_minus_sign_and_stays_a_hyphen_in_the_text() -> None:
    made = of(
        ("Low", "-3.5"), ("High", "12.25"), ("Note", "- see below"), sizes=(TableColumn(), TableColumn(align="decimal"))
    )
    workspace = placed(made)
    shown = [one.run.text for one in glyphs(workspace)]
    assert {"\u22123.5", "- see below"} <= set(shown)
    assert workspace.job.tables["t"].rows[0][1].paragraphs[0].text == "-3.5"


def test_decimals_stay_inside_a_cell_that_is_too_narrow_for_all_of_them_together() -> None:
    """Neither is wider than the column, but below each other at the decimal point they are."""
    made = of(("123456.5",), ("1.123456",), sizes=(TableColumn("fixed", 62.0, "decimal"),))
    workspace = placed(made)
    runs = [one.run for one in glyphs(workspace) if one.run.text in ("123456.5", "1.123456")]
    body = body_of(workspace)
    left = min(run.x for run in runs)
    assert len(runs) == 2
    assert max(run.x + run.width for run in runs) - left <= body.width + 0.1
    assert all(run.width < body.width - 2 * body.look.beside + 0.1 for run in runs)


def test_columns_are_divided_anew_in_a_frame_of_another_width() -> None:
    """The second frame is half as wide: text columns give way there, and every row is in one of the two."""
    rows = [(f"Row {n}", "A long description of what was seen over the flats", f"{n},000") for n in range(12)]
    workspace = Workspace(book())
    page = workspace.job.pages[0].id
    workspace.do(AddTextFrame(page, Rect(60, 60, 300, 150)))
    first = workspace.job.pages[0].objects[-1]
    workspace.do(AddTextFrame(page, Rect(60, 260, 150, 400), after=first.id))
    assert first.story is not None
    start = workspace.job.stories[first.story].paragraphs[0].id
    workspace.do(AddTable(first.story, Place(start, 0), heads=0, words="\n".join("\t".join(row) for row in rows)))
    flow = workspace.composition.flows[first.story]
    widths = []
    for column in flow.columns[:2]:
        body = flow.table(column.blocks[0].paragraph, column.blocks[0].measure)
        assert body is not None
        edges = body.words.edges
        widths.append([right - left for left, right in pairwise(edges)])
    assert sum(widths[0]) == pytest.approx(300)
    assert sum(widths[1]) == pytest.approx(150)
    assert widths[1][2] > 150 * widths[0][2] / 300, "figures keep more than their part"
    shown = [one.run.text for one in glyphs(workspace)]
    assert [text for text in shown if text.endswith(",000")] == [f"{n},000" for n in range(12)]
