"""A page as SVG, for the board: each shape is drawn once, and its drawing is kept with it."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from html import escape

from lexigon.core.colour.profiles import Profile
from lexigon.core.geometry import Rect
from lexigon.core.paint.blended import Region, is_blended, regions
from lexigon.core.paint.items import Group
from lexigon.core.paint.page import FrameArt, GroupArt, LayerArt, PageArt
from lexigon.core.paint.svg import Address, by_name, number, svg_of

RegionAddress = Callable[[Region], str]
"""Where the picture of a region of the page is that shows its inks mixed."""


def drawing_of(
    page: PageArt, address: Address = by_name, proof: Profile | None = None, region_address: RegionAddress | None = None
) -> str:
    """The page's display list as SVG elements, the same as ``svg_of(page.items())`` gives; with a ``region_address`` regions in which
    something is blended are laid over it as they print. Of a soft proof nothing is kept."""
    if proof is not None:
        parts = [svg_of((item,), address, proof) for item in page.items()]
    else:
        parts = [drawing for layer in page.layers for drawing in _drawn(page, layer, address)]
    if region_address is not None and _meets_inks(part for layer in page.layers for part in layer.parts):
        items = page.items()  # as many as there are parts
        if found := regions(items, Rect(0.0, 0.0, page.width, page.height)):
            last = max(at for at, item in enumerate(items) if is_blended(item))
            parts.insert(last + 1, "".join(_laid_over(one, region_address(one)) for one in found))
    return "".join(parts)


def _drawn(page: PageArt, layer: LayerArt, address: Address) -> list[str]:
    """The drawings of the items of a layer; that of a shape is kept with it."""
    if layer.layer.opacity < 1.0:
        groups = tuple(part.group(page.palette) for part in layer.parts)
        return [svg_of((Group(groups, opacity=layer.layer.opacity),), address)]
    made = []
    for part in layer.parts:
        if isinstance(part, FrameArt) and part.frame.content is None:
            if part.drawing is None:
                part.drawing = svg_of((part.group(page.palette),), address)
            made.append(part.drawing)
        else:
            made.append(svg_of((part.group(page.palette),), address))
    return made


def _meets_inks(parts: Iterable[FrameArt | GroupArt]) -> bool:
    """Whether something is blended or overprints, without drawing it."""
    return any(
        part.blend != "normal" or part.overprint
        if isinstance(part, FrameArt)
        else _is_blended(part) or _meets_inks(part.parts)
        for part in parts
    )


def _is_blended(group: GroupArt) -> bool:
    return group.object.group is not None and group.object.group.blend != "normal"


def _laid_over(region: Region, address: str) -> str:
    r = region.rect
    where = f'x="{number(r.x)}" y="{number(r.y)}" width="{number(r.width)}" height="{number(r.height)}"'
    return f'<g class="as-printed"><image {where} preserveAspectRatio="none" href="{escape(address)}"/></g>'
