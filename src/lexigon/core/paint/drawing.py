"""A page as SVG, for the board: each shape is drawn once, and its drawing is kept with it."""

from __future__ import annotations

from lexigon.core.colour.profiles import Profile
from lexigon.core.paint.page import FrameArt, PageArt
from lexigon.core.paint.svg import Address, by_name, svg_of


def drawing_of(page: PageArt, address: Address = by_name, proof: Profile | None = None) -> str:
    """The page's display list as SVG elements, the same as ``svg_of(page.items())`` gives. Of a soft proof nothing is kept."""
    if proof is not None:
        return svg_of(page.items(), address, proof)
    made: list[str] = []
    for layer in page.layers:
        if layer.layer.opacity < 1.0:
            return svg_of(page.items(), address)
        for part in layer.parts:
            if isinstance(part, FrameArt) and part.frame.content is None:
                if part.drawing is None:
                    part.drawing = svg_of((part.group(page.palette),), address)
                made.append(part.drawing)
            else:
                made.append(svg_of((part.group(page.palette),), address))
    return "".join(made)
