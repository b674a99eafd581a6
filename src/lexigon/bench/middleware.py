"""Every request has an answer that says what happened: JSON for those that ask for it, a page for the others."""

from __future__ import annotations

import logging
from collections.abc import Callable

from django.core.exceptions import PermissionDenied, RequestDataTooBig, SuspiciousOperation
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render

from lexigon.bench.services.reading import only_reading
from lexigon.bench.services.regions import notation_of, preference
from lexigon.bench.services.storage import Trouble, trouble_of
from lexigon.core.numerals import written_as

log = logging.getLogger(__name__)
UNKNOWN = Trouble(
    500,
    "Something went wrong",
    "Lexigon could not do this because of an error in the program. Everything saved is safe. Try again; details are in "
    "the server’s log.",
)
TOO_LARGE = Trouble(413, "Request too large", "This is more than can be sent at once. Send it in smaller parts.")


def expects_json(request: HttpRequest) -> bool:
    return "application/json" in request.headers.get("Accept", "") or request.content_type == "application/json"


MOST_REQUEST = 1_500_000_000
"""Bytes of a request: many pictures that are imported at once. What is larger is refused before it is read."""


def answer_trouble(request: HttpRequest, trouble: Trouble) -> HttpResponse:
    """Return the answer that reports a trouble, in the form that is expected."""
    if expects_json(request):
        return JsonResponse({"error": trouble.words}, status=trouble.status)
    return render(request, "bench/trouble.html", {"trouble": trouble}, status=trouble.status)


class RefuseLargeRequests:
    """Refuses requests that are too large, from their head (RFC 9110, 15.5.14): reading them would fill the disk."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        length = request.headers.get("Content-Length", "")
        if length.isdecimal() and int(length) > MOST_REQUEST:
            return answer_trouble(request, TOO_LARGE)
        return self.get_response(request)


READS = ("GET", "HEAD", "OPTIONS")


class MarkReads:
    """Marks requests that only read, so that services leave out what they would otherwise write (RFC 9110, 9.2.1)."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if request.method not in READS:
            return self.get_response(request)
        with only_reading():
            return self.get_response(request)


class WriteNumbers:
    """Has numbers written as the country of the reader writes them, for the time of an answer."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        with written_as(lambda: notation_of(preference(request.user).region)):
            return self.get_response(request)


class AnswerErrors:
    """Turns errors that no view expects into answers; they are logged."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_exception(self, request: HttpRequest, error: Exception) -> HttpResponse | None:
        """Return None to leave the error to Django, which has pages of its own for 403 and 404."""
        if isinstance(error, RequestDataTooBig):
            trouble = TOO_LARGE
        elif isinstance(error, (Http404, PermissionDenied, SuspiciousOperation)):
            return None
        else:
            reason = trouble_of(error)
            if reason is None:
                log.error("%s %s", request.method, request.path, exc_info=error)
            trouble = reason or UNKNOWN
        return answer_trouble(request, trouble)
