"""Publications: several jobs of a user in order. Changes of one are stored as steps that can be undone; the first page
numbers of its jobs are edits of these jobs."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Any

from django.db import transaction
from django.urls import reverse
from django.utils.formats import date_format
from django.utils.timezone import localtime

from lexigon.bench.models import Job, Publication, PublicationOutput
from lexigon.bench.services import outputs, rows, work
from lexigon.bench.services.files import Files
from lexigon.bench.services.jobs import OpenJob, opened
from lexigon.core.check.findings import findings_of
from lexigon.core.document.model import Abroad
from lexigon.core.editing.intents import Intent
from lexigon.core.editing.intents.text.listings import PutAbroad
from lexigon.core.errors import LexigonError
from lexigon.core.flow.listing_entries import due
from lexigon.core.press.document import Part
from lexigon.core.press.recipes import recipe
from lexigon.core.publication.order import Counted, Start, anew, numbering, starts, usual_of
from lexigon.core.publication.other_jobs import entries_for, wanting
from lexigon.core.publication.styles import SHARED, AlignStyles, Difference, differences
from lexigon.core.publication.trims import odd_trims

MOST_PARTS = 200
MOST_STEPS = 100


def of(user: Any) -> Any:
    """A user's publications that are not in the bin."""
    return Publication.objects.filter(owner=user, binned=None)


def begin(user: Any, name: str) -> Publication:
    name = " ".join(name.split())[:200]
    if not name:
        raise LexigonError("Type the name of the publication.", "name")
    return Publication.objects.create(owner=user, plan={"name": name, "parts": [], "lead": ""})


def change(publication: Publication, plan: dict[str, Any], was: dict[str, Any]) -> Publication:
    """Make its plan another; ``was`` is the one that was changed. Raises LexigonError if somebody else changed it
    meanwhile, or for what is no plan."""
    with transaction.atomic():
        row = Publication.objects.select_for_update().get(pk=publication.pk)
        if row.plan != was:
            raise LexigonError(
                "This publication was changed in another window. Its current state is shown; repeat your change.",
                "stale",
            )
        keys = [part["job"] for part in plan["parts"]]
        editable = set(Job.objects.editable_by(row.owner).filter(pk__in=keys).values_list("pk", flat=True))
        before = {part["job"] for part in row.plan["parts"]}
        name = " ".join(plan["name"].split())[:200]
        if not name:
            raise LexigonError("Type the name of the publication.", "name")
        if len(keys) > MOST_PARTS or len(keys) != len(set(keys)) or not set(keys) <= editable | before:
            raise LexigonError(f"A publication has up to {MOST_PARTS} jobs of yours, each of them once.")
        if others := _elsewhere(row, set(keys) - before):
            raise LexigonError(f"“{others[0]}” already contains that job. A job can be in one publication only.")
        parts = [{"job": part["job"], "counted": part["counted"]} for part in plan["parts"]]
        new = {"name": name, "parts": parts, "lead": plan["lead"] if plan["lead"] in keys else ""}
        if new != row.plan:
            row.past, row.future, row.plan = [*row.past, row.plan][-MOST_STEPS:], [], new
            row.save()
    _release(row.owner, was, row.plan)
    return row


def _release(user: Any, was: dict[str, Any], now: dict[str, Any]) -> None:
    """Let jobs that are no longer part of it count from 1 again, and forget the listings of the others."""
    on = [{part["job"] for part in plan["parts"] if part["counted"] == "on"} for plan in (was, now)]
    there = [{part["job"] for part in plan["parts"]} for plan in (was, now)]
    for job in Job.objects.editable_by(user).filter(pk__in=(on[0] - on[1]) | (there[0] - there[1])):
        with opened(job.pk) as live:
            intents = [
                *(anew(live.job) if job.pk not in on[1] and job.pk in on[0] else ()),
                *([PutAbroad()] if live.job.abroad else ()),
            ]
            if intents:
                live.do(intents, user)


def _elsewhere(row: Publication, keys: set[str]) -> list[str]:
    """The publications that have some jobs already."""
    return [str(one) for one in of(row.owner).exclude(pk=row.pk) if keys & {part["job"] for part in one.plan["parts"]}]


def step(publication: Publication, back: bool) -> bool:
    """Take the last step back, or do it again; False if there is none."""
    with transaction.atomic():
        row = Publication.objects.select_for_update().get(pk=publication.pk)
        here, there = (row.past, row.future) if back else (row.future, row.past)
        if not here:
            return False
        was = row.plan
        there.append(was)
        row.plan = here.pop()
        row.save()
    _release(row.owner, was, row.plan)
    number(row, row.owner)
    return True


