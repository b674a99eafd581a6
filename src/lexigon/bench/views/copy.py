"""Work on the copy of a job: finding and replacing, mark-up rules, spelling."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.views.decorators.http import require_POST

from lexigon.bench.forms import (
    CorrectionForm,
    EditsForm,
    ForgetForm,
    LanguageForm,
    LearnForm,
    ReplaceForm,
    SavedLineForm,
    SavedSearchForm,
    SearchForm,
    parse_request,
)
from lexigon.bench.models import Job, OwnDictionary, Role
from lexigon.bench.services import rules as ruling
from lexigon.bench.services import searching
from lexigon.bench.services import spelling as spells
from lexigon.bench.services.describing import families_of
from lexigon.bench.services.jobs import opened
from lexigon.bench.views.shared import answers_json, job_view, job_view_for, person, whole
from lexigon.core.brief.setup import LANGUAGES
from lexigon.core.check.findings import count_at_once
from lexigon.core.document.model import Job as ModelJob
from lexigon.core.editing.intents import ForgetWord, intent_from_plain
from lexigon.core.errors import LexigonError
from lexigon.core.manuscript.review.word_lists import LARGEST
from lexigon.core.markup.special_characters import CLASSES, NAMED


def _chosen(request: HttpRequest) -> dict[str, str | int]:
    """Return the selected range of a story as a query gives it; empty for none."""
    get = request.GET
    if not get.get("first"):
        return {}
    return {
        "story": get.get("story", "")[:40],
        "first": get["first"][:40],
        "first_at": whole(get.get("first_at"), 0),
        "last": get.get("last", "")[:40],
        "last_at": whole(get.get("last_at"), 0),
    }


@job_view
def find(request: HttpRequest, job: Job) -> HttpResponse:
    with opened(job.pk) as live:
        model = live.job
        context = {
            "job": job,
            "pages": len(model.pages),
            "waiting": count_at_once(live.workspace.composition),
            "signs": list(NAMED),
            "classes": list(CLASSES),
            "searches": searching.searches(request.user),
            "styles": model.paragraph_styles.values(),
            "characters": model.character_styles.values(),
            "words": request.GET.get("words", "")[:400],
            "chosen": _chosen(request),
            "families": families_of(model),
            "swatches": model.swatches.values(),
            "languages": _languages(model),
            "stories": [
                story
                for story in model.stories.values()
                if story.kind == "text" and (story.paragraphs[0].text or len(story.paragraphs) > 1)
            ],
        }
    return render(request, "bench/find.html", context)


def _languages(job: ModelJob) -> list[tuple[str, str]]:
    """The languages that words of a job may be set in: those that it uses, and those that a job can be in."""
    specs = [p.type for story in job.stories.values() for p in story.paragraphs]
    specs += [span.type for story in job.stories.values() for p in story.paragraphs for span in p.spans]
    used = {spec.language for spec in specs if spec is not None and spec.language}
    tags = dict.fromkeys((job.brief.language, *sorted(used), *LANGUAGES))
    return sorted(((tag, spells.language_name(tag)) for tag in tags), key=lambda one: one[1])


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def look(request: HttpRequest, job: Job) -> HttpResponse:
    """Return what is found, with what would come in its place."""
    form = parse_request(request, SearchForm)
    return JsonResponse(searching.look(job.pk, form, request.user))


@require_POST
@job_view
@answers_json
def exchange(request: HttpRequest, job: Job) -> HttpResponse:
    """Replace what was found."""
    form = parse_request(request, ReplaceForm)
    return JsonResponse(searching.exchange_all(job.pk, form, request.user, set(form.left), form.revision))


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def keep(request: HttpRequest, job: Job) -> HttpResponse:
    """Keep a search, or forget it."""
    return JsonResponse({"searches": searching.keep_search(request.user, parse_request(request, SavedSearchForm))})


@job_view
def rules(request: HttpRequest, job: Job) -> HttpResponse:
    """The job's mark-up rules."""
    with opened(job.pk) as live:
        model = live.job
        context = {
            "job": job,
            "pages": len(model.pages),
            "waiting": count_at_once(live.workspace.composition),
            "rules": ruling.listed(live),
            "library": ruling.library(request.user),
            "styles": model.paragraph_styles.values(),
            "characters": model.character_styles.values(),
            "body": model.body,
        }
    return render(request, "bench/rules.html", context)


