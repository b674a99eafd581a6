"""The Flatplan: every spread as a miniature, in reading order."""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render

from lexigon.bench.models import Job
from lexigon.bench.services import miniatures
from lexigon.bench.services.jobs import opened
from lexigon.bench.views.shared import own_job
from lexigon.core.job.model import Field
from lexigon.core.job.spreads import spreads
from lexigon.core.job.text import count_words


@own_job
def flatplan(request: HttpRequest, job: Job) -> HttpResponse:
    with opened(job.pk) as live:
        composition, model = live.desk.composition, live.job
        names = miniatures.signatures(composition)
        pages = [
            {"index": i, "label": composition.values.labels[i], "signature": name, "chapter": composition.running.title(Field("heading"), i),
             "master": model.masters[page.master].name if page.master in model.masters else ""}
            for i, (page, name) in enumerate(zip(model.pages, names, strict=True))
        ]  # fmt: skip
        rows = [[pages[i] if i is not None else None for i in spread] for spread in spreads(model)]
        words = count_words(model.stories[model.main_story].paragraphs) if model.main_story else 0
        context = {
            "job": job, "rows": rows, "pages": len(pages), "words": words, "ratio": model.brief.height / model.brief.width,
            "masters": [(m, sum(p.master == m.id for p in model.pages)) for m in model.masters.values()],
            "stories": [
                (s.name, 1 + flow_.columns[0].slot.page, 1 + max(c.slot.page for c in flow_.columns if c.blocks or c is flow_.columns[0]))
                for s in model.stories.values() if (flow_ := composition.flows.get(s.id)) and flow_.columns
            ],
        }  # fmt: skip
    return render(request, "bench/flatplan.html", context)


@own_job
def miniature(request: HttpRequest, job: Job, index: int, signature: str) -> HttpResponse:
    with opened(job.pk) as live:
        if not 0 <= index < len(live.job.pages):
            raise Http404
        data = miniatures.miniature(live.desk.composition, job.pk, index)
    response = HttpResponse(data, content_type="image/webp")
    response["Cache-Control"] = "private, max-age=31536000, immutable"
    return response
