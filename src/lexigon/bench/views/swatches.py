"""Swatches: what a mixture looks like, palette files in and out."""

from __future__ import annotations

import io

from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.utils.text import slugify
from django.views.decorators.http import require_POST

from lexigon.bench.forms import SelectionForm, parse_request
from lexigon.bench.models import Job, Role
from lexigon.bench.services import inks
from lexigon.bench.services.jobs import opened
from lexigon.bench.views.shared import answers_json, job_view, job_view_for, proof_of
from lexigon.core.colour.notation import read_colour
from lexigon.core.colour.palettes import MOST_BYTES, SUFFIXES, read_palette, write_palette
from lexigon.core.colour.printable import picked as colour_at
from lexigon.core.colour.printable import printable_map
from lexigon.core.colour.profiles import COATED, PROFILES
from lexigon.core.editing.intents import PutSwatch
from lexigon.core.editing.intents.colour.recolouring import swatches_of
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import plain


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def mix(request: HttpRequest, job: Job) -> HttpResponse:
    """Return what a swatch would look like, before it is made or changed."""
    form = parse_request(request, PutSwatch)
    with opened(job.pk) as live:
        return JsonResponse(inks.mixed(live, form, proof_of(request)))


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def palette(request: HttpRequest, job: Job) -> HttpResponse:
    """The swatches of a palette file that was handed in, for the client to bring into the job."""
    upload = request.FILES.get("file")
    if upload is None:
        raise LexigonError("Select a palette file.")
    if upload.size is not None and upload.size > MOST_BYTES:
        raise LexigonError("A palette file has at most 4 MB.")
    return JsonResponse({"swatches": [plain(one) for one in read_palette(upload.read())]})


@job_view
def save_palette(request: HttpRequest, job: Job, form: str) -> HttpResponse:
    """The job's swatches as a palette file."""
    palette_form = next((one for one in SUFFIXES if one == form), None)
    if palette_form is None:
        raise Http404
    with opened(job.pk) as live:
        data = write_palette(live.job.swatches, palette_form, live.job.name)
    kind = "application/json" if form == "lexigon" else "text/plain; charset=utf-8"
    name = f"{slugify(job.name) or 'job'}{SUFFIXES[palette_form]}"
    return HttpResponse(data, content_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})


@job_view
@answers_json
def typed(request: HttpRequest, job: Job) -> HttpResponse:
    """Return what a colour is that is typed, such as c60 m10: its space and its values."""
    space, values = read_colour(request.GET.get("text", "")[:200])
    return JsonResponse({"space": space, "values": values})


@job_view
@answers_json
def counterpart(request: HttpRequest, job: Job, ink_set: str, tone: str) -> HttpResponse:
    """The light or dark counterpart of an ink set, and the edit that adds it."""
    known_tone = next((one for one in inks.TONES if one == tone), None)
    if known_tone is None:
        raise Http404
    with opened(job.pk) as live:
        return JsonResponse(inks.counterpart(live, ink_set, known_tone))


@job_view
@answers_json
def laid(request: HttpRequest, job: Job) -> HttpResponse:
    """Return where the gradient goes that fills ``object`` on ``page`` (by what edits call it)."""
    with opened(job.pk) as live:
        return JsonResponse(inks.laid(live, *(request.GET.get(name, "") for name in ("page", "object"))))


@job_view
def printable(request: HttpRequest, job: Job, light: int) -> HttpResponse:
    """The colours of a lightness that the press reaches, as a picture."""
    if light > 100:
        raise Http404
    out = io.BytesIO()
    printable_map(light, PROFILES.get(request.GET.get("proof", ""), COATED)).save(out, "PNG")
    return HttpResponse(out.getvalue(), content_type="image/png", headers={"Cache-Control": "private, max-age=86400"})


@job_view
@answers_json
def picked(request: HttpRequest, job: Job) -> HttpResponse:
    """A colour of that map in each notation of a swatch: ``lab`` is its L*, a* and b*."""
    _, values = read_colour(f"lab {request.GET.get('lab', '')[:60]}")
    light, a, b = values
    return JsonResponse(colour_at((100 * light, 255 * a - 128, 255 * b - 128), proof_of(request) or COATED))


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def chosen(request: HttpRequest, job: Job) -> HttpResponse:
    """List the swatches that the selection uses, with how often."""
    form = parse_request(request, SelectionForm)
    with opened(job.pk) as live:
        return JsonResponse({"used": list(swatches_of(live.job, form.objects).items())})
