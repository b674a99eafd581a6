"""Work on the copy of a job: finding and replacing, mark-up rules."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.views.decorators.http import require_POST

from lexigon.bench.forms import Edits, Exchanged, KeptLine, KeptSearch, Looked, said
from lexigon.bench.models import Job
from lexigon.bench.services import rules as ruling
from lexigon.bench.services import searching
from lexigon.bench.services.jobs import opened
from lexigon.bench.views.shared import answers_json, own_job
from lexigon.core.check.findings import count_at_once
from lexigon.core.job.intents import intent_from_plain
from lexigon.core.job.markup.signs import CLASSES, NAMED


@own_job
def find(request: HttpRequest, job: Job) -> HttpResponse:
    with opened(job.pk) as live:
        model = live.job
        context = {
            "job": job, "pages": len(model.pages), "waiting": count_at_once(live.desk.composition), "signs": list(NAMED), "classes": list(CLASSES), "searches": searching.searches(request.user),
            "styles": model.paragraph_styles.values(), "characters": model.character_styles.values(), "words": request.GET.get("words", "")[:400],
            "stories": [story for story in model.stories.values() if story.kind == "text" and (story.paragraphs[0].text or len(story.paragraphs) > 1)],
        }  # fmt: skip
    return render(request, "bench/find.html", context)


@require_POST
@own_job
@answers_json
def look(request: HttpRequest, job: Job) -> HttpResponse:
    """What is found, with what would come in its place."""
    asked = said(request, Looked)
    return JsonResponse(searching.look(job.pk, asked, request.user))


@require_POST
@own_job
@answers_json
def exchange(request: HttpRequest, job: Job) -> HttpResponse:
    """Replace what was found."""
    asked = said(request, Exchanged)
    return JsonResponse(searching.exchange_all(job.pk, asked, request.user, set(asked.left), asked.revision))


@require_POST
@own_job
@answers_json
def keep(request: HttpRequest, job: Job) -> HttpResponse:
    """Keep a search, or forget it."""
    return JsonResponse({"searches": searching.keep_search(request.user, said(request, KeptSearch))})


@own_job
def rules(request: HttpRequest, job: Job) -> HttpResponse:
    """The job's mark-up rules."""
    with opened(job.pk) as live:
        model = live.job
        context = {
            "job": job, "pages": len(model.pages), "waiting": count_at_once(live.desk.composition), "rules": ruling.listed(live), "library": ruling.library(request.user),
            "styles": model.paragraph_styles.values(), "characters": model.character_styles.values(),
        }  # fmt: skip
    return render(request, "bench/rules.html", context)


@own_job
@answers_json
def rule_found(request: HttpRequest, job: Job) -> HttpResponse:
    """What a rule finds, while its line is being typed."""
    with opened(job.pk) as live:
        return JsonResponse(ruling.look(live, request.GET.get("line", "")[:2000]))


@require_POST
@own_job
@answers_json
def rule_edits(request: HttpRequest, job: Job) -> HttpResponse:
    """Change rules; answers with all of them."""
    intents = [intent_from_plain(one) for one in said(request, Edits).intents]
    with opened(job.pk) as live:
        ruling.carry_out(live, intents, request.user)
        return JsonResponse({"rules": ruling.listed(live)})


@require_POST
@own_job
@answers_json
def rule_keep(request: HttpRequest, job: Job) -> HttpResponse:
    """Keep a rule in one's own library, or forget it."""
    asked = said(request, KeptLine)
    return JsonResponse({"library": ruling.keep(request.user, asked.line, asked.forgotten)})
