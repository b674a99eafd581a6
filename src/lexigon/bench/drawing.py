"""The set-up drawn to scale: the spread or the flat sheet with all its lines and dimensions, as an SVG document.

Drawn in points with a viewBox, in the classes of the application's style sheet; sizes of lettering are given so that
they come out the same on screen whatever the page's size.
"""

from __future__ import annotations

from collections.abc import Sequence
from html import escape

from lexigon.core import lengths
from lexigon.core.brief.forms import bar_code_area
from lexigon.core.brief.setup import Setup
from lexigon.core.document.forms.covers import spine_type
from lexigon.core.document.forms.panels import Panel, fold_lines
from lexigon.core.document.forms.sheets import panels_of
from lexigon.core.document.model import Brief, Edges, Fold, Side
from lexigon.core.document.starter import gridded
from lexigon.core.geometry import Rect
from lexigon.core.type.fonts import FontLibrary, shipped
from lexigon.core.type.grid import EPSILON, Grid, lines_down

SCREEN_WIDTH, SCREEN_HEIGHT = 720.0, 640.0
"""The room the drawing has, in CSS pixels; lettering is sized for it."""


class Drawing:
    """Collects SVG; ``px`` is how many points one CSS pixel is at the size it will be shown."""

    def __init__(self, px: float, unit: str) -> None:
        self.px, self.unit = px, unit
        self.out: list[str] = []

    def rect(self, rect: Rect, name: str, more: str = "") -> None:
        self.out.append(
            f'<rect class="{name}" x="{rect.x:.2f}" y="{rect.y:.2f}" width="{max(rect.width, 0):.2f}" '
            f'height="{max(rect.height, 0):.2f}"{more}/>'
        )

    def line(self, x1: float, y1: float, x2: float, y2: float, name: str) -> None:
        self.out.append(f'<line class="{name}" x1="{x1:.2f}" y1="{y1:.2f}" x2="{x2:.2f}" y2="{y2:.2f}"/>')

    def text(self, x: float, y: float, words: str, name: str, size: float = 12.0, turn: int = 0) -> None:
        where = f'transform="translate({x:.2f} {y:.2f}) rotate({turn})"' if turn else f'x="{x:.2f}" y="{y:.2f}"'
        self.out.append(f'<text class="{name}" {where} font-size="{size * self.px:.3f}">{escape(words)}</text>')

    def length(self, points: float) -> str:
        """A length as it is lettered: inches to a thousandth, as the trade gives spines."""
        return lengths.show(round(points / 0.072) * 0.072 if self.unit == "in" else points, self.unit)

    def across(self, x0: float, x1: float, y: float, label: str, level: str = "") -> None:
        """A dimension line between two x at height y. Its label is above it where the line is too short to hold it."""
        px, middle = self.px, (x0 + x1) / 2
        half, tick = (len(label) * 3.6 + 6) * px, 5 * px
        path = f"M{x0:.2f} {y - tick:.2f}V{y + tick:.2f}M{x1:.2f} {y - tick:.2f}V{y + tick:.2f}"
        if x1 - x0 > 2 * half + 8 * px:
            path += f"M{x0:.2f} {y:.2f}H{middle - half:.2f}M{middle + half:.2f} {y:.2f}H{x1:.2f}"
            at = y + 4 * px
        else:
            path += f"M{x0:.2f} {y:.2f}H{x1:.2f}"
            at = y - 9 * px
        self.out.append(f'<g class="dimension {level}"><path d="{path}"/>')
        self.text(middle, at, label, "", 12)
        self.out.append("</g>")

    def down(self, y0: float, y1: float, x: float, label: str) -> None:
        px, middle = self.px, (y0 + y1) / 2
        half, tick = (len(label) * 3.6 + 6) * px, 5 * px
        path = f"M{x - tick:.2f} {y0:.2f}H{x + tick:.2f}M{x - tick:.2f} {y1:.2f}H{x + tick:.2f}"
        turn = -90
        if y1 - y0 > 2 * half + 8 * px:
            path += f"M{x:.2f} {y0:.2f}V{middle - half:.2f}M{x:.2f} {middle + half:.2f}V{y1:.2f}"
        else:
            path += f"M{x:.2f} {y0:.2f}V{y1:.2f}"
            turn, x = 0, x + (len(label) * 3.6 + 6) * px
        self.out.append(f'<g class="dimension"><path d="{path}"/>')
        self.text(x + (0 if turn == 0 else 4 * px), middle + (4 * px if turn == 0 else 0), label, "", 12, turn)
        self.out.append("</g>")

    def sheet(self, rect: Rect, bleed: tuple[float, float, float, float]) -> None:
        """Paper with a hatched rim of bleed: left, right, head, foot."""
        left, right, head, foot = bleed
        if max(bleed) > 0:
            rim = Rect(rect.x - left, rect.y - head, rect.width + left + right, rect.height + head + foot)
            self.rect(rim, "bleed", ' fill="url(#hatch)"')
        self.rect(rect, "sheet")

    def document(self, box: Rect, label: str) -> str:
        step = 6 * self.px
        return (
            f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{box.x:.2f} {box.y:.2f} {box.width:.2f} '
            f'{box.height:.2f}" class="drawing" role="img" aria-label="{escape(label)}" '
            f'stroke-width="{self.px:.3f}"><defs><pattern id="hatch" width="{step:.2f}" height="{step:.2f}" '
            f'patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><line x1="0" y1="0" x2="0" y2="{step:.2f}" '
            'class="hatch"/></pattern></defs>' + "".join(self.out) + "</svg>"
        )


