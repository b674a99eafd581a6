"""The Board: the spread, and the one address through which a job is edited."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.views.decorators.http import require_POST

from lexigon.bench.models import Edit, Job
from lexigon.bench.services import pages as sent
from lexigon.bench.services import ties
from lexigon.bench.services.jobs import opened
from lexigon.bench.views.shared import answers_json, body, own_job, whole
from lexigon.core.errors import LexigonError
from lexigon.core.flow.fields import DATE_FORMS
from lexigon.core.job.intents import InsertField, InsertRich, Place, ReplaceText, intent_from_plain, locate
from lexigon.core.job.model import OBJECT
from lexigon.core.job.serial import plain
from lexigon.core.job.spreads import spread_of
from lexigon.core.job.text import between
from lexigon.core.manuscript.richtext import from_html, to_html

MOST_INTENTS = 50
TYPED = (ReplaceText, InsertField, InsertRich)


@own_job
def board(request: HttpRequest, job: Job) -> HttpResponse:
    with opened(job.pk) as live:
        ties.follow(live, request.user)
        index = min(max(whole(request.GET.get("page"), 1), 1), len(live.job.pages)) - 1
        master = request.GET.get("master", "")
        view = spread_of(live.job, index)
        if master in live.job.masters:
            view = [-2, -1] if live.job.brief.facing else [-1]
        data = {
            "key": job.pk, "view": view, "sheet": sent.sheet(live.job), "pages": sent.painted(live, view, None, master), **sent.state(live), **sent.lists(live),
            "master": master if view[0] < 0 else "", "dates": DATE_FORMS,
            "main": live.job.main_story, "others": [{"key": row.pk, "name": row.name} for row in Job.objects.filter(owner=request.user).exclude(pk=job.pk)],
        }  # fmt: skip
        context = {"job": job, "data": data, "pages": len(live.job.pages)}
    return render(request, "bench/board.html", context)


def _have(data: dict[str, Any]) -> dict[str, str]:
    return {str(key): str(value) for key, value in dict(data.get("have") or {}).items()}


def _view(data: dict[str, Any]) -> list[int]:
    return [whole(index) for index in list(data.get("view") or [])[:4]]


def _master(data: dict[str, Any]) -> str:
    """The master page the client works on, if it does."""
    return str(data.get("master") or "")[:40]


@own_job
@answers_json
def pages(request: HttpRequest, job: Job) -> HttpResponse:
    """The spread that holds page ``page`` (an index), painted; with ``story`` and ``p`` the one a place is on."""
    with opened(job.pk) as live:
        index = whole(request.GET.get("page"))
        if index < 0:
            master = request.GET.get("master", "")
            view = [-2, -1] if live.job.brief.facing else [-1]
            return JsonResponse(
                {"view": view, "pages": sent.painted(live, view, None, master), "caret": None, **sent.state(live)}
            )
        if request.GET.get("story"):
            place = Place(request.GET.get("p", "^"), whole(request.GET.get("offset")))
            story, ((at, offset),) = locate(live.job, request.GET["story"], place)
            caret = sent.caret(live, story.id, story.paragraphs[at].id, offset)
            index = caret["page"] if caret["page"] is not None else index
        else:
            caret = None
        view = spread_of(live.job, min(max(index, 0), len(live.job.pages) - 1))
        return JsonResponse({"view": view, "pages": sent.painted(live, view), "caret": caret, **sent.state(live)})


@require_POST
@own_job
@answers_json
def edits(request: HttpRequest, job: Job) -> HttpResponse:
    """Carry out intents made on revision ``base``; answer with what the client's view looks like now."""
    data = body(request)
    wanted = data.get("intents")
    if not isinstance(wanted, list) or not 1 <= len(wanted) <= MOST_INTENTS:
        raise LexigonError("There was nothing to do.")
    intents = [intent_from_plain(intent) for intent in wanted]
    token = str(data.get("token") or "")[:40]
    with opened(job.pk) as live:
        if live.done_before(token):
            view = sent.view_for(live, _view(data))
            pages_ = sent.painted(live, view, None, _master(data))
            return JsonResponse({**sent.state(live), "view": view, "pages": pages_, "caret": None, "made": []})
        base = whole(data.get("base"), live.revision)
        intents = live.rebased(intents, base)
        last = intents[-1]
        behind = sent.text_behind(live.job, last) if isinstance(last, TYPED) else 0
        change = live.do(
            intents,
            request.user,
            base=live.revision,
            group=str(data.get("group") or "")[:40],
            token=token,
            near=_view(data),
        )
        caret = sent.caret_after(live, last, change, behind) if isinstance(last, TYPED) else None
        view = sent.view_for(live, _view(data), caret)
        answer = {
            **sent.state(live),
            "view": view,
            "pages": sent.painted(live, view, _have(data), _master(data)),
            "caret": caret,
        }
        answer["made"] = sorted(_frame_ids(change.edits) - _frame_ids(change.inverse))
        if any(map(_changes_lists, (*change.edits, *change.inverse))):
            answer["lists"] = sent.lists(live)
        if any(edit.op == "set-brief" for edit in change.edits):
            answer["sheet"] = sent.sheet(live.job)
    return JsonResponse(answer)


