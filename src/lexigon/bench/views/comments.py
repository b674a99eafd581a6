"""Comments on the pages of a job."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404
from django.views.decorators.http import require_POST

from lexigon.bench.forms import CommentChangeForm, CommentForm, parse_request
from lexigon.bench.models import Job, Role
from lexigon.bench.services import comments
from lexigon.bench.views.shared import answers_json, job_view, job_view_for


def _all(request: HttpRequest, job: Job) -> JsonResponse:
    return JsonResponse({"comments": comments.listed(job, request.user)})


@job_view
@answers_json
def listed(request: HttpRequest, job: Job) -> HttpResponse:
    """All comments on the job."""
    return _all(request, job)


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def add(request: HttpRequest, job: Job) -> HttpResponse:
    """Comment on a page; the answer has all comments."""
    form = parse_request(request, CommentForm)
    comments.add(job, request.user, form.page, form.text)
    return _all(request, job)


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def change(request: HttpRequest, job: Job, pk: int) -> HttpResponse:
    """Resolve a comment, open it again or delete it; the answer has all comments."""
    form = parse_request(request, CommentChangeForm)
    comment = get_object_or_404(job.comments, pk=pk)
    if form.deleted:
        comments.delete(job, request.user, comment)
    else:
        comments.resolve(job, request.user, comment, form.resolved)
    return _all(request, job)
