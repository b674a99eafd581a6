"""The boxes of a printed page (ISO 32000-2, 14.11.2; ISO 15930-7).

Page coordinates: origin at the trim's top left corner, y downward. PageBoxes coordinates: origin at the
media's bottom left corner, y upward, as PDF has it.
"""

from __future__ import annotations

from dataclasses import dataclass


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