def parts_of(publication: Publication) -> list[tuple[Job, Counted]]:
    """The jobs that are there, in order, with how each is counted. One in the bin is left out until it is back."""
    parts = publication.plan["parts"]
    jobs_by_id = {
        job.pk: job for job in Job.objects.editable_by(publication.owner).filter(pk__in=[part["job"] for part in parts])
    }
    return [(jobs_by_id[part["job"]], part["counted"]) for part in parts if part["job"] in jobs_by_id]


def counted(publication: Publication) -> list[tuple[Job, Counted, int, Start]]:
    """The jobs with their number of pages and where each begins."""
    parts = parts_of(publication)
    sketches = [rows.sketch(job.pk) for job, _ in parts]
    numbers = starts([(sketch, way) for sketch, (_, way) in zip(sketches, parts, strict=True)])
    return [
        (job, way, len(sketch.pages), start) for (job, way), sketch, start in zip(parts, sketches, numbers, strict=True)
    ]


def number(publication: Publication, user: Any) -> None:
    """Number all jobs continuously. A job that is in use keeps the edits of its users; its number is a separate
    edit."""
    for job, _, _, start in counted(publication):
        if start.number is not None:
            with opened(job.pk) as live:
                _begin_with(live, start, user)


def gather(publication: Publication, user: Any) -> None:
    """Have the listings that gather from all jobs know what the others hold now. Of a job without such listings nothing
    is asked."""
    parts = [job for job, _ in parts_of(publication)]
    homes = [rows.sketch(job.pk, (*SHARED, "listings", "abroad")) for job in parts]
    gathered_by_job: dict[str, list[Abroad]] = {home.id: [] for home in homes if wanting(home)}
    if gathered_by_job:
        for number, job in enumerate(parts):
            with opened(job.pk) as live:
                for at, home in enumerate(homes):
                    if home.id in gathered_by_job and at != number:
                        gathered_by_job[home.id].append(entries_for(home, live.workspace.composition, number < at))
    for home in homes:
        entries = tuple(gathered_by_job.get(home.id, ()))
        if tuple(home.abroad.values()) != entries:
            with opened(home.id) as live:
                live.do([PutAbroad(entries)], user)


def stale(publication: Publication) -> dict[str, list[str]]:
    """The names of listings that are to be brought up to date, of those that gather from all jobs, by job."""
    stale_jobs = {}
    for job, _ in parts_of(publication):
        if wanting(rows.sketch(job.pk, ("listings",))):
            with opened(job.pk) as live:
                merges = [(one.name, due(live.workspace.composition, one)) for one in wanting(live.job)]
                stale_jobs[job.pk] = [name for name, merge in merges if merge is not None and merge.differences]
    return stale_jobs


def number_due(live: OpenJob) -> list[Intent]:
    """The intents that make a job begin with the page number its publication gives it; none if it does already."""
    publication = with_job(live.key)
    parts = counted(publication) if publication is not None else []
    return [one for job, _, _, start in parts if job.pk == live.key for one in numbering(live.job, start)]


def _begin_with(live: OpenJob, start: Start, user: Any) -> None:
    if intents := numbering(live.job, start):
        live.do(intents, user)


def leading(publication: Publication, parts: Sequence[tuple[Job, Counted]]) -> Job | None:
    """The job whose styles the others follow: the selected one, else the first that is counted."""
    chosen = [job for job, _ in parts if job.pk == publication.plan["lead"]]
    return next(iter([*chosen, *(job for job, way in parts if way != "apart"), *(job for job, _ in parts)]), None)


def compared(publication: Publication) -> dict[str, list[Difference]]:
    """Return the differences of each job from the lead job, by the job's key."""
    parts = parts_of(publication)
    lead = leading(publication, parts)
    if lead is None:
        return {}
    leads = rows.sketch(lead.pk, SHARED)
    return {job.pk: differences(leads, rows.sketch(job.pk, SHARED)) for job, _ in parts if job.pk != lead.pk}


def to_look_at(publication: Publication) -> dict[str, int]:
    """Return how much there is to look at in each job before a file is made."""
    findings = {}
    for job, _ in parts_of(publication):
        with opened(job.pk) as live:
            findings[job.pk] = len(findings_of(live.workspace.composition))
    return findings


def with_job(key: str) -> Publication | None:
    """The publication that a job is part of."""
    owner = Job.objects.values_list("owner", flat=True).get(pk=key)
    theirs = Publication.objects.filter(owner=owner, binned=None)
    return next((one for one in theirs if any(part["job"] == key for part in one.plan["parts"])), None)


