"""Tables with the paragraphs of their cells as they are to be set."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from lexigon.core.document.cell_stories import cell_paragraphs
from lexigon.core.document.model import PLAIN_TABLE, Cell, Paragraph, TableStyle, TextTable
from lexigon.core.flow.resolved_text import LaidTable
from lexigon.core.tables.cell_settings import in_cell, place_in
from lexigon.core.tables.grid import placed_cells


def as_set(
    table: TextTable, body: str, styles: Mapping[str, TableStyle], before: tuple[TextTable, LaidTable] | None = None
) -> LaidTable:
    """A table with the paragraphs of its cells as they are set: those in the style of running text (``body``) in the
    styles that the table's own names, else without what belongs to running text. Those of cells whose words are as they
    were ``before``, in a place that means the same for them, are the same objects as then: what was set of them is
    known again."""
    laid = LaidTable(
        table.id,
        table.name,
        (),
        table.heads,
        table.foots,
        table.style,
        table.sizes,
        table.continued,
        table.divide,
        look=styles.get(table.style, PLAIN_TABLE),
        body=body,
    )
    previous = _set_before(*before) if before and (before[1].look, before[1].body) == (laid.look, body) else {}
    rows: list[list[Cell]] = [[] for _ in table.rows]
    for one in placed_cells(table):
        paragraphs = cell_paragraphs(table, one.row, one.number, body)
        cached = previous.get((paragraphs[0].id, *place_in(table, one.row, one.column)))
        if cached is not None and (cached[0] is paragraphs or cached[0] == paragraphs):
            paragraph = cached[1]
        else:
            paragraph = tuple(in_cell(p, table, laid.look, body, one.row, one.column) for p in paragraphs)
        rows[one.row].append(replace(one.cell, paragraphs=paragraph))
    return replace(laid, rows=tuple(map(tuple, rows)))


Words = tuple[Paragraph, ...]


def _set_before(table: TextTable, laid: LaidTable) -> dict[tuple[str, bool, str | None], tuple[Words, Words]]:
    """The paragraphs of each cell as they are and as they were set, by the first of them and what its place means."""
    return {
        (one.cell.paragraphs[0].id, *place_in(table, one.row, one.column)): (
            one.cell.paragraphs,
            laid.rows[one.row][one.number].paragraphs,
        )
        for one in placed_cells(table)
        if one.cell.paragraphs
    }
