"""The layout of notes: at the foot of the column that cites them, divided where they do not fit, or in the margin
beside their lines."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise
from operator import attrgetter
from typing import TYPE_CHECKING, Literal, NamedTuple

from lexigon.core.document.model import NoteKind
from lexigon.core.geometry import Rect
from lexigon.core.type.grid import EPSILON
from lexigon.core.type.paragraph import Measure
from lexigon.core.type.runs import Boxed

if TYPE_CHECKING:
    from lexigon.core.flow.areas import Slot
    from lexigon.core.flow.model import Block, Flowing
    from lexigon.core.flow.story_flow import StoryFlow


class NoteRest(NamedTuple):
    """The rest of a note that continues in the next column, from a text offset of a paragraph."""

    ref: str
    paragraph: int = 0
    offset: int = 0


MOST_OWED = 2 / 3
"""The largest fraction of a column that the rest of notes from the column before may take, so that the text continues
beside them (no source)."""


class Short(NamedTuple):
    """A note of one line that may share it: where the line begins and how wide it is, the size of its type, and what
    room the line has."""

    begin: float
    width: float
    size: float
    room: float


@dataclass(frozen=True)
class NoteBody:
    """A note's text from a given place, set in a column of its own whose top is at height 0."""

    ref: str
    flow: StoryFlow
    height: float
    kind: NoteKind
    order: int = 0
    """Which kind of the job's its own is."""
    notice: StoryFlow | None = None
    """The part below its lines that continues in the next column, set."""
    short: Short | None = None
    """Its only line, on which others of its kind may be placed, too."""

    @cached_property
    def lines(self) -> tuple[tuple[float, NoteRest], ...]:
        """The foot of each line, and the place where the note continues after it."""
        return _line_ends(self.flow, self.ref)

    @property
    def more(self) -> float:
        """Return how high that is."""
        return self.notice.columns[0].foot(self.notice) if self.notice is not None else 0.0

    def part(self, lines: int) -> float:
        """Return the height of a number of its lines, and the place where it continues after them."""
        return self.lines[lines - 1][0] + self.more

    @property
    def first(self) -> float:
        """Its first baseline."""
        blocks = self.flow.columns[0].blocks
        return blocks[0].baseline if blocks else 0.0

    def divided_at(self, room: float) -> int:
        """Return how many of its lines to leave where it has room for fewer than all; 0 where it should not be divided
        so."""
        fits = sum(foot + self.more <= room + EPSILON for foot, _ in self.lines)
        limits = self.kind.kept
        return min(fits, len(self.lines) - limits) if fits >= limits and len(self.lines) >= 2 * limits else 0


@dataclass(slots=True, frozen=True)
class Note:
    """A note, or what stands of it: its head at ``top``, the first ``lines`` of its lines, all where None."""

    body: NoteBody
    top: float
    left: float
    lines: int | None = None
    width: float | None = None
    """How wide it is where it shares its line; None where the column is."""

    @property
    def height(self) -> float:
        return self.body.height if self.lines is None else self.body.part(self.lines)

    @property
    def rect(self) -> Rect:
        """Return its place on the page."""
        (column,) = self.body.flow.columns
        wide = column.slot.rect.width if self.width is None else self.width
        return Rect(self.left, self.top, wide, self.height)

    @property
    def blocks(self) -> list[Block]:
        """Return what is set of it, at its place on the page."""
        left, blocks = self.lines, []
        for block in self.body.flow.columns[0].blocks:
            count = block.last_line - block.first_line
            if left is not None and left < count:
                if left:
                    lines = block.lines[:left]
                    blocks.append(replace(block, last_line=block.first_line + left, lines=lines).shifted(self.top))
                break
            blocks.append(block.shifted(self.top))
            left = None if left is None else left - count
        return blocks

    def bottom(self, story: Flowing) -> float:
        return self.top + self.height

    def shifted(self, down: float) -> Note:
        return replace(self, top=self.top + down)


