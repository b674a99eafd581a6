"""Finding and replacing, in a job or in all that somebody has."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import asdict
from itertools import islice
from typing import Any

from lexigon.bench.forms import KeptSearch, Looked
from lexigon.bench.models import Job, Search
from lexigon.bench.services.jobs import OpenJob, opened
from lexigon.core.errors import LexigonError
from lexigon.core.job.model import OBJECT
from lexigon.core.manuscript.finding import MOST_HITS, Exchange, Hit, Query, SearchError, exchanged, hits, put_for

MOST_FOUND = 5000
"""Places that the board is told."""
MOST_SHOWN = 400
"""Places of a list."""
MOST_SEARCHES = 200
AROUND = 60


def find(live: OpenJob, story_id: str, words: str, case: bool, whole: bool, pattern: bool) -> dict[str, Any]:
    """Every place of some words in a story, in order, for the board."""
    if story_id not in live.job.stories:
        raise LexigonError("That story is no longer in the job.")
    query = Query(words, pattern, whole, case, story=story_id)
    found = [{"p": hit.paragraph.id, "o": hit.start, "e": hit.end} for hit in islice(hits(live.job, query), MOST_FOUND)]
    return {"found": found, "more": len(found) == MOST_FOUND}


def look(key: str, asked: Looked, user: Any) -> dict[str, Any]:
    """Return what is found, with what it would become; of all jobs how often in each. One job is opened at a time."""
    query, exchange = asked.query, asked.exchange
    with opened(key) as live:
        if query.nothing:
            return {"rows": [], "count": 0, "held": 0, "jobs": [], "revision": live.revision}
        found = list(hits(live.job, query))
        answer: dict[str, Any] = {
            "rows": [_row(live, number, hit, exchange, query.pattern) for number, hit in enumerate(found[:MOST_SHOWN])], "count": len(found),
            "held": sum(hit.held for hit in found), "most": len(found) >= MOST_HITS, "revision": live.revision, "jobs": [],
        }  # fmt: skip
        if asked.everywhere:
            answer["jobs"].append({"key": live.key, "name": live.job.name, "count": len(found)})
    for other in _others(key, user) if asked.everywhere else ():
        with opened(other.pk) as beside:
            count = sum(1 for _ in hits(beside.job, query))
        if count:
            answer["jobs"].append({"key": other.pk, "name": other.name, "count": count})
    return answer


def _others(key: str, user: Any) -> Iterable[Job]:
    """The other jobs in which somebody may replace something."""
    return Job.objects.editable_by(user).exclude(pk=key).order_by("name")


def _row(live: OpenJob, number: int, hit: Hit, exchange: Exchange, pattern: bool) -> dict[str, Any]:
    text, where = hit.paragraph.text.replace(OBJECT, "\u25c7"), hit.where
    page = live.desk.composition.page_of(where.key, hit.paragraph.id, hit.start) if where.kind == "story" else None
    return {
        "n": number, "before": _lead(text[: hit.start]), "text": text[hit.start : hit.end][:400], "behind": _tail(text[hit.end :]),
        "put": None if exchange.words is None or hit.held else put_for(hit, exchange, pattern), "held": hit.held, "place": _told(live, hit),
        "page": page, "label": live.desk.composition.values.labels[page] if page is not None else "",
    }  # fmt: skip


def _lead(text: str) -> str:
    """The end of what stands before, in whole words."""
    return text if len(text) <= AROUND else "… " + text[-AROUND:].partition(" ")[2]


def _tail(text: str) -> str:
    return text if len(text) <= AROUND else text[:AROUND].rpartition(" ")[0] + " …"


def _told(live: OpenJob, hit: Hit) -> str:
    """Return its place in words."""
    job, where = live.job, hit.where
    if where.kind == "copy":
        return f"standing copy “{job.copies[where.key].name}”"
    if where.kind == "table":
        return job.tables[where.key].name
    story = job.stories[where.key]
    return "" if story.id == job.main_story else "a note" if story.kind == "note" else story.name


def exchange_all(key: str, asked: Looked, user: Any, left: Collection[int], revision: int) -> dict[str, Any]:
    """Replace what was found but for what was unticked: one change in each job. Other jobs are replaced in whole."""
    with opened(key) as live:
        if live.revision != revision:
            raise LexigonError("The job has changed since this search. Nothing was replaced. Search again.")
        done = [_exchanged(live, asked, user, left)]
    skipped = 0
    for other in _others(key, user) if asked.everywhere else ():
        with opened(other.pk) as beside:
            try:
                done.append(_exchanged(beside, asked, user, ()))
            except SearchError:  # it lacks the style or the swatch to replace with
                skipped += 1
    return {
        "skipped": skipped,
        "count": sum(count for count, _ in done),
        "held": sum(held for _, held in done),
        "jobs": sum(count > 0 for count, _ in done),
    }


def _exchanged(live: OpenJob, asked: Looked, user: Any, left: Collection[int]) -> tuple[int, int]:
    edit, count, held = exchanged(live.job, asked.query, asked.exchange, left)
    if count:
        live.do([edit], user)
    return count, held


def searches(user: Any) -> list[dict[str, Any]]:
    """The searches that somebody has kept."""
    return list(Search.objects.filter(owner=user).values("name", "said"))


def keep_search(user: Any, asked: KeptSearch) -> list[dict[str, Any]]:
    """Keep a search under a name, or forget it; those that are kept then."""
    name = asked.name.strip()
    own = Search.objects.filter(owner=user)
    if asked.forgotten:
        own.filter(name=name).delete()
        return searches(user)
    if not own.filter(name=name).exists() and own.count() >= MOST_SEARCHES:
        raise LexigonError(f"There are {MOST_SEARCHES} saved searches already. Delete one first.")
    said = {"query": asdict(asked.query), "exchange": asdict(asked.exchange)}
    Search.objects.update_or_create(owner=user, name=name, defaults={"said": said})
    return searches(user)
