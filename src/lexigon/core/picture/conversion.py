"""Pictures in the colours that they are put out in: for the screen, and in process inks. Through ICC profiles and
nowhere else."""

from __future__ import annotations

import io
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import Literal

from PIL import Image, ImageChops, ImageCms

from lexigon.core.colour.colours import proof_transform, proofed
from lexigon.core.colour.profiles import COATED, Profile
from lexigon.core.picture.files import decoding, pixels_of
from lexigon.core.picture.looks import PLAIN, Look

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
    """Empty where there is a ``jpeg``."""
    alpha: bytes | None = None
    jpeg: bytes | None = None
    """The same pixels as a JPEG, for what came as one; CMYK values are inverted in it, as is usual."""
    inks: Look | None = None
    """Whether the pixels, which are grey, give the amount of spot inks."""


@lru_cache(64)
def _transform(profile: bytes | None, source: str, press: Profile | None) -> ImageCms.ImageCmsTransform:
    """From a picture's own profile (sRGB, or coated paper's) to process inks for a printing condition, or with none to
    the screen's light."""
    inks, target = str(COATED.path), "CMYK" if press else "RGB"
    own: object = None
    if profile is not None:
        own = ImageCms.ImageCmsProfile(io.BytesIO(profile))
    if own is None:
        own = inks if source == "CMYK" else ImageCms.createProfile("sRGB")
    out = str(press.path) if press else ImageCms.createProfile("sRGB")
    return ImageCms.buildTransform(own, out, source, target, renderingIntent=INTENT, flags=FLAGS)  # type: ignore[arg-type]


def _converted(picture: Image.Image, press: Profile | None = None) -> Image.Image:
    profile = picture.info.get("icc_profile")
    for own in (profile, None) if isinstance(profile, bytes) else (None,):
        try:
            converted = ImageCms.applyTransform(picture, _transform(own, picture.mode, press))
        except (ImageCms.PyCMSError, OSError, ValueError):
            continue  # a broken profile, or one of other channels: as if there were none
        assert converted is not None
        return converted
    return picture.convert("CMYK" if press else "RGB")


def separated(picture: Image.Image, press: Profile) -> Image.Image:
    """A picture in light as process inks for a printing condition."""
    return _converted(picture, press)


def _proofed(picture: Image.Image, proof: Profile) -> Image.Image:
    """Light, grey or inks as a printing condition shows them: inks stay as they are, grey is black ink alone."""
    if picture.mode == "L":
        none = Image.new("L", picture.size)
        inks = Image.merge("CMYK", [none, none, none, ImageChops.invert(picture)])
    else:
        inks = picture if picture.mode == "CMYK" else _converted(picture, proof)
    proofed = ImageCms.applyTransform(inks, proof_transform(proof))
    assert proofed is not None
    return proofed


def _parts(picture: Image.Image) -> tuple[Image.Image, Image.Image | None]:
    """A picture without its alpha, and that."""
    if picture.mode not in ("LA", "RGBA"):
        return picture, None
    profile = picture.info.get("icc_profile")
    plain = picture.convert("L" if picture.mode == "LA" else "RGB")
    plain.info["icc_profile"] = profile
    return plain, picture.getchannel("A")


def _looked(picture: Image.Image, look: Look) -> tuple[Image.Image, Image.Image | None]:
    """An adjusted picture without its alpha channel, and that channel: its own, reduced by the cut-out."""
    from lexigon.core.picture.adjusting import adjusted, cut_mask  # what computes with pixels is slow to load

    plain, alpha = _parts(picture)
    if look.cut is not None:
        mask = cut_mask(plain, look.cut)
        alpha = mask if alpha is None else ImageChops.multiply(alpha, mask)
    return (adjusted(plain, look) if not look.as_it_is else plain), alpha


def raster(path: Path, press: Profile | None, most: tuple[int, int], look: Look = PLAIN) -> Raster:
    """A picture for output, of at most so many pixels across and down: in process inks for a printing condition,
    without one in RGB. Grey stays grey: in print it is black ink alone.

    Ink values of a CMYK picture are preserved. Raises PictureError.
    """
    picture, form = pixels_of(path, most, look.page)
    photograph = form == "JPEG"
    with decoding():
        picture, mask = _looked(picture, look)
        alpha = mask.tobytes() if mask is not None else None
        if look.ramped:
            return Raster("L", picture.width, picture.height, picture.tobytes(), alpha, inks=look)
        if picture.mode == "RGB" and press is not None:
            picture = _converted(picture, press)
        elif (picture.mode == "CMYK" and press is None) or (
            picture.mode == "RGB" and isinstance(picture.info.get("icc_profile"), bytes)
        ):
            picture = _converted(picture)
        jpeg = None
        if photograph:
            target = io.BytesIO()
            picture.save(target, "JPEG", quality=QUALITY, subsampling=0, optimize=True)
            jpeg = target.getvalue()
        mode: Literal["L", "RGB", "CMYK"] = picture.mode  # type: ignore[assignment]
        return Raster(mode, picture.width, picture.height, b"" if jpeg else picture.tobytes(), alpha, jpeg)


def on_screen(path: Path, most: int = ON_SCREEN, look: Look = PLAIN, proof: Profile | None = None) -> bytes:
    """A picture as the board shows it, a WebP of at most ``most`` pixels on its longer side: inks as the press would
    print them; as a soft proof with ``proof``."""
    target = io.BytesIO()
    screen_pixels(path, most, look, proof).save(target, "WEBP", quality=88, method=1)
    return target.getvalue()


def screen_pixels(path: Path, most: int = ON_SCREEN, look: Look = PLAIN, proof: Profile | None = None) -> Image.Image:
    """The same as pixels, RGB with or without alpha. Raises PictureError."""
    picture, _ = pixels_of(path, most, look.page)
    with decoding():
        adjusted, alpha = _looked(picture, look)
        if look.ramped:
            ramp = look.ramp() if proof is None else [proofed(inks, proof) for inks in look.ramp(proof)]
            steps = [tuple(round(255 * v) for v in rgb) for rgb in ramp]
            adjusted = Image.merge("RGB", [adjusted.point([step[band] for step in steps]) for band in range(3)])
        elif proof is not None:
            adjusted = _proofed(adjusted, proof)
        elif adjusted.mode == "CMYK" or (
            adjusted.mode == "RGB" and isinstance(adjusted.info.get("icc_profile"), bytes)
        ):
            adjusted = _converted(adjusted)
        adjusted = adjusted.convert("RGB")
        if alpha is not None:
            adjusted.putalpha(alpha)
        return adjusted
