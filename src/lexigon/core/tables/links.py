"""Tables that take their words from a file, and are updated from it when it has changed: cell by cell, as a three-way
merge.

A change in the file alone is taken over, with the formatting of the cell; a change made by hand stays. Rows are
identified by their first cell; rows that were added to the file take their position there, and rows added by hand stay
after the one that they followed.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from difflib import SequenceMatcher

from lexigon.core.document import story_text
from lexigon.core.document.model import OBJECT, Cell, Paragraph, TextTable
from lexigon.core.errors import LexigonError
from lexigon.core.tables.grid import PlacedCell, placed_cells
from lexigon.core.tables.shapes import Range, joined, parted

Words = tuple[tuple[str, ...], ...]
"""Rows of cells' words."""


@dataclass(slots=True)
class TableUpdate:
    """A table as the file has it now, and what that did."""

    table: TextTable
    changed: int = 0
    """Cells with other words."""
    new: int = 0
    gone: int = 0
    """Rows."""
    kept: int = 0
    """Cells, and rows that the file no longer has, which were changed by hand and stay."""
    merged: int = 0
    """Cells over several rows or columns that were not merged so before."""

    @property
    def summary(self) -> str:
        counts = (
            (self.changed, "cell", "changed"),
            (self.new, "row", "new"),
            (self.gone, "row", "gone"),
            (self.merged, "cell", "merged"),
            (self.kept, "place", "left as you changed them"),
        )
        counts_text = [f"{count} {word}{'s' * (count != 1)} {what}" for count, word, what in counts if count]
        return ", ".join(counts_text) or "nothing has changed"


def words_of(table: TextTable) -> list[list[str]]:
    """The words of a table's cells by row and column; a merged cell is only at its first position."""
    words = [[""] * table.columns for _ in table.rows]
    for one in placed_cells(table):
        words[one.row][one.column] = "\n".join(p.text for p in one.cell.paragraphs)
    return words


def refreshed(
    table: TextTable, theirs: Sequence[Sequence[str]], source: str, merged: Sequence[Range] = ()
) -> TableUpdate:
    """A table brought up to what a file holds, with the cells that are ``merged`` there merged here, too. One that was
    not linked to a file takes over all that differs.

    Raises LexigonError where rows come or go between cells that were merged by hand.
    """
    if not merged:
        return _refreshed(table, theirs, source)
    result = _refreshed(_unmerged(table), theirs, source)
    before = [_span(one) for one in placed_cells(table)]
    stay = (
        before if not result.new and not result.gone else []
    )  # else nobody knows where a cell merged by hand would be
    for span in (*(one for one in stay if one.bottom > one.top or one.right > one.left), *merged):
        result.table = joined(result.table, span)
    high = [span.bottom + 1 for span in merged if span.top == 0]
    if not table.given and result.table.heads:
        result.table = replace(result.table, heads=min(max([result.table.heads, *high]), len(result.table.rows)))
    now = [_span(one) for one in placed_cells(result.table)]
    result.merged = sum(one not in before for one in now if one.bottom > one.top or one.right > one.left)
    return result


def _span(one: PlacedCell) -> Range:
    return Range(one.row, one.column, one.row + one.down - 1, one.column + one.across - 1)


def _unmerged(table: TextTable) -> TextTable:
    whole = Range(0, 0, max(len(table.rows) - 1, 0), max(table.columns - 1, 0))
    return parted(table, whole, lambda row, column: Cell((Paragraph(story_text.new_id("p"), "body"),)))


