"""A merge as a job: the pages of every record one after the other, as pages that can be edited like any others."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from lexigon.core.document.limits import MOST_ENTRIES, MOST_PAGES
from lexigon.core.document.model import SIDES, Job, all_in
from lexigon.core.document.story_text import new_id
from lexigon.core.editing.clipping import clipped
from lexigon.core.editing.edits import apply_all
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.jobs import job_from_plain
from lexigon.core.fileformat.values import plain
from lexigon.core.merge.applying import record_fields, unbound
from lexigon.core.merge.merger import Merger
from lexigon.core.merge.repeating import repeated_job, repeated_object
from lexigon.core.numerals import integer


def merged_job(merger: Merger, numbers: Sequence[int], name: str) -> Job:
    """Return a new job called ``name`` with the pages of some records. Nothing in it is bound any more. Raises
    LexigonError where bound text or objects are not on the pages themselves. Where an object is repeated for all
    records, each page has several."""
    if repeated_object(merger.job) is not None:
        return _checked(repeated_job(merger, numbers, name))
    merger.reset()
    job = job_from_plain(plain(merger.job))
    _check(job)
    if len(numbers) * len(job.pages) > MOST_PAGES:
        raise LexigonError(
            f"A job has at most {integer(MOST_PAGES)} pages; {integer(len(numbers))} records would need more. "
            "Select fewer records, or export a PDF."
        )
    pages = []
    for number in numbers:
        merged = merger.show(number)
        own = [merger.job.pages[index] for index in merged.pages]
        copies = clipped(
            [page.objects for page in own], merger.job.stories, merger.job.inlays, merger.job.tables, led=True
        )
        apply_all(job, copies.edits)
        for page, objects in zip(own, copies.holders, strict=True):
            own_objects = tuple(map(unbound, objects))
            pages.append(replace(page, id=new_id("g"), objects=own_objects, bindings=(), reading=()))
    gone = {one.story for page in job.pages for one in all_in(page.objects) if one.story}
    job.stories = {key: story for key, story in job.stories.items() if key not in gone}
    return _checked(replace(job, id=new_id("j"), name=name, pages=pages, record_sets={}, record_adjustments={}))


def _checked(job: Job) -> Job:
    """Return a job. Raises LexigonError if it has more stories than can be opened again."""
    if len(job.stories) > MOST_ENTRIES:
        raise LexigonError(
            f"A job has at most {integer(MOST_ENTRIES)} stories; these records would need {integer(len(job.stories))}. "
            "Select fewer records, or export a PDF."
        )
    return job


def _check(job: Job) -> None:
    on_masters = [one for master in job.masters.values() for side in SIDES for one in all_in(master.half(side))]
    shown_there = {one.story for one in on_masters} | {job.main_story}
    if any(one.bindings for one in on_masters) or any(
        any(record_fields(story.paragraphs)) for story in job.stories.values() if story.id in shown_there
    ):
        raise LexigonError(
            "Fields are bound on master pages or in the main text. Override these objects on the pages first, or "
            "export a PDF."
        )
