"""The Manuscript: uploading a manuscript, viewing its survey, pouring it."""

from __future__ import annotations

import json
import mimetypes
from typing import Any

from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.utils.text import slugify
from django.views.decorators.http import require_POST

from lexigon.bench import models
from lexigon.bench.forms import AcceptedChangesForm, HouseStyleForm, NewStyleForm, PourForm, TypingForm, parse_request
from lexigon.bench.models import Job, Role
from lexigon.bench.services import manuscripts, versioning, work, writing
from lexigon.bench.services.jobs import opened, plain_shifts
from lexigon.bench.services.origins import remember
from lexigon.bench.views.shared import answers_json, job_view, job_view_for
from lexigon.core.check.findings import count_at_once
from lexigon.core.document.model import OBJECT, Paragraph, ParagraphStyle
from lexigon.core.document.model import Job as ModelJob
from lexigon.core.document.story_text import count_words
from lexigon.core.editing.intents import PutStyle, intent_from_plain
from lexigon.core.flow.plain_text import field_text as told
from lexigon.core.flow.plain_text import texts_of
from lexigon.core.manuscript.readers.decode import LARGEST, ManuscriptError
from lexigon.core.manuscript.review.cleaning import BY_ID
from lexigon.core.manuscript.writers.outgoing import copy_of
from lexigon.core.manuscript.writers.writing import ALIVE, FORMS, written, written_out

SHOWN_WHOLE = 400


@job_view
def manuscript(request: HttpRequest, job: Job) -> HttpResponse:
    """The main story as a manuscript; for a piece that has none, the stories of its frames one after another."""
    with opened(job.pk) as live:
        model, composition = live.job, live.workspace.composition
        main = model.stories.get(model.main_story or "")
        stories = [main] if main else [model.stories[key] for key in composition.flows]
        paragraphs = [(story, p) for story in stories for p in story.paragraphs]
        rows = [
            {
                "style": _style(model, p).name if main else (story.name if p is story.paragraphs[0] else ""),
                "text": p.text.replace(OBJECT, "…"),
                "level": _style(model, p).level,
            }
            for story, p in paragraphs[:SHOWN_WHOLE]
        ]
        structure = [
            {
                "text": heading.text,
                "level": heading.level,
                "page": heading.page + 1,
                "label": composition.values.labels[heading.page],
            }
            for heading in composition.running.all
        ]
        context = {
            "job": job,
            "words": count_words(p for _, p in paragraphs),
            "rows": rows,
            "more": max(len(paragraphs) - SHOWN_WHOLE, 0),
            "structure": structure[:SHOWN_WHOLE],
            "waiting": count_at_once(live.workspace.composition),
            "pages": len(model.pages),
            "language": model.brief.language,
            "main": main,
            "copy_forms": [("docx", "DOCX"), ("html", "HTML"), ("md", "Markdown"), ("txt", "Plain text")],
            "samples": manuscripts.samples(),
            "houses": manuscripts.houses(request.user),
        }
    return render(request, "bench/manuscript.html", context)


def _style(job: ModelJob, paragraph: Paragraph) -> ParagraphStyle:
    return job.paragraph_styles.get(paragraph.style) or ParagraphStyle(paragraph.style, paragraph.style)


@job_view
@answers_json
def text(request: HttpRequest, job: Job) -> HttpResponse:
    """All of a story, for writing; with ``structure`` its headings alone."""
    with opened(job.pk) as live:
        if request.GET.get("structure"):
            return JsonResponse(
                {"structure": writing.structure(live), "words": _words(live.job), "pages": len(live.job.pages)}
            )
        return JsonResponse(
            writing.opening(live, writing.story_of(live.job, request.GET.get("story") or live.job.main_story or ""))
        )


def _words(job: ModelJob) -> int:
    main = job.stories.get(job.main_story or "")
    return count_words(main.paragraphs) if main else 0


