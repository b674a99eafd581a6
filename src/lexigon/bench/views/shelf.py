"""The Shelf: all of a user's jobs; opening and saving .lexigon files."""

from __future__ import annotations

from contextlib import ExitStack
from datetime import timedelta

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.db.models import QuerySet
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.utils.text import slugify
from django.views.decorators.http import require_POST

from lexigon.bench.models import Job, Publication, Role
from lexigon.bench.services import miniatures, publications
from lexigon.bench.services.files import Files, stored, written
from lexigon.bench.services.jobs import create_job, forget, opened
from lexigon.bench.services.sharing import role_in
from lexigon.bench.services.storage import write_if_possible
from lexigon.bench.views.shared import job_view, job_view_for
from lexigon.core.brief.kinds import KINDS
from lexigon.core.errors import LexigonError
from lexigon.core.job import package
from lexigon.core.job.intents import ChangeBrief
from lexigon.core.job.model import Job as ModelJob
from lexigon.core.job.text import new_id
from lexigon.core.type.vetting import vetted

KEPT_IN_BIN = timedelta(days=30)


@login_required
def shelf(request: HttpRequest) -> HttpResponse:
    sought = request.GET.get("find", "").strip()
    seen = Job.objects.of(request.user).select_related("owner").prefetch_related("shares__user")
    jobs, templates = seen.filter(template=False), seen.filter(template=True)
    found = jobs.filter(name__icontains=sought) if sought else jobs
    context = {
        "cards": [(job, role_in(job, request.user), *_glance(job)) for job in found[:60]],
        "sought": sought,
        "any": jobs.exists() or templates.exists(),
        "templates": [(job, role_in(job, request.user), *_glance(job)) for job in templates],
        "roles": Role.choices,
        "kinds": KINDS.values(),
        "binned": _binned(request).count(),
        "put_away": _binned_publications(request).count(),
        "publications": [] if sought else publications.of(request.user),
    }
    return render(request, "bench/shelf.html", context)


def _glance(job: Job) -> tuple[int, str]:
    """Page count and first miniature of a job; looked up anew only where it was changed since."""
    known = job.glance or {}
    if known.get("revision") != job.revision:
        try:
            with opened(job.pk) as live:
                picture = miniatures.signature(live.desk.composition, 0)
                known = {"revision": live.revision, "pages": len(live.job.pages), "picture": picture}
        except LexigonError:
            return 0, ""  # it cannot be opened: its own place says why
        with write_if_possible():
            Job.objects.filter(pk=job.pk).update(glance=known)
    return known["pages"], known["picture"]


def _copied(request: HttpRequest, job: Job, name: str, template: bool) -> Job:
    """The job once more under a name of its own."""
    with opened(job.pk) as live:
        model = package.read(package.write(live.job))  # the files stay where they are kept
    model.id, model.name = new_id("j"), name[:200]
    names = package.files_used(model)
    row = create_job(request.user, model, set(names) - Files(job.pk).missing(names))
    Job.objects.filter(pk=row.pk).update(template=template)
    return row


@require_POST
@job_view_for(Role.VIEW)
def keep_template(request: HttpRequest, job: Job) -> HttpResponse:
    """Keep the whole job as a template that lists beside the set-ups."""
    name = request.POST.get("name", "").strip() or f"{job.name}, template"
    _copied(request, job, name, template=True)
    messages.success(request, f"“{name}” was kept as a template. New jobs can begin from it here and on the Brief.")
    return redirect("shelf")


@require_POST
@job_view
def rename(request: HttpRequest, job: Job) -> HttpResponse:
    """Give a job or a template another name."""
    name = " ".join(request.POST.get("name", "").split())[:200]
    if not name:
        messages.error(request, f"“{job.name}” kept its name: type the new one.")
        return redirect("shelf")
    with opened(job.pk) as live:
        live.do([ChangeBrief(live.job.brief, name=name)], request.user)
    return redirect("shelf")


@require_POST
@job_view_for(Role.VIEW)
def copy_job(request: HttpRequest, job: Job) -> HttpResponse:
    """A new job that begins as a copy of a template or of another job."""
    name = request.POST.get("name", "").strip() or (
        job.name.removesuffix(", template") if job.template else f"{job.name}, copy"
    )
    return redirect("board", key=_copied(request, job, name, template=False).pk)


