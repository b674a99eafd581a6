"""The places of a publication's other jobs that a listing of one job can gather."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from lexigon.core.document.model import Abroad, AbroadEntry, AbroadTerm, Gathered, Job, Listing, ListingSource
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.listing_entries import gathered
from lexigon.core.publication.styles import counterparts

TABLES = {"paragraphs": "paragraph_styles", "words": "character_styles", "notes": "note_kinds"}


def wanting(job: Job) -> list[Listing]:
    """The listings of a job that gather from the others."""
    return [one for one in job.listings.values() if one.over == "publication"]


def entries_for(home: Job, composition: Composition, before: bool) -> Abroad:
    """Return what a composed job contributes to the listings of ``home``, which it is ``before`` or after. Styles that
    have the same id in both, else the same name, are the same."""
    job, there = composition.job, counterparts(home, composition.job)
    back = counterparts(job, home)
    entries: list[AbroadEntry] = []
    for listing in wanting(home):
        sources = tuple(_there(listing.sources, there))
        if sources:
            listing_ = replace(
                listing,
                sources=sources,
                over="job",
                order="appearance",
                merged=False,
                sections=(),
                stories=(),
                entries=(),
            )
            for one in gathered(composition, listing_):
                entry = _rewritten(one.entry, job.id, home, back)
                pages = [composition.values.references.page_of(target) for target in one.entry.targets]
                entries.append(AbroadEntry(listing.id, entry, tuple(-1 if page is None else page for page in pages)))
    terms: list[AbroadTerm] = []
    if any(source.of == "marks" for listing in wanting(home) for source in listing.sources):
        terms = [AbroadTerm(term, tuple(composition.values.references.marks(term.id))) for term in job.terms.values()]
    return Abroad(job.id, job.name, before, tuple(composition.values.labels), tuple(entries), tuple(terms))


def _there(sources: Sequence[ListingSource], ids: dict[tuple[str, str], str]) -> list[ListingSource]:
    """The styles that feed a listing, under their ids in the other job; without index marks, which are handled
    separately."""
    listing_sources = []
    for source in sources:
        key = ids.get((TABLES[source.of], source.style)) if source.of in TABLES else None
        if key is not None:
            listing_sources.append(replace(source, style=key))
    return listing_sources


def _rewritten(entry: Gathered, part: str, home: Job, ids: dict[tuple[str, str], str]) -> Gathered:
    """An entry as it is written in the job that lists it."""
    spans = tuple(
        replace(span, style=ids.get(("character_styles", span.style)) if span.style else span.style)
        for span in entry.spans
    )
    style = entry.style if entry.style in home.paragraph_styles else ids.get(("paragraph_styles", entry.style), "")
    return replace(entry, targets=tuple(replace(one, part=part) for one in entry.targets), spans=spans, style=style)


def abroad(jobs: Sequence[Composition], at: int) -> tuple[Abroad, ...]:
    """Return what all other jobs of a publication have for the listings of the one at a place; nothing where none of
    these asks for it."""
    home = jobs[at].job
    if not wanting(home):
        return ()
    return tuple(entries_for(home, one, number < at) for number, one in enumerate(jobs) if number != at)
