"""Pictures: handing them in, and showing them."""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.http import require_POST

from lexigon.bench.models import Job
from lexigon.bench.services import pictures
from lexigon.bench.services.jobs import opened
from lexigon.bench.views.shared import answers_json, own_job
from lexigon.core.job.serial import plain
from lexigon.core.picture.files import PictureError
from lexigon.core.picture.looks import LookError, read

MOST_AT_ONCE = 50


@require_POST
@own_job
@answers_json
def add(request: HttpRequest, job: Job) -> HttpResponse:
    """Keep pictures that are handed in; the edit that places them brings them into the job. Those refused are told by name."""
    uploads = request.FILES.getlist("file")
    if not uploads:
        raise PictureError("Choose a picture first.")
    if len(uploads) > MOST_AT_ONCE:
        raise PictureError(f"Bring in at most {MOST_AT_ONCE} pictures at a time.")
    made, refused = [], []
    for upload in uploads:
        try:
            one = pictures.handed_in(upload, job.owner_id)
        except PictureError as error:
            refused.append(str(error))
        else:
            width, height = one.size
            made.append({"file": plain(one), "width": width, "height": height})
    if not made:
        raise PictureError(" ".join(refused))
    return JsonResponse({"pictures": made, "refused": refused})


@own_job
def shown(request: HttpRequest, job: Job, name: str, most: int) -> HttpResponse:
    """A picture as the screen shows it; ``look`` says how it is shown otherwise than its file has it."""
    try:
        data = pictures.shown(name, job.owner_id, most, read(request.GET.get("look", "")))
    except (PictureError, LookError) as error:
        raise Http404 from error
    if data is None:
        raise Http404
    response = HttpResponse(data, content_type="image/webp")
    response["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


@own_job
@answers_json
def framing(request: HttpRequest, job: Job) -> HttpResponse:
    """How the picture of ``object`` on ``page`` (by what edits call it) stands in its frame."""
    with opened(job.pk) as live:
        return JsonResponse(pictures.framing(live, *(request.GET.get(name, "") for name in ("page", "object"))))
