"""The intent that converts text to outlines."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.document import story_text
from lexigon.core.document.model import Fill, FrameSpec, Group, Job, Object, Outline, Pose, exchanged
from lexigon.core.editing.edits import EditError, Primitive, PutEntry
from lexigon.core.editing.holders import holder
from lexigon.core.editing.intents.objects.frames import check_free
from lexigon.core.geometry import Rect, turned_about

_DATA = re.compile(r"[MLCZ0-9 .\-]*")
LONGEST = 4_000_000


@dataclass(slots=True, frozen=True)
class GlyphShapes:
    """Outlines of one colour: ``data`` is a path in parts of the rectangle's width and height."""

    rect: Rect
    data: str
    swatch: str
    tint: float = 1.0


@dataclass(slots=True, frozen=True)
class OutlineText:
    """Replace a frame's text by shapes, grouped; the words become their alternative text."""

    page: str
    frame: str
    shapes: tuple[GlyphShapes, ...]
    words: str
    do: Literal["outline-text"] = "outline-text"
    label = "Convert text to outlines"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        old = next((frame for frame in place.frames if frame.id == self.frame), None)
        if old is None or old.story is None:
            raise EditError("That story is no longer on the page.")
        check_free(job, place.objects, old.id)
        if any(not _DATA.fullmatch(s.data) or len(s.data) > LONGEST for s in self.shapes):
            raise EditError("These outlines cannot be read.")
        assert old.place is not None
        turned = turned_about(old.place.rect, old.turn)
        if old.place.map:
            turned = turned.then(old.place.map)
        words = " ".join(self.words.split())
        name = words[:40] or "Outlines"
        shapes = [
            Object(
                story_text.new_id("f"),
                name,
                Pose.of(shape.rect, turned),
                layer=old.layer,
                outline=Outline("path", data=shape.data),
                make=FrameSpec(fill=Fill(shape.swatch, shape.tint)),
                alt=words[:2000] if number == 0 else "",
                prints=old.prints,
            )
            for number, shape in enumerate(self.shapes)
        ]
        if old.make.fill is not None or old.make.stroke is not None or old.style is not None:
            shapes.insert(0, replace(old, id=story_text.new_id("f"), content=None, name=old.name or "Ground"))
        group = Object(story_text.new_id("u"), name, content=Group(tuple(shapes)), layer=old.layer)
        new = (group,) if len(shapes) > 1 else tuple(shapes)
        return [*place.with_objects(exchanged(place.objects, {old.id: new})), PutEntry("stories", old.story, None)]
