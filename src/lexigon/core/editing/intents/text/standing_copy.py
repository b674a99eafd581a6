"""Intents about standing copy: named text used in many places."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.document import story_text
from lexigon.core.document.model import Job, Paragraph, Span, StandingCopy
from lexigon.core.editing.edits import EditError, Primitive, PutEntry, SpliceParagraphs, put


def uses(job: Job, copy_id: str) -> int:
    """In how many places a standing copy is shown."""
    return sum(
        bool(span.object and span.object.kind == "copy" and span.object.ref == copy_id)
        for story in job.stories.values()
        for paragraph in story.paragraphs
        for span in paragraph.spans
    )


@dataclass(slots=True, frozen=True)
class PutCopy:
    """Add or change a standing copy. Without an id it is a new one."""

    name: str
    text: str
    id: str | None = None
    do: Literal["put-copy"] = "put-copy"

    @property
    def label(self) -> str:
        return "Change standing copy" if self.id else "Add standing copy"

    def expand(self, job: Job) -> list[Primitive]:
        name = story_text.clean(self.name).strip()[:80]
        if not name:
            raise EditError("Type a name for the standing copy.", "name")
        if self.id is not None and self.id not in job.copies:
            raise EditError("That standing copy is no longer in the job.")
        if any(c.name.casefold() == name.casefold() and c.id != self.id for c in job.copies.values()):
            raise EditError(f"There is a standing copy “{name}” already.", "name")
        text = " ".join(story_text.clean(self.text).split("\n"))
        if len(text) > 20_000:
            raise EditError("Standing copy has at most 20,000 characters.", "text")
        return [put("copies", StandingCopy(self.id or story_text.new_id("c"), name, text))]


@dataclass(slots=True, frozen=True)
class RemoveCopy:
    """Delete a standing copy. Where it is used, ``then`` says what becomes of those places."""

    id: str
    then: str = "ask"
    """``ask`` refuses; ``keep words`` turns each use into plain text, ``leave out`` takes it away; an id puts that copy
    in its place."""
    do: Literal["remove-copy"] = "remove-copy"
    label = "Delete standing copy"

    def expand(self, job: Job) -> list[Primitive]:
        copy = job.copies.get(self.id)
        if copy is None:
            raise EditError("That standing copy is no longer in the job.")
        count = uses(job, self.id)
        edits: list[Primitive] = []
        if count:
            if self.then == "ask" or self.then not in ("keep words", "leave out", *job.copies) or self.then == self.id:
                raise EditError(
                    f"“{copy.name}” is used in {count} place{'s' * (count != 1)}. Select what happens to them."
                )
            for story in job.stories.values():
                for index, paragraph in enumerate(story.paragraphs):
                    changed = self._changed(paragraph, copy)
                    if changed != paragraph:
                        edits.append(SpliceParagraphs(story.id, index, 1, (changed,)))
        return [*edits, PutEntry("copies", self.id, None)]

    def _changed(self, paragraph: Paragraph, copy: StandingCopy) -> Paragraph:
        def shows(span: Span) -> bool:
            return bool(span.object and span.object.kind == "copy" and span.object.ref == self.id)

        if not any(map(shows, paragraph.spans)):
            return paragraph
        if self.then in ("keep words", "leave out"):
            return story_text.resolved(
                paragraph, lambda span: (copy.text if self.then == "keep words" else "") if shows(span) else None
            )
        spans = tuple(
            replace(s, object=replace(s.object, ref=self.then)) if s.object and shows(s) else s for s in paragraph.spans
        )
        return replace(paragraph, spans=spans)
