"""One story, set and flowed: its paragraphs' lines, and which column holds which of them.

``change`` recomposes only the paragraphs that changed and refills from one area before the first of
them until the flow meets its old state; the result equals composing everything anew (a property test
holds it to that).
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections import deque
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import replace
from typing import TYPE_CHECKING

from lexigon.core.document.cascade import Cascade, Setting
from lexigon.core.document.model import Paragraph
from lexigon.core.flow.areas import Area
from lexigon.core.flow.column import fill_column
from lexigon.core.flow.even_feet import evened, faces, looked_back, runs_on, uneven
from lexigon.core.flow.last_page import MOST_PAGES, ends_chapter, is_short, lengthen
from lexigon.core.flow.model import BEGIN, Burden, Column, State
from lexigon.core.flow.note_layout import NoteBody, NoteRest
from lexigon.core.flow.paragraphs import SetParagraph
from lexigon.core.flow.resolved_text import ResolvedText
from lexigon.core.flow.text_area import AreaLayout, fill_area
from lexigon.core.type.fonts import FontLibrary
from lexigon.core.type.grid import Grid
from lexigon.core.type.paragraph import Measure
from lexigon.core.type.runs import runs_of
from lexigon.core.type.set_line import SetLine

if TYPE_CHECKING:
    from lexigon.core.flow.tables import TableBody


OPENING_ROUNDS = 6
"""Times that the first lines are set again until they hold the same words."""

Noted = Callable[[str, float, NoteRest | None], NoteBody | None]
"""Finds a note by its name, set at a width, from its beginning or from a place on."""

Progress = Callable[[float], None]
"""Hears how far something is, from 0 to 1."""


class StoryFlow:
    """The paragraphs of a story and the areas they flow through.

    ``areas_of()`` gives the areas in order. Those on pages from ``pages`` on do not exist yet: they are filled only
    while there is text, and dropped when two new pages in a row take none of it.
    """

    def __init__(
        self,
        paragraphs: list[Paragraph],
        cascade: Cascade,
        library: FontLibrary,
        grid: Grid,
        areas: Callable[[], Iterator[Area]],
        pages: int,
        reusable: dict[int, SetParagraph] | None = None,
        show: Callable[[Paragraph], ResolvedText] = ResolvedText,
        on_progress: Progress | None = None,
        noted: Noted = lambda ref, width, owed: None,
        begin: State = BEGIN,
        alone: bool = False,
    ) -> None:
        """``reusable`` contains paragraphs set before in the same cascade, by the identity of their model; ``show``
        writes out a paragraph's fields; ``on_progress`` receives the composed fraction of the story after each area;
        ``noted`` sets the notes that are cited; ``begin`` is the top of its first area. A story set ``alone`` has a
        single area, of one column, with room for all of it: a note, a cell of a table."""
        self.cascade, self.library, self.grid = cascade, library, grid
        self.areas, self.pages, self.show, self._noted, self.begin = areas, pages, show, noted, begin
        cache = reusable or {}
        self.paragraphs = [cache.get(id(p)) or self._set(p) for p in paragraphs]
        for set_paragraph in self.paragraphs:
            set_paragraph.loose = 0  # of those that are known from before
        self.filled: list[AreaLayout] = []
        self.end: State = begin
        self._evens: bool | None = None
        self._closes: bool | None = None
        self._figures: bool | None = None
        self._spans: list[int] | None = None
        self._splits: list[int] | None = None
        self._columns: list[Column] | None = None
        self.on_progress = on_progress
        if alone and all(set_paragraph.setting.split <= 1 for set_paragraph in self.paragraphs):
            (area,) = areas()
            (slot,) = area.columns()
            column = fill_column(self, slot, begin, grid)
            self.filled = [AreaLayout(area.page, begin, column.end, [column])]
            self.end = column.end
        else:
            self.refill()
        self.on_progress = None

    def repaint(self, cascade: Cascade) -> None:
        """The styles changed in appearance only: what is set stays where it is."""
        self.cascade = cascade
        for set_paragraph in self.paragraphs:
            set_paragraph.looked_up(cascade, self.library)

    def _set(self, paragraph: Paragraph) -> SetParagraph:
        return SetParagraph(paragraph, self.cascade, self.library, self.show(paragraph))

    @property
    def columns(self) -> list[Column]:
        if self._columns is None:
            self._columns = [column for filled in self.filled for column in filled.columns]
        return self._columns

    # What filling asks of a story.
    def __len__(self) -> int:
        return len(self.paragraphs)

    def setting(self, index: int) -> Setting:
        return self.paragraphs[index].setting

    def extent(self, index: int) -> tuple[float, float]:
        set_paragraph = self.paragraphs[index]
        return set_paragraph.ascent, set_paragraph.descent

    def height(self, index: int, of: str) -> float:
        set_paragraph = self.paragraphs[index]
        return {"capital": set_paragraph.cap_height, "x-height": set_paragraph.x_height}.get(of, set_paragraph.ascent)

    def line_count(self, index: int, measure: Measure, base: int) -> int:
        set_paragraph = self.paragraphs[index]
        count = len(self.lines(index, measure, base))
        if set_paragraph.initial is not None and base == 0:
            return max(count, set_paragraph.setting.drop_lines)  # the initial keeps its height beside fewer lines
        return count

    def line_start(self, index: int, measure: Measure, base: int, line: int) -> int:
        lines = self.lines(index, measure, base)
        return lines[line].start if line < len(lines) else lines[-1].next

    def divides(self, index: int, measure: Measure, base: int, line: int) -> bool:
        lines = self.lines(index, measure, base)
        return line < len(lines) and lines[line].hyphen

    def special(self, index: int) -> bool:
        set_paragraph = self.paragraphs[index]
        return bool(set_paragraph.notes or set_paragraph.boxes or set_paragraph.afloat or set_paragraph.shown.table)

    def burdens(self, index: int, measure: Measure, base: int) -> Mapping[int, Burden]:
        set_paragraph = self.paragraphs[index]
        key = measure, base, set_paragraph.loose
        cached = set_paragraph.laden.get(key)
        if cached is None:
            body = self.table(index, measure)
            cached = (
                _carried(set_paragraph, self.lines(index, measure, base), base) if body is None else _rows(body, base)
            )
            set_paragraph.laden[key] = cached
        return cached

    def table(self, index: int, measure: Measure) -> TableBody | None:
        """The table that a paragraph shows, set at a measure; None if it shows words."""
        from lexigon.core.flow.tables import set_table  # the cells of a table are stories themselves

        set_paragraph = self.paragraphs[index]
        if set_paragraph.shown.table is None:
            return None
        width = measure if isinstance(measure, float) else measure[-1][1]
        width -= set_paragraph.setting.indent_left + set_paragraph.setting.indent_right
        body = set_paragraph.tables.get(width)
        if body is None:
            body = set_paragraph.tables[width] = set_table(
                set_paragraph.shown.table, width, self.cascade, self.library, self.show
            )
        return body

    def ahead(self, index: int, measure: Measure, base: int, line: int) -> float:
        body = self.table(index, measure)
        return body.ahead(base + line) if body is not None else 0.0

    def under(self, index: int, measure: Measure, base: int, line: int) -> float:
        if self.paragraphs[index].shown.table is None:
            return 0.0
        body = self.table(index, measure)
        return body.under(base + line) if body is not None else 0.0

    def over(self, index: int) -> float:
        under = self.paragraphs[index].shown.under
        return self.cascade.setting(Paragraph("", under.style)).leading if under is not None else 0.0

    def rest(self, index: int, measure: Measure, line: int, cut: tuple[State, ...]) -> float:
        body = self.table(index, measure)
        return body.part(line, cut).band.height if body is not None else 0.0

    def divided(
        self, index: int, measure: Measure, line: int, cut: tuple[State, ...], room: float, forced: bool
    ) -> tuple[float, tuple[State, ...]] | None:
        body = self.table(index, measure)
        return body.divided(line, cut, room, forced) if body is not None and body.table.divide else None

    def unbroken(self, index: int) -> bool:
        return self.paragraphs[index].shown.table is not None

    def note(self, ref: str, width: float, owed: NoteRest | None = None) -> NoteBody | None:
        return self._noted(ref, width, owed)

    @property
    def has_figures(self) -> bool:
        if self._figures is None:
            self._figures = any(set_paragraph.setting.floats for set_paragraph in self.paragraphs)
        return self._figures

    def next_span(self, index: int) -> int | None:
        if self._spans is None:
            self._spans = [i for i, p in enumerate(self.paragraphs) if p.setting.span]
        return _next(self._spans, index)

    def next_split(self, index: int) -> int | None:
        if self._splits is None:
            self._splits = [i for i, p in enumerate(self.paragraphs) if p.setting.split > 1]
        return _next(self._splits, index)

    def lines(self, index: int, measure: Measure, base: int = 0) -> list[SetLine]:
        """The lines of a paragraph at a measure, from a text offset on; set once, then cached."""
        set_paragraph = self.paragraphs[index]
        cache = (
            set_paragraph.lines if not set_paragraph.loose else set_paragraph.varied.setdefault(set_paragraph.loose, {})
        )
        lines = cache.get((measure, base))
        if lines is None and set_paragraph.shown.table is not None:
            count, wide = (
                len(set_paragraph.shown.paragraph.text),
                measure if isinstance(measure, float) else measure[-1][1],
            )
            lines = [SetLine(at, at + 1, at + 1, wide, 0.0, False, False, 0.0) for at in range(base, count)]
            cache[measure, base] = lines
        if lines is None:
            text, runs = runs_of(self.cascade, self.library, set_paragraph.shown.paragraph)
            lines = set_paragraph.broken(text, runs, set_paragraph.setting, measure, base)
            if set_paragraph.shown.opening and base == 0:
                lines = self._opened(set_paragraph, measure, lines)
            cache[measure, base] = lines
        return lines

    def _opened(self, set_paragraph: SetParagraph, measure: Measure, lines: list[SetLine]) -> list[SetLine]:
        """Set the lines with the first of them formatted by rules. The formatting may make it wider, so that fewer
        words fit: it is set again until the same words fit; where that does not settle, the whole words that fitted
        both times are used."""
        ends = [lines[min(one.lines, len(lines)) - 1].end for one in set_paragraph.shown.opening]
        for round_ in range(OPENING_ROUNDS):
            paragraph = set_paragraph.shown.paragraph
            for one, end in zip(set_paragraph.shown.opening, ends, strict=True):
                paragraph = one.over(paragraph, end)
            set_paragraph.opened[measure] = paragraph
            text, runs = runs_of(self.cascade, self.library, paragraph)
            lines = set_paragraph.broken(text, runs, set_paragraph.setting, measure)
            now = [lines[min(one.lines, len(lines)) - 1].end for one in set_paragraph.shown.opening]
            if now == ends:
                break
            both = (min(a, b) for a, b in zip(ends, now, strict=True))
            ends = [text.rfind(" ", 0, end + 1) if 0 < end < len(text) else end for end in both] if round_ > 1 else now
        return lines

    def set_as(self, index: int, measure: Measure, base: int = 0) -> Paragraph:
        """Return what a paragraph is set as at a measure."""
        set_paragraph = self.paragraphs[index]
        if set_paragraph.shown.opening and base == 0:
            self.lines(index, measure)
            return set_paragraph.opened.get(measure, set_paragraph.shown.paragraph)
        return set_paragraph.shown.paragraph

    @property
    def overset(self) -> bool:
        """Whether text is left after the last column, or of a note. A story without any column is not placed, which
        does not count as overset."""
        return bool(self.filled) and (self.end.paragraph < len(self.paragraphs) or bool(self.end.left))

    def refill(self, keep: int = 0, until: Callable[[int, State], bool] | None = None) -> None:
        """Fill areas from number ``keep`` on. ``until`` may stop at an area whose state is as before."""
        if self._evens is None:
            self._evens = any(set_paragraph.setting.even_feet for set_paragraph in self.paragraphs)
        if self._closes is None:
            self._closes = any(set_paragraph.setting.closing_lines > 1 for set_paragraph in self.paragraphs)
        evens, closes = self._evens, self._closes
        keep = self._beginning(keep)
        loosened = self.filled[keep:]
        _loosen(loosened, on=False)
        state = self.filled[keep - 1].end if keep else self.begin
        filled = self.filled[:keep]
        count = len(self.paragraphs)
        fresh = (one for one in filled if one.page >= self.pages)
        fruitful = max([self.pages, *(one.page + 1 for one in fresh if any(c.used for c in one.columns))])
        same = 0  # areas in a row that begin as before
        before: Area | None = None
        last: deque[Area] = deque(maxlen=4)
        for number, area in enumerate(self.areas()):
            last.append(area)
            if number < keep:
                continue
            within = evens and before is not None and _one_spread(before, area)
            meets = until is not None and number < len(self.filled) and until(number, state)
            same = same + 1 if meets else 0
            if meets and not within and (same > MOST_PAGES or not (closes and self._closing_at(number))):
                filled += self.filled[number:]
                _loosen(self.filled[number:], on=True)
                state = filled[-1].end
                break
            if state[0] >= count and not state.left:
                if area.page >= self.pages:
                    break
                empty = [Column(slot, [], state, state) for slot in area.columns()]
                filled.append(AreaLayout(area.page, state, state, empty))
                before = area
                continue
            if area.page >= fruitful + 2:
                filled = [one for one in filled if one.page < fruitful]
                break
            one = fill_area(self, area, state, self.grid)
            if within and before is not None and uneven(self, filled[-1], one):
                set_paragraph = evened(self, (before, area), filled[-1], one)
                if set_paragraph is not None:
                    filled[-1], one, one.loose = set_paragraph[0], set_paragraph[1], set_paragraph[2]
                elif len(filled) >= 3 and faces(filled[-3], filled[-2]) and runs_on(self, filled[-3], filled[-2]):
                    back = looked_back(self, last, (filled[-3], filled[-2]))
                    if back is not None:
                        filled[-3:], one = back[:3], back[3]
            if closes and filled and is_short(self, filled[-1], one):
                longer = lengthen(self, list(last), filled, one)
                if longer is not None:
                    filled[-len(longer[0]) :], one = longer
            before = area
            if self.on_progress is not None:
                self.on_progress(one.end[0] / count)
            if any(column.used for column in one.columns):
                fruitful = max(fruitful, area.page + 1)
            filled.append(one)
            state = one.end
        self.filled = filled
        self._columns = None
        self.end = state

    def _beginning(self, keep: int) -> int:
        """The area from which to fill again so that pages whose setting depends on later ones are decided anew:
        ``keep``, or an earlier one."""
        count = len(self.filled)
        if self._closes and keep == count:
            keep = max(keep - 2, 0)  # they may be shorter because of a last page that is gone
        while True:
            start = keep
            if self._closes and start < count:
                start -= self.filled[start].shortened  # these pages are shorter because of this last page
            if self._evens and 0 < start < count and faces(self.filled[start - 1], self.filled[start]):
                start -= 1  # a spread is filled as one
            if self._evens and start >= 2 and self.filled[min(start, count) - 1].ahead:
                start = min(start, count) - 2  # and that before it, where it is as it is for this one's sake
            if start == keep:
                return keep
            keep = start

    def _closing_at(self, number: int) -> bool:
        """Return whether this area or the next is the last of a chapter, on which the setting of the areas before it
        may depend."""
        return any(ends_chapter(self, one) for one in self.filled[number : number + 2])

    def refilled(self, page: int) -> None:
        """Handle areas of a page that have changed, their number being the same: fill them, and continue until the
        state is as before."""
        numbers = [number for number, one in enumerate(self.filled) if one.page == page]
        if numbers:
            behind = numbers[-1]
            self.refill(numbers[0], lambda number, state: number > behind and self.filled[number].begin == state)

    def only_on(self, pages: set[int], cascade: Cascade) -> StoryFlow:
        """The story set anew in other styles on a few pages alone, beginning there with the text that began there."""
        other = StoryFlow(
            [], cascade, self.library, self.grid, lambda: iter(()), self.pages, None, self.show, noted=self._noted
        )
        other.areas = self.areas
        other._spans = other._splits = None
        other._figures = None
        other.paragraphs = [other._set(set_paragraph.paragraph) for set_paragraph in self.paragraphs]
        state: State | None = None
        places = {number: one for number, one in enumerate(self.filled) if one.page in pages}
        for number, area in enumerate(self.areas()):
            if places and number > max(places):
                break
            if number not in places:
                continue
            if state is None:
                index, base, line, measure, owed, afloat, cut, floating = places[number].begin
                if line:
                    base = self.line_start(index, measure, base, line)
                state = State(index, base, owed=owed, afloat=afloat, cut=cut, floating=floating)
            other.filled.append(fill_area(other, area, state, self.grid))
            state = other.filled[-1].end
        other._columns = None
        other.end = state or BEGIN
        return other

    def trimmed(self, pages: int) -> None:
        """The job has ``pages`` pages now: areas beyond them go, and those left empty on them come."""
        self.pages = pages
        self.filled = [one for one in self.filled if one.page < pages]
        self.refill(len(self.filled))

    def change(self, at: int, removed: int, insert: tuple[Paragraph, ...]) -> None:
        """The story's paragraphs ``at``..``at + removed`` became ``insert``: recompose what that touches."""
        new = [self._set(p) for p in insert]
        self.paragraphs[at : at + removed] = new
        self._spans = self._splits = None
        if any(set_paragraph.setting.even_feet for set_paragraph in new):
            self._evens = True
        if any(set_paragraph.setting.closing_lines > 1 for set_paragraph in new):
            self._closes = True
        if any(set_paragraph.setting.floats for set_paragraph in new):
            self._figures = True
        delta = len(new) - removed
        # From the area that ends at the change or after it; a chain of paragraphs kept with the changed
        # one may have been carried over because of it, so from the chain's beginning.
        first = at
        while first and (
            self.paragraphs[first - 1].setting.keep_next
            or (first < len(self.paragraphs) and self.paragraphs[first].setting.keep_previous)
        ):
            first -= 1
        keep = bisect_left([filled.end[:3] for filled in self.filled], (first, 0, 0))
        if delta:
            behind = at + removed
            for filled in self.filled[keep:]:
                filled.begin = _moved(filled.begin, at, behind, delta)
                filled.end = _moved(filled.end, at, behind, delta)
                for column in filled.columns:
                    column.begin = _moved(column.begin, at, behind, delta)
                    column.end = _moved(column.end, at, behind, delta)
                    column.blocks = [
                        replace(block, paragraph=block.paragraph + delta) if block.paragraph >= behind else block
                        for block in column.blocks
                    ]
        settled = at + len(new)

        def meets(number: int, state: State) -> bool:
            # What is left of a note may be other words, though it begins at the same place.
            return number > keep and state[0] >= settled and not state.left and self.filled[number].begin == state

        self.refill(keep, meets)


