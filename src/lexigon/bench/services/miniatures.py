"""Miniatures of pages: WebP pictures of the real composition, kept under a name made from what they show.

A run of neighbouring pages is written as one PDF and rendered together; a page
whose signature has not changed is never made again.
"""

from __future__ import annotations

import io
import re
import zlib
from datetime import datetime, timezone

import pypdfium2 as pdfium

from lexigon.bench.services import store
from lexigon.core.flow.composition import Composition
from lexigon.core.job.model import Anchor
from lexigon.core.job.serial import plain
from lexigon.core.job.tables import TABLES
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
            *(
                plain(getattr(job, name))
                for name, table in TABLES.items()
                if table.reach != "nothing" and name != "stories"
            ),
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
                    plain(page.objects),
                    composition.running.title(Anchor("heading"), index),
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


def _place(key: str, name: str) -> str:
    return f"miniatures/{key}-{name}.webp"


def ready(key: str, name: str) -> bytes | None:
    """A miniature by the name it was asked for under, if it was made before: no job need be opened for it."""
    path = store.local(_place(key, name)) if re.fullmatch(r"[0-9a-f]{8}", name) else None
    return path.read_bytes() if path else None


def miniature(composition: Composition, key: str, index: int) -> bytes:
    """The miniature of a page, made with its neighbours where it is not there yet."""
    names = signatures(composition)
    if ready(key, names[index]) is None:
        first = index - index % RUN
        run = range(first, min(first + RUN, len(names)))
        wanted = [page for page in run if not store.exists(_place(key, names[page]))]
        draft = io.BytesIO()
        write_pdf(
            composition,
            recipe("screen", links=False),
            draft,
            datetime(2000, 1, 1, tzinfo=timezone.utc),
            wanted,
        )
        document = pdfium.PdfDocument(draft.getvalue())
        try:
            for number, page in enumerate(wanted):
                sheet = document[number]
                picture = sheet.render(scale=WIDTH / sheet.get_width()).to_pil().convert("RGB")
                target = io.BytesIO()
                picture.save(target, "WEBP", quality=82, method=2)
                store.put(_place(key, names[page]), target.getvalue())
        finally:
            document.close()
    found = ready(key, names[index])
    assert found is not None
    return found
