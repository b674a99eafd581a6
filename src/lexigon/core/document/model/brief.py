"""The set-up of a piece: its page, margins and bleed, its form, its paper."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from lexigon.core.document.limits import (
    MOST_ENTRIES,
    Extent,
    Id,
    Key,
    Language,
    Length,
    Many,
    Name,
    Opacity,
    PageColumns,
    Pages,
    Within,
)
from lexigon.core.document.model.choices import Binding, Side, Unit
from lexigon.core.geometry import Rect


@dataclass(slots=True, frozen=True)
class Edges:
    """Four lengths round a page. ``inner`` is the edge at the spine, ``outer`` the one at the thumb."""

    head: Length = 0.0
    foot: Length = 0.0
    inner: Length = 0.0
    outer: Length = 0.0


@dataclass(slots=True, frozen=True)
class Paper:
    """A paper. ``page`` is what one page (half a leaf) adds to the thickness of a book, in points."""

    id: Key
    name: Name
    page: Extent
    weight: Name = ""
    opacity: Opacity | None = None


@dataclass(slots=True, frozen=True)
class Cover:
    """The page is a flat cover: (flap,) back, spine, front (, flap). Width and height are the bound book's."""

    width: Extent
    height: Extent
    pages: Pages = 0
    spine: Extent | None = None
    """A spine typed in; ``None`` computes it from pages and paper."""
    flap: Extent = 0.0
    interior: Id | None = None
    """The job whose pages this cover binds: its page count and paper rule the spine."""
    kind: Literal["cover"] = "cover"


@dataclass(slots=True, frozen=True)
class Fold:
    """The page is a flat sheet that is folded, outside first, inside second. Width and height are the folded
    piece's."""

    width: Extent
    height: Extent
    fold: Literal["half", "letter", "accordion", "gate"] = "half"
    panels: Annotated[int, Within(2, 4, "A sheet is folded in 2 to 4 panels.")] = 2
    direction: Literal["side", "top"] = "side"
    """Where the front is hinged: folds run down the sheet, or across it."""
    allowance: Extent = 0.0
    """How much narrower a rolled-in panel is; for a gate, the gap between its wings."""
    kind: Literal["fold"] = "fold"


GridSpace = Annotated[float, Within(2, 2000, "The spacing of a page grid is 2 to 2,000 pt.")]


@dataclass(slots=True, frozen=True)
class PageGrid:
    """Lines across and down every page to set things against: so far apart, each space divided into equal parts, from a
    point of the page."""

    across: GridSpace = 28.346
    down: GridSpace = 28.346
    parts: Annotated[int, Within(1, 20, "A page grid has 1 to 20 subdivisions.")] = 1
    x: Length = 0.0
    y: Length = 0.0


@dataclass(slots=True, frozen=True)
class Brief:
    """The set-up of a job: the page, its margins and bleed, its language and its baseline grid."""

    width: Extent
    height: Extent
    margins: Edges
    bleed: Edges = Edges()
    unit: Unit = "mm"
    facing: bool = True
    columns: PageColumns = 1
    gutter: Extent = 12.0
    grid_start: Length = 0.0
    """First baseline of the grid, from the page's head."""
    grid_step: Extent = 0.0
    """Distance of the grid's lines; 0 means there is no grid."""
    language: Language = "en-GB"
    exceptions: Annotated[tuple[Name, ...], Many(MOST_ENTRIES)] = ()
    """Words hyphenated differently from the patterns, with their break points marked, as in ``ob-ser-va-tory``; without
    any mark never."""
    rows: Annotated[int, Within(1, 40, "A page is divided into 1 to 40 rows.")] = 1
    """Rows the text area is divided into, for guides."""
    row_gutter: Extent = 12.0
    binding: Binding = "none"
    paper: Key | None = None
    colour: Literal["process", "screen"] = "process"
    ppi: Annotated[float, Within(30, 2400, "Resolution is between 30 and 2,400 ppi.")] = 300.0
    """Resolution that pictures should have in print."""
    safe: Extent = 0.0
    """How far text keeps from trim and folds, where the piece has panels."""
    page_grid: PageGrid | None = None
    form: Cover | Fold | None = None
    """How the flat page becomes the piece; ``None`` for pages that are bound or stand alone."""

    def side(self, index: int) -> Side:
        """Return which half of a spread the page at ``index`` is: the first page is a recto."""
        return "recto" if not self.facing or index % 2 == 0 else "verso"

    def text_area(self, side: Side, margins: Edges | None = None, turned: bool = False) -> Rect:
        """The rectangle within the margins (the brief's own, or a master page's)."""
        m = margins or self.margins
        width, height = self.page_size(turned)
        left = m.inner if side == "recto" else m.outer
        return Rect(left, m.head, width - m.inner - m.outer, height - m.head - m.foot)

    def page_size(self, turned: bool = False) -> tuple[float, float]:
        """Trim width and height of a page, or of one turned on its side."""
        return (self.height, self.width) if turned else (self.width, self.height)