@require_POST
@job_view
@answers_json
def write(request: HttpRequest, job: Job) -> HttpResponse:
    """Carry out what somebody writes; answers with the steps that make the same of the text in the window."""
    form = parse_request(request, TypingForm)
    intents = [intent_from_plain(one) for one in form.intents]
    with opened(job.pk) as live:
        base = live.revision if form.base is None else form.base
        again, behind = live.done_before(form.token), base < live.revision
        if again:
            shifts = plain_shifts(live.shifts_since(intents, base, form.token))
            answer: dict[str, Any] = {"revision": live.revision}
        else:
            change = live.do(intents, request.user, base=base, group=form.group, token=form.token)
            shifts = live.moves(change, form.painted)
            answer = writing.after(live, form.story, change)
        if again or behind:  # somebody else may have written meanwhile
            story = writing.story_of(live.job, form.story)
            answer["rows"] = writing.Writing(live, story).rows(story.paragraphs)
    return JsonResponse(answer | {"shifts": shifts})


@require_POST
@job_view
@answers_json
def step(request: HttpRequest, job: Job, name: str) -> HttpResponse:
    """Undo or redo, for the text in the window."""
    if name not in ("undo", "redo"):
        raise Http404
    form = parse_request(request, TypingForm)
    with opened(job.pk) as live:
        behind = form.base is not None and form.base < live.revision
        change = live.undo(request.user) if name == "undo" else live.redo(request.user)
        answer = writing.after(live, form.story, change) | {"label": change.label if change else ""}
        if behind:
            answer["rows"] = writing.Writing(live, story := writing.story_of(live.job, form.story)).rows(
                story.paragraphs
            )
    return JsonResponse(answer)


@require_POST
@job_view
@answers_json
def look_through(request: HttpRequest, job: Job) -> HttpResponse:
    """Take in an uploaded text and say what it holds, or that it is being read. Nothing is changed in the job."""
    upload, before = request.FILES.get("file"), request.POST.get("again", "")
    if upload is None and before.isdecimal():
        row = get_object_or_404(models.Manuscript, pk=int(before), job=job)
        return JsonResponse(
            _answer(manuscripts.take_in(job, row.name, bytes(row.data), _mapping(request), _cleaned(request)))
        )
    if upload is None and (name := request.POST.get("sample")):
        return JsonResponse(
            _answer(
                manuscripts.take_in(
                    job, name, manuscripts.sample(name), _mapping(request), _cleaned(request), fresh=True
                )
            )
        )
    if upload is None:
        raise ManuscriptError("Select a text file first.")
    if upload.size and upload.size > LARGEST:
        raise ManuscriptError(
            f"The file has {upload.size / 1e6:.0f} MB; a manuscript has at most {LARGEST // 10**6} MB. Split it into "
            "parts."
        )
    row = manuscripts.take_in(job, str(upload.name), upload.read(), _mapping(request), _cleaned(request), fresh=True)
    return JsonResponse(_answer(row))


def _table(request: HttpRequest, name: str) -> dict[str, Any]:
    """A table that a form brings as JSON; empty for what is none."""
    try:
        values = json.loads(request.POST.get(name) or "{}")
    except ValueError:
        return {}
    return values if isinstance(values, dict) else {}


def _cleaned(request: HttpRequest) -> dict[str, bool]:
    """Return which clean-ups are done, as far as somebody chose."""
    return {name: on is True for name, on in _table(request, "cleaned").items() if name in BY_ID}


def _mapping(request: HttpRequest) -> dict[str, str]:
    """Return which style of the document becomes which, as far as somebody chose."""
    values = _table(request, "mapping")
    return {str(name)[:200]: str(style)[:40] for name, style in list(values.items())[:1000] if isinstance(style, str)}


