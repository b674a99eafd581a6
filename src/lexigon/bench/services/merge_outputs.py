"""The files of merges, made in the background: one PDF, a file for each record, or sheets.

A file for each record is stored as soon as it is finished, so a worker that takes over from one that died makes only
those that are missing.
"""

from __future__ import annotations

import zipfile
from collections.abc import Sequence
from datetime import datetime
from pathlib import Path
from tempfile import NamedTemporaryFile
from typing import Any

from django_tasks import task

from lexigon.bench.models import Job, MergeOutput, PressWork
from lexigon.bench.services import outputs, rows, store, work
from lexigon.bench.services.files import Files
from lexigon.bench.services.jobs import OpenJob
from lexigon.bench.services.merging import records_of
from lexigon.core.document import model
from lexigon.core.document.page_ranges import page_range
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import plain, read
from lexigon.core.forks import processes_available
from lexigon.core.merge.merger import Merger
from lexigon.core.merge.model import RecordError
from lexigon.core.merge.output import file_names, write_merged, write_record, write_sheets
from lexigon.core.merge.storage import RecordRows
from lexigon.core.merge.templates import read_template
from lexigon.core.press.facts import pdf_facts
from lexigon.core.press.images import png_pages
from lexigon.core.press.recipes import Recipe, recipe
from lexigon.core.press.sheets import SheetLayout, grid_of

PROOFED = 20
"""Records in the proof of a merge with a file for each."""


def start(
    live: OpenJob,
    job: Job,
    record_set: str,
    *,
    name: str,
    form: str,
    numbers: Sequence[int] | None,
    template: str,
    layout: dict[str, Any],
    user: Any,
) -> MergeOutput:
    """Put a merge in the queue: of some records by their numbers, by default all that are switched on. Raises
    LexigonError if something about it is wrong."""
    own, chosen = records_of(live.job, record_set), recipe(name)
    data = RecordRows(own, live.files.path_of)
    on = [number for number, row in enumerate(data) if row.on]
    selected = [number for number in on if numbers is None or number in set(numbers)]
    if not selected:
        raise RecordError("There are no records to export: all of those are switched off.")
    if form == "each":
        read_template(template or "{record}", [*own.names, "record"])
    if chosen.kind == "png" and form != "each":
        raise LexigonError("Page images are exported as a file for each record.")
    if form == "sheets":
        grid_of(read(SheetLayout, layout), *live.job.page_size(0))
    output = MergeOutput.objects.create(
        job=job,
        recipe=name,
        revision=live.revision,
        record_set=own.id,
        numbers=selected,
        form=form,
        name=template,
        layout=layout,
        total=len(selected),
        by=user,
    )
    work.queue(output)
    output.refresh_from_db()
    return output


def changed_numbers(live: OpenJob, record_set: str) -> list[int]:
    """Return the numbers of the records that are not what they were at the last finished export of their set: new ones,
    those with other values or adjustments; all where the design has changed since. Raises RecordError if there was no
    export, or nothing has changed."""
    own = records_of(live.job, record_set)
    last = MergeOutput.objects.filter(job=live.key, record_set=own.id, state=MergeOutput.READY).first()
    if last is None:
        raise RecordError("No export of these records is finished yet. Export all of them first.")
    then = rows.load_at(live.key, last.revision)
    former = records_of(then, own.id)
    before, now = RecordRows(former, live.files.path_of), RecordRows(own, live.files.path_of)
    if _design(then) != _design(live.job) or (former.fields, former.computed) != (own.fields, own.computed):
        return list(range(len(now)))
    earlier = {
        before.key(n, _values(before, n)): (before.row(n).values, n in set(last.numbers)) for n in range(len(before))
    }
    changed = []
    for number in range(len(now)):
        key = now.key(number, _values(now, number))
        same = earlier.get(key) == (now.row(number).values, True)
        if not same or _adjusted(then, own.id, key) != _adjusted(live.job, own.id, key):
            changed.append(number)
    if not any(now.row(number).on for number in changed):
        raise RecordError("No record has changed since the last export.")
    return changed


def _values(data: RecordRows, number: int) -> dict[str, str]:
    return dict(zip(data.records.fields, data.row(number).values, strict=True))


def _design(job: model.Job) -> dict[str, Any]:
    """A job without its records and adjustments, as JSON."""
    without = ("record_sets", "record_adjustments")
    return {name: value for name, value in plain(job).items() if name not in without}


def _adjusted(job: model.Job, record_set: str, key: str) -> list[Any]:
    return [one for one in job.record_adjustments.values() if (one.set, one.record) == (record_set, key)]


