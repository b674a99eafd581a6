"""Pages of PDF files as pictures: what they are, and how they look. They stay vectors in print
(``pdf/placed/pages.py``).

Measured by the crop box, turned as the page says (ISO 32000-2, 14.11.2 and 7.7.3.3). Nothing in a file is run, and
nothing else is opened for it."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Any, Literal

from lexigon.core.errors import LexigonError
from lexigon.core.numerals import integer

if TYPE_CHECKING:
    import pypdfium2 as pdfium
    from PIL import Image

PPI = 1200.0
"""Whether its size is given in so many pixels per inch, where these are not too many."""
MOST_PAGES = 2000
LOOKED_THROUGH = 3
"""How deep forms within forms are looked through for colours."""
Space = Literal["grey", "rgb", "cmyk"]


class PdfPageError(LexigonError):
    """The file cannot be shown."""


def is_pdf(head: bytes) -> bool:
    return b"%PDF-" in head[:1024]


@contextmanager
def _opened(source: bytes | Path) -> Iterator[pdfium.PdfDocument]:
    import pypdfium2 as pdfium

    try:
        document = pdfium.PdfDocument(source)
    except pdfium.PdfiumError as error:
        raise PdfPageError("This PDF is damaged or locked with a password.") from error
    try:
        yield document
    except pdfium.PdfiumError as error:
        raise PdfPageError("This PDF is damaged.") from error
    finally:
        document.close()


def sizes_of(source: bytes | Path) -> list[tuple[float, float]]:
    """The width and height of each page in points. Raises PdfPageError."""
    with _opened(source) as document:
        if not 1 <= len(document) <= MOST_PAGES:
            raise PdfPageError(f"A PDF with 1 to {integer(MOST_PAGES)} pages can be placed.")
        return [document.get_page_size(number) for number in range(len(document))]


def rendered(source: bytes | Path, page: int, most: tuple[int, int]) -> Image.Image:
    """A page (the first is 1) as RGBA pixels, at most so many across and down. Raises PdfPageError."""
    with _opened(source) as document:
        if not 1 <= page <= len(document):
            raise PdfPageError(f"This PDF has no page {page}.")
        page_ = document[page - 1]
        width, height = page_.get_size()
        scale = min(most[0] / max(width, 0.01), most[1] / max(height, 0.01))
        picture: Image.Image = page_.render(scale=scale, fill_color=(255, 255, 255, 0)).to_pil()
        return picture.convert("RGBA")


def space_of(source: bytes | Path, page: int) -> Space:
    """Return the colours of a page, as far as its drawing declares them: RGB anywhere, else inks, else grey. If it
    cannot be determined, it is taken for RGB, so that somebody looks at it."""
    import io

    import pikepdf

    from lexigon.core.picture.brokenpdf import BROKEN

    try:
        with pikepdf.open(io.BytesIO(source) if isinstance(source, bytes) else source) as pdf:
            spaces = _spaces(pdf.pages[page - 1], LOOKED_THROUGH)
    except pikepdf.PasswordError as error:
        raise PdfPageError("This PDF is damaged or locked with a password.") from error
    except BROKEN:
        return "rgb"
    return "rgb" if "rgb" in spaces else "cmyk" if "cmyk" in spaces else "grey"


OPERATORS = {"rg": "rgb", "RG": "rgb", "k": "cmyk", "K": "cmyk"}


def _spaces(holder: Any, depth: int) -> set[str]:
    import pikepdf

    spaces = {OPERATORS.get(str(one.operator), "") for one in pikepdf.parse_content_stream(holder)}
    resources = holder.get("/Resources", {})
    named = [
        *dict(resources.get("/ColorSpace", {})).values(),
        *(one.get("/ColorSpace") for one in dict(resources.get("/Shading", {})).values()),
    ]
    for one in dict(resources.get("/XObject", {})).values():
        if str(one.get("/Subtype")) == "/Form" and depth:
            spaces |= _spaces(one, depth - 1)
        elif "/ColorSpace" in one:
            named.append(one.ColorSpace)
    return spaces | {_named(space) for space in named if space is not None}


def _named(space: Any) -> str:
    import pikepdf

    if isinstance(space, pikepdf.Array) and len(space) > 1:
        if str(space[0]) == "/ICCBased":
            return {1: "grey", 3: "rgb", 4: "cmyk"}.get(int(space[1].get("/N", 0)), "")
        return "cmyk" if str(space[0]) in ("/Separation", "/DeviceN") else _named(space[1])
    return {"/DeviceRGB": "rgb", "/CalRGB": "rgb", "/DeviceCMYK": "cmyk"}.get(str(space), "")
