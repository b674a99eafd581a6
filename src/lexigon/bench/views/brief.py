"""The Brief: setting a job of any kind up, and changing its set-up later."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from lexigon.bench.drawing import draw
from lexigon.bench.forms import FoldOutForm, NameForm, SavedSetUpForm, SetUpForm, parse_request
from lexigon.bench.models import Job, KeptSetup
from lexigon.bench.services import ties
from lexigon.bench.services.describing import NO_TYPE
from lexigon.bench.services.duplicates import duplicate, name_of_copy
from lexigon.bench.services.following import follow, is_due
from lexigon.bench.services.jobs import OpenJob, create_job, opened
from lexigon.bench.services.regions import preference
from lexigon.bench.views.shared import answers_json, job_view, person, whole
from lexigon.core.brief.binding import BINDINGS
from lexigon.core.brief.findings import notes
from lexigon.core.brief.kinds import BASE, KINDS, defaults
from lexigon.core.brief.paper import PAPERS
from lexigon.core.brief.setup import (
    ANCHORS,
    LANGUAGES,
    SIDES,
    Setup,
    changed,
    field_values,
    folded_out,
    in_unit,
    own_families,
    read_setup,
    usual,
)
from lexigon.core.brief.sizes import SIZES, grouped, named
from lexigon.core.document.brief_rules import FOLDS
from lexigon.core.document.model import Job as ModelJob
from lexigon.core.document.model import Paper
from lexigon.core.errors import LexigonError
from lexigon.core.geometry import Rect
from lexigon.core.lengths import POINTS, show
from lexigon.core.plural import counted
from lexigon.core.type.fonts import shipped

UNITS = (("mm", "mm"), ("cm", "cm"), ("in", "in"), ("pt", "pt"), ("p", "pica"), ("px", "px"))


def _size(values: Mapping[str, str]) -> str:
    """The id of the named size that was typed, or "" ."""
    setup, _ = read_setup({**values, "pages": values.get("pages") or "1"})
    if setup is None:
        return ""
    form = setup.brief.form
    return named(form.width, form.height) if form else named(setup.brief.width, setup.brief.height)


def _papers(papers: Mapping[str, Paper]) -> list[dict[str, str]]:
    return [
        {
            "id": p.id,
            "name": p.name,
            "inches": f"{p.page / POINTS['in']:.6f}".rstrip("0"),
            "microns": f"{p.page * 2 / POINTS['mm'] * 1000:.0f}",
            "weight": p.weight,
            "opacity": "" if p.opacity is None else f"{p.opacity * 100:.0f}",
        }
        for p in papers.values()
    ]


def _reading(values: dict[str, str], papers: Mapping[str, Paper], live: OpenJob | None = None) -> dict[str, Any]:
    """Return the reading of typed values: drawing, notes, errors by field; with a job, also how its objects would
    move."""
    setup, errors = read_setup(values, papers, own_families(live.job) if live else ())
    answer: dict[str, Any] = {"errors": errors, "drawing": None, "notes": [], "size": _size(values)}
    if setup is None:
        return answer
    pages = setup.pages if live is None else len(live.job.pages)
    ghosts: list[list[Rect]] = []
    if live is not None:
        ghosts = _standing(live.job)
        answer["before"] = draw(_present(live.job), ghosts, live.workspace.composition.library)
        try:
            ghosts = _standing(changed(live.job, setup, _anchor(values)))
        except LexigonError as error:
            errors[error.field or "name"] = str(error)
            return answer
    answer["drawing"] = draw(setup, ghosts, live.workspace.composition.library if live else None)
    answer["notes"] = [{"place": n.place, "tone": n.tone, "text": n.text} for n in notes(setup, pages)]
    return answer


def _present(job: ModelJob) -> Setup:
    setup, errors = read_setup(field_values(job), job.papers or PAPERS, own_families(job))
    if setup is None:
        raise LexigonError(next(iter(errors.values())))
    return setup


def _standing(job: ModelJob) -> list[list[Rect]]:
    """The frames of the pages that the drawing shows: a spread, or both faces of a sheet."""
    first = 1 if job.brief.facing and len(job.pages) > 1 and not job.brief.form else 0
    if job.brief.facing and not job.brief.form and len(job.pages) == 1:
        return [[], [job.frame_rect(f, 0) for f in job.pages[0].frames]]
    return [[job.frame_rect(f, i) for f in job.pages[i].frames] for i in range(first, min(first + 2, len(job.pages)))]


def _anchor(values: Mapping[str, str]) -> Any:
    return values.get("anchor") if values.get("anchor") in ANCHORS else "margins"


def _page(
    request: HttpRequest,
    values: dict[str, str],
    errors: dict[str, str],
    job: Job | None = None,
    live: OpenJob | None = None,
    saved_setup: int = 0,
) -> HttpResponse:
    papers = (live.job.papers if live else None) or PAPERS
    try:
        reading = _reading(values, papers, live)
    except LexigonError as error:
        reading = {"errors": {error.field or "name": str(error)}, "drawing": None, "notes": [], "size": ""}
    reading["errors"] = {**reading["errors"], **errors}
    interiors = Job.objects.of(request.user).filter(kind__in=("book", "magazine"), template=False)
    context = {
        "job": job,
        "due": bool(live and request.method == "GET" and is_due(live, request.user)),
        "values": values,
        "errors": reading["errors"],
        "sizes": grouped(),
        "units": UNITS,
        "kinds": KINDS.values(),
        "kind": KINDS.get(values["kind"], KINDS["book"]),
        "languages": LANGUAGES.items(),
        "sides": SIDES,
        "pages": len(live.job.pages) if live else 0,
        "bindings": BINDINGS.items(),
        "folds": FOLDS.items(),
        "papers": papers.values(),
        "anchors": ANCHORS.items(),
        "interiors": interiors,
        "families": sorted({*shipped().families, *(own_families(live.job) if live else ())} - {NO_TYPE}),
        "kept": saved_setup,
        "drawing": reading["drawing"] or "",
        "setups": KeptSetup.objects.filter(owner=person(request)),
        "templates": Job.objects.of(request.user).filter(template=True),
        "standing": bool(live and any(page.objects for page in live.job.pages)),
        "can_fold": bool(live and live.job.brief.form is None and not live.job.main_story and len(live.job.pages) <= 2),
        "state": {**reading, "values": values, "job": job.pk if job else "", "papers": _papers(papers)},
    }
    return render(request, "bench/brief.html", context, status=400 if errors else 200)


def _posted(request: HttpRequest) -> dict[str, str]:
    """The form as it was posted; boxes that are not ticked are not sent."""
    return {
        "facing": "",
        "main": "",
        "grid": "",
        **{k: str(v) for k, v in request.POST.items() if k in BASE or k == "anchor"},
    }


@login_required
def new(request: HttpRequest) -> HttpResponse:
    """A new job, from typed values, a saved set-up or a template; what was typed as its name stays while one of these
    is selected."""
    name = (request.POST if request.method == "POST" else request.GET).get("name", "").strip()[:200]
    if key := (request.POST if request.method == "POST" else request.GET).get("template"):
        return _from_template(request, get_object_or_404(Job.objects.of(request.user), pk=key, template=True), name)
    if request.method == "POST":
        values = {**defaults(request.POST.get("kind", "book")), **_posted(request)}
        values = ties.filled(request.user, values)
        setup, errors = read_setup(values)
        if setup is None:
            return _page(request, values, errors)
        row = create_job(request.user, setup.new_job())
        return redirect("manuscript" if setup.kind.id == "book" else "board", key=row.pk)
    values = usual(request.GET.get("kind", "book"), preference(request.user).unit)
    saved = KeptSetup.objects.filter(owner=person(request), pk=whole(request.GET.get("from"))).first()
    if saved is not None:
        values = {**defaults(saved.values.get("kind", "book")), **saved.values}
    return _page(request, {**values, "name": name}, {}, saved_setup=saved.pk if saved else 0)


def _from_template(request: HttpRequest, template: Job, name: str) -> HttpResponse:
    """A job begins as a template; nothing is made before it is asked for."""
    if request.method == "POST":
        row = duplicate(request.user, template, name or name_of_copy(template), text="text" in request.POST)
        return redirect("board", key=row.pk)
    with opened(template.pk) as live:
        words = (
            sum(len(p.text.split()) for p in live.job.stories[live.job.main_story].paragraphs)
            if live.job.main_story
            else 0
        )
        values, pages = field_values(live.job), len(live.job.pages)
        drawing = _reading(values, live.job.papers or PAPERS, live)["drawing"]
    context = {
        "template": template,
        "name": name,
        "usual_name": name_of_copy(template),
        "drawing": drawing or "",
        "words": counted(words, "word") if words else "",
        "pages": pages,
        "kind": KINDS.get(values["kind"], KINDS["book"]),
        "setups": KeptSetup.objects.filter(owner=person(request)),
        "templates": Job.objects.of(request.user).filter(template=True),
    }
    return render(request, "bench/from_template.html", context)


@job_view
def edit(request: HttpRequest, job: Job) -> HttpResponse:
    with opened(job.pk) as live:
        if request.method != "POST":
            presets = {"anchor": "panels"} if live.job.brief.form else {}
            return _page(request, {**field_values(live.job), **presets}, {}, job, live)
        follow(live, request.user)
        values = ties.filled(request.user, {**field_values(live.job), **_posted(request), "kind": live.job.kind})
        setup, errors = read_setup(values, live.job.papers or PAPERS, own_families(live.job))
        if setup is None:
            return _page(request, values, errors, job, live)
        try:
            live.do([setup.change(live.job, _anchor(values))], request.user)
        except LexigonError as error:
            return _page(request, values, {error.field or "name": str(error)}, job, live)
    return redirect("brief", key=job.pk)


@require_POST
@login_required
@answers_json
def reading(request: HttpRequest) -> HttpResponse:
    """Return what the typed values mean, while they are typed: the drawing, or what is wrong by field.

    ``unit_to`` asks for the same lengths in another unit; ``size`` for a named size in place of the typed one;
    ``kind`` for another kind's usual values.
    """
    form = parse_request(request, SetUpForm)
    values = dict(form.values)
    if form.kind:
        values = {**usual(form.kind, preference(request.user).unit), "name": values.get("name", "")}
    values = ties.filled(
        request.user, {**defaults(values.get("kind", "book")), "facing": "", "main": "", "grid": "", **values}
    )
    if form.unit_to in POINTS:
        values = in_unit(values, form.unit_to, "" if form.job else values["kind"])
    size = SIZES.get(form.size)
    if size:
        unit = values.get("unit", size.unit)
        values["width"], values["height"] = show(size.width, unit), show(size.height, unit)
    if form.turn:
        values["width"], values["height"] = values.get("height", ""), values.get("width", "")
    if not form.job:
        return JsonResponse({**_reading(values, PAPERS), "values": values})
    row = get_object_or_404(Job.objects.of(request.user), pk=form.job)
    with opened(row.pk) as live:
        values["kind"] = live.job.kind
        return JsonResponse({**_reading(values, live.job.papers or PAPERS, live), "values": values})


@require_POST
@job_view
@answers_json
def fold_out(request: HttpRequest, job: Job) -> HttpResponse:
    """Grow a finished flat card to a folded one."""
    direction = parse_request(request, FoldOutForm).direction
    with opened(job.pk) as live:
        live.do([folded_out(live.job, direction)], request.user)
    return JsonResponse({"ok": True})


@require_POST
@login_required
@answers_json
def keep_setup(request: HttpRequest) -> HttpResponse:
    """Save the typed values under a name, replacing a set-up of the same name."""
    form = parse_request(request, SavedSetUpForm)
    name = " ".join(form.name.split())[:80]
    if not name:
        raise LexigonError("Type a name for the set-up.", "keep")
    values = {name: value for name, value in form.values.items() if name in BASE}
    setup, errors = read_setup(values)
    if setup is None:
        raise LexigonError(f"Correct this first: {next(iter(errors.values()))}", "keep")
    KeptSetup.objects.update_or_create(owner=person(request), name=name, defaults={"values": values})
    return _saved_setups(request)


@require_POST
@login_required
@answers_json
def change_setup(request: HttpRequest, pk: int) -> HttpResponse:
    """Rename a saved set-up, or delete it if no name is given."""
    saved = get_object_or_404(KeptSetup, pk=pk, owner=person(request))
    name = " ".join(parse_request(request, NameForm).name.split())[:80]
    if not name:
        gone = {"name": saved.name, "values": saved.values}
        saved.delete()
        return _saved_setups(request, gone)
    if KeptSetup.objects.filter(owner=person(request), name=name).exclude(pk=pk).exists():
        raise LexigonError(f"There is a set-up “{name}” already.", "keep")
    saved.name = name
    saved.save()
    return _saved_setups(request)


def _saved_setups(request: HttpRequest, gone: dict[str, Any] | None = None) -> JsonResponse:
    """The saved set-ups, and the values of one that was just deleted, so that it can be saved again."""
    rows = KeptSetup.objects.filter(owner=person(request))
    return JsonResponse({"setups": [{"id": row.pk, "name": row.name} for row in rows], "gone": gone})
