"""Bindings: possible page counts, printer's pairs, signatures, creep."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil

from lexigon.core.brief.paper import caliper
from lexigon.core.document.model import Binding, Paper
from lexigon.core.errors import LexigonError

MULTIPLE: dict[Binding, int] = {"none": 1, "stitched": 4, "perfect": 2, "wire": 2}
"""A stitched booklet is made of sheets of four pages; glued and wired leaves have two."""
LEAST: dict[Binding, int] = {"none": 1, "stitched": 8, "perfect": 24, "wire": 2}
"""Fewest pages (common practice, no source)."""
MOST: dict[Binding, int] = {"none": 5000, "stitched": 96, "perfect": 1200, "wire": 300}
"""Most pages (common practice, no source)."""
BINDINGS: dict[Binding, str] = {
    "none": "Not bound",
    "stitched": "Saddle stitch",
    "perfect": "Perfect binding",
    "wire": "Wire",
}


@dataclass(slots=True, frozen=True)
class Count:
    """A page count, and whether a binding can make it. ``next`` is the nearest larger count that it can."""

    ok: bool
    next: int
    why: str


def count(binding: Binding, pages: int, coming: bool = False) -> Count:
    """Return what a binding makes of a page count. ``coming``: there is no text yet, and the pages come with it."""
    if coming and pages <= 1 and binding != "none":
        return Count(True, pages, f"{BINDINGS[binding].lower()}: pages are added as the text needs them")
    step, least, most = MULTIPLE[binding], LEAST[binding], MOST[binding]
    following = max(ceil(pages / step) * step, ceil(least / step) * step)
    name = BINDINGS[binding].lower()
    if pages % step:
        become = "page becomes" if pages == 1 else "pages become"
        return Count(False, following, f"{name}: needs a multiple of {step}; {pages} {become} {following}")
    if pages < least:
        return Count(False, following, f"{name}: needs at least {least} pages")
    if pages > most:
        return Count(False, pages, f"{name}: at most {most} pages; {pages} are too many")
    return Count(True, pages, f"{name}: {pages} pages are possible" if binding != "none" else "")


@dataclass(slots=True, frozen=True)
class Pair:
    """Two pages side by side on one face of a printer's sheet, by number; None is a blank."""

    sheet: int
    face: str
    left: int | None
    right: int | None
    creep: float = 0.0
    """How far the fold pushes these pages outward at the trim, in points."""


def booklet(pages: int, paper: Paper | None = None, first: int = 1) -> list[Pair]:
    """A stitched booklet's pairs, outermost sheet first; blanks fill up to a multiple of four.

    Creep: each sheet lies one leaf's thickness further out than the one round it (common practice, no source).
    """
    if pages < 1:
        raise LexigonError("A booklet has at least one page.", "pages")
    total = ceil(pages / 4) * 4
    leaf = caliper(paper) if paper else 0.0

    def page(number: int) -> int | None:
        return first + number - 1 if number <= pages else None

    pairs = []
    for sheet in range(total // 4):
        low, high, creep = 2 * sheet + 1, total - 2 * sheet, sheet * leaf
        pairs.append(Pair(sheet + 1, "front", page(high), page(low), creep))
        pairs.append(Pair(sheet + 1, "back", page(low + 1), page(high - 1), creep))
    return pairs


def signatures(pages: int, size: int) -> list[tuple[int, int]]:
    """First and last page of each gathered section of ``size`` pages (4, 8, 16, 32)."""
    if size < 4 or size % 4:
        raise LexigonError("A signature has 4, 8, 16 or 32 pages.", "signature")
    return [(first, min(first + size - 1, pages)) for first in range(1, pages + 1, size)]
