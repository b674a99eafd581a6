"""Filling the text area of a frame: its columns in turn, paragraphs that span columns, balanced ends, and vertical
alignment."""

from __future__ import annotations

import itertools
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Protocol

from lexigon.core.flow.areas import Area, Slot, columns_of
from lexigon.core.flow.column import fill_column, stand_by
from lexigon.core.flow.model import PAGE_STARTS, Block, Column, Flowing, State
from lexigon.core.geometry import Rect
from lexigon.core.type.grid import Grid

if TYPE_CHECKING:
    from lexigon.core.flow.paragraphs import SetParagraph

NARROW = 0.5
"""Points to which the height of balanced columns is found."""

INSIDE_STEP = 1.5
"""Points from one trial to the next where text in an outline is moved down."""

LOOSEST = 0.25
"""Vertically justified: the most that leading grows, as a part of itself."""


@dataclass(slots=True)
class AreaLayout:
    """An area with its columns and the states before and after it."""

    page: int
    begin: State
    end: State
    columns: list[Column] = field(default_factory=list)
    loose: list[tuple[SetParagraph, int]] = field(default_factory=list)
    """On the second page of a spread: what is set longer or shorter on both, so that they end on the same line."""
    ahead: bool = False
    """On the second page of a spread: it is set so for the sake of the next one, which could not be made even else."""
    shortened: int = 0
    """On the last page of a chapter: the number of areas before it that are set shorter so that it has enough lines."""


class Spanning(Flowing, Protocol):
    """A story whose paragraphs may span columns, or be split into columns of their own."""

    def next_span(self, index: int) -> int | None:
        """The first paragraph from ``index`` on that runs across all columns."""

    def next_split(self, index: int) -> int | None:
        """The first paragraph from ``index`` on that is set in columns within its own."""


def fill_area(story: Spanning, area: Area, state: State, grid: Grid) -> AreaLayout:
    """Place what fits in a frame, from ``state`` on."""
    filled = AreaLayout(area.page, state, state)
    if area.setting.columns <= 1:
        _columns(story, area.columns(), filled, grid, None)
    else:
        _bands(story, area, filled, grid)
    if area.setting.vertical != "top":
        if area.inside is not None:
            return _stand_inside(story, area, filled, grid)
        _stand(story, area, filled)
    return filled


def _stand_inside(story: Spanning, area: Area, filled: AreaLayout, grid: Grid) -> AreaLayout:
    """Text lower down in an outline: its lines change with where it begins, so beginnings are fill_to one by one."""
    best, least = filled, _off(story, area, filled)
    head = area.rect.y
    while head < area.rect.foot:
        head += INSIDE_STEP
        trial = AreaLayout(area.page, filled.begin, filled.begin)
        _columns(story, area.columns(head), trial, grid, None)
        if trial.end != filled.end:
            break
        off = _off(story, area, trial)
        if off < least:
            best, least = trial, off
    return best


def _off(story: Flowing, area: Area, filled: AreaLayout) -> float:
    """Return how far text must move down to be centred or aligned to the bottom."""
    blocks = [block for column in filled.columns for block in column.blocks]
    if not blocks:
        return 0.0
    above = min(b.baseline - story.extent(b.paragraph)[0] for b in blocks) - area.rect.y
    below = area.rect.foot - max(column.foot(story) for column in filled.columns)
    return abs(above - below) if area.setting.vertical == "centre" else below


def _columns(story: Spanning, slots: list[Slot], filled: AreaLayout, grid: Grid, until: int | None) -> None:
    for slot in slots:
        _column(story, slot, filled, grid, until)


def _column(story: Spanning, slot: Slot, filled: AreaLayout, grid: Grid, until: int | None) -> None:
    """Fill one column; below paragraphs that are split, it continues at full width."""
    count = len(story) if until is None else until
    while True:
        split = story.next_split(filled.end[0])
        stop = until if split is None or split >= count else split
        if stop != filled.end[0] or stop == until:
            column = fill_column(story, slot, filled.end, grid, stop)
            filled.columns.append(column)
            filled.end = column.end
            if stop == until or column.end[:3] != (stop, 0, 0):
                return
            if column.blocks:
                slot = _under(story, column)
        below = _split_columns(story, slot, filled, grid, count)
        if below is None:
            return
        slot = below


def _under(story: Flowing, column: Column, beside: Slot | None = None) -> Slot:
    """Return what is left of a column below its text, above its notes; ``beside`` is the slot meant, where the column
    is a part of it."""
    slot = beside or column.slot
    last = column.blocks[-1]
    head = last.bottom(story) + story.setting(last.paragraph).space_after
    rect, foot = slot.rect, slot.rect.foot
    if beside is None and column.notes:
        foot = column.text_room
    elif beside is not None:
        head = max(head, column.foot(story))
    return replace(slot, rect=Rect(rect.x, head, rect.width, max(foot - head, 0.0)), heads_area=False, heads_page=False)


