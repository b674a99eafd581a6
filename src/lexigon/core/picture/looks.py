"""Adjustments of a picture as painters receive them: plain values and resolved colours, independent of jobs.

They have a short written form that can be used in addresses of pictures on the screen.
"""

from __future__ import annotations

import base64
import json
from dataclasses import dataclass, replace
from typing import Any, Literal

from lexigon.core.colour.colours import Colour, Components
from lexigon.core.colour.profiles import COATED, Profile
from lexigon.core.errors import LexigonError

LONGEST = 1500
"""Characters of the written form of an adjustment."""


class LookError(LexigonError):
    """The text says no look."""


@dataclass(slots=True, frozen=True)
class Cut:
    """The cut-out: pixels within a distance of a colour, as a fraction of the way from black to white; or only those
    connected with the edge."""

    light: tuple[int, int, int]
    tolerance: float
    outside: bool = False

    @classmethod
    def of(cls, colour: str, tolerance: float, outside: bool) -> Cut:
        """With the light written like #1E5B4F."""
        red, green, blue = bytes.fromhex(colour[1:])
        return cls((red, green, blue), tolerance, outside)


@dataclass(slots=True, frozen=True)
class Look:
    """The values of ``job.model.Adjustment`` with its swatches mixed. ``colours`` are the inks of ``one`` or
    ``two``."""

    cut: Cut | None = None
    levels: tuple[float, float, float] = (0.0, 1.0, 1.0)
    """What becomes black, what becomes white, and the gamma between."""
    brightness: float = 0.0
    contrast: float = 0.0
    saturation: float = 0.0
    inverted: bool = False
    inks: Literal["all", "grey", "one", "two"] = "all"
    colours: tuple[Colour, ...] = ()
    sharpen: float = 0.0
    page: int = 1
    """Of a PDF, which page."""

    @property
    def as_it_is(self) -> bool:
        """Nothing of it is shown otherwise."""
        return replace(self, page=1) == PLAIN

    @property
    def ramped(self) -> bool:
        """Whether its pixels give darkness, which spot inks print."""
        return self.inks in ("one", "two")

    def ramp(self, profile: Profile | None = None) -> tuple[Components, ...]:
        """The colours of the 256 steps from black to white: in process inks for a printing condition, without one as
        light. In two inks the second grows evenly with darkness, the first with its square, so that it carries the
        depths; in process inks both are added up."""
        return tuple(self._mixed((255 - value) / 255, profile) for value in range(256))

    def strengths(self, darkness: float) -> tuple[float, ...]:
        """Return the strength of each of ``colours`` for a grey value of the picture."""
        return (darkness,) if self.inks == "one" else (darkness * darkness, darkness)

    def _mixed(self, darkness: float, profile: Profile | None) -> Components:
        parts = [colour.at(part) for colour, part in zip(self.colours, self.strengths(darkness), strict=True)]
        if profile is None and len(parts) == 1:
            return parts[0].rgb
        inks = tuple(
            min(sum(each), 1.0) for each in zip(*(part.inks(profile or COATED) for part in parts), strict=True)
        )
        return inks if profile else Colour("cmyk", inks).rgb


PLAIN = Look()


def written(look: Look) -> str:
    """A look as letters, figures, ``-`` and ``_``; "" for none."""
    values: dict[str, Any] = {}
    if look.cut:
        values["x"] = [*look.cut.light, look.cut.tolerance, int(look.cut.outside)]
    for name, key in (("brightness", "b"), ("contrast", "c"), ("saturation", "s"), ("sharpen", "h")):
        if value := round(getattr(look, name), 4):
            values[key] = value
    levels = [round(value, 4) for value in look.levels]
    if levels != list(PLAIN.levels):
        values["l"] = levels
    if look.page > 1:
        values["p"] = look.page
    if look.inverted:
        values["n"] = 1
    if look.inks != "all":
        values["i"] = look.inks
        values["k"] = [[c.space, [round(v, 4) for v in c.components], round(c.strength, 4)] for c in look.colours]
    if not values:
        return ""
    return base64.urlsafe_b64encode(json.dumps(values, separators=(",", ":")).encode()).decode().rstrip("=")


def read(text: str) -> Look:
    """Read the written form of an adjustment. Raises LookError: it may come from anywhere."""
    if not text:
        return PLAIN
    try:
        if len(text) > LONGEST:
            raise ValueError
        values = json.loads(base64.urlsafe_b64decode(text + "=" * (-len(text) % 4)))
        cut = None
        if "x" in values:
            red, green, blue, tolerance, outside = values["x"]
            cut = Cut((_byte(red), _byte(green), _byte(blue)), _between(tolerance, 0, 1), bool(outside))
        black, white, gamma = values.get("l", PLAIN.levels)
        inks = values.get("i", "all")
        colours = tuple(_colour(*one) for one in values.get("k", ()))
        if inks not in ("all", "grey", "one", "two") or len(colours) != {"one": 1, "two": 2}.get(inks, 0):
            raise ValueError
        return Look(
            cut,
            (_between(black, 0, 1), _between(white, 0, 1), _between(gamma, 0.1, 10)),
            _between(values.get("b", 0), -1, 1),
            _between(values.get("c", 0), -1, 1),
            _between(values.get("s", 0), -1, 1),
            bool(values.get("n")),
            inks,
            colours,
            _between(values.get("h", 0), 0, 3),
            int(_between(values.get("p", 1), 1, 2000)),
        )
    except (ValueError, TypeError, KeyError, AttributeError, RecursionError) as error:
        raise LookError("There is no such way to show a picture.") from error


def _between(value: Any, least: float, most: float) -> float:
    if isinstance(value, bool) or not isinstance(value, (int, float)) or not least <= value <= most:
        raise ValueError
    return float(value)


def _byte(value: Any) -> int:
    return int(_between(value, 0, 255))


def _colour(space: Any, components: Any, strength: Any) -> Colour:
    if space not in ("cmyk", "rgb", "lab") or len(components) != (4 if space == "cmyk" else 3):
        raise ValueError
    bounds = {"cmyk": [(0, 1)] * 4, "rgb": [(0, 1)] * 3, "lab": [(0, 100), (-128, 128), (-128, 128)]}[space]
    values = tuple(_between(value, *bound) for value, bound in zip(components, bounds, strict=True))
    return Colour(space, values).at(_between(strength, 0, 1))
