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

from lexigon.core.flow.area import Filled, fill_area
from lexigon.core.flow.column import fill_column
from lexigon.core.flow.evening import evened, faces, looked_back, runs_on, uneven
from lexigon.core.flow.footing import NoteBody, Owed
from lexigon.core.flow.holding import BEGIN, Burden, Column, State
from lexigon.core.flow.lastpage import MOST_PAGES, ends_chapter, is_short, lengthen
from lexigon.core.flow.setparagraph import SetParagraph
from lexigon.core.flow.shown import Shown
from lexigon.core.flow.slots import Area
from lexigon.core.job.cascade import Cascade, Setting
from lexigon.core.job.model import Paragraph
from lexigon.core.type.fonts import FontLibrary
from lexigon.core.type.grid import Grid
from lexigon.core.type.paragraph import Measure, SetLine
from lexigon.core.type.runs import runs_of

if TYPE_CHECKING:
    from lexigon.core.flow.tables import TableBody


OPENING_ROUNDS = 6
"""Times that the first lines are set again until they hold the same words."""

Noted = Callable[[str, float, Owed | None], NoteBody | None]
"""Finds a note by its name, set at a width, from its beginning or from a place on."""

Told = Callable[[float], None]
"""Hears how far something is, from 0 to 1."""


class StoryFlow:
    """A story's paragraphs and the areas they stand in.

    ``areas_of()`` gives the areas in order. Those on pages from ``pages`` on do not exist yet: they are
    filled only while there is text, and given up when two fresh pages in a row take none of it.
    """

    def __init__(
        self,
        paragraphs: list[Paragraph],
        cascade: Cascade,
        library: FontLibrary,
        grid: Grid,
        areas: Callable[[], Iterator[Area]],
        pages: int,
        kept: dict[int, SetParagraph] | None = None,
        show: Callable[[Paragraph], Shown] = Shown,
        told: Told | None = None,
        noted: Noted = lambda ref, width, owed: None,
        begin: State = BEGIN,
        alone: bool = False,
    ) -> None:
        """``kept`` holds paragraphs set before in the same cascade, by the identity of their model; ``show`` writes
        out a paragraph's fields; ``told`` hears after each area which part of the text stands; ``noted`` sets the notes that
        are cited; ``begin`` is where its first area begins. One that stands ``alone`` has a single area, of one column, that has room for all of
        it: a note, a cell of a table."""
        self.cascade, self.library, self.grid = cascade, library, grid
        self.areas, self.pages, self.show, self._noted, self.begin = areas, pages, show, noted, begin
        known = kept or {}
        self.paragraphs = [known.get(id(p)) or self._set(p) for p in paragraphs]
        for found in self.paragraphs:
            found.loose = 0  # of those that are known from before
        self.filled: list[Filled] = []
        self.end: State = begin
        self._evens: bool | None = None
        self._closes: bool | None = None
        self._figures: bool | None = None
        self._spans: list[int] | None = None
        self._splits: list[int] | None = None
        self._columns: list[Column] | None = None
        self.told = told
        if alone and all(found.setting.split <= 1 for found in self.paragraphs):
            (area,) = areas()
            (slot,) = area.columns()
            column = fill_column(self, slot, begin, grid)
            self.filled = [Filled(area.page, begin, column.end, [column])]
            self.end = column.end
        else:
            self.refill()
        self.told = None

    def repaint(self, cascade: Cascade) -> None:
        """The styles look otherwise and measure as before: what is set stays where it stands."""
        self.cascade = cascade
        for found in self.paragraphs:
            found.looked_up(cascade, self.library)

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
        found = self.paragraphs[index]
        return found.ascent, found.descent

    def height(self, index: int, of: str) -> float:
        found = self.paragraphs[index]
        return {"capital": found.cap_height, "x-height": found.x_height}.get(of, found.ascent)

    def line_count(self, index: int, measure: Measure, base: int) -> int:
        found = self.paragraphs[index]
        count = len(self.lines(index, measure, base))
        if found.initial is not None and base == 0:
            return max(count, found.setting.drop_lines)  # the initial keeps its height beside fewer lines
        return count

    def line_start(self, index: int, measure: Measure, base: int, line: int) -> int:
        lines = self.lines(index, measure, base)
        return lines[line].start if line < len(lines) else lines[-1].next

    def divides(self, index: int, measure: Measure, base: int, line: int) -> bool:
        lines = self.lines(index, measure, base)
        return line < len(lines) and lines[line].hyphen

    def special(self, index: int) -> bool:
        found = self.paragraphs[index]
        return bool(found.notes or found.boxes or found.afloat or found.shown.table)

    def burdens(self, index: int, measure: Measure, base: int) -> Mapping[int, Burden]:
        found = self.paragraphs[index]
        key = measure, base, found.loose
        made = found.laden.get(key)
        if made is None:
            body = self.table(index, measure)
            made = _carried(found, self.lines(index, measure, base), base) if body is None else _rows(body, base)
            found.laden[key] = made
        return made

    def table(self, index: int, measure: Measure) -> TableBody | None:
        """The table that a paragraph shows, set at a measure; None if it shows words."""
        from lexigon.core.flow.tables import set_table  # a table's cells are texts themselves

        found = self.paragraphs[index]
        if found.shown.table is None:
            return None
        width = measure if isinstance(measure, float) else measure[-1][1]
        width -= found.setting.indent_left + found.setting.indent_right
        body = found.tables.get(width)
        if body is None:
            body = found.tables[width] = set_table(found.shown.table, width, self.cascade, self.library, self.show)
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

    def note(self, ref: str, width: float, owed: Owed | None = None) -> NoteBody | None:
        return self._noted(ref, width, owed)

    @property
    def has_figures(self) -> bool:
        if self._figures is None:
            self._figures = any(found.setting.floats for found in self.paragraphs)
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
        """The lines of a paragraph at a measure, from a text offset on; set once, then remembered."""
        found = self.paragraphs[index]
        known = found.lines if not found.loose else found.varied.setdefault(found.loose, {})
        lines = known.get((measure, base))
        if lines is None and found.shown.table is not None:
            count, wide = len(found.shown.paragraph.text), measure if isinstance(measure, float) else measure[-1][1]
            lines = [SetLine(at, at + 1, at + 1, wide, 0.0, False, False, 0.0) for at in range(base, count)]
            known[measure, base] = lines
        if lines is None:
            text, runs = runs_of(self.cascade, self.library, found.shown.paragraph)
            lines = found.broken(text, runs, found.setting, measure, base)
            if found.shown.opening and base == 0:
                lines = self._opened(found, measure, lines)
            known[measure, base] = lines
        return lines

    def _opened(self, found: SetParagraph, measure: Measure, lines: list[SetLine]) -> list[SetLine]:
        """The lines with the first of them set as rules have it. What is set otherwise may be wider, so that fewer words go into a line:
        it is set again until the same words stand in it; where they do not settle, whole words that stood there both times."""
        ends = [lines[min(one.lines, len(lines)) - 1].end for one in found.shown.opening]
        for round_ in range(OPENING_ROUNDS):
            made = found.shown.paragraph
            for one, end in zip(found.shown.opening, ends, strict=True):
                made = one.over(made, end)
            found.opened[measure] = made
            text, runs = runs_of(self.cascade, self.library, made)
            lines = found.broken(text, runs, found.setting, measure)
            now = [lines[min(one.lines, len(lines)) - 1].end for one in found.shown.opening]
            if now == ends:
                break
            both = (min(a, b) for a, b in zip(ends, now, strict=True))
            ends = [text.rfind(" ", 0, end + 1) if 0 < end < len(text) else end for end in both] if round_ > 1 else now
        return lines

    def set_as(self, index: int, measure: Measure, base: int = 0) -> Paragraph:
        """Return what a paragraph is set as at a measure."""
        found = self.paragraphs[index]
        if found.shown.opening and base == 0:
            self.lines(index, measure)
            return found.opened.get(measure, found.shown.paragraph)
        return found.shown.paragraph

    @property
    def overset(self) -> bool:
        """Text is left behind the last column, or of a note. A story without any column stands nowhere, which is no overset."""
        return bool(self.filled) and (self.end.paragraph < len(self.paragraphs) or bool(self.end.left))

    def refill(self, keep: int = 0, until: Callable[[int, State], bool] | None = None) -> None:
        """Fill areas from number ``keep`` on. ``until`` may stop at an area whose state is as before."""
        if self._evens is None:
            self._evens = any(found.setting.even_feet for found in self.paragraphs)
        if self._closes is None:
            self._closes = any(found.setting.closing_lines > 1 for found in self.paragraphs)
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
                filled.append(Filled(area.page, state, state, empty))
                before = area
                continue
            if area.page >= fruitful + 2:
                filled = [one for one in filled if one.page < fruitful]
                break
            one = fill_area(self, area, state, self.grid)
            if within and before is not None and uneven(self, filled[-1], one):
                found = evened(self, (before, area), filled[-1], one)
                if found is not None:
                    filled[-1], one, one.loose = found[0], found[1], found[2]
                elif len(filled) >= 3 and faces(filled[-3], filled[-2]) and runs_on(self, filled[-3], filled[-2]):
                    back = looked_back(self, last, (filled[-3], filled[-2]))
                    if back is not None:
                        filled[-3:], one = back[:3], back[3]
            if closes and filled and is_short(self, filled[-1], one):
                longer = lengthen(self, list(last), filled, one)
                if longer is not None:
                    filled[-len(longer[0]) :], one = longer
            before = area
            if self.told is not None:
                self.told(one.end[0] / count)
            if any(column.used for column in one.columns):
                fruitful = max(fruitful, area.page + 1)
            filled.append(one)
            state = one.end
        self.filled = filled
        self._columns = None
        self.end = state

    def _beginning(self, keep: int) -> int:
        """The area from which to fill again so that pages whose setting depends on later ones are decided anew: ``keep``, or an earlier one."""
        count = len(self.filled)
        if self._closes and keep == count:
            keep = max(keep - 2, 0)  # they may be shorter because of a last page that is gone
        while True:
            found = keep
            if self._closes and found < count:
                found -= self.filled[found].shortened  # these pages are shorter because of this last page
            if self._evens and 0 < found < count and faces(self.filled[found - 1], self.filled[found]):
                found -= 1  # a spread is filled as one
            if self._evens and found >= 2 and self.filled[min(found, count) - 1].ahead:
                found = min(found, count) - 2  # and that before it, where it is as it is for this one's sake
            if found == keep:
                return keep
            keep = found

    def _closing_at(self, number: int) -> bool:
        """Return whether this area or the next is the last of a chapter, on which the setting of the areas before it may depend."""
        return any(ends_chapter(self, one) for one in self.filled[number : number + 2])

    def refilled(self, page: int) -> None:
        """The areas of a page are others now, as many as before: fill them, and go on until all is as it was."""
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
        other.paragraphs = [other._set(found.paragraph) for found in self.paragraphs]
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
        if any(found.setting.even_feet for found in new):
            self._evens = True
        if any(found.setting.closing_lines > 1 for found in new):
            self._closes = True
        if any(found.setting.floats for found in new):
            self._figures = True
        delta = len(new) - removed
        # From the area that ends at the change or behind it; a chain of paragraphs kept with the changed
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


