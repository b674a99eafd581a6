"""An intent that puts a drawing from elsewhere on a page, as a group of shapes in the job's inks."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Literal

from lexigon.core.document import story_text
from lexigon.core.document.limits import Length, Many, Name, PathData
from lexigon.core.document.model import FrameSpec, Group, Job, Object, Swatch, bounds_of, mapped
from lexigon.core.document.outlines import shaped_on_page
from lexigon.core.editing.edits import EditError, Primitive, put
from lexigon.core.editing.holders import holder
from lexigon.core.editing.intents.objects.frames import check_place, new_layer
from lexigon.core.editing.intents.objects.transforming import with_scaled_strokes
from lexigon.core.geometry import Affine
from lexigon.core.path.steps import steps_of

MOST_SHAPES = 1900


@dataclass(slots=True, frozen=True)
class DrawnShape:
    """An outline with its position in the drawing, and its formatting."""

    data: PathData
    make: FrameSpec
    even_odd: bool = False
    name: Name = ""


@dataclass(slots=True, frozen=True)
class AddDrawing:
    """Shapes put on a page as a group, their middle at ``at`` (else in the middle of its margins), smaller where they
    are larger than the page; with the swatches they need."""

    page: str
    shapes: Annotated[tuple[DrawnShape, ...], Many(MOST_SHAPES, 1)]
    swatches: Annotated[tuple[Swatch, ...], Many(200)] = ()
    at: tuple[Length, Length] | None = None
    layer: str | None = None
    do: Literal["add-drawing"] = "add-drawing"
    label = "Import drawing"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        layer = new_layer(job, self.layer)
        shapes = []
        for shape in self.shapes:
            bare = Object(story_text.new_id("f"), shape.name or "Shape", layer=layer, make=shape.make)
            shapes.append(shaped_on_page(bare, steps_of(shape.data), shape.even_odd))
        group = (
            Object(story_text.new_id("u"), "Drawing", content=Group(tuple(shapes)), layer=layer)
            if len(shapes) > 1
            else shapes[0]
        )
        box = bounds_of((group,))
        if box is None:
            raise EditError("There is nothing to draw.")
        area = job.text_area(place.index) if place.page else job.master_area(place.master, place.side)
        scale = min(1.0, area.width / max(box.width, 1.0), area.height / max(box.height, 1.0))
        x, y = self.at or (area.x + area.width / 2, area.y + area.height / 2)
        map_ = Affine.move(-box.x - box.width / 2, -box.y - box.height / 2).then(Affine(scale, 0.0, 0.0, scale, x, y))
        group = with_scaled_strokes(mapped(group, map_), scale)
        if (there := bounds_of((group,))) is not None:
            check_place(replace(there, width=max(there.width, 4.0), height=max(there.height, 4.0)))
        return [*(put("swatches", one) for one in self.swatches if one.id not in job.swatches), *place.with_new(group)]
