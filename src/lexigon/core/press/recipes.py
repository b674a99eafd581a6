"""Recipes: named settings of an output. Lengths in points."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.errors import LexigonError


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


def page_range(text: str, count: int) -> list[int]:
    """Page indexes from ``1-8, 12``; empty text is all of them. Raises LexigonError in plain words."""
    if not text.strip():
        return list(range(count))
    pages: list[int] = []
    for part in text.replace("–", "-").split(","):
        first, dash, last = (piece.strip() for piece in part.partition("-"))
        if not first.isdecimal() or (dash and last and not last.isdecimal()):
            raise LexigonError(f"“{part.strip()}” is not a page or a range such as 3-8.")
        begin, end = int(first), int(last) if last else (count if dash else int(first))
        if begin > end:
            raise LexigonError(f"The range {begin}-{end} runs backwards.")
        if begin < 1 or end > count:
            raise LexigonError(f"The job has pages 1 to {count}; “{part.strip()}” lies outside.")
        pages += range(begin - 1, end)
    return pages
