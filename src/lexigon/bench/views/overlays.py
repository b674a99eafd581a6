"""A printer's template laid over the board: handing it in, and its picture. It never prints."""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.http import require_POST

from lexigon.bench.models import Job
from lexigon.bench.services import pictures
from lexigon.bench.services.files import Files
from lexigon.bench.services.jobs import opened
from lexigon.bench.views.shared import answers_json, job_view
from lexigon.core.document.model import Overlay
from lexigon.core.document.story_text import new_id
from lexigon.core.editing.intents import PutOverlay
from lexigon.core.picture.files import MOST_BYTES
from lexigon.core.picture.placed import PlacedError, look, rendering


@require_POST
@job_view
@answers_json
def add(request: HttpRequest, job: Job) -> HttpResponse:
    """Lay an uploaded PDF or picture over a page, at actual size, centred, half transparent."""
    upload = request.FILES.get("file")
    if upload is None:
        raise PlacedError("Select a PDF or a picture first.")
    if upload.size and upload.size > MOST_BYTES:
        raise PlacedError(f"The file has {upload.size / 1e6:.0f} MB; a template has at most {MOST_BYTES // 10**6} MB.")
    name = str(upload.name)[:120]
    file = pictures.keep_one(
        name, upload.read(), job.pk
    ).file  # refused here where it cannot be shown, not on the board
    template = look(Files(job.pk).read(file) or b"")
    with opened(job.pk) as live:
        page = request.POST.get("page") or None
        overlay = Overlay(new_id("o"), name, file, template.width, template.height, page=page)
        live.do([PutOverlay(overlay)], request.user)
    return JsonResponse({"id": overlay.id})


@job_view
def picture(request: HttpRequest, job: Job, overlay: str) -> HttpResponse:
    with opened(job.pk) as live:
        overlay_ = live.job.overlays.get(overlay)
    data = Files(job.pk).read(overlay_.file) if overlay_ else None
    if data is None:
        raise Http404
    response = HttpResponse(rendering(data), content_type="image/png")
    response["Cache-Control"] = "private, max-age=31536000, immutable"
    return response
