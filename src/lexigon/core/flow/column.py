"""Filling one column, in closed form: never line by line, so a page costs as many steps as it has paragraphs.

Baselines are ``first + k * step``; on the baseline grid both are rounded up to it. Space before a
paragraph falls away at a column's head unless the paragraph begins a column or page by rule.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import floor
from typing import Protocol

from lexigon.core.flow.slots import Slot
from lexigon.core.job.cascade import Setting
from lexigon.core.type.grid import EPSILON, Grid, lines_down
from lexigon.core.type.paragraph import Measure

"""Points by which a line may exceed a column through rounding."""

State = tuple[int, int, int, Measure]
"""What is still to be placed: (paragraph, base, line, measure).

The lines meant are those the paragraph is set in at ``measure`` from text offset ``base`` on. A column of
another measure sets what is left of the paragraph anew, from where the last line ended.
"""

BEGIN: State = (0, 0, 0, 0.0)

LEAST_ROOM = 3.0
"""A line beside an obstacle is at least this many times as wide as it is high, or left empty."""


class Flowing(Protocol):
    """What filling needs to know of a story's paragraphs."""

    def __len__(self) -> int: ...
    def setting(self, index: int) -> Setting: ...
    def extent(self, index: int) -> tuple[float, float]:
        """Ascent and descent of the paragraph's own type in points."""
        ...

    def height(self, index: int, of: str) -> float:
        """What of its first line stands over the baseline: its ``ascent``, a ``capital``, the ``x-height``."""
        ...

    def line_count(self, index: int, measure: Measure, base: int) -> int: ...
    def line_start(self, index: int, measure: Measure, base: int, line: int) -> int:
        """The text offset a line begins at."""
        ...

    def divides(self, index: int, measure: Measure, base: int, line: int) -> bool:
        """Whether a line ends within a word."""
        ...


@dataclass(slots=True)
class Block:
    """Lines ``first_line`` up to ``last_line`` of a paragraph, the first one's baseline at ``baseline``."""

    paragraph: int
    first_line: int
    last_line: int
    baseline: float
    step: float
    base: int = 0
    """Text offset the lines are set from; they are counted from there."""
    measure: Measure = 0.0
    """What they are set in."""
    lines: tuple[float, ...] = ()
    """Each line's baseline, where they are not a step apart: several may stand on one, on either side of something."""

    def at(self, line: int) -> float:
        """The baseline of one of its lines."""
        return (
            self.lines[line - self.first_line] if self.lines else self.baseline + (line - self.first_line) * self.step
        )

    @property
    def foot(self) -> float:
        """The last line's baseline."""
        return self.at(self.last_line - 1)

    def shifted(self, down: float, spread: float = 0.0) -> Block:
        """Moved down, its lines ``spread`` further apart."""
        lines = tuple(y + down + i * spread for i, y in enumerate(self.lines))
        return replace(self, baseline=self.baseline + down, step=self.step + spread, lines=lines)


PAGE_STARTS = frozenset({"page", "recto", "verso"})
"""The ways to begin that turn the page."""


def fill_column(
    story: Flowing, slot: Slot, at: State, grid: Grid, until: int | None = None
) -> tuple[list[Block], State]:
    """Place what fits in the column, from ``at`` on. Returns the blocks and the state behind them.

    No blocks and an unchanged state means that the column stays empty: nothing fits, or the text must
    begin on another page. Paragraphs from number ``until`` on are left alone.
    """
    blocks, end = _filled(story, slot, at, grid, until)
    return (_at_foot(story, slot, blocks, grid) if until is None else blocks), end


def _at_foot(story: Flowing, slot: Slot, blocks: list[Block], grid: Grid) -> list[Block]:
    """Paragraphs that stand at the foot are moved down there, if nothing stands below them in the column."""
    first = len(blocks)
    while first and story.setting(blocks[first - 1].paragraph).at_foot:
        first -= 1
    if first == len(blocks) or slot.inside is not None or slot.obstacles:
        return blocks
    last = blocks[-1]
    down = slot.rect.foot - last.foot - story.extent(last.paragraph)[1]
    if grid.step and story.setting(last.paragraph).grid:
        down = floor(down / grid.step + 1e-6) * grid.step
    return [*blocks[:first], *(block.shifted(down) for block in blocks[first:])] if down > 0 else blocks


