"""Manuscripts handed in: read, shown as recognised, poured. Short ones at once, long ones in the background."""

from __future__ import annotations

import json
import threading
import time
from collections import OrderedDict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict
from hashlib import sha256
from types import MappingProxyType
from typing import Any

from django.conf import settings
from django_tasks import task

from lexigon.bench.forms import HouseStyleForm
from lexigon.bench.models import House, Job, Manuscript
from lexigon.bench.services import pictures, work
from lexigon.bench.services.files import Files
from lexigon.bench.services.jobs import OpenJob, opened
from lexigon.bench.services.origins import choices_of, remember
from lexigon.core.document.model import OBJECT
from lexigon.core.document.model import Job as ModelJob
from lexigon.core.document.starter import book_styles
from lexigon.core.editing.intents import UpdateListing
from lexigon.core.errors import LexigonError
from lexigon.core.flow.listing_entries import due, gathered
from lexigon.core.flow.section_places import SectionPlace, section_places, sections_moved
from lexigon.core.manuscript import reading
from lexigon.core.manuscript.mapping import LEAVE_OUT
from lexigon.core.manuscript.matter import around
from lexigon.core.manuscript.model import HEADINGS
from lexigon.core.manuscript.model import Manuscript as Read
from lexigon.core.manuscript.pouring import Keep, poured
from lexigon.core.manuscript.readers.decode import ManuscriptError
from lexigon.core.manuscript.reading import is_long
from lexigon.core.manuscript.review.cleaning import BY_ID
from lexigon.core.manuscript.review.remarks import remarks
from lexigon.core.manuscript.review.survey import surveyed
from lexigon.core.type.line_cache import line_cache

SAMPLES = settings.DATA / "samples"
"""Manuscripts that the demo offers to be tried."""
MOST_SHOWN = 60
BEGUN = 400
"""Characters of a paragraph that are shown of it."""
MOST_DOUBTS = 100
MOST_HEADINGS = 1000
"""That can be changed before the text is poured."""
OFFERED = ("title", "subtitle", "author", *HEADINGS, "scene", "verse", "quote")
"""What a line that was taken for a heading may be instead."""
MOST_HOUSES = 200
MOST_SIGNS = 40
"""The number of characters missing from all fonts that are reported."""
MOST_USES = 400
"""Styles of a document that are listed."""
TARGETS = (
    "body",
    "first",
    "title",
    "subtitle",
    "author",
    "part",
    "chapter",
    "section",
    "subsection",
    "heading5",
    "heading6",
    "quote",
    "verse",
    "scene",
    "caption",
    "tablecaption",
    "dedication",
    "imprint",
)
UNOFFERED = ("note", "folio", "runninghead", "contents", "contentshead")
"""Styles of a job that no style of a manuscript becomes: they follow from others."""
STEPS = 100
"""Parts of the work that progress counts."""
READ_BY, SET_BY = 5, 95
"""The part at which the text is read, and at which it is set; what is left is keeping it."""
REPORT_EVERY = 0.7
"""Seconds."""
WRONG = "The manuscript could not be read because of an error in the program. The job is unchanged. Try again."


def take_in(
    job: Job,
    name: str,
    data: bytes,
    mapping: Mapping[str, str] = MappingProxyType({}),
    cleaned: Mapping[str, bool] = MappingProxyType({}),
    fresh: bool = False,
) -> Manuscript:
    """Store a manuscript and survey it, with other styles for some of its own (``mapping``) and other clean-ups; a long
    one is surveyed in the background. A ``fresh`` one without any choices is treated like the version before. The job
    is not changed. Raises ManuscriptError if the file is not a manuscript."""
    long = is_long(data)
    saved = choices_of(job.pk) if fresh and not mapping and not cleaned else None
    if saved is not None:
        mapping, cleaned = saved.mapping, saved.cleaned
    with opened(job.pk) as live:
        if live.job.main_story is None:
            raise ManuscriptError(
                "This job has no main story to pour into. Draw a text frame on the board and paste the text there."
            )
        styles = {target["id"] for target in targets(live.job)}  # a house may have styles that this job has not
        mapping = {name: style for name, style in mapping.items() if style in styles}
        row = Manuscript(job=job, name=name[:255], data=data, mapping=dict(mapping), cleaned=dict(cleaned))
        row.saved = {"name": saved.name, "headings": saved.headings} if saved is not None else {}
        if not long:
            row.account = _account(read_row(row, live.job), live, row)
    Manuscript.objects.filter(job=job).exclude(state=Manuscript.RUNNING).delete()
    row.save()
    if row.account is None:
        _queue(row)
    return row


def pour(
    row: Manuscript, user: Any, styles: Mapping[int, str] = MappingProxyType({}), whole: bool = False
) -> int | None:
    """Pour a manuscript that was looked through into the job's main text, with other ``styles`` for some paragraphs;
    how many pages the job has then, None if that is being done in the background. Unless the ``whole`` text is
    replaced, front matter, contents and an index stay."""
    if row.state not in (Manuscript.READ, Manuscript.FAILED):
        return None
    restyled = {str(number): style for number, style in styles.items()}
    account = {**(row.account or {}), "restyled": restyled, "whole": whole}
    Manuscript.objects.filter(pk=row.pk).update(by=user, account=account)
    row.refresh_from_db()
    if is_long(bytes(row.data)):
        Manuscript.objects.filter(pk=row.pk).update(total=STEPS)
        _queue(row)
        return None
    count = _poured(row)
    row.delete()
    return count


