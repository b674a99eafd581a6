"""Default formatting of text in cells: as running text without its paragraph settings, or in the styles of the table
style, with the alignment of its column."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import replace
from functools import lru_cache
from typing import Literal

from lexigon.core.document.cell_stories import cell_of
from lexigon.core.document.model import PLAIN_TABLE, Job, Paragraph, ParaSpec, TableStyle, TextTable, TypeSpec, combined
from lexigon.core.tables.grid import placed_cells

SHORT_WORD = 7
"""Shorter words are not hyphenated in tables (common practice, no source)."""
QUIET = ParaSpec(
    align="left",
    indent_first=0.0,
    space_before=0.0,
    space_after=0.0,
    grid=False,
    hyphenate=True,
    start="anywhere",
    hyphen_word=SHORT_WORD,
    hyphen_names=True,
)
"""Body text with nothing that belongs to running text. Cells begin with a capital, so words with one are hyphenated as
others are."""
HEAD = TypeSpec(weight=700)
UNDIVIDED = TypeSpec(no_break=True)

_FIGURE = r"[-+±−–<>≤≥≈~€£$¥]*\d[\d.,:'’/·–−-]*[%‰°€£$¥]?"
_SIGN = r"[-+±−–<>≤≥≈~€£$¥%‰×/]"
_UNIT = r"[^\W\d_]{1,10}[.%]?|°[CF]?|[a-z]+[²³/][a-z]*"
_VALUE = re.compile(rf"(?=\D*\d)(?:{_FIGURE}|{_SIGN}|{_UNIT})(?: (?:{_FIGURE}|{_SIGN}|{_UNIT})){{0,3}}")
LONGEST_VALUE = 32
_HYPHEN_AS_MINUS = re.compile(r"-(?=[.,]?\d)")
MINUS = "\u2212"


def is_value(text: str) -> bool:
    """Return whether a cell holds a figure, a date or a measure alone, which no line may divide: "1 160", "21–24", "12
    June 2026", "3.5 km"."""
    if not text or len(text) > LONGEST_VALUE:
        return False
    words = text.strip().split(" ")
    return sum(word[:1].isalpha() for word in words) <= 1 and _VALUE.fullmatch(" ".join(words)) is not None


def place_in(table: TextTable, row: int, column: int) -> tuple[bool, str | None]:
    """Return what a place in a table means for the words there: whether it is of a head or a foot row, and how words of
    its column stand."""
    count = len(table.rows)
    feet = table.foots if table.heads + table.foots < count else 0
    size = table.sizes[column] if column < len(table.sizes) else None
    return row < table.heads or row >= count - feet, size.align if size is not None else None


def in_cell(p: Paragraph, table: TextTable, look: TableStyle, body: str, row: int, column: int) -> Paragraph:
    """The setting of a paragraph of a cell; one in another style than running text (``body``) keeps that style. A
    figure or a date stays on one line, and the hyphen before a figure is set as a minus sign."""
    if is_value(p.text):
        text = MINUS + p.text[1:] if _HYPHEN_AS_MINUS.match(p.text) else p.text
        p = replace(p, text=text, type=combined(UNDIVIDED, p.type))
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
    """Return the alignment that a column gives to words in a style of their own, and to running text."""
    along = ParaSpec(align=align) if align else None
    return along, combined(QUIET, along)


Set = Callable[[Paragraph], Paragraph]
"""The setting of a paragraph of a story."""


def setter(job: Job, key: str) -> Set:
    """Return the settings of a story's paragraphs, by its name: those of a cell from its table, those of other stories
    from themselves."""
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
