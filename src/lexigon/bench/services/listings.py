"""Listings on the screen: what they gather, where they stand, what an update would do; places that a reference can lead
to."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from django.urls import reverse

from lexigon.bench.forms import ListingInsertionForm, TermForm
from lexigon.bench.services import publications
from lexigon.bench.services.jobs import OpenJob
from lexigon.core.document import numbering
from lexigon.core.document.model import Gathered, Listing, Target
from lexigon.core.editing.intents import InsertListing, Intent, MarkTerms, PlaceListing, PutListing, PutTerm, RemoveTerm
from lexigon.core.editing.ready_listings import ready
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.listing_entries import FoundEntry, due, first_place, gathered
from lexigon.core.flow.references import plain_words

MOST_PLACES = 60
LONGEST = 160
MESSAGES = {
    "new": "is new",
    "gone": "was removed",
    "words": "has other text",
    "style": "has another style",
    "moved": "has moved",
    "conflict": "was edited by you and has other text now",
    "kept": "was edited by you and was removed",
}


def listed(live: OpenJob) -> list[dict[str, Any]]:
    """Every listing of a job with its entries and with what waits to be brought up to date."""
    return [to_json(live, one) for one in live.job.listings.values()]


def to_json(live: OpenJob, listing: Listing) -> dict[str, Any]:
    composition = live.workspace.composition
    merge = due(composition, listing)
    place = first_place(composition, listing)
    page = composition.where.page(*place) if place else None
    differences = [
        {
            "entry": one.entry,
            "what": one.what,
            "said": MESSAGES[one.what],
            "old": _begun(one.old),
            "new": _begun(one.new),
            "mine": _begun(one.mine),
            "asks": one.what in ("conflict", "kept"),
        }
        for one in (merge.differences if merge else ())
    ]
    own = plain(listing)
    own.pop("entries", None)
    return {
        **own,
        "rows": rows(live, gathered(composition, listing)),
        "stands": None if place is None else {"page": page, "label": _label(live, page)},
        "differences": differences,
    }


def rows(live: OpenJob, entries: list[FoundEntry]) -> list[dict[str, Any]]:
    """Entries with the pages they lead to."""
    return [
        {
            "words": _begun(one.entry.words),
            "level": one.entry.level,
            "page": one.page,
            "label": one.label or (_label(live, one.page) if one.entry.targets else ""),
            "paragraph": one.entry.targets[0].paragraph if one.entry.targets else "",
            "count": len(one.entry.targets),
            "away": f"{reverse('board', args=[one.away[0]])}?page={one.away[1] + 1}" if one.away is not None else "",
        }
        for one in entries
    ]


def now(live: OpenJob, key: str) -> tuple[Gathered, ...]:
    """Return what a listing gathers at present; nothing for one that is not there."""
    listing = live.job.listings.get(key)
    return tuple(one.entry for one in gathered(live.workspace.composition, listing)) if listing else ()


def insertion(live: OpenJob, form: ListingInsertionForm) -> list[Intent]:
    """Return what inserts a listing where it is wanted; one that the job does not have yet is added to it first."""
    present = live.job.listings.get(form.listing)
    fresh = form.ready if present is None and form.ready is not None and form.ready.id == form.listing else None
    listing = present or fresh
    entries = tuple(one.entry for one in gathered(live.workspace.composition, listing)) if listing else ()
    added: list[Intent] = [PutListing(fresh)] if fresh else []
    if form.where == "at":
        if form.at is None:
            raise LexigonError("Put the caret where the listing is to be inserted.")
        return [*added, PlaceListing(form.listing, form.story, form.at, entries, form.heading)]
    return [*added, InsertListing(form.listing, live.job.main_story or "", entries, form.where, form.heading)]


def chosen_from(live: OpenJob) -> dict[str, Any]:
    """Return what a listing can be made of: styles, sections, ready-made listings."""
    job = live.job
    offered = ready(job)
    return {
        "paragraphs": [{"id": style.id, "name": style.name} for style in job.paragraph_styles.values()],
        "characters": [{"id": style.id, "name": style.name} for style in job.character_styles.values()],
        "notes": [{"id": kind.id, "name": kind.name} for kind in job.note_kinds.values()],
        "sections": [
            {
                "id": job.pages[index].id,
                "name": section.name or f"from page {live.workspace.composition.values.labels[index]}",
            }
            for index, section in numbering.sections(job)
        ],
        "terms": [
            {
                "id": one.id,
                "name": one.name,
                "parent": one.parent,
                "sort": one.sort,
                "see": list(one.see),
                "also": list(one.also),
            }
            for one in job.terms.values()
        ],
        "ready": [plain(one) for one in offered],
        "filled": [one.id for one in offered if gathered(live.workspace.composition, one)],
        "publication": publications.beside(live.key),
    }


def term_intent(live: OpenJob, form: TermForm) -> PutTerm | RemoveTerm | MarkTerms:
    """Return what is to be done to a term, or for a list of them. Raises LexigonError for words that are no term."""
    if form.words.strip():
        return MarkTerms(form.words)
    if form.gone:
        return RemoveTerm(form.id or "")

    def named(words: str) -> str:
        term = next(
            (one.id for one in live.job.terms.values() if one.name.casefold() == words.strip().casefold()), None
        )
        if term is None:
            raise LexigonError(f"There is no term “{words.strip()}” in the index yet. Add it first.")
        return term

    under = named(form.under) if form.under.strip() else ""
    see, also = (tuple(named(one) for one in some if one.strip()) for some in (form.see, form.also))
    return PutTerm(form.name, form.id, under, form.sort, see, also)


def places(live: OpenJob, words: str) -> list[dict[str, Any]]:
    """Paragraphs that a reference can lead to, by words in them; without any the headings, captions and numbered
    paragraphs."""
    composition, job = live.workspace.composition, live.job
    search_words = words.casefold().split()
    rows: list[dict[str, Any]] = []
    for story, flow in composition.flows.items():
        marks = composition.counting.marks.get(story, {})
        for set_ in flow.paragraphs:
            paragraph = set_.shown.paragraph
            style = job.paragraph_styles.get(paragraph.style)
            marked = marks.get(set_.paragraph.id)
            headed = bool(style and style.level) or marked is not None or "caption" in paragraph.style
            if not search_words and not headed:
                continue
            text = plain_words(paragraph)
            if not text or any(word not in text.casefold() for word in search_words):
                continue
            page = composition.where.page(story, set_.paragraph.id)
            rows.append(
                {
                    "id": set_.paragraph.id,
                    "words": _begun(text),
                    "style": style.name if style else "",
                    "label": _label(live, page),
                    "number": marked[0].strip(" .") if marked else "",
                    "headed": headed,
                }
            )
    rows += _notes(live, search_words) if search_words else []
    rows.sort(key=lambda one: not one["headed"])
    return rows[:MOST_PLACES]


def _notes(live: OpenJob, search_words: list[str]) -> Iterator[dict[str, Any]]:
    """Yield the notes whose first paragraph contains all the words wanted, as targets of references."""
    composition, job = live.workspace.composition, live.job
    cited = {ref: one for key in composition.flows for ref, one in composition.notes.numbers(key).items()}
    for ref, one in cited.items():
        first = job.stories[ref].paragraphs[0]
        text = plain_words(first)
        if text and all(word in text.casefold() for word in search_words):
            page = composition.values.references.page_of(Target(first.id))
            yield {
                "id": first.id,
                "words": _begun(text),
                "style": one.kind.name,
                "label": _label(live, page),
                "number": one.number,
                "headed": False,
            }


def _label(live: OpenJob, page: int | None) -> str:
    labels = live.workspace.composition.values.labels
    return "" if page is None else labels[page] if page < len(labels) and labels[page] else str(page + 1)


def _begun(text: str) -> str:
    return text if len(text) <= LONGEST else text[:LONGEST].rsplit(" ", 1)[0] + " …"
