"""Filling one column, in closed form: never line by line, so a page costs as many steps as it has paragraphs.

Baselines are ``first + k * step``; on the baseline grid both are rounded up to it. Space before a paragraph falls away
at a column's head unless the paragraph begins a column or page by rule. Only paragraphs beside obstacles, and those
with notes or frames in their lines, are looked at line by line.

What a column is filled with are fragments: lines of paragraphs from its head down, notes up from its foot.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from math import floor

from lexigon.core.document.cascade import Setting
from lexigon.core.flow.areas import Slot
from lexigon.core.flow.breaking import (
    boxes_beside,
    first_below,
    may_start,
    not_alone,
    split_at,
    undivided,
    without_stranded,
)
from lexigon.core.flow.model import BY_LINES, NO_BURDEN, Block, Burden, Column, Flowing, State
from lexigon.core.flow.note_layout import (
    FRAME_GAP,
    MOST_OWED,
    NO_TIES,
    Note,
    NoteBody,
    PlacedFrame,
    TiedFrame,
    Ties,
    at_bottom,
    at_foot,
    at_head,
    beside,
    fitting,
    height_of,
    in_order,
    more_of,
    over_line,
    ties_of,
)
from lexigon.core.geometry import Rect
from lexigon.core.type.grid import EPSILON, Grid, lines_down
from lexigon.core.type.paragraph import Measure
from lexigon.core.type.runs import Boxed

BEYOND, BEYOND_SHAPED = 100_000.0, 4.0
"""How far a column is extended, in points, to place a figure that is higher than any column; beside obstacles, where
lines are examined one by one, as a multiple of the column's height."""


def fill_column(story: Flowing, slot: Slot, at: State, grid: Grid, until: int | None = None) -> Column:
    """Place what fits in the column, from ``at`` on.

    No blocks and an unchanged state mean that the column stays empty: nothing fits, or the text must
    begin on another page. Paragraphs from number ``until`` on are left alone.
    """
    slot, heads, waiting = at_head(at.afloat, slot)
    filling = _Filling(story, slot, grid, at, divides=until is None)
    filling.waits = bool(waiting)
    filling.place_floating(at.floating)
    end = filling.fill(at, len(story) if until is None else until)
    end = end._replace(floating=tuple(one for one in filling.floating if one < end.paragraph))
    column = Column(slot, filling.blocks, at, end, afloat=heads, over=filling.over)
    by_lines = (filling.held or filling.ties or waiting) and _settle(story, column, filling, waiting)
    if until is None:
        column.blocks = _at_foot(story, column, grid)
    if by_lines:
        stand_by(story, column)
    return column


def _settle(story: Flowing, column: Column, filling: _Filling, waiting: tuple[Boxed, ...]) -> bool:
    """Notes and frames at the foot of a column, and what continues in the next column; whether others are placed by its
    lines."""
    bodies = list(filling.owed)
    near: list[Boxed] = []
    refs = {body.ref for body in bodies}
    fresh: list[NoteBody] = []
    by_lines = False
    for block in column.blocks:
        for _, burden in _burdens(story, block):
            for ref in burden.notes:
                body = filling.body(ref) if ref not in refs else None
                refs.add(ref)
                if body is not None and body.kind.place == "foot":
                    fresh.append(body)
                elif body is not None:
                    by_lines = True
            ties = _ties(story, block.paragraph, block.measure, burden, column.slot)
            near += ties.near
            by_lines = by_lines or bool(ties.above or ties.margin)
    bodies += in_order(fresh)
    text_foot = column.text_foot(story)
    low, later = fitting(near, waiting, column.slot, text_foot, height_of(bodies))
    height = sum(one.height + FRAME_GAP for one in low)
    below = text_foot + height if text_foot is not None else column.slot.rect.y + height if low else None
    column.notes, owed = at_foot(bodies, column.slot, below, filling.divides)
    foot = column.notes[0].top - column.notes[0].body.kind.gap if column.notes else column.slot.rect.foot
    column.afloat += at_bottom(low, column.slot, foot)
    column.end = column.end._replace(owed=owed, afloat=later)
    return by_lines


