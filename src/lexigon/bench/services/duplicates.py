"""Jobs and templates as copies of others: the whole job, or all of it but the words of its main text."""

from __future__ import annotations

from typing import Any

from lexigon.bench.models import Job
from lexigon.bench.services.files import Files
from lexigon.bench.services.jobs import create_job, opened
from lexigon.core.job import package
from lexigon.core.job.intents import PourText
from lexigon.core.job.text import new_id

TEMPLATE = ", template"
"""What the name of a template ends with where nobody named it."""


def duplicate(user: Any, job: Job, name: str, *, template: bool = False, text: bool = True) -> Job:
    """A copy of a job under a name of its own; without ``text`` its main text is empty, and undo brings it back."""
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
    """What a copy is called where nobody named it."""
    return job.name.removesuffix(TEMPLATE) if job.template else f"{job.name}, copy"