def _split_columns(story: Spanning, slot: Slot, filled: AreaLayout, grid: Grid, count: int) -> Slot | None:
    """Paragraphs side by side in as many columns, equally high; what is left of the slot, None if they filled it."""
    first = filled.end[0]
    number, until = story.setting(first).split, first
    while until < count and story.setting(until).split == number:
        until += 1
    setting = replace(slot.setting, columns=number)

    def fill_to(height: float) -> AreaLayout:
        trial = AreaLayout(slot.page, filled.end, filled.end)
        rect = Rect(slot.rect.x, slot.rect.y, slot.rect.width, height)
        for own in columns_of(setting, rect):
            trial.columns.append(fill_column(story, replace(slot, rect=own), trial.end, grid, until))
            trial.end = trial.columns[-1].end
        return trial

    best = fill_to(slot.rect.height)
    whole = best.end[:3] == (until, 0, 0)
    low, high = 0.0, slot.rect.height
    while whole and high - low > NARROW:
        middle = (low + high) / 2
        trial = fill_to(middle)
        low, high = (low, middle) if trial.end == best.end else (middle, high)
        best = trial if trial.end == best.end else best
    filled.columns += best.columns
    filled.end = best.end
    used = [column for column in best.columns if column.blocks]
    if not whole or not used:
        return None
    return _under(story, max(used, key=lambda column: column.foot(story)), slot)


def _bands(story: Spanning, area: Area, filled: AreaLayout, grid: Grid) -> None:
    """Columns down to a paragraph that runs across them, that paragraph, and columns again below it."""
    head: float | None = None
    count = len(story)
    while True:
        index = filled.end.paragraph
        span = story.next_span(index)
        if span == index and index < count:
            until = index + 1
            while until < count and story.next_span(until) == until:
                until += 1
            column = fill_column(story, area.across(head), filled.end, grid, until)
            filled.columns.append(column)
            filled.end = column.end
            if column.end[:3] != (until, 0, 0) or not column.blocks:
                return
            head = column.blocks[-1].bottom(story) + story.setting(until - 1).space_after
            if column.notes:  # the content below starts beneath them
                area = replace(area, rect=replace(area.rect, height=column.text_room - area.rect.y))
            continue
        trial = AreaLayout(area.page, filled.end, filled.end)
        _columns(story, area.columns(head), trial, grid, span)
        ends = trial.end[0] >= (count if span is None else span) or must_turn(story, trial.end)
        if ends and (span is not None or area.setting.balanced):
            trial = _balanced(story, area, head, filled.end, trial, grid, span)
        filled.columns += trial.columns
        filled.end = trial.end
        if span is None or trial.end[0] < span:
            return
        foot = max((column.foot(story) for column in trial.columns if column.blocks), default=head or area.rect.y)
        head = foot + (story.setting(span - 1).space_after if span else 0.0)


def must_turn(story: Flowing, state: State) -> bool:
    """The paragraph that comes next begins on another page by rule."""
    index, base, line = state[:3]
    begins = base == line == 0 and not state.cut
    return index < len(story) and begins and story.setting(index).start in PAGE_STARTS


def _balanced(
    story: Spanning, area: Area, head: float | None, begin: State, full: AreaLayout, grid: Grid, until: int | None
) -> AreaLayout:
    """The same text in columns no higher than they need be, all of it."""
    low, high = 0.0, area.columns(head)[0].rect.height
    best = full
    while high - low > NARROW:
        middle = (low + high) / 2
        trial = AreaLayout(area.page, begin, begin)
        slots = [
            replace(slot, rect=Rect(slot.rect.x, slot.rect.y, slot.rect.width, middle)) for slot in area.columns(head)
        ]
        _columns(story, slots, trial, grid, until)
        if trial.end == full.end:
            best, high = trial, middle
        else:
            low = middle
    return best


def _stand(story: Flowing, area: Area, filled: AreaLayout) -> None:
    """Text in the middle, at the foot, or spread over the height of its frame."""
    for column in filled.columns:
        if not column.blocks:
            continue
        low = column.notes or any(one.at == "foot" for one in column.afloat)
        foot = column.text_room if low else area.rect.foot
        spare = foot - max(block.bottom(story) for block in column.blocks)
        if spare <= 0:
            continue
        head = column.blocks[0].baseline
        if area.setting.vertical == "centre":
            column.blocks = [block.shifted(spare / 2) for block in column.blocks]
        elif area.setting.vertical == "bottom":
            column.blocks = [block.shifted(spare) for block in column.blocks]
        elif column.end[0] < len(story):  # the last lines of a story stay as they are
            column.blocks = _spread(column.blocks, spare, area.setting.stretch)
        if column.over is not None:
            column.over += column.blocks[0].baseline - head
        if column.accompanied:
            stand_by(story, column)


def _spread(blocks: list[Block], spare: float, most: float) -> list[Block]:
    """Room put between paragraphs up to a limit, then between lines up to another."""
    gaps = sum(1 for a, b in itertools.pairwise(blocks) if a.paragraph != b.paragraph)
    gap = min(spare / gaps, most) if gaps else 0.0
    left = spare - gap * gaps
    steps = sum(len(set(block.lines)) or block.last_line - block.first_line for block in blocks) - 1
    lead = min(left / steps, LOOSEST * min(block.step for block in blocks)) if steps and left > 0 else 0.0
    shifted, down, before = [], 0.0, None
    for block in blocks:
        down += gap if before is not None and block.paragraph != before else 0.0
        down += lead if before is not None else 0.0
        if block.lines:
            heights = sorted(set(block.lines))
            lines = tuple(y + down + heights.index(y) * lead for y in block.lines)
            block = replace(block, baseline=lines[0], lines=lines)
            down += (len(heights) - 1) * lead
        else:
            block = block.shifted(down, lead)
            down += (block.last_line - block.first_line - 1) * lead
        shifted.append(block)
        before = block.paragraph
    return shifted
