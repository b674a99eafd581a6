"""Intents that put notes and frames into texts, where they go with the words."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.geometry import Rect
from lexigon.core.job import text as texts
from lexigon.core.job.anchoring import anchored
from lexigon.core.job.celltexts import table_of, text_of
from lexigon.core.job.checks import check_rect
from lexigon.core.job.edits import EditError, Primitive, SpliceParagraphs, put
from lexigon.core.job.intents.frames import PLAIN_SHAPE, SMALLEST_FRAME, base_layer
from lexigon.core.job.intents.notekinds import NOTE, NOTE_NUMBER, first_kinds, note_styles
from lexigon.core.job.intents.text import Place, anchored_at
from lexigon.core.job.limits import KeyOrEmpty
from lexigon.core.job.model import (
    Anchor,
    FrameSpec,
    Job,
    Object,
    Paragraph,
    Pose,
    Span,
    Story,
    Text,
)

Where = Literal["", "margin", "near", "above"]
"""Where a frame of a text stands: in its line, in the margin beside it, at the head or the foot of a column near it, or right above it."""


def _text_of(job: Job, story_id: str, what: str, in_cells: bool = False) -> None:
    """Raises EditError where something cannot stand in a text."""
    if in_cells and table_of(story_id) and text_of(job, story_id) is not None:
        return
    if table_of(story_id):
        raise EditError(f"{what} can be in a story on pages, not in a table cell.")
    story = job.stories.get(story_id)
    if story is None:
        raise EditError("That story is no longer in the job.")
    if story.kind != "text" or not (story.frames or story_id == job.main_story):
        raise EditError(f"{what} can be in a story on pages, not in a note or on a master page.")


@dataclass(slots=True, frozen=True)
class AddNote:
    """A note, cited where ``start``..``end`` was, with ``text`` as its first words; ``kind`` is its kind, "" for the first."""

    story: str
    start: Place
    end: Place
    text: str = ""
    kind: KeyOrEmpty = ""
    do: Literal["add-note"] = "add-note"
    label = "Add note"

    def expand(self, job: Job) -> list[Primitive]:
        _text_of(job, self.story, "A note")
        kinds = {one.id: one for one in (*first_kinds(job, {self.kind}), *job.note_kinds.values())}
        if self.kind and self.kind not in kinds:
            raise EditError("That kind of note is no longer in the job.", "kind")
        style = (kinds[self.kind].style if self.kind else next(iter(kinds.values())).style) or NOTE
        paragraphs = [Paragraph(texts.new_id("p"), style, line) for line in texts.clean(self.text).split("\n")]
        note = Story(texts.new_id("s"), "Note", paragraphs, kind="note")
        cited = Span(0, 1, NOTE_NUMBER, object=Anchor("note", note.id, self.kind))
        put_in = anchored_at(job, self.story, self.start, self.end, cited)
        return [*note_styles(job, {self.kind}), put("stories", note), put_in]


@dataclass(slots=True, frozen=True)
class AddInlay:
    """A frame tied to a text, where ``start``..``end`` was: as a shape, or with ``text`` as a text frame. It stands in the line, beside it in
    the margin, near it at the head or the foot of a column, or right above it (``where``)."""

    story: str
    start: Place
    end: Place
    width: float
    height: float
    text: str | None = None
    spec: FrameSpec | None = None
    name: str = ""
    where: Where = ""
    do: Literal["add-inlay"] = "add-inlay"
    label = "Add anchored frame"

    def expand(self, job: Job) -> list[Primitive]:
        _text_of(job, self.story, "An anchored frame", not self.where)
        check_rect(0.0, 0.0, self.width, self.height, SMALLEST_FRAME)
        edits: list[Primitive] = []
        inlay = Object(
            texts.new_id("f"), self.name or ("Anchored frame"), Pose(Rect(0.0, 0.0, self.width, self.height)), layer=base_layer(job),
            make=self.spec or (PLAIN_SHAPE if self.text is None else FrameSpec()),
        )  # fmt: skip
        if self.text is not None:
            paragraphs = [Paragraph(texts.new_id("p"), job.body, line) for line in texts.clean(self.text).split("\n")]
            story = Story(texts.new_id("s"), "In a line", paragraphs, kind="inlay")
            edits.append(put("stories", story))
            inlay = replace(inlay, content=Text(story.id))
        shown = Span(0, 1, object=Anchor("frame", inlay.id, self.where))
        return [*edits, put("inlays", inlay), anchored_at(job, self.story, self.start, self.end, shown)]


@dataclass(slots=True, frozen=True)
class SetInlayPlace:
    """A frame tied to a text stands elsewhere: in its line, beside it, near it or above it."""

    inlay: str
    where: Where = ""
    do: Literal["set-inlay-place"] = "set-inlay-place"
    label = "Move anchored frame"

    def expand(self, job: Job) -> list[Primitive]:
        found = anchored(job).get(self.inlay)
        if self.inlay not in job.inlays or found is None:
            raise EditError("That frame is no longer in a story.")
        if table_of(found[0]):
            raise EditError("A frame in the cell of a table is always in the line.")
        story = job.stories[found[0]]
        at = next(n for n, p in enumerate(story.paragraphs) if p.id == found[1])
        p = story.paragraphs[at]
        spans = tuple(
            replace(span, object=replace(span.object, form=self.where))
            if span.object is not None and span.object.kind == "frame" and span.object.ref == self.inlay
            else span
            for span in p.spans
        )
        return [SpliceParagraphs(story.id, at, 1, (replace(p, spans=spans),))] if spans != p.spans else []
