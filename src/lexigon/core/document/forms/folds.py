"""Folded pieces: cards and brochures. Outside and inside are two pages of one flat sheet. Lengths in points.

Panel orders were found by folding: the inside of a sheet is its outside turned over sideways (for folds at the
top: head over foot), so the panels of one run against those of the other. That a rolled-in panel is made a little
narrower so that it lies flat is common practice, no source.
"""

from __future__ import annotations

from lexigon.core.document.brief_rules import check_fold
from lexigon.core.document.forms.panels import Panel
from lexigon.core.document.model import Fold
from lexigon.core.geometry import Rect


def panel_lengths(fold: Fold) -> list[float]:
    """The panels' lengths across the folds, on the outside, in order."""
    check_fold(fold)
    full = fold.width if fold.direction == "side" else fold.height
    less = fold.allowance
    if fold.fold == "letter":
        return [full - less, full, full]
    if fold.fold == "gate":
        half = (full - less) / 2
        return [half, full, half] if fold.panels == 3 else [full - less, full, full, full - less]
    return [full] * fold.panels


def sheet_size(fold: Fold) -> tuple[float, float]:
    """Trim width and height of the flat sheet."""
    total = sum(panel_lengths(fold))
    return (total, fold.height) if fold.direction == "side" else (fold.width, total)


def _facings(fold: Fold) -> tuple[list[str], list[str]]:
    """Return what each panel is, outside and inside, each in its own order on the sheet."""
    count = fold.panels
    if fold.fold == "half":
        inside = ["inside left", "inside right"] if fold.direction == "side" else ["inside top", "inside bottom"]
        return ["back", "front"], inside
    if fold.fold == "letter":
        return ["roll-in flap", "back", "front"], ["inside 1", "inside 2", "inside flap"]
    if fold.fold == "gate":
        if count == 3:
            return ["front, right half", "back", "front, left half"], ["left gate", "centre", "right gate"]
        return ["right flap", "back", "front", "left flap"], ["inside 1", "inside 2", "inside 3", "inside 4"]
    # Accordion: the front is the first panel; an even count ends on the same side, an odd one on the other.
    outside = ["front", *(f"panel {n}" for n in range(2, count + 1))]
    inside = [f"panel {count + n}" for n in range(1, count + 1)]
    if count % 2 == 0:
        outside[-1] = "back"
    else:
        inside[0] = "back"
    return outside, inside


def fold_panels(fold: Fold, face: str) -> list[Panel]:
    """The panels of one face of the sheet, "outside" or "inside", left to right or top to bottom."""
    lengths = panel_lengths(fold)
    outside, inside = _facings(fold)
    names = outside
    if face == "inside":
        lengths, names = lengths[::-1], inside
    panels, at = [], 0.0
    for name, length in zip(names, lengths, strict=True):
        if fold.direction == "side":
            rect = Rect(at, 0.0, length, fold.height)
        else:
            rect = Rect(0.0, at, fold.width, length)
        # With the fold at the top, the back is upside down behind the front.
        turn = 180 if fold.direction == "top" and name == "back" and fold.fold != "accordion" else 0
        panels.append(Panel(name, rect, name, turn))
        at += length
    return panels
