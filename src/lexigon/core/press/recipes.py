"""Recipes: named settings of an output. Lengths in points."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.errors import LexigonError
from lexigon.core.job.ranges import page_range


@dataclass(slots=True, frozen=True)
class Recipe:
    id: str
    name: str
    summary: str
    kind: Literal["print", "screen", "png"]
    profile: str = "coated"
    bleed: bool = False
    marks: bool = False
    mark_length: float = 18.0
    mark_weight: float = 0.25
    mark_offset: float = 9.0
    """From the trim; never nearer than the bleed. 0.125 in and never 0 (common practice, no source)."""
    information: bool = False
    links: bool = False
    ppi: int = 300
    whole_fonts: bool = False
    """Fonts go in uncut: quicker for drafts of a few pages."""


RECIPES = {
    recipe.id: recipe
    for recipe in (
        Recipe("print", "Printer, with bleed and marks", "PDF/X-4 · coated offset · marks 0.125 in out", "print",
               bleed=True, marks=True, information=True),
        Recipe("trim", "Printer, trimmed pages", "PDF/X-4 · coated offset · bleed, no marks", "print", bleed=True),
        Recipe("screen", "Screen", "bookmarks and links · single pages", "screen", links=True),
        Recipe("png", "Page images", "PNG, one file a page · 150 ppi", "png", ppi=150),
    )
}  # fmt: skip


def recipe(name: str, **changes: object) -> Recipe:
    """The recipe of that id, with some of its settings changed. Raises LexigonError if there is none."""
    if name not in RECIPES:
        raise LexigonError(f"There is no recipe “{name}”. There are: {', '.join(RECIPES)}.")
    return replace(RECIPES[name], **changes)  # type: ignore[arg-type]


__all__ = ["RECIPES", "Recipe", "page_range", "recipe"]
