"""Check: what a printer would send back, each finding with its spot, its fix, and the reason if it is accepted."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.views.decorators.http import require_POST

from lexigon.bench.forms import FixForm, IntentsForm, parse_request
from lexigon.bench.models import Job
from lexigon.bench.services import checking
from lexigon.bench.services.jobs import opened
from lexigon.bench.views.shared import answers_json, job_view, whole
from lexigon.core.check.fixes import intents_for
from lexigon.core.editing.intents import intent_from_plain


@job_view
def check(request: HttpRequest, job: Job) -> HttpResponse:
    with opened(job.pk) as live:
        report, count = checking.report(live), len(live.job.pages)
    context = {"job": job, "pages": count, "waiting": len(report["open"]), "state": report}
    return render(request, "bench/check.html", context)


@job_view
@answers_json
def spot(request: HttpRequest, job: Job) -> HttpResponse:
    """The page that a finding is on (``page``, from 1), with the boxes of its ``subject``."""
    with opened(job.pk) as live:
        page, subject = whole(request.GET.get("page"), 0), request.GET.get("subject", "")
        return JsonResponse(checking.spot(live, page - 1, subject))


@require_POST
@job_view
@answers_json
def change(request: HttpRequest, job: Job) -> HttpResponse:
    """Accept findings, or reopen them: intents, as the board sends them."""
    form = parse_request(request, IntentsForm)
    with opened(job.pk) as live:
        live.do([intent_from_plain(one) for one in form.intents], request.user)
        return JsonResponse(checking.report(live))


@require_POST
@job_view
@answers_json
def fix(request: HttpRequest, job: Job) -> HttpResponse:
    """Carry out the fix that a finding offers."""
    form = parse_request(request, FixForm)
    with opened(job.pk) as live:
        if intents := intents_for(form.fix, live.workspace.composition):
            live.do(intents, request.user)
        return JsonResponse(checking.report(live))
