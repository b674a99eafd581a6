"""The intent that puts outlines in place of a text."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.geometry import Rect
from lexigon.core.job import text as texts
from lexigon.core.job.edits import EditError, Primitive, PutEntry
from lexigon.core.job.holders import holder
from lexigon.core.job.model import Fill, Frame, Job, Outline

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
    """Shapes in place of a frame's text, grouped; its words are kept as what the shapes are read out as."""

    page: str
    frame: str
    shapes: tuple[GlyphShapes, ...]
    words: str
    do: Literal["outline-text"] = "outline-text"
    label = "Making outlines of text"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        old = next((frame for frame in place.frames if frame.id == self.frame), None)
        if old is None or old.story is None:
            raise EditError("That text is no longer on the page.")
        if any(not _DATA.fullmatch(s.data) or len(s.data) > LONGEST for s in self.shapes):
            raise EditError("These outlines cannot be read.")
        group = texts.new_id("u")
        made = [
            Frame(
                texts.new_id("f"), "shape", name=(self.words.split("\n")[0][:40] or "Outlines"), rect=shape.rect, group=group,
                outline=Outline("path", data=shape.data), fill=Fill(shape.swatch, shape.tint), alt=self.words if number == 0 else "",
                rotation=old.rotation,
            )
            for number, shape in enumerate(self.shapes)
        ]  # fmt: skip
        ground = replace(
            old, id=texts.new_id("f"), kind="shape", story=None, group=group, name=old.name or "Ground", fit="none"
        )
        if ground.fill is not None or ground.stroke is not None or ground.style is not None:
            made.insert(0, ground)
        frames = tuple(new for frame in place.frames for new in (made if frame is old else [frame]))
        return [*place.with_frames(frames), PutEntry("stories", old.story, None)]
