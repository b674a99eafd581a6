"""The Board: the spread, and the one address through which a job is edited."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from time import monotonic
from typing import Any

from django.http import HttpRequest, HttpResponse, HttpResponseBase, JsonResponse
from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_POST

from lexigon.bench.forms import (
    ChangeForm,
    CopyForm,
    EditsForm,
    GoBackForm,
    NameForm,
    PasteForm,
    SlipsForm,
    parse_request,
)
from lexigon.bench.models import Edit, Job, Role
from lexigon.bench.services import changes, manuscripts, mixing, showing, slips, spreads
from lexigon.bench.services.adjusting import adjusting_intents, job_with
from lexigon.bench.services.answers import answer_step
from lexigon.bench.services.following import is_due
from lexigon.bench.services.jobs import OpenJob, opened
from lexigon.bench.services.log import logged
from lexigon.bench.services.sharing import role_in
from lexigon.bench.services.tables import about_table, copied_cells, table_of
from lexigon.bench.views.shared import answer_edit, answers_json, job_view, job_view_for, person, proof_of, whole
from lexigon.core.check.findings import count_at_once
from lexigon.core.colour.profiles import PROFILES
from lexigon.core.document.cell_stories import cell_key
from lexigon.core.document.code_messages import PARTS
from lexigon.core.document.model import OBJECT
from lexigon.core.document.model import Job as ModelJob
from lexigon.core.document.model.codes import SYMBOLOGIES
from lexigon.core.document.spreads import spreads_from
from lexigon.core.document.story_text import between
from lexigon.core.editing.intents import Cells, Place, intent_from_plain, locate
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.fields import DATE_FORMS, written_date
from lexigon.core.manuscript.readers.cell_files import Choice, cells_in
from lexigon.core.manuscript.richtext import carried, from_html, to_html
from lexigon.core.tables.grid import cell_at
from lexigon.core.tables.links import refreshed


def _spreads(request: HttpRequest) -> int:
    """Return how many spreads are shown: as in the query, or in the cookie in which the board stores it for the job."""
    spread_count = request.GET.get("spreads") or request.COOKIES.get("lexigon-spreads")
    return 2 if spread_count == "2" else 1


@job_view
def board(request: HttpRequest, job: Job) -> HttpResponse:
    with opened(job.pk) as live:
        index = min(max(whole(request.GET.get("page"), 1), 1), len(live.job.pages)) - 1
        master = request.GET.get("master", "")
        view = spreads_from(live.job, index, _spreads(request))
        if master in live.job.masters:
            view = [-2, -1] if live.job.brief.facing else [-1]
        record = request.GET.get("record", "")[:80] if view[0] >= 0 else ""
        pages = spreads.painted(live, view, None, master, proof=proof_of(request), record=record)
        data = {
            "key": job.pk,
            "role": role_in(job, request.user),
            "view": view,
            "sheet": spreads.sheet(live.job),
            "pages": pages,
            "record": next((page.get("record", "") for page in pages.values()), ""),
            **spreads.state(live, request.user),
            **spreads.lists(live),
            "proofs": [{"id": one.id, "name": one.name} for one in PROFILES.values()],
            "master": master if view[0] < 0 else "",
            "dates": [
                [form, written_date(live.workspace.composition.today, form, live.job.brief.language)]
                for form in DATE_FORMS
            ],
            "versions": _versions(job),
            "messages": [
                {"kind": kind, "word": word, "parts": [asdict(part) for part in parts]}
                for kind, (word, parts) in PARTS.items()
            ],
            "codes": [
                {
                    "form": form,
                    "told": kind.description,
                    "example": kind.example,
                    "size": kind.size,
                    "message": kind.message,
                    "digits": kind.digits,
                    "addon": kind.addon,
                }
                for form, kind in SYMBOLOGIES.items()
            ],
            "main": live.job.main_story,
            "others": [{"key": row.pk, "name": row.name} for row in Job.objects.of(request.user).exclude(pk=job.pk)],
        }
        context = {
            "job": job,
            "data": data,
            "pages": len(live.job.pages),
            "waiting": count_at_once(live.workspace.composition),
            "due": is_due(live, request.user),
        }
    return render(request, "bench/board.html", context)


@job_view
@answers_json
def pages(request: HttpRequest, job: Job) -> HttpResponse:
    """The spread that holds page ``page`` (an index), painted; with ``story`` and ``p`` the one a place is on, with
    ``table``, ``row`` and ``column`` that of a cell. With ``whole`` the lists to choose from and the set-up come
    along."""
    with opened(job.pk) as live:
        index = whole(request.GET.get("page"))
        more = {"lists": spreads.lists(live), "sheet": spreads.sheet(live.job)} if request.GET.get("whole") else {}
        if index < 0:
            master = request.GET.get("master", "")
            view = [-2, -1] if live.job.brief.facing else [-1]
            return JsonResponse(
                {
                    "view": view,
                    "pages": spreads.painted(live, view, None, master, proof=proof_of(request)),
                    "caret": None,
                    **spreads.state(live, request.user),
                    **more,
                }
            )
        story_id = request.GET.get("story") or _cell_named(live.job, request)
        if story_id:
            place = Place(request.GET.get("p", "^"), whole(request.GET.get("offset")))
            story, ((at, offset),) = locate(live.job, story_id, place)
            caret = showing.caret(live, story.id, story.paragraphs[at].id, offset)
            index = caret["page"] if caret["page"] is not None else index
        else:
            caret = None
        view = spreads_from(live.job, min(max(index, 0), len(live.job.pages) - 1), _spreads(request))
        record = request.GET.get("record", "")[:80]
        return JsonResponse(
            {
                "view": view,
                "pages": spreads.painted(live, view, proof=proof_of(request), record=record),
                "caret": caret,
                **spreads.state(live, request.user),
                **more,
            }
        )


@job_view
def region(request: HttpRequest, job: Job, page: str, region: str) -> HttpResponse:
    """A region of a page in which something is blended, as it prints. One that looks different by now is answered with
    nothing: the board asks for its successor by another address."""
    with opened(job.pk) as live:
        region_, find = mixing.region_of(live, page, region), live.files.path_of
    if region_ is None:
        return HttpResponse(status=204)
    data = mixing.region_webp(region_, PROFILES.get(request.GET.get("proof", "")), find)
    response = HttpResponse(data, content_type="image/webp")
    response["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


AROUND = 20
"""Paragraphs before and after a place whose words are sent along."""


@job_view
@answers_json
def words(request: HttpRequest, job: Job) -> HttpResponse:
    """The words of a story around a place (``p``), as they are typed: see ``spreads.words_on``."""
    with opened(job.pk) as live:
        story, ((at, _),) = locate(live.job, request.GET.get("story", ""), Place(request.GET.get("p", "^"), 0))
        around = story.paragraphs[max(at - AROUND, 0) : at + AROUND + 1]
        (stretch,) = spreads.stretches(live.job, story.id, {p.id for p in around})
        return JsonResponse(stretch | {"revision": live.revision})


def _cell_named(job: ModelJob, request: HttpRequest) -> str:
    """The text of the cell that is asked for by its place in its table; "" where there is none."""
    table = job.tables.get(request.GET.get("table", ""))
    cell = cell_at(table, whole(request.GET.get("row")), whole(request.GET.get("column"))) if table else None
    return cell_key(table.id, cell.row, cell.number) if table and cell else ""


@require_POST
@job_view
@answers_json
def edits(request: HttpRequest, job: Job) -> HttpResponse:
    """Carry out intents made on revision ``base``; answer with what the client's view looks like now."""
    form = parse_request(request, EditsForm)
    intents = [intent_from_plain(intent) for intent in form.intents]
    with opened(job.pk) as live:
        if form.record:
            return answer_edit(live, request, form, lambda: adjusting_intents(live, form.record, intents))
        return answer_edit(live, request, form, lambda: intents)


