"""A PDF or a picture that is laid over the board: its size at actual scale, and its rendering.

PDF pages are measured by their crop box (ISO 32000-2, 14.11.2); pictures by the resolution they state, else 300 ppi.
"""

from __future__ import annotations

import io
from dataclasses import dataclass
from typing import Literal

import pypdfium2 as pdfium
from PIL import ImageOps

from lexigon.core.errors import LexigonError
from lexigon.core.picture.files import MOST_BYTES, PictureError, decoding, facts_of, opened


class PlacedError(LexigonError):
    """The file cannot be laid over the board."""


@dataclass(slots=True, frozen=True)
class PlacedFile:
    """The facts of a placed file. Width and height of its first page in points."""

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
    try:
        facts = facts_of(data)
    except PictureError as error:
        raise PlacedError(str(error)) from error
    return PlacedFile("picture", facts.width / facts.ppi * 72, facts.height / facts.ppi * 72, 1)


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


def rendering(data: bytes, most: int = 2400) -> bytes:
    """The first page or the picture as a PNG of at most ``most`` pixels on its longer side."""
    if look(data).kind == "pdf":
        document = pdfium.PdfDocument(data)
        try:
            page = document[0]
            scale = most / max(*page.get_size(), 1.0)
            image = page.render(scale=min(scale, 300 / 72), fill_color=(255, 255, 255, 0)).to_pil()
        finally:
            document.close()
    else:
        try:
            picture = opened(data)
            with decoding():
                picture.draft("RGB", (most, most))
                image = ImageOps.exif_transpose(picture).convert("RGBA")
                image.thumbnail((most, most))
        except PictureError as error:
            raise PlacedError(str(error)) from error
    target = io.BytesIO()
    image.save(target, "PNG")
    return target.getvalue()
