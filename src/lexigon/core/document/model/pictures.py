"""The job's pictures, and how they are shown: framed, adjusted, cut out. Their files are never changed."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from lexigon.core.document.limits import (
    Colour,
    FileName,
    Gamma,
    Key,
    Mark,
    Name,
    Note,
    Part,
    Pixels,
    PlacedPage,
    Resolution,
    Sharpness,
    Signed,
    Turn,
)
from lexigon.core.document.model.surface import PLAIN_SWATCH, Fill
from lexigon.core.geometry import Rect


@dataclass(slots=True, frozen=True)
class PictureFile:
    """A picture of the job: its file, by the SHA-256 of its content, and what that says of itself."""

    id: Key
    name: Name
    file: FileName
    width: Pixels
    """Pixels across, as it is meant to be seen."""
    height: Pixels
    ppi: Resolution = 300.0
    """The resolution it states, or the one taken where it states none: its natural size follows from it."""
    space: Literal["grey", "rgb", "cmyk"] = "rgb"
    alpha: bool = False
    alt: Note = ""
    """What it shows, for those who cannot see it."""
    credit: Note = ""
    """The author, as the credit line is to be printed."""
    focus: tuple[Part, Part] | None = None
    """The focus, in fractions of its width and height: found when it was imported, or set by hand."""
    format: Mark = ""
    """The kind of file: PNG, JPEG and others; "" if unknown."""
    profile: Name = ""
    """What the ICC profile calls itself that the file carries; "" for none."""
    taken: Mark = ""
    """When the camera says it was taken: a date such as 2026-05-04; "" where it does not say."""
    page: PlacedPage = 1
    """Of a PDF the page that is shown, and how many there are."""
    pages: PlacedPage = 1

    @property
    def vector(self) -> bool:
        """Whether it is a vector drawing without resolution: its pixels only give its size."""
        return self.format == "PDF"

    @property
    def size(self) -> tuple[float, float]:
        """Its natural width and height in points."""
        return self.width / self.ppi * 72, self.height / self.ppi * 72


@dataclass(slots=True, frozen=True)
class CutOut:
    """Background removal of a picture: pixels like a colour, within a tolerance; white is #FFFFFF."""

    colour: Colour = "#FFFFFF"
    tolerance: Part = 0.1
    """How far from it, in parts of the way from black to white; over a third as much again it fades out."""
    outside: bool = False
    """Only what hangs together with the picture's edge is taken away, so that light places within stay."""


@dataclass(slots=True, frozen=True)
class Adjustment:
    """Adjustments of a picture; its file stays unchanged. Applied in this order: cut out, levels, brightness, contrast,
    saturation, inverted, inks; sharpened in the size it is printed in."""

    cut: CutOut | None = None
    black: Part = 0.0
    """Levels: pixels as dark as ``black`` or darker become black, those as light as ``white`` or lighter become white,
    and ``gamma`` lightens those between."""
    white: Part = 1.0
    gamma: Gamma = 1.0
    brightness: Signed = 0.0
    contrast: Signed = 0.0
    saturation: Signed = 0.0
    inverted: bool = False
    inks: Literal["all", "grey", "one", "two"] = "all"
    """Its own colours; grey, which prints in black alone; in one swatch, from none of it where it is white to all where
    it is black; in two, where the second comes in early and the first carries what is dark."""
    ink: Fill = Fill(PLAIN_SWATCH)
    second: Fill = Fill(PLAIN_SWATCH)
    sharpen: Sharpness = 0.0


AS_IT_IS = Adjustment()


@dataclass(slots=True, frozen=True)
class Picture:
    """A frame that shows a picture, cut off by its outline. The picture is never distorted unless it is framed
    freely."""

    picture: Key
    """Which of the job's pictures."""
    fit: Literal["fill", "fit", "free"] = "fill"
    """Whether it fills the frame, or is fitted whole into the frame, whatever its size; or is in ``box``."""
    focus: tuple[Part, Part] = (0.5, 0.5)
    """Filling or fitting: the point of the picture, in parts of its width and height, that keeps to the same point of
    the frame."""
    box: Rect | None = None
    """Freely framed: where it stands, from the frame's left upper corner."""
    rotation: Turn = 0.0
    """Degrees clockwise within the frame."""
    mirrored: bool = False
    """Left and right are exchanged."""
    adjust: Adjustment = AS_IT_IS
    kind: Literal["picture"] = "picture"
