"""Colours, and every conversion between process inks and the screen's light.

A conversion goes through an ICC profile and nowhere else (ISO 15076-1): the coated profile for process inks, sRGB
(IEC 61966-2-1) for the screen. Two things are kept out of it on purpose: what is black alone stays on the black plate,
and a neutral grey becomes black ink alone, so that grey type needs no register (common practice, no source).
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import groupby, pairwise
from math import log
from typing import TYPE_CHECKING, Literal

from lexigon.core.colour.profiles import COATED, Profile
from lexigon.core.geometry import Point

if TYPE_CHECKING:
    from PIL import ImageCms

Components = tuple[float, ...]
CACHE_SIZE = 4096
"""Colours whose conversion is remembered; a job has some dozens."""


@dataclass(slots=True, frozen=True)
class Colour:
    """A colour that can be painted. ``components`` are fractions 0 to 1: cyan, magenta, yellow, black, or red, green,
    blue; or CIE L* (0 to 100), a* and b* (D50).

    A ``spot`` colour is ``strength`` of an ink of that name; the components are what the full ink looks like in process
    inks."""

    space: Literal["cmyk", "rgb", "lab"]
    components: Components
    spot: str = ""
    strength: float = 1.0
    overprint: bool = False
    """In print the inks below it stay, where it has none itself."""

    def at(self, tint: float) -> Colour:
        """At part of its strength: less ink, or mixed with white."""
        if tint == 1.0:
            return self
        part = min(max(tint, 0.0), 1.0)
        if self.spot:
            return replace(self, strength=round(self.strength * part, 6))
        if self.space == "cmyk":
            return Colour("cmyk", tuple(round(v * part, 6) for v in self.components))
        if self.space == "lab":
            light, a, b = self.components
            return Colour("lab", (round(100 - (100 - light) * part, 6), round(a * part, 6), round(b * part, 6)))
        return Colour("rgb", tuple(round(1 - (1 - v) * part, 6) for v in self.components))

    @property
    def black_only(self) -> bool:
        """Whether it prints on the black plate alone."""
        return self.space == "cmyk" and not self.spot and not any(self.components[:3]) and self.components[3] > 0

    @property
    def rgb(self) -> Components:
        """Return it as a screen shows it, without the paper's own colour."""
        return self.proofed()

    def proofed(self, proof: Profile | None = None) -> Components:
        """The same colour as a soft proof for a printing condition: how its inks appear there, for light and L*a*b*,
        too. A black that is not deep stays that way."""
        if proof is not None:
            return proofed(self.inks(proof), proof)
        if self.space == "lab":
            return _from_lab(self.components, None)
        return screen_rgb(self.cmyk) if self.space == "cmyk" else self.components

    @property
    def cmyk(self) -> Components:
        """Return it as process inks on coated paper; for a spot ink, the inks that it looks like."""
        return self.inks(COATED)

    def inks(self, profile: Profile) -> Components:
        """The same colour for a printing condition. Values in inks stay unchanged: they are what is printed."""
        if self.space == "rgb":
            return _separated(self.components, profile)
        if self.space == "lab":
            return _from_lab(self.components, profile)
        if self.strength == 1.0:
            return self.components
        return tuple(round(v * self.strength, 6) for v in self.components)

    @property
    def lab(self) -> Components:
        """CIE L*a*b* (D50): of process inks as they are measured on coated paper, of light as sRGB's."""
        if self.space == "lab":
            return self.components
        return _to_lab(self.cmyk, COATED) if self.space == "cmyk" else _to_lab(self.components, None)

    def measured(self, profile: Profile) -> Components:
        """CIE L*a*b* (D50) of its inks as they are printed under a condition, relative to the paper."""
        return _to_lab(self.inks(profile), profile)

    @property
    def css(self) -> str:
        """Return it as ``#rrggbb``."""
        return css_of(self.rgb)


def css_of(rgb: Components) -> str:
    return "#" + "".join(f"{round(v * 255):02x}" for v in rgb)


