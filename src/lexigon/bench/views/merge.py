"""Merge: the records of a job as a table, a verdict for each, and the piece with the selected record."""

from __future__ import annotations

from typing import Any

from django.http import FileResponse, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from lexigon.bench.forms import (
    AdjustForm,
    CellsForm,
    ComputedForm,
    FitForm,
    IntentsForm,
    MergeExportForm,
    NewSetForm,
    RowsForm,
    parse_request,
)
from lexigon.bench.models import Job, MergeOutput, Role
from lexigon.bench.services import merge_outputs, merging, outputs
from lexigon.bench.services.jobs import OpenJob, create_job, opened
from lexigon.bench.views.press import file_response, output_row, proofed
from lexigon.bench.views.shared import answers_json, job_view, job_view_for, whole
from lexigon.core.check.findings import count_at_once
from lexigon.core.document.model import TEXT_PROPERTIES
from lexigon.core.editing.intents import ChangeRecordSet, intent_from_plain
from lexigon.core.fileformat.package import files_used
from lexigon.core.lengths import parse
from lexigon.core.merge.applying import PAGE_WORDS, WORDS, bound_fields, is_bound
from lexigon.core.merge.expressions import read_expression
from lexigon.core.merge.merged_job import merged_job
from lexigon.core.merge.model import LARGEST, RecordError, Records
from lexigon.core.merge.readers.delimited import SEPARATORS
from lexigon.core.merge.readers.encodings import ENCODINGS
from lexigon.core.merge.reading import read_records
from lexigon.core.press.recipes import RECIPES
from lexigon.core.press.sheets import SHEETS, SheetLayout

PAST = 6
"""Earlier exports that are listed."""
MOST_SECONDS = 20.0
"""Seconds in which all records are checked before text is fitted for all of them."""
MOST_ROWS = 400
"""Rows of the table in one answer."""


@job_view
def merge(request: HttpRequest, job: Job) -> HttpResponse:
    with opened(job.pk) as live:
        composition = live.workspace.composition
        context = {
            "job": job,
            "pages": len(live.job.pages),
            "waiting": count_at_once(composition),
            "recipes": [(one, one.describe(live.job.brief.unit)) for one in RECIPES.values() if one.kind != "archive"],
            "sheets": [(key, name) for key, (name, _, _) in SHEETS.items()],
        }
        state = _state(live) | {"key": job.pk, "separators": SEPARATORS, "encodings": list(ENCODINGS)}
        state["largest"] = LARGEST
    past = MergeOutput.objects.filter(job=job).exclude(state=MergeOutput.STOPPED)[:PAST]
    context["state"] = state | {"outputs": [_output(job, one) for one in past]}
    return render(request, "bench/merge.html", context)


def _state(live: OpenJob) -> dict[str, Any]:
    used = sorted({name for name, _ in bound_fields(live.job)}, key=str.casefold)
    return {"sets": merging.describe_sets(live.job), "bound": is_bound(live.job), "used": used}


@job_view
@answers_json
def rows(request: HttpRequest, job: Job) -> HttpResponse:
    """Rows of the table, searched, sorted and filtered."""
    get = request.GET
    filter_by = get.get("show", "all")
    query = merging.TableQuery(
        get.get("search", "")[:200],
        get.get("sort", "")[:80],
        get.get("descending") == "1",
        filter_by if filter_by in ("ready", "warning", "error", "off") else "all",  # type: ignore[arg-type]
        max(whole(get.get("start")), 0),
        min(max(whole(get.get("count"), 100), 1), MOST_ROWS),
    )
    with opened(job.pk) as live:
        own = merging.live_merge(live, get.get("set", ""))
    with own.lock:
        return JsonResponse(merging.table(own, query))


