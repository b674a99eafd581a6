"""The places of paragraphs and their characters in the flows of one composed state."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterable, Mapping
from typing import TYPE_CHECKING

from lexigon.core.flow.model import Column
from lexigon.core.flow.story_flow import StoryFlow
from lexigon.core.tables.grid import bands_of

if TYPE_CHECKING:
    from lexigon.core.flow.table_cells import Band

NOWHERE, PARTED = -1, -2
"""Instead of a page: a paragraph that is overset, and one that is on several pages."""


class Locator:
    """Looks places up in the flows at the time of asking; create a new one when paragraphs were added or deleted."""

    def __init__(self, flows: Mapping[str, StoryFlow]) -> None:
        self._flows = flows
        self._numbers: dict[str, dict[str, int]] = {}
        self._pages: dict[str, tuple[list[Column], list[int]]] = {}

    def number(self, story: str, paragraph: str) -> int | None:
        """Return the number of a paragraph in its story."""
        if story not in self._numbers:
            flow = self._flows.get(story)
            if flow is None:
                return None
            self._numbers[story] = {set_paragraph.paragraph.id: at for at, set_paragraph in enumerate(flow.paragraphs)}
        return self._numbers[story].get(paragraph)

    def page(self, story: str, paragraph: str, offset: int = 0) -> int | None:
        """The index of the page on which a character of a paragraph stands, by its offset in the paragraph's own text;
        None where the text does not get there, or is none that flows."""
        index = self.number(story, paragraph)
        if index is None:
            return None
        flow = self._flows[story]
        page = self._whole(story)[index]
        if page != PARTED:
            return None if page == NOWHERE else page
        page_index, position = None, flow.paragraphs[index].shown.to_shown(offset)
        columns = flow.columns
        for at in range(bisect_left(columns, index, key=lambda column: column.end[0]), len(columns)):
            column = columns[at]
            if column.begin[0] > index:
                break
            for block in column.blocks:
                if block.paragraph == index:
                    lines = flow.lines(index, block.measure, block.base)
                    page_index = column.slot.page
                    if block.last_line >= len(lines) or position < lines[block.last_line - 1].next:
                        return page_index
        return page_index

    def page_in_note(self, note: str, paragraph: str, offset: int) -> int | None:
        """The page on which a character of a note stands, which may be divided over several."""
        page_index = None
        for flow in self._flows.values():
            for column in flow.columns:
                for part in (*column.notes, *column.margin):
                    if part.body.ref != note:
                        continue
                    own = part.body.flow
                    for block in part.blocks:
                        set_ = own.paragraphs[block.paragraph]
                        if set_.paragraph.id != paragraph:
                            continue
                        page_index = column.slot.page
                        lines = own.lines(block.paragraph, block.measure, block.base)
                        if (
                            block.last_line >= len(lines)
                            or set_.shown.to_shown(offset) < lines[block.last_line - 1].next
                        ):
                            return page_index
        return page_index

    def page_of_afloat(self, inlay: str) -> int | None:
        """The page on which a frame stands that is not in its line."""
        for flow in self._flows.values():
            for column in flow.columns:
                if any(one.ref == inlay for one in column.afloat):
                    return column.slot.page
        return None

    def page_of_row(self, table: str, row: int, place: tuple[int, str, int] | None = None) -> int | None:
        """The page on which a row of a table stands; of the rows that are repeated none alone. Of one that is divided
        that of a ``place`` in it: which of the row's cells, the paragraph, the offset in that."""
        page_index = None
        for flow in self._flows.values():
            for column in flow.columns:
                for block in column.blocks:
                    shown_table = flow.paragraphs[block.paragraph].shown.table
                    if shown_table is None or shown_table.id != table:
                        continue
                    if shown_table.is_head(row):
                        return None
                    first, last = block.base + block.first_line, block.base + block.last_line
                    if any(row in band for band in bands_of(shown_table)[first:last]):
                        page_index = column.slot.page
                        if not block.part or (body := flow.table(block.paragraph, block.measure)) is None:
                            return page_index
                        if place is None or _stands(body.bands_in(block)[-1], row, *place):
                            return page_index
        return page_index

    def pages(self, story: str, places: Iterable[tuple[str, int]]) -> list[int | None]:
        """The same for many places in a story, each a paragraph and an offset in it."""
        if story not in self._flows:
            return [None for _ in places]
        self.number(story, "")
        numbers, whole = self._numbers[story], self._whole(story)
        pages: list[int | None] = []
        for paragraph, offset in places:
            index = numbers.get(paragraph)
            page = NOWHERE if index is None else whole[index]
            pages.append(page if page >= 0 else self.page(story, paragraph, offset) if page == PARTED else None)
        return pages

    def _whole(self, story: str) -> list[int]:
        """The page of each paragraph of a story, determined once for the present columns."""
        flow = self._flows[story]
        columns = flow.columns
        cached = self._pages.get(story)
        if cached is not None and cached[0] is columns:
            return cached[1]
        pages = [NOWHERE] * len(flow.paragraphs)
        for column in columns:
            page = column.slot.page
            for block in column.blocks:
                before = pages[block.paragraph]
                pages[block.paragraph] = page if before in (NOWHERE, page) else PARTED
        self._pages[story] = columns, pages
        return pages


def _stands(part: Band, row: int, number: int, paragraph: str, offset: int) -> bool:
    """Return whether a place in a cell is in this part of its row or an earlier one."""
    own = next((cell for cell in part.cells if (cell.row, cell.number) == (row, number)), None)
    if own is None:
        return True  # of another row, which ends here
    at, base, line = own.column.end[:3]
    if at >= len(own.flow):
        return True
    index = next((n for n, one in enumerate(own.flow.paragraphs) if one.paragraph.id == paragraph), 0)
    position = own.flow.paragraphs[index].shown.to_shown(offset)
    measure = own.column.end.measure
    return (index, position) < (at, own.flow.line_start(at, measure, base, line) if line else base)
