"""Tables as they are set: columns as wide as their contents ask for, rows as high, cells as small texts of their own.

A table stands alone in its paragraph. Rows that a cell binds together (it goes down over several) are one *band*; bands are to the column
what lines are: it is filled with them, breaks between them, and head rows are repeated above those that go over.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise
from weakref import WeakKeyDictionary

from lexigon.core.flow.shown import Shown, objects_of
from lexigon.core.flow.slots import Area
from lexigon.core.flow.story import StoryFlow
from lexigon.core.geometry import Rect
from lexigon.core.job.cascade import PLAIN_FRAME, Cascade
from lexigon.core.job.model import Cell, Paragraph, ParaSpec, TextTable, TypeSpec, combined
from lexigon.core.type.fonts import FontLibrary
from lexigon.core.type.grid import Grid
from lexigon.core.type.runs import runs_of

ENDLESS = 100_000.0
BESIDE, OVER = 4.0, 2.5
"""Points between words and the edges of their cell, beside and above and below (common practice, no source)."""
NARROWEST = 12.0
"""A column is at least so wide, in points, whatever it holds."""
QUIET = ParaSpec(
    align="left", indent_first=0.0, space_before=0.0, space_after=0.0, grid=False, hyphenate=True, start="anywhere"
)
"""How the text of cells is set where their paragraphs do not say otherwise: body text with nothing that belongs to running text."""
HEAD = TypeSpec(weight=700)
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


@dataclass(slots=True, frozen=True)
class Band:
    """Rows that stand together."""

    height: float
    cells: tuple[SetCell, ...]


def as_set(table: TextTable, body: str) -> TextTable:
    """A table with the paragraphs of its cells as they are set: those in the style of running text (``body``) without what belongs to that."""

    def quiet(p: Paragraph, head: bool) -> Paragraph:
        if p.style not in (body, "first"):
            return p
        return replace(p, para=combined(QUIET, p.para), type=combined(HEAD, p.type) if head else p.type)

    empty = (Paragraph("empty", body),)
    rows = tuple(
        tuple(
            replace(cell, paragraphs=tuple(quiet(p, row < table.heads) for p in cell.paragraphs or empty))
            for cell in cells
        )
        for row, cells in enumerate(table.rows)
    )
    return replace(table, rows=rows)


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
    """The rows that belong together, head rows as one band."""
    ends = list(range(1, len(table.rows) + 1))
    bound = {row for one in placed_cells(table) for row in range(one.row + 1, one.row + one.down)}
    bound |= set(range(1, min(table.heads, len(table.rows))))
    made, first = [], 0
    for end in ends:
        if end not in bound:
            made.append(range(first, end))
            first = end
    return made


_KNOWN: WeakKeyDictionary[Cascade, dict[tuple[int, float], TableBody]] = WeakKeyDictionary()
"""Tables as they were set, by the styles they were set in: one that is shown again is not set again."""
MOST_KNOWN = 400


def set_table(table: TextTable, width: float, cascade: Cascade, library: FontLibrary, show: Show) -> TableBody:
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

    def __init__(self, table: TextTable, width: float, cascade: Cascade, library: FontLibrary, show: Show) -> None:
        self.table, self.width, self.cascade, self.library, self.show = table, width, cascade, library, show
        self.cells = placed_cells(table)
        self.columns = max((one.column + one.across for one in self.cells), default=1)

    @property
    def heads(self) -> int:
        """How many bands are repeated where the table goes over: the first, if the table has head rows and others below them."""
        return int(0 < self.table.heads < len(self.table.rows) and len(self.bands) > 1)

    @cached_property
    def edges(self) -> list[float]:
        """Where columns begin, and where the last one ends, from the left edge."""
        x, made = 0.0, [0.0]
        for width in widths(self._asked(), self.width):
            x += width
            made.append(x)
        return made

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
        return [(least, max(least, most)) for least, most in asked]

    def _measures(self, one: Placed) -> tuple[float, float]:
        least = most = 0.0
        for p in self._paragraphs(one):
            text, runs = runs_of(self.cascade, self.library, self.show(p).paragraph)
            natural = word = 0.0
            for run in runs:
                if run.box is not None:
                    natural += run.box.width
                    least = max(least, run.box.width)
                    continue
                for number, token in enumerate(text[run.start : run.end].split(" ")):
                    wide = run.look.width(token) if token else 0.0
                    word = wide if number else word + wide
                    natural += wide + (run.look.space if number else 0.0)
                    least = max(least, word)
            most = max(most, natural)
        inset = 2 * BESIDE
        return least + inset, most + inset + 0.01

    def _paragraphs(self, one: Placed) -> list[Paragraph]:
        return list(one.cell.paragraphs)

    @cached_property
    def bands(self) -> list[Band]:
        rows = bands_of(self.table)
        flows = [self._set(one) for one in self.cells]
        needs = [flow.columns[0].foot(flow) + 2 * OVER for flow in flows]
        heights = [0.0] * len(self.table.rows)
        for one, need in sorted(zip(self.cells, needs, strict=True), key=lambda both: both[0].down):
            short = need - sum(heights[one.row : one.row + one.down])
            if short > 0:
                heights[one.row + one.down - 1] += short
        made = []
        for band in rows:
            cells = []
            for one, flow in zip(self.cells, flows, strict=True):
                if one.row in band:
                    top = sum(heights[band.start : one.row])
                    x, right = self.edges[one.column], self.edges[one.column + one.across]
                    box = Rect(x, top, right - x, sum(heights[one.row : one.row + one.down]))
                    cells.append(SetCell(box, flow, one.row, one.row < self.table.heads))
            made.append(Band(sum(heights[band.start : band.stop]), tuple(cells)))
        return made

    def _set(self, one: Placed) -> StoryFlow:
        width = max(self.edges[one.column + one.across] - self.edges[one.column] - 2 * BESIDE, 1.0)
        area = Area(0, self.table.id, "recto", False, Rect(0.0, 0.0, width, ENDLESS), PLAIN_FRAME)
        return StoryFlow(
            self._paragraphs(one), self.cascade, self.library, Grid(), lambda: iter((area,)), 1, None, self.show
        )

    def height(self, band: int) -> float:
        return self.bands[band].height if band < len(self.bands) else 0.0

    def ahead(self, band: int) -> float:
        """What is repeated above a band with which a column goes on."""
        return sum(self.height(number) for number in range(self.heads)) if band >= self.heads > 0 else 0.0

    def cited(self, first: int, last: int) -> list[str]:
        """The notes that bands cite."""
        flows = (cell.flow for band in self.bands[first:last] for cell in band.cells)
        return [ref for flow in flows for found in flow.paragraphs for _, ref in found.notes]

    def standing(self, first: int, last: int, foot: Sequence[float]) -> Iterator[tuple[float, Band, bool]]:
        """The bands of a block with the height at which each begins, those repeated above it first; ``foot`` are their feet."""
        if first > 0 and self.ahead(first):
            top = foot[0] - self.height(first) - self.ahead(first)
            for number in range(self.heads):
                yield top, self.bands[number], True
                top += self.height(number)
        for number, y in zip(range(first, min(last, len(self.bands))), foot, strict=False):
            yield y - self.height(number), self.bands[number], False


def widths(asked: Sequence[tuple[float, float]], room: float) -> list[float]:
    """The widths of columns in the room there is, from the narrowest and the natural width of each. Natural ones and a share of what is left
    over (CSS 2.1, 17.5.2.2); where they do not fit, narrow columns keep theirs and the wide ones are made as narrow as each other; where not
    even the narrowest fit, those in proportion."""
    least, most = sum(a for a, _ in asked), sum(b for _, b in asked)
    if most <= room:
        return [b * room / most for _, b in asked]
    if least >= room:
        return [a * room / least for a, _ in asked]
    bounds = sorted({bound for pair in asked for bound in pair})
    level = bounds[-1]
    for low, high in pairwise(bounds):  # between two bounds the sum grows evenly
        if sum(min(max(high, a), b) for a, b in asked) >= room:
            fixed = [min(max(low, a), b) for a, b in asked if b <= low or a >= high]
            level = (room - sum(fixed)) / (len(asked) - len(fixed))
            break
    return [min(max(level, a), b) for a, b in asked]