def _step(request: HttpRequest, job: Job, name: str) -> HttpResponse:
    form = parse_request(request, ChangeForm)
    with opened(job.pk) as live:
        change = getattr(live, name)(request.user, form.view)
        return JsonResponse(answer_step(live, request.user, form, change, proof_of(request)))


@require_POST
@job_view
@answers_json
def undo(request: HttpRequest, job: Job) -> HttpResponse:
    return _step(request, job, "undo")


@require_POST
@job_view
@answers_json
def redo(request: HttpRequest, job: Job) -> HttpResponse:
    return _step(request, job, "redo")


@job_view
def history(request: HttpRequest, job: Job) -> HttpResponse:
    """The changes made, newest first; a stretch of typing is one line."""
    rows: list[dict[str, Any]] = []
    group = ""
    for row in Edit.objects.filter(job=job, kind="do").exclude(state=Edit.DROPPED).order_by("-revision")[:400]:
        if row.group and row.group == group:
            continue
        group = row.group
        rows.append(
            {
                "label": row.label,
                "where": row.where,
                "at": row.at.isoformat(),
                "undone": row.state == Edit.UNDONE,
                "revision": row.revision,
            }
        )
    return JsonResponse({"rows": rows[:100], "versions": _versions(job)})


@job_view
@answers_json
def touched(request: HttpRequest, job: Job) -> HttpResponse:
    """Return what the change at ``revision`` touched of what is still there: a page's index, frames, paragraphs by
    story."""
    row = get_object_or_404(Edit, job=job, revision=whole(request.GET.get("revision")))
    with opened(job.pk) as live:
        return JsonResponse(changes.additions(live.workspace.composition, logged(row.edits, row.form)))