@job_view
@answers_json
def verdicts(request: HttpRequest, job: Job) -> HttpResponse:
    """The verdicts known after some more records were checked; ``done`` says that all were."""
    with opened(job.pk) as live:
        own = merging.live_merge(live, request.GET.get("set", ""))
    with own.lock:
        own.check_some()
        since = max(whole(request.GET.get("since")), 0) if request.GET.get("revision") == str(own.revision) else 0
        count, total = len(own.verdicts), len(own.merger.numbers())
        done = count >= total
        own_extremes, fits = (merging.extremes(own), merging.fit_offers(own)) if done else (None, [])
        return JsonResponse(
            {
                "verdicts": merging.verdict_rows(own, since),
                "since": since,
                "count": count,
                "total": total,
                "revision": own.revision,
                "done": done,
                "extremes": own_extremes,
                "fits": fits,
            }
        )


@job_view
@answers_json
def piece(request: HttpRequest, job: Job) -> HttpResponse:
    """The piece with a record: its pages as drawings."""
    with opened(job.pk) as live:
        own = merging.live_merge(live, request.GET.get("set", ""))
    with own.lock:
        return JsonResponse(merging.piece(own, job.pk, whole(request.GET.get("record"))))


@job_view
@answers_json
def fields(request: HttpRequest, job: Job) -> HttpResponse:
    """The record sets, what is bound to their fields, and the values of one record, for the board."""
    with opened(job.pk) as live:
        answer = _state(live) | {"bindings": merging.describe_bindings(live.job)}
        answer |= {"properties": WORDS, "page_properties": PAGE_WORDS, "text_properties": TEXT_PROPERTIES}
        key = request.GET.get("set", "")
        if key not in live.job.record_sets:
            key = next(iter(live.job.record_sets), "")
        answer |= {"set": key, "record": {}, "numbers": [], "revision": live.revision}
        if not key:
            return JsonResponse(answer)
        own = merging.live_merge(live, key)
    with own.lock:
        numbers = own.merger.numbers()
        number = whole(request.GET.get("record"), -1)
        if number not in numbers:
            number = numbers[0] if numbers else -1
        record = own.merger.record(number) if numbers else {}
        answer["adjustments"] = merging.adjustments_of(own.merger, number, record) if numbers else []
        return JsonResponse(answer | {"numbers": numbers, "number": number, "record": record})


def _read(request: HttpRequest, language: str) -> tuple[bytes, dict[str, Any]]:
    """The file, or the pasted text, of a request, and what it says of how to read it. Raises RecordError."""
    upload, pasted = request.FILES.get("file"), request.POST.get("text", "")
    if upload is not None and upload.size and upload.size > LARGEST:
        raise RecordError(
            f"“{upload.name}” has {upload.size / 1e6:.0f} MB; a file of records has at most {LARGEST // 10**6} MB. "
            "Split it into several files."
        )
    data = upload.read() if upload is not None else pasted.encode()
    if not data.strip():
        raise RecordError("Select a file of records, or paste records, first.")
    post = request.POST
    header = {"yes": True, "no": False}.get(post.get("header", ""))
    settings = {"separator": post.get("separator", "")[:3], "encoding": post.get("encoding", "")[:40]}
    settings = {**settings, "sheet": post.get("sheet", "")[:200], "cells": post.get("cells", "")[:40]}
    return data, {**settings, "header": header, "language": language}


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def look(request: HttpRequest, job: Job) -> HttpResponse:
    """Return how a file of records is read, before it is imported, and what changes in a set that it replaces."""
    with opened(job.pk) as live:
        data, settings = _read(request, live.job.brief.language)
        result = merging.recognised(data, **settings)
        if key := request.POST.get("set", ""):
            records = read_records(data, **settings)[0]
            result["reload"] = merging.describe_reload(merging.reload_of(live, key, records))
        return JsonResponse(result)


