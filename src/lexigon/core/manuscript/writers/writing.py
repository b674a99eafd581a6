"""A job's copy as a file for whoever writes it, in the formats that manuscripts come in by."""

from __future__ import annotations

import io
import zipfile
from typing import Literal, get_args

from lexigon.core.document import story_text
from lexigon.core.document.model import Job, Paragraph, Span, Story
from lexigon.core.manuscript.source import Source
from lexigon.core.manuscript.writers.docx import WHEN, write_docx
from lexigon.core.manuscript.writers.html import write_html
from lexigon.core.manuscript.writers.outgoing import OBJECTS, AnchorText
from lexigon.core.manuscript.writers.text import write_markdown, write_plain

CopyForm = Literal["docx", "html", "md", "txt"]
FORMS: tuple[CopyForm, ...] = get_args(CopyForm)
ALIVE = ("docx", "html")
"""The formats that have cross-references."""
PICTURES = "pictures"


def written_out(story: Story, resolve: AnchorText) -> list[Paragraph]:
    """The paragraphs of a story with their fields as words; notes, tables and frames stay."""

    def value(p: Paragraph, span: Span) -> str | None:
        anchor = span.object
        return None if anchor is None or anchor.kind in OBJECTS else resolve(anchor, story.id, p.id, span.start)

    return [
        story_text.resolved(p, lambda span, p=p: value(p, span)) if any(span.object for span in p.spans) else p  # type: ignore[misc]
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