def _versions(job: Job) -> list[dict[str, Any]]:
    return [
        {"id": v.pk, "name": v.name, "revision": v.revision, "at": v.at.isoformat()} for v in job.versions.all()[:50]
    ]


@require_POST
@job_view
@answers_json
def go_back(request: HttpRequest, job: Job) -> HttpResponse:
    """Make the job what it was at a revision, or at a version of that name: one change that can be undone."""
    form = parse_request(request, GoBackForm)
    with opened(job.pk) as live:
        if not 0 <= form.revision <= live.revision:
            raise LexigonError("The job has no such earlier state.")
        version = job.versions.filter(revision=form.revision).first()
        change = live.go_back(
            form.revision, f"Return to “{version.name}”" if version else "Return to an earlier state", request.user
        )
        if change is None:
            raise LexigonError("The job is already in that state.")
        view = showing.view_for(live, list(form.view), spreads=form.spreads)
        answer = {
            **spreads.state(live, request.user),
            "view": view,
            "pages": spreads.painted(live, view, proof=proof_of(request)),
            "sheet": spreads.sheet(live.job),
            "lists": spreads.lists(live),
        }
    return JsonResponse(answer)


@require_POST
@job_view
@answers_json
def keep_version(request: HttpRequest, job: Job) -> HttpResponseBase:
    """Keep the job as it is now under a name, to go back to."""
    name = " ".join(parse_request(request, NameForm).name.split())[:80]
    if not name:
        raise LexigonError("Type a name for the version.", "version")
    with opened(job.pk) as live:
        if job.versions.filter(name=name).exists():
            raise LexigonError(f"There is a version “{name}” already.", "version")
        job.versions.create(name=name, revision=live.revision, by=person(request))
    return history(request, key=job.pk)


@require_POST
@job_view
@answers_json
def drop_version(request: HttpRequest, job: Job, pk: int) -> HttpResponseBase:
    """Forget a version's name; the job and its history stay as they are. It is for who saved it, and for the job's
    owner."""
    version = get_object_or_404(job.versions, pk=pk)
    if request.user.pk != version.by_id and role_in(job, request.user) != Role.OWN:
        raise LexigonError("Only the person who saved a version, or an owner of the job, can delete it.")
    version.delete()
    return history(request, key=job.pk)


@job_view
@answers_json
def context(request: HttpRequest, job: Job) -> HttpResponse:
    """Return what the slip shows for the selection in the query."""
    with opened(job.pk) as live:
        return JsonResponse(_slip(live, request.GET, request.GET.get("master", "")))


SLIPS_TIME = 0.08
"""Seconds of work on slips that nobody has asked to see yet, in one request."""


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def slips_ahead(request: HttpRequest, job: Job) -> HttpResponse:
    """Return what the slip would show for selections that are likely next: as many of them as are quickly worked out,
    at least one."""
    form = parse_request(request, SlipsForm)
    answers: list[dict[str, Any]] = []
    with opened(job.pk) as live:
        end = monotonic() + SLIPS_TIME
        for query in form.queries:
            answers.append(_slip(live, query, form.master))
            if monotonic() > end:
                break
    return JsonResponse({"slips": answers})


