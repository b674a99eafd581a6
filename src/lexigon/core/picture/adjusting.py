"""A picture's pixels, adjusted: levels, brightness, contrast, saturation, inverted, grey, sharpened, cut out. Pillow
and numpy do the work.

Light is the sRGB value of a pixel, 0 to 1. For inks the same curves are taken of how much paper is left, so that a CMYK
picture stays in its inks."""

from __future__ import annotations

from math import pi, tan
from typing import Any

import numpy as np
from PIL import Image, ImageEnhance, ImageFilter

from lexigon.core.picture.looks import Cut, Look

REACH = 1 / 3
"""Over so many times the tolerance what is cut out fades."""
FILLED_AT = 1000
"""Pixels on the longer side at which it is found what hangs together with the edge."""
RADIUS = 1.0
"""Pixels round one that sharpening compares it with, at the size that is printed."""


def curve(look: Look) -> list[int]:
    """Return what each of the 256 values of light becomes.

    Levels first: ``(v - black) / (white - black)`` to the power of ``1 / gamma``; then brightness, which adds half of
    itself; then contrast about the middle, by the tangent of ``(contrast + 1) * 45`` degrees; then inverted."""
    black, white, gamma = look.levels
    steep = tan((min(look.contrast, 0.999) + 1) * pi / 4)
    curve = []
    for value in range(256):
        light = min(max((value / 255 - black) / max(white - black, 1 / 255), 0.0), 1.0) ** (1 / gamma)
        light = (light + look.brightness / 2 - 0.5) * steep + 0.5
        light = min(max(light, 0.0), 1.0)
        curve.append(round(255 * (1 - light if look.inverted else light)))
    return curve


def adjusted(picture: Image.Image, look: Look) -> Image.Image:
    """An adjusted picture (L, RGB or CMYK), before spot inks are applied: then it is L. Keeps its profile."""
    profile = picture.info.get("icc_profile")
    table = curve(look)
    if table != list(range(256)):
        if picture.mode == "CMYK":
            table = [255 - table[255 - value] for value in range(256)]
        picture = picture.point(table * len(picture.getbands()))
    if look.saturation and picture.mode != "L":
        picture = ImageEnhance.Color(picture).enhance(1 + look.saturation)
    if look.inks != "all" and picture.mode != "L":
        picture, profile = picture.convert("L"), None
    if look.sharpen:
        picture = picture.filter(ImageFilter.UnsharpMask(RADIUS, round(100 * look.sharpen), 2))
    if profile:
        picture.info["icc_profile"] = profile
    else:
        picture.info.pop("icc_profile", None)
    return picture


def cut_mask(picture: Image.Image, cut: Cut) -> Image.Image:
    """Return how much of each pixel stays, as a grey picture: 0 where it is like the colour that is taken away."""
    light = np.asarray(picture.convert("RGB"), dtype=np.int16)
    away = light - np.array(cut.light, dtype=np.int16)
    far = np.sqrt((away.astype(np.float32) ** 2).sum(axis=2) / 3) / 255
    fade = max(cut.tolerance * REACH, 1e-6)
    opacity = np.clip((far - cut.tolerance) / fade, 0.0, 1.0)
    if cut.outside:
        opacity = np.where(_outside(far <= cut.tolerance + fade), opacity, 1.0)
    return Image.fromarray(np.round(opacity * 255).astype(np.uint8), "L")


def _outside(like: Any) -> Any:
    """Return the true pixels that are connected with the edge, sideways or vertically; computed at a smaller size for
    large pictures."""
    height, width = like.shape
    step = max(-(-max(height, width) // FILLED_AT), 1)
    field = like[::step, ::step]
    reached = np.zeros_like(field)
    reached[[0, -1], :] = field[[0, -1], :]
    reached[:, [0, -1]] = field[:, [0, -1]]
    while True:
        grown = _spread(_spread(reached, field).T, field.T).T
        if (grown == reached).all():
            break
        reached = grown
    if step == 1:
        return reached
    large = np.repeat(np.repeat(reached, step, axis=0), step, axis=1)
    return large[:height, :width]


def _spread(reached: Any, field: Any) -> Any:
    """Rows of a field in which whatever hangs together with something reached is reached as well."""
    runs = np.cumsum(~field, axis=1) + np.arange(field.shape[0])[:, None] * (field.shape[1] + 1)
    hit = np.zeros(int(runs.max()) + 1, dtype=bool)
    hit[runs[reached]] = True
    return hit[runs] & field
