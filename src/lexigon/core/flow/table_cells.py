"""The cells and the rows of a table, set."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cache, cached_property, partial
from itertools import accumulate

from lexigon.core.document.model import Fill
from lexigon.core.document.model.tables import CellRules, CellTurn
from lexigon.core.flow.cell_measures import CellWords, changing, deep, on_end
from lexigon.core.flow.column import fill_column
from lexigon.core.flow.model import Column, State
from lexigon.core.flow.story_flow import StoryFlow
from lexigon.core.geometry import Rect
from lexigon.core.tables.grid import bands_of

STANDS = {"top": 0.0, "centre": 0.5, "bottom": 1.0}
"""The part of what is left of a cell's height that is above its words."""


@dataclass(slots=True, frozen=True)
class SetCell:
    """A cell's text, set; its box from the table's left edge and the head of its band."""

    box: Rect
    words: Callable[[], StoryFlow]
    """Sets them, or finds them as they were set: of long tables only a few rows are looked at."""
    row: int
    number: int
    """Which of the row's own cells it is; -1 for what is no cell of the table's own."""
    head: bool
    """Of a head or a foot row."""
    inner: Rect
    """Where its words stand; those that are turned, before they are turned about the middle of its box."""
    fill: Fill
    turn: CellTurn = 0
    rules: CellRules | None = None
    span: tuple[int, int, int] = (0, 1, 1)
    """The column it begins in, over how many columns and rows it goes."""
    part: Column | None = None
    """The part of its words that is here, where its row is divided."""
    rest: bool = False
    """Whether some of it is in a column before."""

    @property
    def flow(self) -> StoryFlow:
        return self.words()

    @property
    def column(self) -> Column:
        """Its lines, from the top of this part."""
        return self.part or self.flow.columns[0]


@dataclass(slots=True, frozen=True)
class Band:
    """Rows that stand together."""

    height: float
    cells: tuple[SetCell, ...]


class Bands:
    """The rows of a table that belong together, each band made when it is first looked at."""

    def __init__(self, words: CellWords) -> None:
        self.words, self.table, self.look = words, words.table, words.look
        self.rows = bands_of(words.table)
        self._made: dict[int, Band] = {}

    def __len__(self) -> int:
        return len(self.rows)

    def __getitem__(self, number: int) -> Band:
        at = range(len(self.rows))[number]
        if at not in self._made:
            cells = (self._cell(one, at) for row in self.rows[at] for one in self._by_row.get(row, ()))
            self._made[at] = Band(self.height(at), tuple(cells))
        return self._made[at]

    def height(self, number: int) -> float:
        rows = self.rows[number]
        return self._tops[rows.stop] - self._tops[rows.start]

    @cached_property
    def _by_row(self) -> dict[int, list[int]]:
        """The numbers of the cells that begin in each row."""
        columns: dict[int, list[int]] = {}
        for number, one in enumerate(self.words.cells):
            columns.setdefault(one.row, []).append(number)
        return columns

    @cached_property
    def _needs(self) -> list[float]:
        """Return how high each cell has to be for its words."""
        words = self.words
        needs = (words.length(one) if on_end(one.cell) else words.depth(one) for one in words.cells)
        return [2 * self.look.over + need for need in needs]

    @cached_property
    def _tops(self) -> list[float]:
        """Return the tops of rows and the bottom of the last one, from the top of the undivided table."""
        heights = [0.0] * len(self.table.rows)
        for one, need in sorted(zip(self.words.cells, self._needs, strict=True), key=lambda both: both[0].down):
            short = max(need, one.cell.height) - sum(heights[one.row : one.row + one.down])
            if short > 0:
                heights[one.row + one.down - 1] += short
        return [0.0, *accumulate(heights)]

    def _cell(self, number: int, band: int) -> SetCell:
        look, one, need, tops, edges = (
            self.look,
            self.words.cells[number],
            self._needs[number],
            self._tops,
            self.words.edges,
        )
        x, right = edges[one.column], edges[one.column + one.across]
        box = Rect(x, tops[one.row] - tops[self.rows[band].start], right - x, tops[one.row + one.down] - tops[one.row])
        part = STANDS[one.cell.vertical or look.vertical]
        if on_end(one.cell):
            room, long = box.width - 2 * look.beside, box.height - 2 * look.over
            down = (room - deep(self.words.flow(one))) * part
            middle = box.x + box.width / 2, box.y + box.height / 2
            inner = Rect(middle[0] - long / 2, middle[1] - room / 2 + down, long, room - down)
        else:
            down = (box.height - need) * part
            inner = Rect(
                box.x + look.beside,
                box.y + look.over + down,
                box.width - 2 * look.beside,
                box.height - 2 * look.over - down,
            )
        head = self.table.is_head(one.row)
        turn = (one.row - self.table.heads) // look.every % 2
        fill = one.cell.fill or (look.head_fill if head else look.other if turn else look.fill)
        words: Callable[[], StoryFlow] = partial(self.words.flow, one)
        if changing(one.cell.paragraphs):  # else it is known again anyway
            words = cache(words)
        span = one.column, one.across, one.down
        return SetCell(box, words, one.row, one.number, head, inner, fill, one.cell.turn, one.cell.rules, span)


Cut = tuple[State, ...]
"""The places where the cells of a row continue; empty for its beginning."""


@dataclass(slots=True, frozen=True)
class Part:
    """The part of a row that fits, and the places where its cells continue; none where it ends."""

    band: Band
    left: Cut


def column_of(flow: StoryFlow, state: State, room: float) -> Column:
    """Return what a cell holds from a place on, in a room so high."""
    slot = flow.columns[0].slot
    slot = replace(slot, rect=replace(slot.rect, height=room))
    if state.paragraph >= len(flow):
        return Column(slot, [], state, state)
    return fill_column(flow, slot, state, flow.grid)


def lines_in(column: Column) -> int:
    return sum(block.last_line - block.first_line for block in column.blocks)
