"""The focus of a picture, as far as its pixels show it: the centre of what stands out from its surroundings.

A simple measure of saliency: how far each place's colour, blurred a little, is from the mean colour of the picture, in
CIE L*a*b* (after Achanta and others, "Frequency-tuned salient region detection", 2009), times how much detail there is;
places near the middle count more, as pictures are mostly taken. Nothing is recognised."""

from __future__ import annotations

import numpy as np
from PIL import Image, ImageFilter

from lexigon.core.picture.measured import lab_of

SMALL = 128
"""Pixels on the longer side at which it is looked at."""
STRONGEST = 0.12
"""The part of the picture that stands out most, which is taken for its subject."""


def focus_of(picture: Image.Image) -> tuple[float, float]:
    """The point of a picture that matters most, in parts of its width and height; its middle where nothing stands
    out."""
    small = picture.convert("RGB")
    small.thumbnail((SMALL, SMALL))
    if min(small.size) < 8:
        return (0.5, 0.5)
    blurred = small.filter(ImageFilter.GaussianBlur(1.5))
    lab = lab_of(blurred)
    light, other = lab[..., 0], lab[..., 1:]
    stands = np.sqrt((light - light.mean()) ** 2 + ((other - other.mean(axis=(0, 1))) ** 2).sum(axis=2))
    down, across = np.gradient(light)
    edges = Image.fromarray(np.clip(4 * np.hypot(across, down), 0, 255).astype(np.uint8))
    detail = np.asarray(edges.filter(ImageFilter.BoxBlur(4)), dtype=np.float64)
    weight = stands / max(stands.max(), 1e-9) + 0.5 * detail / max(detail.max(), 1e-9)
    if stands.max() < 2:  # less than anybody sees: an even ground
        return (0.5, 0.5)
    height, width = weight.shape
    y, x = np.mgrid[0:height, 0:width]
    u, v = (x + 0.5) / width, (y + 0.5) / height
    weight *= np.exp(-((u - 0.5) ** 2 + (v - 0.5) ** 2) / (2 * 0.45**2))
    strong = weight >= np.quantile(weight, 1 - STRONGEST)
    whole = (weight * strong).sum()
    return round(float((u * weight * strong).sum() / whole), 3), round(float((v * weight * strong).sum() / whole), 3)
