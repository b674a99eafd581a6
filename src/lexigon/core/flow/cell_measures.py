"""The words of a table's cells: how wide they ask to be, the columns that follow from that, and each of them set.

Of a long table only the rows that are looked at are set: where all paragraphs of a cell are one line, how high it has
to be is known from any other that is set so."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import cached_property
from typing import Any, NamedTuple, TypeVar
from weakref import WeakKeyDictionary

from lexigon.core.collation import decimal_sign
from lexigon.core.document.cascade import PLAIN_FRAME, Cascade, Setting, TypeSetting
from lexigon.core.document.model import Cell, Paragraph, ParaSpec, combined
from lexigon.core.document.story_text import LINE_BREAK
from lexigon.core.flow.areas import Area
from lexigon.core.flow.resolved_text import LaidTable, ResolvedText
from lexigon.core.flow.story_flow import StoryFlow
from lexigon.core.flow.table_columns import before_sign, solved
from lexigon.core.geometry import Rect
from lexigon.core.tables.grid import PlacedCell, placed_cells
from lexigon.core.type.fonts import FontLibrary
from lexigon.core.type.grid import Grid
from lexigon.core.type.runs import runs_of
from lexigon.core.type.tabs import width_between
from lexigon.core.type.words import measured, word_table

ENDLESS = 100_000.0
NARROWEST = 12.0
"""A column is at least so wide, in points, whatever it holds."""
Show = Callable[[Paragraph], ResolvedText]
T = TypeVar("T")


def changing(paragraphs: Sequence[Paragraph]) -> bool:
    """Return whether the text contains fields, whose text may change."""
    return any(span.object is not None for p in paragraphs for span in p.spans)


def on_end(cell: Cell) -> bool:
    """Return whether the lines of a cell run along its height."""
    return cell.turn in (90, 270)


Lines = tuple[tuple[Setting, TypeSetting], ...]


class Measures(NamedTuple):
    """The width of a cell."""

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


def _at_sign(p: Paragraph, indent: float) -> Paragraph:
    """Shift a number so that its decimal separator is at a given position; the widest of the column ends at its right
    edge."""
    moved = ParaSpec(align="left", indent_left=max(indent, 0.0))
    return replace(p, para=combined(p.para, moved) if p.para else moved)


_CELLS: WeakKeyDictionary[Cascade, dict[tuple[object, ...], tuple[object, Any]]] = WeakKeyDictionary()
"""Results of setting and measuring cells, by the identity of their paragraphs, which are stored with them."""
MOST_CELLS = 120_000
"""Two for each cell of the largest tables."""


def deep(flow: StoryFlow) -> float:
    """Return how far down the words of a cell reach."""
    return flow.columns[0].foot(flow)


class CellWords:
    """The words of a table's cells at a width."""

    def __init__(self, table: LaidTable, width: float, cascade: Cascade, library: FontLibrary, show: Show) -> None:
        self.table, self.room, self.cascade, self.library, self.show = table, width, cascade, library, show
        self.look = table.look
        self.cells = placed_cells(table)
        self.columns = max((one.column + one.across for one in self.cells), default=1)
        self._depths: dict[tuple[tuple[int, int], ...], tuple[Lines, float]] = {}
        """How far down paragraphs of one line reach, by how they are set."""

    @cached_property
    def alive(self) -> bool:
        """Return whether any of them contains fields, whose text may change."""
        return any(changing(one.cell.paragraphs) for one in self.cells)

    @cached_property
    def edges(self) -> list[float]:
        """Return where columns begin, and where the last one ends, from the left edge."""
        x, positions = 0.0, [0.0]
        for width in solved(self.table.sizes, self._column_widths(), self.room, self.firm):
            x += width
            positions.append(x)
        return positions

    @cached_property
    def _decimal_widths(self) -> dict[int, tuple[float, float]]:
        """Return, for columns with decimal fractions, the largest width before the decimal separator, and after it."""
        widths_by_column: dict[int, tuple[float, float]] = {}
        for one in self.cells:
            if self._decimal(one):
                for before, behind in self._parts_of(one):
                    left, right = widths_by_column.get(one.column, (0.0, 0.0))
                    widths_by_column[one.column] = max(left, before), max(right, behind)
        return widths_by_column

    def _decimal(self, one: PlacedCell) -> bool:
        sizes = self.table.sizes
        return (
            one.across == 1
            and not one.cell.turn
            and one.column < len(sizes)
            and sizes[one.column].align == "decimal"
            and not self.table.is_head(one.row)
        )

    def _parts_of(self, one: PlacedCell) -> list[tuple[float, float]]:
        paragraphs = one.cell.paragraphs
        return self._once(paragraphs, ("parts",), lambda: [self._parts(p) for p in paragraphs])

    def _parts(self, p: Paragraph) -> tuple[float, float]:
        """Return the width of a number up to its decimal separator, and from there on."""
        text, runs = runs_of(self.cascade, self.library, self.show(p).paragraph)
        sign = decimal_sign(self.cascade.type_of(p).language or "en")
        at = before_sign(text, sign)
        return width_between(text, runs, 0, at), width_between(text, runs, at, len(text))

    def _column_widths(self) -> list[tuple[float, float]]:
        """The narrowest and the natural width of each column: its longest word, its longest line."""
        return self._over_columns(lambda one: self.measures(one).least)

    def firm(self) -> list[float]:
        """The width that each column needs for what may not be divided: figures, dates, short words, the pieces of
        hyphenated words."""
        return [least for least, _ in self._over_columns(self._firm)]

    @cached_property
    def excess(self) -> float:
        """Return how many points the widest figure, date or word is wider than its cell; 0 where all of them fit."""
        most = 0.0
        for one in self.cells:
            width = self.edges[one.column + one.across] - self.edges[one.column]
            if not on_end(one.cell) and self.measures(one).least > width:
                most = max(most, self._firm(one) - width)
        return most

    def _over_columns(self, narrowest: Callable[[PlacedCell], float]) -> list[tuple[float, float]]:
        """The narrowest and the natural width of each column; what a cell over several columns asks for is divided
        among them."""
        widths = [(NARROWEST, NARROWEST)] * self.columns
        for one in sorted(self.cells, key=lambda one: one.across):
            if on_end(one.cell):
                least = most = deep(self.flow(one)) + 2 * self.look.beside
            else:
                least, most = narrowest(one), self.measures(one).most
            span = range(one.column, one.column + one.across)
            for which, measure in enumerate((least, most)):
                short = measure - sum(widths[c][which] for c in span)
                if short > 0:
                    weights = [widths[c][1] for c in span]
                    for c, weight in zip(span, weights, strict=True):
                        more = short * weight / sum(weights)
                        widths[c] = (
                            (widths[c][0] + more, widths[c][1]) if which == 0 else (widths[c][0], widths[c][1] + more)
                        )
        for column, (left, right) in self._decimal_widths.items():
            wide = left + right + 2 * self.look.beside + 0.01
            widths[column] = max(widths[column][0], wide), max(widths[column][1], wide)
        return [(least, max(least, most)) for least, most in widths]

    def _firm(self, one: PlacedCell) -> float:
        return self._once(one.cell.paragraphs, ("firm", self.look.beside), lambda: self._measured_firm(one))

    def _measured_firm(self, one: PlacedCell) -> float:
        """The widest piece of a cell's words between two places where a line may end, with its insets."""
        widest = 0.0
        for p in one.cell.paragraphs:
            text, runs = runs_of(self.cascade, self.library, self.show(p).paragraph)
            if any(run.box is not None or run.look.spec.no_break for run in runs):
                return self.measures(one).least
            setting = self.cascade.setting(p)
            indents = setting.indent_left + setting.indent_right + max(setting.indent_first, 0.0)
            piece = 0.0
            for run in runs:
                table = word_table(run.look, setting)
                for number, token in enumerate(text[run.start : run.end].split(" ")):
                    if number:
                        piece = 0.0
                    if not token:
                        continue
                    cached = table.get(token)
                    if cached is None:
                        cached = table[token] = measured(token, run.look, setting)
                    total, _, inner = cached
                    for _, reach, rest, *_ in inner:
                        widest = max(widest, piece + reach + indents)
                        piece = rest - total
                    piece += total
                    widest = max(widest, piece + indents)
        return widest + 2 * self.look.beside

    def _once(self, paragraphs: Sequence[Paragraph], which: tuple[object, ...], make: Callable[[], T]) -> T:
        """Return the composed paragraphs of a cell, from the cache unless they contain fields."""
        if changing(paragraphs):
            return make()
        cache = _CELLS.setdefault(self.cascade, {})
        key = (id(paragraphs), id(self.library), *which)
        cached = cache.get(key)
        if cached is not None and cached[0] is paragraphs:
            result: T = cached[1]
            return result
        if len(cache) >= MOST_CELLS:
            cache.clear()
        result = make()
        cache[key] = paragraphs, result
        return result

    def measures(self, one: PlacedCell) -> Measures:
        return self._once(one.cell.paragraphs, ("measures", self.look.beside), lambda: self._measured(one))

    def _measured(self, one: PlacedCell) -> Measures:
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
                whole = run.look.spec.no_break
                plain = plain and (len(tokens) == 1 or not run.look.cut.space_kerns)
                for number, token in enumerate(tokens):
                    wide = run.look.width(token) if token else 0.0
                    word = word + run.look.space + wide if whole and number else wide if number else word + wide
                    natural += wide + (run.look.space if number else 0.0)
                    longest = max(longest, word)
            setting = self.cascade.setting(p)
            indents = setting.indent_left + setting.indent_right + max(setting.indent_first, 0.0)
            most, least = max(most, natural + indents), max(least, longest + indents)
            loose = loose and (setting.align != "justified" or setting.last_line != "full")
            if lines is not None:
                one_line = plain and loose and setting.drop_lines <= 1 and setting.looseness <= 0 and set_as is p
                lines = (*lines, (setting, self.cascade.type_of(p))) if one_line else None
        inset = 2 * self.look.beside
        return Measures(least + inset, most + inset + 0.01, loose, lines)

    def depth(self, one: PlacedCell) -> float:
        """Return how far down the words of a cell reach: where each paragraph is a line, as far as in any other cell
        that is set so."""
        width = self.edges[one.column + one.across] - self.edges[one.column] - 2 * self.look.beside
        measures = self.measures(one)
        if not measures.lines or self._decimal(one) or measures.most - 2 * self.look.beside > width:
            return deep(self.flow(one))
        key = tuple((id(setting), id(type_)) for setting, type_ in measures.lines)
        cached = self._depths.get(key)
        if cached is None:
            cached = self._depths[key] = measures.lines, deep(self.flow(one))
        return cached[1]

    def length(self, one: PlacedCell) -> float:
        """Return the measure of rotated text: the height of its cell, but at least its longest word; without a height
        the text's own length."""
        least, most = self.measures(one)[:2]
        inset = 2 * self.look.beside
        return max(one.cell.height - 2 * self.look.over, least - inset) if one.cell.height else most - inset

    def flow(self, one: PlacedCell) -> StoryFlow:
        if on_end(one.cell):
            length, words = self.length(one), one.cell.paragraphs
            return self._once(words, ("flow", length), lambda: self.set_words(list(words), length))
        width = self.edges[one.column + one.across] - self.edges[one.column] - 2 * self.look.beside
        paragraphs = one.cell.paragraphs
        if not self._decimal(one):
            measures = self.measures(one)
            fits = measures.loose and measures.most - 2 * self.look.beside <= width
            # Lines that are not filled are the same at any width they fit.
            return self._once(
                paragraphs, ("flow", 0.0 if fits else width), lambda: self.set_words(list(paragraphs), width)
            )
        at = width - self._decimal_widths[one.column][1]
        parts = self._parts_of(one)

        def moved() -> StoryFlow:
            # In a column that is too narrow for all of them, each is at least inside its cell.
            shifted = [
                _at_sign(p, min(at - left, width - left - right))
                for p, (left, right) in zip(paragraphs, parts, strict=True)
            ]
            return self.set_words(shifted, width)

        return self._once(paragraphs, ("flow", width, at), moved)

    def set_words(self, paragraphs: list[Paragraph], width: float) -> StoryFlow:
        area = Area(0, self.table.id, "recto", False, Rect(0.0, 0.0, max(width, 1.0), ENDLESS), PLAIN_FRAME)
        return StoryFlow(
            paragraphs, self.cascade, self.library, Grid(), lambda: iter((area,)), 1, None, self.show, alone=True
        )