def file_of(job: str) -> Callable[[str], bytes | None]:
    """Read the files of a job, by hash."""
    return Files(job).read


def samples() -> list[str]:
    """The names of the manuscripts that can be tried."""
    return sorted(path.name for path in SAMPLES.glob("*.*")) if SAMPLES.is_dir() else []


def sample(name: str) -> bytes:
    """One of them. Raises ManuscriptError where there is none of that name."""
    if name not in samples():
        raise ManuscriptError("There is no such sample.")
    return (SAMPLES / name).read_bytes()


def houses(user: Any) -> list[dict[str, Any]]:
    """The house styles for importing manuscripts that a user has saved."""
    return [dict(row) for row in House.objects.filter(owner=user).values("name", "mapping", "cleaned")]


def keep_house(user: Any, form: HouseStyleForm) -> list[dict[str, Any]]:
    """Save a house style, or delete it. Returns those that are saved then. Raises LexigonError if there are too
    many."""
    name = form.name.strip()
    if form.forgotten:
        House.objects.filter(owner=user, name=name).delete()
        return houses(user)
    if (
        not House.objects.filter(owner=user, name=name).exists()
        and House.objects.filter(owner=user).count() >= MOST_HOUSES
    ):
        raise LexigonError(f"There are {MOST_HOUSES} house styles already. Delete one first.")
    cleaned = {key: on for key, on in form.cleaned.items() if key in BY_ID}
    House.objects.update_or_create(owner=user, name=name, defaults={"mapping": form.mapping, "cleaned": cleaned})
    return houses(user)


def _queue(row: Manuscript) -> None:
    Manuscript.objects.filter(pk=row.pk).update(state=Manuscript.WAITING, done=0, error="")
    work.queue(row)
    row.refresh_from_db()


@task()
def work_manuscript(pk: int) -> None:
    """Read or pour one manuscript. Called by the task worker with the id only."""
    with work.claimed(Manuscript, pk) as row:
        if row is None:
            return
        try:
            if row.account is None:
                text = _read(row)
                with opened(row.job_id) as live:
                    account = _account(text, live, row)
                work.end(row, Manuscript.READ, account=account)
            else:
                _poured(row, lambda step: work.report(row, step, STEPS))
                work.end(row, Manuscript.READY)
        except work.Superseded:
            return
        except LexigonError as error:
            work.end(row, Manuscript.FAILED, error=str(error))
        except BaseException:
            work.end(row, Manuscript.FAILED, error=WRONG)
            raise


work.KINDS[Manuscript] = lambda pk: str(work_manuscript.enqueue(pk).id)


def _read(row: Manuscript, *, pouring: bool = False) -> Read:
    with opened(row.job_id) as live:
        job = live.job
    return read_row(row, job, pouring=pouring)


MOST_RECENT = 2
_recent: OrderedDict[str, Read] = OrderedDict()
"""The manuscripts that this process surveyed last, by what they were read from, so that pouring reads them no second
time. Each is poured once at most: its paragraphs have ids, which no other text may have."""
_recent_lock = threading.Lock()


def read_row(row: Manuscript, job: ModelJob, *, pouring: bool = False) -> Read:
    """Return a manuscript as it is to be imported: for a survey, or for ``pouring`` it. Raises ManuscriptError."""
    data = bytes(row.data)
    options: dict[str, Any] = {
        "language": job.brief.language,
        "cleaned": row.cleaned,
        "mapping": row.mapping,
        "own": _named(job),
        "headed": [style.id for style in job.paragraph_styles.values() if style.level],
    }
    key = f"{job.id} {sha256(data).hexdigest()} {row.name} {json.dumps(options, sort_keys=True)}"
    with _recent_lock:
        read = _recent.pop(key, None)
    if read is None:
        read = reading.read(data, row.name, **options)
    if not pouring:
        with _recent_lock:
            _recent[key] = read
            while len(_recent) > MOST_RECENT:
                _recent.popitem(last=False)
    return read


def _named(job: ModelJob) -> dict[str, str]:
    """The job's styles, ids by name; those that follow from others by themselves are left out."""
    own = {style.name: style.id for style in job.paragraph_styles.values() if style.id not in UNOFFERED}
    return {
        name: job.body if key == "first" else key for name, key in own.items()
    }  # first paragraphs follow from headings


