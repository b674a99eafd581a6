"""What several views need: the asked-for job if it is the user's own, JSON answers, the fonts' style sheet."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any

from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.templatetags.static import static
from django.views.decorators.cache import cache_control

from lexigon.bench.models import Job
from lexigon.bench.services.jobs import Stale
from lexigon.core.colour.profiles import PROFILES, Profile
from lexigon.core.errors import LexigonError
from lexigon.core.paint.svg import font_css, text_css
from lexigon.core.type.fonts import FontFace, shipped


def own_job(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    """Give the view the job itself; strangers, and jobs that are not there, are answered 404 alike. A job that cannot be opened
    is told in words."""

    @login_required
    @wraps(view)
    def wrapped(request: HttpRequest, key: str, *args: Any, **kwargs: Any) -> HttpResponse:
        job = get_object_or_404(Job.objects.of(request.user), pk=key)
        try:
            return view(request, job, *args, **kwargs)
        except LexigonError as error:
            return render(request, "bench/broken.html", {"name": job.name, "words": str(error)}, status=422)

    return wrapped


def answers_json(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    """Turn LexigonError into a JSON answer with its message: 409 for a stale edit, 400 for the rest."""

    @wraps(view)
    def wrapped(request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        try:
            return view(request, *args, **kwargs)
        except Stale as error:
            return JsonResponse({"error": str(error), "stale": True}, status=409)
        except LexigonError as error:
            return JsonResponse({"error": str(error), "field": error.field}, status=400)

    return wrapped


def whole(value: Any, default: int = 0) -> int:
    """A whole number from a query or a form; ``default`` for anything else."""
    try:
        return int(value)
    except (TypeError, ValueError):
        return default


@cache_control(public=True, max_age=86400)
def fonts_css(request: HttpRequest) -> HttpResponse:
    def address(face: FontFace) -> str:
        return static(f"fonts/{face.path.parent.name}/{face.path.name}")

    return HttpResponse(f"{font_css(shipped().faces, address)}\n{text_css()}", content_type="text/css")


@own_job
def job_home(request: HttpRequest, job: Job) -> HttpResponse:
    return redirect("board", key=job.pk)


def not_found(request: HttpRequest, exception: Exception) -> HttpResponse:
    return render(request, "bench/not_found.html", status=404)


def proof_of(request: HttpRequest) -> Profile | None:
    """The printing condition that is shown as a soft proof, by the cookie in which the board keeps it for the job."""
    return PROFILES.get(request.COOKIES.get("lexigon-proof", ""))
