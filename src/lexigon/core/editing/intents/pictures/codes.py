"""Intents about codes that machines read."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.document import story_text
from lexigon.core.document.article_numbers import normal
from lexigon.core.document.code_messages import Message, written
from lexigon.core.document.limits import CodeText, Digits, Dots, Name
from lexigon.core.document.model import Code, CodeForm, FrameSpec, Job, Object, Pose, Swatch, exchanged
from lexigon.core.document.model.surface import Fill
from lexigon.core.editing.edits import EditError, Primitive, put
from lexigon.core.editing.holders import holder
from lexigon.core.editing.intents.objects.frames import check_free, check_place, new_layer, own_frame
from lexigon.core.geometry import Rect

VALUES = ("form", "text", "level", "ink", "addon", "words", "above", "dots")


@dataclass(slots=True, frozen=True)
class AddCode:
    """A new frame with a code in it, on a light ground: the quiet zone is within the frame, whatever is below it."""

    page: str
    rect: Rect
    code: Code
    layer: str | None = None
    message: Message | None = None
    """What it says by its parts, in place of the code's text."""
    do: Literal["add-code"] = "add-code"
    label = "Add code"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        ground, edits = light_ground(job)
        frame = Object(
            story_text.new_id("f"),
            "Code",
            Pose(check_place(self.rect)),
            replace(self.code, text=normal(self.code.form, written(self.message) if self.message else self.code.text)),
            layer=new_layer(job, self.layer),
            make=FrameSpec(fill=ground),
        )
        return [*edits, *place.with_new(frame)]


def light_ground(job: Job) -> tuple[Fill, list[Primitive]]:
    """The fill that codes are read on, the job's swatch of no ink; where it has none, with the edit that adds one."""
    white = next((one for one in job.swatches.values() if one.space == "cmyk" and not any(one.values)), None)
    if white is not None:
        return Fill(white.id), []
    names = {one.name.casefold() for one in job.swatches.values()}
    name = next(
        name for name in ("Paper", "Paper (for codes)", story_text.new_id("Paper ")) if name.casefold() not in names
    )
    paper = Swatch(story_text.new_id("w"), name, "cmyk", (0.0, 0.0, 0.0, 0.0))
    return Fill(paper.id), [put("swatches", paper)]


@dataclass(slots=True, frozen=True)
class SetCode:
    """Change the content and the properties of a code, or make a shape a code. Values not given stay."""

    page: str
    frame: str
    form: CodeForm | None = None
    text: CodeText | None = None
    level: Literal["L", "M", "Q", "H"] | None = None
    ink: Fill | None = None
    addon: Digits | None = None
    words: bool | None = None
    above: Name | None = None
    dots: Dots | None = None
    message: Message | None = None
    """What it says by its parts, in place of ``text``."""
    do: Literal["set-code"] = "set-code"
    label = "Edit code"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        frame, objects, edits = own_frame(place, self.frame)
        check_free(job, objects, frame.id)
        if frame.content is not None and frame.code is None:
            raise EditError("This frame is not empty. A code needs an empty frame.")
        changes = {name: value for name in VALUES if (value := getattr(self, name)) is not None}
        if self.message is not None:
            changes["text"] = written(self.message)
        if frame.code is None and not changes.get("text"):
            raise EditError("Type the content of the code.")
        code = replace(frame.code, **changes) if frame.code else Code(**changes)
        code = replace(code, text=normal(code.form, code.text))
        new = replace(frame, content=code)
        if frame.code is None:  # a shape's tint would be under the code, and its outline is drawn round none
            name = "Code" if frame.name == "Shape" else frame.name
            ground, added = light_ground(job)
            edits = [*edits, *added]
            new = replace(new, name=name, outline=None, make=replace(frame.make, fill=ground))
        return [*edits, *place.with_objects(exchanged(objects, {frame.id: (new,)}))]