@require_POST
@job_view
@answers_json
def import_records(request: HttpRequest, job: Job) -> HttpResponse:
    """Import records as a new set, or in the place of those of one."""
    with opened(job.pk) as live:
        data, settings = _read(request, live.job.brief.language)
        records: Records = read_records(data, **settings)[0]
        source = request.POST.get("source", "")[:200]
        intent = merging.import_intent(
            live, records, request.POST.get("name", "")[:80], source, request.POST.get("set", "")
        )
        live.do([intent], request.user)
        return JsonResponse(_state(live) | {"set": request.POST.get("set") or list(live.job.record_sets)[-1]})


@require_POST
@job_view
@answers_json
def new_set(request: HttpRequest, job: Job) -> HttpResponse:
    """Add an empty record set, to be typed here."""
    form = parse_request(request, NewSetForm)
    with opened(job.pk) as live:
        records = merging.typed_records(form.fields)
        live.do([merging.import_intent(live, records, form.name, "")], request.user)
        key = list(live.job.record_sets)[-1]
        live.do([merging.rows_intent(live, key, add=1)], request.user)
        return JsonResponse(_state(live) | {"set": key})


@require_POST
@job_view
@answers_json
def cells(request: HttpRequest, job: Job) -> HttpResponse:
    """Change values of records, or switch records off and on."""
    form = parse_request(request, CellsForm)
    with opened(job.pk) as live:
        merging.change_records(live, request.user, lambda: merging.change_intent(live, form.set, form.changes))
        return JsonResponse(_state(live))


@require_POST
@job_view
@answers_json
def change_rows(request: HttpRequest, job: Job) -> HttpResponse:
    """Add records, or delete some."""
    form = parse_request(request, RowsForm)
    with opened(job.pk) as live:
        merging.change_records(
            live,
            request.user,
            lambda: merging.rows_intent(live, form.set, add=form.add, remove=form.remove),
        )
        return JsonResponse(_state(live))


@require_POST
@job_view
@answers_json
def computed(request: HttpRequest, job: Job) -> HttpResponse:
    """Change the computed fields of a record set; an expression that cannot be read is refused with the reason."""
    form = parse_request(request, ComputedForm)
    with opened(job.pk) as live:
        own = merging.records_of(live.job, form.set)
        names = list(own.fields)
        for one in form.computed:
            try:
                read_expression(one.expression, names)
            except RecordError as error:
                raise RecordError(f"“{one.name}”: {error}") from error
            names.append(one.name)
        live.do([ChangeRecordSet(own.id, computed=form.computed)], request.user)
        return JsonResponse(_state(live))


@require_POST
@job_view
@answers_json
def adjust(request: HttpRequest, job: Job) -> HttpResponse:
    """Change an object for one record alone."""
    form = parse_request(request, AdjustForm)
    with opened(job.pk) as live:
        own, unit = merging.live_merge(live, form.set), live.job.brief.unit
    with own.lock:
        intent = merging.adjust_intent(own, unit, form)
    with opened(job.pk) as live:
        live.do([intent], request.user)
        return JsonResponse(_state(live))


@job_view
@answers_json
def words(request: HttpRequest, job: Job) -> HttpResponse:
    """The words of a story as a record sets them."""
    with opened(job.pk) as live:
        own = merging.live_merge(live, request.GET.get("set", ""))
    with own.lock:
        number = whole(request.GET.get("record"), -1)
        return JsonResponse(merging.words_of(own, number, request.GET.get("story", "")))


@require_POST
@job_view
@answers_json
def fit(request: HttpRequest, job: Job) -> HttpResponse:
    """Make text fit with all records: in one size, or smaller where it is needed."""
    form = parse_request(request, FitForm)
    with opened(job.pk) as live:
        own = merging.live_merge(live, form.set)
    with own.lock:  # the job is free for others meanwhile
        own.check_some(seconds=MOST_SECONDS)
        intents = merging.fit_all(own, form.story, form.way)
    with opened(job.pk) as live:
        live.do(intents, request.user, base=own.revision)
        return JsonResponse(_state(live))


