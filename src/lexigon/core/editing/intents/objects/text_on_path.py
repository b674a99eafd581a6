"""An intent that lets words run along an outline."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.document import story_text
from lexigon.core.document.limits import Text as Words
from lexigon.core.document.model import Job, Paragraph, ParaSpec, Story, Text, exchanged
from lexigon.core.editing.clipping import unused_name
from lexigon.core.editing.edits import EditError, Primitive, put
from lexigon.core.editing.holders import holder
from lexigon.core.editing.intents.objects.frames import check_free, own_frame


@dataclass(slots=True, frozen=True)
class PutAlong:
    """Words along the outline of a shape, in the middle of it; the shape keeps its fill and its edge."""

    page: str
    object: str
    text: Words
    do: Literal["put-along"] = "put-along"
    label = "Add text on a path"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        one, objects, edits = own_frame(place, self.object)
        check_free(job, objects, one.id)
        if one.content is not None:
            raise EditError("Only an empty shape can have text on its outline.")
        words = " ".join(story_text.clean(self.text).split())
        if not words:
            raise EditError("Type the text.")
        name = unused_name({story.name for story in job.stories.values()})
        paragraph = Paragraph(
            story_text.new_id("p"),
            job.body,
            words,
            para=ParaSpec(
                align="centre", indent_first=0.0, indent_left=0.0, indent_right=0.0, space_before=0.0, grid=False
            ),
        )
        story = Story(story_text.new_id("s"), name, [paragraph], [one.id] if place.page else [])
        frame = replace(one.at(place.rect(one)), content=Text(story.id, along="above"))
        return [*edits, put("stories", story), *place.with_objects(exchanged(objects, {one.id: (frame,)}))]
