"""The pixels of a picture as they are measured."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import numpy as np
from PIL import Image, ImageCms


def lab_of(picture: Image.Image) -> Any:
    """CIE L*a*b* (D50) of each pixel of a picture in light, height by width by 3. Pillow's bytes of a* and b* are
    signed."""
    converted = ImageCms.applyTransform(picture.convert("RGB"), _to_lab())
    assert converted is not None
    values = np.array(converted)
    return np.dstack([values[..., 0] / 2.55, values[..., 1:].astype(np.int8).astype(np.float64)])


@lru_cache(1)
def _to_lab() -> ImageCms.ImageCmsTransform:
    return ImageCms.buildTransform(ImageCms.createProfile("sRGB"), ImageCms.createProfile("LAB"), "RGB", "LAB")
