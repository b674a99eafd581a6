"""Miniatures of pages: WebP pictures of the real composition, stored under a name derived from their content.

A run of neighbouring pages is written as one PDF and rendered together; a page
whose signature has not changed is never made again.
"""

from __future__ import annotations

import io
import re
import zlib
from datetime import datetime, timezone
from weakref import WeakKeyDictionary

import pypdfium2 as pdfium

from lexigon.bench.services import store
from lexigon.core.document.anchors import anchors_in
from lexigon.core.document.model import Anchor
from lexigon.core.document.registry import TABLES
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.paragraphs import SetParagraph
from lexigon.core.press.document import write_pdf
from lexigon.core.press.recipes import recipe

RUN = 12
WIDTH = 240
"""Pixels across a miniature; shown at half that, for sharp screens."""


_NAMES: WeakKeyDictionary[Composition, dict[str, tuple[str, str]]] = WeakKeyDictionary()
"""The names of pages by their ids, each with the stamp it was made at."""


def _whole_mark(composition: Composition) -> int:
    """Return what all pages may show: styles, masters, inks, the job's own values."""
    job = composition.job
    tables = (name for name, table in TABLES.items() if table.reach != "nothing" and name not in ("stories", "inlays"))
    elsewhere = [
        plain(story) for key, story in job.stories.items() if key not in composition.flows and story.kind == "text"
    ]
    whole = (plain(job.brief), *(plain(getattr(job, name)) for name in tables), job.name, composition.today, elsewhere)
    return zlib.crc32(repr((whole, len(job.pages))).encode())


def signatures(composition: Composition) -> list[str]:
    """A short name for what each page shows. Those of pages that have not changed are known."""
    cache = _NAMES.setdefault(composition, {})
    stamps = [composition.stamps.of(page.id) for page in composition.job.pages]
    whole: int | None = None
    names = []
    for index, (page, stamp) in enumerate(zip(composition.job.pages, stamps, strict=True)):
        name = cache.get(page.id)
        if name is None or name[0] != stamp:
            whole = _whole_mark(composition) if whole is None else whole
            name = cache[page.id] = (stamp, f"{_page_mark(composition, index, whole):08x}")
        names.append(name[1])
    return names


def _page_mark(composition: Composition, index: int, mark: int) -> int:
    """Return what else a page shows: its objects, its stories line by line, notes and anchored frames."""
    job, page = composition.job, composition.job.pages[index]
    own = (
        mark,
        index,
        page.master,
        plain(page.objects),
        composition.running.title(Anchor("heading"), index),
        composition.values.labels[index],
        plain(page.section),
        page.number_shown,
    )
    mark = zlib.crc32(repr(own).encode())
    for story_id, column in composition.columns_on(index):
        flow = composition.flows[story_id]
        for b in column.blocks:
            p = flow.paragraphs[b.paragraph]
            row = (
                _words(p),
                b.base,
                b.first_line,
                b.last_line,
                round(b.baseline, 3),
                b.measure,
                b.lines,
                column.slot.rect,
            )
            mark = zlib.crc32(repr(row).encode(), mark)
            for anchor in anchors_in((p.paragraph,)):
                inlay = job.inlays.get(anchor.ref)
                story = job.stories.get((inlay.story if inlay else anchor.ref) or "")
                mark = zlib.crc32(repr((plain(inlay), plain(story))).encode(), mark)
    return mark


def _words(set_paragraph: SetParagraph) -> tuple[object, ...]:
    p = set_paragraph.paragraph
    return p.style, set_paragraph.shown.paragraph.text, p.spans, p.para, p.type


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
        missing = [page for page in run if not store.exists(_place(key, names[page]))]
        draft = io.BytesIO()
        write_pdf(
            composition,
            recipe("screen", links=False),
            draft,
            datetime(2000, 1, 1, tzinfo=timezone.utc),
            missing,
        )
        document = pdfium.PdfDocument(draft.getvalue())
        try:
            for number, page in enumerate(missing):
                sheet = document[number]
                picture = sheet.render(scale=WIDTH / sheet.get_width()).to_pil().convert("RGB")
                target = io.BytesIO()
                picture.save(target, "WEBP", quality=82, method=2)
                store.put(_place(key, names[page]), target.getvalue())
        finally:
            document.close()
    data = ready(key, names[index])
    assert data is not None
    return data
