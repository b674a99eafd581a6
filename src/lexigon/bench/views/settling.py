"""The request by which a page that shows a job has pending updates saved after it has loaded."""

from __future__ import annotations

from django.http import HttpRequest, JsonResponse
from django.views.decorators.http import require_POST

from lexigon.bench.models import Job, Role
from lexigon.bench.services import glances
from lexigon.bench.services.following import follow
from lexigon.bench.services.jobs import opened
from lexigon.bench.views.shared import answers_json, job_view_for


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def settle(request: HttpRequest, job: Job) -> JsonResponse:
    """Fit a job's pages to its stories, update it from the jobs that it depends on, and save its entry on the shelf.
    ``changed`` says whether the job differs from what is saved."""
    with opened(job.pk) as live:
        follow(live, request.user)
        if not glances.is_saved(live):
            glances.save(live)
        return JsonResponse({"revision": live.revision, "changed": live.revision != job.revision})
