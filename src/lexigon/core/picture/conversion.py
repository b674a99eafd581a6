"""Pictures in the colours that they are put out in: for the screen, and in process inks. Through ICC profiles and nowhere else."""

from __future__ import annotations

import io
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import Literal

from PIL import Image, ImageCms

from lexigon.core.colour.profiles import COATED
from lexigon.core.picture.files import decoding, opened, size_of, upright

INTENT, FLAGS = ImageCms.Intent.RELATIVE_COLORIMETRIC, ImageCms.Flags.BLACKPOINTCOMPENSATION
QUALITY = 92
"""Of a photograph that came as a JPEG and is written as one again."""
ON_SCREEN = 1600
"""Pixels on the longer side of what the board shows."""


@dataclass(slots=True, frozen=True)
class Raster:
    """A picture's pixels as they are put out, 8 bits a channel."""

    mode: Literal["L", "RGB", "CMYK"]
    width: int
    height: int
    pixels: bytes
    alpha: bytes | None = None
    jpeg: bytes | None = None
    """The same pixels as a JPEG, for what came as one; CMYK values are inverted in it, as is usual."""


@lru_cache(64)
def _transform(profile: bytes | None, source: str, target: str) -> ImageCms.ImageCmsTransform:
    """From a picture's own profile (sRGB, or the press's) to the screen's light or to process inks."""
    inks = str(COATED.path)
    own: object = None
    if profile is not None:
        own = ImageCms.ImageCmsProfile(io.BytesIO(profile))
    if own is None:
        own = inks if source == "CMYK" else ImageCms.createProfile("sRGB")
    out = inks if target == "CMYK" else ImageCms.createProfile("sRGB")
    return ImageCms.buildTransform(own, out, source, target, renderingIntent=INTENT, flags=FLAGS)  # type: ignore[arg-type]


def _converted(picture: Image.Image, target: Literal["RGB", "CMYK"]) -> Image.Image:
    profile = picture.info.get("icc_profile")
    for own in (profile, None) if isinstance(profile, bytes) else (None,):
        try:
            made = ImageCms.applyTransform(picture, _transform(own, picture.mode, target))
        except (ImageCms.PyCMSError, OSError, ValueError):
            continue  # a broken profile, or one of other channels: as if there were none
        assert made is not None
        return made
    return picture.convert(target)


def raster(path: Path, space: Literal["cmyk", "rgb"], most: tuple[int, int]) -> Raster:
    """A picture as it is put out, of at most so many pixels across and down. Grey stays grey: in print it is black ink alone.

    Inks of a CMYK picture are kept as they are. Raises PictureError.
    """
    source = opened(path)
    photograph = source.format == "JPEG"
    picture = upright(source, most)
    with decoding():
        alpha = None
        if picture.mode in ("LA", "RGBA"):
            alpha = picture.getchannel("A").tobytes()
            profile = picture.info.get("icc_profile")
            picture = picture.convert("L" if picture.mode == "LA" else "RGB")
            picture.info["icc_profile"] = profile
        if picture.mode == "RGB" and space == "cmyk":
            picture = _converted(picture, "CMYK")
        elif (picture.mode == "CMYK" and space == "rgb") or (
            picture.mode == "RGB" and isinstance(picture.info.get("icc_profile"), bytes)
        ):
            picture = _converted(picture, "RGB")
        jpeg = None
        if photograph:
            target = io.BytesIO()
            picture.save(target, "JPEG", quality=QUALITY, subsampling=0, optimize=True)
            jpeg = target.getvalue()
        mode: Literal["L", "RGB", "CMYK"] = picture.mode  # type: ignore[assignment]
        return Raster(mode, picture.width, picture.height, picture.tobytes(), alpha, jpeg)


def on_screen(path: Path, most: int = ON_SCREEN) -> bytes:
    """A picture as the board shows it, a WebP of at most ``most`` pixels on its longer side: inks as the press would print them."""
    source = opened(path)
    with decoding():
        width, height = size_of(source)
        part = min(most / max(width, height), 1.0)
        picture = upright(source, (max(round(width * part), 1), max(round(height * part), 1)))
        alpha = picture.getchannel("A") if picture.mode in ("LA", "RGBA") else None
        profile = picture.info.get("icc_profile")
        shown = picture.convert("L" if picture.mode == "LA" else "RGB") if alpha is not None else picture
        shown.info["icc_profile"] = profile
        if shown.mode == "CMYK" or (shown.mode == "RGB" and isinstance(profile, bytes)):
            shown = _converted(shown, "RGB")
        shown = shown.convert("RGB")
        if alpha is not None:
            shown.putalpha(alpha)
        target = io.BytesIO()
        shown.save(target, "WEBP", quality=88, method=2)
        return target.getvalue()
