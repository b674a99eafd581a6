"""Intents about tables in stories: insert, and change the contents of their cells."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Literal

from lexigon.core.collation import in_order
from lexigon.core.document import story_text
from lexigon.core.document.cell_stories import table_of
from lexigon.core.document.limits import (
    CONTROLS,
    MOST_COLUMNS,
    MOST_PARAGRAPHS,
    HeadRows,
    Key,
    KeyOrEmpty,
    Many,
    Matching,
    Spanned,
    Text,
    Within,
)
from lexigon.core.document.model import (
    OBJECT,
    Anchor,
    Cell,
    Fill,
    Job,
    Paragraph,
    Span,
    TableColumn,
    TableStyle,
    TextTable,
)
from lexigon.core.document.model.tables import CellHeight, CellRules, CellTurn, CellVertical
from lexigon.core.editing.edits import EditError, Primitive, PutEntry, SpliceParagraphs, put
from lexigon.core.editing.intents.text.words import Place, locate
from lexigon.core.numerals import integer
from lexigon.core.tables.delimited import cells_of
from lexigon.core.tables.grid import placed_cells
from lexigon.core.tables.links import refreshed
from lexigon.core.tables.shapes import Range

CellWords = Annotated[
    str,
    Matching(
        f"(?:[^{CONTROLS}]|\n|\t)*",
        "A cell can contain at most 100,000 characters, and no control characters.",
        100_000,
    ),
]
Number = Annotated[int, Within(-1, MOST_PARAGRAPHS, "The table has no such cell.")]
NewRows = Annotated[int, Within(1, 1000, "A new table has 1 to 1,000 rows.")]
NewColumns = Annotated[int, Within(1, 60, "A new table has 1 to 60 columns.")]

MOST_ROWS = 10_000
MOST_MERGED = 5_000


@dataclass(slots=True, frozen=True)
class AddTable:
    """Insert a table after the paragraph of ``at``, or replacing it if it is empty: with empty cells, or with those
    copied from a spreadsheet or a text file (``words``)."""

    story: str
    at: Place
    rows: NewRows = 3
    columns: NewColumns = 3
    heads: HeadRows = 1
    words: Annotated[str, Matching(r"[\s\S]*", "This is more than can be pasted into a table at once.", 2_000_000)] = ""
    do: Literal["add-table"] = "add-table"
    label = "Add table"

    def expand(self, job: Job) -> list[Primitive]:
        story, ((index, _),) = locate(job, self.story, self.at)
        if story.kind != "text" or table_of(self.story):
            raise EditError("A table can be in a story on pages, not in a note or an anchored frame.")
        cells = cells_of(self.words) or [[""] * self.columns for _ in range(self.rows)]
        names = {one.name for one in job.tables.values()}
        name = next(name for n in range(1, len(names) + 2) if (name := f"Table {n}") not in names)
        rows = tuple(tuple(Cell((_paragraph(job, words),)) for words in row) for row in cells)
        table = TextTable(story_text.new_id("t"), name, rows, min(self.heads, len(rows)))
        there = story.paragraphs[index]
        paragraph = Paragraph(
            story_text.new_id("p"),
            job.body if there.style not in job.paragraph_styles else there.style,
            OBJECT,
            (Span(0, 1, object=Anchor("table", table.id)),),
        )
        empty = not there.text
        behind = () if index + 1 < len(story.paragraphs) else (Paragraph(story_text.new_id("p"), paragraph.style),)
        splice = SpliceParagraphs(story.id, index if empty else index + 1, 1 if empty else 0, (paragraph, *behind))
        return [put("tables", table), splice]


@dataclass(slots=True, frozen=True)
class CellSaid:
    """A cell as it is to be: its words, a line for each paragraph, and which cell it was, counted through the rows (-1:
    a new one)."""

    words: CellWords = ""
    across: Spanned = 1
    down: Spanned = 1
    was: Number = -1
    vertical: CellVertical | None = None
    fill: Fill | None = None
    turn: CellTurn = 0
    height: CellHeight = 0.0
    rules: CellRules | None = None


@dataclass(slots=True, frozen=True)
class ChangeTable:
    """Change the cells of a table. Words that stay keep their formatting; where some of a cell's words change, the
    others keep theirs. ``None`` leaves a property of the table unchanged."""

    table: Key
    rows: Annotated[tuple[Annotated[tuple[CellSaid, ...], Many(MOST_COLUMNS)], ...], Many(MOST_ROWS)]
    heads: HeadRows = 0
    foots: HeadRows | None = None
    style: KeyOrEmpty | None = None
    sizes: Annotated[tuple[TableColumn, ...], Many(MOST_COLUMNS)] | None = None
    continued: Text | None = None
    divide: bool | None = None
    do: Literal["change-table"] = "change-table"
    label = "Change table"

    def expand(self, job: Job) -> list[Primitive]:
        table = job.tables.get(self.table)
        if table is None:
            raise EditError("That table is no longer in the job.")
        rows = tuple(row for row in self.rows if row)
        if not rows:
            raise EditError("A table must have at least one cell. To remove the table, delete it in the story.")
        old = [cell for row in table.rows for cell in row]
        if self.style and self.style not in job.table_styles:
            raise EditError("That table style is no longer in the job.", "style")
        changes = {name: getattr(self, name) for name in ("foots", "style", "sizes", "continued", "divide")}
        changed = replace(
            table,
            rows=tuple(tuple(_cell(job, one, old) for one in row) for row in rows),
            heads=min(self.heads, len(rows)),
            **{name: value for name, value in changes.items() if value is not None},
        )
        if changed.foots > max(len(rows) - changed.heads, 0):
            changed = replace(changed, foots=max(len(rows) - changed.heads, 0))
        return [put("tables", changed)] if changed != table else []


def _paragraph(job: Job, words: str) -> Paragraph:
    return Paragraph(story_text.new_id("p"), job.body, story_text.clean(words.replace(OBJECT, "")).replace("\n", " "))


def _cell(job: Job, words: CellSaid, old: list[Cell]) -> Cell:
    before = old[words.was] if 0 <= words.was < len(old) else None
    lines = words.words.split("\n")
    paragraphs: list[Paragraph] = []
    for number, line in enumerate(lines):
        there = before.paragraphs[number] if before is not None and number < len(before.paragraphs) else None
        paragraphs.append(
            story_text.reworded(there, line)
            if there is not None
            else replace(_paragraph(job, line), style=paragraphs[-1].style if paragraphs else job.body)
        )
    return Cell(
        tuple(paragraphs), words.across, words.down, words.vertical, words.fill, words.turn, words.height, words.rules
    )


@dataclass(slots=True, frozen=True)
class SortTable:
    """The rows of a table between its heads and its feet in the order of a column: of its numbers, or of its words in
    the job's language."""

    table: Key
    column: Annotated[int, Within(0, MOST_COLUMNS, "The table has no such column.")]
    descending: bool = False
    do: Literal["sort-table"] = "sort-table"
    label = "Sort table"

    def expand(self, job: Job) -> list[Primitive]:
        table = job.tables.get(self.table)
        if table is None:
            raise EditError("That table is no longer in the job.")
        behind = len(table.rows) - table.foots
        rows = table.rows[table.heads : behind]
        if any(cell.down > 1 for row in rows for cell in row):
            raise EditError("Rows with merged cells cannot be sorted. Split the cells first.")
        words = [_words_at(row, self.column) for row in rows]
        order = in_order(words, job.brief.language, self.descending)
        rows_ = (*table.rows[: table.heads], *(rows[at] for at in order), *table.rows[behind:])
        return [put("tables", replace(table, rows=rows_))] if rows_ != table.rows else []


