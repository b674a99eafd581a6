"""Recipes: named settings of an output. Lengths in points."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.document.page_ranges import page_range
from lexigon.core.errors import LexigonError
from lexigon.core.lengths import show

Landscape = Literal["rotated", "upright"]


@dataclass(slots=True, frozen=True)
class Recipe:
    id: str
    name: str
    kind: Literal["print", "older", "archive", "screen", "png", "jpeg", "svg"]
    profile: str = "coated"
    bleed: bool = False
    marks: bool = False
    mark_length: float = 18.0
    mark_weight: float = 0.25
    mark_offset: float = 9.0
    """From the trim; never nearer than the bleed. 0.125 in and never 0 (common practice, no source)."""
    information: bool = False
    links: bool = False
    landscape: Landscape = "upright"
    """How pages on their side are placed: rotated on the sheet of the others, with their top to the left, or
    upright on a sheet of their own size.
    (Common practice, no source: tables on their side are read with the book turned clockwise, on left-hand and
    right-hand pages alike.)"""
    ppi: int = 300

    @property
    def paged(self) -> bool:
        """Return whether each page is a separate file."""
        return self.kind in ("png", "jpeg", "svg")

    @property
    def suffix(self) -> str:
        """Return the extension of its files."""
        return {"png": ".png", "jpeg": ".jpg", "svg": ".svg"}.get(self.kind, ".pdf")

    def describe(self, unit: str = "mm") -> str:
        """Return what it makes, in a sentence."""
        if self.kind == "screen":
            return "A PDF for reading on screen: single pages with bookmarks and links."
        if self.kind == "archive":
            return (
                f"A PDF/A-1b for archiving: single pages in the inks of {self.profile} paper, everything embedded, no "
                "transparency."
            )
        if self.kind == "png":
            return f"A PNG picture of each page at {self.ppi} ppi."
        if self.kind == "jpeg":
            return f"A JPEG picture of each page at {self.ppi} ppi, smaller than PNG."
        if self.kind == "svg":
            return "An SVG drawing of each page, with text as outlines, for the web and other programs."
        form = "PDF/X-1a" if self.kind == "older" else "PDF/X-4"
        bleed = "with the bleed" if self.bleed else "without bleed"
        marks = f"crop marks {show(self.mark_offset, unit)} outside them" if self.marks else "no marks"
        mixed = ", without transparency: transparent areas become pixels" if self.kind == "older" else ""
        return f"A {form} for offset on {self.profile} paper: the pages {bleed}, {marks}{mixed}."


RECIPES = {
    recipe.id: recipe
    for recipe in (
        Recipe(
            "print",
            "Printer, with bleed and marks",
            "print",
            bleed=True,
            marks=True,
            information=True,
            landscape="rotated",
        ),
        Recipe(
            "uncoated",
            "Printer, uncoated paper",
            "print",
            profile="uncoated",
            bleed=True,
            marks=True,
            information=True,
            landscape="rotated",
        ),
        Recipe(
            "older",
            "PDF/X-1a (no transparency)",
            "older",
            bleed=True,
            marks=True,
            information=True,
            landscape="rotated",
        ),
        Recipe("trim", "Printer, trimmed pages", "print", bleed=True, landscape="rotated"),
        Recipe("archive", "Archive", "archive", links=True),
        Recipe("screen", "Screen", "screen", links=True),
        Recipe("png", "Page images, PNG", "png", ppi=150),
        Recipe("jpeg", "Page images, JPEG", "jpeg", ppi=150),
        Recipe("svg", "Page drawings, SVG", "svg"),
    )
}


def recipe(name: str, **changes: object) -> Recipe:
    """The recipe of that id, with some of its settings changed. Raises LexigonError if there is none."""
    if name not in RECIPES:
        raise LexigonError(f"There is no recipe “{name}”. There are: {', '.join(RECIPES)}.")
    return replace(RECIPES[name], **changes)  # type: ignore[arg-type]


def pdf_recipe(chosen: Recipe) -> Recipe:
    """Return the recipe of the PDF that page images are made from; of a PDF, the recipe itself."""
    return recipe("screen", links=False) if chosen.paged else chosen


__all__ = ["RECIPES", "Recipe", "page_range", "pdf_recipe", "recipe"]
