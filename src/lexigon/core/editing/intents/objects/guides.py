"""Intents about guides: the lines of a page, or of a master's pages, to set things against."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from lexigon.core.document.holder_keys import master_half
from lexigon.core.document.limits import Length, Many, Within
from lexigon.core.document.model import Guide, Job, PageGrid
from lexigon.core.editing.edits import EditError, Primitive, SetGuides, SetPageGrid
from lexigon.core.editing.holders import holder
from lexigon.core.editing.intents.objects.areas import area_for
from lexigon.core.geometry import Rect

MOST_GUIDES = 400
FINEST = 1.0
"""Points between two lines of a page grid."""


@dataclass(slots=True, frozen=True)
class PutGuides:
    """The guides of a page; or of a master page's half, where those of the other half and of both stay."""

    page: str
    guides: Annotated[tuple[Guide, ...], Many(MOST_GUIDES)]
    do: Literal["put-guides"] = "put-guides"
    label = "Change guides"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        half = master_half(self.page)
        if place.page is None and half is None:
            raise EditError("Guides are on pages and master pages.")
        new = tuple(dict.fromkeys(self.guides))
        if place.master is not None:
            others = tuple(guide for guide in place.master.guides if guide.side not in ("both", place.side))
            new = (*others, *new)
            old = place.master.guides
        else:
            assert place.page is not None
            old = place.page.guides
        return [SetGuides(half[0] if half else self.page, new, half is not None)] if new != old else []


@dataclass(slots=True, frozen=True)
class PutPageGrid:
    """The page grid, or none."""

    grid: PageGrid | None = None
    do: Literal["put-page-grid"] = "put-page-grid"
    label = "Change page grid"

    def expand(self, job: Job) -> list[Primitive]:
        if self.grid is not None and min(self.grid.across, self.grid.down) / self.grid.parts < FINEST:
            raise EditError(
                "The lines of this page grid would be less than 1 pt apart. Use fewer subdivisions or wider spacing."
            )
        return [SetPageGrid(self.grid)] if self.grid != job.brief.page_grid else []


Count = Annotated[int, Within(1, 40, "Columns and rows are 1 to 40.")]


@dataclass(slots=True, frozen=True)
class DivideByGuides:
    """Guides that divide the margins, the page or the bleed of each page into columns and rows, with ``gutter`` points
    between columns and ``row_gutter`` between rows; instead of the guides there, or with ``keep`` beside them."""

    pages: Annotated[tuple[str, ...], Many(5000)] = ()
    """Or halves of masters; none for every page."""
    columns: Count = 1
    rows: Count = 1
    gutter: Length = 0.0
    row_gutter: Length = 0.0
    to: Literal["margins", "page", "bleed"] = "margins"
    keep: bool = False
    do: Literal["divide-by-guides"] = "divide-by-guides"
    label = "Add columns and rows of guides"

    def expand(self, job: Job) -> list[Primitive]:
        edits: list[Primitive] = []
        for key in dict.fromkeys(self.pages) or [page.id for page in job.pages]:
            place = holder(job, key)
            if place.page is None and place.master is None:
                raise EditError("Guides are on pages and master pages.")
            area = area_for(place, self.to, Rect(0.0, 0.0, 0.0, 0.0))
            side = "both" if place.page is not None else place.side
            had = (
                place.page.guides if place.page is not None else place.master.guides if place.master is not None else ()
            )
            kept_guides = [guide for guide in had if guide.side in ("both", side)] if self.keep else []
            new = [Guide("x", at, side) for at in divided(area.x, area.width, self.columns, self.gutter, "columns")]
            new += [Guide("y", at, side) for at in divided(area.y, area.height, self.rows, self.row_gutter, "rows")]
            if len(kept_guides) + len(new) > MOST_GUIDES:
                raise EditError(f"A page has at most {MOST_GUIDES} guides.")
            edits += PutGuides(key, (*kept_guides, *new)).expand(job)
        return edits


def divided(start: float, length: float, parts: int, gutter: float, what: str = "parts") -> list[float]:
    """The lines within a length that is divided into equal parts with gutters between: both sides of each gutter, or
    one line without."""
    part = (length - gutter * (parts - 1)) / parts
    if part <= 0 or gutter < 0:
        raise EditError(f"{parts} {what} with these gaps leave no room between them.")
    lines = [start + n * (part + gutter) - back for n in range(1, parts) for back in (gutter, 0.0)]
    return list(dict.fromkeys(round(at, 4) for at in lines))
