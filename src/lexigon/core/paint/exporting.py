"""A page, or some of its objects, as a separate drawing for other programs: an SVG that needs no fonts and no other
files."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import replace

from lexigon.core.geometry import Rect
from lexigon.core.paint.coverage import reach_of
from lexigon.core.paint.items import Glyphs, Group, Item, Path
from lexigon.core.paint.outlines import run_path
from lexigon.core.paint.page import FrameArt, GroupArt, PageArt
from lexigon.core.paint.svg import Address, number, svg_of, text_css


def svg_of_objects(page: PageArt, ids: Collection[str], address: Address) -> str:
    """The objects of these ids, groups whole, as a document as large as what they paint, in points; words are outlines.
    ``address`` gives pictures by their files' names, best as data. "" where nothing is painted."""
    items = as_outlines(part.group(page.palette) for layer in page.layers for part in layer.parts if _named(part, ids))
    box = reach_of(items)
    if box is None:
        return ""
    return _document(items, box, address)


def svg_of_page(page: PageArt, address: Address) -> str:
    """What is printed on a page as a document of its size, cut off at its edges, in points; words are outlines, and
    paper is transparent. ``address`` gives pictures by their files' names, best as data."""
    return _document(as_outlines(page.items(printed=True)), Rect(0, 0, page.width, page.height), address)


def _document(items: tuple[Item, ...], box: Rect, address: Address) -> str:
    where = " ".join(map(number, (box.x, box.y, box.width, box.height)))
    size = f'width="{number(box.width)}pt" height="{number(box.height)}pt"'
    style = f"<style>{text_css()}</style>" if "blend-" in (drawing := svg_of(items, address)) else ""
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{where}" {size}>{style}{drawing}</svg>'


def _named(part: FrameArt | GroupArt, ids: Collection[str]) -> bool:
    if isinstance(part, GroupArt):
        return part.object.id in ids or any(_named(inner, ids) for inner in part.parts)
    return part.frame.id in ids


def as_outlines(items: Iterable[Item]) -> tuple[Item, ...]:
    """A display list with its glyphs as outlines, which belongs to nobody."""
    items_: list[Item] = []
    for item in items:
        if isinstance(item, Group):
            items_.append(replace(item, items=as_outlines(item.items), owner=None))
        elif isinstance(item, Glyphs):
            if steps := tuple(run_path(item.run, item.baseline)):
                items_.append(Path(steps, item.colour))
        else:
            items_.append(item)
    return tuple(items_)
