"""Stamps of the last change of each page of a composed job: one answer for the board, for miniatures, and for
everybody who looks at pages."""

from __future__ import annotations

import secrets
from collections.abc import Collection, Iterable
from typing import Protocol, assert_never

from lexigon.core.document.anchors import anchored
from lexigon.core.document.model import Job
from lexigon.core.document.registry import Reach
from lexigon.core.editing.touches import (
    Edit,
    EntryTouch,
    ObjectsTouch,
    PagesTouch,
    PageTouch,
    ParagraphsTouch,
    StoryFramesTouch,
    Touch,
    ValueTouch,
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

    def touched_by(self, flow: StoryFlow, touch: ParagraphsTouch) -> bool:
        """Return whether a change of the main story that is not composed yet may show on other pages than its own."""
        old = [set_paragraph.paragraph for set_paragraph in flow.paragraphs[touch.at : touch.at + touch.remove]]
        heads = any(p.style in self.styles for p in (*old, *touch.insert))
        return self.counts_words or (heads and old != list(touch.insert))


class Composed(Protocol):
    """The interface of a composition before it follows edits."""

    job: Job
    flows: dict[str, StoryFlow]

    @property
    def main(self) -> StoryFlow | None: ...
    def page_of(self, story_id: str, paragraph_id: str, offset: int) -> int | None: ...
    def page_of_anchored(self, story_id: str) -> int | None: ...


def named_pages(composed: Composed, watch: Watch, edits: Iterable[Edit]) -> set[int] | None:
    """The pages that edits name themselves, to be determined before the composition follows them; pages where text
    reflows are added later. None where any page may change."""
    pages: set[int] = set()
    for edit in edits:
        for touch in edit.touches():
            named = _named_pages(composed, watch, edit.reach, touch)
            if named is None:
                return None
            pages |= named
    return pages


def _named_pages(composed: Composed, watch: Watch, reach: Reach, touch: Touch) -> set[int] | None:
    job = composed.job
    match touch:
        case ParagraphsTouch() if touch.table:
            return set()  # columns that show it are filled anew
        case ParagraphsTouch():
            story, flow = job.stories.get(touch.story), composed.flows.get(touch.story)
            kind = story.kind if story is not None else "text"
            if kind == "inlay":
                return _only(composed.page_of_anchored(touch.story))
            unknown = kind != "note" and (flow is None or (flow is composed.main and watch.touched_by(flow, touch)))
            return None if unknown else set()
        case ObjectsTouch():
            return _only(job.page_index(touch.holder))
        case PageTouch():
            return _only(job.page_index(touch.page)) if touch.part != "values" else None
        case ValueTouch():
            return set() if touch.part == "page_grid" else None
        case EntryTouch(table="inlays") if touch.value is not None:
            place = anchored(job).get(touch.key)
            return _only(composed.page_of(*place, 0)) if place else set()
        case EntryTouch(table="stories") if touch.value is not None and reach in ("text", "fields"):
            return set()
        case EntryTouch() | StoryFramesTouch() | PagesTouch():
            return None
        case _:
            assert_never(touch)


def _only(page: int | None) -> set[int] | None:
    return None if page is None else {page}
