"""Filling one column, in closed form: never line by line, so a page costs as many steps as it has paragraphs.

Baselines are ``first + k * step``; on the baseline grid both are rounded up to it. Space before a
paragraph falls away at a column's head unless the paragraph begins a column or page by rule.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import ceil, floor
from typing import Protocol

from lexigon.core.flow.slots import Slot
from lexigon.core.job.cascade import Setting

EPSILON = 0.01
"""Points by which a line may exceed a column through rounding."""

State = tuple[int, int, int, float]
"""What is still to be placed: (paragraph, base, line, measure).

The lines meant are those the paragraph is set in at ``measure`` from text offset ``base`` on. A column of
another measure sets what is left of the paragraph anew, from where the last line ended.
"""

BEGIN: State = (0, 0, 0, 0.0)


class Flowing(Protocol):
    """What filling needs to know of a story's paragraphs."""

    def __len__(self) -> int: ...
    def setting(self, index: int) -> Setting: ...
    def extent(self, index: int) -> tuple[float, float]:
        """Ascent and descent of the paragraph's own type in points."""
        ...

    def line_count(self, index: int, measure: float, base: int) -> int: ...
    def line_start(self, index: int, measure: float, base: int, line: int) -> int:
        """The text offset a line begins at."""
        ...


@dataclass(slots=True, frozen=True)
class Block:
    """Lines ``first_line`` up to ``last_line`` of a paragraph, the first one's baseline at ``baseline``."""

    paragraph: int
    first_line: int
    last_line: int
    baseline: float
    step: float
    base: int = 0
    """Text offset the lines are set from; they are counted from there."""

    def shifted(self, down: float) -> Block:
        return replace(self, baseline=self.baseline + down)


@dataclass(slots=True, frozen=True)
class Grid:
    """The baseline grid: lines at ``start + k * step`` from the page's head. ``step`` 0: none."""

    start: float = 0.0
    step: float = 0.0

    def snap(self, y: float) -> float:
        return self.start + ceil((y - self.start) / self.step - 1e-6) * self.step

    def leading(self, leading: float) -> float:
        return max(ceil(leading / self.step - 1e-6), 1) * self.step


def fill_column(story: Flowing, slot: Slot, at: State, grid: Grid) -> tuple[list[Block], State]:
    """Place what fits in the column, from ``at`` on. Returns the blocks and the state behind them.

    No blocks and an unchanged state means that the column stays empty: nothing fits, or the text must
    begin on another page.
    """
    rect = slot.rect
    foot = rect.y + rect.height + EPSILON
    blocks: list[Block] = []
    index, base, line, measure = at
    if line and measure != rect.width:
        base, line = story.line_start(index, measure, base, line), 0
    count = len(story)
    baseline, below = rect.y, 0.0
    while index < count:
        setting = story.setting(index)
        heads = not blocks
        begins = line == 0 and base == 0
        if begins and not _may_start(setting.start, slot, heads):
            break
        ascent, descent = story.extent(index)
        on_grid = setting.grid and grid.step > 0
        step = grid.leading(setting.leading) if on_grid else setting.leading
        if heads:
            before = setting.space_before if begins and setting.start != "anywhere" else 0.0
            first = rect.y + before + ascent
        else:
            first = baseline + (below + setting.space_before if begins else 0.0) + setting.leading
        if on_grid:
            first = grid.snap(first)
        left = story.line_count(index, rect.width, base) - line
        room = floor((foot - descent - first) / step) + 1 if first + descent <= foot else 0
        taken = left if room >= left else _split(setting, room, left, begins, heads)
        if taken:
            blocks.append(Block(index, line, line + taken, first, step, base))
            baseline, below = first + (taken - 1) * step, setting.space_after
        if taken == left:
            index, base, line = index + 1, 0, 0
            continue
        if taken:
            return blocks, (index, base, line + taken, rect.width)
        if begins:
            return _without_stranded(story, blocks, (index, 0, 0, 0.0))
        break
    return blocks, (index, base, line, rect.width if line else 0.0)


def _may_start(start: str, slot: Slot, heads: bool) -> bool:
    if start == "anywhere":
        return True
    if start == "column":
        return heads
    return heads and slot.heads_page and (start == "page" or slot.side == "recto")


def _split(setting: Setting, room: int, left: int, begins: bool, heads: bool) -> int:
    """How many of ``left`` lines to leave in a column with ``room`` for fewer, by the keep rules.

    At a column's head something must be placed, so the rules give way one by one.
    """
    if room <= 0:
        return 0
    if setting.keep_together and begins and not heads:
        return 0
    taken = min(room, left - setting.head_lines) if left - room < setting.head_lines else room
    least = min(setting.foot_lines, left) if begins else 1
    if taken >= least:
        return taken
    if heads:
        return room
    return 0


def _without_stranded(story: Flowing, blocks: list[Block], at: State) -> tuple[list[Block], State]:
    """Take back the paragraphs before ``at`` that must stay with the next one.

    A chain that reaches up to the column's head stays: it would meet the same end in the next column.
    """
    keep = len(blocks)
    while (
        keep
        and blocks[keep - 1].first_line == blocks[keep - 1].base == 0
        and story.setting(blocks[keep - 1].paragraph).keep_next
    ):
        keep -= 1
    if keep == 0:
        return blocks, at
    if keep < len(blocks):
        return blocks[:keep], (blocks[keep].paragraph, 0, 0, 0.0)
    return blocks, at
