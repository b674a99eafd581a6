"""Finding and replacing, in a job or in all that somebody has."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import asdict
from itertools import islice
from typing import Any

from lexigon.bench.forms import SavedSearchForm, SearchForm
from lexigon.bench.models import Job, Search
from lexigon.bench.services.jobs import OpenJob, opened
from lexigon.core.document.model import OBJECT
from lexigon.core.errors import LexigonError
from lexigon.core.manuscript.review.finding import (
    MOST_HITS,
    Exchange,
    Hit,
    Query,
    SearchError,
    exchanged,
    hits,
    put_for,
)

MOST_FOUND = 5000
"""The number of matches that are sent to the board."""
MOST_SHOWN = 400
"""Places of a list."""
MOST_SEARCHES = 200
AROUND = 60


def find(live: OpenJob, story_id: str, words: str, case: bool, whole: bool, pattern: bool) -> dict[str, Any]:
    """Every place of some words in a story, in order, for the board."""
    if story_id not in live.job.stories:
        raise LexigonError("That story is no longer in the job.")
    query = Query(words, pattern, whole, case, story=story_id)
    matches = [
        {"p": hit.paragraph.id, "o": hit.start, "e": hit.end} for hit in islice(hits(live.job, query), MOST_FOUND)
    ]
    return {"found": matches, "more": len(matches) == MOST_FOUND}


def look(key: str, form: SearchForm, user: Any) -> dict[str, Any]:
    """Return what is found, with what it would become; of all jobs how often in each. One job is opened at a time."""
    query, exchange = form.query, form.exchange
    with opened(key) as live:
        if query.nothing:
            return {"rows": [], "count": 0, "held": 0, "jobs": [], "revision": live.revision}
        matches = list(hits(live.job, query))
        answer: dict[str, Any] = {
            "rows": [
                _row(live, number, hit, exchange, query.pattern) for number, hit in enumerate(matches[:MOST_SHOWN])
            ],
            "count": len(matches),
            "held": sum(hit.has_object for hit in matches),
            "most": len(matches) >= MOST_HITS,
            "revision": live.revision,
            "jobs": [],
        }
        if form.everywhere:
            answer["jobs"].append({"key": live.key, "name": live.job.name, "count": len(matches)})
    for other in _others(key, user) if form.everywhere else ():
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
    page = live.workspace.composition.page_of(where.key, hit.paragraph.id, hit.start) if where.kind == "story" else None
    return {
        "n": number,
        "before": _lead(text[: hit.start]),
        "text": text[hit.start : hit.end][:400],
        "behind": _tail(text[hit.end :]),
        "put": None if exchange.words is None or hit.has_object else put_for(hit, exchange, pattern),
        "held": hit.has_object,
        "place": _locate(live, hit),
        "page": page,
        "label": live.workspace.composition.values.labels[page] if page is not None else "",
    }


def _lead(text: str) -> str:
    """The end of the text before a match, in whole words."""
    return text if len(text) <= AROUND else "… " + text[-AROUND:].partition(" ")[2]


def _tail(text: str) -> str:
    return text if len(text) <= AROUND else text[:AROUND].rpartition(" ")[0] + " …"


def _locate(live: OpenJob, hit: Hit) -> str:
    """Return its place in words."""
    job, where = live.job, hit.where
    if where.kind == "copy":
        return f"standing copy “{job.copies[where.key].name}”"
    if where.kind == "table":
        return job.tables[where.key].name
    story = job.stories[where.key]
    return "" if story.id == job.main_story else "a note" if story.kind == "note" else story.name


def exchange_all(key: str, form: SearchForm, user: Any, left: Collection[int], revision: int) -> dict[str, Any]:
    """Replace what was found but for what was unticked: one change in each job. Other jobs are replaced in whole."""
    with opened(key) as live:
        if live.revision != revision:
            raise LexigonError("The job has changed since this search. Nothing was replaced. Search again.")
        done = [_exchanged(live, form, user, left)]
    skipped = 0
    for other in _others(key, user) if form.everywhere else ():
        with opened(other.pk) as beside:
            try:
                done.append(_exchanged(beside, form, user, ()))
            except SearchError:  # it lacks the style or the swatch to replace with
                skipped += 1
    return {
        "skipped": skipped,
        "count": sum(count for count, _ in done),
        "held": sum(left_alone for _, left_alone in done),
        "jobs": sum(count > 0 for count, _ in done),
    }


def _exchanged(live: OpenJob, form: SearchForm, user: Any, left: Collection[int]) -> tuple[int, int]:
    edit, count, skipped = exchanged(live.job, form.query, form.exchange, left)
    if count:
        live.do([edit], user)
    return count, skipped


def searches(user: Any) -> list[dict[str, Any]]:
    """The searches that a user has saved."""
    return [dict(row) for row in Search.objects.filter(owner=user).values("name", "said")]


def keep_search(user: Any, form: SavedSearchForm) -> list[dict[str, Any]]:
    """Save a search under a name, or delete it. Returns those that are saved then."""
    name = form.name.strip()
    own = Search.objects.filter(owner=user)
    if form.forgotten:
        own.filter(name=name).delete()
        return searches(user)
    if not own.filter(name=name).exists() and own.count() >= MOST_SEARCHES:
        raise LexigonError(f"There are {MOST_SEARCHES} saved searches already. Delete one first.")
    search = {"query": asdict(form.query), "exchange": asdict(form.exchange)}
    Search.objects.update_or_create(owner=user, name=name, defaults={"said": search})
    return searches(user)
