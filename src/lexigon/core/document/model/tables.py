"""Tables in stories: their cells, the width of their columns, and the styles that define their rules, fills and
insets."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from lexigon.core.document.limits import (
    MOST_COLUMNS,
    MOST_PARAGRAPHS,
    MOST_TEXT,
    HeadRows,
    Key,
    KeyOrEmpty,
    Many,
    Name,
    Spanned,
    Text,
    Within,
)
from lexigon.core.document.model.surface import Fill, Stroke
from lexigon.core.document.model.text import Paragraph

CellInset = Annotated[float, Within(0, 1000, "The padding of a cell is 0 to 1,000 pt.")]
ColumnValue = Annotated[float, Within(0, 10_000, "A column is 0 to 10,000 pt wide, or has that many shares.")]
Every = Annotated[int, Within(1, 1000, "Fills alternate every 1 to 1,000 rows.")]
CellHeight = Annotated[float, Within(0, 5000, "The least row height is 0 to 5,000 pt.")]
CellVertical = Literal["top", "centre", "bottom"]
CellTurn = Literal[0, 90, 180, 270]


@dataclass(slots=True, frozen=True)
class CellRules:
    """The rules at a cell's sides; None as the table's style has it, a stroke of no weight for none. Where two cells
    say different things of the side between them the heavier stroke is drawn (CSS 2.1, 17.6.2.1)."""

    head: Stroke | None = None
    right: Stroke | None = None
    foot: Stroke | None = None
    left: Stroke | None = None


SIDES_OF_CELL = ("head", "right", "foot", "left")


@dataclass(slots=True, frozen=True)
class Cell:
    """A cell of a table: its words, and over how many columns and rows it goes."""

    paragraphs: Annotated[tuple[Paragraph, ...], Many(MOST_TEXT)] = ()
    across: Spanned = 1
    down: Spanned = 1
    vertical: CellVertical | None = None
    """The vertical alignment of its words; None takes that of the table's style."""
    fill: Fill | None = None
    """Its ground; None as the table's style has it."""
    turn: CellTurn = 0
    """Degrees its words are turned clockwise; their lines then run along its height."""
    height: CellHeight = 0.0
    """Points it is high at least, with its insets; 0 as its words ask for. A row is as high as the highest of its
    cells."""
    rules: CellRules | None = None


ColumnSize = Literal["content", "fixed", "share"]
ColumnAlign = Literal["left", "centre", "right", "decimal"]


@dataclass(slots=True, frozen=True)
class TableColumn:
    """The width of a column: fitted to its contents, fixed in points, or in shares of the remaining width."""

    size: ColumnSize = "content"
    value: ColumnValue = 0.0
    align: ColumnAlign | None = None
    """The alignment of its words, where their paragraphs have none; ``decimal`` aligns decimal separators."""


@dataclass(slots=True, frozen=True)
class TableStyle:
    """A table style. A stroke without a swatch is in the colour of the table's words. Where rules meet, those of the
    outside come before those of the heads, and these before those between rows and columns."""

    id: Key
    name: Name
    outer: Stroke = Stroke(0.75)
    """Above and below the table; ``sides`` on its left and right, ``head`` below its head rows and above its foot
    rows."""
    sides: Stroke = Stroke(0.0)
    head: Stroke = Stroke(0.5)
    rows: Stroke = Stroke(0.25)
    columns: Stroke = Stroke(0.0)
    head_fill: Fill = Fill()
    """The ground of head and foot rows."""
    fill: Fill = Fill()
    """The ground of the other rows; with ``other`` they take turns after ``every`` rows."""
    other: Fill = Fill()
    every: Every = 1
    beside: CellInset = 4.0
    """Points between words and the edges of their cell beside them, and over and below them (``over``)."""
    over: CellInset = 2.5
    vertical: CellVertical = "top"
    head_style: KeyOrEmpty = ""
    """The paragraph style of words in head and foot rows that are in that of running text; "" for the same in bold."""
    body_style: KeyOrEmpty = ""
    """The same for the other rows; "" for that of running text without what belongs to that."""


PLAIN_TABLE = TableStyle("", "Plain")
"""How tables look that name no style (common practice, no source)."""


@dataclass(slots=True, frozen=True)
class TextTable:
    """A table, named by the story that shows it. What a cell of more than one column or row covers has no cell of its
    own. The first ``heads`` rows are header rows, the last ``foots`` rows footer rows: both are repeated in every
    column that the table continues in."""

    id: Key
    name: Name
    rows: Annotated[tuple[Annotated[tuple[Cell, ...], Many(MOST_COLUMNS)], ...], Many(MOST_PARAGRAPHS)] = ()
    heads: HeadRows = 0
    foots: HeadRows = 0
    style: KeyOrEmpty = ""
    sizes: Annotated[tuple[TableColumn, ...], Many(MOST_COLUMNS)] = ()
    """Of its columns in turn; further ones are as wide as their contents require."""
    continued: Text = ""
    """The text above the header rows where it continues, such as “continued”; "" for none."""
    divide: bool = False
    """Whether rows that do not fit a column may be divided, with two lines of each cell on either side."""
    source: Name = ""
    """The file that its words come from, by name; "" for none."""
    given: Annotated[tuple[Annotated[tuple[Text, ...], Many(MOST_COLUMNS)], ...], Many(MOST_PARAGRAPHS)] = ()
    """What that held when it was last taken over."""

    @property
    def columns(self) -> int:
        return max((sum(cell.across for cell in row) for row in self.rows), default=0)