def beside(key: str) -> str:
    """The name of the publication that a job is part of; "" for none."""
    return str(with_job(key) or "")


def align(publication: Publication, key: str, keys: Sequence[tuple[str, str]], user: Any) -> None:
    """Bring a job's styles into line with those of the job that leads. Raises LexigonError."""
    parts = parts_of(publication)
    lead = leading(publication, parts)
    job = next((job for job, _ in parts if job.pk == key), None)
    if lead is None or job is None or job.pk == lead.pk:
        raise LexigonError("That job is no longer part of the publication.")
    leads = rows.sketch(lead.pk, (*SHARED, "fonts"))
    files = Files(lead.pk)
    fonts = tuple(font for font in leads.fonts.values() if files.has(font.file))
    with opened(job.pk) as live:
        live.do([AlignStyles(leads, tuple(keys), fonts)], user)


def to_json(publication: Publication) -> dict[str, Any]:
    """A publication as its page shows it."""
    parts = counted(publication)
    waiting = stale(publication)
    lead = leading(publication, [(job, way) for job, way, _, _ in parts])
    there = {job.pk for job, _, _, _ in parts}
    used_jobs = {part["job"] for one in of(publication.owner) for part in one.plan["parts"]}
    free = list(Job.objects.editable_by(publication.owner).filter(template=False).exclude(pk__in=used_jobs)[:500])
    trims = odd_trims([rows.sketch(job.pk) for job, _, _, _ in parts])
    names = _distinct_names([*(job for job, _, _, _ in parts), *free])
    return {
        "plan": publication.plan,
        "undo": bool(publication.past),
        "redo": bool(publication.future),
        "parts": [
            {
                "job": job.pk,
                "name": names[job.pk],
                "kind": job.kind,
                "pages": pages,
                "trim": trims.get(job.pk, ""),
                "brief": reverse("brief", args=[job.pk]),
                "counted": way,
                "first": start.labels[0],
                "last": start.labels[1],
                "blank": start.blank,
                "stale": waiting.get(job.pk, []),
                "listings": reverse("copy-listings", args=[job.pk]),
                "lead": lead is not None and job.pk == lead.pk,
                "board": reverse("board", args=[job.pk]),
                "press": reverse("press", args=[job.pk]),
            }
            for job, way, pages, start in parts
        ],
        "missing": sum(part["job"] not in there for part in publication.plan["parts"]),
        "free": [{"job": job.pk, "name": names[job.pk], "kind": job.kind, "usual": usual_of(job.kind)} for job in free],
    }


def _distinct_names(jobs: Sequence[Job]) -> dict[str, str]:
    """The names of jobs by their keys. Jobs of one name also show when they were last changed, and where that is the
    same their key."""
    shared = Counter(job.name for job in jobs)
    names = {
        job.pk: job.name
        if shared[job.name] == 1
        else f"{job.name} (changed {date_format(localtime(job.changed), 'j M, H:i')})"
        for job in jobs
    }
    same = Counter(names.values())
    return {key: name if same[name] == 1 else f"{name} {key}" for key, name in names.items()}


def start(publication: Publication, name: str, user: Any) -> PublicationOutput:
    """Have the whole publication pressed. Raises LexigonError if the recipe is wrong, or there is nothing to press."""
    recipe(name)
    number(publication, user)
    gather(publication, user)
    numbered_parts = counted(publication)
    if not numbered_parts:
        raise LexigonError("Add a job to the publication first.")
    parts = [[job.pk, job.revision, start.blank] for job, _, _, start in numbered_parts]
    total = sum(pages for _, _, pages, _ in numbered_parts)
    output = PublicationOutput.objects.create(
        publication=publication, recipe=name, name=publication.plan["name"], parts=parts, total=total, by=user
    )
    work.queue(output)
    output.refresh_from_db()
    return output


def pressing(output: PublicationOutput) -> outputs.Pressing:
    """Return what goes into the file of a publication."""
    on = outputs.day_of(output)
    jobs = {job.pk: job for job in Job.objects.filter(pk__in=[key for key, _, _ in output.parts])}
    if len(jobs) < len(output.parts):
        raise LexigonError("A job of this publication was deleted during the export. Export again.")
    rendered_parts, whens = [], []
    for key, revision, blank in output.parts:
        composition = outputs.composed(jobs[key], revision, on)
        rendered_parts.append(Part(composition, list(range(len(composition.job.pages))), blank))
        whens.append(outputs.moment(jobs[key], revision))
    return outputs.Pressing(rendered_parts, output.name, max(whens))
