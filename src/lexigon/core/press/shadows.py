"""Soft shadows for the press: how dark each is where, found by drawing what throws it and softening that."""

from __future__ import annotations

import io
from collections.abc import Callable, Sequence
from pathlib import Path as FilePath
from typing import TYPE_CHECKING

from lexigon.core.colour.colours import BLACK, Colour
from lexigon.core.geometry import Affine, Rect, polygon_of
from lexigon.core.paint.items import Fade, Group, Item, Path, Pen, Shadow, paint
from lexigon.core.path.shapes import polygon_path
from lexigon.core.press.boxes import PageBoxes
from lexigon.core.press.pdf import Name, PdfWriter
from lexigon.core.press.variants import VARIANTS

if TYPE_CHECKING:
    from PIL import Image

PPI = 150
"""As fine as a soft edge needs; a hard one is drawn finer."""
HARD_PPI = 600
MOST = 4000
"""Pixels on the longer side."""


def mask_of(
    shadow: Shadow, items: Sequence[Item], scale: float, find: Callable[[str], FilePath | None] | None
) -> Image.Image:
    """Return the opacity of a shadow within its bounds, as grey values from 0 to its maximum. ``scale`` is its
    magnification on the sheet; ``find`` gives the paths of pictures."""
    from PIL import ImageFilter

    reach = shadow.reach
    ppi = (HARD_PPI if shadow.blur < 1 else PPI) * scale
    per_point = min(ppi / 72, MOST / max(reach.width, reach.height))
    mask = _coverage_image(items, reach.moved(-shadow.dx, -shadow.dy), per_point, find)
    soft = mask.filter(ImageFilter.GaussianBlur(shadow.deviation * per_point)) if shadow.blur else mask
    return soft.point(lambda value: round(value * shadow.opacity))


def fade_of(fade: Fade, scale: float) -> Image.Image:
    """Return the visibility within the bounds of an object with a soft edge, as grey values: its outline, reduced by
    half of the width, softened. ``scale`` is its magnification on the sheet."""
    from PIL import ImageChops, ImageFilter

    per_point = min(PPI * scale / 72, MOST / max(fade.bounds.width, fade.bounds.height))
    edge = Path(fade.steps, pen=Pen(fade.width, BLACK, join="round"), even_odd=fade.even_odd)
    within = _coverage_image((Path(fade.steps, BLACK, even_odd=fade.even_odd),), fade.bounds, per_point, None)
    stroke_mask = _coverage_image((edge,), fade.bounds, per_point, None)
    return ImageChops.multiply(within, ImageChops.invert(stroke_mask)).filter(
        ImageFilter.GaussianBlur(fade.deviation * per_point)
    )


def paint_on_white(
    items: Sequence[Item], area: Rect, per_point: float, find: Callable[[str], FilePath | None] | None
) -> Image.Image:
    """Items drawn on white within an area, in grey. The white is a painted ground, so that blend modes have a
    backdrop."""
    ground = Path(polygon_path(polygon_of(area)), Colour("rgb", (1.0, 1.0, 1.0)))
    return _rendered((ground, *items), area, per_point, find, (255, 255, 255, 255)).convert("L")


def _coverage_image(
    items: Sequence[Item], area: Rect, per_point: float, find: Callable[[str], FilePath | None] | None
) -> Image.Image:
    """Return what is painted within an area, as one shape: how much it hides of what lies below it."""
    return _rendered(items, area, per_point, find, (255, 255, 255, 0)).convert("RGBA").getchannel("A")


def _rendered(
    items: Sequence[Item],
    area: Rect,
    per_point: float,
    find: Callable[[str], FilePath | None] | None,
    ground: tuple[int, int, int, int],
) -> Image.Image:
    import pypdfium2 as pdfium

    from lexigon.core.press.content import Content, ContentPainter
    from lexigon.core.press.resources import FileResources

    target = io.BytesIO()
    writer = PdfWriter(target, compression=0)
    resources = FileResources(writer, VARIANTS["screen"], find, round(72 * per_point))
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
