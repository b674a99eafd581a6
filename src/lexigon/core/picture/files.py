"""Picture files: opened with care, and what they say of themselves. Every file is hostile until read."""

from __future__ import annotations

import io
import re
import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Literal

from PIL import Image, ImageCms, ImageOps, UnidentifiedImageError

from lexigon.core.errors import LexigonError
from lexigon.core.numerals import integer
from lexigon.core.picture.pdfpage import PPI, PdfPageError, is_pdf, rendered, sizes_of
from lexigon.core.picture.pdfpage import space_of as colours_of

FORMATS = ("PNG", "JPEG", "TIFF", "WEBP", "AVIF")
MOST_BYTES = 60_000_000
MOST_PIXELS = 120_000_000
"""Some 100 megapixels and a little: what is decoded takes 4 bytes each."""
STATED_PPI = 300.0
"""Taken where a file states no resolution, or none that can be meant."""
LEAST_PPI = 10.0
MOST_ACROSS = 100_000
"""The most pixels in which the size of a drawing is given."""

Space = Literal["grey", "rgb", "cmyk"]


class PictureError(LexigonError):
    """The file is no picture that can be shown."""


@dataclass(slots=True, frozen=True)
class Facts:
    """The facts of a picture file; width and height in pixels, turned as it is meant to be seen."""

    format: str
    width: int
    height: int
    ppi: float
    space: Space
    alpha: bool
    profile: str = ""
    """What its ICC profile calls itself."""
    taken: str = ""
    """The day its camera says, such as 2026-05-04."""
    credit: str = ""
    """Whose work it says it is."""
    focus: tuple[float, float] = (0.5, 0.5)
    """Its subject, as far as it can be found from its pixels."""
    pages: int = 1
    """Of a PDF; the facts are those of its first page, or of the one that was asked for."""


@contextmanager
def decoding() -> Iterator[None]:
    """Decoders meet broken data with many kinds of error; all mean the same to the user."""
    try:
        yield
    except PictureError:
        raise
    except (
        OSError,
        ValueError,
        SyntaxError,
        EOFError,
        ArithmeticError,
        RuntimeError,
        Image.DecompressionBombError,
    ) as error:
        raise PictureError("This picture is damaged and cannot be shown.") from error


