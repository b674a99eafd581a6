"""Images of placed pages (ISO 32000-2, 8.9): their pixels, as plates and as inks."""

from __future__ import annotations

from dataclasses import dataclass
from io import BytesIO
from typing import Any

import numpy as np
import pikepdf
from pikepdf import Name
from PIL import Image, UnidentifiedImageError

from lexigon.core.colour.colours import lab_transform
from lexigon.core.colour.profiles import Profile
from lexigon.core.pdf.placed.spaces import PROCESS, Space, Unreadable, device_space, space_of
from lexigon.core.picture.conversion import separated

Pixels = np.ndarray[Any, np.dtype[np.uint8]]
MOST_PIXELS = 120_000_000
UNUSUAL = "It has a picture that is packed in an unusual way."


@dataclass(slots=True, frozen=True)
class Samples:
    """The pixels of an image as they are in the file, a byte a component: (height, width, components). Of an indexed
    space they are indices."""

    data: Pixels
    decode: tuple[float, ...] | None
    """What the least and the most of each component stand for, where that is not what is usual."""


def samples_of(one: Any, space: Space) -> Samples:
    """The pixels of an image. Raises Unreadable."""
    width, height, bits = int(one.Width), int(one.Height), int(one.get("/BitsPerComponent", 8))
    if width < 1 or height < 1 or width * height > MOST_PIXELS:
        raise Unreadable("It has a picture that is too large.")
    filters = one.get("/Filter", pikepdf.Array())
    named = [str(f) for f in filters] if isinstance(filters, pikepdf.Array) else [str(filters)]
    if named and named[-1] in ("/DCTDecode", "/JPXDecode", "/CCITTFaxDecode", "/JBIG2Decode"):
        if len(named) > 1:
            raise Unreadable("It has a picture that is packed twice.")
        picture = _unpacked(one, named[0])
        data = np.asarray(picture, dtype=np.uint8)
        if picture.mode == "CMYK" and named[0] == "/DCTDecode":  # Pillow inverts them, as is usual
            data = 255 - data
        data = data.reshape(picture.height, picture.width, -1)
    else:
        data = _unpacked_bits(one.read_bytes(), width, height, space.count, bits, space.indexed is not None)
    if data.shape[2] != space.count:
        raise Unreadable("It has a picture in other colours than it says.")
    return Samples(data, _decode(one, space, bits))


def _unpacked(one: Any, name: str) -> Image.Image:
    """An image in an independent format."""
    try:
        if name == "/CCITTFaxDecode":
            return pikepdf.PdfImage(one).as_pil_image().convert("L")
        if name not in ("/DCTDecode", "/JPXDecode"):
            raise Unreadable(UNUSUAL)
        picture: Image.Image = Image.open(BytesIO(one.read_raw_bytes()), formats=("JPEG", "JPEG2000"))
        if picture.width * picture.height > MOST_PIXELS:
            raise Unreadable("It has a picture that is too large.")
        picture.load()
    except (UnidentifiedImageError, OSError, ValueError, pikepdf.PdfError, NotImplementedError) as error:
        raise Unreadable(UNUSUAL) from error
    if picture.mode not in ("L", "RGB", "CMYK"):
        raise Unreadable(UNUSUAL)
    return picture


