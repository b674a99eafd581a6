"""A manuscript on its way into a job: the edit that pours it, with its notes, its tables, its pictures, and the styles
these need."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from lexigon.core.document import story_text
from lexigon.core.document.anchors import anchors_in
from lexigon.core.document.cascade import Cascade
from lexigon.core.document.model import CharacterStyle, Job, Object, Paragraph, ParagraphStyle, PictureFile, Pose, Story
from lexigon.core.document.starter import CHARACTER_STYLES, book_styles
from lexigon.core.editing.intents import PourText
from lexigon.core.editing.intents.objects.frames import base_layer
from lexigon.core.editing.intents.pictures.placing import framed_anew
from lexigon.core.editing.intents.text.note_kinds import first_kinds, note_entries
from lexigon.core.geometry import Rect
from lexigon.core.manuscript.matter import around
from lexigon.core.manuscript.model import Manuscript, restyled
from lexigon.core.picture.files import PictureError

Keep = Callable[[str, bytes], PictureFile]
"""Keeps a picture under its name; raises PictureError."""
HIGHEST = 0.8
"""Of the text area, as high as a picture in a line is at most."""


def poured(
    job: Job, read: Manuscript, keep: Keep | None = None, changes: Mapping[int, str] | None = None, whole: bool = True
) -> tuple[PourText, list[str]]:
    """The edit that puts a manuscript in the place of the main text, and what of it could not come along, in words.
    Unless the ``whole`` text is replaced, front matter that the manuscript does not bring, contents and an index
    stay."""
    pictured = with_pictures(job, replace(read, paragraphs=restyled(read, changes or {})), keep)
    paragraphs, notes = pictured.paragraphs, pictured.notes
    forms = {one.form for one in anchors_in(paragraphs) if one.kind == "note"}
    intent = PourText(
        job.main_story or "",
        paragraphs,
        _missing(job, paragraphs, bool(notes), forms),
        notes,
        pictured.inlays,
        pictured.files,
        read.tables,
        tuple(first_kinds(job, forms)) if notes else (),
    )
    if not whole and intent.story in job.stories:
        intent = replace(intent, paragraphs=around(job, job.stories[intent.story], intent.paragraphs).paragraphs)
    return intent, pictured.findings


@dataclass(slots=True, frozen=True)
class PictureImport:
    """A manuscript's paragraphs and notes with the frames of its pictures, these pictures, and in words which of them
    could not come along."""

    paragraphs: tuple[Paragraph, ...]
    notes: tuple[Story, ...]
    inlays: tuple[Object, ...]
    files: tuple[PictureFile, ...]
    findings: list[str]


def with_pictures(job: Job, read: Manuscript, keep: Keep | None) -> PictureImport:
    """The pictures of a manuscript as anchored frames; those that cannot be stored are left out."""
    paragraphs, notes = read.paragraphs, read.notes
    files: dict[str, PictureFile] = {}
    inlays: list[Object] = []
    lost: dict[str, str] = {}
    for key, picture in read.pictures:
        if keep is None:
            lost[key] = picture.name
            continue
        try:
            file = files.get(picture.name) or keep(picture.name, picture.data)
        except PictureError as error:
            lost[key] = f"{picture.name}: {error}"
            continue
        if picture.alt and not file.alt:
            file = replace(file, alt=story_text.clean(picture.alt).replace("\n", " "))
        files[picture.name] = file
        inlays.append(_inlay(job, key, file, picture.width))
    if lost:
        paragraphs = tuple(without(p, set(lost)) for p in paragraphs)
        notes = tuple(replace(note, paragraphs=[without(p, set(lost)) for p in note.paragraphs]) for note in notes)
    findings = [f"A picture was left out: {words}" for words in dict.fromkeys(lost.values())]
    return PictureImport(paragraphs, notes, tuple(inlays), tuple(files.values()), findings)


def _inlay(job: Job, key: str, file: PictureFile, width: float) -> Object:
    """The anchored frame of a picture: as wide as it was, or its natural width, but no wider than a column."""
    area = job.text_area(0)
    column = (area.width - (job.brief.columns - 1) * job.brief.gutter) / job.brief.columns
    across, down = file.size
    wide = min(width or across, column, HIGHEST * area.height * across / max(down, 1e-6))
    wide = max(wide, 6.0)
    rect = Rect(0.0, 0.0, wide, max(wide * down / max(across, 1e-6), 6.0))
    return Object(
        key, file.name[:80] or "Picture", Pose(rect), content=framed_anew(file), layer=base_layer(job), alt=file.alt
    )


def without(paragraph: Paragraph, gone: set[str]) -> Paragraph:
    """A paragraph without the pictures of these ids."""
    for span in reversed(paragraph.spans):
        if span.object is not None and span.object.ref in gone:
            rest = story_text.piece(paragraph, span.end, len(paragraph.text))
            paragraph = story_text.joined(story_text.piece(paragraph, 0, span.start), rest)
    return paragraph


def _missing(
    job: Job, paragraphs: tuple[Paragraph, ...], noted: bool, forms: set[str]
) -> tuple[ParagraphStyle | CharacterStyle, ...]:
    """The usual styles of a book that a text needs and an older job lacks."""
    face, setting = Cascade(job).type_of(Paragraph("", job.body)), Cascade(job).setting(Paragraph("", job.body))
    usual = book_styles(face.family, face.size, setting.leading)
    needed = {p.style for p in paragraphs} - set(job.paragraph_styles)
    named = {span.style for p in paragraphs for span in p.spans} - set(job.character_styles)
    return (
        *(replace(style, based_on=job.body) for style in usual if style.id in needed),
        *(style for style in CHARACTER_STYLES if style.id in named or noted),
        *(note_entries(job, forms) if noted else ()),
    )
