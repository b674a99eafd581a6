"""Paper: what one page adds to the thickness of a book, and the papers that ship with Lexigon.

A *leaf* is a sheet's thickness and carries two *pages*. Printers give either the thickness of a page in inches,
pages to the inch, or the caliper of a leaf in microns; all three are stored as points per page.
"""

from __future__ import annotations

from lexigon.core.document.model import Paper
from lexigon.core.lengths import POINTS

INCH, MICRON = POINTS["in"], POINTS["mm"] / 1000


def by_page(id_: str, name: str, inches: float, weight: str = "", opacity: float | None = None) -> Paper:
    """A paper by the thickness of one page in inches."""
    return Paper(id_, name, inches * INCH, weight, opacity)


def by_caliper(id_: str, name: str, microns: float, weight: str = "", opacity: float | None = None) -> Paper:
    """A paper by the thickness of one leaf (two pages) in microns."""
    return Paper(id_, name, microns * MICRON / 2, weight, opacity)


PAPERS = {
    paper.id: paper
    for paper in (
        by_page("white", "White book paper", 0.002252, "55 lb"),
        by_page("cream", "Cream book paper", 0.0025, "55 lb"),
        by_caliper("offset80", "Uncoated offset, 80 g/m²", 105, "80 g/m²", 0.92),
        by_caliper("offset120", "Uncoated offset, 120 g/m²", 155, "120 g/m²", 0.97),
        by_caliper("silk115", "Coated silk, 115 g/m²", 95, "115 g/m²", 0.96),
        by_caliper("silk170", "Coated silk, 170 g/m²", 145, "170 g/m²", 0.98),
        by_caliper("bulky80", "Bulky book paper 1.8, 80 g/m²", 144, "80 g/m²", 0.94),
        by_caliper("board300", "Board, 300 g/m²", 390, "300 g/m²", 1.0),
    )
}
"""White and cream: check values of the trade (common practice, no source). The metric calipers are typical ones, from
memory; a printer's own figure is typed over them."""


def caliper(paper: Paper) -> float:
    """Thickness of a leaf in points."""
    return paper.page * 2
