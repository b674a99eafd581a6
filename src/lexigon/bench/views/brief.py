"""The Brief: setting a job up, and changing its set-up later."""

from __future__ import annotations

from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from lexigon.bench.models import Job
from lexigon.bench.services.jobs import create_job, opened
from lexigon.bench.views.shared import answers_json, body, own_job
from lexigon.core.brief.drawing import spread_drawing
from lexigon.core.brief.setup import DEFAULTS, LANGUAGES, SIDES, in_unit, read_setup, shown
from lexigon.core.brief.sizes import SIZES, named
from lexigon.core.errors import LexigonError
from lexigon.core.lengths import show
from lexigon.core.type.fonts import shipped

UNITS = (("mm", "mm"), ("cm", "cm"), ("in", "inches"), ("pt", "points"), ("p", "picas"), ("px", "pixels"))


def _page(
    request: HttpRequest, values: dict[str, str], errors: dict[str, str], job: Job | None, pages: int = 0
) -> HttpResponse:
    setup, found = read_setup(values)
    context = {
        "job": job, "values": values, "errors": {**found, **errors}, "sizes": SIZES.values(), "units": UNITS,
        "languages": LANGUAGES.items(), "sides": SIDES, "pages": pages,
        "families": sorted(name for name in shipped().families if name != "Public Sans"),
        "drawing": spread_drawing(setup) if setup else "",
        "named": named(setup.brief.width, setup.brief.height) if setup else "",
        "state": {"values": values, "errors": {**found, **errors}, "size": named(setup.brief.width, setup.brief.height) if setup else ""},
    }  # fmt: skip
    return render(request, "bench/brief.html", context, status=400 if errors else 200)


@login_required
def new(request: HttpRequest) -> HttpResponse:
    if request.method == "POST":
        values = {**DEFAULTS, "facing": "", **request.POST.dict()}
        setup, errors = read_setup(values)
        if setup is None:
            return _page(request, values, errors, None)
        row = create_job(request.user, setup.new_job())
        return redirect("manuscript", key=row.pk)
    return _page(request, dict(DEFAULTS), {}, None)


@own_job
def edit(request: HttpRequest, job: Job) -> HttpResponse:
    with opened(job.pk) as live:
        pages = len(live.job.pages)
        if request.method != "POST":
            return _page(request, shown(live.job), {}, job, pages)
        values = {**shown(live.job), "facing": "", **request.POST.dict()}
        setup, errors = read_setup(values)
        if setup is None:
            return _page(request, values, errors, job, pages)
        try:
            live.do([setup.change(live.job)], request.user)
        except LexigonError as error:
            return _page(request, values, {error.field or "name": str(error)}, job, pages)
    return redirect("board", key=job.pk)


@require_POST
@login_required
@answers_json
def reading(request: HttpRequest) -> HttpResponse:
    """What the typed values mean, while they are typed: the drawing, or what is wrong by field.

    ``unit_to`` asks for the same lengths in another unit; ``size`` for a named size in place of the typed one.
    """
    data = body(request)
    values = {str(k): str(v) for k, v in dict(data.get("values") or {}).items()}
    if data.get("unit_to"):
        values = in_unit(values, str(data["unit_to"]))
    size = SIZES.get(str(data.get("size", "")))
    if size:
        unit = values.get("unit", size.unit)
        values["width"], values["height"] = show(size.width, unit), show(size.height, unit)
    if data.get("turn"):
        values["width"], values["height"] = values.get("height", ""), values.get("width", "")
    setup, errors = read_setup(values)
    answer = {"values": values, "errors": errors, "drawing": spread_drawing(setup) if setup else None}
    if setup:
        answer["size"] = named(setup.brief.width, setup.brief.height)
    return JsonResponse(answer)
