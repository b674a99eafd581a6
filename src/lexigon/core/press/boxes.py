"""The sheet of a job's page under a recipe, and the marks round it."""

from __future__ import annotations

from lexigon.core.document.model import Brief, Side
from lexigon.core.pdf.boxes import PageBoxes
from lexigon.core.press.recipes import Recipe


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
