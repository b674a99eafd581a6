"""The boxes of a printed page and the marks round it (ISO 32000-2, 14.11.2; ISO 15930-7).

Page coordinates: origin at the trim's top left corner, y downward. PageBoxes coordinates: origin at the
media's bottom left corner, y upward, as PDF has it.
"""

from __future__ import annotations

from dataclasses import dataclass

from lexigon.core.document.model import Brief, Side
from lexigon.core.press.recipes import Recipe


@dataclass(slots=True, frozen=True)
class PageBoxes:
    """A page on its media: how far the media reaches beyond the trim on each side, in points."""

    width: float
    height: float
    left: float
    right: float
    top: float
    bottom: float
    bleed: tuple[float, float, float, float]
    """left, right, top, bottom"""
    rotated: bool = False
    """The page is rotated a quarter turn counter-clockwise on the sheet, as ``on_sheet`` has it."""

    def on_sheet(self, box: list[float]) -> list[float]:
        """A box (left, foot, right, head) as it is on the sheet."""
        if not self.rotated:
            return box
        left, foot, right, head = box
        high = self.media[3]
        return [high - head, left, high - foot, right]

    @property
    def rotation(self) -> tuple[float, float, float, float, float, float]:
        """The matrix that rotates the page (ISO 32000-2, 8.3.4)."""
        return 0.0, 1.0, -1.0, 0.0, self.media[3], 0.0

    @property
    def media(self) -> list[float]:
        return [0.0, 0.0, self.left + self.width + self.right, self.bottom + self.height + self.top]

    @property
    def trim(self) -> list[float]:
        return [self.left, self.bottom, self.left + self.width, self.bottom + self.height]

    @property
    def bleed_box(self) -> list[float]:
        left, right, top, bottom = self.bleed
        x0, y0, x1, y1 = self.trim
        return [x0 - left, y0 - bottom, x1 + right, y1 + top]

    def y(self, down: float) -> float:
        """A page coordinate on the sheet."""
        return self.bottom + self.height - down

    def x(self, right: float) -> float:
        return self.left + right


def sheet_for(
    brief: Brief, side: Side, recipe: Recipe, size: tuple[float, float] | None = None, on_its_side: bool = False
) -> PageBoxes:
    """The sheet of one page of the job under a recipe; ``size`` is the page's trim, the brief's by default. One that
    lies on its side may be rotated: its head is at the sheet's left then."""
    b = brief.bleed
    inner_left = side == "recto"
    bleed = (b.inner if inner_left else b.outer, b.outer if inner_left else b.inner, b.head, b.foot)
    rotated = on_its_side and recipe.landscape == "rotated"
    if rotated:
        left, right, top, bottom = bleed
        bleed = (bottom, top, left, right)
    if not recipe.bleed:
        bleed = (0.0, 0.0, 0.0, 0.0)
    room = 0.0
    if recipe.marks:
        room = max(max(bleed), recipe.mark_offset) + recipe.mark_length + 6.0
    around = [max(edge, room) for edge in bleed]
    width, height = size or (brief.width, brief.height)
    return PageBoxes(width, height, around[0], around[1], around[2], around[3], bleed, rotated)


def crop_marks(sheet: PageBoxes, recipe: Recipe) -> list[tuple[float, float, float, float]]:
    """The eight crop marks as lines on the sheet, each beginning outside both the bleed and the offset."""
    x0, y0, x1, y1 = sheet.trim
    left, right, top, bottom = sheet.bleed
    gap, length = recipe.mark_offset, recipe.mark_length
    lines = []
    for x in (x0, x1):
        lines.append((x, y1 + max(top, gap), x, y1 + max(top, gap) + length))
        lines.append((x, y0 - max(bottom, gap), x, y0 - max(bottom, gap) - length))
    for y in (y0, y1):
        lines.append((x0 - max(left, gap), y, x0 - max(left, gap) - length, y))
        lines.append((x1 + max(right, gap), y, x1 + max(right, gap) + length, y))
    return lines