def stand_by(story: Flowing, column: Column) -> None:
    """Put notes and frames in the margin beside the lines they are tied to, and frames right above theirs: again, where
    the lines were moved."""
    slot = column.slot
    aside: list[tuple[NoteBody | TiedFrame, float]] = []
    over: list[PlacedFrame] = []
    refs = {owed.ref for owed in column.begin.owed}
    for block in column.blocks:
        index = block.paragraph
        ascent = story.extent(index)[0]
        for line, burden in _burdens(story, block):
            for ref in burden.notes:
                body = story.note(ref, slot.rect.width) if ref not in refs else None
                refs.add(ref)
                if body is not None and body.kind.place != "foot":
                    aside.append((body, block.at(line)))
            ties = _ties(story, index, block.measure, burden, slot)
            aside += [(TiedFrame(one, ascent), block.at(line)) for one in ties.margin]
            if ties.above:
                high = max(burden.height, ascent)
                over += over_line(ties.above, slot, block.at(line) - high - FRAME_GAP)
    column.margin = []
    column.afloat = [one for one in column.afloat if one.at not in BY_LINES] + over
    for item, top, left in beside(aside, slot):
        if isinstance(item, TiedFrame):
            column.afloat.append(PlacedFrame(item.box.ref, Rect(left, top, item.box.width, item.box.height), "beside"))
        else:
            column.margin.append(Note(item, top, left))


def _burdens(story: Flowing, block: Block) -> Iterable[tuple[int, Burden]]:
    """The lines of a block that carry something, in order, and what."""
    if not story.special(block.paragraph):
        return ()
    burdens = story.burdens(block.paragraph, block.measure, block.base)
    return [(line, burdens[line]) for line in range(block.first_line, block.last_line) if line in burdens]


def _ties(story: Flowing, index: int, key: Measure, burden: Burden, slot: Slot) -> Ties:
    """Return the places of the frames anchored in a line."""
    if not burden.tied:
        return NO_TIES
    ascent, descent = story.extent(index)
    return ties_of(burden.tied, key, slot, max(burden.height, ascent) + descent)


def _at_foot(story: Flowing, column: Column, grid: Grid) -> list[Block]:
    """Move paragraphs down that belong at the foot, if nothing is below them in the column."""
    slot, blocks = column.slot, column.blocks
    first = len(blocks)
    while first and story.setting(blocks[first - 1].paragraph).at_foot:
        first -= 1
    if first == len(blocks) or slot.inside is not None or slot.obstacles:
        return blocks
    last = blocks[-1]
    down = column.text_room - last.bottom(story)
    if grid.step and story.setting(last.paragraph).grid:
        down = floor(down / grid.step + 1e-6) * grid.step
    return [*blocks[:first], *(block.shifted(down) for block in blocks[first:])] if down > 0 else blocks


