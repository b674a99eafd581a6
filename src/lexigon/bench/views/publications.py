"""Publications: several jobs put in order, numbered continuously, compared, exported as one file."""

from __future__ import annotations

from functools import wraps
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import FileResponse, HttpRequest, HttpResponse, HttpResponseBase, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from lexigon.bench.forms import ExportForm, MatchStylesForm, PlanForm, parse_request
from lexigon.bench.models import Job, Publication, PublicationOutput
from lexigon.bench.services import publications as services
from lexigon.bench.services import work
from lexigon.bench.views import press
from lexigon.bench.views.shared import View, answers_json, person
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import plain
from lexigon.core.press.recipes import RECIPES


def own(view: View) -> View:
    """Pass the publication itself to the view; those of other users are answered 404. What cannot be shown is explained
    in words."""

    @login_required
    @wraps(view)
    def wrapped(request: HttpRequest, key: str, *args: Any, **kwargs: Any) -> HttpResponseBase:
        row = get_object_or_404(services.of(request.user), pk=key)
        try:
            return view(request, row, *args, **kwargs)
        except LexigonError as error:
            return render(request, "bench/broken.html", {"name": str(row), "words": str(error)}, status=422)

    return wrapped


@require_POST
@login_required
def begin(request: HttpRequest) -> HttpResponse:
    try:
        row = services.begin(request.user, request.POST.get("name", ""))
    except LexigonError as error:
        messages.error(request, str(error))
        return redirect("shelf")
    return redirect("publication", key=row.pk)


def _outputs(row: Publication, output: PublicationOutput, now: list[list[Any]], unit: str) -> dict[str, Any]:
    answer = press.output_row(output, [row.pk], output.parts != now, unit, "publication")
    if "facts" in answer and _sizes(output) > 1:
        answer["facts"] = [(f"{word}, page 1" if word in SIZES else word, value) for word, value in answer["facts"]]
    return answer


SIZES = ("Trim", "With bleed", "Sheet")
"""The description of the first page, where others have other sizes."""


def _sizes(output: PublicationOutput) -> int:
    briefs = Job.objects.filter(pk__in=[key for key, _, _ in output.parts]).values_list("brief", flat=True)
    return len({(brief.get("width"), brief.get("height")) for brief in briefs})


def _now(row: Publication) -> tuple[list[list[Any]], str]:
    """The parts as they would be pressed now, and the unit of the first."""
    numbers = services.counted(row)
    return [[job.pk, job.revision, start.blank] for job, _, _, start in numbers], numbers[0][0].brief.get(
        "unit", "mm"
    ) if numbers else "mm"


@own
def publication(request: HttpRequest, row: Publication) -> HttpResponse:
    now, unit = _now(row)
    past = [
        _outputs(row, one, now, unit)
        for one in PublicationOutput.objects.filter(publication=row).exclude(state=PublicationOutput.STOPPED)[:12]
    ]
    pressed = {
        "outputs": past,
        "start": reverse("publication-start", args=[row.pk]),
        "chosen": past[0]["recipe"] if past else "print",
    }
    addresses = {
        name: reverse(f"publication-{name}", args=[row.pk]) for name in ("change", "follow", "differences", "align")
    }
    context = {
        "publication": row,
        "state": {**services.to_json(row), "addresses": addresses},
        "pressed": pressed,
        "recipes": [(one, one.describe(unit)) for one in RECIPES.values()],
    }
    return render(request, "bench/publication.html", context)


@require_POST
@own
@answers_json
def follow(request: HttpRequest, row: Publication) -> HttpResponse:
    """Bring the jobs up to what they are now: their page numbers, and listings that gather from all of them."""
    services.number(row, request.user)
    services.gather(row, request.user)
    return JsonResponse(services.to_json(row))


@require_POST
@own
@answers_json
def change(request: HttpRequest, row: Publication) -> HttpResponse:
    form = parse_request(request, PlanForm)
    row = services.change(row, _whole(plain(form.plan)), _whole(plain(form.was)))
    services.number(row, request.user)
    services.gather(row, request.user)
    return JsonResponse(services.to_json(row))


def _whole(plan: dict[str, Any]) -> dict[str, Any]:
    """A plan with what its JSON form leaves out."""
    parts = [{"job": part["job"], "counted": part.get("counted", "on")} for part in plan.get("parts", [])]
    return {"name": plan["name"], "parts": parts, "lead": plan.get("lead", "")}


@require_POST
@own
@answers_json
def step(request: HttpRequest, row: Publication, way: str) -> HttpResponse:
    done = services.step(row, back=way == "undo")
    return JsonResponse({"label": "the publication" if done else ""})


@own
@answers_json
def differences(request: HttpRequest, row: Publication) -> HttpResponse:
    """Return the differences of the jobs from the lead job, and the number of differences in each."""
    result = {
        key: [
            {
                "table": one.table,
                "id": one.id,
                "kind": one.kind,
                "name": one.name,
                "what": one.what,
                "values": one.values[:6],
                "more": max(len(one.values) - 6, 0),
            }
            for one in different
        ]
        for key, different in services.compared(row).items()
    }
    looking = {"looking": services.to_look_at(row)} if request.GET.get("looking") else {}
    return JsonResponse({"differences": result, **looking})


@require_POST
@own
@answers_json
def align(request: HttpRequest, row: Publication) -> HttpResponseBase:
    form = parse_request(request, MatchStylesForm)
    services.align(row, form.job, form.entries, request.user)
    return differences(request, key=row.pk)


@require_POST
@own
def delete(request: HttpRequest, row: Publication) -> HttpResponse:
    """Put it in the bin: its jobs stay as they are."""
    Publication.objects.filter(pk=row.pk).update(binned=timezone.now())
    messages.success(
        request,
        f"“{row}” is in the bin; its jobs stay on the shelf.",
        extra_tags=reverse("publication-restore", args=[row.pk]),
    )
    return redirect("shelf")


@require_POST
@login_required
def restore(request: HttpRequest, key: str) -> HttpResponse:
    row = get_object_or_404(Publication.objects.filter(owner=person(request)).exclude(binned=None), pk=key)
    Publication.objects.filter(pk=row.pk).update(binned=None)
    return redirect("publication", key=row.pk)


@require_POST
@own
@answers_json
def start(request: HttpRequest, row: Publication) -> HttpResponse:
    output = services.start(row, parse_request(request, ExportForm).recipe, request.user)
    now, unit = _now(row)
    return JsonResponse(_outputs(row, output, now, unit))


@own
def status(request: HttpRequest, row: Publication, pk: int) -> HttpResponse:
    output = get_object_or_404(PublicationOutput, pk=pk, publication=row)
    now, unit = _now(row)
    return JsonResponse(_outputs(row, output, now, unit))


@require_POST
@own
def stop(request: HttpRequest, row: Publication, pk: int) -> HttpResponse:
    work.stop(get_object_or_404(PublicationOutput, pk=pk, publication=row))
    return JsonResponse({"state": PublicationOutput.STOPPED})


def _ready(row: Publication, pk: int) -> PublicationOutput:
    return get_object_or_404(PublicationOutput, pk=pk, publication=row, state=PublicationOutput.READY)


@own
def download(request: HttpRequest, row: Publication, pk: int) -> FileResponse:
    return press.file_response(_ready(row, pk), str(row))


@own
def proof(request: HttpRequest, row: Publication, pk: int, index: int) -> HttpResponse:
    return press.proofed(_ready(row, pk), index)
