"""Intents that anchor notes and frames in stories."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.document import story_text
from lexigon.core.document.anchors import anchored
from lexigon.core.document.cell_stories import table_of, text_of
from lexigon.core.document.consistency import check_rect
from lexigon.core.document.limits import KeyOrEmpty
from lexigon.core.document.model import Anchor, FrameSpec, Job, Object, Paragraph, Pose, Span, Story, Text
from lexigon.core.editing.edits import EditError, Primitive, SpliceParagraphs, put
from lexigon.core.editing.intents.objects.frames import PLAIN_SHAPE, SMALLEST_FRAME, base_layer
from lexigon.core.editing.intents.text.note_kinds import NOTE, NOTE_NUMBER, first_kinds, note_styles
from lexigon.core.editing.intents.text.words import Place, anchored_at
from lexigon.core.geometry import Rect

Where = Literal["", "margin", "near", "above"]
"""The position of an anchored frame: in its line, in the margin beside it, at the top or foot of a column near it, or
directly above it."""


def _text_of(job: Job, story_id: str, what: str, in_cells: bool = False) -> None:
    """Raises EditError where an object cannot be anchored."""
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
    """A note, cited where ``start``..``end`` was, with ``text`` as its first words; ``kind`` is its kind, "" for the
    first."""

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
        paragraphs = [
            Paragraph(story_text.new_id("p"), style, line) for line in story_text.clean(self.text).split("\n")
        ]
        note = Story(story_text.new_id("s"), "Note", paragraphs, kind="note")
        cited = Span(0, 1, NOTE_NUMBER, object=Anchor("note", note.id, self.kind))
        put_in = anchored_at(job, self.story, self.start, self.end, cited)
        return [*note_styles(job, {self.kind}), put("stories", note), put_in]


@dataclass(slots=True, frozen=True)
class AddInlay:
    """Anchor a frame in a story, replacing ``start``..``end``: as a shape, or with ``text`` as a text frame. It is
    placed in the line, beside it in the margin, near it at the top or foot of a column, or directly above it
    (``where``)."""

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
            story_text.new_id("f"),
            self.name or ("Anchored frame"),
            Pose(Rect(0.0, 0.0, self.width, self.height)),
            layer=base_layer(job),
            make=self.spec or (PLAIN_SHAPE if self.text is None else FrameSpec()),
        )
        if self.text is not None:
            paragraphs = [
                Paragraph(story_text.new_id("p"), job.body, line) for line in story_text.clean(self.text).split("\n")
            ]
            story = Story(story_text.new_id("s"), "In a line", paragraphs, kind="inlay")
            edits.append(put("stories", story))
            inlay = replace(inlay, content=Text(story.id))
        span = Span(0, 1, object=Anchor("frame", inlay.id, self.where))
        return [*edits, put("inlays", inlay), anchored_at(job, self.story, self.start, self.end, span)]


@dataclass(slots=True, frozen=True)
class SetInlayPlace:
    """Move an anchored frame to another position: in its line, beside it, near it or above it."""

    inlay: str
    where: Where = ""
    do: Literal["set-inlay-place"] = "set-inlay-place"
    label = "Move anchored frame"

    def expand(self, job: Job) -> list[Primitive]:
        host = anchored(job).get(self.inlay)
        if self.inlay not in job.inlays or host is None:
            raise EditError("That frame is no longer in a story.")
        if table_of(host[0]):
            raise EditError("A frame in the cell of a table is always in the line.")
        story = job.stories[host[0]]
        at = next(n for n, p in enumerate(story.paragraphs) if p.id == host[1])
        p = story.paragraphs[at]
        spans = tuple(
            replace(span, object=replace(span.object, form=self.where))
            if span.object is not None and span.object.kind == "frame" and span.object.ref == self.inlay
            else span
            for span in p.spans
        )
        return [SpliceParagraphs(story.id, at, 1, (replace(p, spans=spans),))] if spans != p.spans else []