def _changes_lists(edit: Any) -> bool:
    """Whether what can be chosen on the board may be another after an edit: masters, styles, uses of standing copy."""
    if edit.op == "splice-paragraphs":
        return any(span.field for paragraph in edit.insert for span in paragraph.spans)
    return edit.op in ("put-entry", "splice-pages")


def _frame_ids(edits_: Any) -> set[str]:
    """The ids of frames on the pages and masters that edits put in place."""
    pages = {frame.id for edit in edits_ if edit.op == "splice-pages" for page in edit.insert for frame in page.frames}
    masters = [e.value for e in edits_ if e.op == "put-entry" and e.table == "masters" and e.value]
    return pages | {frame["id"] for m in masters for half in ("recto", "verso") for frame in m.get(half, ())}


def _step(request: HttpRequest, job: Job, name: str) -> HttpResponse:
    data = body(request)
    with opened(job.pk) as live:
        change = getattr(live, name)(request.user, _view(data))
        caret = sent.caret_at_change(live, change) if change else None
        view = sent.view_for(live, _view(data), caret, sent.page_of_change(live, change) if change else None)
        answer = {
            **sent.state(live), "view": view, "pages": sent.painted(live, view, _have(data), _master(data)), "caret": caret,
            "sheet": sent.sheet(live.job), "lists": sent.lists(live), "label": change.label if change else "",
        }  # fmt: skip
    return JsonResponse(answer)


@require_POST
@own_job
@answers_json
def undo(request: HttpRequest, job: Job) -> HttpResponse:
    return _step(request, job, "undo")


@require_POST
@own_job
@answers_json
def redo(request: HttpRequest, job: Job) -> HttpResponse:
    return _step(request, job, "redo")


@own_job
def history(request: HttpRequest, job: Job) -> HttpResponse:
    """The changes made, newest first; a stretch of typing is one line."""
    rows: list[dict[str, Any]] = []
    group = ""
    for row in Edit.objects.filter(job=job, kind="do").exclude(state=Edit.DROPPED).order_by("-revision")[:400]:
        if row.group and row.group == group:
            continue
        group = row.group
        rows.append({"label": row.label, "at": row.at.isoformat(), "undone": row.state == Edit.UNDONE})
    return JsonResponse({"rows": rows[:100]})


@own_job
@answers_json
def context(request: HttpRequest, job: Job) -> HttpResponse:
    """What the slip shows for the selection in the query."""
    get = request.GET
    with opened(job.pk) as live:
        first = Place(get["p"], whole(get.get("offset"))) if get.get("p") else None
        last = Place(get["p2"], whole(get.get("offset2"))) if get.get("p2") else None
        return JsonResponse(
            sent.slip(
                live,
                whole(get.get("page")),
                get.get("frame", ""),
                get.get("story", ""),
                first,
                last,
                get.get("master", ""),
            )
        )


@require_POST
@own_job
@answers_json
def copy(request: HttpRequest, job: Job) -> HttpResponse:
    """The selected words as plain text and as HTML, however many pages they run over."""
    data = body(request)
    with opened(job.pk) as live:
        try:
            places = [Place(str(data[n]["paragraph"]), int(data[n]["offset"])) for n in ("start", "end")]
        except (KeyError, TypeError, ValueError) as error:
            raise LexigonError("There is no selection to copy.") from error
        story, found = locate(live.job, str(data.get("story")), *places)
        (begin, start), (finish, end) = sorted(found)
        pieces = between(story.paragraphs, (begin, start), (finish, end))
        html = to_html(pieces, live.desk.composition.cascade)
    return JsonResponse({"text": "\n".join(p.text.replace(OBJECT, "") for p in pieces), "html": html})


@require_POST
@own_job
@answers_json
def paste(request: HttpRequest, job: Job) -> HttpResponse:
    """HTML of the clipboard as clean paragraphs, for the client to put in."""
    return JsonResponse({"paragraphs": [plain(p) for p in from_html(str(body(request).get("html") or ""))]})
