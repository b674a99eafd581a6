"""Fills of cells and rules of a table, below its text."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

from lexigon.core.colour.palette import Palette
from lexigon.core.document.cascade import stroke_of
from lexigon.core.document.model import Job, Stroke
from lexigon.core.flow.table_cells import Band
from lexigon.core.flow.tables import TableBody
from lexigon.core.geometry import Rect
from lexigon.core.paint.items import Item
from lexigon.core.paint.strokes import fill_and_stroke, ruled
from lexigon.core.path.shapes import line_path, rect_path
from lexigon.core.path.steps import Steps
from lexigon.core.type.runs import looks_of

SAME = 0.01
"""Points that make no difference."""


def near(value: float) -> int:
    """A key by which rules on one line find each other. Sums that should be equal differ in their last bits: they are
    shifted so that no sum of round numbers is on a boundary between two keys."""
    return round((value + 0.00371) * 50)


KINDS = ("rows", "columns", "head", "sides", "outer")
"""The rules of a table's style, those that come before others last."""


@dataclass(slots=True, frozen=True)
class Edge:
    """A rule: across the table at a height, or down it at a place from the left, from its begin to its end."""

    down: bool
    at: float
    begin: float
    end: float

    def steps(self, before: float = 0.0, behind: float = 0.0) -> Steps:
        begin, end = self.begin - before, self.end + behind
        return line_path(self.at, begin, self.at, end) if self.down else line_path(begin, self.at, end, self.at)

    @property
    def line(self) -> tuple[bool, int]:
        """The line it lies on."""
        return self.down, near(self.at)

    def without(self, others: Iterable[Edge]) -> Iterator[Edge]:
        """Return what is left of it beside others on its line."""
        begin = self.begin
        for one in sorted(others, key=lambda one: one.begin):
            if one.begin > begin + SAME and begin < self.end:
                yield replace(self, begin=begin, end=min(one.begin, self.end))
            begin = max(begin, one.end)
        if begin < self.end - SAME:
            yield replace(self, begin=begin)


def grounds_of_table(bands: Sequence[tuple[float, Band, bool]], left: float, palette: Palette) -> list[Item]:
    """The grounds of a table's cells in a column."""
    items: list[Item] = []
    for top, band, _ in bands:
        for cell in band.cells:
            if cell.fill.swatch:
                rect = Rect(left + cell.box.x, top + cell.box.y, cell.box.width, cell.box.height)
                items += fill_and_stroke(palette, rect_path(rect), rect, cell.fill)
    return items


def rules_of_table(
    body: TableBody, bands: Sequence[tuple[float, Band, bool]], left: float, job: Job, palette: Palette
) -> list[Item]:
    """The rules of a table's rows in a column, those that come before others drawn last; in the colour of its words
    where no other is said. Cells' own rules take the place of those of the style."""
    if not bands:
        return []
    words = looks_of(body.words.cascade, body.library, body.words.cells[0].cell.paragraphs[0]).spec

    def settled(stroke: Stroke) -> Stroke:
        stroke_ = stroke_of(job, stroke)
        plain = stroke.swatch is None and not stroke.style
        return replace(stroke_, swatch=words.swatch, tint=words.tint) if plain else stroke_

    lines = _of_style(body, bands, left)
    own = _of_cells(bands, left)
    used: dict[tuple[bool, int], list[Edge]] = {}
    corners: dict[tuple[int, int], float] = {}
    for edge, stroke in own:
        used.setdefault(edge.line, []).append(edge)
        for y in (edge.begin, edge.end) if edge.down else ():
            corner = near(edge.at), near(y)
            corners[corner] = max(corners.get(corner, 0.0), stroke.weight or 0.0)
    stroke_: list[Item] = []
    for kind in KINDS:
        stroke = settled(getattr(body.look, kind))
        for edge in lines[kind]:
            for part in edge.without(used[edge.line]) if edge.line in used else (edge,):
                stroke_ += ruled(palette, part.steps(), stroke)
    for edge, stroke in reversed(own):
        before = behind = 0.0
        if not edge.down:  # it is drawn over half of what meets it there, so that the corner is full
            before, behind = (corners.get((near(x), near(edge.at)), 0.0) / 2 for x in (edge.begin, edge.end))
        stroke_ += ruled(palette, edge.steps(before, behind), settled(stroke))
    return stroke_


def _of_style(body: TableBody, bands: Sequence[tuple[float, Band, bool]], left: float) -> dict[str, list[Edge]]:
    right, head, foot = left + body.width, bands[0][0], bands[-1][0] + bands[-1][1].height
    lines: dict[str, list[Edge]] = {kind: [] for kind in KINDS}
    for number, (top, band, _) in enumerate(bands):
        own = any(cell.head for cell in band.cells)
        if number:
            kind = "head" if own != any(cell.head for cell in bands[number - 1][1].cells) else "rows"
            lines[kind].append(Edge(False, top, left, right))
        for cell in band.cells:
            x, y = left + cell.box.x, top + cell.box.y
            if cell.box.y:  # within rows that a cell binds together
                lines["rows"].append(Edge(False, y, x, left + cell.box.right))
            if cell.box.right < body.width - 0.01:
                lines["columns"].append(Edge(True, left + cell.box.right, y, y + cell.box.height))
    lines["sides"] = [Edge(True, x, head, foot) for x in (left, right)]
    lines["outer"] = [Edge(False, y, left, right) for y in (head, foot)]
    return lines


def _of_cells(bands: Sequence[tuple[float, Band, bool]], left: float) -> list[tuple[Edge, Stroke]]:
    """Return the strokes of the sides of cells, the heaviest first; where two cells give different ones for a side, the
    lighter one is left out."""
    strokes: list[tuple[Edge, Stroke]] = []
    for top, band, _ in bands:
        for cell in band.cells:
            if cell.rules is None:
                continue
            x, y, right = left + cell.box.x, top + cell.box.y, left + cell.box.right
            foot = y + cell.box.height
            for edge, stroke in (
                (Edge(False, y, x, right), cell.rules.head),
                (Edge(True, right, y, foot), cell.rules.right),
                (Edge(False, foot, x, right), cell.rules.foot),
                (Edge(True, x, y, foot), cell.rules.left),
            ):
                if stroke is not None:
                    strokes.append((edge, stroke))
    strokes.reverse()  # of two equal ones the later
    strokes.sort(key=lambda one: -(one[1].weight or 0.0))
    heaviest: list[tuple[Edge, Stroke]] = []
    used: dict[tuple[bool, int], list[Edge]] = {}
    for edge, stroke in strokes:
        line = used.setdefault(edge.line, [])
        heaviest += [(part, stroke) for part in edge.without(line)]
        line.append(edge)
    return heaviest
