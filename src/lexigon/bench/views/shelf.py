"""The Shelf: all of a user's jobs; opening and saving .lexigon files."""

from __future__ import annotations

from contextlib import ExitStack

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.utils.text import slugify
from django.views.decorators.http import require_POST

from lexigon.bench.models import Job, Role
from lexigon.bench.services import bins, glances, publications
from lexigon.bench.services.duplicates import TEMPLATE, duplicate, name_of_copy
from lexigon.bench.services.files import Files, stored, written
from lexigon.bench.services.jobs import create_job, forget, opened
from lexigon.bench.services.sharing import role_in
from lexigon.bench.views.shared import job_view, job_view_for
from lexigon.core.brief.kinds import KINDS
from lexigon.core.document.model import Job as ModelJob
from lexigon.core.document.story_text import new_id
from lexigon.core.editing.intents import ChangeBrief
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat import package
from lexigon.core.type.vetting import vetted


@login_required
def shelf(request: HttpRequest) -> HttpResponse:
    sought = request.GET.get("find", "").strip()
    visible = Job.objects.of(request.user).select_related("owner").prefetch_related("shares__user")
    jobs, templates = visible.filter(template=False), visible.filter(template=True)
    matching = jobs.filter(name__icontains=sought) if sought else jobs
    context = {
        "cards": [_card(request, job) for job in matching[:60]],
        "sought": sought,
        "any": jobs.exists() or templates.exists(),
        "templates": [_card(request, job) for job in templates],
        "roles": Role.choices,
        "kinds": KINDS.values(),
        "binned": bins.jobs_in_bin(request.user).count(),
        "put_away": bins.publications_in_bin(request.user).count(),
        "publications": [] if sought else publications.of(request.user),
    }
    return render(request, "bench/shelf.html", context)


def _card(request: HttpRequest, job: Job) -> tuple[Job, Role, int, str, bool]:
    """Return what the card of a job shows: the job, the reader's role, the page count, the signature of its miniature,
    and whether those are still to be saved."""
    try:
        glance = glances.of(job)
    except LexigonError:
        return job, role_in(job, request.user), 0, "", False  # it cannot be opened: its own place says why
    return job, role_in(job, request.user), glance.pages, glance.picture, glances.saved(job) is None


@require_POST
@job_view_for(Role.VIEW)
def keep_template(request: HttpRequest, job: Job) -> HttpResponse:
    """Keep the whole job as a template that lists beside the set-ups."""
    name = request.POST.get("name", "").strip() or f"{job.name}{TEMPLATE}"
    duplicate(request.user, job, name, template=True)
    messages.success(request, f"“{name}” was saved as a template. Start jobs from it here or with New job.")
    return redirect("shelf")


@require_POST
@job_view
def rename(request: HttpRequest, job: Job) -> HttpResponse:
    """Give a job or a template another name."""
    name = " ".join(request.POST.get("name", "").split())[:200]
    if not name:
        messages.error(request, f"“{job.name}” was not renamed. Type the new name.")
        return redirect("shelf")
    with opened(job.pk) as live:
        live.do([ChangeBrief(live.job.brief, name=name)], request.user)
    return redirect("shelf")


@require_POST
@job_view_for(Role.VIEW)
def copy_job(request: HttpRequest, job: Job) -> HttpResponse:
    """A new job that begins as a copy of a template or of another job."""
    name = request.POST.get("name", "").strip() or name_of_copy(job)
    return redirect("board", key=duplicate(request.user, job, name).pk)


@require_POST
@login_required
def open_file(request: HttpRequest) -> HttpResponse:
    """Make a job of an uploaded .lexigon file. A file that is none changes nothing and says why."""
    upload = request.FILES.get("file")
    if upload is None:
        messages.error(request, "Select a .lexigon file first.")
        return redirect("shelf")
    try:
        if upload.size and upload.size > 100_000_000:
            raise LexigonError("This file is larger than any job (over 100 MB). It was not opened.")
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
    """Store the files that came with a job and that it uses; their names, and what is wrong with any, in words. Fonts
    are vetted first."""
    files = package.read_files(data)
    problems = []
    fonts = [font for font in job.fonts.values() if font.file in files]
    with ExitStack() as stack:
        verdicts = vetted([stack.enter_context(written(files[font.file])) for font in fonts])
    for font, verdict in zip(fonts, verdicts, strict=True):
        if isinstance(verdict, str):
            files.pop(font.file, None)
            problems.append(f"The font “{font.name}” {verdict}. Another font is used instead.")
    return [stored(files[name]) for name in package.files_used(job) if name in files], problems


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
    bins.delete_expired()
    messages.success(request, f"“{job.name}” is in the bin.", extra_tags=reverse("bin-restore", args=[job.pk]))
    return redirect("shelf")


@login_required
def bin_of_jobs(request: HttpRequest) -> HttpResponse:
    rows = [
        (job, max((job.binned + bins.BIN_PERIOD - timezone.now()).days + 1, 1))
        for job in bins.jobs_in_bin(request.user)
        if job.binned
    ]
    context = {"rows": rows, "days": bins.BIN_PERIOD.days, "publications": bins.publications_in_bin(request.user)}
    return render(request, "bench/bin.html", context)


@require_POST
@login_required
def restore(request: HttpRequest, key: str) -> HttpResponse:
    """Take a job back out of the bin."""
    job = get_object_or_404(bins.jobs_in_bin(request.user), pk=key)
    Job.objects.filter(pk=job.pk).update(binned=None)
    messages.success(request, f"“{job.name}” was restored.")
    return redirect("shelf")


@require_POST
@login_required
def delete_for_good(request: HttpRequest, key: str) -> HttpResponse:
    job = get_object_or_404(bins.jobs_in_bin(request.user), pk=key)
    forget(job.pk)
    job.delete()
    messages.success(request, f"“{job.name}” was deleted permanently.")
    return redirect("bin")
