"""Checking what edits have touched, before a change is saved."""

from __future__ import annotations

from collections.abc import Iterable

from lexigon.core.document.brief_rules import check_brief, check_margins
from lexigon.core.document.cell_stories import text_of
from lexigon.core.document.consistency import (
    check_anchors,
    check_frames_of,
    check_ids,
    check_ink_sets,
    check_inlays,
    check_main,
    check_master,
    check_pages,
    check_spans,
    check_table,
)
from lexigon.core.document.model import Job
from lexigon.core.editing.edits import (
    OBJECT_SPLICES,
    Primitive,
    PutEntry,
    SetBrief,
    SetFrames,
    SetMainStory,
    SetPage,
    SplicePages,
    SpliceParagraphs,
    master_half,
)


def check_edits(job: Job, edits: Iterable[Primitive]) -> None:
    """Check what edits, already applied to ``job``, have touched. The work is proportional to the change. Raises
    LexigonError."""
    pages = tables = False
    touched: set[str] = set()
    for edit in edits:
        if isinstance(edit, SpliceParagraphs):
            for paragraph in edit.insert:
                check_spans(paragraph)
            if (story := text_of(job, edit.story)) is not None:
                check_anchors(job, story, edit.insert)
                if edit.remove != 1 or len(edit.insert) != 1:
                    check_ids(story)
        elif isinstance(edit, OBJECT_SPLICES) and (half := master_half(edit.holder)):
            if (master := job.masters.get(half[0])) is not None:
                check_master(job, master)
        elif isinstance(edit, OBJECT_SPLICES):
            touched.add(edit.holder)
        elif isinstance(edit, (SplicePages, SetPage)):
            pages = True
        elif isinstance(edit, PutEntry):
            tables = True
            table = getattr(job, edit.table)
            check_table(edit.table, table)
            entry = table.get(edit.key)
            if edit.table == "masters" and entry is not None:
                check_master(job, entry)
            if edit.table == "stories" and entry is not None:
                check_ids(entry)
                for paragraph in entry.paragraphs:
                    check_spans(paragraph)
            if edit.table in ("swatches", "ink_sets"):
                check_ink_sets(job)
            if edit.table in ("layers", "pictures"):
                for master in job.masters.values():
                    check_master(job, master)
            if edit.table in ("stories", "inlays", "pictures"):
                check_inlays(job)
                for story in job.stories.values():
                    check_anchors(job, story, story.paragraphs)
            pages = pages or edit.table in ("masters", "stories", "layers", "inlays", "pictures")
        elif isinstance(edit, SetFrames) and edit.story in job.stories:
            check_frames_of(job.stories[edit.story])
        elif isinstance(edit, SetBrief):
            check_brief(job.brief)
            for master in job.masters.values():
                check_margins(job.brief, master)
    if tables or any(isinstance(edit, SetMainStory) for edit in edits):
        check_main(job)
    if pages:
        check_pages(job)
    elif touched:
        check_pages(job, touched)
