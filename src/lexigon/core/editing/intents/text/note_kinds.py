"""Intents about kinds of notes, and about which kind a note is of."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator
from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.document.anchors import anchors_in
from lexigon.core.document.cascade import Cascade
from lexigon.core.document.limits import KeyOrEmpty
from lexigon.core.document.model import (
    Anchor,
    CharacterStyle,
    Job,
    NoteKind,
    Paragraph,
    ParagraphStyle,
    ParaSpec,
    TypeSpec,
)
from lexigon.core.editing.edits import EditError, Primitive, PutEntry, SpliceParagraphs, put

FOOT, END, SIDE = "foot", "end", "side"
"""Kinds of notes that are added when they are first needed: footnotes, endnotes (at the foot until they are gathered),
side notes."""
SIDE_STYLE = "side-note"
SIDE_NOTES = NoteKind(SIDE, "Side notes", "margin", "none", style=SIDE_STYLE)
NARROWEST = 36.0
"""Points that notes in the margin are wide at the least where the margin says how wide."""
END_NOTES = NoteKind(END, "Endnotes")


NOTE, NOTE_NUMBER = "note", "note-number"
"""The styles that notes and their numbers are set in; made with a job's first note, and the job's own from then on."""

SMALLER = 0.8
"""Type of notes, as a part of the text's (common practice, no source)."""


def note_entries(job: Job, forms: Collection[str] = ()) -> tuple[ParagraphStyle | CharacterStyle, ...]:
    """The styles of notes of some kinds, as far as the job has none."""
    styles: list[ParagraphStyle | CharacterStyle] = []
    if NOTE not in job.paragraph_styles:
        body = Cascade(job).setting(Paragraph("", job.body))
        size = Cascade(job).type_of(Paragraph("", job.body)).size
        small = round(size * SMALLER * 4) / 4
        leading = round(body.leading * small / size * 4) / 4
        para = ParaSpec(leading=leading, indent_first=0.0, space_before=0.0, space_after=0.0, grid=False)
        styles.append(ParagraphStyle(NOTE, "Note", based_on=job.body, type=TypeSpec(size=small), para=para))
    if NOTE_NUMBER not in job.character_styles:
        styles.append(CharacterStyle(NOTE_NUMBER, "Note number", type=TypeSpec(position="superior")))
    if SIDE in forms and SIDE not in job.note_kinds and SIDE_STYLE not in job.paragraph_styles:
        narrow = ParaSpec(align="left", hyphenate=False)
        styles.append(ParagraphStyle(SIDE_STYLE, "Side note", based_on=NOTE, para=narrow))
    return tuple(styles)


def note_styles(job: Job, forms: Collection[str] = ()) -> list[Primitive]:
    """The edits that give the job the styles and the kinds of notes, where it has none."""
    styles = [
        put("paragraph_styles" if isinstance(style, ParagraphStyle) else "character_styles", style)
        for style in note_entries(job, forms)
    ]
    return [*styles, *(put("note_kinds", kind) for kind in first_kinds(job, set(forms)))]


def first_kinds(job: Job, forms: set[str]) -> list[NoteKind]:
    """The kinds that imported notes need: footnotes first. A job that has notes but no kinds keeps its notes undivided,
    as before."""
    kinds = []
    if not job.note_kinds:
        older = any(story.kind == "note" for story in job.stories.values())
        kinds.append(NoteKind(FOOT, "Footnotes", divided=not older))
    kinds += [one for one in (END_NOTES, _in_margin(job)) if one.id in forms and one.id not in job.note_kinds]
    return kinds


def _in_margin(job: Job) -> NoteKind:
    """Side notes as wide as the outer margin has room for: a sixth of it stays free on either side (no source)."""
    outer = job.brief.margins.outer
    width = max(round(outer * 2 / 3), NARROWEST)
    return replace(SIDE_NOTES, width=width, away=max(round((outer - width) / 2), 4.0))


