"""Paragraphs as they are shown in one composed state: with fields, list markers, note numbers and tables."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from lexigon.core.document.listing_merge import LETTER
from lexigon.core.document.model import PLAIN_TABLE, Anchor, Listing, Paragraph, Story, TableStyle, TextTable
from lexigon.core.document.story_text import is_table
from lexigon.core.flow.fields import PAGED
from lexigon.core.flow.note_layout import NoteBody, NoteRest
from lexigon.core.flow.resolved_text import (
    GoesUnder,
    LaidTable,
    ResolvedText,
    Styled,
    Value,
    objects_of,
    tabled,
    written_out,
)
from lexigon.core.flow.story_flow import Noted
from lexigon.core.flow.table_text import as_set
from lexigon.core.tables.grid import bands_of
from lexigon.core.tables.sums import with_sums
from lexigon.core.type.runs import Boxed

if TYPE_CHECKING:
    from lexigon.core.flow.composition import Composition

OnPage = Callable[[Paragraph, int], int]
"""On which page a character of a paragraph stands, by its index."""


def goes_under(listings: Iterable[Listing]) -> dict[str, GoesUnder]:
    """Return, for entries of listings that say what they continue, the entry above each entry of a lower level, by its
    paragraph."""
    entries: dict[str, GoesUnder] = {}
    for listing in listings:
        above: GoesUnder | None = None
        for entry in listing.entries:
            if entry.out or entry.style == LETTER:
                continue
            if entry.made.level == 1:
                above = GoesUnder(entry.style, entry.made.words, listing.continued)
            elif above is not None:
                entries[entry.paragraph] = above
    return entries


@dataclass(slots=True, frozen=True)
class _Table:
    """A table of the job with the settings of its cells, where ``body`` is the style of running text; its bands of
    rows, and their content."""

    table: TextTable
    summed: TextTable
    """The same, with its sums written out."""
    made_in: tuple[str, str, TableStyle]
    """The style of running text, the language, and the table's own style."""
    as_set: LaidTable
    bands: int
    objects: list[tuple[Paragraph, Anchor, int]]


class TextResolver:
    """Writes out the paragraphs of a composition."""

    def __init__(self, composition: Composition) -> None:
        self.composition = composition
        self._tables: dict[str, _Table] = {}
        self._under: tuple[list[Listing], dict[str, GoesUnder]] = [], {}

    @property
    def under(self) -> dict[str, GoesUnder]:
        """Return the terms that entries of listings belong to where they begin a column, by paragraph."""
        saying = [one for one in self.composition.job.listings.values() if one.continued]
        cached, entries = self._under
        if len(cached) != len(saying) or any(a is not b for a, b in zip(cached, saying, strict=True)):
            entries = goes_under(saying)
            self._under = saying, entries
        return entries

    def of(self, story: Story) -> Callable[[Paragraph], ResolvedText]:
        """Writes out the fields of a story for the page they are on; before the story is placed, for its first page."""
        composition = self.composition

        def page(paragraph: Paragraph, offset: int) -> int:
            at = composition.where.page(story.id, paragraph.id, offset)
            if at is None and composition.pending:
                at = composition.whole.page(story.id, paragraph.id, offset)
            if at is not None:
                return at
            frame_place = composition.job.find_frame(story.frames[0]) if story.frames else None
            return frame_place[0] if frame_place else 0

        return self.shower(story, page, composition.title)

    def shower(
        self, story: Story, page: OnPage, title: Callable[[Anchor, int], str]
    ) -> Callable[[Paragraph], ResolvedText]:
        """Writes out the objects in a story: ``page`` gives the page, ``title`` finds running heads."""
        composition = self.composition
        # A story's lists are counted anew while it flows.
        marks, key, marked = composition.counting.marks, story.id, composition.marked
        valued = self.valued(key, page, title)

        def show(paragraph: Paragraph) -> ResolvedText:
            if (table := self.alone(paragraph)) is not None:
                texts = tuple(str(valued(p)(anchor, at)) for p, anchor, at in table.objects)
                return tabled(paragraph, table.as_set, table.bands, texts)
            sign = marks.get(key, {}).get(paragraph.id)
            resolved = written_out(
                marked.of(key, paragraph), valued(paragraph), sign[:2] if sign else None, sign.behind if sign else ""
            )
            opening = marked.opening(key, paragraph)
            resolved = replace(resolved, opening=opening) if opening else resolved
            under = self.under.get(paragraph.id)
            return replace(resolved, under=under) if under is not None else resolved

        return show

    def alone(self, paragraph: Paragraph) -> _Table | None:
        """The table that a paragraph shows and nothing else."""
        if not is_table(paragraph) or paragraph.spans[0].object is None:
            return None
        table = self.composition.job.tables.get(paragraph.spans[0].object.ref)
        if table is None or not any(table.rows):
            return None
        cached = self._tables.get(table.id)
        job = self.composition.job
        made_in = job.body, job.brief.language, job.table_styles.get(table.style, PLAIN_TABLE)
        if cached is None or cached.table is not table or cached.made_in != made_in:
            before = (cached.summed, cached.as_set) if cached is not None else None
            summed = with_sums(table, job.brief.language)
            laid = as_set(summed, job.body, job.table_styles, before)
            cached = self._tables[table.id] = _Table(
                table, summed, made_in, laid, len(bands_of(table)), objects_of(laid)
            )
        return cached

    def valued(self, story_id: str, page: OnPage, title: Callable[[Anchor, int], str]) -> Callable[[Paragraph], Value]:
        """Return what the objects in a paragraph are shown as: words, or for a frame its box."""

        def valued(paragraph: Paragraph) -> Value:
            def value(anchor: Anchor, offset: int) -> str | Anchor | Styled:
                if anchor.kind == "note":
                    cited = self.composition.notes.numbers(story_id).get(anchor.ref)
                    return cited.number if cited is not None else ""
                if anchor.kind == "frame":
                    inlay = self.composition.job.inlays.get(anchor.ref)
                    rect = inlay.rect if inlay else None
                    return Boxed(anchor.kind, anchor.ref, anchor.form, rect.width, rect.height) if rect else ""
                if (styled := self.composition.values.styled(anchor)) is not None:
                    return styled
                at = page(paragraph, offset) if anchor.kind in PAGED else 0
                return self.composition.values.value(anchor, at, title)

            return value

        return valued

    def page_of_note(self, ref: str) -> OnPage:
        """The page a note is cited on; while that is not known, the first."""
        return lambda paragraph, offset: self.composition.page_of_anchored(ref) or 0

    def written(self, story_id: str, paragraph: Paragraph) -> Paragraph:
        """A paragraph of a note with its fields written out, without its number."""
        value = self.valued(story_id, self.page_of_note(story_id), self.composition.title)
        return written_out(paragraph, value(paragraph)).paragraph

    def noted(self, story_id: str) -> Noted:
        """Sets the notes that a story cites, in the styles as they are then."""

        def note(ref: str, width: float, owed: NoteRest | None) -> NoteBody | None:
            composition = self.composition
            return composition.notes.body(
                ref,
                width,
                composition.notes.numbers(story_id).get(ref),
                composition.cascade,
                composition.library,
                self.valued(ref, self.page_of_note(ref), composition.title),
                owed,
            )

        return note
