"""An intent that makes one text of several frames' texts."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from lexigon.core.job.edits import EditError, Primitive, PutEntry, SpliceParagraphs
from lexigon.core.job.holders import holder
from lexigon.core.job.intents.arranging import Some
from lexigon.core.job.intents.frames import check_free
from lexigon.core.job.model import Job, Paragraph, exchanged, found_in


@dataclass(slots=True, frozen=True)
class JoinTexts:
    """The texts of all that is chosen behind that of the first, in the order in which they were; the other frames go."""

    objects: Some
    do: Literal["join-texts"] = "join-texts"
    label = "Link frames into one story"

    def expand(self, job: Job) -> list[Primitive]:
        found = []
        for chosen in dict.fromkeys(self.objects):
            place = holder(job, chosen.page)
            frame = found_in(place.objects, chosen.id)
            story = job.stories.get(frame.story or "") if frame else None
            if frame is None or story is None or place.page is None:
                raise EditError("Part of the selection has no story. Select text frames on pages only.")
            check_free(job, place.objects, frame.id)
            found.append((place, frame, story))
        (_, _, first), *others = found
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