@dataclass(slots=True, frozen=True)
class Gradient:
    """A gradient, positioned on the page.

    A linear one goes from ``begin`` to ``end``, a radial one from ``begin`` outward to the distance of ``end``.
    ``stops`` are fractions of the way with their colours, in order; the first and the last colour extend beyond them.
    """

    kind: Literal["linear", "radial"]
    begin: Point
    end: Point
    stops: tuple[tuple[float, Colour], ...]
    mids: tuple[float, ...] = ()
    """Where between each stop and the next, as a part of that way, both are mixed half and half; none for halfway
    everywhere."""

    @property
    def powers(self) -> tuple[float, ...]:
        """Return what the part of the way from each stop to the next is raised to, so that its midpoint comes out as a
        half (an exponential interpolation, ISO 32000-2, 7.10.3)."""
        return tuple(log(0.5) / log(mid) for mid in self.mids) or (1.0,) * (len(self.stops) - 1)

    def at(self, part: float) -> Colour:
        """The colour at a fraction of the way, mixed as the press does: each ink by itself. Spot inks become process
        inks; a gradient between RGB colours stays RGB, as plain fills do on a screen."""
        for ((a, one), (b, other)), power in zip(pairwise(self.stops), self.powers, strict=True):
            if part <= b:
                return self._between(one, other, max((part - a) / (b - a), 0.0) ** power if b > a else 0.0)
        return self._between(self.stops[-1][1], self.stops[-1][1], 1.0)

    def _between(self, one: Colour, other: Colour, share: float) -> Colour:
        space: Literal["cmyk", "rgb"] = "rgb" if all(colour.space == "rgb" for _, colour in self.stops) else "cmyk"
        ends = zip(*(c.components if space == "rgb" else c.cmyk for c in (one, other)), strict=True)
        return Colour(space, tuple(round(a + (b - a) * share, 6) for a, b in ends))

    def steps(self, steps: int = 8, proof: Profile | None = None) -> list[tuple[float, Components]]:
        """The gradient between two stops in steps, as a screen or a proof shows it: each a position with red, green and
        blue. Where two stops have the same position, the colour changes there at once: both are in the list."""
        ends = [
            (at, self._between(colour, colour, 0.0).proofed(proof)) for at, colour in (self.stops[0], self.stops[-1])
        ]
        way = [
            (a + (b - a) * (n / fine) ** near, self._between(one, other, (n / fine) ** (near * power)).proofed(proof))
            for ((a, one), (b, other)), power in zip(pairwise(self.stops), self.powers, strict=True)
            for fine, near in (
                (steps if power == 1.0 else 3 * steps, max(1 / power, 1.0)),
            )  # nearer where it rises at once
            for n in (range(fine + 1) if b > a else ())
        ]
        return [step for step, _ in groupby([ends[0], *way, ends[1]])]


Paint = Colour | Gradient
"""What a surface is filled with."""

BLACK = Colour("cmyk", (0.0, 0.0, 0.0, 1.0))
ALL = "All"
"""What is printed in this ink is printed on every plate (ISO 32000-2, 8.6.6.4)."""
REGISTRATION = Colour("cmyk", (1.0, 1.0, 1.0, 1.0), spot=ALL)


@lru_cache(4)
def proof_transform(profile: Profile) -> ImageCms.ImageCmsTransform:
    """From process inks to what a soft proof shows of them: relative to the paper's white, but with the black that the
    inks reach there."""
    from PIL import ImageCms

    intent = ImageCms.Intent.RELATIVE_COLORIMETRIC
    return ImageCms.buildTransform(
        str(profile.path), ImageCms.createProfile("sRGB"), "CMYK", "RGB", renderingIntent=intent
    )


@lru_cache(CACHE_SIZE)
def proofed(inks: Components, profile: Profile) -> Components:
    """Return what a soft proof shows of process inks: red, green, blue."""
    return _parts(_pixel("CMYK", _bytes(inks), proof_transform(profile)))


