"""Tables as they are set: columns as wide as their contents require, rows as high, cells as small stories of their own.

A table is alone in its paragraph. Rows that a cell joins (it spans several) form one *band*. A column is filled with
bands as it is with lines: it breaks between them, and header rows are repeated above those in the next column.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from functools import cached_property
from weakref import WeakKeyDictionary

from lexigon.core.document.cascade import Cascade
from lexigon.core.document.model import Fill, Paragraph, TypeSpec
from lexigon.core.flow.cell_measures import ENDLESS, MOST_CELLS, CellWords, Show
from lexigon.core.flow.model import BEGIN, Block
from lexigon.core.flow.resolved_text import LaidTable, objects_of
from lexigon.core.flow.table_cells import Band, Bands, Cut, Part, SetCell, column_of, lines_in
from lexigon.core.geometry import Rect
from lexigon.core.tables.cell_settings import QUIET
from lexigon.core.type.fonts import FontLibrary

CONTINUED = TypeSpec(italic=True)
"""The words that say that a table continues (common practice, no source)."""

LEAST_LINES = 2
"""Of a cell on either side of the place where its row is divided (common practice, no source)."""
MOST_PARTS = 500
"""Parts of a table's rows that are remembered as they were set."""


_CACHE: WeakKeyDictionary[Cascade, dict[tuple[int, float], TableBody]] = WeakKeyDictionary()
"""Tables as they were set, by the styles they were set in: one that is shown again is not set again."""
MOST_KNOWN = 400
"""The number of cached tables, with no more than ``MOST_CELLS`` cells in all; every change of a table leaves one
behind."""


def set_table(table: LaidTable, width: float, cascade: Cascade, library: FontLibrary, show: Show) -> TableBody:
    """A table set at a width; ``show`` writes out the objects in its cells. A table with objects that may change is set
    again."""
    cache = _CACHE.setdefault(cascade, {})
    body = cache.get((id(table), width))
    if body is not None and body.table is table and body.library is library:
        return body
    body = TableBody(table, width, cascade, library, show)
    if not objects_of(table):
        cells = sum(len(one.words.cells) for one in cache.values())
        if len(cache) >= MOST_KNOWN or cells > MOST_CELLS:
            cache.clear()
        cache[id(table), width] = body
    return body


class TableBody:
    """A table set at a width."""

    def __init__(self, table: LaidTable, width: float, cascade: Cascade, library: FontLibrary, show: Show) -> None:
        self.table, self.look, self.library = table, table.look, library
        self.words = CellWords(table, width, cascade, library, show)
        self.bands = Bands(self.words)
        """The rows that belong together, one below the other."""
        self._placed: dict[tuple[int, Cut, float], Part] = {}

    @property
    def heads(self) -> int:
        """Return how many bands are repeated where the table goes over: the first, if the table has head rows and
        others below them."""
        return int(0 < self.table.heads < len(self.table.rows) and len(self.bands) > 1)

    @property
    def feet(self) -> int:
        """The same at the end: the last band, if it is one of foot rows."""
        return int(self.table.feet > 0 and len(self.bands) > self.heads + 1)

    @property
    def width(self) -> float:
        return self.words.edges[-1]

    def divides(self, number: int) -> bool:
        """Return whether a row may be divided: not one that is joined to others, repeated, partly rotated, or cites
        notes."""
        cells = self.bands[number].cells
        return self.table.divide and not any(
            cell.head
            or cell.turn
            or cell.span[2] > 1
            or cell.row != cells[0].row
            or any(p.notes for p in cell.flow.paragraphs)
            for cell in cells
        )

    def part(self, number: int, begun: Cut = (), room: float = 0.0) -> Part:
        """A row from a place in each of its cells on, as much of it as has room; without a room all that is left of
        it."""
        cached = self._placed.get((number, begun, room))
        if cached is None:
            if len(self._placed) >= MOST_PARTS:
                self._placed.clear()
            cached = self._placed[number, begun, room] = self._cut_off(number, begun, room)
        return cached

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
        """See ``Flowing.divided``: two lines of each cell that continues are on both sides (common practice, no
        source), where there is any other place to divide it."""
        if room <= 2 * self.look.over or number >= len(self.bands) or not self.divides(number):
            return None
        part = self.part(number, begun, room)
        if not part.left:
            return None
        rest = self.part(number, part.left)
        height = 0
        for cell, behind in zip(part.band.cells, rest.band.cells, strict=True):
            here, there = lines_in(cell.column), lines_in(behind.column)
            height += here
            if not forced and there and min(here, there) < LEAST_LINES:
                return None
        return (part.band.height, part.left) if height else None

    @cached_property
    def again(self) -> Band | None:
        """Return the line above the head rows where the table continues."""
        if not self.table.continued:
            return None
        words = Paragraph("continued", self.table.body, self.table.continued, para=QUIET, type=CONTINUED)
        flow = self.words.set_words([words], self.width - 2 * self.look.beside)
        height = flow.columns[0].foot(flow) + 2 * self.look.over
        box = Rect(0.0, 0.0, self.width, height)
        inner = Rect(self.look.beside, self.look.over, self.width - 2 * self.look.beside, height - 2 * self.look.over)
        return Band(height, (SetCell(box, lambda: flow, -1, -1, True, inner, Fill()),))

    def height(self, band: int) -> float:
        return self.bands.height(band) if band < len(self.bands) else 0.0

    def ahead(self, band: int) -> float:
        """Return what is repeated above a band with which a column continues."""
        if band < max(self.heads, 1):
            return 0.0
        return sum(self.height(number) for number in range(self.heads)) + (self.again.height if self.again else 0.0)

    def under(self, band: int) -> float:
        """Return what follows the rows of a column that ends before a band: the foot rows, repeated or their own."""
        return self.height(len(self.bands) - 1) if self.feet and self.heads < band < len(self.bands) else 0.0

    def cited(self, first: int, last: int) -> list[str]:
        """The notes that bands cite."""
        if not self.words.alive:
            return []
        flows = (cell.flow for number in range(first, last) for cell in self.bands[number].cells)
        return [ref for flow in flows for set_paragraph in flow.paragraphs for _, ref in set_paragraph.notes]

    def bands_in(self, block: Block) -> list[Band]:
        """The bands of a block, the first and the last of them perhaps in part."""
        first, last = block.base + block.first_line, min(block.base + block.last_line, len(self.bands))
        bands = [self.bands[number] for number in range(first, last)]
        if block.begun:
            bands[0] = self.part(first, block.begun, block.part if len(bands) == 1 else 0.0).band
        if block.part and (len(bands) > 1 or not block.begun):
            bands[-1] = self.part(last - 1, (), block.part).band
        return bands

    def standing(self, block: Block) -> Iterator[tuple[float, Band, bool]]:
        """The bands of a block with the height at which each begins, those repeated above it first, those below it
        last."""
        first, last, foot = block.base + block.first_line, block.base + block.last_line, block.lines
        own = self.bands_in(block)
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
