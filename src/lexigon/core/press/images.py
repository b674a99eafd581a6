"""Images of pages, made from the finished PDF by pdfium: proofs, miniatures, PNG and JPEG output."""

from __future__ import annotations

import io
import struct
import zipfile
from collections.abc import Iterable, Iterator
from datetime import datetime
from functools import lru_cache
from pathlib import Path
from typing import IO

import pypdfium2 as pdfium
from PIL import Image, ImageCms

from lexigon.core.press.recipes import Recipe

LARGEST_PIXELS = 60_000_000
JPEG_QUALITY = 92
"""Of Pillow's scale to 95, with colour as fine as light: nothing is visible at print size (common practice, no
source)."""


def page_image(pdf: str | Path | bytes, index: int, ppi: float) -> Image.Image:
    """One page of a PDF at ``ppi`` pixels an inch, as RGB; the scale is lowered where it would be huge."""
    document = pdfium.PdfDocument(pdf)
    try:
        return _rendered(document[index], ppi)
    finally:
        document.close()


def _rendered(page: pdfium.PdfPage, ppi: float) -> Image.Image:
    width, height = page.get_size()
    scale = min(ppi / 72, (LARGEST_PIXELS / max(width * height, 1)) ** 0.5)
    image: Image.Image = page.render(scale=scale).to_pil()
    return image.convert("RGB")


def image_pages(pdf: str | Path | bytes, recipe: Recipe) -> Iterator[bytes]:
    """Each page as the bytes of an image of the recipe's kind that knows its resolution."""
    document = pdfium.PdfDocument(pdf)
    try:
        for index in range(len(document)):
            target = io.BytesIO()
            page = document[index]
            picture = _rendered(page, recipe.ppi)
            ppi = picture.width / page.get_width() * 72  # lower than asked for where the page is huge
            if recipe.kind == "jpeg":
                options = {"quality": JPEG_QUALITY, "subsampling": 0, "icc_profile": srgb_profile()}
                picture.save(target, "JPEG", dpi=(round(ppi), round(ppi)), **options)
            else:
                picture.save(target, "PNG", dpi=(ppi, ppi), icc_profile=srgb_profile())
            yield target.getvalue()
    finally:
        document.close()


@lru_cache(1)
def srgb_profile() -> bytes:
    """The profile of the light that page images are in (IEC 61966-2-1), to go with them; dated, so that it is always
    the same bytes."""
    profile = bytearray(ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes())
    profile[24:36] = struct.pack(">6H", 2026, 1, 1, 0, 0, 0)  # ICC.1:2022, 7.2.9: when it was made
    profile[84:100] = bytes(16)  # 7.2.19: an id of its bytes, none
    return bytes(profile)


def write_images(target: IO[bytes], images: Iterable[tuple[str, bytes]], when: datetime) -> None:
    """Images by name as a zip file, whose parts bear the moment ``when``. They are packed already, so they are
    stored."""
    with zipfile.ZipFile(target, "w", zipfile.ZIP_STORED) as archive:
        for name, data in images:
            archive.writestr(zipfile.ZipInfo(name, when.timetuple()[:6]), data)
