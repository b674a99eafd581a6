"""Images of placed pages (ISO 32000-2, 8.9) as plates: each pixel as how much of an ink it has."""

from __future__ import annotations

from io import BytesIO
from typing import Any

import pikepdf
from PIL import Image

from lexigon.core.colour.profiles import Profile
from lexigon.core.picture.conversion import separated
from lexigon.core.press.placedspaces import PROCESS, Space, Unreadable


def light_of(one: Any, space: Space, ink: str, profile: Profile) -> bytes:
    """The pixels of an image as the light of a plate, a byte each. Raises Unreadable."""
    width, height, bits = int(one.Width), int(one.Height), int(one.get("/BitsPerComponent", 8))
    filters = one.get("/Filter", pikepdf.Array())
    named = [str(f) for f in filters] if isinstance(filters, pikepdf.Array) else [str(filters)]
    if named[-1:] == ["/DCTDecode"]:
        if len(named) > 1:
            raise Unreadable("It has a picture that is packed twice.")
        picture = Image.open(BytesIO(one.read_raw_bytes()), formats=("JPEG",))
        data = picture.tobytes()
        if picture.mode == "CMYK":  # Pillow turns them round, as is usual
            data = data.translate(bytes(range(255, -1, -1)))
        if len(picture.getbands()) != space.count:
            raise Unreadable("It has a picture in other colours than it says.")
        width, height, bits = *picture.size, 8
    elif any(f in ("/JPXDecode", "/JBIG2Decode", "/CCITTFaxDecode") for f in named):
        raise Unreadable("It has a picture that is packed in an unusual way.")
    else:
        data = one.read_bytes()
    if bits == 1 and space.count == 1:
        lines = Image.frombytes("1", (width, height), data[: (width + 7) // 8 * height]).convert("L")
        data = (lines if space.indexed is None else lines.point(lambda v: v // 255)).tobytes()
    elif bits != 8:
        raise Unreadable("It has a picture of an unusual depth.")
    inverted = _inverted(one, space)
    return _channel(data, (width, height), space, ink, profile, inverted)


def _inverted(one: Any, space: Space) -> bool:
    decode = [float(v) for v in one.get("/Decode", ())]
    if not decode or decode == [0.0, 1.0] * space.count or (space.indexed is not None and decode[0] == 0):
        return False
    if decode == [1.0, 0.0] * space.count:
        return True
    raise Unreadable("It has a picture whose values are stretched.")


def _channel(data: bytes, size: tuple[int, int], space: Space, ink: str, profile: Profile, inverted: bool) -> bytes:
    """The light of a plate from components of 8 bits."""
    count = size[0] * size[1]
    data = data[: count * space.count].ljust(count * space.count, b"\0")
    if space.count == 3:
        picture = Image.frombytes("RGB", size, data)
        inks = separated(picture, profile)
        plate = inks.getchannel(PROCESS.index(ink)) if ink in PROCESS else Image.new("L", size, 0)
        return plate.point(lambda v: 255 - v).tobytes()
    if space.count == 1:
        ends = [(255 - v if inverted else v) for v in range(256)]
        scale = 1.0 if space.indexed is not None else 255.0
        table = [round(255 * (1 - space.amount([v / scale], ink))) for v in ends]
        return Image.frombytes("L", size, data).point([min(max(v, 0), 255) for v in table]).tobytes()
    # Of several inks each component is one: the plate is that of the ink's name.
    found = [at for at in range(space.count) if space.amount([float(n == at) for n in range(space.count)], ink) > 0]
    if not found:
        return bytes([255]) * count
    if len(found) > 1:
        raise Unreadable("It has a picture with an ink twice.")
    plate = Image.frombytes("L", size, data[found[0] :: space.count])
    return (plate if inverted else plate.point(lambda v: 255 - v)).tobytes()
