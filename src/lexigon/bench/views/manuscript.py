"""The Manuscript: handing a text in, seeing what was recognised, pouring it."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from lexigon.bench import models
from lexigon.bench.models import Job
from lexigon.bench.services.jobs import opened
from lexigon.bench.views.shared import answers_json, body, own_job
from lexigon.core.job.intents import PourText
from lexigon.core.job.model import OBJECT, Paragraph, ParagraphStyle
from lexigon.core.job.model import Job as ModelJob
from lexigon.core.job.text import count_words
from lexigon.core.manuscript.decode import LARGEST, ManuscriptError, decode
from lexigon.core.manuscript.plaintext import Manuscript, read_plain

SHOWN = 60
SHOWN_WHOLE = 400


@own_job
def manuscript(request: HttpRequest, job: Job) -> HttpResponse:
    """The main text as a manuscript; for a piece that has none, the texts of its frames one after another."""
    with opened(job.pk) as live:
        model, composition = live.job, live.desk.composition
        main = model.stories.get(model.main_story or "")
        shown = [main] if main else [model.stories[key] for key in composition.flows]
        paragraphs = [(story, p) for story in shown for p in story.paragraphs]
        rows = [
            {"style": _style(model, p).name if main else (story.name if p is story.paragraphs[0] else ""),
             "text": p.text.replace(OBJECT, "…"), "outline": _style(model, p).outline}
            for story, p in paragraphs[:SHOWN_WHOLE]
        ]  # fmt: skip
        outline = [
            {"text": heading.text, "level": heading.level, "page": heading.page + 1, "label": composition.values.labels[heading.page]}
            for heading in composition.running.all
        ]  # fmt: skip
        context = {
            "job": job, "words": count_words(p for _, p in paragraphs), "rows": rows, "more": max(len(paragraphs) - SHOWN_WHOLE, 0),
            "outline": outline[:SHOWN_WHOLE], "pages": len(model.pages), "language": model.brief.language, "main": main,
        }  # fmt: skip
    return render(request, "bench/manuscript.html", context)


def _style(job: ModelJob, paragraph: Paragraph) -> ParagraphStyle:
    return job.paragraph_styles.get(paragraph.style) or ParagraphStyle(paragraph.style, paragraph.style)


def _account(read: Manuscript, job: Any) -> dict[str, Any]:
    names = {style.id: style.name for style in job.paragraph_styles.values()}
    counts = read.counts
    return {
        "encoding": read.encoding, "words": counts["words"], "joined": counts["joined"], "emphasis": counts["emphasis"],
        "dropped": counts["dropped"],
        "styles": [{"name": names.get(key, key), "count": counts[key]} for key in names if counts.get(key)],
        "headings": [{"style": style, "text": text} for style, text in read.headings[:200]],
        "sample": [{"style": names.get(p.style, p.style), "id": p.style, "text": p.text[:400]} for p in read.paragraphs[:SHOWN]],
    }  # fmt: skip


@require_POST
@own_job
@answers_json
def look_through(request: HttpRequest, job: Job) -> HttpResponse:
    """Read an uploaded text and say what it holds. Nothing is changed in the job."""
    upload = request.FILES.get("file")
    if upload is None:
        raise ManuscriptError("Choose a text file first.")
    if upload.size and upload.size > LARGEST:
        raise ManuscriptError(
            f"The file has {upload.size / 1e6:.0f} MB; a manuscript has at most {LARGEST // 10**6} MB. Split it into parts."
        )
    data = upload.read()
    quotes = request.POST.get("quotes") == "1"
    with opened(job.pk) as live:
        if live.job.main_story is None:
            raise ManuscriptError(
                "This piece has no main text to pour into; draw a text frame on the board and paste it there."
            )
        read = read_plain(decode(data), language=live.job.brief.language, quotes=quotes)
        account = _account(read, live.job)
    models.Manuscript.objects.filter(job=job).delete()
    row = models.Manuscript.objects.create(job=job, name=str(upload.name)[:255], data=data)
    return JsonResponse({**account, "id": row.pk, "name": row.name})


@require_POST
@own_job
@answers_json
def pour(request: HttpRequest, job: Job, pk: int) -> HttpResponse:
    """Pour the manuscript that was looked through into the job's main text, in place of what is there."""
    row = get_object_or_404(models.Manuscript, pk=pk, job=job)
    quotes = bool(body(request).get("quotes"))
    with opened(job.pk) as live:
        read = read_plain(decode(bytes(row.data)), language=live.job.brief.language, quotes=quotes)
        live.do([PourText(live.job.main_story or "", read.paragraphs)], request.user)
        count = len(live.job.pages)
    row.delete()
    return JsonResponse({"pages": count, "goto": reverse("flatplan", args=[job.pk])})
