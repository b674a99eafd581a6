"""How a swatch looks on a screen: CMYK through the coated profile, absolute paper left out."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache
from typing import TYPE_CHECKING

from lexigon.core.colour.profiles import COATED
from lexigon.core.job.model import Swatch

if TYPE_CHECKING:
    from PIL import ImageCms


@lru_cache(1)
def _transform() -> ImageCms.ImageCmsTransform:
    from PIL import ImageCms

    return ImageCms.buildTransform(
        str(COATED.path), ImageCms.createProfile("sRGB"), "CMYK", "RGB",
        renderingIntent=ImageCms.Intent.RELATIVE_COLORIMETRIC, flags=ImageCms.Flags.BLACKPOINTCOMPENSATION,
    )  # fmt: skip


@lru_cache(4096)
def cmyk_to_rgb(values: tuple[float, ...]) -> tuple[float, ...]:
    """Process inks (fractions) as sRGB fractions; solid black alone is shown as plain black."""
    if values[:3] == (0.0, 0.0, 0.0) and values[3] in (0.0, 1.0):
        return (1.0 - values[3],) * 3
    from PIL import Image, ImageCms

    pixel = Image.new("CMYK", (1, 1), tuple(round(v * 255) for v in values))
    shown = ImageCms.applyTransform(pixel, _transform())
    assert shown is not None
    return tuple(channel / 255 for channel in shown.getpixel((0, 0)))  # type: ignore[union-attr]


def tinted(swatch: Swatch, tint: float) -> Swatch:
    """A swatch at part of its strength: less ink, or mixed with white."""
    if tint == 1.0:
        return swatch
    part = min(max(tint, 0.0), 1.0)
    if swatch.space == "cmyk":
        return replace(swatch, values=tuple(round(v * part, 6) for v in swatch.values))
    return replace(swatch, values=tuple(round(1 - (1 - v) * part, 6) for v in swatch.values))


def rgb_of(swatch: Swatch | None) -> tuple[float, ...]:
    if swatch is None:
        return (0.0, 0.0, 0.0)
    return cmyk_to_rgb(swatch.values) if swatch.space == "cmyk" else swatch.values


BLACK = Swatch("black", "Black", "cmyk", (0.0, 0.0, 0.0, 1.0))


def css_colour(swatch: Swatch | None, tint: float = 1.0) -> str:
    """The swatch as ``#rrggbb``; a missing one is black."""
    if tint != 1.0:
        swatch = tinted(swatch or BLACK, tint)
    return "#" + "".join(f"{round(v * 255):02x}" for v in rgb_of(swatch))
