"""Making text fit: the largest size on one line, the size that fills a frame, the frame that holds the text.

Each is done once, or is a permanent setting of a frame. Sizes are found by halving; everything measured in a
paragraph grows with its type.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace

from lexigon.core.document.cascade import Cascade, Setting, TypeSetting
from lexigon.core.document.model import Paragraph, Span
from lexigon.core.document.story_text import LINE_BREAK
from lexigon.core.flow.areas import Area
from lexigon.core.flow.model import BEGIN, Column
from lexigon.core.flow.note_layout import height_of as notes_height
from lexigon.core.flow.resolved_text import ResolvedText
from lexigon.core.flow.story_flow import StoryFlow
from lexigon.core.flow.text_area import fill_area
from lexigon.core.geometry import Rect
from lexigon.core.type.fonts import FontLibrary
from lexigon.core.type.grid import Grid

FINE = 0.001
"""How exactly a size is found, as a part of it."""

ENDLESS = 100_000.0
LOW = 4.0
"""Frames are never made lower, in points."""


class ScaledCascade(Cascade):
    """A cascade whose type and the distances that go with it are ``factor`` times as large."""

    def __init__(self, plain: Cascade, factor: float) -> None:
        self._plain, self.factor = plain, factor

    def same_as(self, other: Cascade) -> bool:
        return isinstance(other, ScaledCascade) and self.factor == other.factor and self._plain.same_as(other._plain)

    def listing_styles(self) -> set[str]:
        return self._plain.listing_styles()

    def type_of(self, paragraph: Paragraph, span: Span | None = None) -> TypeSetting:
        face = self._plain.type_of(paragraph, span)
        return replace(face, size=face.size * self.factor, shift=face.shift * self.factor)

    def setting(self, paragraph: Paragraph) -> Setting:
        s, f = self._plain.setting(paragraph), self.factor
        tabs = tuple(replace(t, at=None if t.at is None else t.at * f) for t in s.tabs)
        return replace(
            s,
            leading=s.leading * f,
            indent_first=s.indent_first * f,
            indent_left=s.indent_left * f,
            indent_right=s.indent_right * f,
            space_before=s.space_before * f,
            space_after=s.space_after * f,
            tabs=tabs,
            drop_gap=s.drop_gap * f,
        )


class TrackedCascade(Cascade):
    """A cascade whose characters are further apart by ``by``, in 1/1000 em; closer where it is negative."""

    def __init__(self, plain: Cascade, by: float) -> None:
        self._plain, self.by = plain, by

    def same_as(self, other: Cascade) -> bool:
        return isinstance(other, TrackedCascade) and self.by == other.by and self._plain.same_as(other._plain)

    def listing_styles(self) -> set[str]:
        return self._plain.listing_styles()

    def type_of(self, paragraph: Paragraph, span: Span | None = None) -> TypeSetting:
        face = self._plain.type_of(paragraph, span)
        return replace(face, tracking=face.tracking + self.by)

    def setting(self, paragraph: Paragraph) -> Setting:
        return self._plain.setting(paragraph)


def largest(works: Callable[[float], bool], least: float, most: float) -> float:
    """The greatest factor that works, between two; ``least`` where not even that does."""
    if works(most):
        return most
    low, high = least, most
    while high / low > 1 + FINE:
        middle = (low * high) ** 0.5
        low, high = (middle, high) if works(middle) else (low, middle)
    return low


@dataclass(slots=True, frozen=True)
class FittedText:
    """Text that is to fit into the areas of a frame: its paragraphs, how they are formatted and shown."""

    paragraphs: list[Paragraph]
    cascade: Cascade
    library: FontLibrary
    areas: Callable[[], Iterator[Area]]
    show: Callable[[Paragraph], ResolvedText]
    grid: Grid = field(default_factory=Grid)
    """The baseline grid that it is on. Type of another size leaves it."""

    @property
    def size(self) -> float:
        """Return the size of the first paragraph, in points."""
        return self.cascade.type_of(self.paragraphs[0]).size if self.paragraphs else 1.0

    def flow(self, cascade: Cascade, grid: Grid | None = None) -> StoryFlow:
        """Return the text as it is composed with another cascade, on no baseline grid or on another one."""
        return StoryFlow(self.paragraphs, cascade, self.library, grid or Grid(), self.areas, 0, None, self.show)

    def fits_by(self, factor: float) -> bool:
        """Return whether the text fits with its type so many times as large."""
        return not self.flow(ScaledCascade(self.cascade, factor)).overset

    def fits_tracked(self, by: float) -> bool:
        """Return whether the text fits with so much more tracking, in 1/1000 em."""
        return not self.flow(TrackedCascade(self.cascade, by), self.grid).overset

    def fits_wider(self, by: float) -> bool:
        """Return whether the text fits in areas that are wider, ``by`` points."""

        def areas() -> Iterator[Area]:
            for area in self.areas():
                yield replace(area, rect=replace(area.rect, width=area.rect.width + by))

        return not replace(self, areas=areas).flow(self.cascade, self.grid).overset

    def factor(self, kind: str, sizes: tuple[float, float]) -> float:
        """Return by how much the type is enlarged so that the text fits: ``line`` or ``size``. ``sizes`` bound the
        size of its first paragraph, in points."""

        def works(factor: float) -> bool:
            if kind == "size":
                return self.fits_by(factor)
            flow = self.flow(ScaledCascade(self.cascade, factor))
            return not flow.overset and one_line_each(flow)

        return largest(works, sizes[0] / self.size, sizes[1] / self.size)


def one_line_each(flow: StoryFlow) -> bool:
    """Return whether every paragraph has one line, apart from forced breaks, and none is wider than its measure."""
    area = next(iter(flow.areas()), None)
    if area is None:
        return False
    width = area.columns()[0].rect.width
    for index, set_paragraph in enumerate(flow.paragraphs):
        lines = flow.lines(index, width)
        room = width - set_paragraph.setting.indent_left - set_paragraph.setting.indent_right + 1e-6
        if len(lines) > 1 + set_paragraph.shown.paragraph.text.count(LINE_BREAK):
            return False
        if any(line.width + line.indent > room for line in lines):
            return False
    return True


def height_of(flow: StoryFlow, area: Area) -> float:
    """Return how high the frame of an area must be to hold all of its text, in points."""
    tall = replace(
        area,
        rect=Rect(area.rect.x, area.rect.y, area.rect.width, ENDLESS),
        setting=replace(area.setting, vertical="top", balanced=area.setting.columns > 1),
    )
    filled = fill_area(flow, tall, BEGIN, flow.grid)
    feet = [_needed(flow, column) for column in filled.columns if column.blocks]
    head, _, foot, _ = area.setting.insets
    return max((max(feet) - area.rect.y if feet else 0.0) + head + foot, LOW)


def shortage_of(flow: StoryFlow, area: Area) -> float:
    """Return by how much the frame of an area is too low for all of its text, in points; 0 where it is not."""
    head, _, foot, _ = area.setting.insets
    return max(height_of(flow, area) - area.rect.height - head - foot, 0.0)


def _needed(flow: StoryFlow, column: Column) -> float:
    """Return the height of a column without limit, with its notes directly below its text."""
    return column.blocks[-1].bottom(flow) + notes_height([note.body for note in column.notes])
