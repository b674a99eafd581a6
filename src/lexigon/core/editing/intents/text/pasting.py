"""Words from the clipboard with all their anchored objects: paragraphs, notes, frames with pictures, tables."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.document import story_text
from lexigon.core.document.anchors import anchored, anchors_in, objects_in, with_own, without_spans
from lexigon.core.document.model import OBJECT, Anchor, Job, Object, Paragraph, PictureFile, Story, TextTable
from lexigon.core.editing.edits import EditError, Primitive, SpliceParagraphs, apply_all, put
from lexigon.core.editing.intents.objects.frames import base_layer
from lexigon.core.editing.intents.text.note_kinds import note_styles
from lexigon.core.editing.intents.text.words import LARGEST_INSERT, Place, locate


@dataclass(slots=True, frozen=True)
class InsertRich:
    """Put paragraphs with their own spans where ``start``..``end`` was; those in no style of the job are set like their
    surroundings."""

    story: str
    start: Place
    end: Place
    paragraphs: tuple[Paragraph, ...]
    notes: tuple[Story, ...] = ()
    """The stories of the notes and anchored frames in the paragraphs; ``inlays`` are those frames."""
    inlays: tuple[Object, ...] = ()
    tables: tuple[TextTable, ...] = ()
    pictures: tuple[PictureFile, ...] = ()
    do: Literal["insert-rich"] = "insert-rich"
    label = "Paste"

    def expand(self, job: Job) -> list[Primitive]:
        if sum(len(p.text) for p in self.paragraphs) > LARGEST_INSERT:
            raise EditError("This is more text than can be pasted at once. Import it as a manuscript.")
        story, places = locate(job, self.story, self.start, self.end)
        (first, start), (last, end) = sorted(places)
        head, tail = story.paragraphs[first], story.paragraphs[last]
        own, edits, ready = self._own(job, story)
        new = self._linked(job, head, [_settled(ready, p, head) for p in own])
        paragraphs = story_text.put_between(
            story_text.piece(head, 0, start), new, story_text.piece(tail, end, len(tail.text))
        )
        return [*edits, SpliceParagraphs(self.story, first, last - first + 1, tuple(paragraphs))]

    def _own(self, job: Job, story: Story) -> tuple[list[Paragraph], list[Primitive], Job]:
        """The paragraphs with notes and frames of their own, the edits that add those to the job, and the job with its
        styles then. What was cut returns unchanged; objects that are not possible in this story are left out."""
        if not any(objects_in(self.paragraphs)):
            return list(self.paragraphs), [], job
        if story.kind != "text":
            return with_own(self.paragraphs, {}, {}, {}).paragraphs, [], job
        pictures = {one.id: one for one in self.pictures} | job.pictures
        there = {*job.stories, *job.inlays} - anchored(job).keys()
        stories = {one.id: one for one in self.notes} | job.stories
        inlays = {
            one.id: one for one in self.inlays if one.picture is None or one.picture.picture in pictures
        } | job.inlays
        standing = {
            anchor.ref
            for one in job.stories.values()
            for anchor in objects_in(one.paragraphs)
            if anchor.kind == "table"
        }
        there |= job.tables.keys() - standing
        all_tables = {one.id: one for one in self.tables} | job.tables
        copies = with_own(self.paragraphs, stories, inlays, all_tables, there)
        forms = {one.form for one in anchors_in(self.paragraphs) if one.kind == "note"}
        styles = note_styles(job, forms) if any(one.kind == "note" for one in (*copies.stories, *self.notes)) else []
        ready = replace(
            job,
            paragraph_styles=dict(job.paragraph_styles),
            character_styles=dict(job.character_styles),
            note_kinds=dict(job.note_kinds),
        )
        apply_all(ready, styles)
        settled = [replace(one, paragraphs=_inner(ready, one.paragraphs), frames=[]) for one in copies.stories]
        frames = [
            replace(f, style=f.style if f.style in job.frame_styles else None, layer=base_layer(job))
            for f in copies.inlays
        ]
        tables = [
            replace(
                one,
                rows=tuple(
                    tuple(replace(cell, paragraphs=tuple(_inner(ready, cell.paragraphs))) for cell in row)
                    for row in one.rows
                ),
            )
            for one in copies.tables
        ]
        missing_pictures = {f.picture.picture for f in frames if f.picture} - job.pictures.keys()
        edits = [
            *styles,
            *(put("pictures", pictures[key]) for key in sorted(missing_pictures)),
            *(put("tables", one) for one in tables),
            *(put("stories", one) for one in settled),
            *(put("inlays", one) for one in frames),
        ]
        return copies.paragraphs, edits, ready

    def _linked(self, job: Job, head: Paragraph, new: list[Paragraph]) -> list[Paragraph]:
        """With links among the paragraphs that lead to where these stand now, the first of them as the end of ``head``;
        those to what is not in the job are none."""
        ids = {
            f"#{old.id}": f"#{(p if at else head).id}"
            for at, (old, p) in enumerate(zip(self.paragraphs, new, strict=True))
        }
        if not any(span.link.startswith("#") for p in new for span in p.spans):
            return new
        there = {f"#{p.id}" for story in job.stories.values() for p in story.paragraphs}

        def led(link: str) -> str:
            return link if not link.startswith("#") or link in there else ids.get(link, "")

        return [replace(p, spans=story_text.tidy(tuple(replace(s, link=led(s.link)) for s in p.spans))) for p in new]


def _inner(job: Job, paragraphs: Iterable[Paragraph]) -> list[Paragraph]:
    """Paragraphs of a note, a frame or a cell from elsewhere."""
    return [_settled(job, p, Paragraph("", job.body)) for p in paragraphs]


def _settled(job: Job, p: Paragraph, beside: Paragraph) -> Paragraph:
    """A paragraph from elsewhere, made valid in the job: under a new id, with styles of the job."""
    p = without_spans(p, lambda anchor: _unknown(job, anchor))
    text = p.text if OBJECT in p.text else story_text.clean(p.text).replace("\n", " ")
    spans = []
    for span in story_text.cut_spans(p.spans, 0, len(text)):
        style = span.style if span.style in job.character_styles else None
        spans.append(replace(span, style=style))
    has_style = p.style in job.paragraph_styles
    spec, para = (p.type, p.para) if has_style or not p.style else (None, None)
    return replace(
        p,
        id=story_text.new_id("p"),
        text=text,
        spans=story_text.tidy(spans),
        style=p.style if has_style else beside.style,
        type=spec,
        para=para,
    )


def _unknown(job: Job, anchor: Anchor) -> bool:
    """Return whether what a paragraph shows is nothing that this job has: standing copy, an entry of a listing, a term
    of the index."""
    tables: dict[str, Mapping[str, object]] = {"copy": job.copies, "entry": job.listings, "index": job.terms}
    return anchor.kind in tables and anchor.ref not in tables[anchor.kind]
