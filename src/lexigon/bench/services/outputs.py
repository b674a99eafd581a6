"""Making output files in the background, each of the revision that was asked for."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any, TypeVar

from django.db import transaction
from django.db.models.signals import post_delete
from django.dispatch import receiver
from django.utils import timezone
from django_tasks import task

from lexigon.bench.models import Edit, FileWork, Job, MergeChunk, MergeOutput, Output, PressWork, PublicationOutput
from lexigon.bench.services import rows, store, work
from lexigon.bench.services.files import Files
from lexigon.core.check.findings import findings_of
from lexigon.core.colour.profiles import PROFILES, Profile
from lexigon.core.errors import LexigonError
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.workspace import Workspace
from lexigon.core.forks import processes_available
from lexigon.core.pdf.variants import VARIANTS
from lexigon.core.press.document import OutputStopped, Part, write_parts
from lexigon.core.press.facts import pdf_facts
from lexigon.core.press.images import write_images
from lexigon.core.press.inkload import job_ink
from lexigon.core.press.page_files import page_files
from lexigon.core.press.recipes import page_range, pdf_recipe, recipe
from lexigon.core.type.line_cache import line_cache
from lexigon.core.type.shaping import save_shaped_words

REPORT_EVERY = 0.3
"""Seconds between two reports of progress."""
WRONG = "The file could not be exported because of an error in the program. The job is unchanged. Try again."


def start(
    job: Job, name: str, pages: str, count: int, user: Any = None, options: dict[str, Any] | None = None
) -> Output:
    """Put an output in the queue; ``options`` override settings of the recipe. Raises LexigonError if the recipe or the
    page range is wrong."""
    recipe(name, **options or {})
    total = len(page_range(pages, count))
    output = Output.objects.create(
        job=job, recipe=name, pages=pages[:200], revision=job.revision, total=total, by=user, options=options or {}
    )
    work.queue(output)
    output.refresh_from_db()
    return output


def stop_of(job: Job, user: Any) -> None:
    """Stop the outputs that somebody asked for and that are not there yet: the job is no longer shared with them."""
    for kind in (Output, MergeOutput):
        for output in kind._default_manager.filter(job=job, by=user, state__in=(kind.WAITING, kind.RUNNING)):
            stop(output)


def stop(output: PressWork) -> None:
    """Stop an output, and the chunks of it that are being made."""
    work.stop(output)
    if isinstance(output, MergeOutput):
        output.chunks.all().delete()


def moment(job: Job, revision: int) -> datetime:
    """Return when a revision was made: the date a file of it bears, so that making it again gives the same file."""
    edit = Edit.objects.filter(job=job.pk, revision=revision).first()
    return edit.at if edit else job.created


@task()
def make_output(pk: int) -> None:
    """Make one output. Called by the task worker with the id only."""
    run_output(Output, pk, _of_job)


work.KINDS[Output] = lambda pk: str(make_output.enqueue(pk).id)


@task()
def make_publication(pk: int) -> None:
    """Make the file of a publication. Called by the task worker with the id only."""
    from lexigon.bench.services.publications import pressing

    run_output(PublicationOutput, pk, pressing)


work.KINDS[PublicationOutput] = lambda pk: str(make_publication.enqueue(pk).id)


@dataclass(slots=True, frozen=True)
class Pressing:
    """The contents of an output: the pages of jobs, its title, and its date."""

    parts: list[Part]
    name: str
    when: datetime


def day_of(output: PressWork) -> date:
    """The day that fields in it show."""
    return timezone.localdate(output.started)


def composed(job: Job, revision: int, on: date) -> Composition:
    """A job as it was at a revision, as it is composed on a day."""
    return Workspace(rows.load_at(job.pk, revision), Files(job.pk).path_of, today=on).composition


def _of_job(output: Output) -> Pressing:
    composition = composed(output.job, output.revision, day_of(output))
    pages = page_range(output.pages, len(composition.job.pages))
    return Pressing([Part(composition, pages)], composition.job.name, moment(output.job, output.revision))


Row = TypeVar("Row", bound=FileWork)
PressRow = TypeVar("PressRow", bound=PressWork)


def run_output(kind: type[PressRow], pk: int, pressing: Callable[[PressRow], Pressing]) -> None:
    """Make one file, for a worker; ``pressing`` says of what."""

    def make(output: PressRow, folder: Path) -> None:
        pressed = pressing(output)
        try:
            _make(output, pressed, folder)
        finally:
            for part in pressed.parts:
                part.composition.let_go()

    run_work(kind, pk, make)


def run_work(kind: type[Row], pk: int, make: Callable[[Row, Path], None]) -> None:
    """Do a piece of work that ends with files, for a worker: ``make`` is called with a folder for them. What goes wrong
    is written to the row."""
    with work.claimed(kind, pk) as output:
        if output is not None:
            with line_cache(output.subject):
                _run(output, make)
            save_shaped_words()


def _run(output: Row, make: Callable[[Row, Path], None]) -> None:
    try:
        with TemporaryDirectory(prefix="lexigon-") as folder:
            make(output, Path(folder))
    except (OutputStopped, work.Superseded):
        remove_files_of(output)
    except LexigonError as error:
        work.end(output, PressWork.FAILED, error=str(error))
    except BaseException:
        remove_files_of(output)
        work.end(output, PressWork.FAILED, error=WRONG)
        raise


MOST_FINDINGS = 200


def _job_findings(parts: Sequence[Part]) -> list[dict[str, Any]]:
    """The first findings of the jobs on the pages in a file: ``text``, ``page`` (an index, or None) and the ``label``
    of that page."""
    findings = [
        {"text": one.text, "page": one.page, "label": part.composition.values.labels[one.page or 0]}
        for part in parts
        for one in findings_of(part.composition)
        if one.page is None or one.page in part.pages
    ]
    return findings[:MOST_FINDINGS]


def reporting(output: FileWork, then: Callable[[], None] | None = None) -> Callable[[int, int], bool]:
    """Return what reports the progress of an output, now and then; ``then`` is called after each report."""
    reported = time.monotonic()

    def progress(done: int, total: int) -> bool:
        nonlocal reported
        if time.monotonic() - reported >= REPORT_EVERY or done == total:
            reported = time.monotonic()
            work.report(output, done, total)
            if then is not None:
                then()
        return True

    return progress


def _make(output: PressWork, pressing: Pressing, folder: Path) -> None:
    chosen, progress = recipe(output.recipe, **output.options), reporting(output)
    pdf, images = folder / "made.pdf", folder / "made.zip"
    with pdf.open("wb") as target:
        write_parts(
            pressing.parts, pressing.name, pdf_recipe(chosen), target, pressing.when, progress, processes_available()
        )
    facts: dict[str, Any] = pdf_facts(pdf)
    facts["job_findings"] = _job_findings(pressing.parts)
    if VARIANTS[chosen.kind].space == "cmyk":
        facts["ink"] = _ink(pressing.parts, PROFILES[chosen.profile])
    if chosen.paged:
        pages = zip(_numbers(pressing.parts), page_files(pressing.parts, pdf, chosen), strict=True)
        with images.open("wb") as archive:
            write_images(archive, ((f"page-{number:03}{chosen.suffix}", data) for number, data in pages), pressing.when)
        facts["bytes"] = images.stat().st_size
        store.put(output.place, images)
    store.put(output.proof, pdf)
    total = sum(len(part.pages) for part in pressing.parts)
    if not work.end(output, PressWork.READY, facts=facts, done=total, total=total):
        remove_files_of(output)


def _ink(parts: Sequence[Part], profile: Profile) -> dict[str, Any]:
    """Return where the most ink is (``job_ink``), by the pages of a job; in a file of several, by the pages of the
    file."""
    ink: dict[str, Any] = {}
    behind = 0
    for part in parts:
        one: dict[str, Any] = job_ink(part.composition, part.pages, profile)
        if len(parts) == 1:
            return one
        place = {index: behind + part.blank + at for at, index in enumerate(part.pages)}
        over = [*ink.get("over", ()), *(place[index] for index in one["over"])]
        simulated = one["simulated"] or ink.get("simulated", False)
        if not ink or one["most"] > ink["most"]:
            ink = one | {"page": place.get(one["page"], behind)}
        ink |= {"over": over, "simulated": simulated}
        behind += part.blank + len(part.pages)
    return ink


def _numbers(parts: Sequence[Part]) -> Iterable[int]:
    """Return the numbers of the pages of a file: those of the job, or continuous for several jobs."""
    if len(parts) == 1:
        return (index + 1 for index in parts[0].pages)
    return range(1, sum(len(part.pages) + part.blank for part in parts) + 1)


def remove_files_of(output: FileWork) -> None:
    """Remove the files of an output."""
    for place in output.places:
        store.remove(place)


for _kind in (Output, PublicationOutput, MergeOutput, MergeChunk):
    work.LEFT[_kind] = remove_files_of


@receiver(post_delete, sender=Output)
@receiver(post_delete, sender=PublicationOutput)
@receiver(post_delete, sender=MergeOutput)
@receiver(post_delete, sender=MergeChunk)
def remove_files(instance: FileWork, **_: Any) -> None:
    """The files of an output go with it, and so with its job."""
    places = instance.places  # its key, of which they are made, is gone when the transaction ends

    def remove() -> None:
        for place in places:
            store.remove(place)

    transaction.on_commit(remove)
