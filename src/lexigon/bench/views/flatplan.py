"""The Flatplan: every spread as a miniature, in reading order, and all that is done to pages."""

from __future__ import annotations

import copy

from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_POST

from lexigon.bench.forms import MastersFrom, said
from lexigon.bench.models import Job
from lexigon.bench.services import miniatures
from lexigon.bench.services.following import is_due
from lexigon.bench.services.jobs import opened
from lexigon.bench.services.plan import plan
from lexigon.bench.views.shared import answers_json, job_view
from lexigon.core.check.findings import count_at_once
from lexigon.core.job.intents import BringMasters
from lexigon.core.job.model import frames_in


@job_view
def flatplan(request: HttpRequest, job: Job) -> HttpResponse:
    with opened(job.pk) as live:
        state, look = plan(live), count_at_once(live.desk.composition)
        due = is_due(live, request.user)
    others = Job.objects.of(request.user).exclude(pk=job.pk)
    return render(
        request,
        "bench/flatplan.html",
        {"job": job, "state": state, "pages": len(state["pages"]), "others": others, "waiting": look, "due": due},
    )


@job_view
@answers_json
def data(request: HttpRequest, job: Job) -> HttpResponse:
    with opened(job.pk) as live:
        return JsonResponse(plan(live))


@job_view
def miniature(request: HttpRequest, job: Job, index: int, signature: str) -> HttpResponse:
    """Return what a page shows. Under a name that is no longer the page's own it is shown all the same, but not to be kept: it would be
    the picture of another page for as long as that name is asked for."""
    data = miniatures.ready(job.pk, signature)
    own = data is not None
    if data is None:
        with opened(job.pk) as live:
            if not 0 <= index < len(live.job.pages):
                raise Http404
            data = miniatures.miniature(live.desk.composition, job.pk, index)
            own = miniatures.signature(live.desk.composition, index) == signature
    response = HttpResponse(data, content_type="image/webp")
    response["Cache-Control"] = "private, max-age=31536000, immutable" if own else "no-store"
    return response


@require_POST
@job_view
@answers_json
def bring_masters(request: HttpRequest, job: Job) -> HttpResponse:
    """Bring in the master pages of another of the user's jobs, with the texts and styles they need."""
    other = get_object_or_404(Job.objects.of(request.user), pk=said(request, MastersFrom).source)
    with opened(other.pk) as source:
        model = source.job
        masters = tuple(model.masters.values())
        wanted = {frame.story for master in masters for frame in frames_in((*master.recto, *master.verso))}
        stories = tuple(copy.deepcopy(story) for story in model.stories.values() if story.id in wanted)
        intent = BringMasters(
            masters,
            stories,
            tuple(model.paragraph_styles.values()),
            model.brief,
            tuple(model.inlays.values()),
            tuple(model.pictures.values()),
            tuple(model.tables.values()),
            tuple(model.table_styles.values()),
        )
    with opened(job.pk) as live:
        live.do([intent], request.user)
    return JsonResponse({"ok": True})
