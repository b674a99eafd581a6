"""Miniatures of pages: WebP pictures of the real composition, kept under a name made from what they show.

A run of neighbouring pages is written as one draft PDF with whole fonts and rendered together; a page
whose signature has not changed is never made again.
"""

from __future__ import annotations

import io
import re
import zlib
from datetime import datetime, timezone
from pathlib import Path

import pypdfium2 as pdfium
from django.conf import settings

from lexigon.core.flow.composition import Composition
from lexigon.core.job.model import Field
from lexigon.core.job.serial import plain
from lexigon.core.press.document import write_pdf
from lexigon.core.press.recipes import recipe

RUN = 12
WIDTH = 240
"""Pixels across a miniature; shown at half that, for sharp screens."""


def _styles_mark(composition: Composition) -> int:
    job = composition.job
    text = repr(
        (
            plain(job.brief),
            plain(job.paragraph_styles),
            plain(job.character_styles),
            plain(job.frame_styles),
            plain(job.rule_styles),
            plain(job.swatches),
            plain(job.masters),
            plain(job.copies),
            job.name,
            composition.today,
        )
    )
    return zlib.crc32(text.encode())


def signatures(composition: Composition) -> list[str]:
    """A short name for what each page shows."""
    marks, labels = _styles_mark(composition), composition.values.labels
    texts = {id(p): zlib.crc32(f"{p.paragraph.style}{p.shown.paragraph.text}{p.paragraph.spans}{p.paragraph.para}{p.paragraph.type}".encode())
             for flow in composition.flows.values() for p in flow.paragraphs}  # fmt: skip
    made = []
    for index, page in enumerate(composition.job.pages):
        mark = zlib.crc32(
            repr(
                (
                    marks,
                    index,
                    page.master,
                    plain(page.frames),
                    composition.running.title(Field("heading"), index),
                    len(composition.job.pages),
                    labels[index],
                    plain(page.section),
                    page.number_shown,
                )
            ).encode()
        )
        for story_id, column in composition.columns_on(index):
            flow = composition.flows[story_id]
            for b in column.blocks:
                row = (
                    texts[id(flow.paragraphs[b.paragraph])],
                    b.base,
                    b.first_line,
                    b.last_line,
                    round(b.baseline, 3),
                    b.measure,
                    b.lines,
                    column.slot.rect,
                )
                mark = zlib.crc32(repr(row).encode(), mark)
        made.append(f"{mark:08x}")
    return made


def signature(composition: Composition, index: int) -> str:
    return signatures(composition)[index]


def folder() -> Path:
    path = Path(settings.DATA) / "miniatures"
    path.mkdir(parents=True, exist_ok=True)
    return path


def ready(key: str, signature_: str) -> bytes | None:
    """A miniature by the name it was asked for under, if it was made before: no job need be opened for it."""
    if not re.fullmatch(r"[0-9a-f]{8}", signature_):
        return None
    path = folder() / f"{key}-{signature_}.webp"
    return path.read_bytes() if path.exists() else None


def miniature(composition: Composition, key: str, index: int) -> bytes:
    """The miniature of a page, made with its neighbours where it is not there yet."""
    names = signatures(composition)
    place = folder()

    def path(page: int) -> Path:
        return place / f"{key}-{names[page]}.webp"

    if not path(index).exists():
        first = index - index % RUN
        wanted = [page for page in range(first, min(first + RUN, len(names))) if not path(page).exists()]
        draft = io.BytesIO()
        write_pdf(
            composition,
            recipe("screen", links=False, whole_fonts=True),
            draft,
            datetime(2000, 1, 1, tzinfo=timezone.utc),
            wanted,
        )
        document = pdfium.PdfDocument(draft.getvalue())
        try:
            for number, page in enumerate(wanted):
                sheet = document[number]
                picture = sheet.render(scale=WIDTH / sheet.get_width()).to_pil().convert("RGB")
                part = path(page).with_suffix(f".{id(picture)}.part")
                picture.save(part, "WEBP", quality=82)
                part.replace(path(page))
        finally:
            document.close()
    return path(index).read_bytes()
