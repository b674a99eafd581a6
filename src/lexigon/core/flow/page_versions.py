"""Stamps of the last change of each page of a composed job: one answer for the board, for miniatures, and for
everybody who looks at pages."""

from __future__ import annotations

import secrets
from collections.abc import Collection, Iterable
from typing import Protocol

from lexigon.core.document.anchors import anchored
from lexigon.core.document.cell_stories import table_of
from lexigon.core.document.model import Job
from lexigon.core.editing.edits import (
    OBJECT_SPLICES,
    Primitive,
    PutEntry,
    SetGuides,
    SetPageGrid,
    SetReading,
    SpliceParagraphs,
)
from lexigon.core.flow.story_flow import StoryFlow


class PageVersions:
    """A stamp for each page, by its id. As long as it stays the same the page looks the same; stamps of another
    composition are others."""

    def __init__(self) -> None:
        self._token = secrets.token_hex(4)
        self._now = self._all = 0
        self._pages: dict[str, int] = {}

    def of(self, page: str) -> str:
        """A page's stamp; of a master page's half by any other name, the stamp of all."""
        return f"{self._token}-{self._pages.get(page, self._all)}"

    def everything(self) -> None:
        """All pages may have changed."""
        self._now += 1
        self._all = self._now
        self._pages.clear()

    def these(self, pages: Iterable[str]) -> None:
        """Some pages may have changed, by their ids."""
        self._now += 1
        self._pages.update(dict.fromkeys(pages, self._now))


class Watch:
    """The parts of a page that depend on other pages: running heads, the word count."""

    def __init__(self, job: Job, flowing: Collection[str]) -> None:
        """``flowing`` are the stories in frames of pages; the others belong to master pages and are set for each
        page."""
        self.styles = {style.id for style in job.paragraph_styles.values() if style.level}
        """The paragraph styles that running heads show."""
        self.counts_words = False
        for story in job.stories.values():
            fields = (
                (s.object for p in story.paragraphs for s in p.spans if s.object) if story.id not in flowing else ()
            )
            for field in fields:
                if field.kind == "heading":
                    self.styles.add(field.ref)
                self.counts_words = self.counts_words or (field.kind == "fact" and field.ref == "words")

    def touched_by(self, flow: StoryFlow, edit: SpliceParagraphs) -> bool:
        """Return whether a change of the main story that is not composed yet may show on other pages than its own."""
        old = [set_paragraph.paragraph for set_paragraph in flow.paragraphs[edit.at : edit.at + edit.remove]]
        heads = any(p.style in self.styles for p in (*old, *edit.insert))
        return self.counts_words or (heads and old != list(edit.insert))


class Composed(Protocol):
    """The interface of a composition before it follows edits."""

    job: Job
    flows: dict[str, StoryFlow]

    @property
    def main(self) -> StoryFlow | None: ...
    def page_of(self, story_id: str, paragraph_id: str, offset: int) -> int | None: ...
    def page_of_anchored(self, story_id: str) -> int | None: ...


def named_pages(composed: Composed, watch: Watch, edits: Iterable[Primitive]) -> set[int] | None:
    """The pages that edits name themselves, to be determined before the composition follows them; pages where text
    reflows are added later. None where any page may change."""
    pages: set[int] = set()
    for edit in edits:
        at: int | None = None
        if isinstance(edit, SpliceParagraphs) and table_of(edit.story):
            continue  # columns that show it are filled anew
        if isinstance(edit, SpliceParagraphs):
            story, flow = composed.job.stories.get(edit.story), composed.flows.get(edit.story)
            kind = story.kind if story is not None else "text"
            if kind == "inlay":
                at = composed.page_of_anchored(edit.story)
                if at is None:
                    return None
            elif kind != "note" and (flow is None or (flow is composed.main and watch.touched_by(flow, edit))):
                return None
        elif isinstance(edit, (*OBJECT_SPLICES, SetGuides, SetReading)):
            at = composed.job.page_index(edit.holder)
            if at is None:
                return None
        elif isinstance(edit, SetPageGrid):
            continue
        elif not isinstance(edit, PutEntry) or edit.value is None or edit.reach not in ("text", "fields"):
            return None
        elif edit.table == "inlays":
            where = anchored(composed.job).get(edit.key)
            at = composed.page_of(*where, 0) if where else None
            if where is not None and at is None:
                return None
        elif edit.table != "stories":
            return None
        pages |= {at} if at is not None else set()
    return pages
