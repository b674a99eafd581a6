"""Pages as separate files: images made from the finished PDF, or SVG painted from the display list."""

from __future__ import annotations

import io
from base64 import b64encode
from collections.abc import Callable, Iterator, Sequence
from functools import lru_cache
from pathlib import Path

from lexigon.core.paint.display import Display
from lexigon.core.paint.exporting import svg_of_page
from lexigon.core.paint.svg import Address
from lexigon.core.picture.files import PictureError
from lexigon.core.picture.looks import read
from lexigon.core.press.document import Part
from lexigon.core.press.recipes import Recipe

SVG_PIXELS = 3200
"""Pixels on the longer side of a picture in an SVG."""
JPEG_QUALITY = 92
PICTURES = 16
"""Pictures that are remembered, since pages share some."""


def page_files(parts: Sequence[Part], pdf: Path, recipe: Recipe) -> Iterator[bytes]:
    """Iterate over the files of the pages of some parts, in order; ``pdf`` has the same pages, and images are made from
    it."""
    if recipe.kind != "svg":
        from lexigon.core.press.images import image_pages  # what reads PDF files is loaded where it is needed

        yield from image_pages(pdf, recipe)
    else:
        yield from svg_pages(parts)


def svg_pages(parts: Sequence[Part]) -> Iterator[bytes]:
    """Iterate over the pages of some parts as SVG, in order."""
    for part in parts:
        if part.prepare is not None:
            part.prepare()
        display, address = Display(part.composition), pictures_as_data(part.composition.find)
        for index in part.pages:
            yield svg_of_page(display.page(index), address).encode()


def pictures_as_data(find: Callable[[str], Path | None] | None) -> Address:
    """Return what gives pictures as data in their addresses, which makes a drawing complete in itself: as JPEG, or as
    PNG where something is transparent (those two every program reads: SVG 1.1, 5.7). One that is missing has no
    address."""
    from lexigon.core.picture.conversion import screen_pixels

    @lru_cache(PICTURES)
    def address(file: str, look: str) -> str:
        path = find(file) if find is not None else None
        if path is None:
            return ""
        try:
            picture = screen_pixels(path, SVG_PIXELS, read(look))
        except PictureError:
            return ""
        form, options = ("PNG", {}) if picture.mode == "RGBA" else ("JPEG", {"quality": JPEG_QUALITY, "subsampling": 0})
        target = io.BytesIO()
        picture.save(target, form, **options)
        return f"data:image/{form.lower()};base64,{b64encode(target.getvalue()).decode()}"

    return address
