"""The last page of a chapter. Where it would hold a few lines alone, what comes before it is set a line or more shorter, so that more
lines go over to it: the page that faces it, or both pages of the spread before. (Common practice, no source.)"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING

from lexigon.core.flow.area import Filled, fill_area, must_turn
from lexigon.core.flow.evening import evened, faces, shorter, uneven

if TYPE_CHECKING:
    from lexigon.core.flow.slots import Area
    from lexigon.core.flow.story import StoryFlow

MOST_ALONE, MOST_BOTH = 4, 2
"""Lines that a page may be shorter for the sake of the last one: by itself, and with the page that it faces."""


MOST_PAGES = 2
"""Pages before the last one that may be shorter for its sake."""


def ends_chapter(flow: StoryFlow, one: Filled) -> bool:
    """Whether a page is the last of its text, or before a paragraph that begins on another page."""
    return any(column.blocks for column in one.columns) and (one.end.paragraph >= len(flow) or must_turn(flow, one.end))


def is_short(flow: StoryFlow, before: Filled, last: Filled) -> bool:
    """Whether a page is the last of a chapter that began before it, and holds fewer lines than its style asks for."""
    if not (_plain(before) and _plain(last)) or must_turn(flow, before.end):
        return False
    return ends_chapter(flow, last) and _lines(last) < _wanted(flow, last)


def lengthened(
    flow: StoryFlow, areas: Sequence[Area], filled: Sequence[Filled], last: Filled
) -> tuple[list[Filled], Filled] | None:
    """The pages before a short last one, shorter, and that page with the lines that go over to it; None where this cannot be done. ``areas``
    are those of the pages ``filled`` and of the last one, in order, up to four of them."""
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
            found = evened(flow, (before[0], before[1]), pages[0], pages[1])
            if found is None:
                continue
            pages = [found[0], found[1]]
            pages[1].loose = found[2]
        made = fill_area(flow, areas[-1], pages[-1].end, flow.grid)
        if made.end == last.end and _plain(made) and _lines(made) >= _wanted(flow, made):
            made.shortened = count
            return pages, made
        for one, _ in pages[-1].loose:
            one.loose = 0
    for one, by in loose:
        one.loose = by
    return None


def _ways(flow: StoryFlow, filled: Sequence[Filled], last: Filled) -> Iterator[tuple[int, int]]:
    """How many pages are set shorter, and by how many lines, the least first. Pages that face each other are both set shorter, but for one that
    faces the last page or a page of another chapter."""
    together = len(filled) >= 2 and faces(filled[-2], filled[-1]) and not must_turn(flow, filled[-2].end)
    if together and not _plain(filled[-2]):
        return
    count, most = (2, MOST_BOTH) if together else (1, MOST_ALONE)
    yield from ((count, lines) for lines in range(1, most + 1))


def _plain(one: Filled) -> bool:
    """Whether a page is a column of text alone, without notes and frames that float."""
    if len(one.columns) != 1:
        return False
    (column,) = one.columns
    return bool(column.blocks) and not (column.notes or column.afloat or column.margin)


def _lines(one: Filled) -> int:
    return sum(block.last_line - block.first_line for block in one.columns[0].blocks)


def _wanted(flow: StoryFlow, one: Filled) -> int:
    """How many lines the style of a page's last paragraph asks for on the last page of a chapter."""
    return flow.setting(one.columns[0].blocks[-1].paragraph).closing_lines
