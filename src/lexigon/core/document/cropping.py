"""The position of a picture in its frame: its box, its rotation, and its effective resolution."""

from __future__ import annotations

from dataclasses import replace
from math import cos, radians, sin

from lexigon.core.document.model import Picture, PictureFile
from lexigon.core.geometry import Affine, Rect, mapped_about


def box_of(framing: Picture, file: PictureFile, frame: Rect) -> Rect:
    """The box of the whole picture before its rotation, on the page of the frame's upright box. Points.

    With fill, the picture covers the frame exactly in one direction; with fit, all of it is visible and it touches two
    sides. In the other direction its ``focus`` decides: that point of the picture is at the same point of the frame.
    """
    if framing.fit == "free":
        own = framing.box or Rect(0.0, 0.0, *file.size)
        return own.moved(frame.x, frame.y)
    width, height = file.size
    c, s = abs(cos(radians(framing.rotation))), abs(sin(radians(framing.rotation)))
    if framing.fit == "fill":  # the frame, in the coordinates of the picture, has to be within it
        scale = max((frame.width * c + frame.height * s) / width, (frame.width * s + frame.height * c) / height)
    else:
        scale = min(frame.width / (width * c + height * s), frame.height / (width * s + height * c))
    width, height = width * scale, height * scale
    across, down = width * c + height * s, width * s + height * c
    u, v = framing.focus
    x = frame.x + (frame.width - across) * u + across / 2
    y = frame.y + (frame.height - down) * v + down / 2
    if framing.fit == "fill" and framing.rotation % 90:  # aslant it is not moved, lest a corner shows
        x, y = frame.x + frame.width / 2, frame.y + frame.height / 2
    return Rect(x - width / 2, y - height / 2, width, height)


def map_of(framing: Picture, file: PictureFile, frame: Rect) -> Affine:
    """From the unit square, in which the picture's left upper corner is (0, 0) and the right lower one (1, 1), to the
    page."""
    box = box_of(framing, file, frame)
    picture_map = Affine(box.width, 0.0, 0.0, box.height, box.x, box.y)
    if framing.rotation or framing.mirrored:
        return picture_map.then(mapped_about(box, framing.rotation, 0.0, framing.mirrored))
    return picture_map


def resolution(framing: Picture, file: PictureFile, frame: Rect) -> float:
    """Its lowest resolution in pixels per inch, at its present scale."""
    box = box_of(framing, file, frame)
    return min(file.width / box.width, file.height / box.height) * 72


def freed(framing: Picture, file: PictureFile, frame: Rect) -> Picture:
    """The same to be framed freely from where it stands."""
    box = box_of(framing, file, frame)
    return replace(framing, fit="free", box=box.moved(-frame.x, -frame.y))


def scale_of(framing: Picture, file: PictureFile, frame: Rect) -> tuple[float, float]:
    """Return how many times as wide and as high as its natural size it is shown."""
    box = box_of(framing, file, frame)
    return box.width / file.size[0], box.height / file.size[1]
