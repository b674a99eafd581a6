"""The fonts of a job: the list to choose from, imported files, and those files for the browser."""

from __future__ import annotations

from django.http import FileResponse, Http404, HttpRequest, HttpResponse, JsonResponse
from django.urls import reverse
from django.views.decorators.http import require_POST

from lexigon.bench.models import Job
from lexigon.bench.services import fonts, spreads
from lexigon.bench.services.files import Files
from lexigon.bench.services.jobs import opened
from lexigon.bench.views.shared import answers_json, job_view
from lexigon.core.errors import LexigonError
from lexigon.core.paint.svg import font_css
from lexigon.core.type.fonts import LARGEST, FontFace

MOST_FILES = 40


@job_view
@answers_json
def listed(request: HttpRequest, job: Job) -> HttpResponse:
    with opened(job.pk) as live:
        return JsonResponse({"families": fonts.described(live)})


@require_POST
@job_view
@answers_json
def add(request: HttpRequest, job: Job) -> HttpResponse:
    """Import font files: all of them in one step, or none."""
    uploads = request.FILES.getlist("file")
    if not uploads or len(uploads) > MOST_FILES:
        raise LexigonError(f"Select one to {MOST_FILES} font files.")
    for upload in uploads:
        if upload.size and upload.size > LARGEST:
            raise LexigonError(f"“{upload.name}” is larger than {LARGEST // 10**6} MB. Nothing was changed.")
    intents = fonts.import_intents([(str(upload.name)[:120], upload.read()) for upload in uploads], job.pk)
    with opened(job.pk) as live:
        change = live.do(list(intents), request.user)
        families = sorted({intent.font.family for intent in intents})
        return JsonResponse(
            {
                **spreads.state(live, request.user),
                "lists": spreads.lists(live),
                "brought": families,
                "new": bool(change.edits),
            }
        )


@job_view
def css(request: HttpRequest, job: Job) -> HttpResponse:
    """The @font-face rules of the job's own fonts."""
    with opened(job.pk) as live:
        own = live.workspace.composition.library.own

    def address(face: FontFace) -> str:
        return reverse("font-file", args=[job.pk, face.path.name])

    response = HttpResponse(font_css(own, address), content_type="text/css")
    response["Cache-Control"] = "private, no-cache"
    return response


@job_view
def font_file(request: HttpRequest, job: Job, name: str) -> HttpResponse | FileResponse:
    with opened(job.pk) as live:
        own = any(font.file == name for font in live.job.fonts.values())
    path = Files(job.pk).path_of(name) if own else None
    if path is None:
        raise Http404
    response = FileResponse(path.open("rb"), content_type="font/sfnt")
    response["Cache-Control"] = "private, max-age=31536000, immutable"
    return response
