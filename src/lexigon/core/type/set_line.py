"""A line of a set paragraph."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(slots=True)
class SetLine:
    """A line: text ``start`` up to ``end`` in code points; the next one begins at ``next``.

    ``ratio`` is the adjustment of its spaces (Knuth & Plass): 0 natural, above 0 opened, below 0
    closed, below -1 longer than the measure. ``width`` is natural, in points.
    """

    start: int
    end: int
    next: int
    width: float
    ratio: float
    hyphen: bool
    stretches: bool
    """The line is justified: its spaces open and close until it fills the measure."""
    indent: float
    left: float = 0.0
    """Left edge of its measure, from the column's; ``measure`` its width, 0 for the column's."""
    measure: float = 0.0
    letters: float = 0.0
    """Added between letters, in points; ``glyphs`` is the factor of their width."""
    glyphs: float = 1.0
    tabs: tuple[float, ...] = ()
    """What each tab advances."""