@job_view
@answers_json
def rule_matches(request: HttpRequest, job: Job) -> HttpResponse:
    """Return what a rule finds, while its line is being typed."""
    line = request.GET.get("line", "")[:2000]
    with opened(job.pk) as live:
        if (style := ruling.missing_style(live, line)) is not None:
            return JsonResponse({"missing": style, "count": 0, "rows": [], "line": line})
        return JsonResponse(ruling.look(live, line))


@require_POST
@job_view
@answers_json
def rule_edits(request: HttpRequest, job: Job) -> HttpResponse:
    """Change rules; answers with all of them."""
    intents = [intent_from_plain(one) for one in parse_request(request, EditsForm).intents]
    with opened(job.pk) as live:
        ruling.carry_out(live, intents, request.user)
        return JsonResponse({"rules": ruling.listed(live)})


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def rule_keep(request: HttpRequest, job: Job) -> HttpResponse:
    """Keep a rule in one's own library, or forget it."""
    form = parse_request(request, SavedLineForm)
    return JsonResponse({"library": ruling.keep(request.user, form.line, form.forgotten)})


@job_view
def spelling(request: HttpRequest, job: Job) -> HttpResponse:
    with opened(job.pk) as live:
        model = live.job
        context = {
            "job": job,
            "pages": len(model.pages),
            "waiting": count_at_once(live.workspace.composition),
            "characters": model.character_styles.values(),
            "language": model.brief.language,
            "dictionaries": spells.listed_dictionaries(request.user),
            "language_name": spells.language_name(model.brief.language),
        }
    return render(request, "bench/spelling.html", context)


@job_view
@answers_json
def spelled(request: HttpRequest, job: Job) -> HttpResponse:
    """Return the results of checking the spelling of a job."""
    with opened(job.pk) as live:
        return JsonResponse(spells.look(live, request.user))


@job_view
@answers_json
def spelled_in_view(request: HttpRequest, job: Job) -> HttpResponse:
    """Mistakes on some pages, for the board."""
    with opened(job.pk) as live:
        return JsonResponse(
            {"found": spells.in_view(live, request.user, [whole(one, -1) for one in request.GET.getlist("page")])}
        )


@job_view
@answers_json
def suggested(request: HttpRequest, job: Job) -> HttpResponse:
    get = request.GET
    with opened(job.pk) as live:
        return JsonResponse(
            {"words": spells.suggested(live, request.user, get.get("word", ""), get.get("language", "")[:40])}
        )


@require_POST
@job_view
@answers_json
def learn(request: HttpRequest, job: Job) -> HttpResponse:
    """Words are no mistakes from now on, or are again."""
    form = parse_request(request, LearnForm)
    if form.forgotten:
        for word in form.words:
            spells.forget(request.user, word)
        return JsonResponse({})
    with opened(job.pk) as live:
        spells.learn(live, request.user, form.words, form.mine)
    return JsonResponse({})


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def forget(request: HttpRequest, job: Job) -> HttpResponse:
    """Report a word again that was in the job's list."""
    with opened(job.pk) as live:
        live.do([ForgetWord(parse_request(request, ForgetForm).id)], request.user)
    return JsonResponse({})


@require_POST
@job_view
@answers_json
def correct(request: HttpRequest, job: Job) -> HttpResponse:
    """Put another word in the place of some, everywhere; or set them in a style."""
    form = parse_request(request, CorrectionForm)
    with opened(job.pk) as live:
        return JsonResponse({"count": spells.exchange(live, request.user, form.words, form.put, form.style)})


@require_POST
@job_view
@answers_json
def set_language(request: HttpRequest, job: Job) -> HttpResponse:
    """Set the passages that are in another language as such."""
    with opened(job.pk) as live:
        return JsonResponse(
            {"count": spells.set_language(live, request.user, parse_request(request, LanguageForm).language)}
        )


@require_POST
@job_view_for(Role.VIEW)
@answers_json
def dictionary(request: HttpRequest, job: Job) -> HttpResponse:
    """Take in a dictionary, or put one of one's own away."""
    language = request.POST.get("language", "")[:40]
    if request.POST.get("remove"):
        OwnDictionary.objects.filter(owner=person(request), language=language).delete()
        return JsonResponse({})
    files = {str(one.name).rsplit(".", 1)[-1].lower(): one for one in request.FILES.getlist("file")}
    if set(files) != {"aff", "dic"}:
        raise LexigonError("Select both files of the dictionary: one ends in .aff, the other in .dic.")
    if any((one.size or 0) > LARGEST for one in files.values()):
        raise LexigonError(f"A dictionary has at most {LARGEST // 10**6} MB.")
    spells.add_dictionary(request.user, language, files["aff"].read(), files["dic"].read())
    return JsonResponse({})
