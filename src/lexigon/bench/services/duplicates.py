"""Copies of jobs, as new jobs or as templates, with or without the main text."""

from __future__ import annotations

from typing import Any

from lexigon.bench.models import Job
from lexigon.bench.services.files import Files
from lexigon.bench.services.jobs import create_job, opened
from lexigon.core.document.story_text import new_id
from lexigon.core.editing.intents import PourText
from lexigon.core.fileformat import package

TEMPLATE = ", template"
"""The ending of a template's default name."""


def duplicate(user: Any, job: Job, name: str, *, template: bool = False, text: bool = True) -> Job:
    """Create a copy of a job. Without ``text`` its main text is emptied as a first change, which undo reverts."""
    with opened(job.pk) as live:
        model = package.read(package.write(live.job))  # the files stay where they are stored
    model.id, model.name = new_id("j"), name[:200]
    names = package.files_used(model)
    row = create_job(user, model, set(names) - Files(job.pk).missing(names))
    Job.objects.filter(pk=row.pk).update(template=template)
    if not text and model.main_story:
        with opened(row.pk) as live:
            live.do([PourText(model.main_story, ())], user)
    return row


def name_of_copy(job: Job) -> str:
    """The default name of a copy."""
    return job.name.removesuffix(TEMPLATE) if job.template else f"{job.name}, copy"