@require_POST
@login_required
def open_file(request: HttpRequest) -> HttpResponse:
    """Make a job of an uploaded .lexigon file. A file that is none changes nothing and says why."""
    upload = request.FILES.get("file")
    if upload is None:
        messages.error(request, "Choose a .lexigon file first.")
        return redirect("shelf")
    try:
        if upload.size and upload.size > 100_000_000:
            raise LexigonError("This file is larger than any job (over 100 MB); it was not opened.")
        data = upload.read()
        job = package.read(data)
        files, problems = _stored_files(job, data)
        job.id = new_id("j")
        create_job(request.user, job, files)
    except LexigonError as error:
        messages.error(request, f"“{upload.name}” was not opened. {error}")
        return redirect("shelf")
    for problem in problems:
        messages.warning(request, problem)
    return redirect("board", key=job.id)


def _stored_files(job: ModelJob, data: bytes) -> tuple[list[str], list[str]]:
    """Store the files that came with a job and that it uses; their names, and what is wrong with any, in words. Fonts are vetted first."""
    found = package.read_files(data)
    problems = []
    fonts = [font for font in job.fonts.values() if font.file in found]
    with ExitStack() as stack:
        verdicts = vetted([stack.enter_context(written(found[font.file])) for font in fonts])
    for font, verdict in zip(fonts, verdicts, strict=True):
        if isinstance(verdict, str):
            found.pop(font.file, None)
            problems.append(f"The font “{font.name}” {verdict}: another one stands in for it.")
    return [stored(found[name]) for name in package.files_used(job) if name in found], problems


@job_view
def download(request: HttpRequest, job: Job) -> HttpResponse:
    with opened(job.pk) as live:
        data = package.write(live.job, Files(job.pk).of_job(live.job), job.changed)
    response = HttpResponse(data, content_type=package.MIMETYPE)
    response["Content-Disposition"] = f'attachment; filename="{slugify(job.name) or "job"}.lexigon"'
    return response


@require_POST
@job_view_for(Role.OWN)
def delete(request: HttpRequest, job: Job) -> HttpResponse:
    """Put a job in the bin."""
    Job.objects.filter(pk=job.pk).update(binned=timezone.now())
    messages.success(request, f"“{job.name}” is in the bin.", extra_tags=reverse("bin-restore", args=[job.pk]))
    return redirect("shelf")


def _binned(request: HttpRequest) -> QuerySet[Job]:
    """What is in the bin. What has been there too long is gone when it is next looked at."""
    bin_ = Job.objects.owned_by(request.user).exclude(binned=None)
    for old in bin_.filter(binned__lt=timezone.now() - KEPT_IN_BIN):
        forget(old.pk)
        old.delete()
    return bin_.order_by("-binned")


def _binned_publications(request: HttpRequest) -> QuerySet[Publication]:
    """Publications in the bin, for as long as jobs are kept there."""
    bin_ = Publication.objects.filter(owner=request.user).exclude(binned=None)
    bin_.filter(binned__lt=timezone.now() - KEPT_IN_BIN).delete()
    return bin_.order_by("-binned")


@login_required
def bin_of_jobs(request: HttpRequest) -> HttpResponse:
    rows = [
        (job, max((job.binned + KEPT_IN_BIN - timezone.now()).days + 1, 1)) for job in _binned(request) if job.binned
    ]
    context = {"rows": rows, "days": KEPT_IN_BIN.days, "publications": _binned_publications(request)}
    return render(request, "bench/bin.html", context)


@require_POST
@login_required
def restore(request: HttpRequest, key: str) -> HttpResponse:
    """Take a job back out of the bin."""
    job = get_object_or_404(_binned(request), pk=key)
    Job.objects.filter(pk=job.pk).update(binned=None)
    messages.success(request, f"“{job.name}” is back.")
    return redirect("shelf")


@require_POST
@login_required
def delete_for_good(request: HttpRequest, key: str) -> HttpResponse:
    job = get_object_or_404(_binned(request), pk=key)
    forget(job.pk)
    job.delete()
    messages.success(request, f"“{job.name}” was deleted for good.")
    return redirect("bin")
