"""Envelopes and whether a piece fits. Sizes in points.

ISO 269:1985 (sizes from memory): C and DL series in millimetres. Inch sizes: common North American card
envelopes (common practice, no source).
"""

from __future__ import annotations

from dataclasses import dataclass

from lexigon.core.brief.sizes import Size, millimetres
from lexigon.core.lengths import POINTS

MM, INCH = POINTS["mm"], POINTS["in"]
CLEARANCE = 3 * MM
"""Least room in each direction in all, so that the piece slides in (common practice, no source)."""


ENVELOPES = {
    size.id: size
    for size in (
        millimetres("c7", 81, 114),
        millimetres("c7/6", 81, 162),
        millimetres("c6", 114, 162),
        millimetres("c6/c5", 114, 229),
        millimetres("dl", 110, 220),
        millimetres("c5", 162, 229),
        millimetres("c4", 229, 324),
        millimetres("b6", 125, 176),
        millimetres("b5", 176, 250),
        millimetres("b4", 250, 353),
        *(
            Size(name, f"{name} in", width * INCH, height * INCH, "in")
            for name, width, height in (
                ("4 3/8 × 5 3/4", 4.375, 5.75),
                ("4 3/4 × 6 1/2", 4.75, 6.5),
                ("5 1/4 × 7 1/4", 5.25, 7.25),
                ("4 1/8 × 9 1/2", 4.125, 9.5),
            )
        ),
    )
}


@dataclass(slots=True, frozen=True)
class Fit:
    envelope: Size
    across: float
    """Room left over across the shorter side, in points; negative where the piece is too large."""
    along: float

    @property
    def fits(self) -> bool:
        return min(self.across, self.along) >= CLEARANCE - 1e-6


def fit(envelope: Size, width: float, height: float) -> Fit:
    """Return how a finished piece lies in an envelope, turned whichever way suits."""
    short, long = sorted((width, height))
    least, most = sorted((envelope.width, envelope.height))
    return Fit(envelope, least - short, most - long)


def fitting(width: float, height: float) -> list[Fit]:
    """The envelopes a piece fits, the snuggest first."""
    fits = [fit(envelope, width, height) for envelope in ENVELOPES.values()]
    return sorted((f for f in fits if f.fits), key=lambda f: f.across + f.along)