def _carried(set_paragraph: SetParagraph, lines: list[SetLine], base: int) -> dict[int, Burden]:
    """Return what lines of words carry that are set from an offset on."""
    burdens: dict[int, Burden] = {}
    starts = [line.start for line in lines]
    if base == 0:
        starts[0] = 0  # a drop cap is before the first line
    for at, ref in set_paragraph.notes:
        _on(burdens, starts, at).notes.append(ref)
    for at, height in set_paragraph.boxes:
        _on(burdens, starts, at).heights.append(height)
    for at, one in set_paragraph.afloat:
        _on(burdens, starts, at).tied.append(one)
    burdens.pop(-1, None)  # the content before them
    return burdens


def _on(burdens: dict[int, Burden], starts: list[int], at: int) -> Burden:
    """Return what is carried by the line that holds an offset, the line before the first by number -1."""
    return burdens.setdefault(bisect_right(starts, at) - 1, Burden([], [], []))


def _rows(body: TableBody, base: int) -> dict[int, Burden]:
    """Return what the rows of a table carry that are left from one on."""
    bands = range(base, len(body.bands))
    return {band - base: Burden(body.cited(band, band + 1), [body.height(band)], []) for band in bands}


def _one_spread(first: Area, second: Area) -> bool:
    """Return whether two areas are each the first of facing pages."""
    return (
        (first.side, second.side) == ("verso", "recto")
        and second.page == first.page + 1
        and first.heads_page
        and second.heads_page
    )


def _loosen(filled: Iterable[AreaLayout], on: bool) -> None:
    """Set the content of areas longer or shorter, as was decided for their spreads; or at its optimum."""
    for one in filled:
        for set_paragraph, by in one.loose:
            set_paragraph.loose = by if on else 0


def _next(among: list[int], index: int) -> int | None:
    """The first number not below ``index``, in a list in order."""
    at = bisect_left(among, index)
    return among[at] if at < len(among) else None


def _moved(state: State, at: int, behind: int, delta: int) -> State:
    """Return a state after paragraphs ``at`` up to ``behind`` were replaced, ``delta`` more of them; a state within
    them matches nothing."""
    if state.paragraph < behind or any(at <= one < behind for one in state.floating):
        return State(-1)
    floating = tuple(one + delta if one >= behind else one for one in state.floating)
    return state._replace(paragraph=state.paragraph + delta, floating=floating)
