"""Pages of a spread that end on the same line: where they do not, a paragraph is set a line longer or shorter, or both
pages a line shorter.

After M. F. Plass, "Optimal pagination techniques for automatic typesetting systems" (Stanford, 1981), in what is varied
and what counts
against it; taken spread by spread as the text flows, so that an edit costs a spread or two and not a chapter. Where a
spread
cannot be made even, the one before it is set differently from its optimum, so that this one begins elsewhere.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import combinations
from typing import TYPE_CHECKING

from lexigon.core.flow.text_area import AreaLayout, fill_area, must_turn
from lexigon.core.type.paragraph import TOLERANCE

if TYPE_CHECKING:
    from lexigon.core.flow.areas import Area
    from lexigon.core.flow.paragraphs import SetParagraph
    from lexigon.core.flow.story_flow import StoryFlow

SAME = 0.5
"""Points by which feet may differ that count as even."""
MOST_TRIALS, PAIRED = 10, 6
"""Changes of one paragraph that are tried, the least costly first, and of how many of these two at once."""
LOOKED_AT = 12
"""Ways to set a spread otherwise that are looked at for the sake of the next one."""


@dataclass(slots=True, frozen=True)
class Variant:
    """A paragraph a line longer or shorter, and what that is likely to cost: how much more its other lines give."""

    index: int
    by: int
    cost: float


def faces(first: AreaLayout, second: AreaLayout) -> bool:
    """Return whether two areas are the only ones of facing pages: a verso and its recto."""
    if not (first.columns and second.columns) or second.page != first.page + 1:
        return False
    left, right = first.columns[0].slot, second.columns[0].slot
    return left.side == "verso" and right.side == "recto" and left.heads_page and right.heads_page


def runs_on(flow: StoryFlow, first: AreaLayout, second: AreaLayout) -> bool:
    """Return whether the pages of a spread are running text that continues after it, and should end on the same
    line."""
    if len(first.columns) != 1 or len(second.columns) != 1 or second.end.paragraph >= len(flow):
        return False
    for one in (first, second):
        blocks = one.columns[0].blocks
        if not blocks or must_turn(flow, one.end) or not flow.setting(blocks[-1].paragraph).even_feet:
            return False
    return True


def uneven(flow: StoryFlow, first: AreaLayout, second: AreaLayout) -> bool:
    """Return whether the pages of a spread are running prose that should end on one line, and does not."""
    return runs_on(flow, first, second) and not _even(flow, first, second)


def _gap(flow: StoryFlow, one: AreaLayout) -> float:
    """Return what a page leaves free at its foot."""
    slot = one.columns[0].slot
    return slot.rect.foot - one.columns[0].foot(flow)


def _even(flow: StoryFlow, first: AreaLayout, second: AreaLayout) -> bool:
    """Return whether two pages leave the same free at their feet."""
    return abs(_gap(flow, first) - _gap(flow, second)) < SAME


def evened(
    flow: StoryFlow, areas: tuple[Area, Area], first: AreaLayout, second: AreaLayout
) -> tuple[AreaLayout, AreaLayout, list[tuple[SetParagraph, int]]] | None:
    """The spread with even feet, and which paragraphs are set longer or shorter for it; None where that cannot be had
    at a tolerable cost."""
    return next(_ways(flow, areas, first, second), None)


Way = tuple[AreaLayout, AreaLayout, list[tuple["SetParagraph", int]]]
"""The pages of a spread with even feet, and which paragraphs are set longer or shorter for it."""


def _ways(
    flow: StoryFlow, areas: tuple[Area, Area], first: AreaLayout, second: AreaLayout, doubles: bool = True
) -> Iterator[Way]:
    """The ways in which a spread has even feet, the least costly first. Each is set so while it is looked at, and no
    longer when the next one is asked for."""
    step = max(block.step for block in second.columns[0].blocks)
    variants = sorted(_variants(flow, first, second), key=lambda one: one.cost)[:MOST_TRIALS]
    single = [(one,) for one in variants]
    pairs = combinations(variants[:PAIRED], 2) if doubles else ()
    double = [both for both in pairs if both[0].index != both[1].index]
    for changes, down in _order(single, double):
        variant = _try_variant(flow, changes, (shorter(areas[0], down * step), shorter(areas[1], down * step)), first)
        if (
            variant is not None
            and max(_room(one, area, flow) for one, area in zip(variant, areas, strict=True)) < (down + 1) * step + SAME
        ):
            yield *variant, [(flow.paragraphs[one.index], one.by) for one in changes]
        for one in changes:
            flow.paragraphs[one.index].loose = 0


def looked_back(
    flow: StoryFlow, areas: Sequence[Area], before: tuple[AreaLayout, AreaLayout]
) -> tuple[AreaLayout, AreaLayout, AreaLayout, AreaLayout] | None:
    """Two consecutive spreads, the first of them set differently from its own optimum (``before``) so that the feet of
    the second are even, too; None where that is impossible. ``areas`` are those of the four pages."""
    was = before[1].loose
    for variant, _ in was:
        variant.loose = 0
    first = fill_area(flow, areas[0], before[0].begin, flow.grid)
    second = fill_area(flow, areas[1], first.end, flow.grid)
    if all(len(one.columns) == 1 and one.columns[0].blocks for one in (first, second)):
        for number, way in enumerate(_ways(flow, (areas[0], areas[1]), first, second)):
            if number >= LOOKED_AT:
                _undo(way[2])
                break
            if way[1].end == before[1].end:
                continue
            behind = _next_even(flow, (areas[2], areas[3]), way[1])
            if behind is not None:
                way[1].loose, way[1].ahead = way[2], True
                return way[0], way[1], *behind
    for variant, by in was:
        variant.loose = by
    return None


def _undo(changed: Sequence[tuple[SetParagraph, int]]) -> None:
    for variant, _ in changed:
        variant.loose = 0


def _next_even(flow: StoryFlow, areas: tuple[Area, Area], before: AreaLayout) -> tuple[AreaLayout, AreaLayout] | None:
    """The spread after another one, with even feet; None if impossible."""
    first = fill_area(flow, areas[0], before.end, flow.grid)
    second = fill_area(flow, areas[1], first.end, flow.grid)
    if not (first.columns and second.columns and first.columns[0].blocks and second.columns[0].blocks):
        return None
    if not uneven(flow, first, second):
        return (first, second) if second.end.paragraph < len(flow) and _even(flow, first, second) else None
    for way in _ways(flow, areas, first, second, doubles=False):
        way[1].loose = way[2]
        return way[0], way[1]
    return None


def _order(
    single: Sequence[tuple[Variant, ...]], double: Sequence[tuple[Variant, ...]]
) -> Iterator[tuple[tuple[Variant, ...], int]]:
    """Return what is tried: changes of paragraphs, and how many lines both pages are shorter; the least costly
    first."""
    yield from ((one, 0) for one in single)
    yield (), 1
    yield from ((one, 1) for one in single)
    yield from ((both, 0) for both in double)
    yield (), 2
    yield from ((one, 2) for one in single)
    yield from ((both, 1) for both in double)


def shorter(area: Area, step: float) -> Area:
    """An area that is ``step`` points less high."""
    return replace(area, rect=replace(area.rect, height=area.rect.height - step))


def _room(one: AreaLayout, area: Area, flow: StoryFlow) -> float:
    """Return what a page leaves free of an area."""
    return area.rect.foot - one.columns[0].foot(flow) if one.columns[0].blocks else area.rect.height


def _try_variant(
    flow: StoryFlow, changes: tuple[Variant, ...], areas: tuple[Area, Area], before: AreaLayout
) -> tuple[AreaLayout, AreaLayout] | None:
    """The spread with some paragraphs set otherwise, if its feet are even then and no line is looser than is
    tolerable."""
    for one in changes:
        set_paragraph = flow.paragraphs[one.index]
        width = before.columns[0].slot.rect.width
        count = len(flow.lines(one.index, width))
        set_paragraph.loose = one.by
        lines = flow.lines(one.index, width)
        if (
            len(lines) != count + one.by
            or max((line.ratio for line in lines if line.stretches), default=0.0) > TOLERANCE
        ):
            return None
    first = fill_area(flow, areas[0], before.begin, flow.grid)
    second = fill_area(flow, areas[1], first.end, flow.grid)
    for filled in (first, second):
        if len(filled.columns) != 1 or not filled.columns[0].blocks or must_turn(flow, filled.end):
            return None
    if any(flow.paragraphs[one.index].loose and not _whole(flow, one.index, first, second) for one in changes):
        return None  # it continues after the spread, where its change would go unnoticed
    return (first, second) if second.end.paragraph < len(flow) and _even(flow, first, second) else None


def _whole(flow: StoryFlow, index: int, first: AreaLayout, second: AreaLayout) -> bool:
    """Return whether a paragraph begins and ends within a spread."""
    blocks = [block for one in (first, second) for block in one.columns[0].blocks if block.paragraph == index]
    if not blocks or blocks[0].first_line or blocks[0].base:
        return False
    return blocks[-1].last_line >= flow.line_count(index, blocks[-1].measure, blocks[-1].base)


def _variants(flow: StoryFlow, first: AreaLayout, second: AreaLayout) -> Iterator[Variant]:
    """Return what may be set otherwise: paragraphs of one measure that begin and end within the spread."""
    indexes = {block.paragraph for one in (first, second) for block in one.columns[0].blocks}
    for index in sorted(indexes):
        setting = flow.setting(index)
        width = first.columns[0].slot.rect.width
        if not setting.even_feet or flow.unbroken(index) or not _whole(flow, index, first, second):
            continue
        blocks = [block for one in (first, second) for block in one.columns[0].blocks if block.paragraph == index]
        if any(block.measure != width or block.base for block in blocks):
            continue
        lines = flow.lines(index, width)
        if len(lines) < 2:
            continue
        part = min(lines[-1].width / max(width, 1.0), 1.0)
        if len(lines) > 2:
            yield Variant(index, 1, (1.0 - part + 0.1) / (len(lines) - 1))
        yield Variant(index, -1, (part + 0.1) / (len(lines) - 1))