def opened(source: bytes | Path) -> Image.Image:
    """A picture whose pixels are not read yet. Raises PictureError in plain words."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # sizes are judged below, by our own bound
            picture = Image.open(io.BytesIO(source) if isinstance(source, bytes) else source, formats=FORMATS)
    except Image.DecompressionBombError as error:
        raise PictureError("This picture claims more pixels than can be shown.") from error
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, RuntimeError) as error:
        raise PictureError(_what_instead(source)) from error
    if picture.width * picture.height > MOST_PIXELS:
        raise PictureError(
            f"This picture has {integer(picture.width)} × {integer(picture.height)} pixels, more than can be shown."
        )
    return picture


def _what_instead(source: bytes | Path) -> str:
    """Return what to say of a file that is no picture we read, known by how such files begin."""
    try:
        with io.BytesIO(source) if isinstance(source, bytes) else source.open("rb") as file:
            head = file.read(512)
    except OSError:
        head = b""
    if head[4:8] == b"ftyp" and head[8:12] in (b"heic", b"heix", b"mif1", b"msf1"):
        return "HEIC pictures cannot be read. Save it as JPEG or PNG first."
    if head.startswith((b"GIF8", b"BM")):
        return "GIF and BMP pictures cannot be imported. Save it as PNG first."
    return "This is not a PNG, JPEG, TIFF, WebP or AVIF picture, nor an SVG or PDF."


def space_of(picture: Image.Image) -> Space:
    if picture.mode == "CMYK":
        return "cmyk"
    return "grey" if picture.mode in ("1", "L", "LA", "La", "I", "F") or picture.mode.startswith("I;16") else "rgb"


def has_alpha(picture: Image.Image) -> bool:
    return picture.mode in ("LA", "La", "RGBA", "RGBa", "PA") or "transparency" in picture.info


def size_of(picture: Image.Image) -> tuple[int, int]:
    """Its pixels across and down, as it is meant to be seen."""
    width, height = picture.size
    return (height, width) if picture.getexif().get(0x0112) in (5, 6, 7, 8) else (width, height)  # EXIF orientation


def facts_of(data: bytes, page: int = 1) -> Facts:
    """Find out what a picture is, and that it can be decoded; of a PDF what a page is. Raises PictureError in plain
    words."""
    if not data:
        raise PictureError("The file is empty.")
    if len(data) > MOST_BYTES:
        raise PictureError(
            f"The file has {len(data) / 1e6:.0f} MB. A picture can have at most {MOST_BYTES // 10**6} MB."
        )
    from lexigon.core.picture.focus import SMALL, focus_of  # what computes with pixels is slow to load

    if is_pdf(data):
        return _pdf_facts(data, page)
    picture = opened(data)
    with decoding():
        stated = picture.info.get("dpi", (STATED_PPI, STATED_PPI))
        ppi = float(stated[0] if isinstance(stated, tuple) else stated)
        width, height = size_of(picture)
        facts = Facts(
            str(picture.format),
            width,
            height,
            ppi if ppi >= LEAST_PPI else STATED_PPI,
            space_of(picture),
            has_alpha(picture),
            _profile(picture.info.get("icc_profile")),
            _date_taken(picture),
            _credit(picture),
        )
        small = upright(picture, (SMALL, SMALL))
    return replace(facts, focus=focus_of(small))


def _pdf_facts(data: bytes, page: int) -> Facts:
    """Return the facts of a PDF page, whose size is given in pixels at a resolution that loses nothing."""
    from lexigon.core.picture.focus import SMALL, focus_of

    try:
        sizes = sizes_of(data)
        if not 1 <= page <= len(sizes):
            raise PictureError(f"This PDF has no page {page}.")
        width, height = sizes[page - 1]
        ppi = min(PPI, MOST_ACROSS / max(width, height, 1.0) * 72)
        space = colours_of(data, page)
        small = rendered(data, page, (SMALL, SMALL))
    except PdfPageError as error:
        raise PictureError(str(error)) from error
    paper = Image.new("RGBA", small.size, "white")
    paper.alpha_composite(small)
    across, down = (max(round(side / 72 * ppi), 1) for side in (width, height))
    return Facts("PDF", across, down, ppi, space, True, focus=focus_of(paper), pages=len(sizes))


def pixels_of(path: Path, most: tuple[int, int] | int, page: int = 1) -> tuple[Image.Image, str]:
    """A picture upright, and the format of its file: with two numbers of at most so many pixels across and down, each
    for itself, with one of at most so many on its longer side; of a PDF that page, drawn so large. Raises
    PictureError."""
    with path.open("rb") as stream:
        is_drawn = is_pdf(stream.read(1024))
    if is_drawn:
        try:
            return rendered(path, page, most if isinstance(most, tuple) else (most, most)), "PDF"
        except PdfPageError as error:
            raise PictureError(str(error)) from error
    source = opened(path)
    with decoding():
        if isinstance(most, int):
            width, height = size_of(source)
            part = min(most / max(width, height), 1.0)
            most = max(round(width * part), 1), max(round(height * part), 1)
        return upright(source, most), str(source.format)


def _profile(data: object) -> str:
    if not isinstance(data, bytes):
        return ""
    try:
        return _words(ImageCms.getProfileDescription(ImageCms.ImageCmsProfile(io.BytesIO(data))))
    except (ImageCms.PyCMSError, OSError, ValueError):
        return ""


def _date_taken(picture: Image.Image) -> str:
    """EXIF's DateTimeOriginal, else DateTime, as a date."""
    exif = picture.getexif()
    date = str(exif.get_ifd(0x8769).get(0x9003) or exif.get(0x0132) or "")
    match = re.match(r"(\d{4}):(\d\d):(\d\d)", date)
    return "-".join(match.groups()) if match and match[1] > "1800" else ""


