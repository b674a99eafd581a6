"""Miniatures of pages: WebP pictures of the real composition, kept under a name made from what they show.

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
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.setparagraph import SetParagraph
from lexigon.core.job.anchoring import anchors_in
from lexigon.core.job.model import Anchor
from lexigon.core.job.serial import plain
from lexigon.core.job.tables import TABLES
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
    known = _NAMES.setdefault(composition, {})
    stamps = [composition.stamps.of(page.id) for page in composition.job.pages]
    whole: int | None = None
    made = []
    for index, (page, stamp) in enumerate(zip(composition.job.pages, stamps, strict=True)):
        name = known.get(page.id)
        if name is None or name[0] != stamp:
            whole = _whole_mark(composition) if whole is None else whole
            name = known[page.id] = (stamp, f"{_page_mark(composition, index, whole):08x}")
        made.append(name[1])
    return made


def _page_mark(composition: Composition, index: int, mark: int) -> int:
    """Return what one page shows beside that: its objects, its texts line by line, notes and frames in lines."""
    job, page = composition.job, composition.job.pages[index]
    own = (
        mark, index, page.master, plain(page.objects), composition.running.title(Anchor("heading"), index),
        composition.values.labels[index], plain(page.section), page.number_shown,
    )  # fmt: skip
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
                held = job.stories.get((inlay.story if inlay else anchor.ref) or "")
                mark = zlib.crc32(repr((plain(inlay), plain(held))).encode(), mark)
    return mark


def _words(found: SetParagraph) -> tuple[object, ...]:
    p = found.paragraph
    return p.style, found.shown.paragraph.text, p.spans, p.para, p.type


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