class _Filling:
    """A column on its way: the blocks so far, the notes they cite, and the foot that is left for more."""

    __slots__ = (
        "_below",
        "_bodies",
        "_cut",
        "_goes_on",
        "_under_figure",
        "blocks",
        "divides",
        "floating",
        "foot",
        "grid",
        "held",
        "notes",
        "over",
        "owed",
        "shaped",
        "slot",
        "story",
        "ties",
        "unfinished",
        "waits",
        "width",
    )

    def __init__(self, story: Flowing, slot: Slot, grid: Grid, at: State, divides: bool) -> None:
        self.story, self.slot, self.grid = story, slot, grid
        self.width = slot.rect.width
        self.foot = slot.rect.foot + EPSILON
        self.shaped = slot.inside is not None or bool(slot.obstacles)
        self.blocks: list[Block] = []
        self.held: set[str] = set()
        self.owed: list[NoteBody] = []
        """What is left of notes from before."""
        self.notes: list[NoteBody] = []
        """Those at the foot that are cited here."""
        self.divides = divides or bool(at.owed)
        self.unfinished = False
        """What is left of notes does not end here either."""
        self.ties = False
        """Frames are tied to lines that were placed."""
        self.waits = False
        """Frames from before have no room yet, so that none may stand here that comes later."""
        self.floating: tuple[int, ...] = ()
        """The figures that still wait for room, each by the number of its first paragraph."""
        self._under_figure = False
        """The last block is a figure that was moved to the head of the column."""
        self._bodies: dict[str, NoteBody | None] = {}
        """The notes that were asked for so far."""
        self._below = 0.0
        self._cut = at.cut
        """The place where the cells of the next row continue."""
        self._goes_on: tuple[tuple[State, ...], float] = (), 0.0
        """The places where overset cells continue, and the height that the row had."""
        self.over: float | None = None
        """The position of a line above the first row that says what it continues."""
        if at.owed:
            self.owed = [body for one in at.owed if (body := story.note(one.ref, self.width, one)) is not None]
            owed_height = height_of(self.owed)
            most = MOST_OWED * slot.rect.height
            self.unfinished = owed_height > most
            self.foot -= min(owed_height, most)
            self.held = {one.ref for one in at.owed}

    def fill(self, at: State, count: int) -> State:
        """Place paragraphs from ``at`` up to number ``count``; what is left then."""
        story, width = self.story, self.width
        figures = story.has_figures
        index, base, line, measure = at[:4]
        if line and (measure != width or self.shaped):
            base, line = story.line_start(index, measure, base, line), 0
        while index < count:
            figure = self._figure(index) if figures and line == base == 0 and not self._cut else 0
            if figure and (self.floating or not self._place_figure(index, figure)):
                self.floating = (*self.floating, index)
                figure = -figure
            if figure:
                index += abs(figure)
                continue
            if self.floating and not line and not base and story.setting(index).start != "anywhere":
                break  # figures do not float beyond the chapter
            placement = self._place(index, base, line)
            if placement is None:
                break
            line_count, left, key = placement
            if line_count and self._goes_on[0]:
                return State(index, base, line + line_count - 1, width, cut=self._goes_on[0])
            if line_count == left:
                index, base, line = index + 1, 0, 0
                continue
            if line_count:
                if isinstance(key, tuple):
                    return State(index, story.line_start(index, key, base, line_count))
                return State(index, base, line + line_count, width)
            if line == 0 and base == 0 and not self._cut:
                self.blocks, end = without_stranded(story, self.blocks, State(index))
                return end
            break
        return State(index, base, line, width if line else 0.0, cut=self._cut)

    def place_floating(self, waiting: tuple[int, ...]) -> None:
        """Place the waiting figures at the head of the column. The first is placed even if it is higher than the
        column."""
        for number, index in enumerate(waiting):
            if index >= len(self.story):
                continue
            if not self._place_figure(index, max(self._figure(index), 1), forced=not self.blocks):
                self.floating = waiting[number:]
                return
            self._under_figure = True
            self._below = max(self._below, FRAME_GAP)

    def _figure(self, index: int) -> int:
        """Return the number of paragraphs in the figure that begins at ``index``, its caption included, or 0 if no
        figure begins there."""
        story = self.story
        if not story.setting(index).floats or story.setting(index).start != "anywhere":
            return 0
        end = index + 1
        while end < len(story) and (story.setting(end - 1).keep_next or story.setting(end).keep_previous):
            end += 1
        return end - index

    def _place_figure(self, index: int, count: int, forced: bool = False) -> bool:
        """Place a whole figure, or nothing if it does not fit. With ``forced`` it is placed anyway, and runs out at the
        foot."""
        names = ("foot", "over", "ties", "unfinished", "_below", "_cut", "_goes_on", "_under_figure")
        before = {name: getattr(self, name) for name in names}
        blocks, notes, held_refs = len(self.blocks), list(self.notes), set(self.held)
        beyond = BEYOND_SHAPED * self.slot.rect.height if self.shaped else BEYOND
        if forced:
            self.foot += beyond
        fits = True
        for one in range(index, index + count):
            placement = self._place(one, 0, 0)
            fits = placement is not None and placement[0] == placement[1] and not self._goes_on[0]
            if not fits:
                break
        if fits:
            self.foot -= beyond if forced else 0.0
            return True
        for name in names:
            setattr(self, name, before[name])
        del self.blocks[blocks:]
        self.notes, self.held = notes, held_refs
        return False

    def _place(self, index: int, base: int, line: int) -> tuple[int, int, Measure] | None:
        """Place what fits of a paragraph. How many of its lines, of how many, at which measure; None if it may not
        begin here."""
        story, slot = self.story, self.slot
        setting = story.setting(index)
        heads = not self.blocks
        begins = line == 0 and base == 0 and not self._cut
        together = not heads and setting.at_foot and story.setting(self.blocks[-1].paragraph).at_foot
        if begins and not together and not may_start(setting.start, slot, heads):
            return None
        on_grid = setting.grid and self.grid.step > 0
        step = self.grid.leading(setting.leading) if on_grid and setting.grid != "first" else setting.leading
        first = self._first(index, setting, begins)
        if on_grid and (begins or setting.grid != "first"):
            first = self.grid.snap(first)
        over = first if heads and not self.shaped else None
        if over is not None and (room := story.over(index)):
            first += self.grid.leading(room) if on_grid and setting.grid != "first" else room
        else:
            over = None
        key, left, room, baselines = self._room(index, base, line, first, step)
        beside = isinstance(key, tuple)
        if story.special(index):
            baselines = self._one_by_one(index, base, line, key, left, baselines if beside else None, first, step)
            room = len(baselines)
        if self._goes_on[0]:  # the last of them has room for a part of it alone
            left += 1
        count = left if room >= left else split_at(setting, room, left, begins, heads)
        if count < room:
            self._goes_on = (), 0.0
        whole = not setting.hyphen_column or (setting.hyphen_column == "leaf" and slot.side == "recto")
        if whole and 1 < count < left:
            count = undivided(story, index, key, base, line, count, left, setting, begins, heads)
        if beside and 0 < count < left:
            count = not_alone(story, index, key, base, count, self.width, setting, begins and not heads)
        if count:
            lines = tuple(baselines[:count])
            block = Block(
                index,
                line,
                line + count,
                lines[0] if lines else first,
                step,
                base,
                key,
                lines,
                self._cut,
                self._goes_on[1],
            )
            self._cut = ()
            self.blocks.append(block)
            self.over = over if heads else self.over
            self._below = setting.space_after
            self._under_figure = False
            if story.special(index):
                carried = _burdens(story, block)
                self._hold([ref for _, burden in carried for ref in burden.notes])
                under = story.extent(index)[1]
                for number, burden in carried:
                    ties = _ties(story, index, key, burden, slot)
                    self.foot = self._tied(ties.near, self.foot, block.at(number) + under)
        return count, left, key

    def _first(self, index: int, setting: Setting, begins: bool) -> float:
        """The baseline at which a paragraph, or the rest of it, continues."""
        if self.blocks:
            between = self._below + setting.space_before if begins else self._below if self._under_figure else 0.0
            above = self.blocks[-1]
            foot = above.bottom(self.story) if self.story.unbroken(index) else above.foot
            return foot + between + setting.leading
        slot = self.slot
        keeps = setting.start != "anywhere" or setting.keep_space or not slot.heads_area
        before = setting.space_before if begins and keeps else 0.0
        return slot.rect.y + before + first_below(self.story, index, slot, setting, self.story.extent(index)[0])

    def _room(
        self, index: int, base: int, line: int, first: float, step: float
    ) -> tuple[Measure, int, int, list[float]]:
        """The measure of a paragraph's lines here, how many are left of it, how many have room, and their baselines
        where they are not a step apart."""
        story, slot, width, foot = self.story, self.slot, self.width, self.foot
        ascent, descent = story.extent(index)
        shaped = self.shaped and not story.unbroken(index)
        beside = shaped and not slot.clear(first - ascent, min(first + descent, foot))
        left = 0 if beside else story.line_count(index, width, base) - line
        if beside or (shaped and not slot.clear(first - ascent, min(first + (left - 1) * step + descent, foot))):
            boxes = boxes_beside(slot, first, step, ascent, descent, foot)
            key = (*((x, w) for _, x, w in boxes), (0.0, width))
            return key, story.line_count(index, key, base), len(boxes), [y for y, _, _ in boxes]
        return width, left, lines_down(first, step, descent, foot), []

    def _one_by_one(
        self,
        index: int,
        base: int,
        line: int,
        key: Measure,
        left: int,
        boxes: list[float] | None,
        first: float,
        step: float,
    ) -> list[float]:
        """The baselines of the lines that fit, where frames in them need more room above, or the notes that they cite
        need room at the foot. Beside obstacles, lines are placed where they fit (``boxes``), with their own leading."""
        story, setting = self.story, self.story.setting(index)
        ascent, descent = story.extent(index)
        snaps = setting.grid and setting.grid != "first" and self.grid.step > 0
        baselines: list[float] = []
        y, foot, placed_refs, notes = first - step, self.foot, set(self.held), list(self.notes)
        carried = story.burdens(index, key, base)
        for number in range(left if boxes is None else min(left, len(boxes))):
            burden = carried.get(line + number)
            if burden is None and boxes is None:  # nothing on it asks for room
                y = self.grid.snap(y + step) if snaps else y + step
                if y + descent > foot:
                    break
                baselines.append(y)
                continue
            burden = burden or NO_BURDEN
            ties = _ties(story, index, key, burden, self.slot)
            if boxes is not None:
                y = boxes[number]
            else:
                above = ascent if not baselines and not self.blocks else max(ascent, step - descent)
                cut = self._cut if number == 0 else ()
                high = own = story.rest(index, key, base + line, cut) if cut else burden.height
                if number == 0 and line + base:
                    high += story.ahead(index, key, base, line)
                if ties.above:
                    high = max(high, ascent) + ties.stack(heads=not baselines and not self.blocks)
                y += step + max(high - above, 0.0)
                y = self.grid.snap(y) if snaps else y
            new_refs = [ref for ref in burden.notes if ref not in placed_refs]
            bodies = self._low(new_refs)
            before, foot = foot, foot - more_of(self.owed, notes, bodies)
            placed_refs.update(new_refs)
            if bodies and self._divides(notes, bodies, before, foot, y + descent):
                foot = y + descent  # what the line leaves is the note's
            notes += bodies
            # A line that no column could hold is placed at the top of one all the same; its note runs out at the foot.
            alone = not (baselines or self.blocks)
            foot_limit = self.foot if alone and new_refs else foot
            if bodies and self.unfinished and not alone:
                break
            below = story.under(index, key, base, line + number + 1)
            if y + descent + below > foot_limit:
                if boxes is None and story.unbroken(index):
                    room = own - (y + descent + below - foot_limit)
                    part = story.divided(index, key, base + line + number, cut, room, alone)
                    if part is not None:
                        self._goes_on = part[1], room
                        baselines.append(y - own + part[0])
                        break
                if not alone or not story.unbroken(index):
                    break
            baselines.append(y)
            self.ties = self.ties or ties is not NO_TIES
            foot = self._tied(ties.near, foot, y + descent)
        return baselines

    def _tied(self, near: Iterable[Boxed], foot: float, line: float) -> float:
        """The foot that is left for text where frames near a line, whose foot is at ``line``, have room at the
        column's."""
        for one in near:
            if not self.waits and line + one.height + FRAME_GAP <= foot:
                foot -= one.height + FRAME_GAP
        return foot

    def body(self, ref: str) -> NoteBody | None:
        """A note as it is set in this column; None where it stands nowhere by itself."""
        if ref not in self._bodies:
            self._bodies[ref] = self.story.note(ref, self.width)
        return self._bodies[ref]

    def _low(self, refs: Iterable[str]) -> list[NoteBody]:
        """Those of some notes that take room from the column's foot."""
        note_bodies = map(self.body, refs)
        return in_order([body for body in note_bodies if body is not None and body.kind.place == "foot"])

    def _divides(
        self, notes: Sequence[NoteBody], bodies: Sequence[NoteBody], before: float, foot: float, line: float
    ) -> bool:
        """Return whether a line whose foot is at ``line`` may stay although its notes do not fit there completely: the
        last of them is divided, with enough of its lines below. ``before`` and ``foot`` are the foot of the text
        without and with them, after ``notes``."""
        last = bodies[-1]
        if line <= foot or not self.divides or self.unfinished or not last.kind.divided:
            return False
        first = len(bodies) == 1 and not notes and not self.owed
        room = before - line - more_of(self.owed, notes, bodies[:-1]) - (last.kind.gap if first else 0.0)
        return last.divided_at(room) > 0

    def _hold(self, refs: list[str]) -> None:
        new = [ref for ref in dict.fromkeys(refs) if ref not in self.held]
        bodies = self._low(new)
        self.foot -= more_of(self.owed, self.notes, bodies)
        self.notes += bodies
        self.held.update(new)