Ghosts = Sequence[Sequence[Rect]]
"""Frames to show on each page drawn, as outlines."""


def draw(setup: Setup, ghosts: Ghosts = (), library: FontLibrary | None = None) -> str:
    """Drawings of any set-up. ``ghosts`` are the objects of the drawn pages, ``library`` the available fonts."""
    return _sheets(setup, ghosts) if setup.brief.form is not None else _spread(setup, ghosts, library or shipped())


def lines_of(setup: Setup, library: FontLibrary) -> int:
    """Return how many lines of body text a full column has, by the rule that fills it."""
    area, face = setup.brief.text_area("recto"), library.face(setup.family)
    gridded_ = gridded(setup.brief, setup.leading)
    grid = Grid(gridded_.grid_start, gridded_.grid_step)
    ascent, descent = (value * setup.size / face.upem for value in (face.ascent, face.descent))
    return lines_down(grid.snap(area.y + ascent), grid.step, descent, area.foot + EPSILON)


def _spread(setup: Setup, ghosts: Ghosts, library: FontLibrary) -> str:
    b = setup.brief
    pages: list[tuple[Side, float]] = [("verso", 0.0), ("recto", b.width)] if b.facing else [("recto", 0.0)]
    total = b.width * len(pages)
    px = max(total / (SCREEN_WIDTH - 190), b.height / (SCREEN_HEIGHT - 150))
    d = Drawing(px, b.unit)
    outer = b.bleed.outer if b.facing else b.bleed.inner
    d.sheet(Rect(0, 0, total, b.height), (outer, b.bleed.outer, b.bleed.head, b.bleed.foot))
    for number, (side, x) in enumerate(pages):
        _page(d, setup, side, x)
        for rect in ghosts[number] if number < len(ghosts) else ():
            d.rect(rect.moved(x, 0), "ghost")
        if not (number < len(ghosts) and ghosts[number]):
            words = {"verso": "left, verso", "recto": "right, recto"}[side] if b.facing else ""
            d.text(x + b.width / 2, b.height / 2, words, "name", 20)
        d.across(x, x + b.width, -36 * px, d.length(b.width))
    if b.facing:
        d.line(b.width, 0, b.width, b.height, "spine")
    d.down(0, b.height, total + 44 * px, d.length(b.height))
    notes = []
    if setup.grid:
        notes.append(f"{lines_of(setup, library)} lines of {setup.size:g} on {setup.leading:g} pt")
    if _any(b.bleed):
        notes.append("hatched: bleed")
    d.text(0, b.height + b.bleed.foot + 26 * px, " · ".join(notes), "legend")
    return d.document(Rect(-40 * px, -84 * px, total + 130 * px, b.height + 144 * px), "The pages to scale")


