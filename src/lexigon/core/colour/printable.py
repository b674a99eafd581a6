"""The printable colours of a press: a map of them at one lightness, a pixel for each step of a* and b*, and each of
them in inks and in RGB.

A colour counts as reached where what comes back from the inks is hardly another (CIE L*a*b*, D50, measured on the
paper; ``REACHED``)."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import numpy as np
from PIL import Image, ImageCms, ImageFilter

from lexigon.core.colour.colours import Colour, Components
from lexigon.core.colour.profiles import COATED, Profile

WIDEST = 85
"""a* and b* of the map's edges."""
REACHED = 4.0
"""The Euclidean distance in L*a*b* up to which a colour counts as reached: 8 bits a channel round some of it away."""


@lru_cache(128)
def printable_map(light: int, profile: Profile = COATED) -> Image.Image:
    """The colours of a lightness (0 to 100) that the press reaches, as the screen shows them: green to red from left to
    right, yellow at the head, blue at the foot, grey in the middle. What it does not reach is see-through."""
    a, b = np.meshgrid(np.arange(-WIDEST, WIDEST + 1), np.arange(WIDEST, -WIDEST - 1, -1))
    lab_pixels = np.stack([np.full(a.shape, round(light * 2.55)), a, b], axis=-1).astype(
        np.uint8
    )  # Pillow's bytes of a* and b* are signed
    lab, inks = ImageCms.createProfile("LAB"), str(profile.path)
    printed = _through(Image.fromarray(lab_pixels, "LAB"), lab, inks, "LAB", "CMYK")
    back = np.array(_through(printed, inks, lab, "CMYK", "LAB"))
    apart = back[..., 1:].astype(np.int8).astype(float) - np.dstack([a, b])
    far = np.hypot((back[..., 0].astype(float) - lab_pixels[..., 0]) / 2.55, np.hypot(apart[..., 0], apart[..., 1]))
    rgb = _through(printed, inks, ImageCms.createProfile("sRGB"), "CMYK", "RGB", ImageCms.Flags.BLACKPOINTCOMPENSATION)
    image = rgb.convert("RGBA")
    image.putalpha(
        Image.fromarray(np.where(far <= REACHED, 255, 0).astype(np.uint8)).filter(ImageFilter.MedianFilter(5))
    )
    return image


def _through(
    picture: Image.Image, here: Any, there: Any, mode: str, other: str, flags: ImageCms.Flags = ImageCms.Flags.NONE
) -> Image.Image:
    intent = ImageCms.Intent.RELATIVE_COLORIMETRIC
    converted = ImageCms.applyTransform(
        picture, ImageCms.buildTransform(here, there, mode, other, renderingIntent=intent, flags=flags)
    )
    assert converted is not None
    return converted


def picked(lab: Components, profile: Profile = COATED) -> dict[str, Components]:
    """A colour of the map in each notation of a swatch: inks to a whole per cent; ``seen`` is their L*, a*, b*."""
    inks = tuple(round(part, 2) for part in Colour("lab", lab).inks(profile))
    printed = Colour("cmyk", inks)
    light, a, b = lab
    return {
        "cmyk": inks,
        "rgb": tuple(round(part, 6) for part in printed.rgb),
        "seen": tuple(round(part) for part in printed.measured(profile)),
        "lab": (light / 100, round((a + 128) / 255, 6), round((b + 128) / 255, 6)),
        "grey": (round(1 - light / 100, 2),),
    }