def _filled(
    story: Flowing, slot: Slot, at: State, grid: Grid, until: int | None
) -> tuple[list[Block], State]:  # fmt: skip
    rect = slot.rect
    width, head = rect.width, rect.y
    foot = rect.y + rect.height + EPSILON
    blocks: list[Block] = []
    index, base, line, measure = at
    shaped = slot.inside is not None or bool(slot.obstacles)
    if line and (measure != width or shaped):
        base, line = story.line_start(index, measure, base, line), 0
    count = len(story) if until is None else until
    baseline, below = head, 0.0
    while index < count:
        setting = story.setting(index)
        heads = not blocks
        begins = line == 0 and base == 0
        together = not heads and setting.at_foot and story.setting(blocks[-1].paragraph).at_foot
        if begins and not together and not _may_start(setting.start, slot, heads):
            break
        ascent, descent = story.extent(index)
        on_grid = setting.grid and grid.step > 0
        step = grid.leading(setting.leading) if on_grid and setting.grid != "first" else setting.leading
        if heads:
            keeps = setting.start != "anywhere" or setting.keep_space or not slot.heads_area
            before = setting.space_before if begins and keeps else 0.0
            first = head + before + _over(story, index, slot, setting, ascent)
        else:
            first = baseline + (below + setting.space_before if begins else 0.0) + setting.leading
        if on_grid and (begins or setting.grid != "first"):
            first = grid.snap(first)
        key: Measure = width
        boxes: list[tuple[float, float, float]] = []
        beside = shaped and not slot.clear(first - ascent, min(first + descent, foot))
        left = 0 if beside else story.line_count(index, width, base) - line
        if beside or (shaped and not slot.clear(first - ascent, min(first + (left - 1) * step + descent, foot))):
            boxes = _boxes(slot, first, step, ascent, descent, foot)
            key = (*((x, w) for _, x, w in boxes), (0.0, width))
            left, room = story.line_count(index, key, base), len(boxes)
        else:
            room = lines_down(first, step, descent, foot)
        taken = left if room >= left else _split(setting, room, left, begins, heads)
        whole = not setting.hyphen_column or (setting.hyphen_column == "leaf" and slot.side == "recto")
        if whole and 1 < taken < left:
            taken = _undivided(story, index, key, base, line, taken, left, setting, begins, heads)
        if boxes and 0 < taken < left:
            taken = _not_alone(story, index, key, base, taken, width, setting, begins and not heads)
        if taken:
            lines = tuple(y for y, _, _ in boxes[:taken])
            blocks.append(Block(index, line, line + taken, lines[0] if lines else first, step, base, key, lines))
            baseline, below = blocks[-1].foot, setting.space_after
        if taken == left:
            index, base, line = index + 1, 0, 0
            continue
        if taken:
            if boxes:
                return blocks, (index, story.line_start(index, key, base, taken), 0, 0.0)
            return blocks, (index, base, line + taken, width)
        if begins:
            return _without_stranded(story, blocks, (index, 0, 0, 0.0))
        break
    return blocks, (index, base, line, width if line else 0.0)


def _undivided(
    story: Flowing, index: int, key: Measure, base: int, line: int, taken: int, left: int, setting: Setting, begins: bool,
    heads: bool,
) -> int:  # fmt: skip
    """Fewer lines, so that the last of them ends in a whole word; as many as there were where that cannot be had at all."""
    fewer = taken
    while fewer and story.divides(index, key, base, line + fewer - 1):
        fewer = _split(setting, fewer - 1, left, begins, heads) if fewer > 1 else 0
    return fewer if fewer or (begins and not heads) else taken


def _not_alone(
    story: Flowing, index: int, key: Measure, base: int, taken: int, width: float, setting: Setting, movable: bool
) -> int:  # fmt: skip
    """How many lines to leave beside an obstacle: what goes over is set anew at the full measure, where it may come to
    fewer lines than were counted, and those are not to stand alone either."""
    left = taken
    while left and story.line_count(index, width, story.line_start(index, key, base, left)) < setting.head_lines:
        left -= 1
    least = setting.foot_lines if movable else 1
    return left if left >= least else 0 if movable else taken


def _over(story: Flowing, index: int, slot: Slot, setting: Setting, ascent: float) -> float:
    """How far under the head of a column its first baseline lies."""
    rule, least = slot.setting.first, slot.setting.first_at
    if not slot.heads_area:
        return ascent
    if rule == "fixed":
        return least
    over = setting.leading if rule == "leading" else ascent if rule == "ascent" else story.height(index, rule)
    return max(over, least)


def _boxes(
    slot: Slot, first: float, step: float, ascent: float, descent: float, foot: float
) -> list[tuple[float, float, float]]:
    """Where lines may stand from baseline ``first`` down to the column's foot: (baseline, left from the column, width)."""
    found: list[tuple[float, float, float]] = []
    least = LEAST_ROOM * (ascent + descent)
    for number in range(lines_down(first, step, descent, foot)):
        y = first + number * step
        for left, right in slot.free(y - ascent, y + descent):
            if right - left >= min(least, slot.rect.width):
                found.append((y, left - slot.rect.x, right - left))
    return found


def _may_start(start: str, slot: Slot, heads: bool) -> bool:
    if start == "anywhere":
        return True
    if start == "column":
        return heads
    return heads and slot.heads_page and start in ("page", slot.side)


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
