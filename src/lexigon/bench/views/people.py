"""The people of a job: whom it is shared with, and who looks at it now."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.contrib.auth import get_user_model
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from lexigon.bench.forms import Here, said
from lexigon.bench.models import Job
from lexigon.bench.services import outputs, presence
from lexigon.bench.views.shared import answers_json, own_job, whole
from lexigon.core.errors import LexigonError

MOST_PEOPLE = 100


@require_POST
@own_job
@answers_json
def here(request: HttpRequest, job: Job) -> HttpResponse:
    """Somebody says where they are in the job; the answer says who else is there."""
    asked = said(request, Here)
    if not asked.client:
        raise LexigonError("A window says which one it is.")
    if asked.leaving:
        presence.gone(job, asked.client)
        return JsonResponse({"revision": job.revision, "others": []})
    chosen = [{"page": one.page, "id": one.id} for one in asked.chosen]
    return JsonResponse(presence.here(job, request.user, asked.client, asked.page, chosen))


@require_POST
@own_job
def share(request: HttpRequest, job: Job) -> HttpResponse:
    """Let somebody else work on a job, by the name they sign in with. Only its owner does."""
    name = request.POST.get("name", "").strip()
    user = get_user_model().objects.filter(username__iexact=name, is_active=True).first() if name else None
    if job.owner_id != request.user.pk:
        messages.error(request, f"“{job.name}” is shared by the one it belongs to.")
    elif user is None:
        messages.error(
            request,
            f"There is nobody here who signs in as “{name[:60]}”."
            if name
            else "Type the name that somebody signs in with.",
        )
    elif user.pk == job.owner_id:
        messages.error(request, f"“{job.name}” is yours already.")
    elif job.people.count() >= MOST_PEOPLE:
        messages.error(request, f"A job is shared with at most {MOST_PEOPLE} people.")
    else:
        job.people.add(user)
        messages.success(request, f"{user.get_username()} works on “{job.name}” too: it is on their shelf.")
    return redirect("shelf")


@require_POST
@own_job
def unshare(request: HttpRequest, job: Job) -> HttpResponse:
    """Somebody no longer works on a job: its owner says so of others, and they of themselves."""
    pk: Any = whole(request.POST.get("user")) if job.owner_id == request.user.pk else request.user.pk
    job.people.remove(pk)
    outputs.stop_of(job, pk)
    presence.Presence.objects.filter(job=job, user=pk).delete()
    return redirect("shelf")
