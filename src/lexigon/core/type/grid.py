"""The baseline grid, and how many lines fit a height: the Brief shows what the columns will have."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil, floor

EPSILON = 0.01
"""By how much a line may pass the foot of a column, in points: less than any device shows."""


@dataclass(slots=True, frozen=True)
class Grid:
    """The baseline grid: lines at ``start + k * step`` from the page's head. ``step`` 0: none."""

    start: float = 0.0
    step: float = 0.0

    def snap(self, y: float) -> float:
        return self.start + ceil((y - self.start) / self.step - 1e-6) * self.step

    def leading(self, leading: float) -> float:
        return max(ceil(leading / self.step - 1e-6), 1) * self.step


def lines_down(first: float, step: float, descent: float, foot: float) -> int:
    """Return the number of lines from baseline ``first`` down, a ``step`` apart, with their descenders above
    ``foot``."""
    return floor((foot - descent - first) / step) + 1 if first + descent <= foot else 0
