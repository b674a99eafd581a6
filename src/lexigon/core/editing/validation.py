"""Checking what edits have touched, before a change is saved."""

from __future__ import annotations

from collections.abc import Iterable
from typing import assert_never

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
from lexigon.core.editing.touches import (
    Edit,
    EntryTouch,
    ObjectsTouch,
    PagesTouch,
    PageTouch,
    ParagraphsTouch,
    StoryFramesTouch,
    ValueTouch,
    touches_of,
)


def check_edits(job: Job, edits: Iterable[Edit]) -> None:
    """Check what edits, already applied to ``job``, have touched. The work is proportional to the change. Raises
    LexigonError."""
    pages = main = False
    holders: set[str] = set()
    for touch in touches_of(edits):
        match touch:
            case ParagraphsTouch():
                _check_paragraphs(job, touch)
            case StoryFramesTouch():
                if touch.story in job.stories:
                    check_frames_of(job.stories[touch.story])
            case PagesTouch():
                pages = True
            case PageTouch():
                pages = pages or touch.part == "values"
            case ObjectsTouch() if half := touch.half:
                if (master := job.masters.get(half[0])) is not None:
                    check_master(job, master)
            case ObjectsTouch():
                holders.add(touch.holder)
            case EntryTouch():
                if touch.part == "whole":
                    _check_entry(job, touch)
                    pages = pages or touch.table in ("masters", "stories", "layers", "inlays", "pictures")
                    main = True
            case ValueTouch():
                main = main or touch.field == "main_story"
                if (touch.field, touch.part) == ("brief", "whole"):
                    check_brief(job.brief)
                    for master in job.masters.values():
                        check_margins(job.brief, master)
            case _:
                assert_never(touch)
    if main:
        check_main(job)
    if pages:
        check_pages(job)
    elif holders:
        check_pages(job, holders)


def _check_paragraphs(job: Job, touch: ParagraphsTouch) -> None:
    for paragraph in touch.insert:
        check_spans(paragraph)
    if (story := text_of(job, touch.story)) is not None:
        check_anchors(job, story, touch.insert)
        if touch.remove != 1 or len(touch.insert) != 1:
            check_ids(story)


def _check_entry(job: Job, touch: EntryTouch) -> None:
    """Check an entry, and what else of the job refers to entries of its table."""
    table = getattr(job, touch.table)
    check_table(touch.table, table)
    entry = table.get(touch.key)
    if touch.table == "masters" and entry is not None:
        check_master(job, entry)
    if touch.table == "stories" and entry is not None:
        check_ids(entry)
        for paragraph in entry.paragraphs:
            check_spans(paragraph)
    if touch.table in ("swatches", "ink_sets"):
        check_ink_sets(job)
    if touch.table in ("layers", "pictures"):
        for master in job.masters.values():
            check_master(job, master)
    if touch.table in ("stories", "inlays", "pictures"):
        check_inlays(job)
        for story in job.stories.values():
            check_anchors(job, story, story.paragraphs)
