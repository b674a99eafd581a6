"""The words of a table's cells as texts of their own, so that what is done to texts is done to them.

Such a text is named by its table and its place there, ``table/row.cell``; it is no entry of the job's stories. Where rows came or went
since it was named, the paragraphs that are looked for in it are not found, and nothing is changed.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from lexigon.core.job.model import Cell, Job, Paragraph, Story, TextTable

_KEY = re.compile(r"([^/]+)/(\d{1,6})\.(\d{1,4})")


def cell_key(table: str, row: int, number: int) -> str:
    """The name of a cell's text: its row, and which of the row's own cells it is."""
    return f"{table}/{row}.{number}"


def table_of(key: str) -> str:
    """The table that the text of a cell belongs to; "" for a text of any other kind."""
    return key.partition("/")[0] if "/" in key else ""


def cell_paragraphs(table: TextTable, row: int, number: int, body: str) -> tuple[Paragraph, ...]:
    """Return the paragraphs of a cell; an empty cell has one to type in."""
    held = table.rows[row][number].paragraphs
    return held or (Paragraph(f"{table.id[-12:]}.{row}.{number}", body),)


def text_of(job: Job, key: str) -> Story | None:
    """A text of the job, or of a cell, by its name. That of a cell is a copy: edits change the cell itself."""
    story = job.stories.get(key)
    if story is not None:
        return story
    found = _cell(job, key)
    if found is None:
        return None
    table, row, number = found
    return Story(key, "Cell", list(cell_paragraphs(table, row, number, job.body)))


def with_words(table: TextTable, row: int, number: int, paragraphs: Sequence[Paragraph]) -> TextTable:
    """The table with other words in a cell."""
    cells = list(table.rows[row])
    cells[number] = replace(cells[number], paragraphs=tuple(paragraphs))
    rows: list[tuple[Cell, ...]] = list(table.rows)
    rows[row] = tuple(cells)
    return replace(table, rows=tuple(rows))


def put_words(job: Job, key: str, paragraphs: Sequence[Paragraph]) -> None:
    """Give a cell other words, in place. A cell that is gone stays so."""
    found = _cell(job, key)
    if found is not None:
        table, row, number = found
        job.tables[table.id] = with_words(table, row, number, paragraphs)


def cell_of(key: str) -> tuple[str, int, int] | None:
    """The table, the row and the place in it that the text of a cell is named by; None for a text of any other kind."""
    match = _KEY.fullmatch(key) if "/" in key else None
    return (match[1], int(match[2]), int(match[3])) if match else None


def _cell(job: Job, key: str) -> tuple[TextTable, int, int] | None:
    named = cell_of(key)
    table = job.tables.get(named[0]) if named else None
    if named is None or table is None:
        return None
    _, row, number = named
    return (table, row, number) if row < len(table.rows) and number < len(table.rows[row]) else None
