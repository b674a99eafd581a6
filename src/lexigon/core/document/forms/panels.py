"""A panel: a part of a flat sheet between its folds, and which way the reader sees it."""

from __future__ import annotations

from dataclasses import dataclass

from lexigon.core.geometry import Rect


@dataclass(slots=True, frozen=True)
class Panel:
    """``rect`` in the sheet's trim coordinates; ``facing`` says what the reader sees there."""

    name: str
    rect: Rect
    facing: str
    turn: int = 0
    """Degrees its contents are turned on the flat sheet so that the reader has them upright: 0 or 180."""

    @property
    def is_spine(self) -> bool:
        return self.name.endswith("spine")

    def safe(self, margin: float) -> Rect:
        """Return where text keeps clear of trim and folds."""
        margin = min(margin, self.rect.width / 2, self.rect.height / 2)
        return self.rect.inset(margin, margin, margin, margin)


def fold_lines(panels: list[Panel], along: str = "x") -> list[float]:
    """Return where the sheet folds between its panels: x positions, or y with ``along`` "y"."""
    if along == "x":
        return [panel.rect.x for panel in panels[1:]]
    return [panel.rect.y for panel in panels[1:]]