def numbers_of(text: str, count: int) -> list[int] | None:
    """Return the numbers of records (from 0) of a range such as 1-20, 35; None for all. Raises RecordError."""
    try:
        return page_range(text, count) if text.strip() else None
    except LexigonError as error:
        words = str(error).replace("page", "record").replace("The job has", "The set has")
        raise RecordError(words, "records") from error


@task()
def make_merge(pk: int) -> None:
    """Make the files of a merge. Called by the task worker with the id only."""
    outputs.run_work(MergeOutput, pk, _make)


work.KINDS[MergeOutput] = lambda pk: str(make_merge.enqueue(pk).id)


def _make(output: MergeOutput, folder: Path) -> None:
    job = rows.load_at(output.job.pk, output.revision)
    merger = Merger(job, records_of(job, output.record_set), Files(output.job.pk).path_of, outputs.day_of(output))
    try:
        _make_merged(output, merger, folder)
    finally:
        merger.composition.let_go()


def _make_merged(output: MergeOutput, merger: Merger, folder: Path) -> None:
    chosen, when = recipe(output.recipe), outputs.moment(output.job, output.revision)
    numbers, progress = list(output.numbers), outputs.reporting(output)
    proof, processes = folder / "proof.pdf", processes_available()
    if output.form == "each":
        archive = folder / "files.zip"
        _write_each(output, merger, archive, when)
        store.put(output.place, archive)
        painted = recipe("screen", links=False) if chosen.kind == "png" else chosen
        with proof.open("wb") as target:
            write_merged(merger, numbers[:PROOFED], painted, target, when)
    elif output.form == "sheets":
        layout: SheetLayout = read(SheetLayout, output.layout)
        write_sheets(merger, numbers, chosen, layout, proof, when, progress, processes)
    else:
        with proof.open("wb") as target:
            write_merged(merger, numbers, chosen, target, when, progress, processes)
    facts: dict[str, Any] = pdf_facts(proof)
    if output.form == "each":
        facts["bytes"] = (folder / "files.zip").stat().st_size
    facts["records"] = len(numbers)
    store.put(output.proof, proof)
    if not work.end(output, PressWork.READY, facts=facts, done=1, total=1):
        outputs.remove_files_of(output)
    for number in numbers if output.form == "each" else ():
        store.remove(output.part(number))


def _write_each(output: MergeOutput, merger: Merger, archive: Path, when: datetime) -> None:
    """Write the files of each record to a zip archive; those that were finished before are taken as they are."""
    chosen, progress = recipe(output.recipe), outputs.reporting(output)
    template = read_template(output.name or "{record}", [*merger.rows.records.names, "record"])
    numbers, date = list(output.numbers), when.timetuple()[:6]
    with zipfile.ZipFile(archive, "w") as target:
        for done, (number, name) in enumerate(file_names(merger, numbers, template, ""), 1):
            place = output.part(number)
            if not store.exists(place):
                store.put(place, _file_of(merger, number, chosen, when))
            path = store.local(place)
            if path is None:
                raise LexigonError("A finished file was lost. Export again.")
            suffix = ".zip" if chosen.kind == "png" else ".pdf"
            for part_name, content in _contents(path, name, suffix):
                info = zipfile.ZipInfo(part_name, date)
                info.external_attr = 0o644 << 16
                target.writestr(info, content)
            progress(done, len(numbers))


def _contents(path: Path, name: str, suffix: str) -> list[tuple[str, bytes]]:
    """The files of one record by name: its PDF, or its page images, which are stored as an archive."""
    if suffix == ".pdf":
        return [(name + suffix, path.read_bytes())]
    with zipfile.ZipFile(path) as images:
        names = images.namelist()
        return [(f"{name}.png" if len(names) == 1 else f"{name}-{one}.png", images.read(one)) for one in names]


def _file_of(merger: Merger, number: int, chosen: Recipe, when: datetime) -> bytes:
    """The PDF of a record; for page images an archive of them, named by the numbers of the pages."""
    with NamedTemporaryFile(suffix=".pdf") as pdf:
        painted = recipe("screen", links=False) if chosen.kind == "png" else chosen
        write_record(merger, number, painted, pdf, when)
        pdf.flush()
        if chosen.kind != "png":
            return Path(pdf.name).read_bytes()
        with NamedTemporaryFile(suffix=".zip") as packed:
            with zipfile.ZipFile(packed, "w") as images:
                for page, data in enumerate(png_pages(pdf.name, chosen.ppi), 1):
                    images.writestr(zipfile.ZipInfo(str(page)), data)
            packed.flush()
            return Path(packed.name).read_bytes()
