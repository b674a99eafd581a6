"""The people of a job: whom it is shared with, and who looks at it now."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_POST

from lexigon.bench.forms import PresenceForm, parse_request
from lexigon.bench.models import Job, Role
from lexigon.bench.services import presence, sharing
from lexigon.bench.views.shared import answers_json, job_view_for, person, whole
from lexigon.core.errors import LexigonError


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def here(request: HttpRequest, job: Job) -> HttpResponse:
    """Somebody says where they are in the job; the answer says who else is there."""
    form = parse_request(request, PresenceForm)
    if not form.client:
        raise LexigonError("The request names no window.")
    if form.leaving:
        presence.gone(job, form.client)
        return JsonResponse({"revision": job.revision, "others": []})
    chosen = [{"page": one.page, "id": one.id} for one in form.chosen]
    return JsonResponse(presence.here(job, request.user, form.client, form.page, chosen))


def _role(request: HttpRequest) -> Role:
    """The selected role; the role to edit if none was selected."""
    chosen = request.POST.get("role", Role.EDIT)
    return Role(chosen) if chosen in Role.values else Role.EDIT


@require_POST
@job_view_for(Role.OWN)
def share(request: HttpRequest, job: Job) -> HttpResponse:
    """Share a job with somebody, by the name they sign in with, in a role."""
    try:
        user = sharing.share(job, request.POST.get("name", "").strip(), role := _role(request))
    except LexigonError as error:
        messages.error(request, str(error))
    else:
        messages.success(request, f"“{job.name}” is now on the shelf of {user.get_username()}, who {role.label}.")
    return redirect("shelf")


@require_POST
@job_view_for(Role.OWN)
def change_role(request: HttpRequest, job: Job) -> HttpResponse:
    """Change what somebody may do with a job that is shared with them."""
    share = get_object_or_404(job.shares.select_related("user"), user=whole(request.POST.get("user")))
    role = _role(request)
    sharing.change_role(job, share.user_id, role)
    messages.success(
        request,
        f"{share.user.get_username()} {role.label} “{job.name}”.".replace(
            "can view and comment", "can view and comment on"
        ),
    )
    return redirect("shelf")


@require_POST
@job_view_for(Role.VIEW)
def unshare(request: HttpRequest, job: Job) -> HttpResponse:
    """End the sharing of a job with somebody: its owners do so for others, everybody for themselves."""
    owns = sharing.role_in(job, request.user) == Role.OWN
    user = whole(request.POST.get("user")) if owns and request.POST.get("user") else person(request).pk
    sharing.unshare(job, user)
    return redirect("shelf")