@lru_cache(8)
def _transform(there: bool, profile: Profile) -> ImageCms.ImageCmsTransform:
    """From process inks to the screen, or back."""
    from PIL import ImageCms

    inks, light = str(profile.path), ImageCms.createProfile("sRGB")
    intent, flags = ImageCms.Intent.RELATIVE_COLORIMETRIC, ImageCms.Flags.BLACKPOINTCOMPENSATION
    if there:
        return ImageCms.buildTransform(inks, light, "CMYK", "RGB", renderingIntent=intent, flags=flags)
    return ImageCms.buildTransform(light, inks, "RGB", "CMYK", renderingIntent=intent, flags=flags)


def screen_transform(profile: Profile) -> ImageCms.ImageCmsTransform:
    """From process inks to what the screen shows of them, as in ``Colour.proofed``."""
    return _transform(True, profile)


def _pixel(mode: str, values: tuple[int, ...], transform: ImageCms.ImageCmsTransform) -> tuple[int, ...]:
    """One pixel through a transform."""
    from PIL import Image, ImageCms

    converted = ImageCms.applyTransform(Image.new(mode, (1, 1), values), transform)
    assert converted is not None
    pixel: tuple[int, ...] = converted.getpixel((0, 0))  # type: ignore[assignment]
    return pixel


def _bytes(components: Components) -> tuple[int, ...]:
    return tuple(round(v * 255) for v in components)


def _parts(values: tuple[int, ...]) -> Components:
    return tuple(value / 255 for value in values)


@lru_cache(8)
def _lab_transform(profile: Profile | None, there: bool) -> ImageCms.ImageCmsTransform:
    """From L*a*b* to process inks, or with no profile to the screen; or back, by what is measured. What is too light or
    too strong for the press is brought to its edge; its white is the paper."""
    from PIL import ImageCms

    lab = ImageCms.createProfile("LAB")
    other, mode = (str(profile.path), "CMYK") if profile else (ImageCms.createProfile("sRGB"), "RGB")
    intent = ImageCms.Intent.RELATIVE_COLORIMETRIC
    if there:
        return ImageCms.buildTransform(lab, other, "LAB", mode, renderingIntent=intent)
    return ImageCms.buildTransform(other, lab, mode, "LAB", renderingIntent=intent)


def lab_transform(profile: Profile) -> ImageCms.ImageCmsTransform:
    """From L*a*b* to process inks."""
    return _lab_transform(profile, True)


@lru_cache(CACHE_SIZE)
def _from_lab(lab: Components, profile: Profile | None) -> Components:
    light, a, b = lab
    return _parts(_pixel("LAB", (round(light * 2.55), round(a) + 128, round(b) + 128), _lab_transform(profile, True)))


@lru_cache(CACHE_SIZE)
def _to_lab(components: Components, profile: Profile | None) -> Components:
    light, a, b = _pixel("CMYK" if profile else "RGB", _bytes(components), _lab_transform(profile, False))
    return light / 2.55, a - 128.0, b - 128.0


def light_lab(rgb: Components) -> Components:
    """CIE L*a*b* (D50) of red, green and blue on a screen (sRGB)."""
    return _to_lab(rgb, None)


@lru_cache(CACHE_SIZE)
def screen_rgb(inks: Components) -> Components:
    """The red, green and blue in which a screen shows process inks on coated paper; solid black alone is plain
    black."""
    if inks[:3] == (0.0, 0.0, 0.0) and inks[3] in (0.0, 1.0):
        return (1.0 - inks[3],) * 3
    return _parts(_pixel("CMYK", _bytes(inks), _transform(True, COATED)))


@lru_cache(CACHE_SIZE)
def _separated(light: Components, profile: Profile) -> Components:
    if len(set(light)) == 1:
        return (0.0, 0.0, 0.0, round(1 - light[0], 6))
    return _parts(_pixel("RGB", _bytes(light), _transform(False, profile)))
