"""Column breaks of a paragraph: where it may start, where it may be divided, and where its lines are beside
obstacles."""

from __future__ import annotations

from dataclasses import replace

from lexigon.core.document.cascade import Setting
from lexigon.core.flow.areas import Slot
from lexigon.core.flow.model import Block, Flowing, State
from lexigon.core.type.grid import lines_down
from lexigon.core.type.paragraph import Measure

LEAST_ROOM = 3.0
"""A line beside an obstacle is at least this many times as wide as it is high, or left empty."""


def undivided(
    story: Flowing,
    index: int,
    key: Measure,
    base: int,
    line: int,
    count: int,
    left: int,
    setting: Setting,
    begins: bool,
    heads: bool,
) -> int:
    """Fewer lines, so that the last of them ends in a whole word; as many as there were where that cannot be had at
    all."""
    fewer = count
    while fewer and story.divides(index, key, base, line + fewer - 1):
        fewer = split_at(setting, fewer - 1, left, begins, heads) if fewer > 1 else 0
    return fewer if fewer or (begins and not heads) else count


def not_alone(
    story: Flowing, index: int, key: Measure, base: int, count: int, width: float, setting: Setting, movable: bool
) -> int:
    """Return how many lines to leave beside an obstacle: what goes over is set anew at the full measure, where it may
    come to fewer lines than were counted, and those are not to stand alone either."""
    left = count
    while left and story.line_count(index, width, story.line_start(index, key, base, left)) < setting.head_lines:
        left -= 1
    least = setting.foot_lines if movable else 1
    return left if left >= least else 0 if movable else count


def first_below(story: Flowing, index: int, slot: Slot, setting: Setting, ascent: float) -> float:
    """Return how far under the head of a column its first baseline lies."""
    rule, least = slot.setting.first, slot.setting.first_at
    if not slot.heads_area:
        return ascent
    if rule == "fixed":
        return least
    over = setting.leading if rule == "leading" else ascent if rule == "ascent" else story.height(index, rule)
    return max(over, least)


def boxes_beside(
    slot: Slot, first: float, step: float, ascent: float, descent: float, foot: float
) -> list[tuple[float, float, float]]:
    """Return the boxes for lines from baseline ``first`` down to the bottom of the column: (baseline, left from the
    column, width)."""
    boxes: list[tuple[float, float, float]] = []
    least = LEAST_ROOM * (ascent + descent)
    for number in range(lines_down(first, step, descent, foot)):
        y = first + number * step
        for left, right in slot.free(y - ascent, y + descent):
            if right - left >= min(least, slot.rect.width):
                boxes.append((y, left - slot.rect.x, right - left))
    return boxes


def may_start(start: str, slot: Slot, heads: bool) -> bool:
    if start == "anywhere":
        return True
    if start == "column":
        return heads
    return heads and slot.heads_page and start in ("page", slot.side)


def split_at(setting: Setting, room: int, left: int, begins: bool, heads: bool) -> int:
    """Return how many of ``left`` lines to leave in a column with ``room`` for fewer, by the keep rules.

    At a column's head something must be placed, so the rules give way one by one.
    """
    if room <= 0:
        return 0
    if setting.keep_together and begins and not heads:
        return 0
    count = min(room, left - setting.head_lines) if left - room < setting.head_lines else room
    least = min(setting.foot_lines, left) if begins else 1
    if count >= least:
        return count
    if heads:
        return room
    return 0


LEAST_ROWS = 4
"""The fewest rows in a column at which only the last row moves on with a caption below the table; a table with fewer
moves as a whole."""


def _fewer(story: Flowing, block: Block) -> Block | None:
    """Return a block without the lines that move to the next column with the paragraph after it, or None if too few
    would remain."""
    setting, lines = story.setting(block.paragraph), block.last_line - block.first_line
    rows = story.unbroken(block.paragraph)
    least_here, least = (1, LEAST_ROWS) if rows else (setting.head_lines, setting.head_lines + setting.foot_lines)
    whole = setting.keep_together and not rows
    if lines < least or block.part or whole or not isinstance(block.measure, float):
        return None
    return replace(block, last_line=block.last_line - least_here, lines=block.lines[:-least_here])


def without_stranded(story: Flowing, blocks: list[Block], at: State) -> tuple[list[Block], State]:
    """Take back the paragraphs before ``at`` that must stay with the next one. If the next one must stay with the
    previous one, take back only the last lines of a long paragraph, or the last row of a table.

    A chain that reaches up to the column's head stays: it would meet the same end in the next column.
    """
    keep = len(blocks)
    if keep and story.setting(at.paragraph).keep_previous:
        last = blocks[-1]
        fewer = _fewer(story, last)
        if fewer is not None:
            return [*blocks[:-1], fewer], State(last.paragraph, last.base, fewer.last_line, last.measure)
        if last.first_line == last.base == 0 and not last.begun:
            keep -= 1
    while keep and blocks[keep - 1].first_line == blocks[keep - 1].base == 0:
        follows = keep < len(blocks) and story.setting(blocks[keep].paragraph).keep_previous
        if not (follows or story.setting(blocks[keep - 1].paragraph).keep_next):
            break
        keep -= 1
    if keep == 0:
        return blocks, at
    if keep < len(blocks):
        return blocks[:keep], State(blocks[keep].paragraph)
    return blocks, at
