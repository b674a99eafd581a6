"""The text of a table's cells as stories of their own, so that edits of stories apply to them.

Such a story is named by its table and its place there, ``table/row.cell``; it is not among the job's stories. Where
rows were inserted or deleted since, the paragraphs that an edit looks for are not found, and nothing is changed.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from lexigon.core.document.model import Cell, Job, Paragraph, Story, TextTable

_KEY = re.compile(r"([^/]+)/(\d{1,6})\.(\d{1,4})")


def cell_key(table: str, row: int, number: int) -> str:
    """The name of a cell's text: its row, and which of the row's own cells it is."""
    return f"{table}/{row}.{number}"


def table_of(key: str) -> str:
    """The table that the text of a cell belongs to; "" for any other story."""
    return key.partition("/")[0] if "/" in key else ""


def cell_paragraphs(table: TextTable, row: int, number: int, body: str) -> tuple[Paragraph, ...]:
    """Return the paragraphs of a cell; an empty cell has one to type in."""
    paragraphs = table.rows[row][number].paragraphs
    return paragraphs or (Paragraph(f"{table.id[-12:]}.{row}.{number}", body),)


def text_of(job: Job, key: str) -> Story | None:
    """A story of the job, or the text of a cell, by its name. The text of a cell is a copy: edits change the cell
    itself."""
    story = job.stories.get(key)
    if story is not None:
        return story
    cell = _cell(job, key)
    if cell is None:
        return None
    table, row, number = cell
    return Story(key, "Cell", list(cell_paragraphs(table, row, number, job.body)))


def with_words(table: TextTable, row: int, number: int, paragraphs: Sequence[Paragraph]) -> TextTable:
    """The table with other words in a cell."""
    cells = list(table.rows[row])
    cells[number] = replace(cells[number], paragraphs=tuple(paragraphs))
    rows: list[tuple[Cell, ...]] = list(table.rows)
    rows[row] = tuple(cells)
    return replace(table, rows=tuple(rows))


def put_words(job: Job, key: str, paragraphs: Sequence[Paragraph]) -> None:
    """Replace the words of a cell, in place. A missing cell stays missing."""
    cell = _cell(job, key)
    if cell is not None:
        table, row, number = cell
        job.tables[table.id] = with_words(table, row, number, paragraphs)


def cell_of(key: str) -> tuple[str, int, int] | None:
    """The table, the row and the position in it that name the text of a cell; None for any other story."""
    match = _KEY.fullmatch(key) if "/" in key else None
    return (match[1], int(match[2]), int(match[3])) if match else None


def _cell(job: Job, key: str) -> tuple[TextTable, int, int] | None:
    named = cell_of(key)
    table = job.tables.get(named[0]) if named else None
    if named is None or table is None:
        return None
    _, row, number = named
    return (table, row, number) if row < len(table.rows) and number < len(table.rows[row]) else None
