"""Tables as they are set: columns as wide as their contents ask for, rows as high, cells as small texts of their own.

A table stands alone in its paragraph. Rows that a cell binds together (it goes down over several) are one *band*; bands are to the column
what lines are: it is filled with them, breaks between them, and head rows are repeated above those that go over.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from functools import cache, cached_property, partial
from itertools import accumulate
from typing import Any, NamedTuple, TypeVar
from weakref import WeakKeyDictionary

from lexigon.core.flow.holding import BEGIN, Block
from lexigon.core.flow.shown import LaidTable, Shown, objects_of
from lexigon.core.flow.slots import Area
from lexigon.core.flow.story import StoryFlow
from lexigon.core.flow.tablecells import Band, Bands, Cut, Part, SetCell, column_of, lines_in
from lexigon.core.flow.tablecolumns import before_sign, solved
from lexigon.core.geometry import Rect
from lexigon.core.job.cascade import PLAIN_FRAME, Cascade, Setting, TypeSetting
from lexigon.core.job.cellsetting import QUIET
from lexigon.core.job.collation import decimal_sign
from lexigon.core.job.model import (
    Cell,
    Fill,
    Paragraph,
    ParaSpec,
    TypeSpec,
    combined,
)
from lexigon.core.job.tablegrid import Placed, bands_of, placed_cells
from lexigon.core.job.text import LINE_BREAK
from lexigon.core.type.fonts import FontLibrary
from lexigon.core.type.grid import Grid
from lexigon.core.type.runs import runs_of
from lexigon.core.type.tabs import width_between

ENDLESS = 100_000.0
NARROWEST = 12.0
"""A column is at least so wide, in points, whatever it holds."""
CONTINUED = TypeSpec(italic=True)
"""How it is said that a table goes on (common practice, no source)."""
STANDS = {"top": 0.0, "centre": 0.5, "bottom": 1.0}
"""The part of what is left of a cell's height that is above its words."""
Show = Callable[[Paragraph], Shown]
T = TypeVar("T")


def _changing(held: Sequence[Paragraph]) -> bool:
    """Whether something stands in words that may become other words."""
    return any(span.object is not None for p in held for span in p.spans)


def on_end(cell: Cell) -> bool:
    """Whether the lines of a cell run along its height."""
    return cell.turn in (90, 270)


Lines = tuple[tuple[Setting, TypeSetting], ...]


class Measures(NamedTuple):
    """How wide a cell is."""

    least: float
    """At its narrowest: its longest word, with its insets."""
    most: float
    """Naturally: its longest line."""
    loose: bool
    """No line of it is filled where it could be shorter."""
    lines: Lines | None
    """How each of its paragraphs is set, if all of them are lines where they have that room."""


NOT_ONE_LINE = frozenset(f"{LINE_BREAK}\t\u00a0")
"""What makes lines, or makes them otherwise wide than their words are."""
LEAST_LINES = 2
"""Of a cell on either side of the place where its row is divided (common practice, no source)."""
MOST_PARTS = 500
"""Parts of a table's rows that are remembered as they were set."""


def _at_sign(p: Paragraph, indent: float) -> Paragraph:
    """A number moved so that its decimal sign stands at a place; the widest of the column ends at its right edge."""
    moved = ParaSpec(align="left", indent_left=max(indent, 0.0))
    return replace(p, para=combined(p.para, moved) if p.para else moved)


_KNOWN: WeakKeyDictionary[Cascade, dict[tuple[int, float], TableBody]] = WeakKeyDictionary()
"""Tables as they were set, by the styles they were set in: one that is shown again is not set again."""
MOST_KNOWN = 400
_CELLS: WeakKeyDictionary[Cascade, dict[tuple[object, ...], tuple[object, Any]]] = WeakKeyDictionary()
"""What was set and measured of cells, by the identity of their paragraphs, which are kept beside it."""
MOST_CELLS = 120_000
"""Two for each cell of the largest tables."""


def set_table(table: LaidTable, width: float, cascade: Cascade, library: FontLibrary, show: Show) -> TableBody:
    """A table set at a width; ``show`` writes out what stands in its cells. One in which something stands that may change is set anew."""
    known = _KNOWN.setdefault(cascade, {})
    body = known.get((id(table), width))
    if body is not None and body.table is table and body.library is library:
        return body
    body = TableBody(table, width, cascade, library, show)
    if not objects_of(table):
        if len(known) >= MOST_KNOWN:
            known.clear()
        known[id(table), width] = body
    return body


