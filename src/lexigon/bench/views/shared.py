"""Helpers of several views: the requested job if the user may see it, JSON answers, the fonts' style sheet."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import wraps
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.contrib.auth.models import User
from django.http import HttpRequest, HttpResponse, HttpResponseBase, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.templatetags.static import static
from django.views.decorators.cache import cache_control

from lexigon.bench.forms import ChangeForm
from lexigon.bench.middleware import expects_json
from lexigon.bench.models import Job, Role
from lexigon.bench.services.answers import answer_intents
from lexigon.bench.services.jobs import OpenJob, Stale
from lexigon.bench.services.sharing import role_in
from lexigon.core.colour.profiles import PROFILES, Profile
from lexigon.core.editing.intents import Intent
from lexigon.core.errors import LexigonError
from lexigon.core.paint.svg import font_css, text_css
from lexigon.core.type.fonts import FontFace, shipped

View = Callable[..., HttpResponseBase]


def person(request: HttpRequest) -> User:
    """Return who is signed in. To be called by views that require that."""
    assert isinstance(request.user, User)
    return request.user


def job_view_for(role: Role) -> Callable[[View], View]:
    """A decorator that passes the job itself to a view.

    Users without access, and unknown jobs, are answered 404 in the same way. Everybody with access may read; a POST
    needs ``role``, and is otherwise refused with an explanation (403). A job that cannot be opened is answered with the
    reason.
    """

    def decorated(view: View) -> View:
        @login_required
        @wraps(view)
        def wrapped(request: HttpRequest, key: str, *args: Any, **kwargs: Any) -> HttpResponseBase:
            job = get_object_or_404(Job.objects.of(request.user), pk=key)
            if request.method not in ("GET", "HEAD", "OPTIONS") and not role_in(job, request.user).includes(role):
                return _refused(request, job, role)
            try:
                return view(request, job, *args, **kwargs)
            except LexigonError as error:
                return render(request, "bench/broken.html", {"name": job.name, "words": str(error)}, status=422)

        return wrapped

    return decorated


def job_view(view: View) -> View:
    """``job_view_for`` a view that may change the job: a POST needs the role to edit."""
    return job_view_for(Role.EDIT)(view)


def _refused(request: HttpRequest, job: Job, role: Role) -> HttpResponse:
    words = f"“{job.name}” belongs to {job.owner.get_username()}, who lets you "
    words += (
        "view and comment. Ask them to let you edit it."
        if role == Role.EDIT
        else "work on it, but not share or delete it."
    )
    if expects_json(request):
        return JsonResponse({"error": f"{words} Nothing was changed."}, status=403)
    messages.error(request, words)
    return redirect("shelf")


def answers_json(view: View) -> View:
    """Turn LexigonError into a JSON answer with its message: 409 for a stale edit, 400 for the rest."""

    @wraps(view)
    def wrapped(request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponseBase:
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


@job_view
def job_home(request: HttpRequest, job: Job) -> HttpResponse:
    return redirect("board", key=job.pk)


def not_found(request: HttpRequest, exception: Exception) -> HttpResponse:
    return render(request, "bench/not_found.html", status=404)


def proof_of(request: HttpRequest) -> Profile | None:
    """The printing condition of the soft proof, from the cookie in which the board stores it for the job."""
    return PROFILES.get(request.COOKIES.get("lexigon-proof", ""))


def answer_edit(
    live: OpenJob, request: HttpRequest, form: ChangeForm, intents_of: Callable[[], Sequence[Intent]], **more: Any
) -> JsonResponse:
    """Carry out what a request wants as one change; the answer says what the client's view looks like then, and
    ``more``."""
    return JsonResponse(answer_intents(live, request.user, form, intents_of, proof_of(request)) | more)
