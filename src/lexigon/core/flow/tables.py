"""Tables as they are set: columns as wide as their contents ask for, rows as high, cells as small texts of their own.

A table stands alone in its paragraph. Rows that a cell binds together (it goes down over several) are one *band*; bands are to the column
what lines are: it is filled with them, breaks between them, and head rows are repeated above those that go over.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import accumulate
from weakref import WeakKeyDictionary

from lexigon.core.flow.shown import LaidTable, Shown, objects_of
from lexigon.core.flow.slots import Area
from lexigon.core.flow.story import StoryFlow
from lexigon.core.flow.tablecolumns import before_sign, solved
from lexigon.core.geometry import Rect
from lexigon.core.job.cascade import PLAIN_FRAME, Cascade
from lexigon.core.job.collation import decimal_sign
from lexigon.core.job.model import (
    PLAIN_TABLE,
    Cell,
    Fill,
    Paragraph,
    ParaSpec,
    TableStyle,
    TextTable,
    TypeSpec,
    combined,
)
from lexigon.core.type.fonts import FontLibrary
from lexigon.core.type.grid import Grid
from lexigon.core.type.runs import runs_of
from lexigon.core.type.tabs import width_between

ENDLESS = 100_000.0
NARROWEST = 12.0
"""A column is at least so wide, in points, whatever it holds."""
QUIET = ParaSpec(
    align="left", indent_first=0.0, space_before=0.0, space_after=0.0, grid=False, hyphenate=True, start="anywhere"
)
"""How the text of cells is set where their paragraphs do not say otherwise: body text with nothing that belongs to running text."""
HEAD = TypeSpec(weight=700)
CONTINUED = TypeSpec(italic=True)
"""How it is said that a table goes on (common practice, no source)."""
STANDS = {"top": 0.0, "centre": 0.5, "bottom": 1.0}
"""The part of what is left of a cell's height that is above its words."""
Show = Callable[[Paragraph], Shown]


@dataclass(slots=True, frozen=True)
class Placed:
    """A cell in the grid of its table."""

    cell: Cell
    row: int
    column: int
    across: int
    down: int


@dataclass(slots=True, frozen=True)
class SetCell:
    """A cell's text, set; its box from the table's left edge and the head of its band."""

    box: Rect
    flow: StoryFlow
    row: int
    head: bool
    """Of a head or a foot row."""
    inner: Rect
    """Where its words stand."""
    fill: Fill


@dataclass(slots=True, frozen=True)
class Band:
    """Rows that stand together."""

    height: float
    cells: tuple[SetCell, ...]


def as_set(table: TextTable, body: str, styles: Mapping[str, TableStyle]) -> LaidTable:
    """A table with the paragraphs of its cells as they are set: those in the style of running text (``body``) in the styles that the table's
    own names, else without what belongs to running text."""
    laid = LaidTable(
        table.id, table.name, (), table.heads, table.foots, table.style, table.sizes, table.continued, styles.get(table.style, PLAIN_TABLE), body
    )  # fmt: skip
    count = len(table.rows)
    feet = table.foots if table.heads + table.foots < count else 0

    def quiet(p: Paragraph, head: bool, column: int) -> Paragraph:
        if p.style not in (body, "first"):
            return p
        size = table.sizes[column] if column < len(table.sizes) else None
        own = size.align if size is not None else None
        if own == "decimal":
            own = "right" if head else "left"
        along = ParaSpec(align=own) if own else None
        named = laid.look.head_style if head else laid.look.body_style
        if named:
            return replace(p, style=named, para=combined(along, p.para) if along else p.para)
        return replace(
            p, para=combined(combined(QUIET, along), p.para), type=combined(HEAD, p.type) if head else p.type
        )

    empty = (Paragraph("empty", body),)
    rows: list[list[Cell]] = [[] for _ in table.rows]
    for one in placed_cells(table):
        head = one.row < table.heads or one.row >= count - feet
        own = tuple(quiet(p, head, one.column) for p in one.cell.paragraphs or empty)
        rows[one.row].append(replace(one.cell, paragraphs=own))
    return replace(laid, rows=tuple(map(tuple, rows)))


def placed_cells(table: TextTable) -> list[Placed]:
    """The cells with their places: a cell that goes down over rows leaves no room for others there (HTML 4.01, 11.2.6)."""
    taken: set[tuple[int, int]] = set()
    made: list[Placed] = []
    count = len(table.rows)
    for row, cells in enumerate(table.rows):
        column = 0
        for cell in cells:
            while (row, column) in taken:
                column += 1
            down = min(cell.down, count - row)
            made.append(Placed(cell, row, column, cell.across, down))
            taken |= (
                {(row + r, column + c) for r in range(down) for c in range(cell.across)}
                if down * cell.across < 10_000
                else set()
            )
            column += cell.across
    return made


def bands_of(table: TextTable) -> list[range]:
    """The rows that belong together, head rows as one band, foot rows as another."""
    ends = list(range(1, len(table.rows) + 1))
    bound = {row for one in placed_cells(table) for row in range(one.row + 1, one.row + one.down)}
    bound |= set(range(1, min(table.heads, len(table.rows))))
    if table.heads + table.foots < len(table.rows):
        bound |= set(range(len(table.rows) - table.foots + 1, len(table.rows)))
    made, first = [], 0
    for end in ends:
        if end not in bound:
            made.append(range(first, end))
            first = end
    return made