def short_line(flow: StoryFlow, begun: bool) -> Short | None:
    """The line of a note that is one line, set from the left; of what is left of a longer one (``begun``) none."""
    (column,) = flow.columns
    if begun or len(flow) != 1 or len(column.blocks) != 1 or flow.setting(0).align not in ("left", "justified"):
        return None
    block, set_paragraph = column.blocks[0], flow.paragraphs[0]
    lines = flow.lines(0, block.measure)
    if len(lines) != 1 or set_paragraph.boxes or set_paragraph.shown.table is not None:
        return None
    (line,) = lines
    setting = flow.setting(0)
    begin = line.left + setting.indent_left + line.indent
    room = column.slot.rect.width - setting.indent_right
    return Short(
        begin, min(line.width, room - begin), set_paragraph.size, room
    )  # its spaces may be closed to have room


def _line_ends(flow: StoryFlow, ref: str) -> tuple[tuple[float, NoteRest], ...]:
    """The foot of each line of a note that is set alone, and the place where it continues after that."""
    ends = []
    for block in flow.columns[0].blocks:
        under = flow.extent(block.paragraph)[1]
        count = flow.line_count(block.paragraph, block.measure, block.base)
        for line in range(block.first_line, block.last_line):
            behind = NoteRest(ref, block.paragraph + 1)
            if line + 1 < count:
                behind = NoteRest(
                    ref, block.paragraph, flow.line_start(block.paragraph, block.measure, block.base, line + 1)
                )
            ends.append((block.at(line) + under, behind))
    return tuple(ends)


_order = attrgetter("order")


def in_order(bodies: list[NoteBody]) -> list[NoteBody]:
    """Notes of different kinds at one foot: one kind below the other, each as it is cited."""
    return sorted(bodies, key=_order) if len(bodies) > 1 else bodies


RUN_GAP = 1.5
"""Ems between two short notes on one line (common practice, no source)."""


def packed(bodies: Sequence[NoteBody]) -> list[float | None]:
    """Return the starts of notes that share a line with the one before; None for those that begin a line."""
    baselines: list[float | None] = []
    end, before = 0.0, None
    for body in bodies:
        short, place = body.short, None
        if short is not None and before is not None and before.short is not None and before.kind.id == body.kind.id:
            begin = end + RUN_GAP * short.size
            if begin + short.width <= short.room + EPSILON and abs(before.height - body.height) < EPSILON:
                place = begin - short.begin
                end = begin + short.width
        if place is None and short is not None:
            end = short.begin + short.width
        baselines.append(place)
        before = body
    return baselines


def stacked(bodies: Sequence[NoteBody]) -> float:
    """Return the height of notes, one after the other."""
    high = 0.0
    for body in bodies:
        if body.short is not None:
            break
        high += body.height
    else:
        return high
    return sum(body.height for body, place in zip(bodies, packed(bodies), strict=True) if place is None)


def height_of(bodies: Sequence[NoteBody]) -> float:
    """Return what notes take of a column's foot, the room above them included."""
    return stacked(bodies) + bodies[0].kind.gap if bodies else 0.0


def more_of(owed: Sequence[NoteBody], stand: Sequence[NoteBody], new: Sequence[NoteBody]) -> float:
    """Return what ``new`` notes take of a column's foot beyond what is left of others (``owed``) and those cited before
    (``stand``)."""
    if not new:
        return 0.0
    if not owed and not stand:
        return height_of(new)
    return height_of([*owed, *in_order([*stand, *new])]) - height_of([*owed, *in_order(list(stand))])


def at_foot(
    bodies: Sequence[NoteBody], slot: Slot, text_foot: float | None, divides: bool
) -> tuple[list[Note], tuple[NoteRest, ...]]:
    """Notes at the foot of a column whose text reaches down to ``text_foot`` (None where there is no text), and what is
    left of them. One that is too high and is not to be divided runs out at the foot."""
    if not bodies:
        return [], ()
    head = slot.rect.y if text_foot is None else text_foot + bodies[0].kind.gap
    total = stacked(bodies)
    if total <= slot.rect.foot - head + EPSILON or not divides:
        return _piled([(body, None) for body in bodies], max(slot.rect.foot - total, head), slot), ()
    room, standing, left = slot.rect.foot - head, list[tuple[NoteBody, int | None]](), list[NoteRest]()
    for body, place in zip(bodies, packed(bodies), strict=True):
        high = body.height if place is None else 0.0
        if not left and (high <= room + EPSILON or not body.kind.divided):
            standing.append((body, None))
            room -= high
            continue
        lines = 0 if left else body.divided_at(room)
        if not left and not lines and not standing:  # nothing else stands here: some of it does, however little
            lines = max(
                sum(foot + body.more <= room + EPSILON for foot, _ in body.lines), 1 if text_foot is None else 0
            )
            if lines >= len(body.lines):
                standing.append((body, None))
                continue
        if lines:
            standing.append((body, lines))
            room -= body.part(lines)
            left.append(body.lines[lines - 1][1])
        else:
            left.append(_whole(body))
    used = stacked([body for body, lines in standing if lines is None])
    used += sum(body.part(lines) for body, lines in standing if lines is not None)
    return _piled(standing, max(slot.rect.foot - used, head), slot), tuple(left)


