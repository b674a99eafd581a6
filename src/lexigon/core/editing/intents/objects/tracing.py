"""An intent that puts shapes in the place of a picture, or over it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from lexigon.core.document import story_text
from lexigon.core.document.cropping import map_of
from lexigon.core.document.limits import Many
from lexigon.core.document.model import Group, Job, Object, Outline, Pose, Swatch, exchanged
from lexigon.core.document.outlines import shaped_on_page
from lexigon.core.editing.edits import Primitive, put
from lexigon.core.editing.holders import holder
from lexigon.core.editing.intents.objects.drawings import MOST_SHAPES, DrawnShape
from lexigon.core.editing.intents.pictures.placing import with_picture
from lexigon.core.path.steps import mapped_steps, steps_of


@dataclass(slots=True, frozen=True)
class TracePicture:
    """The shapes that a picture was traced to, in parts of its width and height, as a group that its frame's outline
    cuts off; in place of the picture, or over it."""

    page: str
    frame: str
    shapes: Annotated[tuple[DrawnShape, ...], Many(MOST_SHAPES, 1)]
    swatches: Annotated[tuple[Swatch, ...], Many(200)] = ()
    keep: bool = False
    """The picture stays, under them."""
    opened: bool = False
    """They are not traced from its pixels but what it is drawn of."""
    do: Literal["trace-picture"] = "trace-picture"

    @property
    def label(self) -> str:
        return "Convert picture to shapes" if self.opened else "Trace picture"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        frame, picture, objects, edits = with_picture(place, self.frame)
        rect, pose = place.rect(frame), frame.place
        map_ = map_of(picture, job.pictures[picture.picture], rect)
        if pose is not None and pose.map is not None:
            map_ = map_.then(pose.map)
        shapes = []
        for shape in self.shapes:
            bare = Object(story_text.new_id("f"), shape.name or "Shape", layer=frame.layer, make=shape.make)
            shapes.append(shaped_on_page(bare, mapped_steps(steps_of(shape.data), map_), shape.even_odd))
        group = Object(
            story_text.new_id("u"),
            frame.name if self.opened else f"{frame.name}, traced"[:80],
            pose or Pose(rect),
            Group(tuple(shapes), clip=frame.outline or Outline("box")),
            layer=frame.layer,
            alt=frame.alt,
        )
        new = (frame, group) if self.keep else (group,)
        return [
            *edits,
            *(put("swatches", one) for one in self.swatches),
            *place.with_objects(exchanged(objects, {frame.id: new})),
        ]