def _credit(picture: Image.Image) -> str:
    """EXIF's Artist, else Copyright."""
    exif = picture.getexif()
    return _words(exif.get(0x013B) or exif.get(0x8298) or "")


def _words(value: object) -> str:
    return " ".join(re.sub(r"[^ -~\xa0-\ud7ff\ue000-\ufffd]", " ", str(value)).split())[:190]


def upright(picture: Image.Image, most: tuple[int, int] | None = None) -> Image.Image:
    """The picture turned as it is meant to be seen, 8 bits a channel, as grey, RGB or CMYK with its alpha; with
    ``most`` reduced to at most so many pixels across and down, each for itself, never enlarged."""
    with decoding():
        if most is not None and picture.format == "JPEG":
            lies = picture.getexif().get(0x0112) in (5, 6, 7, 8)  # on its side: it is turned below
            picture.draft(
                None, (most[1], most[0]) if lies else most
            )  # the decoder halves what is far too large, at no cost
        profile = picture.info.get("icc_profile")
        turned = picture.getexif().get(0x0112, 1) != 1
        picture.load()
        upright_picture = ImageOps.exif_transpose(picture) if turned else picture  # which makes a copy
        if upright_picture.mode.startswith("I;16") or upright_picture.mode == "I":
            upright_picture = upright_picture.point(lambda value: value * (1 / 257)).convert("L")
        elif upright_picture.mode == "F":  # light of 0 to 1, or to 255
            most_light = float(upright_picture.getextrema()[1])  # type: ignore[arg-type]
            upright_picture = (
                upright_picture.point(lambda value: value * 255 + 0) if most_light <= 1 else upright_picture
            ).convert("L")
        elif upright_picture.mode in ("1", "L", "CMYK", "RGB") and "transparency" not in upright_picture.info:
            upright_picture = upright_picture.convert("L") if upright_picture.mode == "1" else upright_picture
        elif upright_picture.mode in ("LA", "La") or (
            upright_picture.mode == "L" and "transparency" in upright_picture.info
        ):
            upright_picture = upright_picture if upright_picture.mode == "LA" else upright_picture.convert("LA")
        elif has_alpha(upright_picture):
            upright_picture = upright_picture if upright_picture.mode == "RGBA" else upright_picture.convert("RGBA")
        else:
            upright_picture = upright_picture.convert("RGB")
        if most is not None and (upright_picture.width > most[0] or upright_picture.height > most[1]):
            size = max(min(most[0], upright_picture.width), 1), max(min(most[1], upright_picture.height), 1)
            upright_picture = _resized(upright_picture, size)
        if profile:
            upright_picture.info["icc_profile"] = profile
    return upright_picture


GAP = 3.0
"""A picture is averaged to this many times the size that is wanted, and only then filtered."""
STRIP = 4_000_000
"""Pixels that are worked on at once where a picture has alpha: each step copies what it is given."""


def _resized(picture: Image.Image, size: tuple[int, int]) -> Image.Image:
    """The picture reduced to a size. One with alpha is averaged strip by strip, which takes a third of the memory (120
    million pixels are 480 MB once, not three times) and gives the same pixels, but for rounding."""
    x, y = (max(int(whole / part / GAP), 1) for whole, part in zip(picture.size, size, strict=True))
    if picture.mode not in ("LA", "RGBA") or picture.width * picture.height <= STRIP or x * y == 1:
        return picture.resize(size, Image.Resampling.LANCZOS, reducing_gap=GAP)
    averaged = Image.new(picture.mode, (-(-picture.width // x), -(-picture.height // y)))
    high = max(STRIP // picture.width // y, 1) * y
    for top in range(0, picture.height, high):
        strip = picture.crop((0, top, picture.width, min(top + high, picture.height)))
        averaged.paste(strip.reduce((x, y)), (0, top // y))
    box = (0, 0, picture.width / x, picture.height / y)
    return averaged.resize(size, Image.Resampling.LANCZOS, box=box)
