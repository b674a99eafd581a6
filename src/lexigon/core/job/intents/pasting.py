"""Words that come with all that stands in them, from the clipboard: paragraphs, notes, frames with pictures, tables."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.job import text as texts
from lexigon.core.job.anchoring import anchored, anchors_in, objects_in, with_own, without_spans
from lexigon.core.job.edits import EditError, Primitive, SpliceParagraphs, apply_all, put
from lexigon.core.job.intents.frames import base_layer
from lexigon.core.job.intents.notekinds import note_styles
from lexigon.core.job.intents.text import LARGEST_INSERT, Place, locate
from lexigon.core.job.model import OBJECT, Anchor, Job, Object, Paragraph, PictureFile, Story, TextTable


@dataclass(slots=True, frozen=True)
class InsertRich:
    """Put paragraphs with their own spans where ``start``..``end`` was; those in no style of the job are set like their
    surroundings."""

    story: str
    start: Place
    end: Place
    paragraphs: tuple[Paragraph, ...]
    notes: tuple[Story, ...] = ()
    """The texts of the notes and frames in lines that stand in the paragraphs; ``inlays`` those frames."""
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
        made = texts.put_between(texts.piece(head, 0, start), new, texts.piece(tail, end, len(tail.text)))
        return [*edits, SpliceParagraphs(self.story, first, last - first + 1, tuple(made))]

    def _own(self, job: Job, story: Story) -> tuple[list[Paragraph], list[Primitive], Job]:
        """The paragraphs with notes and frames of their own, the edits that put those into the job, and the job with the styles it has then.
        What was cut comes back as it is; what cannot stand in this text is left out."""
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
        brought = {one.id: one for one in self.tables} | job.tables
        copies = with_own(self.paragraphs, stories, inlays, brought, there)
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
            replace(one, rows=tuple(tuple(replace(cell, paragraphs=tuple(_inner(ready, cell.paragraphs))) for cell in row) for row in one.rows))
            for one in copies.tables
        ]  # fmt: skip
        shown = {f.picture.picture for f in frames if f.picture} - job.pictures.keys()
        edits = [
            *styles, *(put("pictures", pictures[key]) for key in sorted(shown)), *(put("tables", one) for one in tables),
            *(put("stories", one) for one in settled), *(put("inlays", one) for one in frames),
        ]  # fmt: skip
        return copies.paragraphs, edits, ready

    def _linked(self, job: Job, head: Paragraph, new: list[Paragraph]) -> list[Paragraph]:
        """With links among the paragraphs that lead to where these stand now, the first of them as the end of ``head``; those to what is not in
        the job are none."""
        ids = {
            f"#{old.id}": f"#{(p if at else head).id}"
            for at, (old, p) in enumerate(zip(self.paragraphs, new, strict=True))
        }
        if not any(span.link.startswith("#") for p in new for span in p.spans):
            return new
        there = {f"#{p.id}" for story in job.stories.values() for p in story.paragraphs}

        def led(link: str) -> str:
            return link if not link.startswith("#") or link in there else ids.get(link, "")

        return [replace(p, spans=texts.tidy(tuple(replace(s, link=led(s.link)) for s in p.spans))) for p in new]


def _inner(job: Job, paragraphs: Iterable[Paragraph]) -> list[Paragraph]:
    """Paragraphs of a note, a frame or a cell from elsewhere."""
    return [_settled(job, p, Paragraph("", job.body)) for p in paragraphs]


def _settled(job: Job, p: Paragraph, beside: Paragraph) -> Paragraph:
    """A paragraph from elsewhere, fit to stand in the job: under a new id, its styles ones there are."""
    p = without_spans(p, lambda anchor: _unknown(job, anchor))
    text = p.text if OBJECT in p.text else texts.clean(p.text).replace("\n", " ")
    spans = []
    for span in texts.cut_spans(p.spans, 0, len(text)):
        style = span.style if span.style in job.character_styles else None
        spans.append(replace(span, style=style))
    known = p.style in job.paragraph_styles
    spec, para = (p.type, p.para) if known or not p.style else (None, None)
    return replace(
        p,
        id=texts.new_id("p"),
        text=text,
        spans=texts.tidy(spans),
        style=p.style if known else beside.style,
        type=spec,
        para=para,
    )


def _unknown(job: Job, anchor: Anchor) -> bool:
    """Return whether what a paragraph shows is nothing that this job has: standing copy, an entry of a listing, a term of the index."""
    tables: dict[str, Mapping[str, object]] = {"copy": job.copies, "entry": job.listings, "index": job.terms}
    return anchor.kind in tables and anchor.ref not in tables[anchor.kind]
