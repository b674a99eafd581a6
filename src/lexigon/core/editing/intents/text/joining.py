"""An intent that joins the stories of several frames."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from lexigon.core.document.model import Job, Paragraph, exchanged, find_object
from lexigon.core.editing.edits import EditError, Primitive, PutEntry, SpliceParagraphs
from lexigon.core.editing.holders import holder
from lexigon.core.editing.intents.objects.arranging import Some
from lexigon.core.editing.intents.objects.frames import check_free


@dataclass(slots=True, frozen=True)
class JoinTexts:
    """Append the stories of the other selected frames to that of the first, in the order of selection; the other frames
    are deleted."""

    objects: Some
    do: Literal["join-texts"] = "join-texts"
    label = "Link frames into one story"

    def expand(self, job: Job) -> list[Primitive]:
        frames = []
        for chosen in dict.fromkeys(self.objects):
            place = holder(job, chosen.page)
            frame = find_object(place.objects, chosen.id)
            story = job.stories.get(frame.story or "") if frame else None
            if frame is None or story is None or place.page is None:
                raise EditError("Part of the selection has no story. Select text frames on pages only.")
            check_free(job, place.objects, frame.id)
            frames.append((place, frame, story))
        (_, _, first), *others = frames
        if not others or any(story.id == first.id for _, _, story in others):
            raise EditError("Select at least two frames with different stories.")
        if any(len(story.frames) > 1 or story.id == job.main_story for _, _, story in others):
            raise EditError("Only the first story can flow through other frames.")
        added: list[Paragraph] = [p for _, _, story in others for p in story.paragraphs if p.text or p.spans]
        edits: list[Primitive] = []
        for key in dict.fromkeys(place.key for place, _, _ in others):
            place = holder(job, key)
            gone = {frame.id: () for own, frame, _ in others if own.key == key}
            edits += place.with_objects(exchanged(place.objects, gone))
        edits += [PutEntry("stories", story.id, None) for _, _, story in others]
        return [*edits, SpliceParagraphs(first.id, len(first.paragraphs), 0, tuple(added))]
