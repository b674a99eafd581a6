"""Two states of a job beside each other: a version and the job as it is, or two versions."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render

from lexigon.bench.models import Job
from lexigon.bench.services.comparing import State, at_revision, changed, pairs
from lexigon.bench.views.shared import answers_json, job_view, whole
from lexigon.core.errors import LexigonError


def _states(request: HttpRequest, job: Job) -> tuple[State, State]:
    """The two revisions that are asked for: ``from``, and ``to``, which is the present one where it is not said."""
    first, last = (whole(request.GET.get(name), default) for name, default in (("from", 0), ("to", job.revision)))
    if not (0 <= first <= job.revision and 0 <= last <= job.revision):
        raise LexigonError("The job has no such earlier state.")
    return at_revision(job.pk, first), at_revision(job.pk, last)


@job_view
def compare(request: HttpRequest, job: Job) -> HttpResponse:
    old, new = _states(request, job)
    versions = [{"name": one.name, "revision": one.revision} for one in job.versions.all()[:50]]
    data = {
        "key": job.pk,
        "versions": versions,
        "now": job.revision,
        "from": whole(request.GET.get("from")),
        "to": whole(request.GET.get("to"), job.revision),
        "sides": _sides(old, new, whole(request.GET.get("page"), 1) - 1),
    }
    return render(
        request, "bench/compare.html", {"job": job, "data": data, "pages": len(new.job.pages), "place": "board"}
    )


def _sides(old: State, new: State, index: int, *, gone: bool = False) -> dict[str, Any]:
    """Return the two states to compare for a page of the new state, or for a deleted page of the old one."""
    all_ = pairs((page.id for page in old.job.pages), (page.id for page in new.job.pages))
    if gone:
        was, now = next((pair for pair in all_ if pair[0] == index), all_[0])
    else:
        was, now = next((pair for pair in all_ if pair[1] == min(max(index, 0), len(new.job.pages) - 1)), all_[0])
    return {
        "page": now,
        "old": was,
        "before": old.spread(was) if was is not None else [],
        "after": new.spread(now) if now is not None else [],
    }


@job_view
@answers_json
def sides(request: HttpRequest, job: Job) -> HttpResponse:
    """The spreads for one page, painted."""
    old, new = _states(request, job)
    gone = request.GET.get("gone") == "1"
    return JsonResponse(_sides(old, new, whole(request.GET.get("page"), 1) - 1, gone=gone))


@job_view
@answers_json
def differences(request: HttpRequest, job: Job) -> HttpResponse:
    """Return the pages that differ."""
    old, new = _states(request, job)
    return JsonResponse({"changed": changed(old, new)})
