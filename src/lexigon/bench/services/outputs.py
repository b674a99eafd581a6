"""Making output files in the background: progress, cancel, and going on after a restart."""

from __future__ import annotations

import time
import zipfile
from typing import Any

from django.utils import timezone
from django_tasks import task

from lexigon.bench.models import Job, Output
from lexigon.bench.services import files
from lexigon.bench.services.rows import Rows
from lexigon.core.errors import LexigonError
from lexigon.core.flow.desk import Desk
from lexigon.core.press.document import OutputStopped, write_pdf
from lexigon.core.press.facts import pdf_facts
from lexigon.core.press.images import png_pages
from lexigon.core.press.recipes import page_range, recipe

REPORT_EVERY = 0.3
"""Seconds between two reports of progress."""


def start(job: Job, name: str, pages: str, count: int) -> Output:
    """Put an output in the queue. Raises LexigonError if the recipe or the page range is wrong."""
    recipe(name)
    total = len(page_range(pages, count))
    output = Output.objects.create(job=job, recipe=name, pages=pages[:200], revision=job.revision, total=total)
    _enqueue(output)
    output.refresh_from_db()
    return output


def _enqueue(output: Output) -> None:
    result = make_output.enqueue(output.pk)
    Output.objects.filter(pk=output.pk).update(task=str(result.id))


def stop(output: Output) -> None:
    Output.objects.filter(pk=output.pk, state__in=(Output.WAITING, Output.RUNNING)).update(
        state=Output.STOPPED, ended=timezone.now()
    )


def resume() -> int:
    """After a restart: queue again what was being made. Returns how many."""
    waiting = list(Output.objects.filter(state__in=(Output.WAITING, Output.RUNNING)))
    for output in waiting:
        Output.objects.filter(pk=output.pk).update(state=Output.WAITING, done=0)
        _enqueue(output)
    return len(waiting)


@task()
def make_output(pk: int) -> None:
    """Make one output. Called by the task worker with the id only."""
    if not Output.objects.filter(pk=pk, state=Output.WAITING).update(state=Output.RUNNING):
        return
    output = Output.objects.select_related("job").get(pk=pk)
    try:
        _make(output)
    except OutputStopped:
        _remove(output)
    except LexigonError as error:
        _end(output, Output.FAILED, error=str(error))
    except Exception:
        _remove(output)
        _end(
            output,
            Output.FAILED,
            error="Something went wrong while the file was made. The job is as it was; please try again.",
        )
        raise


def _make(output: Output) -> None:
    output.folder.mkdir(parents=True, exist_ok=True)
    desk = Desk(Rows.load(output.job).job, files.path_of, today=timezone.localdate(output.started))
    chosen = recipe(output.recipe)
    pages = page_range(output.pages, len(desk.job.pages))
    when = output.job.changed
    reported = time.monotonic()

    def progress(done: int, total: int) -> bool:
        nonlocal reported
        if time.monotonic() - reported < REPORT_EVERY and done < total:
            return True
        reported = time.monotonic()
        return bool(Output.objects.filter(pk=output.pk, state=Output.RUNNING).update(done=done, total=total))

    part = output.proof.with_suffix(".part")
    with part.open("wb") as target:
        write_pdf(
            desk.composition,
            recipe("screen", links=False) if chosen.kind == "png" else chosen,
            target,
            when,
            pages,
            progress,
        )
    part.replace(output.proof)
    facts: dict[str, Any] = pdf_facts(output.proof)
    if chosen.kind == "png":
        with zipfile.ZipFile(output.path, "w", zipfile.ZIP_STORED) as archive:
            for index, data in zip(pages, png_pages(output.proof, chosen.ppi), strict=True):
                archive.writestr(zipfile.ZipInfo(f"page-{index + 1:03}.png", when.timetuple()[:6]), data)
        facts["bytes"] = output.path.stat().st_size
    _end(output, Output.READY, facts=facts, done=len(pages), total=len(pages))


def _end(output: Output, state: str, **values: Any) -> None:
    Output.objects.filter(pk=output.pk, state=Output.RUNNING).update(state=state, ended=timezone.now(), **values)


def _remove(output: Output) -> None:
    for path in (output.path, output.proof, output.proof.with_suffix(".part")):
        path.unlink(missing_ok=True)