def _words_at(row: tuple[Cell, ...], column: int) -> str:
    """The words of the cell that is in a column of a row; "" if there is none."""
    at = 0
    for cell in row:
        if at <= column < at + cell.across:
            return " ".join(p.text for p in cell.paragraphs)
        at += cell.across
    return ""


@dataclass(slots=True, frozen=True)
class PutTableStyle:
    """Add a table style, or change one."""

    style: TableStyle
    do: Literal["put-table-style"] = "put-table-style"
    label = "Change table style"

    def expand(self, job: Job) -> list[Primitive]:
        name = " ".join(self.style.name.split())
        if not name or not self.style.id:
            raise EditError("Type a name for the style.", "name")
        others = (one for one in job.table_styles.values() if one.id != self.style.id)
        if any(one.name.casefold() == name.casefold() for one in others):
            raise EditError(f"There is a table style “{name}” already.", "name")
        for style in (self.style.head_style, self.style.body_style):
            if style and style not in job.paragraph_styles:
                raise EditError("A paragraph style of these tables is no longer in the job.")
        return [put("table_styles", replace(self.style, name=name))]


@dataclass(slots=True, frozen=True)
class RemoveTableStyle:
    """A style of tables goes; those in it are plain."""

    style: Key
    do: Literal["remove-table-style"] = "remove-table-style"
    label = "Delete table style"

    def expand(self, job: Job) -> list[Primitive]:
        if self.style not in job.table_styles:
            raise EditError("That table style is no longer in the job.")
        plain = [put("tables", replace(one, style="")) for one in job.tables.values() if one.style == self.style]
        return [*plain, PutEntry("table_styles", self.style, None)]


@dataclass(slots=True, frozen=True)
class AddTableRow:
    """Add an empty row after the others, before the footer rows, with cells as wide as those of the last row, and their
    formatting."""

    table: Key
    do: Literal["add-table-row"] = "add-table-row"
    label = "Add table row"

    def expand(self, job: Job) -> list[Primitive]:
        table = job.tables.get(self.table)
        if table is None or not table.rows:
            raise EditError("That table is no longer in the job.")
        at = max(len(table.rows) - table.foots, 1)
        if len(table.rows) >= MOST_ROWS:
            raise EditError(f"A table has at most {integer(MOST_ROWS)} rows.")
        return [put("tables", replace(table, rows=(*table.rows[:at], _like(table, at - 1), *table.rows[at:])))]


