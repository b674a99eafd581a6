"""The cells and the rows of a table, set."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from lexigon.core.flow.column import fill_column
from lexigon.core.flow.holding import Column, State
from lexigon.core.flow.story import StoryFlow
from lexigon.core.geometry import Rect
from lexigon.core.job.model import Fill
from lexigon.core.job.model.tables import CellRules, CellTurn


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
    """What of its words stands there, where its row is divided."""
    rest: bool = False
    """Some of it stands in a column before."""

    @property
    def flow(self) -> StoryFlow:
        return self.words()

    @property
    def column(self) -> Column:
        """Its words as they stand from the head of where they stand."""
        return self.part or self.flow.columns[0]


@dataclass(slots=True, frozen=True)
class Band:
    """Rows that stand together."""

    height: float
    cells: tuple[SetCell, ...]


class Bands:
    """The bands of a table, each made when it is first looked at."""

    def __init__(self, rows: list[range], make: Callable[[range], Band]) -> None:
        self.rows, self._make = rows, make
        self._made: dict[int, Band] = {}

    def __len__(self) -> int:
        return len(self.rows)

    def __getitem__(self, number: int) -> Band:
        at = range(len(self.rows))[number]
        if at not in self._made:
            self._made[at] = self._make(self.rows[at])
        return self._made[at]


Cut = tuple[State, ...]
"""Where each cell of a row goes on; empty for its beginning."""


@dataclass(slots=True, frozen=True)
class Part:
    """A row as far as it has room, and where its cells go on; nothing where it ends."""

    band: Band
    left: Cut


def column_of(flow: StoryFlow, state: State, room: float) -> Column:
    """What a cell holds from a place on, in a room so high."""
    slot = flow.columns[0].slot
    slot = replace(slot, rect=replace(slot.rect, height=room))
    if state.paragraph >= len(flow):
        return Column(slot, [], state, state)
    return fill_column(flow, slot, state, flow.grid)


def lines_in(column: Column) -> int:
    return sum(block.last_line - block.first_line for block in column.blocks)
