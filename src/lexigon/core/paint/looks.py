"""The adjustment of a picture with its swatches resolved, as painters receive it."""

from __future__ import annotations

from lexigon.core.colour.palette import Palette
from lexigon.core.document.model import AS_IT_IS, Adjustment
from lexigon.core.picture.looks import PLAIN, Cut, Look


def look_of(adjust: Adjustment, palette: Palette, page: int = 1) -> Look:
    """``page`` is that of a PDF."""
    if adjust == AS_IT_IS:
        return PLAIN if page == 1 else Look(page=page)
    used = {"one": (adjust.ink,), "two": (adjust.ink, adjust.second)}.get(adjust.inks, ())
    return Look(
        Cut.of(cut.colour, cut.tolerance, cut.outside) if (cut := adjust.cut) else None,
        (adjust.black, adjust.white, adjust.gamma),
        adjust.brightness,
        adjust.contrast,
        adjust.saturation,
        adjust.inverted,
        adjust.inks,
        tuple(palette.colour(fill.swatch, fill.tint) for fill in used),
        adjust.sharpen,
        page,
    )