def _refreshed(table: TextTable, theirs: Sequence[Sequence[str]], source: str) -> TableUpdate:
    mine = words_of(table)
    base = [list(row) for row in table.given] or [list(row) for row in mine[: len(theirs)]]
    stored = tuple(tuple(_clean(words) for words in row) for row in theirs)
    stand = _matched([_key(row) for row in base], [_key(row) for row in mine])
    pairs = _matched([_key(row) for row in base], [_key(row) for row in stored])
    from_base = {there: here for here, there in pairs.items()}
    straight = all(pairs.get(at) == at for at in range(len(base))) and len(stored) == len(base)
    if not straight and any(cell.down > 1 for row in table.rows for cell in row):
        raise LexigonError("The file has more or fewer rows, but this table has merged cells. Split them first.")
    result = TableUpdate(table)
    followers: dict[int, list[int]] = {}
    last = -1
    owner = {row: at for at, row in stand.items()}
    for row in range(len(table.rows)):
        if row in owner:
            last = row
        else:
            followers.setdefault(last, []).append(row)
    rows: list[tuple[Cell, ...]] = [table.rows[row] for row in followers.get(-1, ())]
    like = 0
    for at, row_words in enumerate(stored):
        base_row = from_base.get(at)
        place = stand.get(base_row) if base_row is not None else None
        if base_row is not None and place is None:
            result.kept += 1  # the row was deleted by hand
            continue
        if place is None or base_row is None:
            result.new += 1
            rows.append(_filled(_like(table.rows[max(like, min(table.heads, len(table.rows) - 1))]), row_words))
            continue
        like = place
        rows.append(tuple(_merged(table, place, base[base_row], row_words, result)))
        rows += [table.rows[other] for other in followers.get(place, ())]
    for at, there in stand.items():
        if at not in pairs:
            if mine[there][: len(base[at])] == base[at]:
                result.gone += 1
            else:
                result.kept += 1
                rows.append(table.rows[there])
            rows += [table.rows[other] for other in followers.get(there, ())]
    if not rows:
        raise LexigonError("The file contains no cells.")
    result.table = replace(
        table,
        rows=tuple(rows),
        heads=min(table.heads, len(rows)),
        foots=min(table.foots, max(len(rows) - table.heads, 0)),
        source=source,
        given=stored,
    )
    return result


def _merged(
    table: TextTable, row: int, base: Sequence[str], theirs: Sequence[str], result: TableUpdate
) -> Iterator[Cell]:
    """The cells of a row: with the file's words where it alone has changed them."""
    column = 0
    for one in (one for one in placed_cells(table) if one.row == row):
        column = max(column, one.column + one.cell.across)
        old, new = (words[one.column] if one.column < len(words) else "" for words in (base, theirs))
        own = "\n".join(p.text for p in one.cell.paragraphs)
        if new == old or own == new:
            yield one.cell
        elif own != old:
            result.kept += 1
            yield one.cell
        else:
            result.changed += 1
            yield _with_words(one.cell, new)
    for words in theirs[column:]:
        result.changed += bool(words)
        last = table.rows[row][-1]
        yield _with_words(_emptied(replace(last, across=1)), words)


def _with_words(cell: Cell, words: str) -> Cell:
    """A cell with other words, in the formatting of the present ones."""
    first = cell.paragraphs[0] if cell.paragraphs else Paragraph(story_text.new_id("p"), "body")
    return replace(cell, paragraphs=(story_text.reworded(first, words),))


def _emptied(cell: Cell) -> Cell:
    first = cell.paragraphs[0] if cell.paragraphs else Paragraph("", "body")
    return replace(cell, down=1, paragraphs=(replace(first, id=story_text.new_id("p"), text="", spans=()),))


def _like(row: tuple[Cell, ...]) -> tuple[Cell, ...]:
    return tuple(map(_emptied, row))


def _filled(row: tuple[Cell, ...], words: Sequence[str]) -> tuple[Cell, ...]:
    cells, column = [], 0
    for cell in row:
        cells.append(_with_words(cell, words[column] if column < len(words) else ""))
        column += cell.across
    return (*cells, *(_with_words(_emptied(replace(row[-1], across=1)), one) for one in words[column:]))


def _clean(words: str) -> str:
    return " ".join(story_text.clean(words.replace(OBJECT, "")).split("\n"))


def _key(row: Sequence[str]) -> str:
    return row[0] if row else ""


def _matched(before: Sequence[str], now: Sequence[str]) -> dict[int, int]:
    """Return which rows are the same, by their first cells in order; of stretches that are as long in both, one by
    one."""
    matches: dict[int, int] = {}
    for what, a, b, c, d in SequenceMatcher(None, before, now, autojunk=False).get_opcodes():
        if what == "equal" or (what == "replace" and b - a == d - c):
            matches.update(zip(range(a, b), range(c, d), strict=True))
    used = set(matches.values())
    left = {key: at for at, key in reversed(list(enumerate(now))) if at not in used}
    for at, key in enumerate(before):  # those that stand elsewhere now
        if at not in matches and key in left:
            matches[at] = left.pop(key)
    return matches