def _unpacked_bits(data: bytes, width: int, height: int, count: int, bits: int, indexed: bool) -> Pixels:
    """Samples of 1, 2, 4, 8 or 16 bits, each line from a byte on; indices stay as they are, others fill the byte."""
    if bits not in (1, 2, 4, 8, 16):
        raise Unreadable("It has a picture of an unusual depth.")
    line = (width * count * bits + 7) // 8
    lines = np.frombuffer(data[: line * height].ljust(line * height, b"\0"), np.uint8).reshape(height, line)
    if bits == 16:
        lines = lines[:, ::2]
    elif bits < 8:
        places = np.arange(8 - bits, -1, -bits, dtype=np.uint8)
        parts = (lines[:, :, None] >> places) & (2**bits - 1)
        lines = parts.reshape(height, -1)
        if not indexed:
            lines = (lines.astype(np.uint16) * 255 // (2**bits - 1)).astype(np.uint8)
    return lines[:, : width * count].reshape(height, width, count)


def _decode(one: Any, space: Space, bits: int) -> tuple[float, ...] | None:
    decode = tuple(float(v) for v in one.get("/Decode", ()))
    if space.indexed is not None:
        return None if not decode or decode == (0.0, float(2**bits - 1)) else decode
    usual = space.ranges or (0.0, 1.0) * space.count
    if not decode or decode == usual:
        return None
    if len(decode) != len(usual):
        raise Unreadable("It has a picture whose values are not understood.")
    return decode


def image_space(one: Any, profile: Profile, named: Any) -> Space:
    """The colour space of an image; one packed as JPEG 2000 may say it there alone (8.9.5.1, 7.4.9). Raises
    Unreadable."""
    if "/ColorSpace" in one:
        return space_of(one.ColorSpace, profile, named)
    names = {"L": "/DeviceGray", "RGB": "/DeviceRGB", "CMYK": "/DeviceCMYK"}
    return device_space(names[_unpacked(one, "/JPXDecode").mode], profile)


def stencil_of(pdf: pikepdf.Pdf, one: Any, space: Space) -> Any:
    """Return what an image leaves out by its colours (8.9.6.4), as a stencil. Raises Unreadable."""
    ends = [int(v) for v in one.Mask]
    bits = int(one.get("/BitsPerComponent", 8))
    data = samples_of(one, space).data
    if len(ends) != 2 * data.shape[2]:
        raise Unreadable("It has a picture that is cut out by colours it does not have.")
    scale = 1.0 if space.indexed is not None or bits == 8 else 255 / (2**bits - 1)
    lows, highs = (np.array([int(v * scale) for v in part]) for part in (ends[::2], ends[1::2]))
    out = ((data >= lows) & (data <= highs)).all(axis=2)
    stream = pikepdf.Stream(pdf, np.packbits(out, axis=1).tobytes())
    stream.Type, stream.Subtype, stream.ImageMask, stream.BitsPerComponent = Name.XObject, Name.Image, True, 1
    stream.Width, stream.Height = data.shape[1], data.shape[0]
    return pdf.make_indirect(stream)


def light_of(one: Any, space: Space, ink: str, profile: Profile) -> bytes:
    """The pixels of an image as the light of a plate, a byte each. Raises Unreadable."""
    return (255 - _amounts(samples_of(one, space), space, (ink,), profile)[..., 0]).tobytes()


def inks_of(one: Any, space: Space, profile: Profile) -> Image.Image:
    """The pixels of an image in process inks. Raises Unreadable."""
    amounts = _amounts(samples_of(one, space), space, PROCESS, profile)
    return Image.fromarray(np.ascontiguousarray(amounts), "CMYK")


def _amounts(samples: Samples, space: Space, inks: tuple[str, ...], profile: Profile) -> Pixels:
    """Return how much of each ink every pixel has, 255 for all of it."""
    if space.count == 1:
        return _by_table(samples, space, inks)
    data = _decoded(samples, space)
    if space.light:
        picture = Image.fromarray(np.ascontiguousarray(data), "RGB")
        ink_picture = _lab_inks(picture, space, profile) if space.light == "lab" else separated(picture, profile)
        bands = [
            ink_picture.getchannel(PROCESS.index(i)) if i in PROCESS else Image.new("L", ink_picture.size) for i in inks
        ]
        return np.stack([np.asarray(plate, np.uint8) for plate in bands], axis=-1)
    # Of several inks each component is one: the plate is that of the ink's name.
    plates = []
    for ink in inks:
        at = [n for n in range(space.count) if space.amount([float(n == m) for m in range(space.count)], ink) > 0]
        if len(at) > 1:
            raise Unreadable("It has a picture with an ink twice.")
        plates.append(data[..., at[0]] if at else np.zeros(data.shape[:2], np.uint8))
    return np.stack(plates, axis=-1)


def _by_table(samples: Samples, space: Space, inks: tuple[str, ...]) -> Pixels:
    """Convert an image of one component by a table: it has 256 values at most."""
    low, high = samples.decode or ((0.0, 255.0) if space.indexed is not None else (0.0, 1.0))
    most = 255 if samples.decode is None or space.indexed is None else max(int(samples.data.max()), 1)
    values = [low + (high - low) * min(value / most, 1.0) for value in range(256)]
    table = np.array([[min(max(space.amount([value], ink), 0.0), 1.0) for ink in inks] for value in values])
    return (table * 255).round().astype(np.uint8)[samples.data[..., 0]]


def _decoded(samples: Samples, space: Space) -> Pixels:
    """Components with what their values stand for, a byte for the usual range of each."""
    if samples.decode is None:
        return samples.data
    usual = space.ranges or (0.0, 1.0) * space.count
    values = samples.data.astype(np.float32) / 255
    for at in range(space.count):
        low, high = samples.decode[2 * at : 2 * at + 2]
        least, most = usual[2 * at : 2 * at + 2]
        values[..., at] = (low + values[..., at] * (high - low) - least) / (most - least)
    return (values.clip(0, 1) * 255).round().astype(np.uint8)


def _lab_inks(picture: Image.Image, space: Space, profile: Profile) -> Image.Image:
    """CIE L*a*b* as process inks."""
    from PIL import ImageCms

    bands = [picture.getchannel(0)]
    for at in (1, 2):
        low, high = space.ranges[2 * at : 2 * at + 2]
        table = [min(max(round(low + value / 255 * (high - low)) + 128, 0), 255) for value in range(256)]
        bands.append(picture.getchannel(at).point(table))
    converted = ImageCms.applyTransform(Image.merge("LAB", bands), lab_transform(profile))
    assert converted is not None
    return converted