def _page(d: Drawing, setup: Setup, side: Side, x: float) -> None:
    b, px = setup.brief, d.px
    area = b.text_area(side).moved(x, 0)
    columns, rows = b.columns, b.rows
    width = (area.width - b.gutter * (columns - 1)) / columns
    height = (area.height - b.row_gutter * (rows - 1)) / rows
    for i in range(columns if width > 0 else 0):
        for j in range(rows if height > 0 else 0):
            left, top = area.x + i * (width + b.gutter), area.y + j * (height + b.row_gutter)
            d.rect(Rect(left, top, width, height), "column")
    step = setup.leading
    if setup.grid and step / px >= 3:
        y = gridded(b, step).grid_start
        while y <= area.foot:
            d.line(area.x, y, area.right, y, "grid")
            y += step
    d.rect(area, "margin")
    m, letter = b.margins, 10.5
    drop = letter * px / 3
    if m.head / px > 12:
        d.text(x + b.width / 2, m.head / 2 + drop, d.length(m.head), "measure", letter)
    if m.foot / px > 12:
        d.text(x + b.width / 2, b.height - m.foot / 2 + drop, d.length(m.foot), "measure", letter)
    for value, centre in (
        (area.x - x, x + (area.x - x) / 2),
        (x + b.width - area.right, (area.right + x + b.width) / 2),
    ):
        if value / px > 12:
            d.text(centre + drop, b.height * 0.32, d.length(value), "measure", letter, -90)


def _sheets(setup: Setup, ghosts: Ghosts) -> str:
    """A cover's one flat sheet, or outside and inside of a folded one, one above the other."""
    b = setup.brief
    faces = ["outside", "inside"] if isinstance(b.form, Fold) else [""]
    head_room, gap = 96.0, 64.0  # CSS pixels above the first sheet and between two
    px = max(
        b.width / (SCREEN_WIDTH - 170),
        b.height * len(faces) / (SCREEN_HEIGHT - head_room - gap - (gap + 20) * (len(faces) - 1)),
    )
    d = Drawing(px, b.unit)
    step = b.height + (gap + 24) * px
    for number, face in enumerate(faces):
        y = number * step
        d.sheet(Rect(0, y, b.width, b.height), (b.bleed.inner, b.bleed.outer, b.bleed.head, b.bleed.foot))
        panels = panels_of(b, setup.papers, number)
        for panel in panels:
            _panel(d, b, panel, y, bool(number < len(ghosts) and ghosts[number]))
        for rect in ghosts[number] if number < len(ghosts) else ():
            d.rect(rect.moved(0, y), "ghost")
        _folds(d, b, panels, y)
        _panel_dimensions(d, b, panels, y, overall=number == 0)
        if face:
            d.text(-b.bleed.outer - 12 * px, y + b.height / 2, face, "face", 13, -90)
    code = bar_code_area(b, setup.papers)
    if code is not None:
        d.rect(code, "code")
        d.text(code.x + code.width / 2, code.y + code.height / 2 - 3 * px, "bar code: clear", "measure", 10)
        d.text(
            code.x + code.width / 2,
            code.y + code.height / 2 + 12 * px,
            f"{d.length(code.width)} × {d.length(code.height)}",
            "measure",
            10,
        )
    foot = step * (len(faces) - 1) + b.height + b.bleed.foot
    whole = f"{d.length(b.width + b.bleed.inner + b.bleed.outer)} × {d.length(b.height + b.bleed.head + b.bleed.foot)}"
    notes = ["ticks: keep text inside", "dash-dot: folds"]
    notes = (
        [f"hatched: bleed {d.length(b.bleed.head)}", *notes, f"sheet with bleed {whole}"] if _any(b.bleed) else notes
    )
    d.text(0, foot + 24 * px, " · ".join(notes[:3]), "legend")
    d.text(0, foot + 40 * px, " · ".join(notes[3:]), "legend")
    box = Rect(
        -58 * px - b.bleed.outer, -head_room * px, b.width + 2 * b.bleed.outer + 142 * px, foot + (head_room + 40) * px
    )
    return d.document(box, "The flat sheet to scale")