def _like(table: TextTable, row: int) -> tuple[Cell, ...]:
    """Empty cells in the columns of a row, also in those that a cell above goes down over."""
    covered = [one for one in placed_cells(table) if one.row <= row < one.row + one.down]
    cells = []
    for one in sorted(covered, key=lambda one: one.column):
        first = one.cell.paragraphs[0] if one.cell.paragraphs else Paragraph("", "body")
        empty = replace(first, id=story_text.new_id("p"), text="", spans=())
        cells.append(replace(one.cell, paragraphs=(empty,), down=1))
    return tuple(cells)


@dataclass(slots=True, frozen=True)
class FillCells:
    """Insert cells from a spreadsheet (``words``: rows on lines, cells separated by tabs) into a table from a cell on.
    Rows, before the footer rows, and columns are added where needed. A cell that another one covers takes nothing."""

    table: Key
    row: Annotated[int, Within(0, MOST_ROWS, "The table has no such row.")]
    number: Annotated[int, Within(0, MOST_COLUMNS, "The row has no such cell.")]
    words: Annotated[str, Matching(r"[\s\S]*", "This is more than can be pasted into a table at once.", 2_000_000)]
    do: Literal["fill-cells"] = "fill-cells"
    label = "Fill cells"

    def expand(self, job: Job) -> list[Primitive]:
        table = job.tables.get(self.table)
        if table is None or self.row >= len(table.rows) or self.number >= len(table.rows[self.row]):
            raise EditError("That cell is no longer in the table.")
        cells = cells_of(self.words) if self.words.strip() else []
        if not cells:
            raise EditError("There is nothing to paste into the cells.")
        column = next(one.column for one in placed_cells(table) if (one.row, one.number) == (self.row, self.number))
        table = _wide(_high(table, self.row + len(cells)), column + len(cells[0]))
        rows = [list(row) for row in table.rows]
        for one in placed_cells(table):
            down, along = one.row - self.row, one.column - column
            if 0 <= down < len(cells) and 0 <= along < len(cells[0]):
                first = one.cell.paragraphs[0] if one.cell.paragraphs else _paragraph(job, "")
                words = " ".join(story_text.clean(cells[down][along].replace(OBJECT, "")).split("\n"))
                rows[one.row][one.number] = replace(one.cell, paragraphs=(story_text.reworded(first, words),))
        return [put("tables", replace(table, rows=tuple(map(tuple, rows))))]


@dataclass(slots=True, frozen=True)
class Merge:
    """Cells that are one: from which row and column to which, all four included."""

    top: Number
    left: Number
    bottom: Number
    right: Number


@dataclass(slots=True, frozen=True)
class RefreshTable:
    """Update a table from its file, whose cells are now ``words``; cells that somebody edited stay."""

    table: Key
    source: Annotated[str, Matching(f"[^{CONTROLS}]+", "A file has a name of at most 200 characters.", 200)]
    words: Annotated[str, Matching(r"[\s\S]*", "This is more than can be pasted into a table at once.", 2_000_000)]
    parted: Literal["", "\t"] = ""
    """The character that separates its cells; "" to find it."""
    merged: Annotated[tuple[Merge, ...], Many(MOST_MERGED)] = ()
    """Cells that are merged in the file."""
    do: Literal["refresh-table"] = "refresh-table"

    @property
    def label(self) -> str:
        return f"Import cells from “{self.source}”"

    def expand(self, job: Job) -> list[Primitive]:
        table = job.tables.get(self.table)
        if table is None:
            raise EditError("That table is no longer in the job.")
        cells = cells_of(self.words, self.parted) if self.words.strip() else []
        if not cells:
            raise EditError("There is nothing to paste into the cells.")
        spans = [Range(one.top, one.left, one.bottom, one.right) for one in self.merged]
        if any(not (0 <= one.top <= one.bottom and 0 <= one.left <= one.right) for one in spans):
            raise EditError("A merged cell in the file ends before it starts.")
        changed = refreshed(table, cells, self.source, spans).table
        return [put("tables", changed)] if changed != table else []


def _high(table: TextTable, count: int) -> TextTable:
    """The table with at least so many rows above its feet."""
    at = len(table.rows) - table.foots
    more = count - at
    if more <= 0:
        return table
    if len(table.rows) + more > MOST_ROWS:
        raise EditError(f"A table has at most {integer(MOST_ROWS)} rows.")
    new = tuple(_like(table, at - 1) for _ in range(more))
    return replace(table, rows=(*table.rows[:at], *new, *table.rows[at:]))


def _wide(table: TextTable, count: int) -> TextTable:
    """The table with at least so many columns."""
    more = count - table.columns
    if more <= 0:
        return table
    if count > MOST_COLUMNS:
        raise EditError(f"A table has at most {MOST_COLUMNS} columns.")

    def longer(row: tuple[Cell, ...]) -> tuple[Cell, ...]:
        like = row[-1].paragraphs[0] if row and row[-1].paragraphs else Paragraph("", "body")
        return (*row, *(Cell((replace(like, id=story_text.new_id("p"), text="", spans=()),)) for _ in range(more)))

    return replace(table, rows=tuple(map(longer, table.rows)))
