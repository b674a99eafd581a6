"""Sums of a table's columns, written out: an ``Anchor`` of the kind ``sum`` in a cell stands for the total of its
column."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import replace
from decimal import Decimal

from lexigon.core.collation import decimal_sign, format_of, number_in
from lexigon.core.document.model import Cell, TextTable
from lexigon.core.tables.grid import placed_cells

_GROUPED = re.compile(r"\d([,.\u00a0\u202f '’])\d{3}(?!\d)")


def with_sums(table: TextTable, language: str) -> TextTable:
    """The table with what each sum shows as its anchor's ``ref``; the table itself where there is none.

    Counted are the numbers that the cells of the column begin with, but for head and foot rows, cells over several
    columns and sums themselves. A total has as many decimals as the number with the most, thousands apart where one of
    them has, and the currency and the unit that all of them have."""
    if not any(_sums(cell) for row in table.rows for cell in row):
        return table
    columns: dict[int, list[str]] = {}
    behind = len(table.rows) - (table.foots if table.heads + table.foots < len(table.rows) else 0)
    grid = placed_cells(table)
    for one in grid:
        if table.heads <= one.row < behind and one.across == 1 and not _sums(one.cell):
            columns.setdefault(one.column, []).append(" ".join(p.text for p in one.cell.paragraphs))
    rows = [list(row) for row in table.rows]
    for one in grid:
        if _sums(one.cell):
            rows[one.row][one.number] = _written(one.cell, total(columns.get(one.column, ()), language))
    return replace(table, rows=tuple(map(tuple, rows)))


def total(cells: Iterable[str], language: str) -> str:
    """The sum of the numbers that some cells begin with, as it is written in a language; "" where none does."""
    sign = decimal_sign(language)
    numbers: list[Decimal] = []
    group = ""
    formats: set[tuple[str, str]] = set()
    for text in cells:
        number = number_in(text, language)
        if number is None:
            continue
        numbers.append(number)
        formats.add(format_of(text, language))
        match = _GROUPED.search(text)
        if match and match[1] != sign:
            group = group or match[1]
    if not numbers:
        return ""
    text_ = sum(numbers, Decimal(0))
    places = max(max(-int(number.as_tuple().exponent), 0) for number in numbers)
    text = f"{abs(text_):,.{places}f}"
    whole, _, part = text.partition(".")
    before, behind = formats.pop() if len(formats) == 1 else ("", "")
    return ("−" if text_ < 0 else "") + before + whole.replace(",", group) + (sign + part if part else "") + behind


def _sums(cell: Cell) -> bool:
    return any(span.object is not None and span.object.kind == "sum" for p in cell.paragraphs for span in p.spans)


def _written(cell: Cell, words: str) -> Cell:
    paragraphs = tuple(
        replace(
            p,
            spans=tuple(
                replace(span, object=replace(span.object, ref=words))
                if span.object is not None and span.object.kind == "sum"
                else span
                for span in p.spans
            ),
        )
        for p in cell.paragraphs
    )
    return replace(cell, paragraphs=paragraphs)