class TableBody:
    """A table set at a width."""

    def __init__(self, table: LaidTable, width: float, cascade: Cascade, library: FontLibrary, show: Show) -> None:
        self.table, self.room, self.cascade, self.library, self.show = table, width, cascade, library, show
        self.look = table.look
        self.cells = placed_cells(table)
        self.columns = max((one.column + one.across for one in self.cells), default=1)
        self._placed: dict[tuple[int, Cut, float], Part] = {}
        self._depths: dict[tuple[tuple[int, int], ...], tuple[Lines, float]] = {}
        """How far down paragraphs of one line reach, by how they are set."""

    @property
    def heads(self) -> int:
        """How many bands are repeated where the table goes over: the first, if the table has head rows and others below them."""
        return int(0 < self.table.heads < len(self.table.rows) and len(self.bands) > 1)

    @property
    def feet(self) -> int:
        """The same at the end: the last band, if it is one of foot rows."""
        return int(self.table.feet > 0 and len(self.bands) > self.heads + 1)

    @property
    def width(self) -> float:
        return self.edges[-1]

    @cached_property
    def edges(self) -> list[float]:
        """Where columns begin, and where the last one ends, from the left edge."""
        x, made = 0.0, [0.0]
        for width in solved(self.table.sizes, self._asked(), self.room):
            x += width
            made.append(x)
        return made

    @cached_property
    def _held(self) -> dict[int, tuple[float, float]]:
        """Of columns of decimal fractions: the widest part before the sign, and from it on."""
        found: dict[int, tuple[float, float]] = {}
        for one in self.cells:
            if self._decimal(one):
                for before, behind in self._parts_of(one):
                    left, right = found.get(one.column, (0.0, 0.0))
                    found[one.column] = max(left, before), max(right, behind)
        return found

    def _decimal(self, one: Placed) -> bool:
        sizes = self.table.sizes
        return (
            one.across == 1
            and not one.cell.turn
            and one.column < len(sizes)
            and sizes[one.column].align == "decimal"
            and not self.table.is_head(one.row)
        )

    def _parts_of(self, one: Placed) -> list[tuple[float, float]]:
        held = one.cell.paragraphs
        return self._once(held, ("parts",), lambda: [self._parts(p) for p in held])

    def _parts(self, p: Paragraph) -> tuple[float, float]:
        """How wide a number is up to its decimal sign, and from there on."""
        text, runs = runs_of(self.cascade, self.library, self.show(p).paragraph)
        sign = decimal_sign(self.cascade.type_of(p).language or "en")
        at = before_sign(text, sign)
        return width_between(text, runs, 0, at), width_between(text, runs, at, len(text))

    def _asked(self) -> list[tuple[float, float]]:
        """The narrowest and the natural width of each column: its longest word, its longest line."""
        asked = [(NARROWEST, NARROWEST)] * self.columns
        for one in sorted(self.cells, key=lambda one: one.across):
            least, most = self._measures(one)[:2]
            if on_end(one.cell):
                least = most = self._deep(self._set(one)) + 2 * self.look.beside
            span = range(one.column, one.column + one.across)
            for which, wanted in enumerate((least, most)):
                short = wanted - sum(asked[c][which] for c in span)
                if short > 0:
                    weights = [asked[c][1] for c in span]
                    for c, weight in zip(span, weights, strict=True):
                        more = short * weight / sum(weights)
                        asked[c] = (
                            (asked[c][0] + more, asked[c][1]) if which == 0 else (asked[c][0], asked[c][1] + more)
                        )
        for column, (left, right) in self._held.items():
            wide = left + right + 2 * self.look.beside + 0.01
            asked[column] = max(asked[column][0], wide), max(asked[column][1], wide)
        return [(least, max(least, most)) for least, most in asked]

    def _once(self, held: Sequence[Paragraph], which: tuple[object, ...], make: Callable[[], T]) -> T:
        """What is made of a cell's paragraphs, or was; where something stands in them that may change, it is made anew."""
        if _changing(held):
            return make()
        known = _CELLS.setdefault(self.cascade, {})
        key = (id(held), id(self.library), *which)
        found = known.get(key)
        if found is not None and found[0] is held:
            made: T = found[1]
            return made
        if len(known) >= MOST_CELLS:
            known.clear()
        made = make()
        known[key] = held, made
        return made

    def _measures(self, one: Placed) -> Measures:
        return self._once(one.cell.paragraphs, ("measures", self.look.beside), lambda: self._measured(one))

    def _measured(self, one: Placed) -> Measures:
        least, most, loose = 0.0, 0.0, True
        lines: Lines | None = ()
        for p in one.cell.paragraphs:
            set_as = self.show(p).paragraph
            text, runs = runs_of(self.cascade, self.library, set_as)
            natural = word = longest = 0.0
            plain = NOT_ONE_LINE.isdisjoint(text)
            for run in runs:
                if run.box is not None:
                    natural += run.box.width
                    longest = max(longest, run.box.width)
                    continue
                tokens = text[run.start : run.end].split(" ")
                plain = plain and (len(tokens) == 1 or not run.look.cut.space_kerns)
                for number, token in enumerate(tokens):
                    wide = run.look.width(token) if token else 0.0
                    word = wide if number else word + wide
                    natural += wide + (run.look.space if number else 0.0)
                    longest = max(longest, word)
            setting = self.cascade.setting(p)
            kept = setting.indent_left + setting.indent_right + max(setting.indent_first, 0.0)
            most, least = max(most, natural + kept), max(least, longest + kept)
            loose = loose and (setting.align != "justified" or setting.last_line != "full")
            if lines is not None:
                one_line = plain and loose and setting.drop_lines <= 1 and set_as is p
                lines = (*lines, (setting, self.cascade.type_of(p))) if one_line else None
        inset = 2 * self.look.beside
        return Measures(least + inset, most + inset + 0.01, loose, lines)

    @cached_property
    def _needs(self) -> list[float]:
        """How high each cell has to be for its words."""
        return [
            2 * self.look.over + (self._length(one) if on_end(one.cell) else self._depth(one)) for one in self.cells
        ]

    @cached_property
    def _tops(self) -> list[float]:
        """Where rows begin, and where the last one ends, from the head of the table as if it stood in one piece."""
        heights = [0.0] * len(self.table.rows)
        for one, need in sorted(zip(self.cells, self._needs, strict=True), key=lambda both: both[0].down):
            short = max(need, one.cell.height) - sum(heights[one.row : one.row + one.down])
            if short > 0:
                heights[one.row + one.down - 1] += short
        return [0.0, *accumulate(heights)]

    @cached_property
    def bands(self) -> Bands:
        """The rows that belong together, one below the other."""
        numbers: dict[int, list[int]] = {}
        for number, one in enumerate(self.cells):
            numbers.setdefault(one.row, []).append(number)
        tops = self._tops

        def made(rows: range) -> Band:
            cells = (self._cell(number, tops[rows.start]) for row in rows for number in numbers.get(row, ()))
            return Band(tops[rows.stop] - tops[rows.start], tuple(cells))

        return Bands(bands_of(self.table), made)

    def _cell(self, number: int, head: float) -> SetCell:
        """A cell in its band, which begins at ``head``."""
        look, one, need, tops = self.look, self.cells[number], self._needs[number], self._tops
        x, right = self.edges[one.column], self.edges[one.column + one.across]
        box = Rect(x, tops[one.row] - head, right - x, tops[one.row + one.down] - tops[one.row])
        part = STANDS[one.cell.vertical or look.vertical]
        if on_end(one.cell):
            deep, long = box.width - 2 * look.beside, box.height - 2 * look.over
            down = (deep - self._deep(self._set(one))) * part
            middle = box.x + box.width / 2, box.y + box.height / 2
            inner = Rect(middle[0] - long / 2, middle[1] - deep / 2 + down, long, deep - down)
        else:
            down = (box.height - need) * part
            inner = Rect(
                box.x + look.beside, box.y + look.over + down, box.width - 2 * look.beside, box.height - 2 * look.over - down
            )  # fmt: skip
        heads = self.table.is_head(one.row)
        turn = (one.row - self.table.heads) // look.every % 2
        own = look.head_fill if heads else look.other if turn else look.fill
        span = one.column, one.across, one.down
        fill = one.cell.fill or own
        words: Callable[[], StoryFlow] = partial(self._set, one)
        if _changing(one.cell.paragraphs):  # else it is known again anyway
            words = cache(words)
        return SetCell(box, words, one.row, one.number, heads, inner, fill, one.cell.turn, one.cell.rules, span)

    def divides(self, number: int) -> bool:
        """Whether a row may go on in the next column: not one that others are bound to, that is repeated, turned in part or cites notes."""
        cells = self.bands[number].cells
        return self.table.divide and not any(
            cell.head or cell.turn or cell.span[2] > 1 or cell.row != cells[0].row or any(p.notes for p in cell.flow.paragraphs)
            for cell in cells
        )  # fmt: skip

    def part(self, number: int, begun: Cut = (), room: float = 0.0) -> Part:
        """A row from a place in each of its cells on, as much of it as has room; without a room all that is left of it."""
        known = self._placed.get((number, begun, room))
        if known is None:
            if len(self._placed) >= MOST_PARTS:
                self._placed.clear()
            known = self._placed[number, begun, room] = self._cut_off(number, begun, room)
        return known

    def _cut_off(self, number: int, begun: Cut, room: float) -> Part:
        look, row = self.look, self.bands[number]
        states = begun or (BEGIN,) * len(row.cells)
        inside = max(room - 2 * look.over, 0.0) if room else ENDLESS
        columns = [column_of(cell.flow, state, inside) for cell, state in zip(row.cells, states, strict=True)]
        foot = max((column.foot(cell.flow) for column, cell in zip(columns, row.cells, strict=True)), default=0.0)
        height = foot + 2 * look.over
        cells = []
        for cell, column in zip(row.cells, columns, strict=True):
            box = replace(cell.box, height=height)
            inner = replace(cell.inner, y=look.over, height=height - 2 * look.over)
            cells.append(replace(cell, box=box, inner=inner, part=column, rest=bool(begun)))
        left = tuple(column.end for column in columns)
        done = all(state.paragraph >= len(cell.flow) for state, cell in zip(left, row.cells, strict=True))
        return Part(Band(height, tuple(cells)), () if done else left)

    def divided(self, number: int, begun: Cut, room: float, forced: bool) -> tuple[float, Cut] | None:
        """As ``Flowing.divided`` has it: two lines of each cell that goes on stand on either side (common practice, no source), where there
        is any other place to divide it."""
        if room <= 2 * self.look.over or number >= len(self.bands) or not self.divides(number):
            return None
        part = self.part(number, begun, room)
        if not part.left:
            return None
        rest = self.part(number, part.left)
        placed = 0
        for cell, behind in zip(part.band.cells, rest.band.cells, strict=True):
            here, there = lines_in(cell.column), lines_in(behind.column)
            placed += here
            if not forced and there and min(here, there) < LEAST_LINES:
                return None
        return (part.band.height, part.left) if placed else None

    @cached_property
    def again(self) -> Band | None:
        """What stands above the head rows where the table goes over."""
        if not self.table.continued:
            return None
        words = Paragraph("continued", self.table.body, self.table.continued, para=QUIET, type=CONTINUED)
        flow = self._flow([words], self.width - 2 * self.look.beside)
        height = flow.columns[0].foot(flow) + 2 * self.look.over
        box = Rect(0.0, 0.0, self.width, height)
        inner = Rect(self.look.beside, self.look.over, self.width - 2 * self.look.beside, height - 2 * self.look.over)
        return Band(height, (SetCell(box, lambda: flow, -1, -1, True, inner, Fill()),))

    def _depth(self, one: Placed) -> float:
        """How far down the words of a cell reach: where each paragraph is a line, as far as in any other cell that is set so."""
        width = self.edges[one.column + one.across] - self.edges[one.column] - 2 * self.look.beside
        measures = self._measures(one)
        if not measures.lines or self._decimal(one) or measures.most - 2 * self.look.beside > width:
            return self._deep(self._set(one))
        key = tuple((id(setting), id(type_)) for setting, type_ in measures.lines)
        known = self._depths.get(key)
        if known is None:
            known = self._depths[key] = measures.lines, self._deep(self._set(one))
        return known[1]

    @staticmethod
    def _deep(flow: StoryFlow) -> float:
        """How far down the words of a cell reach."""
        return flow.columns[0].foot(flow)

    def _length(self, one: Placed) -> float:
        """How long the lines of words may be that stand on end: as their cell's height says, but for the longest word; else as they are."""
        least, most = self._measures(one)[:2]
        inset = 2 * self.look.beside
        return max(one.cell.height - 2 * self.look.over, least - inset) if one.cell.height else most - inset

    def _set(self, one: Placed) -> StoryFlow:
        if on_end(one.cell):
            length, words = self._length(one), one.cell.paragraphs
            return self._once(words, ("flow", length), lambda: self._flow(list(words), length))
        width = self.edges[one.column + one.across] - self.edges[one.column] - 2 * self.look.beside
        held = one.cell.paragraphs
        if not self._decimal(one):
            measures = self._measures(one)
            fits = measures.loose and measures.most - 2 * self.look.beside <= width
            # Lines that are not filled are the same at any width they fit.
            return self._once(held, ("flow", 0.0 if fits else width), lambda: self._flow(list(held), width))
        at = width - self._held[one.column][1]
        parts = self._parts_of(one)

        def moved() -> StoryFlow:
            made = [_at_sign(p, at - before) for p, (before, _) in zip(held, parts, strict=True)]
            return self._flow(made, width)

        return self._once(held, ("flow", width, at), moved)

    def _flow(self, paragraphs: list[Paragraph], width: float) -> StoryFlow:
        area = Area(0, self.table.id, "recto", False, Rect(0.0, 0.0, max(width, 1.0), ENDLESS), PLAIN_FRAME)
        return StoryFlow(
            paragraphs, self.cascade, self.library, Grid(), lambda: iter((area,)), 1, None, self.show, alone=True
        )

    def height(self, band: int) -> float:
        if band >= len(self.bands):
            return 0.0
        rows = self.bands.rows[band]
        return self._tops[rows.stop] - self._tops[rows.start]

    def ahead(self, band: int) -> float:
        """What is repeated above a band with which a column goes on."""
        if band < max(self.heads, 1):
            return 0.0
        return sum(self.height(number) for number in range(self.heads)) + (self.again.height if self.again else 0.0)

    def under(self, band: int) -> float:
        """What stands below a column's rows that ends before a band: the foot rows, repeated or their own."""
        return self.height(len(self.bands) - 1) if self.feet and self.heads < band < len(self.bands) else 0.0

    def cited(self, first: int, last: int) -> list[str]:
        """The notes that bands cite."""
        if not self._cites:
            return []
        flows = (cell.flow for number in range(first, last) for cell in self.bands[number].cells)
        return [ref for flow in flows for found in flow.paragraphs for _, ref in found.notes]

    @cached_property
    def _cites(self) -> bool:
        """Whether any of its cells may."""
        return any(_changing(one.cell.paragraphs) for one in self.cells)

    def placed(self, block: Block) -> list[Band]:
        """The bands of a block, the first and the last of them perhaps in part."""
        first, last = block.base + block.first_line, min(block.base + block.last_line, len(self.bands))
        made = [self.bands[number] for number in range(first, last)]
        if block.begun:
            made[0] = self.part(first, block.begun, block.part if len(made) == 1 else 0.0).band
        if block.part and (len(made) > 1 or not block.begun):
            made[-1] = self.part(last - 1, (), block.part).band
        return made

    def standing(self, block: Block) -> Iterator[tuple[float, Band, bool]]:
        """The bands of a block with the height at which each begins, those repeated above it first, those below it last."""
        first, last, foot = block.base + block.first_line, block.base + block.last_line, block.lines
        own = self.placed(block)
        if first > 0 and self.ahead(first):
            top = foot[0] - own[0].height - self.ahead(first)
            if self.again is not None:
                yield top, self.again, True
                top += self.again.height
            for number in range(self.heads):
                yield top, self.bands[number], True
                top += self.height(number)
        last = min(last, len(self.bands))
        for band, y in zip(own, foot, strict=False):
            yield y - band.height, band, False
        if self.under(last) and foot:
            yield foot[min(last - first, len(foot)) - 1], self.bands[-1], True
