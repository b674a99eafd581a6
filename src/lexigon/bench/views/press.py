"""The Press: choose a recipe, make the file, look it through, take it away."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

from django.http import FileResponse, Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.utils.text import slugify
from django.views.decorators.http import require_POST

from lexigon.bench.forms import ExportForm, parse_request
from lexigon.bench.models import Job, Output, PressWork, Role
from lexigon.bench.services import outputs, store, work
from lexigon.bench.services.following import follow, is_due
from lexigon.bench.services.jobs import opened
from lexigon.bench.views.shared import answers_json, job_view, job_view_for
from lexigon.core import lengths
from lexigon.core.check.report import report_of
from lexigon.core.colour.profiles import PROFILES
from lexigon.core.pdf.variants import VARIANTS
from lexigon.core.plural import counted
from lexigon.core.press.images import page_image
from lexigon.core.press.proofing import proof_png
from lexigon.core.press.recipes import RECIPES

PROOF_PPI = 110.0
FLAT_BYTES = 8_000_000
"""Of a page of a flattened file: the images of larger ones would take too long to separate for a proof."""


def output_row(output: PressWork, keys: list[Any], old: bool, unit: str, prefix: str = "press") -> dict[str, Any]:
    """An output as the page shows it; its addresses are those called ``prefix``-… for ``keys`` and its own."""
    row: dict[str, Any] = {
        "id": output.pk,
        "recipe": output.recipe,
        "name": RECIPES[output.recipe].name,
        "state": output.state,
        "done": output.done,
        "total": output.total,
        "error": output.error,
        "old": old,
        "at": output.started.isoformat(),
        "proof": reverse(f"{prefix}-proof", args=[*keys, output.pk, 0]).replace("0.png", ""),
        **{word: reverse(f"{prefix}-{word}", args=[*keys, output.pk]) for word in ("status", "stop", "file")},
    }
    if output.state == PressWork.READY and output.facts:
        row["facts"], row["count"] = _facts(output, unit), output.facts["pages"]
        row["findings"] = output.facts.get("job_findings", [])
    return row


def _outputs(job: Job, output: Output) -> dict[str, Any]:
    unit = job.brief.get("unit", "mm")
    return output_row(output, [job.pk], output.revision != job.revision, unit) | {"pages": output.pages}


def _facts(output: PressWork, unit: str) -> list[tuple[str, str]]:
    f: dict[str, Any] = output.facts or {}

    def box(name: str) -> str:
        x0, y0, x1, y1 = f["boxes"].get(name, f["boxes"]["MediaBox"])
        return f"{lengths.show(x1 - x0, unit).split(' ')[0]} × {lengths.show(y1 - y0, unit)}"

    embedded = all(font["embedded"] for font in f["fonts"])
    rows = [("Pages", str(f["pages"])), ("Trim", box("TrimBox"))]
    if not RECIPES[output.recipe].paged:
        conforms = (
            f"{f['conforms']}, checked against our rules"
            if f["conforms"] and not f["findings"]
            else f["conforms"] or f"PDF {f['version']}"
        )
        if f["findings"]:
            conforms += f"; {len(f['findings'])} against it: {f['findings'][0]}"
        rows = [("Conforms", conforms), *rows, ("With bleed", box("BleedBox")), ("Sheet", box("MediaBox"))]
        rows.append(("Inks", ", ".join(f["inks"]) or "none"))
        if ink := f.get("ink"):
            rows.append(("Most ink", _describe_ink(ink)))
        if f["profile"]:
            rows.append(("Profile", f["profile"]))
        rows.append(("Fonts", f"{len(f['fonts'])}, {'all embedded as subsets' if embedded else 'not all embedded'}"))
        if f["bookmarks"]:
            rows.append(("Bookmarks", str(len(f["bookmarks"]))))
    size = f["bytes"]
    rows.append(("Size", f"{size / 1e6:.1f} MB" if size > 999_999 else f"{size / 1e3:.0f} KB"))
    return rows


def _describe_ink(ink: dict[str, Any]) -> str:
    """All inks together where there is most of them, against what the paper takes."""
    text = f"{ink['most'] * 100:.0f} % on page {ink['page'] + 1}"
    if not ink["over"]:
        return f"{text}; the paper takes {ink['limit'] * 100:.0f} %"
    pages = ", ".join(str(index + 1) for index in ink["over"][:6]) + (" …" if len(ink["over"]) > 6 else "")
    return (
        f"{text}: more than the {ink['limit'] * 100:.0f} % that this paper takes, on page {pages}. It may smear and not"
        " dry."
    )


@job_view
def press(request: HttpRequest, job: Job) -> HttpResponse:
    with opened(job.pk) as live:
        due = is_due(live, request.user)
        count, unit = len(live.job.pages), live.job.brief.unit
        counts = report_of(live.workspace.composition).counts()
        masters = (live.job.master_of(index) for index in range(count))
        on_their_side = any(master is not None and master.turned for master in masters)
    past = [_outputs(job, output) for output in Output.objects.filter(job=job).exclude(state=Output.STOPPED)[:12]]
    state = {
        "outputs": past,
        "start": reverse("press-start", args=[job.pk]),
        "board": reverse("board", args=[job.pk]),
        "chosen": past[0]["recipe"] if past else "print",
        "landscape": {recipe.id: recipe.landscape for recipe in RECIPES.values()},
    }
    context = {
        "job": job,
        "recipes": [(recipe, recipe.describe(unit)) for recipe in RECIPES.values()],
        "pages": count,
        "state": state,
        "findings": ", ".join(counted(count, level) for level, count in counts.items() if count),
        "waiting": sum(counts.values()),
        "due": due,
        "on_their_side": on_their_side,
    }
    return render(request, "bench/press.html", context)


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def start(request: HttpRequest, job: Job) -> HttpResponse:
    form = parse_request(request, ExportForm)
    with opened(job.pk) as live:
        follow(live, request.user)
        count = len(live.job.pages)
    job.refresh_from_db()
    options = {"landscape": form.landscape} if form.landscape else {}
    output = outputs.start(job, form.recipe, form.pages, count, request.user, options)
    return JsonResponse(_outputs(job, output))


@job_view
def status(request: HttpRequest, job: Job, pk: int) -> HttpResponse:
    return JsonResponse(_outputs(job, get_object_or_404(Output, pk=pk, job=job)))


@require_POST
@job_view_for(Role.VIEW)
def stop(request: HttpRequest, job: Job, pk: int) -> HttpResponse:
    work.stop(get_object_or_404(Output, pk=pk, job=job))
    return JsonResponse({"state": Output.STOPPED})


def _ready(job: Job, pk: int) -> Output:
    return get_object_or_404(Output, pk=pk, job=job, state=Output.READY)


def _on_disk(place: str) -> Path:
    path = store.local(place)
    if path is None:
        raise Http404
    return path


def file_response(output: PressWork, name: str) -> FileResponse:
    """A finished file, to be taken away under a name."""
    path = _on_disk(output.place)
    name = f"{slugify(name) or 'job'}-{output.recipe}{path.suffix}"
    return FileResponse(path.open("rb"), as_attachment=True, filename=name)


def proofed(output: PressWork, index: int) -> HttpResponse:
    """A page of a finished file, rendered from the file itself: from its plates, where inks are mixed or overprint."""
    if not output.facts or not 0 <= index < output.facts["pages"]:
        raise Http404
    path, recipe = _on_disk(output.proof), RECIPES[output.recipe]
    light = not VARIANTS[recipe.kind].flattened or output.facts["bytes"] <= FLAT_BYTES * output.facts["pages"]
    if output.facts.get("ink", {}).get("simulated") and light:
        png = proof_png(path, index, PROOF_PPI, PROFILES[recipe.profile])
    else:
        target = io.BytesIO()
        page_image(path, index, PROOF_PPI).save(target, "PNG")
        png = target.getvalue()
    response = HttpResponse(png, content_type="image/png")
    response["Cache-Control"] = "private, max-age=86400"
    return response


@job_view
def download(request: HttpRequest, job: Job, pk: int) -> FileResponse:
    return file_response(_ready(job, pk), job.name)


@job_view
def proof(request: HttpRequest, job: Job, pk: int, index: int) -> HttpResponse:
    return proofed(_ready(job, pk), index)
