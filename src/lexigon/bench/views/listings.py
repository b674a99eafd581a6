"""Listings: set up beside the manuscript, put into texts and followed on the board; places that references lead to."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.views.decorators.http import require_POST

from lexigon.bench.forms import ListingChanged, ListingPlaced, ListingSetUp, TermSaid, said
from lexigon.bench.models import Job, Role
from lexigon.bench.services import listings as listing_rows
from lexigon.bench.services import publications
from lexigon.bench.services.jobs import OpenJob, opened
from lexigon.bench.views.board import carried_out
from lexigon.bench.views.shared import answers_json, job_view, job_view_for
from lexigon.core.check.findings import count_at_once
from lexigon.core.flow.gathering import gathered
from lexigon.core.job.intents import Intent, PutListing, RemoveListing, UpdateListing


@job_view
def page(request: HttpRequest, job: Job) -> HttpResponse:
    """The listings of a job, to be set up."""
    with opened(job.pk) as live:
        context = {
            "job": job, "pages": len(live.job.pages), "waiting": count_at_once(live.desk.composition), "listings": listing_rows.listed(live), "choices": listing_rows.chosen_from(live),
        }  # fmt: skip
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
    asked = said(request, ListingSetUp)
    with opened(job.pk) as live:
        return JsonResponse({"rows": listing_rows.rows(live, gathered(live.desk.composition, asked.listing))})


@require_POST
@job_view
@answers_json
def set_up(request: HttpRequest, job: Job) -> HttpResponse:
    asked = said(request, ListingSetUp)
    with opened(job.pk) as live:
        live.do([PutListing(asked.listing)], request.user)
    whole = publications.with_job(job.pk) if asked.listing.over == "publication" else None
    if whole is not None:
        publications.gather(whole, request.user)
    with opened(job.pk) as live:
        return _all(live)


@require_POST
@job_view
@answers_json
def changed(request: HttpRequest, job: Job) -> HttpResponse:
    """Delete a listing, take it out of its text or bring it up to date."""
    asked = said(request, ListingChanged)
    with opened(job.pk) as live:
        live.do([_change(live, asked)], request.user)
        return _all(live)


@require_POST
@job_view
@answers_json
def term(request: HttpRequest, job: Job) -> HttpResponse:
    """Change a term of the index, make one or delete it."""
    asked = said(request, TermSaid)
    with opened(job.pk) as live:
        live.do([listing_rows.term_intent(live, asked)], request.user)
        return _all(live)


@require_POST
@job_view
@answers_json
def changed_on_board(request: HttpRequest, job: Job) -> HttpResponse:
    """The same, answered for the board."""
    asked = said(request, ListingChanged)
    with opened(job.pk) as live:
        return carried_out(live, request, asked, lambda: [_change(live, asked)])


@require_POST
@job_view
@answers_json
def put_in(request: HttpRequest, job: Job) -> HttpResponse:
    """Insert a listing into a text, answered for the board."""
    asked = said(request, ListingPlaced)
    with opened(job.pk) as live:
        wanted = listing_rows.insertion(live, asked)
        return carried_out(live, request, asked, lambda: wanted)


def _change(live: OpenJob, asked: ListingChanged) -> Intent:
    if asked.what == "update":
        return UpdateListing(asked.listing, listing_rows.now(live, asked.listing), asked.taken, asked.mine)
    return RemoveListing(asked.listing, out=asked.what == "take out")


def _all(live: OpenJob) -> JsonResponse:
    answer: dict[str, Any] = {"listings": listing_rows.listed(live), "choices": listing_rows.chosen_from(live)}
    return JsonResponse(answer)