def _slip(live: OpenJob, query: Mapping[str, Any], master: str) -> dict[str, Any]:
    """Return the slip for a selection: page, frame, words and cells, as strings or numbers."""
    first = Place(str(query["p"]), whole(query.get("offset"))) if query.get("p") else None
    last = Place(str(query["p2"]), whole(query.get("offset2"))) if query.get("p2") else None
    frame, story = str(query.get("frame") or ""), str(query.get("story") or "")
    with job_with(live, str(query.get("record") or "")[:80]) as (view, _):
        return slips.slip(view, whole(query.get("page")), frame, story, first, last, master, _cells_in(query))


def _cells_in(get: Mapping[str, str]) -> Cells | None:
    """The cells of a table that a query names."""
    sides = (whole(get.get(side)) for side in ("top", "left", "bottom", "right"))
    return Cells(str(get["table"]), *(max(side, 0) for side in sides)) if get.get("table") else None


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def copy(request: HttpRequest, job: Job) -> HttpResponse:
    """The selected words as plain text and as HTML, however many pages they run over."""
    form = parse_request(request, CopyForm)
    with opened(job.pk) as live:
        story, places = locate(live.job, form.story, form.start, form.end)
        (begin, start), (finish, end) = sorted(places)
        pieces = between(story.paragraphs, (begin, start), (finish, end))
        html = to_html(carried(pieces, live.job), live.workspace.composition.cascade)
    return JsonResponse({"text": "\n".join(p.text.replace(OBJECT, "") for p in pieces), "html": html})


@job_view
@answers_json
def table(request: HttpRequest, job: Job, table: str) -> HttpResponse:
    """The cells of a table, to be edited."""
    with opened(job.pk) as live:
        return JsonResponse(about_table(live, table))


@job_view
@answers_json
def table_cells(request: HttpRequest, job: Job, table: str) -> HttpResponse:
    """The cells of a rectangle, as they are copied."""
    with opened(job.pk) as live:
        cells = _cells_in({**request.GET.dict(), "table": table})
        assert cells is not None
        return JsonResponse(copied_cells(live, cells))


MOST_OF_FILE = 8_000_000
"""Bytes of a file with the cells of a table."""


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def table_file(request: HttpRequest, job: Job, table: str) -> HttpResponse:
    """The words of a file for a table, and what taking them over would do; none where the file holds what it held
    before. Of a workbook with several sheets, where none is said, their names alone."""
    upload = request.FILES.get("file")
    if upload is None:
        raise LexigonError("Select a file first.")
    if upload.size and upload.size > MOST_OF_FILE:
        raise LexigonError(f"The file has {upload.size / 1e6:.0f} MB. A file with cells can have at most 8 MB.")
    with opened(job.pk) as live:
        text_table = table_of(live.job, table)
        name, sheet = str(upload.name), request.POST.get("sheet", "")
        cells = cells_in(upload.read(), name, live.job.brief.language, sheet, text_table.source)
        if isinstance(cells, Choice):
            return JsonResponse({"sheets": cells.sheets})
        update = refreshed(text_table, cells.rows, cells.source, cells.merged)
    answer = {
        "words": cells.words if update.table != text_table else None,
        "told": update.summary,
        "warning": cells.warning,
    }
    merged = [asdict(span) for span in cells.merged]
    return JsonResponse(answer | {"source": cells.source, "parted": cells.parted, "merged": merged})


@require_POST
@job_view
@answers_json
def paste(request: HttpRequest, job: Job) -> HttpResponse:
    """Return the HTML of the clipboard as clean paragraphs for the client to insert."""
    with opened(job.pk) as live:
        pasted = from_html(parse_request(request, PasteForm).html, live.job, manuscripts.keeping(job.pk))
    return JsonResponse(plain(pasted.carried) | {"told": [*manuscripts.paste_remarks(pasted.counts), *pasted.findings]})
