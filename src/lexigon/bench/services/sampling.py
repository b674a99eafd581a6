"""A colour taken from the board, as a swatch to use."""

from __future__ import annotations

from typing import Any

from PIL import Image

from lexigon.bench.services.files import Files
from lexigon.bench.services.jobs import OpenJob
from lexigon.core.colour.colours import Colour
from lexigon.core.document.cascade import frame_setting
from lexigon.core.document.holder_keys import master_half
from lexigon.core.editing.edits import EditError
from lexigon.core.editing.intents.colour.swatches import mixed_name
from lexigon.core.errors import LexigonError
from lexigon.core.paint.display import Display
from lexigon.core.paint.items import Picture
from lexigon.core.paint.sampling import sample
from lexigon.core.picture.conversion import screen_pixels
from lexigon.core.picture.files import decoding

ROUND = 2
"""Pixels round the one pointed at whose mean is taken: grain is no colour."""


def sample_colour(live: OpenJob, page: str, x: float, y: float) -> dict[str, Any]:
    """Return the colour at a point of a page: a swatch of the job with its tint, or the ``values`` of process inks that
    a picture has there, through the press profile."""
    display = Display(live.workspace.composition)
    if half := master_half(page):
        if half[0] not in live.job.masters:
            raise EditError("That master page is no longer in the job.")
        art = display.master(*half)
    elif (index := live.job.page_index(page)) is not None:
        art = display.page(index)
    else:
        raise EditError("That page is no longer in the job.")
    hit = sample(art, {one.frame.id: frame_setting(live.job, one.frame) for one in art.frames}, x, y)
    if hit is None:
        return {"swatch": "", "name": "paper"}
    if hit.picture is None:
        swatch = live.job.swatches.get(hit.swatch)
        return {"swatch": hit.swatch, "tint": hit.tint, "name": swatch.name if swatch else hit.swatch}
    values = _pixel(live.files, hit.picture, *hit.at)
    return {"values": values, "name": mixed_name("cmyk", values)}


def _pixel(files: Files, picture: Picture, u: float, v: float) -> tuple[float, ...]:
    """The process inks of a place in a picture as it is shown, in whole percents."""
    path = files.path_of(picture.file)
    if path is None:
        raise LexigonError("The file of this picture is missing.")
    with decoding():
        pixels = screen_pixels(path, look=picture.look).convert("RGB")
        x, y = min(int(u * pixels.width), pixels.width - 1), min(int(v * pixels.height), pixels.height - 1)
        box = (
            max(x - ROUND, 0),
            max(y - ROUND, 0),
            min(x + ROUND + 1, pixels.width),
            min(y + ROUND + 1, pixels.height),
        )
        red, green, blue = pixels.crop(box).resize((1, 1), Image.Resampling.BOX).getpixel((0, 0))  # type: ignore[misc]
    inks = Colour("rgb", (red / 255, green / 255, blue / 255)).cmyk
    return tuple(round(value, 2) for value in inks)
