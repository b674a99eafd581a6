"""Notes and frames that stand in texts: who names them, and copies of texts with notes and frames of their own."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace

from lexigon.core.job import text as texts
from lexigon.core.job.celltexts import cell_key
from lexigon.core.job.model import Anchor, Cell, Job, Object, Paragraph, Span, Story, TextTable

KEPT = ("note", "frame")
"""Kinds of anchors whose object belongs to the text, and is copied with it."""
OBJECTS = (*KEPT, "table")
"""Kinds of anchors that name something the job keeps for its texts."""


def anchors_in(paragraphs: Iterable[Paragraph]) -> Iterator[Anchor]:
    """The notes and frames that stand in paragraphs, in reading order."""
    return (span.object for p in paragraphs for span in p.spans if span.object and span.object.kind in KEPT)


def objects_in(paragraphs: Iterable[Paragraph]) -> Iterator[Anchor]:
    """The notes, frames and tables that stand in paragraphs, in reading order."""
    return (span.object for p in paragraphs for span in p.spans if span.object and span.object.kind in OBJECTS)


def anchors_with_cells(paragraphs: Iterable[Paragraph], tables: Mapping[str, TextTable]) -> Iterator[Anchor]:
    """The same with those in the cells of the tables that stand there."""
    for anchor in objects_in(paragraphs):
        if anchor.kind != "table":
            yield anchor
        elif (table := tables.get(anchor.ref)) is not None:
            yield from (one for row in table.rows for cell in row for one in anchors_in(cell.paragraphs))


def anchored(job: Job) -> dict[str, tuple[str, str]]:
    """Return the first place of each note and each anchored frame: the story (or the cell of a table, as a text) and the paragraph, by the id of
    what is shown."""
    found: dict[str, tuple[str, str]] = {}
    for story in job.stories.values():
        for p in story.paragraphs:
            for anchor in objects_in((p,)):
                if anchor.kind != "table":
                    found.setdefault(anchor.ref, (story.id, p.id))
                elif (table := job.tables.get(anchor.ref)) is not None:
                    for place, q, inner in _in_cells(table):
                        found.setdefault(inner, (place, q))
    return found


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

    def with_made(self, inner: Copies) -> None:
        """What was made for paragraphs within one of these belongs to them all."""
        self.stories += inner.stories
        self.inlays += inner.inlays
        self.tables += inner.tables


def with_own(
    paragraphs: Iterable[Paragraph], stories: Mapping[str, Story], inlays: Mapping[str, Object], tables: Mapping[str, TextTable],
    kept: Collection[str] = (),
) -> Copies:  # fmt: skip
    """The paragraphs with copies of the notes, frames and tables they show; those in ``kept`` are shown as they are. What is named and
    not there is left out."""
    made = Copies([])

    def own(anchor: Anchor) -> Anchor | None:
        if anchor.kind not in OBJECTS or anchor.ref in kept:
            return anchor
        if anchor.kind == "table" and (table := tables.get(anchor.ref)) is not None:
            made.tables.append(_copied_table(table, stories, inlays, tables, made))
            return replace(anchor, ref=made.tables[-1].id)
        if anchor.kind == "note" and (story := stories.get(anchor.ref)) is not None:
            return replace(anchor, ref=_copied_story(story, stories, inlays, tables, made).id)
        if anchor.kind == "frame" and (inlay := inlays.get(anchor.ref)) is not None:
            inlay = replace(inlay, id=texts.new_id("f"))
            if (story := stories.get(inlay.story or "")) is not None:
                inlay = inlay.showing(story=_copied_story(story, stories, inlays, tables, made).id)
            made.inlays.append(inlay)
            return replace(anchor, ref=inlay.id)
        return None

    made.paragraphs += [_anchored_anew(p, own) if any(objects_in((p,))) else p for p in paragraphs]
    return made


def _copied_table(
    table: TextTable,
    stories: Mapping[str, Story],
    inlays: Mapping[str, Object],
    tables: Mapping[str, TextTable],
    made: Copies,
) -> TextTable:
    """A table with paragraphs, notes and frames of its own in its cells."""

    def copied(cell: Cell) -> Cell:
        inner = with_own((replace(p, id=texts.new_id("p")) for p in cell.paragraphs), stories, inlays, tables)
        made.with_made(inner)
        return replace(cell, paragraphs=tuple(inner.paragraphs))

    return replace(table, id=texts.new_id("t"), rows=tuple(tuple(map(copied, row)) for row in table.rows))


def _copied_story(
    story: Story,
    stories: Mapping[str, Story],
    inlays: Mapping[str, Object],
    tables: Mapping[str, TextTable],
    made: Copies,
) -> Story:
    fresh = [replace(p, id=texts.new_id("p")) for p in story.paragraphs]
    inner = with_own(fresh, stories, inlays, tables)
    copy = Story(texts.new_id("s"), story.name, inner.paragraphs, kind=story.kind)
    made.with_made(inner)
    made.stories.append(copy)
    return copy


def _anchored_anew(paragraph: Paragraph, own: Callable[[Anchor], Anchor | None]) -> Paragraph:
    lost: set[str] = set()

    def kept(span: Span) -> Span:
        anchor = own(span.object) if span.object else None
        if span.object is not None and anchor is None:
            lost.add(span.object.ref)
            return span
        return replace(span, object=anchor)

    made = replace(paragraph, spans=tuple(map(kept, paragraph.spans)))
    return without_anchors(made, lambda anchor: anchor.ref in lost) if lost else made


def without_spans(paragraph: Paragraph, gone: Callable[[Anchor], bool]) -> Paragraph:
    """The paragraph without some of the objects that stand in it, of whatever kind."""
    for span in reversed(paragraph.spans):
        if span.object and gone(span.object):
            rest = texts.piece(paragraph, span.end, len(paragraph.text))
            paragraph = texts.joined(texts.piece(paragraph, 0, span.start), rest)
    return paragraph


def without_anchors(paragraph: Paragraph, gone: Callable[[Anchor], bool]) -> Paragraph:
    """The paragraph without some of the notes, frames and tables that stand in it."""
    return without_spans(paragraph, lambda anchor: anchor.kind in OBJECTS and gone(anchor))
