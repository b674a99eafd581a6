"""Listings: set up beside the manuscript, inserted into stories and updated on the board; targets of
cross-references."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.views.decorators.http import require_POST

from lexigon.bench.forms import ListingForm, ListingInsertionForm, ListingUpdateForm, TermForm, parse_request
from lexigon.bench.models import Job, Role
from lexigon.bench.services import listings as listing_rows
from lexigon.bench.services import publications
from lexigon.bench.services.jobs import OpenJob, opened
from lexigon.bench.views.shared import answer_edit, answers_json, job_view, job_view_for
from lexigon.core.check.findings import count_at_once
from lexigon.core.editing.intents import Intent, PutListing, RemoveListing, UpdateListing
from lexigon.core.flow.listing_entries import gathered


@job_view
def page(request: HttpRequest, job: Job) -> HttpResponse:
    """The listings of a job, to be set up."""
    with opened(job.pk) as live:
        context = {
            "job": job,
            "pages": len(live.job.pages),
            "waiting": count_at_once(live.workspace.composition),
            "listings": listing_rows.listed(live),
            "choices": listing_rows.chosen_from(live),
        }
    return render(request, "bench/listings.html", context)


@job_view
@answers_json
def listed(request: HttpRequest, job: Job) -> HttpResponse:
    """All listings with their entries."""
    with opened(job.pk) as live:
        return _all(live)


@job_view
@answers_json
def places(request: HttpRequest, job: Job) -> HttpResponse:
    """Return what a reference can lead to."""
    with opened(job.pk) as live:
        return JsonResponse({"places": listing_rows.places(live, request.GET.get("words", "")[:200])})


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def look(request: HttpRequest, job: Job) -> HttpResponse:
    """Return what a listing would gather that is being set up."""
    form = parse_request(request, ListingForm)
    with opened(job.pk) as live:
        return JsonResponse({"rows": listing_rows.rows(live, gathered(live.workspace.composition, form.listing))})


@require_POST
@job_view
@answers_json
def set_up(request: HttpRequest, job: Job) -> HttpResponse:
    form = parse_request(request, ListingForm)
    with opened(job.pk) as live:
        live.do([PutListing(form.listing)], request.user)
    whole = publications.with_job(job.pk) if form.listing.over == "publication" else None
    if whole is not None:
        publications.gather(whole, request.user)
    with opened(job.pk) as live:
        return _all(live)


@require_POST
@job_view
@answers_json
def changed(request: HttpRequest, job: Job) -> HttpResponse:
    """Delete a listing, remove it from its story, or update it."""
    form = parse_request(request, ListingUpdateForm)
    with opened(job.pk) as live:
        live.do([_change(live, form)], request.user)
        return _all(live)


@require_POST
@job_view
@answers_json
def term(request: HttpRequest, job: Job) -> HttpResponse:
    """Change a term of the index, make one or delete it."""
    form = parse_request(request, TermForm)
    with opened(job.pk) as live:
        live.do([listing_rows.term_intent(live, form)], request.user)
        return _all(live)


@require_POST
@job_view
@answers_json
def changed_on_board(request: HttpRequest, job: Job) -> HttpResponse:
    """The same, answered for the board."""
    form = parse_request(request, ListingUpdateForm)
    with opened(job.pk) as live:
        return answer_edit(live, request, form, lambda: [_change(live, form)])


@require_POST
@job_view
@answers_json
def put_in(request: HttpRequest, job: Job) -> HttpResponse:
    """Insert a listing into a story. The answer is one for the board."""
    form = parse_request(request, ListingInsertionForm)
    with opened(job.pk) as live:
        intents = listing_rows.insertion(live, form)
        return answer_edit(live, request, form, lambda: intents)


def _change(live: OpenJob, form: ListingUpdateForm) -> Intent:
    if form.what == "update":
        return UpdateListing(form.listing, listing_rows.now(live, form.listing), form.taken, form.mine)
    return RemoveListing(form.listing, out=form.what == "take out")


def _all(live: OpenJob) -> JsonResponse:
    answer: dict[str, Any] = {"listings": listing_rows.listed(live), "choices": listing_rows.chosen_from(live)}
    return JsonResponse(answer)
