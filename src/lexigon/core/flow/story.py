"""One story, set and flowed: its paragraphs' lines, and which column holds which of them.

``change`` recomposes only the paragraphs that changed and refills from one column before the first of
them until the flow meets its old state; the result equals composing everything anew (a property test
holds it to that).
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Callable, Iterator
from dataclasses import replace

from lexigon.core.flow.column import BEGIN, Block, Grid, State, fill_column
from lexigon.core.flow.fields import Shown
from lexigon.core.flow.slots import Slot
from lexigon.core.job.cascade import Cascade, Setting
from lexigon.core.job.model import Paragraph
from lexigon.core.type.fonts import FontLibrary
from lexigon.core.type.paragraph import SetLine, set_paragraph
from lexigon.core.type.runs import looks_of, runs_of


class SetParagraph:
    """A paragraph with its settled values and, for each measure and beginning it was asked for, its lines."""

    __slots__ = ("ascent", "descent", "lines", "paragraph", "setting", "shown", "size")

    def __init__(
        self, paragraph: Paragraph, cascade: Cascade, library: FontLibrary, shown: Shown | None = None
    ) -> None:
        look = looks_of(cascade, library, paragraph)
        self.paragraph = paragraph
        self.shown = shown or Shown(paragraph)
        self.setting = cascade.setting(paragraph)
        self.ascent = look.cut.face.ascent * look.scale
        self.descent = look.cut.face.descent * look.scale
        self.size = look.spec.size
        self.lines: dict[tuple[float, int], list[SetLine]] = {}


class Column:
    """A slot with what stands in it and the states before and behind."""

    __slots__ = ("begin", "blocks", "end", "slot")

    def __init__(self, slot: Slot, blocks: list[Block], begin: State, end: State) -> None:
        self.slot, self.blocks, self.begin, self.end = slot, blocks, begin, end


class StoryFlow:
    """A story's paragraphs and columns.

    ``slots()`` gives the slots in order. Those on pages from ``pages`` on do not exist yet: they are
    filled only while there is text, and given up when two fresh pages in a row take none of it.
    """

    def __init__(
        self,
        paragraphs: list[Paragraph],
        cascade: Cascade,
        library: FontLibrary,
        grid: Grid,
        slots: Callable[[], Iterator[Slot]],
        pages: int,
        kept: dict[int, SetParagraph] | None = None,
        show: Callable[[Paragraph], Shown] = Shown,
    ) -> None:
        """``kept`` holds paragraphs set before in the same cascade, by the identity of their model; ``show`` writes
        out a paragraph's fields."""
        self.cascade, self.library, self.grid = cascade, library, grid
        self._slots, self.pages, self._show = slots, pages, show
        known = kept or {}
        self.paragraphs = [known.get(id(p)) or self._set(p) for p in paragraphs]
        self.columns: list[Column] = []
        self.end: State = BEGIN
        self.refill()

    def _set(self, paragraph: Paragraph) -> SetParagraph:
        return SetParagraph(paragraph, self.cascade, self.library, self._show(paragraph))

    # What fill_column asks of a story.
    def __len__(self) -> int:
        return len(self.paragraphs)

    def setting(self, index: int) -> Setting:
        return self.paragraphs[index].setting

    def extent(self, index: int) -> tuple[float, float]:
        found = self.paragraphs[index]
        return found.ascent, found.descent

    def line_count(self, index: int, measure: float, base: int) -> int:
        return len(self.lines(index, measure, base))

    def line_start(self, index: int, measure: float, base: int, line: int) -> int:
        return self.lines(index, measure, base)[line].start

    def lines(self, index: int, measure: float, base: int = 0) -> list[SetLine]:
        """The lines of a paragraph at a measure in points, from a text offset on; set once, then remembered."""
        found = self.paragraphs[index]
        lines = found.lines.get((measure, base))
        if lines is None:
            text, runs = runs_of(self.cascade, self.library, found.shown.paragraph)
            lines = set_paragraph(text, runs, found.setting, measure, found.size, base)
            found.lines[measure, base] = lines
        return lines

    @property
    def overset(self) -> bool:
        """Text is left behind the last column. A story without any column stands nowhere, which is no overset."""
        return bool(self.columns) and self.end[0] < len(self.paragraphs)

    def refill(self, keep: int = 0, until: Callable[[int, State], bool] | None = None) -> None:
        """Fill columns from number ``keep`` on. ``until`` may stop at a column whose state is as before."""
        state = self.columns[keep - 1].end if keep else BEGIN
        columns = self.columns[:keep]
        count = len(self.paragraphs)
        fruitful = self.pages
        for number, slot in enumerate(self._slots()):
            if number < keep:
                continue
            if until is not None and number < len(self.columns) and until(number, state):
                columns += self.columns[number:]
                state = columns[-1].end
                break
            if state[0] >= count:
                if slot.page >= self.pages:
                    break
                columns.append(Column(slot, [], state, state))
                continue
            if slot.page >= fruitful + 2:
                columns = [column for column in columns if column.slot.page < fruitful]
                break
            blocks, end = fill_column(self, slot, state, self.grid)
            if blocks:
                fruitful = max(fruitful, slot.page + 1)
                if slot.vertical != "top":
                    blocks = self._placed(slot, blocks)
            columns.append(Column(slot, blocks, state, end))
            state = end
        self.columns = columns
        self.end = state

    def _placed(self, slot: Slot, blocks: list[Block]) -> list[Block]:
        last = blocks[-1]
        foot = last.baseline + (last.last_line - last.first_line - 1) * last.step + self.extent(last.paragraph)[1]
        down = max(slot.rect.foot - foot, 0.0) * (0.5 if slot.vertical == "centre" else 1.0)
        return [block.shifted(down) for block in blocks]

    def change(self, at: int, removed: int, insert: tuple[Paragraph, ...]) -> None:
        """The story's paragraphs ``at``..``at + removed`` became ``insert``: recompose what that touches."""
        new = [self._set(p) for p in insert]
        self.paragraphs[at : at + removed] = new
        delta = len(new) - removed
        # From the column that ends at the change or behind it; a chain of paragraphs kept with the changed
        # one may have been carried over because of it, so from the chain's beginning.
        first = at
        while first and self.paragraphs[first - 1].setting.keep_next:
            first -= 1
        keep = bisect_left([column.end for column in self.columns], (first, 0, 0, 0.0))
        if delta:
            behind = at + removed
            for column in self.columns[keep:]:
                column.begin, column.end = _moved(column.begin, behind, delta), _moved(column.end, behind, delta)
                column.blocks = [
                    replace(block, paragraph=block.paragraph + delta) if block.paragraph >= behind else block
                    for block in column.blocks
                ]
        settled = at + len(new)

        def meets(number: int, state: State) -> bool:
            return number > keep and state[0] >= settled and self.columns[number].begin == state

        self.refill(keep, meets)


def _moved(state: State, behind: int, delta: int) -> State:
    """A state after paragraphs were put in or taken out before it; one within them matches nothing."""
    index, base, line, measure = state
    return (index + delta, base, line, measure) if index >= behind else (-1, 0, 0, 0.0)
