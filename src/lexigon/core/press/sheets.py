"""Pieces ganged on sheets: as many as fit, with cut marks, and backs that register with their fronts.

The sheets are made from the finished PDF of the pieces: each page becomes a form (ISO 32000-2, 8.10), so nothing in it
is painted again.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal

import pikepdf

from lexigon.core.errors import LexigonError
from lexigon.core.geometry import Rect
from lexigon.core.lengths import show
from lexigon.core.pdf.writer import number

MM = 72 / 25.4
SHEETS: dict[str, tuple[str, float, float]] = {
    "A4": ("A4", 210 * MM, 297 * MM),
    "A3": ("A3", 297 * MM, 420 * MM),
    "SRA3": ("SRA3", 320 * MM, 450 * MM),
    "Letter": ("Letter", 612.0, 792.0),
    "Tabloid": ("Tabloid", 792.0, 1224.0),
}
"""Sheets by id, with their names and sizes in points, upright (ISO 216, ISO 217, ANSI/ASME Y14.1)."""
MARK_LENGTH, MARK_WEIGHT, LEAST_OFFSET = 12.0, 0.25, 6.0
"""Points: cut marks, and how far they are from the trim at least."""
Order = Literal["rows", "stacks"]
Flip = Literal["long", "short"]


@dataclass(slots=True, frozen=True)
class SheetLayout:
    """How pieces are ganged. Lengths in points.

    ``order`` says where successive pieces are: in ``rows`` on one sheet after the other, or in ``stacks``, so that the
    cut stacks laid on each other are in order. ``flip`` is the edge about which the sheet is turned for the backs.
    """

    sheet: str = "A4"
    gap: float = 0.0
    margin: float = 10 * MM
    order: Order = "rows"
    flip: Flip = "long"
    marks: bool = True
    landscape: bool | None = None
    """Whether the sheet is on its side; None for the way on which more pieces fit."""

    def size(self, landscape: bool) -> tuple[float, float]:
        _, width, height = SHEETS[self.sheet]
        return (height, width) if landscape else (width, height)


@dataclass(slots=True, frozen=True)
class Grid:
    """The places of pieces on a sheet: rectangles of their trim, origin at the top left corner of the sheet. Points."""

    width: float
    height: float
    columns: int
    rows: int
    piece: tuple[float, float]
    gap: float

    @property
    def count(self) -> int:
        return self.columns * self.rows

    def places(self) -> list[Rect]:
        """Return the places row by row, centred on the sheet."""
        wide, high = self.piece
        left = (self.width - self.columns * wide - (self.columns - 1) * self.gap) / 2
        top = (self.height - self.rows * high - (self.rows - 1) * self.gap) / 2
        return [
            Rect(left + column * (wide + self.gap), top + row * (high + self.gap), wide, high)
            for row in range(self.rows)
            for column in range(self.columns)
        ]

    def backs(self, flip: Flip) -> list[Rect]:
        """Return the places of the backs, in the order of their fronts: mirrored about the edge where the sheet is
        turned."""
        about_vertical = (flip == "long") == (self.height >= self.width)
        if about_vertical:
            return [Rect(self.width - one.right, one.y, one.width, one.height) for one in self.places()]
        return [Rect(one.x, self.height - one.foot, one.width, one.height) for one in self.places()]

    def backs_rotated(self, flip: Flip) -> bool:
        """Return whether backs are printed upside down, so that they are upright when a piece is turned over."""
        return (flip == "long") != (self.height >= self.width)


def grid_of(layout: SheetLayout, width: float, height: float) -> Grid:
    """Return the places for pieces of a size. Raises LexigonError if none fits on the sheet."""
    if layout.sheet not in SHEETS:
        raise LexigonError(f"There is no sheet “{layout.sheet[:40]}”. There are: {', '.join(SHEETS)}.")
    ways = [layout.landscape] if layout.landscape is not None else [False, True]
    grids = []
    for way in ways:
        across, down = layout.size(way)
        columns = int((across - 2 * layout.margin + layout.gap + 1e-6) // (width + layout.gap))
        rows = int((down - 2 * layout.margin + layout.gap + 1e-6) // (height + layout.gap))
        grids.append(Grid(across, down, max(columns, 0), max(rows, 0), (width, height), layout.gap))
    best = max(grids, key=lambda grid: grid.count)
    if not best.count:
        name = SHEETS[layout.sheet][0]
        raise LexigonError(
            f"A piece of {show(width)} × {show(height)} does not fit on {name} with a margin of {show(layout.margin)}. "
            "Select a larger sheet."
        )
    return best


def arrangement(pieces: int, per_sheet: int, order: Order) -> list[list[int | None]]:
    """Return the numbers of the pieces on each sheet, by place; None where a place stays empty."""
    sheets = -(-pieces // per_sheet)
    result: list[list[int | None]] = []
    for sheet in range(sheets):
        if order == "rows":
            numbers = range(sheet * per_sheet, (sheet + 1) * per_sheet)
        else:
            numbers = range(sheet, sheets * per_sheet, sheets)
        result.append([number if number < pieces else None for number in numbers])
    return result


def gang(source: Path, target: Path, layout: SheetLayout, pieces: Sequence[int]) -> int:
    """Write sheets from a PDF whose pages are pieces one after the other, each with so many pages (``pieces``): the
    odd pages of pieces are fronts, the even ones their backs. Returns the number of pages. Raises LexigonError."""
    with pikepdf.open(source) as pdf:
        pages = list(pdf.pages)
        box = [float(value) for value in pages[0].trimbox]
        grid = grid_of(layout, box[2] - box[0], box[3] - box[1])
        ink = pdf.make_indirect(_registration(pdf))
        sides = _sides(pieces)
        two_sided = any(back is not None for _, back in sides)
        forms: dict[int, Any] = {}
        new: list[pikepdf.Page] = []
        for numbers in arrangement(len(sides), grid.count, layout.order):
            fronts = [sides[one][0] if one is not None else None for one in numbers]
            backs = [sides[one][1] if one is not None else None for one in numbers]
            new.append(_sheet(pdf, pages, forms, grid, grid.places(), fronts, layout, ink, False))
            if two_sided:
                turned = grid.backs_rotated(layout.flip)
                new.append(_sheet(pdf, pages, forms, grid, grid.backs(layout.flip), backs, layout, ink, turned))
        for page in new:
            pdf.pages.append(page)
        del pdf.pages[: len(pages)]
        for name in ("/PageLabels", "/Outlines", "/PageMode", "/PageLayout"):
            if name in pdf.Root:
                del pdf.Root[name]
        pdf.remove_unreferenced_resources()
        pdf.save(target, deterministic_id=True, object_stream_mode=pikepdf.ObjectStreamMode.preserve)
        return len(new)


def _sides(pieces: Sequence[int]) -> list[tuple[int, int | None]]:
    """The pages of each leaf: its front, and its back if it has one."""
    sides: list[tuple[int, int | None]] = []
    first = 0
    for count in pieces:
        for page in range(first, first + count, 2):
            sides.append((page, page + 1 if page + 1 < first + count else None))
        first += count
    return sides


def _sheet(
    pdf: pikepdf.Pdf,
    pages: Sequence[pikepdf.Page],
    forms: dict[int, Any],
    grid: Grid,
    places: Sequence[Rect],
    numbers: Sequence[int | None],
    layout: SheetLayout,
    ink: Any,
    turned: bool,
) -> pikepdf.Page:
    content: list[str] = []
    used: dict[str, Any] = {}
    for place, index in zip(places, numbers, strict=True):
        if index is None:
            continue
        if index not in forms:
            forms[index] = pdf.make_indirect(pages[index].as_form_xobject())
        name = f"/P{len(used)}"
        used[name] = forms[index]
        content += _placement(name, pages[index], place, grid, turned)
    if layout.marks:
        lines = " ".join(f"{number(a)} {number(b)} m {number(c)} {number(d)} l" for a, b, c, d in _marks(grid, places))
        content.append(f"q /Registration CS 1 SCN {number(MARK_WEIGHT)} w {lines} S Q")
    media = pikepdf.Array([0, 0, round(grid.width, 4), round(grid.height, 4)])
    resources = pikepdf.Dictionary(
        XObject=pikepdf.Dictionary(used), ColorSpace=pikepdf.Dictionary({"/Registration": ink})
    )
    page = pikepdf.Dictionary(
        Type=pikepdf.Name.Page,
        MediaBox=media,
        TrimBox=media,
        BleedBox=media,
        Resources=resources,
        Contents=pdf.make_stream("\n".join(content).encode()),
    )
    if "/Group" in pages[0]:
        page.Group = pages[0].Group
    return pikepdf.Page(pdf.make_indirect(page))


def _placement(name: str, page: pikepdf.Page, place: Rect, grid: Grid, turned: bool) -> Iterator[str]:
    """The operators that place a page: its trim in its place, clipped where the next piece begins."""
    trim = [float(value) for value in page.trimbox]
    bleed = [float(value) for value in page.bleedbox]
    over = [min(abs(a - b), grid.gap / 2 if grid.gap else 0.0) for a, b in zip(trim, bleed, strict=True)]
    if not grid.gap:  # on the outside of the block the bleed stays, between pieces there is none
        over = _outer_bleed(place, grid, [abs(a - b) for a, b in zip(trim, bleed, strict=True)], turned)
    left, foot = place.x, grid.height - place.foot
    if turned:
        matrix = (-1.0, 0.0, 0.0, -1.0, left + trim[2], foot + trim[3])
    else:
        matrix = (1.0, 0.0, 0.0, 1.0, left - trim[0], foot - trim[1])
    clip = (trim[0] - over[0], trim[1] - over[1], trim[2] + over[2], trim[3] + over[3])
    box = " ".join(map(number, (clip[0], clip[1], clip[2] - clip[0], clip[3] - clip[1])))
    yield f"q {' '.join(map(number, matrix))} cm {box} re W n {name} Do Q"


def _outer_bleed(place: Rect, grid: Grid, bleed: Sequence[float], turned: bool) -> list[float]:
    """The bleed (left, foot, right, head of the page) on the sides of a piece that are at the edge of the block."""
    places = grid.places()
    left, right = min(one.x for one in places), max(one.right for one in places)
    top, foot = min(one.y for one in places), max(one.foot for one in places)
    free = [place.x < left + 0.1, place.foot > foot - 0.1, place.right > right - 0.1, place.y < top + 0.1]
    if turned:
        free = [free[2], free[3], free[0], free[1]]
    return [size if is_free else 0.0 for size, is_free in zip(bleed, free, strict=True)]


def _marks(grid: Grid, places: Sequence[Rect]) -> Iterator[tuple[float, float, float, float]]:
    """Cut marks outside the block of pieces, at every edge of a trim."""
    left, right = min(one.x for one in places), max(one.right for one in places)
    top, foot = min(one.y for one in places), max(one.foot for one in places)
    offset, high = max(LEAST_OFFSET, grid.gap / 2), grid.height
    for x in sorted({round(edge, 3) for one in places for edge in (one.x, one.right)}):
        yield x, high - top + offset, x, high - top + offset + MARK_LENGTH
        yield x, high - foot - offset, x, high - foot - offset - MARK_LENGTH
    for y in sorted({round(edge, 3) for one in places for edge in (one.y, one.foot)}):
        yield left - offset, high - y, left - offset - MARK_LENGTH, high - y
        yield right + offset, high - y, right + offset + MARK_LENGTH, high - y


def _registration(pdf: pikepdf.Pdf) -> Any:
    """The colour space of marks in every ink (ISO 32000-2, 8.6.6.4)."""
    function = pikepdf.Dictionary(
        FunctionType=2, Domain=[0, 1], C0=[0, 0, 0, 0], C1=[1, 1, 1, 1], N=1, Range=[0, 1, 0, 1, 0, 1, 0, 1]
    )
    return pikepdf.Array(
        [pikepdf.Name.Separation, pikepdf.Name.All, pikepdf.Name.DeviceCMYK, pdf.make_indirect(function)]
    )
