"""The board's questions about type, answered as JSON: spec lines, texture, words found, styles, text made to fit."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404
from django.views.decorators.http import require_POST

from lexigon.bench.forms import FittingForm, SpecLineForm, StyleImportForm, StyleLineForm, parse_request
from lexigon.bench.models import Job, Role
from lexigon.bench.services import choosing, inks, outlining, sampling, searching, speclines, textures
from lexigon.bench.services import styles as styling
from lexigon.bench.services.jobs import opened
from lexigon.bench.views.shared import answer_edit, answers_json, job_view, job_view_for, whole
from lexigon.core.editing.intents import BringStyles, Intent
from lexigon.core.editing.intents.styles.changing import styles_of, uses_of
from lexigon.core.editing.swatch_uses import swatch_uses
from lexigon.core.errors import LexigonError
from lexigon.core.flow.fit_actions import cut_at, fit_once
from lexigon.core.flow.story_growth import growing
from lexigon.core.paint.outlines import outlined


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def spec(request: HttpRequest, job: Job) -> HttpResponse:
    """Return what a spec line says and would do to the selection; with ``do`` it is done, as one change."""
    form = parse_request(request, SpecLineForm)
    with opened(job.pk) as live:
        if form.show:
            return JsonResponse(speclines.describe_selection(live, form))
        understood, answer = speclines.read_line(live, form)
        if not form.do:
            return JsonResponse(answer)
        if answer["unknown"]:
            raise LexigonError("The line was not understood. Nothing was changed.")
        return answer_edit(live, request, form, lambda: speclines.intents_of(live, understood, form))


@job_view
@answers_json
def texture(request: HttpRequest, job: Job) -> HttpResponse:
    """The marks on pages ``pages`` (indexes with commas); with ``step`` the next page that has some of ``kinds``."""
    get = request.GET
    with opened(job.pk) as live:
        if get.get("step"):
            step = 1 if whole(get.get("step"), 1) > 0 else -1
            kinds = set(get.get("kinds", "").split(","))
            return JsonResponse({"page": textures.next_texture(live, whole(get.get("page")), kinds, step)})
        pages = [whole(part, -1) for part in get.get("pages", "").split(",")[:4]]
        return JsonResponse(textures.texture(live, pages, get.get("story", "")))


@job_view
@answers_json
def alike(request: HttpRequest, job: Job) -> HttpResponse:
    """The ids of objects on all pages that share ``by`` with ``object`` on ``page``: kind, fill, edge (stroke), style
    or layer."""
    with opened(job.pk) as live:
        return JsonResponse({"ids": choosing.alike(live, *(request.GET.get(n, "") for n in ("page", "object", "by")))})


@job_view
@answers_json
def sampled(request: HttpRequest, job: Job) -> HttpResponse:
    """The colour at ``x``, ``y`` of ``page`` (by what edits call it), in points from its corner."""
    try:
        x, y = (float(request.GET.get(name, "")) for name in ("x", "y"))
    except ValueError as error:
        raise LexigonError("The request names no point.") from error
    with opened(job.pk) as live:
        return JsonResponse(sampling.sample_colour(live, request.GET.get("page", ""), x, y))


@job_view
@answers_json
def nodes(request: HttpRequest, job: Job) -> HttpResponse:
    """The nodes of the outline of ``object`` on ``page`` (by what edits call it)."""
    with opened(job.pk) as live:
        return JsonResponse(outlining.nodes(live, *(request.GET.get(name, "") for name in ("page", "object"))))


@job_view
@answers_json
def remedies(request: HttpRequest, job: Job) -> HttpResponse:
    with opened(job.pk) as live:
        return JsonResponse(textures.remedies(live, *(request.GET.get(name, "") for name in ("story", "p", "kind"))))


@job_view
@answers_json
def find(request: HttpRequest, job: Job) -> HttpResponse:
    get = request.GET
    words = get.get("words", "")
    if not words or len(words) > 400:
        raise LexigonError("Type what to find, at most 400 characters.")
    flags = [get.get(name) == "1" for name in ("case", "whole", "pattern")]
    with opened(job.pk) as live:
        return JsonResponse(searching.find(live, get.get("story", ""), words, *flags))


@require_POST
@job_view
@answers_json
def fit(request: HttpRequest, job: Job) -> HttpResponse:
    """Do an action whose result depends on the composed text: fit, add frames, divide or outline. One change."""
    form = parse_request(request, FittingForm)

    def fitting_intents() -> list[Intent]:
        if form.what == "frames":
            return [growing(live.workspace.composition, form.story or "")]
        if form.what == "cut":
            return cut_at(live.workspace.composition, form.frame)
        if form.what == "outlines":
            return [outlined(live.workspace.composition, form.page, form.frame)]
        return fit_once(live.workspace.composition, form.frame, form.what)

    with opened(job.pk) as live:
        return answer_edit(live, request, form, fitting_intents)


@job_view
@answers_json
def styles(request: HttpRequest, job: Job) -> HttpResponse:
    with opened(job.pk) as live:
        return JsonResponse(styling.styles(live))


@job_view
@answers_json
def one_style(request: HttpRequest, job: Job) -> HttpResponse:
    with opened(job.pk) as live:
        return JsonResponse(styling.one_style(live, *(request.GET.get(name, "") for name in ("kind", "id"))))


@job_view
@answers_json
def previews(request: HttpRequest, job: Job) -> HttpResponse:
    """Styles by kind and id, each name set in its style."""
    get = request.GET
    kind = get.get("kind", "paragraph")
    with opened(job.pk) as live:
        ids = get.get("ids", "").split(",")[:200]
        styles = styles_of(live.job, kind) if kind in ("paragraph", "character", "rule") else {}
        images = {
            key: styling.preview(live, kind, key, 230.0, get.get("words", "")[:60]) for key in ids if key in styles
        }
        return JsonResponse({"previews": images})


@job_view
@answers_json
def uses(request: HttpRequest, job: Job) -> HttpResponse:
    """Every place a style or a swatch is used, with its page."""
    kind, key = request.GET.get("kind", "paragraph"), request.GET.get("id", "")
    with opened(job.pk) as live:
        uses = swatch_uses(live.job, key) if kind == "swatch" else uses_of(live.job, kind, key)
        return JsonResponse(inks.use_rows(live, uses))


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def style_line(request: HttpRequest, job: Job) -> HttpResponse:
    """A style's spec line as it was edited: what that changes."""
    form = parse_request(request, StyleLineForm)
    with opened(job.pk) as live:
        return JsonResponse(styling.style_from_line(live, form.kind, form.id, form.line, form.edited))


@require_POST
@job_view
@answers_json
def bring(request: HttpRequest, job: Job) -> HttpResponse:
    """Import the styles of another job."""
    form = parse_request(request, StyleImportForm)
    other = get_object_or_404(Job.objects.of(request.user), pk=form.source)
    with opened(other.pk) as there:
        source = there.job
        has = there.files.has
        intent = BringStyles(
            tuple(source.paragraph_styles.values()),
            tuple(source.character_styles.values()),
            tuple(source.frame_styles.values()),
            tuple(source.rule_styles.values()),
            tuple(f for f in source.fonts.values() if has(f.file)),
            form.over,
        )
    with opened(job.pk) as live:
        return answer_edit(live, request, form, lambda: [intent])
