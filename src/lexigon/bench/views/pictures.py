"""Pictures: handing them in, and showing them."""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.http import require_POST

from lexigon.bench.models import Job
from lexigon.bench.services import pictures
from lexigon.bench.services.jobs import forget, opened
from lexigon.bench.views.shared import answers_json, job_view, whole
from lexigon.core.colour.profiles import PROFILES
from lexigon.core.job.model import PictureFile
from lexigon.core.job.serial import plain
from lexigon.core.picture.files import PictureError
from lexigon.core.picture.looks import LookError, read

MOST_AT_ONCE = 50


@require_POST
@job_view
@answers_json
def add(request: HttpRequest, job: Job) -> HttpResponse:
    """Keep pictures that are handed in, single or in zip archives; the edit that places them brings them into the job. Those refused are
    told by name; ``found`` says that a file the job missed is here again."""
    uploads = request.FILES.getlist("file")
    if not uploads:
        raise PictureError("Select a picture first.")
    if len(uploads) > MOST_AT_ONCE:
        raise PictureError(f"Import at most {MOST_AT_ONCE} pictures at a time.")
    made: list[PictureFile] = []
    refused: list[str] = []
    for one in pictures.take_in(uploads, job.pk):
        if isinstance(one, str):
            refused.append(one)
        else:
            made.append(one)
    if not made:
        raise PictureError(" ".join(refused))
    with opened(job.pk) as live:
        found = pictures.found_again(live, made)
    if found:
        forget(job.pk)  # it is composed anew, with the files that are here again
    told = [{"file": plain(one), "width": one.size[0], "height": one.size[1]} for one in made]
    return JsonResponse({"pictures": told, "refused": refused, "found": found})


@job_view
def shown(request: HttpRequest, job: Job, name: str, most: int) -> HttpResponse:
    """A picture as the screen shows it; ``look`` says how it is shown otherwise than its file has it."""
    try:
        look, proof = read(request.GET.get("look", "")), PROFILES.get(request.GET.get("proof", ""))
        data = pictures.shown(name, job.pk, most, look, proof)
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
    found = pictures.of_page(
        name, job.pk, whole(get.get("page"), 1), get.get("key", "")[:40], get.get("name", "")[:120]
    )
    if found is None:
        raise PictureError("The file of this picture is missing.")
    return JsonResponse({"file": plain(found)})


@job_view
@answers_json
def palette(request: HttpRequest, job: Job, name: str) -> HttpResponse:
    """The colours that stand for a picture as it is shown, ``count`` of them at most."""
    found = pictures.gathered(name, job.pk, whole(request.GET.get("count"), 5), read(request.GET.get("look", "")))
    if found is None:
        raise PictureError("The file of this picture is missing.")
    return JsonResponse({"colours": found})


@job_view
@answers_json
def framing(request: HttpRequest, job: Job) -> HttpResponse:
    """Return the position in its frame of the picture of ``object`` on ``page`` (a holder's name)."""
    with opened(job.pk) as live:
        return JsonResponse(pictures.framing(live, *(request.GET.get(name, "") for name in ("page", "object"))))
