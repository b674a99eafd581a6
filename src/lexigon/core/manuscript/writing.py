"""A job's copy as a file for whoever writes it, in the formats that manuscripts come in by."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterable
from typing import Literal, get_args

from lexigon.core.flow.composition import Composition
from lexigon.core.job import text as texts
from lexigon.core.job.model import Anchor, Job, Paragraph, Span, Story
from lexigon.core.manuscript.outgoing import OBJECTS, Files, Shown, copy_of
from lexigon.core.manuscript.source import Source
from lexigon.core.manuscript.to_docx import WHEN, write_docx
from lexigon.core.manuscript.to_html import write_html
from lexigon.core.manuscript.to_text import write_markdown, write_plain

CopyForm = Literal["docx", "html", "md", "txt"]
FORMS: tuple[CopyForm, ...] = get_args(CopyForm)
PICTURES = "pictures"


def texts_of(composition: Composition) -> list[Story]:
    """The main text; of a piece without one the texts of its frames, in the order in which they stand."""
    job = composition.job
    main = job.stories.get(job.main_story or "")
    return [main] if main else [job.stories[key] for key in composition.flows if key in job.stories]


def _said(composition: Composition) -> Shown:
    """What fields say on their pages."""

    def shown(anchor: Anchor, story: str, paragraph: str, at: int) -> str:
        page = composition.page_of(story, paragraph, at) if story in composition.flows else None
        return composition.values.value(anchor, page if page is not None else -1, lambda field, on: "")

    return shown


def copied(composition: Composition, files: Files, stories: Iterable[Story] | None = None) -> Source:
    """The copy of a job as it is composed: its fields say what they say on their pages."""
    chosen = texts_of(composition) if stories is None else stories
    return copy_of(composition.job, chosen, _said(composition), files)


def written_out(composition: Composition, story: Story) -> list[Paragraph]:
    """The paragraphs of a text with their fields as words; notes, tables and frames stay."""
    shown = _said(composition)

    def value(p: Paragraph, span: Span) -> str | None:
        anchor = span.object
        return None if anchor is None or anchor.kind in OBJECTS else shown(anchor, story.id, p.id, span.start)

    return [
        texts.resolved(p, lambda span, p=p: value(p, span)) if any(span.object for span in p.spans) else p  # type: ignore[misc]
        for p in story.paragraphs
    ]


def written(source: Source, job: Job, form: CopyForm) -> tuple[bytes, str]:
    """The file, and the suffix of its name: Markdown with pictures is an archive of both."""
    if form == "docx":
        return write_docx(source, job), ".docx"
    if form == "html":
        return write_html(source, job.name, job.brief.language).encode(), ".html"
    if form == "txt":
        return write_plain(source).encode(), ".txt"
    text = write_markdown(source, PICTURES).encode()
    if not source.pictures:
        return text, ".md"
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(zipfile.ZipInfo("copy.md", WHEN), text)
        for picture in {one.name: one for one in source.pictures.values()}.values():
            archive.writestr(zipfile.ZipInfo(f"{PICTURES}/{picture.name}", WHEN), picture.data)
    return target.getvalue(), ".zip"
