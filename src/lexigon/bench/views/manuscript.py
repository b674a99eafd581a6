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
from lexigon.core.job.text import count_words
from lexigon.core.manuscript.decode import LARGEST, ManuscriptError, decode
from lexigon.core.manuscript.plaintext import Manuscript, read_plain

SHOWN = 60


@own_job
def manuscript(request: HttpRequest, job: Job) -> HttpResponse:
    with opened(job.pk) as live:
        story = live.job.stories.get(live.job.main_story or "")
        styles = live.job.paragraph_styles
        paragraphs = story.paragraphs if story else []
        words = count_words(paragraphs)
        rows = [{"style": styles[p.style].name if p.style in styles else p.style, "text": p.text, "outline": styles[p.style].outline if p.style in styles else 0}
                for p in paragraphs[:400]]  # fmt: skip
        flow = live.desk.composition
        outline = [{"text": p.text or "(no words yet)", "level": styles[p.style].outline, "page": (flow.page_of(story.id, p.id, 0) or 0) + 1}
                   for p in paragraphs if story and p.style in styles and styles[p.style].outline]  # fmt: skip
        context = {"job": job, "words": words, "rows": rows, "more": max(len(paragraphs) - 400, 0), "outline": outline[:400],
                   "pages": len(live.job.pages), "language": live.job.brief.language}  # fmt: skip
    return render(request, "bench/manuscript.html", context)


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
