"""The places in the main story at which sections begin, so that sections follow their text when another manuscript is
poured."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from lexigon.core.document.model import Paragraph, Section
from lexigon.core.editing.intents import Intent, PutSection
from lexigon.core.flow.composition import Composition


@dataclass(slots=True, frozen=True)
class SectionPlace:
    """A section with the page and the paragraph that it begins at. For a heading also its ``level`` and words, and
    ``nth``, the number of headings of that level before it."""

    page: str
    section: Section
    paragraph: str
    level: int = 0
    words: str = ""
    nth: int = 0


def section_places(composition: Composition) -> list[SectionPlace]:
    """Return the sections, except that of the first page, whose first page begins with a new paragraph of the main
    story."""
    job, flow = composition.job, composition.main
    if flow is None:
        return []
    firsts: dict[int, int] = {}
    for column in flow.columns:
        for block in column.blocks:
            if not block.first_line and not block.base:
                firsts.setdefault(column.slot.page, block.paragraph)
    paragraphs = [set_paragraph.paragraph for set_paragraph in flow.paragraphs]
    set_paragraph: list[SectionPlace] = []
    for index, page in enumerate(job.pages):
        if index and page.section is not None and index in firsts:
            number = firsts[index]
            p, level = paragraphs[number], _level(composition, paragraphs[number])
            before = sum(_level(composition, one) == level for one in paragraphs[:number]) if level else 0
            set_paragraph.append(SectionPlace(page.id, page.section, p.id, level, _words(p), before))
    return set_paragraph


def sections_moved(composition: Composition, places: Sequence[SectionPlace]) -> list[Intent]:
    """Return the intents that move sections to the pages where their text begins now. The text is found by its
    paragraph, by the words of its heading, or by the position of the heading among those of its level. A section whose
    text is gone does not move."""
    job, flow = composition.job, composition.main
    if flow is None:
        return []
    paragraphs = [set_paragraph.paragraph for set_paragraph in flow.paragraphs]
    pages = {page.id: page for page in job.pages}
    gone: list[Intent] = []
    begun: list[Intent] = []
    for place in places:
        p = _counterpart(composition, paragraphs, place)
        index = composition.where.page(job.main_story or "", p.id) if p is not None else None
        if not index or job.pages[index].id == place.page:
            continue
        old = pages.get(place.page)
        if old is not None and old.section == place.section:
            gone.append(PutSection(old.id, None))
        begun.append(PutSection(job.pages[index].id, place.section))
    return [*gone, *begun]


def _counterpart(composition: Composition, paragraphs: Sequence[Paragraph], place: SectionPlace) -> Paragraph | None:
    for p in paragraphs:
        if p.id == place.paragraph:
            return p
    level = place.level or _highest(composition, paragraphs)
    heads = [p for p in paragraphs if _level(composition, p) == level] if level else []
    if place.level:
        for p in heads:
            if _words(p) == place.words:
                return p
    return heads[place.nth] if place.nth < len(heads) else None


def _highest(composition: Composition, paragraphs: Sequence[Paragraph]) -> int:
    return min((level for p in paragraphs if (level := _level(composition, p))), default=0)


def _level(composition: Composition, p: Paragraph) -> int:
    style = composition.job.paragraph_styles.get(p.style)
    return style.level if style is not None else 0


def _words(p: Paragraph) -> str:
    return " ".join(p.text.split()).casefold()
