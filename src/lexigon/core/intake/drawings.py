"""SVG files as pictures: the form in which a drawing is stored, which every printer and screen can show.

A drawing that consists of outlines, plain colours and gradients becomes a page of a PDF, and stays vectors. Whether
that page is correct is checked: pdfium draws it, resvg draws the SVG, and where they differ the drawing is stored as
pixels, with enough resolution for print.
"""

from __future__ import annotations

import gzip
import io
import zlib
from datetime import datetime, timezone

from PIL import Image, ImageChops, ImageFilter, ImageStat

from lexigon.core.colour.colours import Colour, Gradient, Paint
from lexigon.core.paint.items import Group, Item, Path, Pen, paint
from lexigon.core.paint.svgwords import FONTS, outlined
from lexigon.core.pdf.boxes import PageBoxes
from lexigon.core.pdf.content import Content, ContentPainter
from lexigon.core.pdf.rasters import draw_pixels
from lexigon.core.pdf.resources import FileResources
from lexigon.core.pdf.variants import VARIANTS
from lexigon.core.pdf.writer import Name, PdfWriter
from lexigon.core.picture.files import MOST_BYTES, PictureError
from lexigon.core.picture.pdfpage import PdfPageError, rendered
from lexigon.core.picture.svgfile import PIXEL, Blend, Drawing, Shape, SvgError, is_svg, read_svg, safe
from lexigon.core.picture.svgpixels import render

COMPARED = 480
"""Pixels on the longer side with which the page is compared with the SVG."""
ALIKE = 0.5
"""Of 255, the mean difference at most, beside what a pixel to any side would make."""
APART = 40
"""Of 255: a pixel, slightly softened, that differs by more than this counts as different."""
FINE = 600.0
"""Pixels per inch of a drawing that is stored as pixels, at its natural size."""
MOST_ACROSS = 4000
THINNEST = 4
"""Pixels that a thin drawing has across where it is compared."""


def normalised(data: bytes) -> bytes:
    """The content that a picture's file is stored with: an SVG as a page of a PDF or as a PNG, every other as it is.
    Raises PictureError in plain words."""
    if data[:2] == b"\x1f\x8b":
        data = _unpacked(data)
    if not is_svg(data[:4000]):
        return data
    try:
        text = data.decode("utf-8-sig", "replace")
        svg, size = safe(text)
        raster = _reference_pixels(svg, size)
        if (page := _as_page(svg, size, raster)) is not None:
            return page
        if raster is None:
            raise SvgError("This drawing is too thin to be converted to pixels and cannot be drawn as outlines.")
        most = min(max(max(size) / 96 * FINE, COMPARED), MOST_ACROSS)
        out = io.BytesIO()
        ppi = most / (max(size) / 96)
        render(svg, round(most), size, FONTS).save(out, "PNG", dpi=(ppi, ppi), compress_level=4)
    except SvgError as error:
        raise PictureError(str(error)) from error
    return out.getvalue()


def _reference_pixels(svg: bytes, size: tuple[float, float]) -> Image.Image | None:
    """The drawing in pixels for comparison: ``COMPARED`` on its longer side, more for a narrow one, so that it has some
    across. None for one that is even narrower (a rule of a hundredth of its length has them, one of a thousandth does
    not)."""
    most = min(COMPARED * max(THINNEST / (COMPARED * min(size) / max(size)), 1.0), MOST_ACROSS)
    if most * min(size) / max(size) < 1:
        return None
    picture = render(svg, round(most), size, FONTS)
    picture.thumbnail((round(most), round(most)))  # what is smaller than a pixel of CSS is drawn as large as one
    return picture


def _unpacked(data: bytes) -> bytes:
    """An SVG that was packed (svgz); what unpacks to too much is refused."""
    try:
        with gzip.GzipFile(fileobj=io.BytesIO(data)) as stream:
            data_ = stream.read(MOST_BYTES + 1)
    except (OSError, EOFError, zlib.error) as error:
        raise PictureError("This file is damaged.") from error
    if len(data_) > MOST_BYTES:
        raise PictureError("This file unpacks to more than a picture may have.")
    return data_


