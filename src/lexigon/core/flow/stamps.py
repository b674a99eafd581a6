"""Stamps of the last change of each page of a composed job: one answer for the board, for miniatures, and for
everybody who looks at pages."""

from __future__ import annotations

import secrets
from collections.abc import Collection, Iterable
from typing import Protocol

from lexigon.core.flow.story import StoryFlow
from lexigon.core.job.anchoring import anchored
from lexigon.core.job.celltexts import table_of
from lexigon.core.job.edits import (
    OBJECT_SPLICES,
    Primitive,
    PutEntry,
    SetGuides,
    SetPageGrid,
    SetReading,
    SpliceParagraphs,
)
from lexigon.core.job.model import Job


class Stamps:
    """A stamp for each page, by its id. As long as it stays the same the page looks the same; stamps of another composition
    are others."""

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
        """``flowing`` are the stories that stand in frames of pages; the others are texts of masters, set for each page."""
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
        old = [found.paragraph for found in flow.paragraphs[edit.at : edit.at + edit.remove]]
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


def named_pages(placed: Composed, watch: Watch, edits: Iterable[Primitive]) -> set[int] | None:
    """The pages that edits name themselves, to be told before they are followed; where text flows otherwise comes to them. None
    where any page may change."""
    pages: set[int] = set()
    for edit in edits:
        at: int | None = None
        if isinstance(edit, SpliceParagraphs) and table_of(edit.story):
            continue  # columns that show it are filled anew
        if isinstance(edit, SpliceParagraphs):
            story, flow = placed.job.stories.get(edit.story), placed.flows.get(edit.story)
            kind = story.kind if story is not None else "text"
            if kind == "inlay":
                at = placed.page_of_anchored(edit.story)
                if at is None:
                    return None
            elif kind != "note" and (flow is None or (flow is placed.main and watch.touched_by(flow, edit))):
                return None
        elif isinstance(edit, (*OBJECT_SPLICES, SetGuides, SetReading)):
            at = placed.job.page_index(edit.holder)
            if at is None:
                return None
        elif isinstance(edit, SetPageGrid):
            continue
        elif not isinstance(edit, PutEntry) or edit.value is None or edit.reach not in ("text", "fields"):
            return None
        elif edit.table == "inlays":
            where = anchored(placed.job).get(edit.key)
            at = placed.page_of(*where, 0) if where else None
            if where is not None and at is None:
                return None
        elif edit.table != "stories":
            return None
        pages |= {at} if at is not None else set()
    return pages
