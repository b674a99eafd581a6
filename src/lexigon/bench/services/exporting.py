"""Objects as other programs take them."""

from __future__ import annotations

from base64 import b64encode
from collections.abc import Sequence

from lexigon.bench.services.jobs import OpenJob
from lexigon.bench.services.pictures import SIZES, screen_picture
from lexigon.core.document.holder_keys import master_half
from lexigon.core.editing.intents import Chosen
from lexigon.core.paint.display import Display
from lexigon.core.paint.exporting import svg_of_objects
from lexigon.core.picture.looks import read


def svg_of_selection(live: OpenJob, objects: Sequence[Chosen]) -> str:
    """Return the selected objects of a page as an SVG with embedded screen versions of their pictures; "" where nothing
    is painted."""
    display, page = Display(live.workspace.composition), objects[0].page
    if half := master_half(page):
        art = display.master(*half)
    else:
        index = live.job.page_index(page)
        if index is None:
            return ""
        art = display.page(index)

    def address(file: str, look: str) -> str:
        data = screen_picture(file, live.key, SIZES[-1], read(look))
        return f"data:image/webp;base64,{b64encode(data).decode()}" if data else ""

    return svg_of_objects(art, {one.id for one in objects}, address)
