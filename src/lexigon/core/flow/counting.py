"""The marks of lists in all texts of a composed job: those of a text, counted in it, and those of series, counted page by page."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from lexigon.core.flow.lists import Member, Sign, has_lists, list_marks, numbered
from lexigon.core.job.anchoring import anchored
from lexigon.core.job.edits import SpliceParagraphs
from lexigon.core.job.reading import reading_order

if TYPE_CHECKING:
    from lexigon.core.flow.composition import Composition

NOWHERE = 1 << 30
Place = tuple[int, int, int, int, int]
"""What orders the paragraphs of a series: page, place of the frame in the page's order of reading, paragraph, and place in it of what holds
the text, paragraph in the text."""


class Counting:
    """``marks`` are kept up to date for what was told. A text in which series count alone needs no pages to be known."""

    def __init__(self, composition: Composition) -> None:
        self.composition = composition
        self.marks: dict[str, dict[str, Sign]] = {}
        self._members: dict[str, list[Member]] = {}
        self._series: dict[str, Sign] = {}
        self.restless: set[str] = set()
        """The texts that do not flow by themselves, in lines or on masters, whose numbers became others."""

    @property
    def by_page(self) -> bool:
        """Whether numbers depend on where texts stand."""
        return len(self._members) > 1

    def everything(self) -> None:
        """All texts anew, in the order they are kept in until it is known where they stand."""
        self.marks, self._members = {}, {}
        for story in self.composition.job.stories.values():
            self._count(story.id)
        self._renumber()

    def follow(self, edit: SpliceParagraphs) -> None:
        """A text's paragraphs are others now."""
        if self.marks.get(edit.story) or has_lists(edit.insert, self.composition.cascade):
            self._count(edit.story)
            self._renumber()

    def settle(self) -> None:
        """Count by where texts stand now."""
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
        found = dict(numbered(self._ordered()))
        for key, members in self._members.items():
            own = {one.paragraph: found[one.paragraph] for one in members if one.paragraph in found}
            if key not in self.composition.flows and any(self._series.get(name) != sign for name, sign in own.items()):
                self.restless.add(key)
            self.marks[key].update(own)
        self._series = found

    def _ordered(self) -> list[Member]:
        if not self.by_page:
            return [one for members in self._members.values() for one in members]
        placed = sorted(self._placed(), key=lambda one: one[0])
        return [one for _, one in placed]

    def _placed(self) -> Iterator[tuple[Place, Member]]:
        composition, ranks = self.composition, dict[int, dict[str, int]]()
        hosts = anchored(composition.job)
        inlays = {one.story: one.id for one in composition.job.inlays.values() if one.story}

        def rank(page: int | None, story: str) -> int:
            """The place, in the order in which a page is read, of the first frame on it that shows a text."""
            if page is None or page >= len(composition.job.pages):
                return NOWHERE
            if page not in ranks:
                frames = [one.id for one in reading_order(composition.job, page)]
                ranks[page] = {}
                for key, column in composition.columns_on(page):
                    at = frames.index(column.slot.frame) if column.slot.frame in frames else -1
                    ranks[page][key] = min(ranks[page].get(key, NOWHERE), at)
            return ranks[page].get(story, NOWHERE)

        for order, (key, members) in enumerate(self._members.items()):
            inlay = inlays.get(key)
            if inlay is None:
                pages = composition.where.pages(key, [(one.paragraph, 0) for one in members])
                for one, page in zip(members, pages, strict=True):
                    yield (NOWHERE if page is None else page, rank(page, key), one.at, -1, order), one
                continue
            held = hosts.get(inlay)
            if held is None:
                continue
            host, p = held
            paragraphs = composition.job.stories[host].paragraphs
            at = next(number for number, one in enumerate(paragraphs) if one.id == p)
            offset = next(span.start for span in paragraphs[at].spans if span.object and span.object.ref == inlay)
            page = composition.page_of(host, p, offset)
            for one in members:
                yield (NOWHERE if page is None else page, rank(page, host), at, offset, one.at), one