@require_POST
@job_view_for(Role.VIEW)
def copy(request: HttpRequest, job: Job, form: str) -> HttpResponse:
    """The job's copy as a file for its writers. It is a POST because what goes out is remembered, to compare what comes
    back."""
    if form not in FORMS:
        raise Http404
    with opened(job.pk) as live:
        composition = live.workspace.composition
        source = copy_of(
            live.job, texts_of(composition), told(composition), manuscripts.file_of(job.pk), alive=form in ALIVE
        )
        data, suffix = written(source, live.job, form)
        if (main := live.job.stories.get(live.job.main_story or "")) is not None:
            remember(job.pk, "the copy that went out", written_out(main, told(composition)))
        name = f"{slugify(live.job.name) or 'copy'}{suffix}"
    kind = mimetypes.guess_type(name)[0] or "application/octet-stream"
    return HttpResponse(data, content_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def keep_house(request: HttpRequest, job: Job) -> HttpResponse:
    """Keep what styles become and which clean-ups are done under the name of a house, for its next manuscript; or
    forget one."""
    form = parse_request(request, HouseStyleForm)
    return JsonResponse({"samples": manuscripts.samples(), "houses": manuscripts.keep_house(request.user, form)})


@job_view
def status(request: HttpRequest, job: Job, pk: int) -> HttpResponse:
    """Return how far a long manuscript is."""
    row = models.Manuscript.objects.filter(pk=pk, job=job).defer("data").first()
    if row is None:
        raise Http404
    answer = _answer(row)
    if row.state == models.Manuscript.READY:
        row.delete()
    return JsonResponse(answer)


def _answer(row: models.Manuscript) -> dict[str, Any]:
    answer = {
        "id": row.pk,
        "name": row.name,
        "state": row.state,
        "done": row.done,
        "total": row.total,
        "error": row.error,
    }
    if row.state == models.Manuscript.READY:
        answer["goto"] = reverse("flatplan", args=[row.job_id])
    return {**answer, **(row.account or {})}


@require_POST
@job_view
def stop(request: HttpRequest, job: Job, pk: int) -> HttpResponse:
    """Leave off reading or pouring a long manuscript; the job is as it was."""
    work.stop(get_object_or_404(models.Manuscript, pk=pk, job=job))
    return JsonResponse({"state": models.Manuscript.STOPPED})


@require_POST
@job_view
@answers_json
def make_style(request: HttpRequest, job: Job) -> HttpResponse:
    """Make a paragraph style while a manuscript is surveyed: what its styles can become then, and which is new."""
    form = parse_request(request, NewStyleForm)
    with opened(job.pk) as live:
        based = form.based_on if form.based_on in live.job.paragraph_styles else live.job.body
        before = set(live.job.paragraph_styles)
        live.do([PutStyle("paragraph", name=form.name, based_on=based, level=form.level or None)], request.user)
        (style,) = set(live.job.paragraph_styles) - before
        return JsonResponse({"id": style, "targets": manuscripts.targets(live.job)})


@require_POST
@job_view
@answers_json
def compare(request: HttpRequest, job: Job, pk: int) -> HttpResponse:
    """Return what differs between the manuscript that was looked through and the job's main text."""
    row = get_object_or_404(models.Manuscript, pk=pk, job=job, state=models.Manuscript.READ)
    row.account = {**(row.account or {}), "restyled": dict(parse_request(request, PourForm).styles)}
    row.save(update_fields=["account"])
    with opened(job.pk) as live:
        return JsonResponse(versioning.to_json(live, versioning.compare(live, row)))


@require_POST
@job_view
@answers_json
def take_over(request: HttpRequest, job: Job, pk: int) -> HttpResponse:
    """Apply the selected differences."""
    row = get_object_or_404(models.Manuscript, pk=pk, job=job, state=models.Manuscript.READ)
    form = parse_request(request, AcceptedChangesForm)
    count = versioning.take_over(row, request.user, form.numbers, form.revision)
    return JsonResponse(
        {"state": models.Manuscript.READY, "pages": count, "goto": reverse("manuscript", args=[job.pk])}
    )


@require_POST
@job_view
@answers_json
def pour(request: HttpRequest, job: Job, pk: int) -> HttpResponse:
    """Pour the manuscript that was looked through into the job's main text, in place of what is there."""
    row = get_object_or_404(models.Manuscript, pk=pk, job=job)
    form = parse_request(request, PourForm)
    styles = {int(number): style for number, style in form.styles.items() if number.isdecimal()}
    count = manuscripts.pour(row, request.user, styles, form.whole)
    if count is None:
        row.refresh_from_db()
        return JsonResponse(_answer(row))
    return JsonResponse({"state": models.Manuscript.READY, "pages": count, "goto": reverse("flatplan", args=[job.pk])})
