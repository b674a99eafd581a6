"""The areas of a page by name: what things are aligned to, spread over, and made to fill."""

from __future__ import annotations

from typing import Literal

from lexigon.core.document.forms.sheets import panel_at, panels_of
from lexigon.core.document.spreads import spread_of
from lexigon.core.editing.edits import EditError
from lexigon.core.editing.holders import Holder
from lexigon.core.geometry import Rect

Area = Literal["margins", "page", "bleed", "panel", "column", "spread"]
"""The margins of a page, its trim, the trim with the bleed; the panel or the column that contains most of an object;
the spread."""

NEAR = 0.01
"""Edges so near to each other, in points, are one."""


def area_for(place: Holder, name: Area, box: Rect) -> Rect:
    """An area of the holder, in its coordinates, for an object in ``box``. Raises EditError if there is none."""
    match name:
        case "bleed":
            return bleed_of(place)
        case "margins":
            return text_area(place)
        case "page":
            return trim_of(place)
        case "panel":
            return _panel(place, box)
        case "column":
            return _column(place, box)
        case "spread":
            return _spread(place)


def to_fill(place: Holder, name: Area, box: Rect) -> Rect:
    """The same for an object that is to fill it: at the edges of the trim, a panel extends to the bleed, and so does a
    spread."""
    area, trim, bleed = area_for(place, name, box), trim_of(place), bleed_of(place)
    if name == "spread":
        outer = place.job.brief.bleed.outer
        alone = area.width <= trim.width + NEAR
        return bleed if alone else Rect(area.x - outer, bleed.y, area.width + 2 * outer, bleed.height)
    if name != "panel":
        return area
    x = bleed.x if area.x - trim.x < NEAR else area.x
    y = bleed.y if area.y - trim.y < NEAR else area.y
    right = bleed.right if trim.right - area.right < NEAR else area.right
    foot = bleed.foot if trim.foot - area.foot < NEAR else area.foot
    return Rect(x, y, right - x, foot - y)


def bleed_of(place: Holder) -> Rect:
    """The page with its bleed."""
    trim, edges = trim_of(place), place.job.brief.bleed
    left, right = (edges.inner, edges.outer) if place.side == "recto" else (edges.outer, edges.inner)
    return Rect(-left, -edges.head, trim.width + left + right, trim.height + edges.head + edges.foot)


def text_area(place: Holder) -> Rect:
    return place.job.text_area(place.index) if place.page else place.job.master_area(place.master, place.side)


def trim_of(place: Holder) -> Rect:
    """The page from trim to trim."""
    job = place.job
    turned = bool(place.master and place.master.turned)
    width, height = job.page_size(place.index) if place.page else job.brief.page_size(turned)
    return Rect(0.0, 0.0, width, height)


def _panel(place: Holder, box: Rect) -> Rect:
    panels = panels_of(place.job.brief, place.job.papers, max(place.index, 0))
    if not panels:
        raise EditError("These pages have no panels, because they are not folded.")
    return panel_at(panels, box).rect


def _column(place: Holder, box: Rect) -> Rect:
    """The column that the middle of the box is in, or nearest to."""
    job, area = place.job, text_area(place)
    master = place.master or (job.master_of(place.index) if place.page else None)
    count = (master.columns if master else None) or job.brief.columns
    gutter = master.gutter if master and master.gutter is not None else job.brief.gutter
    width = (area.width - gutter * (count - 1)) / count
    nearest = round((box.x + box.width / 2 - area.x - width / 2) / (width + gutter))
    return Rect(area.x + min(max(nearest, 0), count - 1) * (width + gutter), area.y, width, area.height)


def _spread(place: Holder) -> Rect:
    """Both pages as one, from the left edge of this page's coordinates: to the left of a recto lies its verso."""
    own, job = trim_of(place), place.job
    if place.page is None:
        other = own.width if job.brief.facing else 0.0
    else:
        other = sum(job.page_size(index)[0] for index in spread_of(job, place.index) if index != place.index)
    x = -other if place.side == "recto" else 0.0
    return Rect(x, 0.0, own.width + other, own.height)
