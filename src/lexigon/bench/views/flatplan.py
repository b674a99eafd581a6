"""The Flatplan: every spread as a miniature, in reading order, and all that is done to pages."""

from __future__ import annotations

import copy

from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_POST

from lexigon.bench.forms import MasterImportForm, parse_request
from lexigon.bench.models import Job
from lexigon.bench.services import miniatures
from lexigon.bench.services.following import is_due
from lexigon.bench.services.jobs import opened
from lexigon.bench.services.plan import plan
from lexigon.bench.views.shared import answers_json, job_view
from lexigon.core.check.findings import count_at_once
from lexigon.core.document.model import frames_in
from lexigon.core.editing.intents import BringMasters


@job_view
def flatplan(request: HttpRequest, job: Job) -> HttpResponse:
    with opened(job.pk) as live:
        state, look = plan(live), count_at_once(live.workspace.composition)
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
    """Return the picture of a page. Under a name that is no longer current, it is returned without permission to cache
    it: it would be the picture of another page."""
    data = miniatures.ready(job.pk, signature)
    own = data is not None
    if data is None:
        with opened(job.pk) as live:
            if not 0 <= index < len(live.job.pages):
                raise Http404
            data = miniatures.miniature(live.workspace.composition, job.pk, index)
            own = miniatures.signature(live.workspace.composition, index) == signature
    response = HttpResponse(data, content_type="image/webp")
    response["Cache-Control"] = "private, max-age=31536000, immutable" if own else "no-store"
    return response


@require_POST
@job_view
@answers_json
def bring_masters(request: HttpRequest, job: Job) -> HttpResponse:
    """Import master pages of another of the user's jobs, with the stories and styles that they need."""
    other = get_object_or_404(Job.objects.of(request.user), pk=parse_request(request, MasterImportForm).source)
    with opened(other.pk) as source:
        model = source.job
        masters = tuple(model.masters.values())
        needed = {frame.story for master in masters for frame in frames_in((*master.recto, *master.verso))}
        stories = tuple(copy.deepcopy(story) for story in model.stories.values() if story.id in needed)
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
