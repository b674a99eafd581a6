"""A job's copy on its way out: the same intermediate form that manuscripts come in by, so that what a writer gets comes
back as it left."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Literal

from lexigon.core.document import story_text
from lexigon.core.document.cascade import Cascade
from lexigon.core.document.default_notes import kind_of
from lexigon.core.document.model import Anchor, Job, Object, Paragraph, Picture, Span, Story, TextTable, TypeSpec
from lexigon.core.editing.intents.text.note_kinds import END
from lexigon.core.manuscript.source import (
    Align,
    Listed,
    ReferenceForm,
    Source,
    SourceCell,
    SourceNote,
    SourceParagraph,
    SourcePicture,
    SourceReference,
    SourceTable,
)
from lexigon.core.tables.sums import with_sums

OBJECTS = ("note", "table", "frame")
"""Kinds of anchors that are no words."""
BOLD = 600
"""The weight from which on letters count as bold beside their paragraph's."""
ALIGNS: dict[str, Align] = {"centre": "centre", "right": "right"}
AnchorText = Callable[[Anchor, str, str, int], str]
"""What a field shows: by its story, its paragraph and its place there."""
Files = Callable[[str], bytes | None]
"""A file of the job by its hash."""


def no_text(anchor: Anchor, story: str, paragraph: str, at: int) -> str:
    return ""


def copy_of(
    job: Job,
    stories: Iterable[Story],
    resolve: AnchorText = no_text,
    files: Files = lambda name: None,
    *,
    alive: bool = False,
) -> Source:
    """Stories of a job one after another, in the names of its styles, with their notes, tables and pictures. Fields are
    written out; references to pages and to the words of paragraphs stay references where the format has them
    (``alive``)."""
    leaving = _Leaving(job, resolve, files, alive)
    stories = list(stories)
    leaving.led = {
        span.link[1:]
        for story in job.stories.values()
        for p in story.paragraphs
        for span in p.spans
        if span.link[:1] == "#"
    }
    if alive:
        paragraphs = (p for story in job.stories.values() for p in story.paragraphs)
        leaving.led |= {
            span.object.ref for p in paragraphs for span in p.spans if span.object and span.object.kind == "reference"
        }
    for story in stories:
        leaving.source.paragraphs += [leaving.paragraph(story.id, p) for p in story.paragraphs]
    return leaving.source


class _Leaving:
    def __init__(self, job: Job, resolve: AnchorText, files: Files, alive: bool = False) -> None:
        self.job, self.shown, self.files, self.alive = job, resolve, files, alive
        self.cascade = Cascade(job)
        self.source = Source("Lexigon")
        self.led: set[str] = set()
        """Paragraphs that links and references lead to."""
        stories = job.stories.values() if alive else ()
        self.there = {p.id: story.id if story.kind == "note" else "" for story in stories for p in story.paragraphs}
        """Every paragraph, with the note that it is in."""

    def paragraph(self, story: str, p: Paragraph) -> SourceParagraph:
        style = self.job.paragraph_styles.get(p.style)
        p = story_text.resolved(p, lambda span: self._written(span, story, p.id))
        setting = self.cascade.setting(p)
        mark = setting.list
        listed = Listed(mark.kind == "number", mark.level, mark.start is not None) if mark.kind != "none" else None
        starts = bool(p.para and p.para.start in ("page", "recto", "verso"))
        return SourceParagraph(
            p.text,
            tuple(apart(self.cascade, p)),
            style.name if style else p.style,
            style.level if style else 0,
            ALIGNS.get(setting.align, ""),
            listed,
            starts,
            self.cascade.type_of(p).size,
            (p.id,) if p.id in self.led else (),
        )

    def _written(self, span: Span, story: str, paragraph: str) -> str | None:
        """The words of a field; None where an object stays."""
        anchor = span.object
        assert anchor is not None
        if anchor.kind in OBJECTS:
            return None if self._is_exported(anchor) else ""
        text = self.shown(anchor, story, paragraph, span.start)
        if (
            self.alive
            and anchor.kind == "reference"
            and anchor.form in ("", "words", "number")
            and text
            and anchor.ref in self.there
        ):
            note = self.there[anchor.ref]
            if not note and anchor.form == "number":
                return text  # of a list
            form: ReferenceForm = "page" if not anchor.form else "words" if anchor.form == "words" else "number"
            self.source.references[f"{anchor.ref} {anchor.form}"] = SourceReference(note or anchor.ref, form, text)
            if note:
                self.source.noted[note] = note
            return None
        return text

    def _is_exported(self, anchor: Anchor) -> bool:
        """Return whether what an anchor names is there, and taken along."""
        job, source, key = self.job, self.source, anchor.ref
        if anchor.kind == "note" and key in job.stories:
            if key not in source.notes:
                _, is_present = kind_of(job, anchor.form)
                kind: Literal["footnote", "endnote"] = (
                    "endnote" if is_present.id == END or is_present.place == "gathered" else "footnote"
                )
                source.notes[key] = SourceNote(kind, ())  # a note that cites itself ends here
                source.notes[key] = SourceNote(kind, tuple(self.paragraph(key, p) for p in job.stories[key].paragraphs))
            return True
        if anchor.kind == "table" and key in job.tables:
            source.tables.setdefault(key, self._table(with_sums(job.tables[key], job.brief.language)))
            return True
        return anchor.kind == "frame" and key in job.inlays and self._picture(job.inlays[key])

    def _table(self, table: TextTable) -> SourceTable:
        rows = (
            tuple(
                SourceCell(tuple(self.paragraph("", p) for p in cell.paragraphs), cell.across, cell.down)
                for cell in row
            )
            for row in table.rows
        )
        return SourceTable(tuple(rows), table.heads)

    def _picture(self, inlay: Object) -> bool:
        picture = self.job.pictures.get(inlay.content.picture) if isinstance(inlay.content, Picture) else None
        data = self.files(picture.file) if picture else None
        if picture is None or data is None:
            self.source.reported["missing"] += 1
            return False
        name = f"{picture.name}{_suffix(data)}"
        self.source.pictures[inlay.id] = SourcePicture(
            name, data, inlay.alt or picture.alt, inlay.place.rect.width if inlay.place else 0.0
        )
        return True