def _poured(row: Manuscript, progress: Any = lambda step: None) -> int:
    """Pour it, once: the request bears the manuscript's own name, so that doing it again changes nothing."""
    text = _read(row, pouring=True)
    progress(READ_BY)
    reported = time.monotonic()

    def report_part(part: float) -> None:
        nonlocal reported
        if time.monotonic() - reported >= REPORT_EVERY:
            reported = time.monotonic()
            progress(READ_BY + int(part * (SET_BY - READ_BY)))  # where it may have been stopped

    with opened(row.job_id) as live:
        account = row.account or {}
        changes = {int(number): style for number, style in account.get("restyled", {}).items()}
        whole = bool(account.get("whole", True))
        intent, _ = poured(live.job, text, keeping(row.job_id), changes, whole)
        story = live.job.stories.get(intent.story)
        paragraph_ids = {p.id for p in story.paragraphs} if story is not None else set()
        places = [] if whole else section_places(live.workspace.composition)
        token = f"manuscript-{row.pk}-{row.started.timestamp():.0f}"
        with line_cache(row.job_id):
            live.do([intent], row.by, token=token, group=token, on_progress=report_part)
        own = [p for p in live.job.stories[intent.story].paragraphs if p.id not in paragraph_ids]
        if not whole:
            _follow(live, places, row.by, token)
        remember(row.job_id, row.name, own, row)
        return len(live.job.pages)


def _follow(live: OpenJob, places: Sequence[SectionPlace], user: Any, group: str) -> None:
    """Update the listings and move the sections after pouring, as one undo step with it."""
    for listing in list(live.job.listings.values()):
        merge = due(live.workspace.composition, listing)
        if merge is not None and merge.differences:
            now = tuple(entry.entry for entry in gathered(live.workspace.composition, listing))
            live.do([UpdateListing(listing.id, now)], user, group=group)
    if moves := sections_moved(live.workspace.composition, places):
        live.do(moves, user, group=group)


def keeping(job: str) -> Keep:
    """Store the pictures of a manuscript among the files of its job."""

    return lambda name, data: pictures.keep_one(name, data, job)


def paste_remarks(counts: Mapping[str, int]) -> list[str]:
    """Return what of a paste is not as one would expect."""
    return remarks({key: counts.get(key, 0) for key in ("missing", "notes in notes", "left out")})


def _begun(text: str) -> str:
    """A paragraph, or the beginning of a long one: whole words and an ellipsis."""
    return text if len(text) <= BEGUN else text[:BEGUN].rsplit(" ", 1)[0] + " …"


def targets(job: ModelJob) -> list[dict[str, str]]:
    """Return what a style of a manuscript can become."""
    usual = {style.id: style.name for style in book_styles()}
    names = {style.id: style.name for style in job.paragraph_styles.values()}
    targets = [
        {"id": key, "name": names.get(key) or usual.get(key, key.capitalize())}
        for key in dict.fromkeys((*TARGETS, *names))
        if key not in UNOFFERED
    ]
    first = names.get("first") or usual["first"]
    for target in targets:
        if target["id"] == job.body:
            target["name"] = f"{target['name']} ({first} after headings)"
    return [*targets, {"id": LEAVE_OUT, "name": "Leave out"}]


def _account(read: Read, live: OpenJob, row: Manuscript) -> dict[str, Any]:
    """Return what was recognised in a manuscript."""
    job = live.job
    survey = surveyed(read, job, live.workspace.composition.library)
    odd = {one.number: one.why for one in survey.odd}
    parts = {part.number: part for part in survey.parts}
    names = {style.id: style.name for style in job.paragraph_styles.values()}
    counts = read.counts
    before = row.saved.get("headings", {})
    headings, offered = read.headings[:MOST_HEADINGS], targets(job)
    option_ids = {one["id"] for one in offered}
    return {
        "saved": row.saved.get("name", ""),
        "cleaned": dict(row.cleaned),
        "restyled": {
            str(h.number): style for h in headings if (style := before.get(h.text)) in option_ids and style != h.style
        },
        "encoding": read.encoding,
        "words": counts["words"],
        "joined": counts["joined"],
        "emphasis": counts["emphasis"],
        "dropped": counts["dropped"],
        "styles": [{"id": key, "name": names[key], "count": counts[key]} for key in names if counts.get(key)],
        "doubts": list(read.doubts[:MOST_DOUBTS]),
        "doubtful": len(read.doubts),
        "headings": [
            {"n": h.number, "style": h.style, "text": h.text[:200], "odd": odd.get(h.number, "")}
            | (
                {"depth": part.depth, "words": part.words, "begins": part.begins}
                if (part := parts.get(h.number))
                else {"depth": 0, "words": 0, "begins": ""}
            )
            for h in headings
        ],
        "stays": list(around(job, job.stories[job.main_story], read.paragraphs).names)
        if job.main_story in job.stories
        else [],
        "before": asdict(parts[-1]) if -1 in parts else None,
        "longest": survey.longest,
        "foreign": survey.foreign,
        "lacking": [asdict(one) for one in survey.lacking[:MOST_SIGNS]],
        "found": [asdict(one) for one in read.found],
        "offered": [one for one in offered if one["id"] in (*OFFERED, *names)],
        "uses": [asdict(use) for use in read.uses[:MOST_USES]],
        "mapping": dict(row.mapping),
        "told": remarks(counts),
        "targets": offered,
        "sample": [
            {"style": names.get(p.style, p.style), "id": p.style, "text": _begun(p.text.replace(OBJECT, ""))}
            for p in read.paragraphs[:MOST_SHOWN]
        ],
    }
