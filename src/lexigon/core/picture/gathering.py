"""A palette taken from a picture: a few colours that stand for all of it, with how much of it each covers.

The pixels are gathered by k-means in CIE L*a*b* (D50), begun with the colours that lie farthest apart (Gonzalez's way),
so that a small strong accent is found beside large grounds. The same picture gives the same palette."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from lexigon.core.colour.colours import Colour
from lexigon.core.picture.conversion import screen_pixels
from lexigon.core.picture.looks import PLAIN, Look
from lexigon.core.picture.measured import lab_of

LOOKED_AT, EVERY = 640, 4
"""Pixels on the longer side of what is looked at, and of which every so manieth: what lies between two colours because
the picture was reduced is then too little to count."""
ROUNDS = 25
MOST, FEWEST = 8, 3
SMALLEST = 0.002
"""The smallest fraction of the picture that a separate colour covers."""


@dataclass(slots=True, frozen=True)
class PictureColour:
    """A colour of a picture, as light, and the part of the picture that it stands for."""

    colour: Colour
    share: float


def palette_of(path: Path, count: int = 5, look: Look = PLAIN) -> list[PictureColour]:
    """At most ``count`` colours of a picture as it is shown, the largest first; fewer where it has no more. Raises
    PictureError."""
    count = min(max(count, FEWEST), MOST)
    fine = screen_pixels(path, LOOKED_AT, look)
    sampled = Image.fromarray(np.asarray(fine)[::EVERY, ::EVERY]) if min(fine.size) > 40 else fine
    uncovered = np.ones(sampled.width * sampled.height, dtype=bool)
    if sampled.mode == "RGBA":
        uncovered = np.asarray(sampled.getchannel("A")).reshape(-1) > 127
    light = sampled.convert("RGB")
    lab = lab_of(light).reshape(-1, 3)[uncovered]
    rgb = np.asarray(light, dtype=np.float64).reshape(-1, 3)[uncovered]
    if not len(lab):
        return []
    nearest = _clustered(lab, count)
    colours = []
    for one in np.unique(nearest):
        own = nearest == one
        share = float(own.mean())
        if share >= SMALLEST:
            red, green, blue = np.median(rgb[own], axis=0)
            colours.append(
                PictureColour(Colour("rgb", (round(red) / 255, round(green) / 255, round(blue) / 255)), round(share, 4))
            )
    return sorted(colours, key=lambda one: -one.share)


def _clustered(lab: Any, count: int) -> Any:
    """Return which of at most ``count`` clusters each colour is in."""
    steps, back, weight = np.unique(np.round(lab / 2), axis=0, return_inverse=True, return_counts=True)
    points = steps * 2.0
    centres = [np.average(points, axis=0, weights=weight)]
    far = ((points - centres[0]) ** 2).sum(axis=1)
    centres = []
    for _ in range(count):
        pick = int(np.argmax(far * np.sqrt(weight)))
        if centres and far[pick] < 16:  # less than 4 units of Lab from another: not a separate colour
            break
        centres.append(points[pick])
        far = np.minimum(far, ((points - centres[-1]) ** 2).sum(axis=1))
    middle = np.array(centres)
    nearest = np.zeros(len(points), dtype=int)
    for _ in range(ROUNDS):
        nearest = np.argmin(((points[:, None] - middle[None]) ** 2).sum(axis=2), axis=1)
        moved = np.array(
            [
                np.average(points[nearest == k], axis=0, weights=weight[nearest == k])
                if (nearest == k).any()
                else middle[k]
                for k in range(len(middle))
            ]
        )
        if np.allclose(moved, middle, atol=0.05):
            break
        middle = moved
    return nearest[back.reshape(-1)]
