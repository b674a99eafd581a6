"""The files of merges, made in the background: one PDF, a file for each record, or sheets. Those of many records are
made in chunks (``merge_chunks``)."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Any

from django_tasks import task

from lexigon.bench.models import Job, MergeOutput, PressWork
from lexigon.bench.services import merge_chunks, outputs, rows, store, work
from lexigon.bench.services.jobs import OpenJob
from lexigon.bench.services.merging import records_of
from lexigon.core.document import model
from lexigon.core.document.page_ranges import page_range
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import plain, read
from lexigon.core.forks import processes_available
from lexigon.core.lengths import show
from lexigon.core.merge.merger import Merger
from lexigon.core.merge.model import RecordError
from lexigon.core.merge.output import file_names, join_chunks, pieces_recipe, write_merged, write_sheets
from lexigon.core.merge.storage import RecordRows
from lexigon.core.merge.templates import read_template
from lexigon.core.plural import counted
from lexigon.core.press.facts import combined_facts, pdf_facts
from lexigon.core.press.recipes import pdf_recipe, recipe
from lexigon.core.press.sheets import SheetLayout, gang, grid_of

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
    among = set(on if numbers is None else numbers)
    selected = [number for number in on if number in among]
    if not selected:
        raise RecordError("There are no records to export: all of those are switched off.")
    if form == "each":
        read_template(template or "{record}", [*own.names, "record"])
    if chosen.paged and form != "each":
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


def sheet_words(job: model.Job, layout: SheetLayout) -> str:
    """Return how many pieces are on a sheet, and whether bleed between them is cut off. Raises LexigonError if none
    fits."""
    grid, brief = grid_of(layout, *job.page_size(0)), job.brief
    side = "landscape" if grid.width > grid.height else "upright"
    words = f"{counted(grid.count, 'piece')} on a sheet, {grid.columns} × {grid.rows}, {side}."
    least = brief.bleed.inner + brief.bleed.outer, brief.bleed.head + brief.bleed.foot
    needed = max((gap for gap, many in zip(least, (grid.columns, grid.rows), strict=True) if many > 1), default=0.0)
    if layout.gap < needed - 0.01:
        words += f" Bleed between pieces is cut off. Set a gap of {show(needed, brief.unit)} to print it."
    return words


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
    """Make the files of a merge, or have its chunks made. Called by the task worker with the id only."""
    outputs.run_work(MergeOutput, pk, _make)
    merge_chunks.top_up(pk)


work.KINDS[MergeOutput] = lambda pk: str(make_merge.enqueue(pk).id)


def _make(output: MergeOutput, folder: Path) -> None:
    if merge_chunks.is_chunked(output):
        paths = merge_chunks.finished(output, folder)
        if paths is None:
            return  # chunks are still to be made; the last of them puts this into the queue again
        _put_together(output, folder, paths)
    else:
        with merge_chunks.merger_of(output) as merger:
            _make_at_once(output, merger, folder)


def _make_at_once(output: MergeOutput, merger: Merger, folder: Path) -> None:
    """Make what is not made in chunks: a PDF of few records, or of pages with several records, or their sheets."""
    chosen, when = recipe(output.recipe), outputs.moment(output.job, output.revision)
    progress, processes, pdf = outputs.reporting(output), processes_available(), folder / "merge.pdf"
    if output.form == "sheets":
        layout: SheetLayout = read(SheetLayout, output.layout)
        write_sheets(merger, output.numbers, chosen, layout, pdf, when, progress, processes)
    else:
        with pdf.open("wb") as target:
            write_merged(merger, output.numbers, chosen, target, when, progress, processes)
    _end(output, pdf, pdf_facts(pdf))


def _put_together(output: MergeOutput, folder: Path, paths: Sequence[Path]) -> None:
    """Make the file of chunks that are finished."""
    chosen, when = recipe(output.recipe), outputs.moment(output.job, output.revision)
    chunks, pdf = list(output.chunks.all()), folder / "merge.pdf"
    if output.form != "each":
        name = rows.load_at(output.job.pk, output.revision).name
        ranges, parts = [range(one.first, one.last) for one in chunks], [one.facts or {} for one in chunks]
        sheets = output.form == "sheets"
        joined, own = (folder / "pieces.pdf", pieces_recipe(chosen)) if sheets else (pdf, chosen)
        with joined.open("wb") as target:
            join_chunks(paths, ranges, name, own, target, when)
        if sheets:
            gang(joined, pdf, read(SheetLayout, output.layout), [count for one in parts for count in one["pieces"]])
        _end(output, pdf, pdf_facts(pdf) if sheets else combined_facts(parts, pdf))
        return
    archive = folder / "files.zip"
    with merge_chunks.merger_of(output) as merger:
        template = read_template(output.name or "{record}", [*merger.rows.records.names, "record"])
        names = dict(file_names(merger, output.numbers, template))
        merge_chunks.pack(paths, names, chosen.suffix, archive, when)
        with pdf.open("wb") as target:
            write_merged(merger, output.numbers[:PROOFED], pdf_recipe(chosen), target, when)
    facts = pdf_facts(pdf) | {"bytes": archive.stat().st_size}
    store.put(output.place, archive)
    _end(output, pdf, facts)


def _end(output: MergeOutput, proof: Path, facts: dict[str, Any]) -> None:
    facts["records"] = total = len(output.numbers)
    store.put(output.proof, proof)
    if work.end(output, PressWork.READY, facts=facts, done=total, total=total):
        output.chunks.all().delete()
    else:
        outputs.remove_files_of(output)
