"""Short last pages of chapters. Where the last page would hold only a few lines, the pages before it are set shorter,
so that more lines move to it: either the page that faces it, or both pages of the spread before. (Common practice, no
source.)"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING

from lexigon.core.flow.even_feet import evened, faces, shorter, uneven
from lexigon.core.flow.text_area import AreaLayout, fill_area, must_turn

if TYPE_CHECKING:
    from lexigon.core.flow.areas import Area
    from lexigon.core.flow.story_flow import StoryFlow

MOST_ALONE, MOST_BOTH = 4, 2
"""The most lines by which a page may be set shorter: by itself, and together with the page that it faces."""
MOST_PAGES = 2
"""The most pages that are set shorter."""


def ends_chapter(flow: StoryFlow, one: AreaLayout) -> bool:
    """Return whether the text ends on this page, or the next paragraph must begin on a new page."""
    return any(column.blocks for column in one.columns) and (one.end.paragraph >= len(flow) or must_turn(flow, one.end))


def is_short(flow: StoryFlow, before: AreaLayout, last: AreaLayout) -> bool:
    """Return whether a page is the last of a chapter that began before it, and holds fewer lines than its style asks
    for."""
    if not (_plain(before) and _plain(last)) or must_turn(flow, before.end):
        return False
    return ends_chapter(flow, last) and _lines(last) < _least_lines(flow, last)


def lengthen(
    flow: StoryFlow, areas: Sequence[Area], filled: Sequence[AreaLayout], last: AreaLayout
) -> tuple[list[AreaLayout], AreaLayout] | None:
    """Set the pages before a short last page shorter, so that it gets enough lines. Returns these pages and the last
    one as they are then, or None where that is not possible. ``areas`` are those of the pages ``filled`` and of the
    last page, in order, at most four."""
    step = max(block.step for block in last.columns[0].blocks)
    loose = filled[-1].loose
    for one, _ in loose:
        one.loose = 0
    for count, lines in _ways(flow, filled, last):
        before = [shorter(area, lines * step) for area in areas[-1 - count : -1]]
        pages = []
        state = filled[-count].begin
        for area in before:
            pages.append(fill_area(flow, area, state, flow.grid))
            state = pages[-1].end
        if not all(_plain(page) and not must_turn(flow, page.end) for page in pages):
            continue
        if count == 2 and uneven(flow, pages[0], pages[1]):
            evened_areas = evened(flow, (before[0], before[1]), pages[0], pages[1])
            if evened_areas is None:
                continue
            pages = [evened_areas[0], evened_areas[1]]
            pages[1].loose = evened_areas[2]
        last_area = fill_area(flow, areas[-1], pages[-1].end, flow.grid)
        if last_area.end == last.end and _plain(last_area) and _lines(last_area) >= _least_lines(flow, last_area):
            last_area.shortened = count
            return pages, last_area
        for one, _ in pages[-1].loose:
            one.loose = 0
    for one, by in loose:
        one.loose = by
    return None


def _ways(flow: StoryFlow, filled: Sequence[AreaLayout], last: AreaLayout) -> Iterator[tuple[int, int]]:
    """Return what to try, the least noticeable first: the number of pages to set shorter, and by how many lines. Two
    pages that face each other are both set shorter; a page that faces the last page, or a page of another chapter, is
    set shorter by itself."""
    together = len(filled) >= 2 and faces(filled[-2], filled[-1]) and not must_turn(flow, filled[-2].end)
    if together and not _plain(filled[-2]):
        return
    count, most = (2, MOST_BOTH) if together else (1, MOST_ALONE)
    yield from ((count, lines) for lines in range(1, most + 1))


def _plain(one: AreaLayout) -> bool:
    """Return whether a page holds one column of text, without notes or floating frames."""
    if len(one.columns) != 1:
        return False
    (column,) = one.columns
    return bool(column.blocks) and not (column.notes or column.afloat or column.margin)


def _lines(one: AreaLayout) -> int:
    return sum(block.last_line - block.first_line for block in one.columns[0].blocks)


def _least_lines(flow: StoryFlow, one: AreaLayout) -> int:
    """The fewest lines that the style of the page's last paragraph allows on the last page of a chapter."""
    return flow.setting(one.columns[0].blocks[-1].paragraph).closing_lines