def apart(cascade: Cascade, p: Paragraph) -> Iterable[Span]:
    """Return the local formatting in a paragraph as far as writers need it: resolved, whatever its source; and its
    objects."""
    base = cascade.type_of(p)
    for span in p.spans:
        if span.object is not None:
            yield Span(span.start, span.end, object=Anchor(span.object.kind, span.object.ref, span.object.form))
            continue
        own = cascade.type_of(p, span)
        values: dict[str, object] = {}
        if own.italic != base.italic:
            values["italic"] = own.italic
        if (own.weight >= BOLD) != (base.weight >= BOLD):
            values["weight"] = 700 if own.weight >= BOLD else 400
        for name in ("caps", "underline", "strike", "position", "language"):
            if (value := getattr(own, name)) != getattr(base, name):
                values[name] = value
        if values or span.link:
            yield Span(span.start, span.end, type=TypeSpec(**values), link=span.link)  # type: ignore[arg-type]


def _suffix(data: bytes) -> str:
    for head, suffix in (
        (b"\x89PNG", ".png"),
        (b"\xff\xd8", ".jpg"),
        (b"RIFF", ".webp"),
        (b"II*\0", ".tif"),
        (b"MM\0*", ".tif"),
        (b"%PDF", ".pdf"),
    ):
        if data.startswith(head):
            return suffix
    return ""


def pieces(p: SourceParagraph) -> Iterable[tuple[str, TypeSpec, Anchor | None, str]]:
    """A paragraph in stretches of one look and link; of an object its one character."""
    at = 0
    for span in p.spans:
        if span.start > at:
            yield p.text[at : span.start], TypeSpec(), None, ""
        yield p.text[span.start : span.end], span.type or TypeSpec(), span.object, span.link
        at = span.end
    if at < len(p.text):
        yield p.text[at:], TypeSpec(), None, ""


def numbered(source: Source, paragraphs: Iterable[SourceParagraph]) -> dict[str, int]:
    """The number of each note, in the order in which they are cited."""
    counts: dict[str, int] = {}
    for p in paragraphs:
        for span in p.spans:
            if span.object and span.object.kind == "note" and span.object.ref not in counts:
                counts[span.object.ref] = len(counts) + 1
            if span.object and span.object.kind == "table" and span.object.ref in source.tables:
                for row in source.tables[span.object.ref].rows:
                    for cell in row:
                        for key in numbered(source, cell.paragraphs):
                            counts.setdefault(key, len(counts) + 1)
    return counts
