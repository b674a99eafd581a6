"""The set-up drawn to scale: the spread with bleed, margins, columns, baseline grid and dimensions.

Drawn in points with a viewBox, in the classes of the application's style sheet; sizes of lettering are
given so that they come out the same on screen whatever the page's size.
"""

from __future__ import annotations

from lexigon.core import lengths
from lexigon.core.brief.setup import Setup
from lexigon.core.geometry import Rect
from lexigon.core.job.model import Side

SCREEN_WIDTH, SCREEN_HEIGHT = 700.0, 620.0
"""The room the drawing has, in CSS pixels; lettering is sized for it."""


def spread_drawing(setup: Setup) -> str:
    """The spread as an SVG document."""
    b = setup.brief
    pages: list[tuple[Side, float]] = [("verso", 0.0), ("recto", b.width)] if b.facing else [("recto", 0.0)]
    total = b.width * len(pages)
    px = max(total / (SCREEN_WIDTH - 190), b.height / (SCREEN_HEIGHT - 150))  # points per CSS pixel
    left, top, right, bottom = 40 * px, 84 * px, 90 * px, 60 * px
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{-left:.2f} {-top:.2f} {total + left + right:.2f} {b.height + top + bottom:.2f}"'
        f' class="drawing" role="img" aria-label="The spread to scale" font-size="{12 * px:.3f}" stroke-width="{px:.3f}">'
        f'<defs><pattern id="hatch" width="{6 * px:.2f}" height="{6 * px:.2f}" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">'
        f'<line x1="0" y1="0" x2="0" y2="{6 * px:.2f}" class="hatch"/></pattern></defs>'
    ]
    bleed = b.bleed
    if max(bleed.head, bleed.foot, bleed.inner, bleed.outer) > 0:
        outer = Rect(
            -(bleed.outer if b.facing else bleed.inner),
            -bleed.head,
            total + bleed.outer + (bleed.outer if b.facing else bleed.inner),
            b.height + bleed.head + bleed.foot,
        )
        out.append(_rect(outer, "bleed", ' fill="url(#hatch)"'))
    for side, x in pages:
        out.append(_rect(Rect(x, 0, b.width, b.height), "sheet"))
        area = b.text_area(side).moved(x, 0)
        columns = max(b.columns, 1)
        width = (area.width - b.gutter * (columns - 1)) / columns
        for i in range(columns if width > 0 else 0):
            out.append(_rect(Rect(area.x + i * (width + b.gutter), area.y, width, area.height), "column"))
        step = setup.leading
        if step / px >= 3:
            y = b.margins.head + step * 0.8
            while y <= area.foot:
                out.append(f'<line class="grid" x1="{area.x:.2f}" x2="{area.right:.2f}" y1="{y:.2f}" y2="{y:.2f}"/>')
                y += step
        out.append(_rect(area, "margin"))
        name = ("left, verso" if side == "verso" else "right, recto") if b.facing else "every page"
        out.append(
            f'<text class="name" x="{x + b.width / 2:.2f}" y="{b.height / 2:.2f}" font-size="{20 * px:.3f}">{name}</text>'
        )
        m = b.margins
        letter = 10.5 * px
        tag = f'font-size="{letter:.3f}"'
        out.append(
            f'<text class="measure" {tag} x="{x + b.width / 2:.2f}" y="{m.head / 2 + letter / 3:.2f}">{lengths.show(m.head, b.unit)}</text>'
        )
        out.append(
            f'<text class="measure" {tag} x="{x + b.width / 2:.2f}" y="{b.height - m.foot / 2 + letter / 3:.2f}">{lengths.show(m.foot, b.unit)}</text>'
        )
        for value, centre in (
            (area.x - x, x + (area.x - x) / 2),
            (x + b.width - area.right, (area.right + x + b.width) / 2),
        ):
            y = b.height * 0.32
            out.append(
                f'<text class="measure" {tag} transform="translate({centre + letter / 3:.2f} {y:.2f}) rotate(-90)">{lengths.show(value, b.unit)}</text>'
            )
        out.append(_across(x, x + b.width, -36 * px, lengths.show(b.width, b.unit), px))
    if b.facing:
        out.append(f'<line class="spine" x1="{b.width:.2f}" x2="{b.width:.2f}" y1="0" y2="{b.height:.2f}"/>')
    out.append(_down(0, b.height, total + 44 * px, lengths.show(b.height, b.unit), px))
    lines = int((b.text_area("recto").height - setup.leading * 0.8) / setup.leading) + 1
    note = f"{lines} lines of {setup.size:g} on {setup.leading:g} pt"
    if max(bleed.head, bleed.foot, bleed.inner, bleed.outer) > 0:
        note += " · hatched: bleed"
    out.append(f'<text class="note" x="0" y="{b.height + bleed.foot + 26 * px:.2f}">{note}</text></svg>')
    return "".join(out)


def _rect(rect: Rect, name: str, more: str = "") -> str:
    return f'<rect class="{name}" x="{rect.x:.2f}" y="{rect.y:.2f}" width="{max(rect.width, 0):.2f}" height="{max(rect.height, 0):.2f}"{more}/>'


def _across(x0: float, x1: float, y: float, label: str, px: float) -> str:
    middle, half, tick = (x0 + x1) / 2, (len(label) * 3.6 + 6) * px, 5 * px
    return (
        f'<g class="dimension"><path d="M{x0:.2f} {y - tick:.2f}V{y + tick:.2f}M{x1:.2f} {y - tick:.2f}V{y + tick:.2f}'
        f'M{x0:.2f} {y:.2f}H{middle - half:.2f}M{middle + half:.2f} {y:.2f}H{x1:.2f}"/>'
        f'<text x="{middle:.2f}" y="{y + 4 * px:.2f}">{label}</text></g>'
    )


def _down(y0: float, y1: float, x: float, label: str, px: float) -> str:
    middle, half, tick = (y0 + y1) / 2, (len(label) * 3.6 + 6) * px, 5 * px
    return (
        f'<g class="dimension"><path d="M{x - tick:.2f} {y0:.2f}H{x + tick:.2f}M{x - tick:.2f} {y1:.2f}H{x + tick:.2f}'
        f'M{x:.2f} {y0:.2f}V{middle - half:.2f}M{x:.2f} {middle + half:.2f}V{y1:.2f}"/>'
        f'<text transform="translate({x + 4 * px:.2f} {middle:.2f}) rotate(-90)">{label}</text></g>'
    )
