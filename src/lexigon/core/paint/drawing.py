"""A page as SVG, for the board: each shape is drawn once, and its drawing is cached with it."""

from __future__ import annotations

from collections.abc import Callable
from html import escape

from lexigon.core.colour.profiles import Profile
from lexigon.core.geometry import Rect
from lexigon.core.paint.blended import Region, regions
from lexigon.core.paint.items import Group
from lexigon.core.paint.page import FrameArt, GroupArt, LayerArt, PageArt
from lexigon.core.paint.svg import Address, by_name, number, svg_of

RegionAddress = Callable[[Region], str]
"""Where the picture of a region of the page is that shows its inks mixed."""


def drawing_of(
    page: PageArt, address: Address = by_name, proof: Profile | None = None, region_address: RegionAddress | None = None
) -> str:
    """The page's display list as SVG elements, the same as ``svg_of(page.items())`` gives; with a ``region_address``,
    regions in which inks are blended are covered by pictures of how they print. Nothing of a soft proof is cached."""
    if proof is not None:
        parts = [svg_of((item,), address, proof) for item in page.items()]
    else:
        parts = [drawing for layer in page.layers for drawing in _layer_drawings(page, layer, address)]
    if region_address is not None and any(_may_mix(layer) for layer in page.layers):
        items = page.items()  # as many as there are parts
        for region in regions(items, Rect(0.0, 0.0, page.width, page.height)):
            parts[region.last] += _laid_over(region, region_address(region))
    return "".join(parts)


def _layer_drawings(page: PageArt, layer: LayerArt, address: Address) -> list[str]:
    """The drawings of the items of a layer; those of shapes are cached with them."""
    if layer.layer.opacity < 1.0:
        groups = tuple(part.group(page.palette) for part in layer.parts)
        return [svg_of((Group(groups, opacity=layer.layer.opacity),), address)]
    drawings = []
    for part in layer.parts:
        if isinstance(part, FrameArt) and part.frame.content is None:
            if part.drawing is None:
                part.drawing = svg_of((part.group(page.palette),), address)
            drawings.append(part.drawing)
        else:
            drawings.append(svg_of((part.group(page.palette),), address))
    return drawings


def _may_mix(layer: LayerArt) -> bool:
    """Return whether something on a layer may be mixed with what lies below it, or overprints, without drawing it."""
    return layer.layer.opacity < 1.0 or any(_part_mixes(part) for part in layer.parts)


def _part_mixes(part: FrameArt | GroupArt) -> bool:
    if isinstance(part, FrameArt):
        return bool(
            part.blend != "normal" or part.overprint or part.opacity < 1.0 or part.soft_edge or part.shadow.swatch
        )
    spec = part.object.group
    own = spec is not None and (spec.blend != "normal" or spec.opacity < 1.0)
    return own or bool(part.shadow.swatch) or any(_part_mixes(inner) for inner in part.parts)


def _laid_over(region: Region, address: str) -> str:
    r = region.rect
    where = f'x="{number(r.x)}" y="{number(r.y)}" width="{number(r.width)}" height="{number(r.height)}"'
    return f'<g class="as-printed"><image {where} preserveAspectRatio="none" href="{escape(address)}"/></g>'
