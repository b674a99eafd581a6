"""Pictures: handing them in, and showing them."""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.http import require_POST

from lexigon.bench.models import Job
from lexigon.bench.services import pictures
from lexigon.bench.services.jobs import forget, opened
from lexigon.bench.views.shared import answers_json, job_view, whole
from lexigon.core.colour.profiles import PROFILES
from lexigon.core.document.model import PictureFile
from lexigon.core.fileformat.values import plain
from lexigon.core.picture.files import PictureError
from lexigon.core.picture.looks import LookError, read

MOST_AT_ONCE = 50


@require_POST
@job_view
@answers_json
def add(request: HttpRequest, job: Job) -> HttpResponse:
    """Store uploaded pictures, single or in zip archives; the edit that places them adds them to the job. Refused files
    are reported by name; ``found`` says that a missing file of the job is available again."""
    uploads = request.FILES.getlist("file")
    if not uploads:
        raise PictureError("Select a picture first.")
    if len(uploads) > MOST_AT_ONCE:
        raise PictureError(f"Import at most {MOST_AT_ONCE} pictures at a time.")
    added: list[PictureFile] = []
    refused: list[str] = []
    for one in pictures.take_in(uploads, job.pk):
        if isinstance(one, str):
            refused.append(one)
        else:
            added.append(one)
    if not added:
        raise PictureError(" ".join(refused))
    with opened(job.pk) as live:
        found_again = pictures.restore_missing(live, added)
    if found_again:
        forget(job.pk)  # it is composed anew, with the files that are here again
    rows = [{"file": plain(one), "width": one.size[0], "height": one.size[1]} for one in added]
    return JsonResponse({"pictures": rows, "refused": refused, "found": found_again})


@job_view
def screen_picture(request: HttpRequest, job: Job, name: str, most: int) -> HttpResponse:
    """A picture as the screen shows it; ``look`` describes its adjustments."""
    try:
        look, proof = read(request.GET.get("look", "")), PROFILES.get(request.GET.get("proof", ""))
        data = pictures.screen_picture(name, job.pk, most, look, proof)
    except (PictureError, LookError) as error:
        raise Http404 from error
    if data is None:
        raise Http404
    response = HttpResponse(data, content_type="image/webp")
    response["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


@job_view
@answers_json
def page(request: HttpRequest, job: Job, name: str) -> HttpResponse:
    """The picture that ``page`` of a PDF is, for the edit that takes it."""
    get = request.GET
    result = pictures.of_page(
        name, job.pk, whole(get.get("page"), 1), get.get("key", "")[:40], get.get("name", "")[:120]
    )
    if result is None:
        raise PictureError("The file of this picture is missing.")
    return JsonResponse({"file": plain(result)})


@job_view
@answers_json
def palette(request: HttpRequest, job: Job, name: str) -> HttpResponse:
    """The colours that stand for a picture as it is shown, ``count`` of them at most."""
    colours = pictures.gathered(name, job.pk, whole(request.GET.get("count"), 5), read(request.GET.get("look", "")))
    if colours is None:
        raise PictureError("The file of this picture is missing.")
    return JsonResponse({"colours": colours})


@job_view
@answers_json
def framing(request: HttpRequest, job: Job) -> HttpResponse:
    """Return the position in its frame of the picture of ``object`` on ``page`` (a holder's name)."""
    with opened(job.pk) as live:
        return JsonResponse(pictures.framing(live, *(request.GET.get(name, "") for name in ("page", "object"))))
