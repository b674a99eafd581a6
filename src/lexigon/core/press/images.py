"""Images of pages, made from the finished PDF by pdfium: proofs, miniatures, PNG output."""

from __future__ import annotations

import io
from collections.abc import Iterator
from pathlib import Path

import pypdfium2 as pdfium
from PIL import Image

LARGEST_PIXELS = 60_000_000


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


def png_pages(pdf: str | Path | bytes, ppi: float) -> Iterator[bytes]:
    """Each page as the bytes of a PNG that knows its resolution."""
    document = pdfium.PdfDocument(pdf)
    try:
        for index in range(len(document)):
            target = io.BytesIO()
            page = document[index]
            picture = _rendered(page, ppi)
            shown = picture.width / page.get_width() * 72  # lower than asked for where the page is huge
            picture.save(target, "PNG", dpi=(shown, shown))
            yield target.getvalue()
    finally:
        document.close()
