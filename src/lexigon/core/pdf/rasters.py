"""Pixels of display items: they are written as a page of PDF, which is draw_pixels."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import TYPE_CHECKING

from lexigon.core.colour.colours import Colour
from lexigon.core.geometry import Affine, Rect, polygon_of
from lexigon.core.paint.items import Group, Item, Path, paint
from lexigon.core.path.shapes import polygon_path
from lexigon.core.pdf.boxes import PageBoxes
from lexigon.core.pdf.content import Content, ContentPainter
from lexigon.core.pdf.resources import FileResources
from lexigon.core.pdf.shadow_masks import Find
from lexigon.core.pdf.variants import VARIANTS
from lexigon.core.pdf.writer import Name, PdfWriter

if TYPE_CHECKING:
    from PIL import Image


def paint_on_white(items: Sequence[Item], area: Rect, per_point: float, find: Find | None) -> Image.Image:
    """Items drawn on white within an area, in grey. The white is a painted ground, so that blend modes have a
    backdrop."""
    ground = Path(polygon_path(polygon_of(area)), Colour("rgb", (1.0, 1.0, 1.0)))
    return draw_pixels((ground, *items), area, per_point, find, (255, 255, 255, 255)).convert("L")


def draw_pixels(
    items: Sequence[Item],
    area: Rect,
    per_point: float,
    find: Find | None,
    ground: tuple[int, int, int, int],
) -> Image.Image:
    """Return items drawn within an area as pixels on a ground (red, green, blue, opacity; 0 to 255). ``find`` gives the
    paths of pictures."""
    import pypdfium2 as pdfium

    target = io.BytesIO()
    writer = PdfWriter(target, compression=0)
    resources = FileResources(writer, VARIANTS["screen"], find, round(72 * per_point), draw=draw_pixels)
    content, tree = Content(), writer.reserve()
    sheet = PageBoxes(area.width, area.height, 0.0, 0.0, 0.0, 0.0, (0.0,) * 4)
    moved = Group(tuple(items), Affine.move(-area.x, -area.y))
    paint((moved,), ContentPainter(content, sheet, resources))
    page = {
        "Type": Name("Page"),
        "Parent": tree,
        "MediaBox": sheet.media,
        "Resources": resources.names,
        "Contents": writer.add_stream(content.data()),
        "Group": {"S": Name("Transparency"), "CS": Name("DeviceRGB")},
    }
    writer.add({"Type": Name("Pages"), "Kids": [writer.add(page)], "Count": 1}, tree)
    resources.write()
    writer.close(writer.add({"Type": Name("Catalog"), "Pages": tree}), writer.add({"Title": "shadow"}))
    document = pdfium.PdfDocument(target.getvalue())
    try:
        picture: Image.Image = document[0].render(scale=per_point, fill_color=ground).to_pil()
        return picture
    finally:
        document.close()