_KNOWN: WeakKeyDictionary[Cascade, dict[tuple[int, float], TableBody]] = WeakKeyDictionary()
"""Tables as they were set, by the styles they were set in: one that is shown again is not set again."""
MOST_KNOWN = 400


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
                for p in one.cell.paragraphs:
                    before, behind = self._parts(p)
                    left, right = found.get(one.column, (0.0, 0.0))
                    found[one.column] = max(left, before), max(right, behind)
        return found

    def _decimal(self, one: Placed) -> bool:
        sizes = self.table.sizes
        return (
            one.across == 1
            and one.column < len(sizes)
            and sizes[one.column].align == "decimal"
            and not self.table.is_head(one.row)
        )

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
            least, most = self._measures(one)
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

    def _measures(self, one: Placed) -> tuple[float, float]:
        least = most = 0.0
        for p in self._paragraphs(one):
            text, runs = runs_of(self.cascade, self.library, self.show(p).paragraph)
            natural = word = longest = 0.0
            for run in runs:
                if run.box is not None:
                    natural += run.box.width
                    longest = max(longest, run.box.width)
                    continue
                for number, token in enumerate(text[run.start : run.end].split(" ")):
                    wide = run.look.width(token) if token else 0.0
                    word = wide if number else word + wide
                    natural += wide + (run.look.space if number else 0.0)
                    longest = max(longest, word)
            setting = self.cascade.setting(p)
            kept = setting.indent_left + setting.indent_right + max(setting.indent_first, 0.0)
            most, least = max(most, natural + kept), max(least, longest + kept)
        inset = 2 * self.look.beside
        return least + inset, most + inset + 0.01

    def _paragraphs(self, one: Placed) -> list[Paragraph]:
        return list(one.cell.paragraphs)

    @cached_property
    def bands(self) -> list[Band]:
        rows, look = bands_of(self.table), self.look
        flows = [self._set(one) for one in self.cells]
        needs = [flow.columns[0].foot(flow) + 2 * look.over for flow in flows]
        heights = [0.0] * len(self.table.rows)
        for one, need in sorted(zip(self.cells, needs, strict=True), key=lambda both: both[0].down):
            short = need - sum(heights[one.row : one.row + one.down])
            if short > 0:
                heights[one.row + one.down - 1] += short
        tops = [0.0, *accumulate(heights)]
        by_row: dict[int, list[tuple[Placed, StoryFlow, float]]] = {}
        for one, flow, need in zip(self.cells, flows, needs, strict=True):
            by_row.setdefault(one.row, []).append((one, flow, need))
        made = []
        for band in rows:
            cells = []
            for one, flow, need in (found for row in band for found in by_row.get(row, ())):
                x, right = self.edges[one.column], self.edges[one.column + one.across]
                box = Rect(x, tops[one.row] - tops[band.start], right - x, tops[one.row + one.down] - tops[one.row])
                cells.append(self._cell(one, flow, box, need))
            made.append(Band(tops[band.stop] - tops[band.start], tuple(cells)))
        return made

    def _cell(self, one: Placed, flow: StoryFlow, box: Rect, need: float) -> SetCell:
        look, head = self.look, self.table.is_head(one.row)
        down = (box.height - need) * STANDS[one.cell.vertical or look.vertical]
        inner = Rect(
            box.x + look.beside, box.y + look.over + down, box.width - 2 * look.beside, box.height - 2 * look.over - down
        )  # fmt: skip
        turn = (one.row - self.table.heads) // look.every % 2
        own = look.head_fill if head else look.other if turn else look.fill
        return SetCell(box, flow, one.row, head, inner, one.cell.fill or own)

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
        return Band(height, (SetCell(box, flow, -1, True, inner, Fill()),))

    def _set(self, one: Placed) -> StoryFlow:
        width = self.edges[one.column + one.across] - self.edges[one.column] - 2 * self.look.beside
        paragraphs = self._paragraphs(one)
        if self._decimal(one):
            _, right = self._held[one.column]
            paragraphs = [self._at_sign(p, width - right) for p in paragraphs]
        return self._flow(paragraphs, width)

    def _at_sign(self, p: Paragraph, at: float) -> Paragraph:
        """A number moved so that its decimal sign stands at a place; the widest of the column ends at its right edge."""
        moved = ParaSpec(align="left", indent_left=max(at - self._parts(p)[0], 0.0))
        return replace(p, para=combined(p.para, moved) if p.para else moved)

    def _flow(self, paragraphs: list[Paragraph], width: float) -> StoryFlow:
        area = Area(0, self.table.id, "recto", False, Rect(0.0, 0.0, max(width, 1.0), ENDLESS), PLAIN_FRAME)
        return StoryFlow(paragraphs, self.cascade, self.library, Grid(), lambda: iter((area,)), 1, None, self.show)

    def height(self, band: int) -> float:
        return self.bands[band].height if band < len(self.bands) else 0.0

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
        flows = (cell.flow for band in self.bands[first:last] for cell in band.cells)
        return [ref for flow in flows for found in flow.paragraphs for _, ref in found.notes]

    def standing(self, first: int, last: int, foot: Sequence[float]) -> Iterator[tuple[float, Band, bool]]:
        """The bands of a block with the height at which each begins, those repeated above it first, those below it last; ``foot`` are
        their feet."""
        if first > 0 and self.ahead(first):
            top = foot[0] - self.height(first) - self.ahead(first)
            if self.again is not None:
                yield top, self.again, True
                top += self.again.height
            for number in range(self.heads):
                yield top, self.bands[number], True
                top += self.height(number)
        last = min(last, len(self.bands))
        for number, y in zip(range(first, last), foot, strict=False):
            yield y - self.height(number), self.bands[number], False
        if self.under(last) and foot:
            yield foot[min(last - first, len(foot)) - 1], self.bands[-1], True
