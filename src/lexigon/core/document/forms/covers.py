"""Covers: back, spine and front on one sheet, with flaps for a jacket. Lengths in points.

Spine width = pages x thickness of a page (common practice; printers may add glue or board, which is typed as a
spine of one's own). Nothing is rounded on the way; what is shown is rounded to the unit's usual decimals.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import floor

from lexigon.core.document.forms.panels import Panel
from lexigon.core.document.model import Cover, Paper
from lexigon.core.errors import LexigonError
from lexigon.core.geometry import Rect
from lexigon.core.lengths import POINTS, show

INCH = POINTS["in"]
SPINE_TEXT_FROM = 0.25 * INCH
"""Thinnest spine that bears type (common practice, no source)."""
SPINE_SAFE = INCH / 16
"""Kept clear on either side of spine type, since folds wander (common practice, no source)."""
LINE_HEIGHT = 1.2
"""Room a line of type needs, as a multiple of its size (common practice, no source)."""
CODE_AREA = (2 * INCH, 1.2 * INCH)
"""Width and height of the area for the bar code at the foot of the back (common practice, no source)."""
SPINE_TOLERANCE = 0.005 * INCH
"""A typed spine this near to the computed one does not contradict it."""


def spine_width(pages: int, paper: Paper | None) -> float:
    """The spine of ``pages`` pages. Raises LexigonError for a count or a paper that cannot be."""
    if pages < 1:
        raise LexigonError("A spine needs the number of pages.", "pages")
    if pages > 5000:
        raise LexigonError("More than 5,000 pages cannot be bound as one book.", "pages")
    if paper is None:
        raise LexigonError(
            "The spine cannot be computed without a paper. Select a paper, or type the spine width.", "paper"
        )
    return pages * paper.page


def spine_of(cover: Cover, paper: Paper | None) -> float:
    """The spine a cover has: the typed one, or the computed one."""
    return cover.spine if cover.spine is not None else spine_width(cover.pages, paper)


def cover_size(cover: Cover, spine: float) -> tuple[float, float]:
    """Trim width and height of the flat sheet."""
    return 2 * (cover.width + cover.flap) + spine, cover.height


def cover_panels(cover: Cover, spine: float) -> list[Panel]:
    """The panels from left to right: flap, back, spine, front, flap."""
    widths = [
        ("back flap", cover.flap),
        ("back", cover.width),
        ("spine", spine),
        ("front", cover.width),
        ("front flap", cover.flap),
    ]
    panels, x = [], 0.0
    for name, width in widths:
        if width > 0:
            panels.append(Panel(name, Rect(x, 0.0, width, cover.height), name))
        x += width
    return panels


@dataclass(slots=True, frozen=True)
class SpineType:
    """The type that a spine can have: none, or up to a largest size in points."""

    allowed: bool
    largest: float
    """In points, 0 where none is allowed."""
    safe: Rect | None


def spine_type(panel: Panel) -> SpineType:
    """Return the type that the spine can have: one line between two clear strips."""
    spine = panel.rect.width
    room = spine - 2 * SPINE_SAFE
    if spine < SPINE_TEXT_FROM - 1e-6:
        return SpineType(False, 0.0, None)
    safe = Rect(panel.rect.x + SPINE_SAFE, panel.rect.y + INCH / 4, room, panel.rect.height - INCH / 2)
    return SpineType(True, floor(room / LINE_HEIGHT + 0.5), safe)


def code_area(back: Panel, safe: float) -> Rect:
    """The area for the bar code: at the foot of the back, next to the spine, within the safe zone."""
    width, height = min(CODE_AREA[0], back.rect.width), min(CODE_AREA[1], back.rect.height)
    return Rect(back.rect.right - safe - width, back.rect.foot - safe - height, width, height)


def contradictions(cover: Cover, paper: Paper | None, unit: str = "in") -> list[str]:
    """Return what was typed that the page count and the paper do not bear out, each with both numbers."""
    if cover.spine is None or cover.pages < 1 or paper is None:
        return []
    computed = spine_width(cover.pages, paper)
    if abs(computed - cover.spine) <= SPINE_TOLERANCE:
        return []
    fits = round(cover.spine / paper.page)
    return [
        f"You typed a spine of {show(cover.spine, unit)}, but {cover.pages} pages of {paper.name.lower()} make "
        f"{show(computed, unit)}, and a cover {show(cover_size(cover, computed)[0], unit)} wide instead of "
        f"{show(cover_size(cover, cover.spine)[0], unit)}. {show(cover.spine, unit)} would be about {fits} pages."
    ]
