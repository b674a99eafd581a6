"""How the words of cells are set where their paragraphs do not say otherwise: as running text without what belongs to that alone, or in the
styles that their table's style names; in columns as these say."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import lru_cache
from typing import Literal

from lexigon.core.job.celltexts import cell_of
from lexigon.core.job.model import PLAIN_TABLE, Job, Paragraph, ParaSpec, TableStyle, TextTable, TypeSpec, combined
from lexigon.core.job.tablegrid import placed_cells

QUIET = ParaSpec(
    align="left", indent_first=0.0, space_before=0.0, space_after=0.0, grid=False, hyphenate=True, start="anywhere"
)
"""Body text with nothing that belongs to running text."""
HEAD = TypeSpec(weight=700)


def place_in(table: TextTable, row: int, column: int) -> tuple[bool, str | None]:
    """What a place in a table means for the words there: whether it is of a head or a foot row, and how words of its column stand."""
    count = len(table.rows)
    feet = table.foots if table.heads + table.foots < count else 0
    size = table.sizes[column] if column < len(table.sizes) else None
    return row < table.heads or row >= count - feet, size.align if size is not None else None


def in_cell(p: Paragraph, table: TextTable, look: TableStyle, body: str, row: int, column: int) -> Paragraph:
    """A paragraph of a cell as it is set; one in another style than running text (``body``) is set in that."""
    if p.style not in (body, "first"):
        return p
    head, own = place_in(table, row, column)
    if own == "decimal":
        own = "right" if head else "left"
    along, quiet = _ways(own)
    named = look.head_style if head else look.body_style
    if named:
        return replace(p, style=named, para=combined(along, p.para) if along else p.para)
    return replace(p, para=combined(quiet, p.para), type=combined(HEAD, p.type) if head else p.type)


@lru_cache(8)
def _ways(align: Literal["left", "centre", "right"] | None) -> tuple[ParaSpec | None, ParaSpec]:
    """What the alignment of a column says of words in a style of their own, and of running text."""
    along = ParaSpec(align=align) if align else None
    return along, combined(QUIET, along)


Set = Callable[[Paragraph], Paragraph]
"""How a paragraph of a text is set."""


def setter(job: Job, key: str) -> Set:
    """How the paragraphs of a text are set, by its name: those of a cell as their table has them, of other texts as they are."""
    named = cell_of(key)
    table = job.tables.get(named[0]) if named is not None else None
    if named is None or table is None:
        return lambda p: p
    _, row, number = named
    column = next((one.column for one in placed_cells(table) if (one.row, one.number) == (row, number)), 0)
    return in_place(job, table, row, column)


def in_place(job: Job, table: TextTable, row: int, column: int) -> Set:
    """The same of a cell by its place in a table's grid."""
    look = job.table_styles.get(table.style, PLAIN_TABLE)
    return lambda p: in_cell(p, table, look, job.body, row, column)