@require_POST
@job_view
@answers_json
def change(request: HttpRequest, job: Job) -> HttpResponse:
    """Change record sets, bindings and adjustments: intents, as the board sends them."""
    form = parse_request(request, IntentsForm)
    with opened(job.pk) as live:
        live.do([intent_from_plain(one) for one in form.intents], request.user)
        return JsonResponse(_state(live))


# Output


def _output(job: Job, output: MergeOutput) -> dict[str, Any]:
    unit = job.brief.get("unit", "mm")
    row = output_row(output, [job.pk], output.revision != job.revision, unit, "merge")
    if output.state == MergeOutput.WAITING and output.done:
        row["state"] = MergeOutput.RUNNING  # it waits for its chunks
    return row | {"form": output.form, "records": len(output.numbers)}


@job_view
@answers_json
def sheet(request: HttpRequest, job: Job) -> HttpResponse:
    """How many pieces are on a sheet of a size (``sheet``) with a ``gap`` between them, in words."""
    with opened(job.pk) as live:
        gap = parse(request.GET.get("gap", "") or "0", live.job.brief.unit, minimum=0)
        layout = SheetLayout(request.GET.get("sheet", "A4"), gap)
        return JsonResponse({"words": merge_outputs.sheet_words(live.job, layout)})


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def start(request: HttpRequest, job: Job) -> HttpResponse:
    """Export a merge."""
    form = parse_request(request, MergeExportForm)
    with opened(job.pk) as live:
        job.refresh_from_db()
        own = merging.records_of(live.job, form.set)
        numbers = _selected(live, form, own.count)
        gap = parse(form.gap or "0", live.job.brief.unit, minimum=0)
        layout = {"sheet": form.sheet, "gap": gap, "order": form.order, "flip": form.flip, "marks": form.marks}
        output = merge_outputs.start(
            live,
            job,
            form.set,
            name=form.recipe,
            form=form.form,
            numbers=numbers,
            template=form.name,
            layout=layout,
            user=request.user,
        )
    return JsonResponse(_output(job, output))


@require_POST
@job_view
@answers_json
def as_job(request: HttpRequest, job: Job) -> HttpResponse:
    """Make a new job of the pages of all records, to be edited by hand; the answer has its address."""
    form = parse_request(request, MergeExportForm)
    with opened(job.pk) as live:
        own, files, name = merging.live_merge(live, form.set), live.files, f"{live.job.name}, merged"
        numbers = _selected(live, form, own.records.count)
    with own.lock:
        on = own.merger.numbers()
        among = set(on if numbers is None else numbers)
        merged = merged_job(own.merger, [one for one in on if one in among], name)
    row = create_job(request.user, merged, set(files_used(merged)) - files.missing(files_used(merged)))
    return JsonResponse({"board": reverse("board", args=[row.pk]), "name": row.name})


def _selected(live: OpenJob, form: MergeExportForm, count: int) -> list[int] | None:
    """The numbers of the records to be exported; None for all."""
    if form.changed:
        return merge_outputs.changed_numbers(live, form.set)
    return list(form.numbers) if form.numbers is not None else merge_outputs.numbers_of(form.records, count)


@job_view
def status(request: HttpRequest, job: Job, pk: int) -> HttpResponse:
    return JsonResponse(_output(job, get_object_or_404(MergeOutput, pk=pk, job=job)))


@require_POST
@job_view_for(Role.VIEW)
def stop(request: HttpRequest, job: Job, pk: int) -> HttpResponse:
    outputs.stop(get_object_or_404(MergeOutput, pk=pk, job=job))
    return JsonResponse({"state": MergeOutput.STOPPED})


def _ready(job: Job, pk: int) -> MergeOutput:
    return get_object_or_404(MergeOutput, pk=pk, job=job, state=MergeOutput.READY)


@job_view
def download(request: HttpRequest, job: Job, pk: int) -> FileResponse:
    return file_response(_ready(job, pk), job.name)


@job_view
def proof(request: HttpRequest, job: Job, pk: int, index: int) -> HttpResponse:
    return proofed(_ready(job, pk), index)
