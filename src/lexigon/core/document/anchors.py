"""Notes and frames anchored in stories: where they are cited, and copies of texts with notes and frames of their
own."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace

from lexigon.core.document import story_text
from lexigon.core.document.cell_stories import cell_key
from lexigon.core.document.model import Anchor, Cell, Job, Object, Paragraph, Span, Story, TextTable

STORED_KINDS = ("note", "frame")
"""Kinds of anchors whose object belongs to the text, and is copied with it."""
OBJECTS = (*STORED_KINDS, "table")
"""Kinds of anchors that refer to something the job stores for its stories."""


def anchors_in(paragraphs: Iterable[Paragraph]) -> Iterator[Anchor]:
    """The notes and frames anchored in paragraphs, in reading order."""
    return (span.object for p in paragraphs for span in p.spans if span.object and span.object.kind in STORED_KINDS)


def objects_in(paragraphs: Iterable[Paragraph]) -> Iterator[Anchor]:
    """The notes, frames and tables anchored in paragraphs, in reading order."""
    return (span.object for p in paragraphs for span in p.spans if span.object and span.object.kind in OBJECTS)


def anchors_with_cells(paragraphs: Iterable[Paragraph], tables: Mapping[str, TextTable]) -> Iterator[Anchor]:
    """The same, with those in the cells of the tables."""
    for anchor in objects_in(paragraphs):
        if anchor.kind != "table":
            yield anchor
        elif (table := tables.get(anchor.ref)) is not None:
            yield from (one for row in table.rows for cell in row for one in anchors_in(cell.paragraphs))


def anchored(job: Job) -> dict[str, tuple[str, str]]:
    """Return the first place of each note and each anchored frame: the story (or the cell of a table, as a story) and
    the paragraph, by the id of the object."""
    hosts: dict[str, tuple[str, str]] = {}
    for story in job.stories.values():
        for p in story.paragraphs:
            for anchor in objects_in((p,)):
                if anchor.kind != "table":
                    hosts.setdefault(anchor.ref, (story.id, p.id))
                elif (table := job.tables.get(anchor.ref)) is not None:
                    for place, q, inner in _in_cells(table):
                        hosts.setdefault(inner, (place, q))
    return hosts


def _in_cells(table: TextTable) -> Iterator[tuple[str, str, str]]:
    """The notes and frames in the cells of a table: the cell's text, the paragraph, what is shown."""
    for row, cells in enumerate(table.rows):
        for number, cell in enumerate(cells):
            for p in cell.paragraphs:
                for anchor in anchors_in((p,)):
                    yield cell_key(table.id, row, number), p.id, anchor.ref


@dataclass(slots=True)
class Copies:
    """Copies of paragraphs, with the notes and frames made for them."""

    paragraphs: list[Paragraph]
    stories: list[Story] = field(default_factory=list)
    inlays: list[Object] = field(default_factory=list)
    tables: list[TextTable] = field(default_factory=list)

    def sharing_copies(self, inner: Copies) -> None:
        """Let all share the objects that are created for paragraphs within the block."""
        self.stories += inner.stories
        self.inlays += inner.inlays
        self.tables += inner.tables


def with_own(
    paragraphs: Iterable[Paragraph],
    stories: Mapping[str, Story],
    inlays: Mapping[str, Object],
    tables: Mapping[str, TextTable],
    shared: Collection[str] = (),
) -> Copies:
    """The paragraphs with copies of the notes, frames and tables they show; those in ``re_anchored`` are shared.
    Anchors of missing objects are left out."""
    copies = Copies([])

    def own(anchor: Anchor) -> Anchor | None:
        if anchor.kind not in OBJECTS or anchor.ref in shared:
            return anchor
        if anchor.kind == "table" and (table := tables.get(anchor.ref)) is not None:
            copies.tables.append(_copied_table(table, stories, inlays, tables, copies))
            return replace(anchor, ref=copies.tables[-1].id)
        if anchor.kind == "note" and (story := stories.get(anchor.ref)) is not None:
            return replace(anchor, ref=_copied_story(story, stories, inlays, tables, copies).id)
        if anchor.kind == "frame" and (inlay := inlays.get(anchor.ref)) is not None:
            inlay = replace(inlay, id=story_text.new_id("f"))
            if (story := stories.get(inlay.story or "")) is not None:
                inlay = inlay.showing(story=_copied_story(story, stories, inlays, tables, copies).id)
            copies.inlays.append(inlay)
            return replace(anchor, ref=inlay.id)
        return None

    copies.paragraphs += [_anchored_anew(p, own) if any(objects_in((p,))) else p for p in paragraphs]
    return copies


def _copied_table(
    table: TextTable,
    stories: Mapping[str, Story],
    inlays: Mapping[str, Object],
    tables: Mapping[str, TextTable],
    copies: Copies,
) -> TextTable:
    """A copy of a table with paragraphs, notes and frames of its own in its cells."""

    def copied(cell: Cell) -> Cell:
        inner = with_own((replace(p, id=story_text.new_id("p")) for p in cell.paragraphs), stories, inlays, tables)
        copies.sharing_copies(inner)
        return replace(cell, paragraphs=tuple(inner.paragraphs))

    return replace(table, id=story_text.new_id("t"), rows=tuple(tuple(map(copied, row)) for row in table.rows))


def _copied_story(
    story: Story,
    stories: Mapping[str, Story],
    inlays: Mapping[str, Object],
    tables: Mapping[str, TextTable],
    copies: Copies,
) -> Story:
    fresh = [replace(p, id=story_text.new_id("p")) for p in story.paragraphs]
    inner = with_own(fresh, stories, inlays, tables)
    copy = Story(story_text.new_id("s"), story.name, inner.paragraphs, kind=story.kind)
    copies.sharing_copies(inner)
    copies.stories.append(copy)
    return copy


def _anchored_anew(paragraph: Paragraph, own: Callable[[Anchor], Anchor | None]) -> Paragraph:
    lost: set[str] = set()

    def re_anchored(span: Span) -> Span:
        anchor = own(span.object) if span.object else None
        if span.object is not None and anchor is None:
            lost.add(span.object.ref)
            return span
        return replace(span, object=anchor)

    copy = replace(paragraph, spans=tuple(map(re_anchored, paragraph.spans)))
    return without_anchors(copy, lambda anchor: anchor.ref in lost) if lost else copy


def without_spans(paragraph: Paragraph, gone: Callable[[Anchor], bool]) -> Paragraph:
    """The paragraph without some of its anchored objects, of whatever kind."""
    for span in reversed(paragraph.spans):
        if span.object and gone(span.object):
            rest = story_text.piece(paragraph, span.end, len(paragraph.text))
            paragraph = story_text.joined(story_text.piece(paragraph, 0, span.start), rest)
    return paragraph


def without_anchors(paragraph: Paragraph, gone: Callable[[Anchor], bool]) -> Paragraph:
    """The paragraph without some of its notes, frames and tables."""
    return without_spans(paragraph, lambda anchor: anchor.kind in OBJECTS and gone(anchor))