def _carried(found: SetParagraph, lines: list[SetLine], base: int) -> dict[int, Burden]:
    """Return what lines of words carry that are set from an offset on."""
    made: dict[int, Burden] = {}
    starts = [line.start for line in lines]
    if base == 0:
        starts[0] = 0  # an initial stands before the first line
    for at, ref in found.notes:
        _on(made, starts, at).notes.append(ref)
    for at, height in found.boxes:
        _on(made, starts, at).heights.append(height)
    for at, one in found.afloat:
        _on(made, starts, at).tied.append(one)
    made.pop(-1, None)  # what stands before them
    return made


def _on(made: dict[int, Burden], starts: list[int], at: int) -> Burden:
    """Return what is carried by the line that holds an offset, the line before the first by number -1."""
    return made.setdefault(bisect_right(starts, at) - 1, Burden([], [], []))


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


def _loosen(filled: Iterable[Filled], on: bool) -> None:
    """Set what stands in areas longer or shorter, as it was for their spreads; or as it is set best."""
    for one in filled:
        for found, by in one.loose:
            found.loose = by if on else 0


def _next(among: list[int], index: int) -> int | None:
    """The first number not below ``index``, in a list in order."""
    at = bisect_left(among, index)
    return among[at] if at < len(among) else None


def _moved(state: State, at: int, behind: int, delta: int) -> State:
    """A state after paragraphs ``at`` up to ``behind`` became others, ``delta`` more of them; one within them matches nothing."""
    if state.paragraph < behind or any(at <= one < behind for one in state.floating):
        return State(-1)
    floating = tuple(one + delta if one >= behind else one for one in state.floating)
    return state._replace(paragraph=state.paragraph + delta, floating=floating)
