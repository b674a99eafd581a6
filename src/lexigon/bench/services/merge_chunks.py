"""Merges of many records, made in chunks: each is separate work, for any worker, and its file is stored.

The row of the merge waits meanwhile. A few of its chunks are in the queue at a time, so that other work gets its turn;
when one is finished the next is queued, and after the last the merge itself, whose worker puts the files together. A
worker that dies loses no more than the chunk that it was making.
"""

from __future__ import annotations

import zipfile
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from datetime import datetime
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import transaction
from django.db.models import Sum
from django.utils import timezone
from django_tasks import task

from lexigon.bench.models import MergeChunk, MergeOutput
from lexigon.bench.services import outputs, rows, store, work
from lexigon.bench.services.files import Files
from lexigon.bench.services.merging import records_of
from lexigon.core.errors import LexigonError
from lexigon.core.forks import processes_available
from lexigon.core.merge.merger import Merger
from lexigon.core.merge.output import chunks_of, names_of_pages, pieces_recipe, record_files, write_merged
from lexigon.core.merge.repeating import repeated_object
from lexigon.core.press.facts import pdf_facts
from lexigon.core.press.recipes import recipe
from lexigon.core.type.word_memory import forget_words

QUEUED = 8
"""Chunks of a merge that are in the queue or being made."""


def is_chunked(output: MergeOutput) -> bool:
    """Return whether a merge is made in chunks. What fills pages with several records is not: where a record is depends
    on those before it."""
    if output.form == "each":
        return True
    if len(output.numbers) <= settings.LEXIGON_CHUNK:
        return False
    return repeated_object(rows.load_at(output.job.pk, output.revision)) is None


@contextmanager
def merger_of(output: MergeOutput) -> Iterator[Merger]:
    """What shows the records of a merge, as they were when it was asked for."""
    job = rows.load_at(output.job.pk, output.revision)
    merger = Merger(job, records_of(job, output.record_set), Files(output.job.pk).path_of, outputs.day_of(output))
    try:
        yield merger
    finally:
        merger.composition.let_go()


def finished(output: MergeOutput, folder: Path) -> list[Path] | None:
    """Return the files of all chunks, or None where some are still to be made: then the merge waits for them."""
    chunks = list(output.chunks.all())
    if chunks and all(one.state == MergeChunk.READY for one in chunks):
        paths = [store.local(one.place) for one in chunks]
        if None not in paths:
            return [path for path in paths if path is not None]
        output.chunks.filter(pk__in=[one.pk for one, path in zip(chunks, paths, strict=True) if path is None]).update(
            state=MergeChunk.PLANNED, claim="", done=0
        )
    with transaction.atomic():
        waiting = MergeOutput.objects.filter(pk=output.pk, claim=output.claim, state=MergeOutput.RUNNING)
        if not waiting.update(
            state=MergeOutput.WAITING, claim="", total=len(output.numbers), lease=timezone.now() + work.PATIENCE
        ):
            raise work.Superseded
        if not chunks:
            size = settings.LEXIGON_CHUNK if output.form != "each" else max(settings.LEXIGON_CHUNK // 10, 1)
            MergeChunk.objects.bulk_create(
                MergeChunk(output=output, first=one.start, last=one.stop, total=len(one))
                for one in chunks_of(len(output.numbers), size)
            )
    return None


def top_up(pk: int) -> None:
    """Put chunks of a merge that waits for them into the queue; when all are made, the merge itself."""
    output = MergeOutput.objects.filter(pk=pk, state=MergeOutput.WAITING).first()
    if output is None or not output.chunks.exists():
        return
    while output.chunks.filter(state__in=(MergeChunk.WAITING, MergeChunk.RUNNING)).count() < QUEUED:
        following = output.chunks.filter(state=MergeChunk.PLANNED).first()
        if following is None:
            break
        # One of several that look at the same time gets to do it.
        if MergeChunk.objects.filter(pk=following.pk, state=MergeChunk.PLANNED).update(state=MergeChunk.WAITING):
            work.queue(following)
    if not output.chunks.exclude(state=MergeChunk.READY).exists():
        work.queue(output)


@task()
def make_chunk(pk: int) -> None:
    """Make the file of a chunk. Called by the task worker with the id only."""
    try:
        outputs.run_work(MergeChunk, pk, _make)
    finally:
        chunk = MergeChunk.objects.filter(pk=pk).first()
        if chunk is not None and chunk.state == MergeChunk.FAILED:
            MergeOutput.objects.filter(pk=chunk.output_id, state=MergeOutput.WAITING).update(
                state=MergeOutput.FAILED, error=chunk.error, ended=timezone.now()
            )
            MergeChunk.objects.filter(output=chunk.output_id).delete()
        elif chunk is not None:
            top_up(chunk.output_id)


work.KINDS[MergeChunk] = lambda pk: str(make_chunk.enqueue(pk).id)


def _make(chunk: MergeChunk, folder: Path) -> None:
    output = chunk.output
    chosen, when = recipe(output.recipe), outputs.moment(output.job, output.revision)
    numbers, progress = output.numbers[chunk.first : chunk.last], outputs.reporting(chunk, lambda: _count(output))
    path, facts = folder / "chunk", dict[str, Any]()
    with merger_of(output) as merger:
        if output.form != "each":
            own = pieces_recipe(chosen) if output.form == "sheets" else chosen
            with path.open("wb") as target:
                counts = write_merged(merger, numbers, own, target, when, progress, processes_available(), len(numbers))
            facts = {"pieces": counts} if output.form == "sheets" else pdf_facts(path)
        else:
            with zipfile.ZipFile(path, "w") as archive:
                for done, number in enumerate(numbers, 1):
                    for page, content in enumerate(record_files(merger, number, chosen, when)):
                        archive.writestr(f"{number}/{page}", content)
                    progress(done, len(numbers))
    forget_words()  # the worker, which gives memory back after each chunk, makes many of them
    store.put(chunk.place, path)
    if not work.end(chunk, MergeChunk.READY, facts=facts, done=len(numbers)):
        outputs.remove_files_of(chunk)


def _count(output: MergeOutput) -> None:
    """Report the progress of a merge that waits for its chunks."""
    done = output.chunks.aggregate(done=Sum("done"))["done"] or 0
    MergeOutput.objects.filter(pk=output.pk, state=MergeOutput.WAITING).update(done=done)


def pack(paths: Sequence[Path], names: Mapping[int, str], suffix: str, target: Path, when: datetime) -> None:
    """Write the files of all records, by the numbers of the records in the archives of the chunks, as one archive with
    their names. Raises LexigonError if one of the files is damaged."""
    with zipfile.ZipFile(target, "w") as archive:
        for path in paths:
            try:
                with zipfile.ZipFile(path) as chunk:
                    _repack(chunk, names, suffix, archive, when)
            except zipfile.BadZipFile as error:
                raise LexigonError("A finished file was damaged. Export again.") from error


def _repack(
    chunk: zipfile.ZipFile, names: Mapping[int, str], suffix: str, archive: zipfile.ZipFile, when: datetime
) -> None:
    pages: dict[int, list[str]] = {}
    for name in chunk.namelist():
        pages.setdefault(int(name.partition("/")[0]), []).append(name)
    for number, members in pages.items():
        for member, name in zip(members, names_of_pages(names[number], len(members), suffix), strict=True):
            info = zipfile.ZipInfo(name, when.timetuple()[:6])
            info.external_attr = 0o644 << 16
            archive.writestr(info, chunk.read(member))