def _as_page(svg: bytes, size: tuple[float, float], raster: Image.Image | None) -> bytes | None:
    """The drawing as a page; None where it holds what is no outline, or would look different from ``raster``,
    the drawing by another renderer."""
    try:
        drawing = read_svg(svg.decode(), outlined)
    except SvgError:
        return None
    if drawing.left_out:
        return None
    page = page_of(drawing, (size[0] * PIXEL, size[1] * PIXEL))
    if raster is None:
        return page
    try:
        image = rendered(page, 1, raster.size)
    except PdfPageError:
        return None
    return page if alike(image, raster) else None


def alike(one: Image.Image, other: Image.Image) -> bool:
    """Return whether two drawings look the same, on white and on black: nowhere by more than edges that lie a pixel
    aside."""
    size = min(one.width, other.width), min(one.height, other.height)
    if max(one.width, other.width) > size[0] + 2 or max(one.height, other.height) > size[1] + 2:
        return False
    rim = 2 if min(size) > 4 * THINNEST else 0  # rounded differently
    one, other = (picture.crop((rim, rim, size[0] - rim, size[1] - rim)) for picture in (one, other))
    for ground in ("white", "black"):
        laid = []
        for picture in (one, other):
            paper = Image.new("RGBA", other.size, ground)
            paper.alpha_composite(picture)
            laid.append(paper.convert("RGB"))
        for a, b in (laid, laid[::-1]):
            beyond = ImageChops.add(
                ImageChops.subtract(a, b.filter(ImageFilter.MaxFilter(3))),
                ImageChops.subtract(b.filter(ImageFilter.MinFilter(3)), a),
            )
            soft = beyond.filter(ImageFilter.GaussianBlur(2.0))
            if max(ImageStat.Stat(beyond).mean) > ALIKE or max(most for _, most in soft.getextrema()) > APART:  # type: ignore[misc]
                return False
    return True


def page_of(drawing: Drawing, size: tuple[float, float]) -> bytes:
    """A PDF with one page of that size in points, in the RGB colours of the drawing."""
    out = io.BytesIO()
    writer = PdfWriter(out, VARIANTS["screen"].version)
    resources = FileResources(writer, VARIANTS["screen"], draw=draw_pixels)
    sheet, content = PageBoxes(size[0], size[1], 0.0, 0.0, 0.0, 0.0, (0.0,) * 4), Content()
    tree, page = writer.reserve(), writer.reserve()
    paint([item for shape in drawing.shapes for item in _items(shape)], ContentPainter(content, sheet, resources))
    box = [0.0, 0.0, *size]
    writer.add(
        {
            "Type": Name("Page"),
            "Parent": tree,
            "MediaBox": box,
            "Resources": resources.names,
            "Contents": writer.add_stream(content.data()),
        },
        page,
    )
    writer.add({"Type": Name("Pages"), "Kids": [page], "Count": 1}, tree)
    resources.write()
    resources.queue.close()
    root: dict[str, object] = {"Type": Name("Catalog"), "Pages": tree}
    when = datetime(2000, 1, 1, tzinfo=timezone.utc)  # the same drawing gives the same file
    writer.close(writer.add(root), writer.add({"CreationDate": f"D:{when:%Y%m%d%H%M%SZ}"}))
    return out.getvalue()


def _items(shape: Shape) -> list[Item]:
    pen = Pen(shape.weight, Colour("rgb", shape.stroke), shape.dash, shape.cap, shape.join) if shape.stroke else None
    item = Path(shape.steps, _paint(shape), pen, shape.even_odd)
    return [Group((item,), opacity=shape.opacity)] if shape.opacity < 1 else [item]


def _paint(shape: Shape) -> Paint | None:
    if not isinstance(shape.fill, Blend):
        return Colour("rgb", shape.fill) if shape.fill is not None else None
    stops = tuple((at, Colour("rgb", light)) for at, light in sorted(shape.fill.stops, key=lambda stop: stop[0]))
    if shape.way is None:
        return stops[0][1]  # it will look different
    return Gradient(shape.fill.kind, *shape.way, stops)
