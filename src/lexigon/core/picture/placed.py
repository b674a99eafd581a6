"""A PDF or a picture that is laid over the board: its size at actual scale, and its rendering.

PDF pages are measured by their crop box (ISO 32000-2, 14.11.2); pictures by the resolution they state, else 300 ppi.
"""

from __future__ import annotations

import io
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Literal

import pypdfium2 as pdfium
from PIL import Image, ImageOps, UnidentifiedImageError

from lexigon.core.errors import LexigonError

MOST_BYTES = 60_000_000
MOST_PIXELS = 200_000_000
STATED_PPI = 300.0


class PlacedError(LexigonError):
    """The file cannot be laid over the board."""


@dataclass(slots=True, frozen=True)
class PlacedFile:
    """What a file holds. Width and height of its first page in points."""

    kind: Literal["pdf", "picture"]
    width: float
    height: float
    pages: int


def look(data: bytes) -> PlacedFile:
    """Find out what a file is. Raises PlacedError in plain words."""
    if not data:
        raise PlacedError("The file is empty.")
    if len(data) > MOST_BYTES:
        raise PlacedError(f"The file has {len(data) / 1e6:.0f} MB; a template has at most {MOST_BYTES // 10**6} MB.")
    if data[:1024].lstrip().startswith(b"%PDF"):
        return _pdf(data)
    picture = _opened(data)
    with _decoding():
        x, y = (float(v) for v in picture.info.get("dpi", (STATED_PPI, STATED_PPI)))
        width, height = picture.size
        if picture.getexif().get(0x0112) in (5, 6, 7, 8):  # EXIF orientation: turned on its side
            width, height = height, width
    return PlacedFile(
        "picture", width / (x if x > 10 else STATED_PPI) * 72, height / (y if y > 10 else STATED_PPI) * 72, 1
    )


@contextmanager
def _decoding() -> Iterator[None]:
    """Decoders meet broken data with many kinds of error; all mean the same to the user."""
    try:
        yield
    except (OSError, ValueError, SyntaxError, EOFError) as error:
        raise PlacedError("This picture is damaged and cannot be shown.") from error


def _pdf(data: bytes) -> PlacedFile:
    try:
        document = pdfium.PdfDocument(data)
        try:
            if len(document) < 1:
                raise PlacedError("This PDF has no pages.")
            width, height = document[0].get_size()
            return PlacedFile("pdf", width, height, len(document))
        finally:
            document.close()
    except pdfium.PdfiumError as error:
        raise PlacedError("This PDF is damaged or locked with a password; it was not placed.") from error


def _opened(data: bytes) -> Image.Image:
    try:
        picture = Image.open(io.BytesIO(data), formats=("PNG", "JPEG", "TIFF", "WEBP"))
    except (UnidentifiedImageError, OSError, ValueError, Image.DecompressionBombError) as error:
        raise PlacedError("This is not a PDF and not a PNG, JPEG, TIFF or WebP picture.") from error
    if picture.width * picture.height > MOST_PIXELS:
        raise PlacedError(f"This picture has {picture.width:,} × {picture.height:,} pixels, more than can be shown.")
    return picture


def rendering(data: bytes, most: int = 2400) -> bytes:
    """The first page or the picture as a PNG of at most ``most`` pixels on its longer side."""
    if look(data).kind == "pdf":
        document = pdfium.PdfDocument(data)
        try:
            page = document[0]
            scale = most / max(*page.get_size(), 1.0)
            shown = page.render(scale=min(scale, 300 / 72), fill_color=(255, 255, 255, 0)).to_pil()
        finally:
            document.close()
    else:
        picture = _opened(data)
        with _decoding():
            picture.draft("RGB", (most, most))
            shown = ImageOps.exif_transpose(picture).convert("RGBA")
            shown.thumbnail((most, most))
    target = io.BytesIO()
    shown.save(target, "PNG")
    return target.getvalue()