def _whole(body: NoteBody) -> NoteRest:
    begin = body.flow.begin
    return NoteRest(body.ref, begin.paragraph, begin.base)


def _piled(standing: Sequence[tuple[NoteBody, int | None]], top: float, slot: Slot) -> list[Note]:
    notes: list[Note] = []
    for (body, lines), place in zip(standing, packed([body for body, _ in standing]), strict=True):
        if place is not None:
            short = body.short
            width = short.begin + short.width if short is not None else None
            notes.append(Note(body, notes[-1].top, slot.rect.x + place, lines, width))
            continue
        notes.append(Note(body, top, slot.rect.x, lines))
        top += notes[-1].height
    for number, (one, other) in enumerate(pairwise(notes)):  # a note before another one on its line is as wide as it is
        if other.width is not None and one.body.short is not None:
            notes[number] = replace(one, width=one.body.short.begin + one.body.short.width)
    return notes


@dataclass(slots=True, frozen=True)
class TiedFrame:
    """A frame in the margin beside the line that it is anchored to; ``first`` is the distance of the line's baseline
    from the frame's top."""

    box: Boxed
    first: float

    @property
    def height(self) -> float:
        return self.box.height


@dataclass(slots=True, frozen=True)
class PlacedFrame:
    """A frame near the line it is tied to: at the head or the foot of a column, beside it, or right above the line."""

    ref: str
    rect: Rect
    at: Literal["head", "foot", "beside", "above"]

    def bottom(self, story: Flowing) -> float:
        return self.rect.foot

    def shifted(self, down: float) -> PlacedFrame:
        return replace(self, rect=replace(self.rect, y=self.rect.y + down))


FRAME_GAP = 12.0
"""Points between text and a frame at the head or the foot of its column, or above a line (common practice, no
source)."""
FRAME_AWAY = 12.0
"""Points between text and a frame in its margin (common practice, no source)."""


class Ties(NamedTuple):
    """The frames tied to one line, by where they stand."""

    above: list[Boxed]
    near: list[Boxed]
    margin: list[Boxed]

    def stack(self, heads: bool) -> float:
        """The room that frames directly above the line take, with the distances to it and to the line before (none
        where it is the first of its column, ``heads``)."""
        high = sum(one.height + FRAME_GAP for one in self.above)
        return high + FRAME_GAP if high and not heads else high


NO_TIES = Ties([], [], [])


def ties_of(tied: list[Boxed], measure: Measure, slot: Slot, line: float) -> Ties:
    """Return the places of the frames anchored in a line of ``line`` points. Those that belong above it stand near it
    where lines keep clear of obstacles, as none can be moved down from these, and where no column would hold them with
    their line."""
    if not tied:
        return NO_TIES
    ties = Ties(*([one for one in tied if one.form == form] for form in ("above", "near", "margin")))
    if ties.above:
        high = not slot.under_frames and ties.stack(heads=True) + line > slot.rect.height + EPSILON
        if high or isinstance(measure, tuple):
            return Ties([], [one for one in tied if one.form != "margin"], ties.margin)
    return ties


def over_line(above: Sequence[Boxed], slot: Slot, foot: float) -> list[PlacedFrame]:
    """Frames one below the other, the last of them down to ``foot``."""
    y, frames = foot, list[PlacedFrame]()
    for one in reversed(above):
        y -= one.height
        frames.append(PlacedFrame(one.ref, Rect(_centred(one, slot), y, one.width, one.height), "above"))
        y -= FRAME_GAP
    return frames[::-1]


