"""The contour of what is seen of a picture: where it is half see-through, or half cut out. Contours are contourpy's."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

import numpy as np
from PIL import Image

from lexigon.core.geometry import Polygon
from lexigon.core.picture.adjusting import cut_mask
from lexigon.core.picture.files import decoding, pixels_of
from lexigon.core.picture.looks import Cut

FINE = 400
"""Pixels on the longer side at which contours are found."""


@lru_cache(256)
def contours_of(path: Path, cut: Cut | None, page: int = 1) -> tuple[Polygon, ...]:
    """The outer contours of what is seen, the largest first, in parts of the picture's width and height; none where all
    of it is seen or nothing. Raises PictureError."""
    mask = _visible_mask(path, cut, page)
    if mask is None:
        return ()
    from contourpy import contour_generator

    light = np.pad(
        np.asarray(mask, dtype=np.float64) / 255, 1
    )  # light beyond the edge, so that every contour is closed
    if light[1:-1, 1:-1].min() > 0.5:
        return ()
    height, width = mask.height, mask.width
    lines: list[np.ndarray] = contour_generator(z=light).lines(0.5)  # type: ignore[assignment]
    rings = []
    for line in lines:
        if len(line) < 4:
            continue
        x, y = np.clip((line[:, 0] - 0.5) / width, 0, 1), np.clip((line[:, 1] - 0.5) / height, 0, 1)
        area = abs(float((x[:-1] * y[1:] - x[1:] * y[:-1]).sum())) / 2
        rings.append((area, tuple(zip(x[:-1].tolist(), y[:-1].tolist(), strict=True))))
    rings.sort(key=lambda ring: -ring[0])
    return tuple(ring for _, ring in rings)


def _visible_mask(path: Path, cut: Cut | None, page: int) -> Image.Image | None:
    picture, _ = pixels_of(path, (FINE, FINE), page)
    with decoding():
        alpha = picture.getchannel("A") if picture.mode in ("LA", "RGBA") else None
        if cut is None:
            return alpha
        mask = cut_mask(picture, cut)
        if alpha is not None:
            mask = Image.fromarray(np.minimum(np.asarray(mask), np.asarray(alpha)))
        return mask


def simplified(ring: Polygon, within: float) -> Polygon:
    """A ring with fewer points that stays within a distance of it (Douglas and Peucker's way, shapely's)."""
    if within <= 0 or len(ring) < 5:
        return ring
    from shapely import Polygon as Shape

    simple = Shape(ring).buffer(0).simplify(within)
    parts = [part for part in getattr(simple, "geoms", [simple]) if not part.is_empty]
    return tuple(max(parts, key=lambda part: part.area).exterior.coords)[:-1] if parts else ring