@dataclass(slots=True, frozen=True)
class PutNoteKind:
    """Add a kind of notes, or change one."""

    kind: NoteKind
    do: Literal["put-note-kind"] = "put-note-kind"
    label = "Change kind of note"

    def expand(self, job: Job) -> list[Primitive]:
        name = " ".join(self.kind.name.split())
        if not name:
            raise EditError("Give the kind of notes a name.", "name")
        others = (one for one in job.note_kinds.values() if one.id != self.kind.id)
        if any(one.name.casefold() == name.casefold() for one in others):
            raise EditError(f"There is a kind of notes “{name}” already.", "name")
        if self.kind.counted == "heading" and self.kind.heading not in job.paragraph_styles:
            raise EditError("Select the heading style after which the numbering of notes restarts.", "heading")
        ready = [style for style in note_entries(job, {self.kind.id}) if style.id in (NOTE, self.kind.style)]
        if self.kind.style and self.kind.style not in (*job.paragraph_styles, *(style.id for style in ready)):
            raise EditError("The style of these notes is no longer in the job.", "style")
        edits: list[Primitive] = (
            [put("paragraph_styles", style) for style in ready] if self.kind.style == SIDE_STYLE else []
        )
        if not job.note_kinds and self.kind.id != FOOT:
            edits += [put("note_kinds", one) for one in first_kinds(job, set())]
        edits += [put("note_kinds", replace(self.kind, name=name))]
        if self.kind.style:
            edits += _restyled(job, self.kind)
        return edits


def _restyled(job: Job, kind: NoteKind) -> Iterator[Primitive]:
    """The notes of a kind in its style, where they are in that of notes of their kind as it was."""
    present = job.note_kinds.get(kind.id)
    before = (present.style if present else "") or "note"
    if before == kind.style:
        return
    named = _names(job, kind.id)
    for story in job.stories.values():
        if story.kind == "note" and story.id in named:
            for at, p in enumerate(story.paragraphs):
                if p.style == before:
                    yield SpliceParagraphs(story.id, at, 1, (replace(p, style=kind.style),))


def _names(job: Job, kind: str) -> set[str]:
    """The notes of a kind."""
    first = next(iter(job.note_kinds), FOOT)
    every = [p for story in job.stories.values() for p in story.paragraphs]
    every += [p for table in job.tables.values() for row in table.rows for cell in row for p in cell.paragraphs]
    return {
        one.ref
        for one in anchors_in(every)
        if one.kind == "note" and (one.form if one.form in job.note_kinds else first) == kind
    }


@dataclass(slots=True, frozen=True)
class RemoveNoteKind:
    """A kind of notes goes; its notes are of the first kind that is left."""

    kind: str
    do: Literal["remove-note-kind"] = "remove-note-kind"
    label = "Delete kind of note"

    def expand(self, job: Job) -> list[Primitive]:
        if self.kind not in job.note_kinds:
            raise EditError("That kind of note is no longer in the job.")
        left = [key for key in job.note_kinds if key != self.kind]
        if not left and any(story.kind == "note" for story in job.stories.values()):
            raise EditError("A job with notes must have at least one kind of note.")
        first = next(iter(job.note_kinds))
        gone = {self.kind} | ({""} if first == self.kind else set())
        edits = [
            edit
            for story in job.stories.values()
            for at, p in enumerate(story.paragraphs)
            for edit in _formed(story.id, at, p, lambda one: one.form in gone, left[0] if left else "")
        ]
        return [*edits, PutEntry("note_kinds", self.kind, None)]


def _formed(story: str, at: int, paragraph: Paragraph, matches: Callable[[Anchor], bool], form: str) -> list[Primitive]:
    """The edit that has some of a paragraph's notes name another kind, if there are any."""
    spans = tuple(
        replace(span, object=replace(span.object, form=form))
        if span.object is not None and span.object.kind == "note" and matches(span.object)
        else span
        for span in paragraph.spans
    )
    return [SpliceParagraphs(story, at, 1, (replace(paragraph, spans=spans),))] if spans != paragraph.spans else []


@dataclass(slots=True, frozen=True)
class SetNoteKind:
    """Notes are of another kind from now on: those named, or all that are of the kind ``of``."""

    kind: str
    notes: tuple[str, ...] = ()
    of: KeyOrEmpty | None = None
    do: Literal["set-note-kind"] = "set-note-kind"
    label = "Change kind of notes"

    def expand(self, job: Job) -> list[Primitive]:
        ready = {one.id: one for one in (*first_kinds(job, {self.kind}), *job.note_kinds.values())}
        if self.kind not in ready:
            raise EditError("That kind of note is no longer in the job.")
        named = set(self.notes) | (_names(job, self.of) if self.of is not None else set())
        edits: list[Primitive] = [put("note_kinds", one) for one in ready.values() if one.id not in job.note_kinds]
        moved = [
            edit
            for story in job.stories.values()
            for at, p in enumerate(story.paragraphs)
            for edit in _formed(story.id, at, p, lambda one: one.ref in named, self.kind)
        ]
        if not moved:
            raise EditError("These notes are no longer in a story.")
        return edits + moved
