"""The list marks in all stories of a composed job: those counted in one story, and those of series, counted page by
page."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from lexigon.core.document.anchors import anchored
from lexigon.core.document.cell_stories import text_of
from lexigon.core.document.reading_order import reading_order
from lexigon.core.editing.touches import ParagraphsTouch
from lexigon.core.flow.list_marks import Member, Sign, has_lists, list_marks, numbered

if TYPE_CHECKING:
    from lexigon.core.flow.composition import Composition

NOWHERE = 1 << 30
Place = tuple[int, int, int, int, int]
"""What orders the paragraphs of a series: page, place of the frame in the page's order of reading, paragraph, and place
in it of what holds the text, paragraph in the text."""


class Counting:
    """Whether ``marks`` are updated for the changes passed so far. A story that is the only one to count in a series
    needs no pages."""

    def __init__(self, composition: Composition) -> None:
        self.composition = composition
        self.marks: dict[str, dict[str, Sign]] = {}
        self._members: dict[str, list[Member]] = {}
        self._series: dict[str, Sign] = {}
        self.restless: set[str] = set()
        """The stories outside the flow, anchored or on master pages, whose numbers have changed."""

    @property
    def by_page(self) -> bool:
        """Return whether numbers depend on the places of stories."""
        return len(self._members) > 1

    def everything(self) -> None:
        """Count all stories again, in the order in which they are stored, until their positions are known."""
        self.marks, self._members = {}, {}
        for story in self.composition.job.stories.values():
            self._count(story.id)
        self._renumber()

    def follow(self, edit: ParagraphsTouch) -> None:
        """Handle a story whose paragraphs have changed."""
        if self.marks.get(edit.story) or has_lists(edit.insert, self.composition.cascade):
            before = self._members.get(edit.story)
            self._count(edit.story)
            members = self._members.get(edit.story)
            if members != before:
                self._renumber()
            elif members is not None:  # words alone are others: they are counted as before
                own = (one.paragraph for one in members if one.paragraph in self._series)
                self.marks[edit.story].update((name, self._series[name]) for name in own)

    def settle(self) -> None:
        """Count by the present positions of stories."""
        if self.by_page:
            self._renumber()

    def _count(self, key: str) -> None:
        job = self.composition.job
        story = job.stories[key]
        self.marks[key], members = list_marks(story.paragraphs, self.composition.cascade)
        self._members.pop(key, None)
        if members and (story.frames or story.kind == "inlay" or key == job.main_story):
            self._members[key] = members
        elif members:  # nowhere but on masters: by itself
            self.marks[key].update(numbered(members))

    def _renumber(self) -> None:
        marks = dict(numbered(self._ordered()))
        for key, members in self._members.items():
            own = {one.paragraph: marks[one.paragraph] for one in members if one.paragraph in marks}
            if key not in self.composition.flows and any(self._series.get(name) != sign for name, sign in own.items()):
                self.restless.add(key)
            self.marks[key].update(own)
        self._series = marks

    def _ordered(self) -> list[Member]:
        if not self.by_page:
            return [one for members in self._members.values() for one in members]
        ordered = sorted(self._placed_members(), key=lambda one: one[0])
        return [one for _, one in ordered]

    def _placed_members(self) -> Iterator[tuple[Place, Member]]:
        composition = self.composition
        job, ranks = composition.job, _Ranks(composition)
        inlays = {one.story: one.id for one in job.inlays.values() if one.story in self._members}
        hosts = anchored(job) if inlays else {}
        for order, (key, members) in enumerate(self._members.items()):
            inlay = inlays.get(key)
            if inlay is None:
                pages = composition.where.pages(key, [(one.paragraph, 0) for one in members])
                for one, page in zip(members, pages, strict=True):
                    yield (*ranks.of(page, key), one.at, -1, order), one
                continue
            text_anchor = hosts.get(inlay)
            if text_anchor is None:
                continue
            host, p = text_anchor
            text = text_of(job, host)
            paragraphs = text.paragraphs if text is not None else []
            at = next(number for number, one in enumerate(paragraphs) if one.id == p)
            offset = next(span.start for span in paragraphs[at].spans if span.object and span.object.ref == inlay)
            rank = ranks.of(composition.page_of(host, p, offset), host)
            for one in members:
                yield (*rank, at, offset, one.at), one


class _Ranks:
    """The position, for each page, of the first frame that shows a story in the reading order."""

    def __init__(self, composition: Composition) -> None:
        self.composition = composition
        self._frames: dict[str, dict[int, str]] = {}
        self._orders: dict[int, dict[str, int]] = {}

    def of(self, page: int | None, story: str) -> tuple[int, int]:
        """The page and that place on it; of the main text before all others."""
        job = self.composition.job
        if page is None or page >= len(job.pages) or story not in self.composition.flows:
            return NOWHERE, NOWHERE
        if story not in self._frames:
            columns = self.composition.flows[story].columns
            self._frames[story] = {column.slot.page: column.slot.frame for column in reversed(columns)}
        if page not in self._orders:
            self._orders[page] = {one.id: at for at, one in enumerate(reading_order(job, page))}
        return page, self._orders[page].get(self._frames[story].get(page, ""), -1)