def at_head(waiting: tuple[Boxed, ...], slot: Slot) -> tuple[Slot, list[PlacedFrame], tuple[Boxed, ...]]:
    """Return what is left of a column below the frames that waited for it, these frames, and those that still have no
    room: at least one stands there, and all of them take no more than leaves the text some of it."""
    y, frames = slot.rect.y, list[PlacedFrame]()
    for one in waiting:
        if frames and y + one.height - slot.rect.y > MOST_OWED * slot.rect.height:
            break
        frames.append(PlacedFrame(one.ref, Rect(_centred(one, slot), y, one.width, one.height), "head"))
        y += one.height + FRAME_GAP
    if frames:
        left = replace(slot.rect, y=min(y, slot.rect.foot), height=max(slot.rect.foot - y, 0.0))
        slot = replace(slot, rect=left, under_frames=True)
    return slot, frames, waiting[len(frames) :]


def fitting(
    near: Sequence[Boxed], waiting: tuple[Boxed, ...], slot: Slot, text_foot: float | None, notes: float
) -> tuple[list[Boxed], tuple[Boxed, ...]]:
    """Return the frames that have room at the foot of a column below its text and above ``notes`` points of notes, and
    those that wait for the next column. No frame is placed before one that comes earlier."""
    low, later = list[Boxed](), list(waiting)
    room = slot.rect.foot - (slot.rect.y if text_foot is None else text_foot) - notes
    for one in near:
        if not later and one.height + FRAME_GAP <= room + EPSILON:
            low.append(one)
            room -= one.height + FRAME_GAP
        else:
            later.append(one)
    return low, tuple(later)


def at_bottom(low: Sequence[Boxed], slot: Slot, foot: float) -> list[PlacedFrame]:
    """Frames at the foot of a column, the last of them down to ``foot``."""
    y = foot - sum(one.height for one in low) - FRAME_GAP * max(len(low) - 1, 0)
    frames = []
    for one in low:
        frames.append(PlacedFrame(one.ref, Rect(_centred(one, slot), y, one.width, one.height), "foot"))
        y += one.height + FRAME_GAP
    return frames


def _centred(one: Boxed, slot: Slot) -> float:
    """The left edge of a frame in the middle of its column; a wider one begins where the column does."""
    return slot.rect.x + max((slot.rect.width - one.width) / 2, 0.0)


def beside(
    cited: Sequence[tuple[NoteBody | TiedFrame, float]], slot: Slot
) -> list[tuple[NoteBody | TiedFrame, float, float]]:
    """Notes and frames in the margin with their tops and left edges, each as near as can be to the baseline of the line
    it is tied to, none over another.

    The places are those with the least sum of squared distances, found by pooling neighbours that are in each other's
    way (pool adjacent violators: Barlow and others, "Statistical inference under order restrictions", 1972, from
    memory); then all are moved into the column's height."""
    pools: list[tuple[float, int]] = []  # mean of the wished places less the heights before, and how many
    above = 0.0
    heads = []
    for item, baseline in cited:
        pools.append((baseline - item.first - above, 1))
        heads.append(above)
        above += item.height + _gap_of(item)
        while len(pools) > 1 and pools[-2][0] > pools[-1][0]:
            (a, m), (b, n) = pools[-2:]
            pools[-2:] = [((a * m + b * n) / (m + n), m + n)]
    if not cited:
        return []
    lowest = max(slot.rect.foot - (above - _gap_of(cited[-1][0])), slot.rect.y)
    wished = [mean for mean, count in pools for _ in range(count)]
    placed_notes = []
    for (item, _), own, head in zip(cited, wished, heads, strict=True):
        top = min(max(own, slot.rect.y), lowest) + head
        placed_notes.append((item, top, _margin_of(item, slot)))
    return placed_notes


def _gap_of(item: NoteBody | TiedFrame) -> float:
    return item.kind.gap if isinstance(item, NoteBody) else FRAME_GAP / 2


def _margin_of(item: NoteBody | TiedFrame, slot: Slot) -> float:
    """The left edge of something in the margin: the outer one; between columns, that of the column nearer to it."""
    width, away = (item.kind.width, item.kind.away) if isinstance(item, NoteBody) else (item.box.width, FRAME_AWAY)
    count = slot.setting.columns
    left = slot.side == "verso" if count < 2 else slot.column < count / 2
    return slot.rect.x - away - width if left else slot.rect.right + away
