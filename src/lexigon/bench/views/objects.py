"""Objects on the clipboard, and drawings from elsewhere."""

from __future__ import annotations

import json
from html import escape

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.http import require_POST

from lexigon.bench.forms import DrawingForm, OpenPictureForm, SelectionForm, TraceForm, parse_request
from lexigon.bench.models import Job, Role
from lexigon.bench.services.drawings import drawing_from, opened_of, traced_in_inks, tracing_of
from lexigon.bench.services.exporting import svg_of_selection
from lexigon.bench.services.jobs import opened
from lexigon.bench.views.shared import answer_edit, answers_json, job_view, job_view_for
from lexigon.core.colour.colours import css_of
from lexigon.core.document.model import OBJECT
from lexigon.core.editing.intents import clip_of
from lexigon.core.fileformat.values import plain
from lexigon.core.path.steps import data_of

MARK = "data-lexigon-objects"
"""Names the attribute that carries objects; ``js/board/carrying.js`` reads it back."""


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def copy(request: HttpRequest, job: Job) -> HttpResponse:
    """Return the selection as HTML with the objects, as plain text, and as a drawing for other programs."""
    form = parse_request(request, SelectionForm)
    with opened(job.pk) as live:
        clip = clip_of(live.job, form.objects)
        drawing = svg_of_selection(live, form.objects)
    words = "\n".join(
        p.text.replace(OBJECT, "") for story in clip.stories if story.kind == "text" for p in story.paragraphs
    )
    own = escape(json.dumps(plain(clip), ensure_ascii=False), quote=True)
    rows = "".join(f"<p>{escape(line, quote=False)}</p>" for line in words.split("\n") if line)
    return JsonResponse({"html": f'<div {MARK}="{own}">{rows or "&#160;"}</div>', "text": words, "svg": drawing})


@require_POST
@job_view
@answers_json
def drawing(request: HttpRequest, job: Job) -> HttpResponse:
    """An SVG put on a page as shapes, in one change; the answer says what of it was left out."""
    form = parse_request(request, DrawingForm)
    with opened(job.pk) as live:
        intent, left = drawing_from(live, form.svg, form.page, form.at, form.layer)
        return answer_edit(live, request, form, lambda: [intent], left=left)


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def tracing(request: HttpRequest, job: Job) -> HttpResponse:
    """Return what a picture would be traced to: each shape's outline in parts of the picture and its colour, and how
    many nodes there are."""
    form = parse_request(request, TraceForm)
    with opened(job.pk) as live:
        intent = tracing_of(live, form.page, form.object, form.colours, form.detail)
    shapes = [
        {"d": data_of(one.steps, 5), "css": css_of(one.fill)}
        for one in intent.drawing.shapes
        if isinstance(one.fill, tuple)
    ]
    return JsonResponse({"shapes": shapes, "nodes": intent.nodes})


@require_POST
@job_view
@answers_json
def open_up(request: HttpRequest, job: Job) -> HttpResponse:
    """A drawn picture opened to the shapes it is made of, as one change; the answer says what of it was left out."""
    form = parse_request(request, OpenPictureForm)
    with opened(job.pk) as live:
        intent, left = opened_of(live, form.page, form.object, form.keep)
        return answer_edit(live, request, form, lambda: [intent], left=left)


@require_POST
@job_view
@answers_json
def trace(request: HttpRequest, job: Job) -> HttpResponse:
    """A picture traced to shapes in the job's inks, as one change."""
    form = parse_request(request, TraceForm)
    with opened(job.pk) as live:
        intent = tracing_of(live, form.page, form.object, form.colours, form.detail)
        return answer_edit(
            live, request, form, lambda: [traced_in_inks(live, intent, form.page, form.object, form.keep)]
        )
