"""Making output files in the background, each of the revision that was asked for."""

from __future__ import annotations

import time
import zipfile
from datetime import datetime
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from django.utils import timezone
from django_tasks import task

from lexigon.bench.models import Edit, Job, Output
from lexigon.bench.services import rows, store, work
from lexigon.bench.services.files import Files
from lexigon.core.colour.profiles import PROFILES
from lexigon.core.errors import LexigonError
from lexigon.core.flow.desk import Desk
from lexigon.core.press.document import OutputStopped, write_pdf
from lexigon.core.press.facts import pdf_facts
from lexigon.core.press.images import png_pages
from lexigon.core.press.inkload import job_ink
from lexigon.core.press.recipes import page_range, recipe
from lexigon.core.press.variants import VARIANTS

REPORT_EVERY = 0.3
"""Seconds between two reports of progress."""
WRONG = "Something went wrong while the file was made. The job is as it was; please try again."


def start(job: Job, name: str, pages: str, count: int, user: Any = None) -> Output:
    """Put an output in the queue. Raises LexigonError if the recipe or the page range is wrong."""
    recipe(name)
    total = len(page_range(pages, count))
    output = Output.objects.create(job=job, recipe=name, pages=pages[:200], revision=job.revision, total=total, by=user)
    work.queue(output)
    output.refresh_from_db()
    return output


def moment(output: Output) -> datetime:
    """When the revision that is pressed was made: the date the file bears, so that making it again gives the same file."""
    edit = Edit.objects.filter(job=output.job_id, revision=output.revision).first()
    return edit.at if edit else output.job.created


@task()
def make_output(pk: int) -> None:
    """Make one output. Called by the task worker with the id only."""
    with work.claimed(Output, pk) as output:
        if output is None:
            return
        try:
            with TemporaryDirectory(prefix="lexigon-") as folder:
                _make(output, Path(folder))
        except (OutputStopped, work.Superseded):
            _remove(output)
        except LexigonError as error:
            work.end(output, Output.FAILED, error=str(error))
        except BaseException:
            _remove(output)
            work.end(output, Output.FAILED, error=WRONG)
            raise


work.KINDS[Output] = lambda pk: str(make_output.enqueue(pk).id)


def _make(output: Output, folder: Path) -> None:
    job = rows.load_at(output.job_id, output.revision)
    desk = Desk(job, Files(output.job.owner_id).path_of, today=timezone.localdate(output.started))
    chosen = recipe(output.recipe)
    pages = page_range(output.pages, len(desk.job.pages))
    when, reported = moment(output), time.monotonic()

    def progress(done: int, total: int) -> bool:
        nonlocal reported
        if time.monotonic() - reported >= REPORT_EVERY or done == total:
            reported = time.monotonic()
            work.report(output, done, total)
        return True

    pdf, images = folder / "made.pdf", folder / "made.zip"
    with pdf.open("wb") as target:
        painted = recipe("screen", links=False) if chosen.kind == "png" else chosen
        write_pdf(desk.composition, painted, target, when, pages, progress)
    facts: dict[str, Any] = pdf_facts(pdf)
    if VARIANTS[chosen.kind].space == "cmyk":
        facts["ink"] = job_ink(desk.composition, pages, PROFILES[chosen.profile])
    if chosen.kind == "png":
        with zipfile.ZipFile(images, "w", zipfile.ZIP_STORED) as archive:
            for index, data in zip(pages, png_pages(pdf, chosen.ppi), strict=True):
                archive.writestr(zipfile.ZipInfo(f"page-{index + 1:03}.png", when.timetuple()[:6]), data)
        facts["bytes"] = images.stat().st_size
        store.put(output.place, images)
    store.put(output.proof, pdf)
    if not work.end(output, Output.READY, facts=facts, done=len(pages), total=len(pages)):
        _remove(output)


def _remove(output: Output) -> None:
    for place in (output.place, output.proof):
        store.remove(place)


work.LEFT[Output] = _remove