def _panel(d: Drawing, b: Brief, panel: Panel, y: float, peopled: bool) -> None:
    """A panel with its name: in the middle, or at the foot where an object covers the middle of the sheet."""
    rect, px = panel.rect.moved(0, y), d.px
    if panel.is_spine:
        d.rect(rect, "spine-band")
        safe_type = spine_type(panel).safe
        if safe_type is not None:
            _ticks(d, safe_type.moved(0, y))
        if rect.width / px > 9:
            bears = spine_type(panel)
            words = "spine, type allowed" if bears.allowed else "spine, too thin for type"
            d.text(rect.x + rect.width / 2 - 4 * px, rect.y + rect.height / 2, words, "measure", 11, 90)
        return
    safe = Panel(panel.name, rect, panel.facing).safe(b.safe)
    _ticks(d, safe)
    if rect.width / px > 30:
        size = max(min(19.0, rect.width / px / max(len(panel.name), 4) * 1.9), 10.0)
        middle = rect.foot - 16 * px if peopled else rect.y + rect.height / 2
        size = 12.0 if peopled else size
        d.text(rect.x + rect.width / 2, middle, panel.name, "name", size, panel.turn)
        if panel.turn and not peopled:
            d.text(rect.x + rect.width / 2, middle + 20 * px, "upside down on the sheet", "measure", 10)


def _ticks(d: Drawing, safe: Rect) -> None:
    """The corners of an area that text keeps within."""
    tick = min(13 * d.px, safe.width / 3, safe.height / 3)
    for x, sx in ((safe.x, 1), (safe.right, -1)):
        for at, sy in ((safe.y, 1), (safe.foot, -1)):
            d.out.append(f'<path class="tick" d="M{x + sx * tick:.2f} {at:.2f}H{x:.2f}V{at + sy * tick:.2f}"/>')


def _folds(d: Drawing, b: Brief, panels: list[Panel], y: float) -> None:
    px = d.px
    along = "y" if isinstance(b.form, Fold) and b.form.direction == "top" else "x"
    for at in fold_lines(panels, along):
        if along == "x":
            d.line(at, y - b.bleed.head - 10 * px, at, y + b.height + b.bleed.foot + 10 * px, "fold")
        else:
            d.line(-b.bleed.outer - 10 * px, y + at, b.width + b.bleed.outer + 10 * px, y + at, "fold")


def _panel_dimensions(d: Drawing, b: Brief, panels: list[Panel], y: float, overall: bool) -> None:
    px = d.px
    near, far = y - b.bleed.head - 24 * px, y - b.bleed.head - 62 * px
    side = b.width + b.bleed.outer + 30 * px
    if isinstance(b.form, Fold) and b.form.direction == "top":
        for panel in panels:
            d.down(y + panel.rect.y, y + panel.rect.foot, side, d.length(panel.rect.height))
        if overall:
            d.across(0, b.width, near, d.length(b.width))
            d.down(y, y + b.height, side + 38 * px, d.length(b.height))
        return
    for panel in panels:
        level = "strong" if panel.is_spine else ""
        d.across(panel.rect.x, panel.rect.right, near, d.length(panel.rect.width), level)
    if overall:
        d.across(0, b.width, far, d.length(b.width))
    d.down(y, y + b.height, side, d.length(b.height))


def _any(edges: Edges) -> bool:
    return max(edges.head, edges.foot, edges.inner, edges.outer) > 0
