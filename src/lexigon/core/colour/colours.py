"""Colours as they are mixed, and every conversion between process inks and the screen's light.

A conversion goes through an ICC profile and nowhere else (ISO 15076-1): the coated profile for process inks, sRGB
(IEC 61966-2-1) for the screen. Two things are kept out of it on purpose: what is black alone stays on the black plate, and
a neutral grey becomes black ink alone, so that type in it needs no register (common practice, no source).
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import TYPE_CHECKING, Literal

from lexigon.core.colour.profiles import COATED

if TYPE_CHECKING:
    from PIL import ImageCms

Components = tuple[float, ...]
KEPT = 4096
"""Colours whose conversion is remembered; a job has some dozens."""


@dataclass(slots=True, frozen=True)
class Colour:
    """A colour that can be painted. ``components`` are fractions 0 to 1: cyan, magenta, yellow, black, or red, green, blue."""

    space: Literal["cmyk", "rgb"]
    components: Components

    def at(self, tint: float) -> Colour:
        """At part of its strength: less ink, or mixed with white."""
        if tint == 1.0:
            return self
        part = min(max(tint, 0.0), 1.0)
        if self.space == "cmyk":
            return Colour("cmyk", tuple(round(v * part, 6) for v in self.components))
        return Colour("rgb", tuple(round(1 - (1 - v) * part, 6) for v in self.components))

    @property
    def black_only(self) -> bool:
        """It prints, and on the black plate alone."""
        return self.space == "cmyk" and not any(self.components[:3]) and self.components[3] > 0

    @property
    def rgb(self) -> Components:
        """As a screen shows it, without the paper's own colour."""
        return _shown(self.components) if self.space == "cmyk" else self.components

    @property
    def cmyk(self) -> Components:
        """As process inks."""
        return self.components if self.space == "cmyk" else _separated(self.components)

    @property
    def css(self) -> str:
        """As ``#rrggbb``."""
        return "#" + "".join(f"{round(v * 255):02x}" for v in self.rgb)


BLACK = Colour("cmyk", (0.0, 0.0, 0.0, 1.0))


@lru_cache(2)
def _transform(there: bool) -> ImageCms.ImageCmsTransform:
    """From process inks to the screen, or back."""
    from PIL import ImageCms

    inks, light = str(COATED.path), ImageCms.createProfile("sRGB")
    intent, flags = ImageCms.Intent.RELATIVE_COLORIMETRIC, ImageCms.Flags.BLACKPOINTCOMPENSATION
    if there:
        return ImageCms.buildTransform(inks, light, "CMYK", "RGB", renderingIntent=intent, flags=flags)
    return ImageCms.buildTransform(light, inks, "RGB", "CMYK", renderingIntent=intent, flags=flags)


def _through(components: Components, mode: str, there: bool) -> Components:
    from PIL import Image, ImageCms

    pixel = Image.new(mode, (1, 1), tuple(round(v * 255) for v in components))
    made = ImageCms.applyTransform(pixel, _transform(there))
    assert made is not None
    return tuple(channel / 255 for channel in made.getpixel((0, 0)))  # type: ignore[union-attr]


@lru_cache(KEPT)
def _shown(inks: Components) -> Components:
    """Solid black alone is shown as plain black."""
    if inks[:3] == (0.0, 0.0, 0.0) and inks[3] in (0.0, 1.0):
        return (1.0 - inks[3],) * 3
    return _through(inks, "CMYK", True)


@lru_cache(KEPT)
def _separated(light: Components) -> Components:
    if len(set(light)) == 1:
        return (0.0, 0.0, 0.0, round(1 - light[0], 6))
    return _through(light, "RGB", False)
