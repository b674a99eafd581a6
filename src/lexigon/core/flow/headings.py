"""The places of headings: for running heads, bookmarks and the structure of a story."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from dataclasses import dataclass

from lexigon.core.document.model import OBJECT, Anchor, Job
from lexigon.core.flow.story_flow import StoryFlow

CHAPTERS = 2
"""Outline levels down to which a running head names the place: parts and chapters."""


@dataclass(slots=True, frozen=True)
class Heading:
    page: int
    level: int
    """Its style's outline level; 0 for text that is no heading."""
    style: str
    text: str
    paragraph: str


def headings(job: Job, flow: StoryFlow | None, style: str = "") -> list[Heading]:
    """Every paragraph of the main text that begins on a page and is a heading, or is of ``style``, in order."""
    headings = []
    levels = {s.id: s.level for s in job.paragraph_styles.values() if (s.id == style if style else s.level)}
    for column in flow.columns if flow else []:
        for block in column.blocks:
            if block.first_line == block.base == 0:
                paragraph = flow.paragraphs[block.paragraph].shown.paragraph  # type: ignore[union-attr]
                level = levels.get(paragraph.style)
                if level is not None and paragraph.text.strip():
                    text = " ".join(paragraph.text.replace(OBJECT, "").split())
                    headings.append(Heading(column.slot.page, level, paragraph.style, text, paragraph.id))
    return headings


class RunningHeads:
    """The running heads of each page in one composed state."""

    def __init__(self, job: Job, flow: StoryFlow | None) -> None:
        self.job, self.flow = job, flow
        self._all: list[Heading] | None = None
        self._by_style: dict[str, tuple[list[int], list[Heading]]] = {}

    @property
    def all(self) -> list[Heading]:
        if self._all is None:
            self._all = headings(self.job, self.flow)
        return self._all

    def _of(self, style: str) -> tuple[list[int], list[Heading]]:
        if style not in self._by_style:
            rows = headings(self.job, self.flow, style) if style else [h for h in self.all if h.level <= CHAPTERS]
            self._by_style[style] = ([row.page for row in rows], rows)
        return self._by_style[style]

    def title(self, field: Anchor, page: int) -> str:
        """The first or last heading that begins on the page; where none does, the one in force from before."""
        pages, rows = self._of(field.ref)
        first, behind = bisect_left(pages, page), bisect_right(pages, page)
        if first < behind:
            return rows[first if field.form == "first" else behind - 1].text
        return rows[first - 1].text if first else ""
