"""One change over all that a job has of a kind, as edits of no more than what it changes."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace

from lexigon.core.document.model import Job, Object, Paragraph, each_frame
from lexigon.core.editing.edits import Primitive, SpliceParagraphs, object_edits, put
from lexigon.core.editing.holders import everywhere


def over_paragraphs(job: Job, change: Callable[[Paragraph], Paragraph]) -> Iterator[Primitive]:
    """One edit for each run of paragraphs that the change makes different, and for each table with cells that it
    does."""
    for story in job.stories.values():
        run: list[Paragraph] = []
        for index, paragraph in enumerate([*story.paragraphs, None]):
            changed = change(paragraph) if paragraph is not None else None
            if changed is not None and changed is not paragraph and changed != paragraph:
                run.append(changed)
            elif run:
                yield SpliceParagraphs(story.id, index - len(run), len(run), tuple(run))
                run = []
    for table in job.tables.values():
        rows = tuple(
            tuple(replace(cell, paragraphs=tuple(map(change, cell.paragraphs))) for cell in row) for row in table.rows
        )
        if rows != table.rows:
            yield put("tables", replace(table, rows=rows))


def over_objects(job: Job, change: Callable[[tuple[Object, ...]], tuple[Object, ...]]) -> Iterator[Primitive]:
    """Return the edits that change the objects of each page, of each side of a master page, and anchored ones, groups
    whole."""
    for key, objects in everywhere(job):
        yield from object_edits(key, objects, change(objects))


def over_frames(job: Job, change: Callable[[Object], Object]) -> Iterator[Primitive]:
    """The same for each object that is no group."""
    yield from over_objects(job, lambda objects: each_frame(objects, change))
