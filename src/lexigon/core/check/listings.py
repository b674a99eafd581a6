"""Listings that are no longer what they were gathered from, references whose place is gone."""

from __future__ import annotations

from collections.abc import Iterator

from lexigon.core.check.findings import Finding, rule
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.listing_entries import due, first_place
from lexigon.core.flow.references import GONE
from lexigon.core.plural import counted


@rule()
def references(composition: Composition) -> Iterator[Finding]:
    """References, and entries of listings, that lead to nothing: each by where it stands."""
    for key, flow in composition.flows.items():
        for set_paragraph in flow.paragraphs:
            for span in set_paragraph.paragraph.spans:
                if span.object is None or span.object.kind not in ("reference", "entry"):
                    continue
                text = composition.values.value(span.object, 0, lambda field, page: "")
                if text in (GONE, ""):
                    page = composition.where.page(key, set_paragraph.paragraph.id, span.start)
                    what = "A reference" if span.object.kind == "reference" else "An entry of a listing"
                    yield Finding(
                        "broken reference",
                        f"{what} refers to a place that is no longer in the job, and shows {text or 'nothing'}.",
                        page,
                        subject=key,
                    )


@rule()
def listings(composition: Composition) -> Iterator[Finding]:
    """Find listings that are out of date."""
    for listing in composition.job.listings.values():
        merge = due(composition, listing)
        waiting = [one for one in merge.differences if one.what not in ("conflict", "kept")] if merge else []
        conflicts = [one for one in merge.differences if one.what in ("conflict", "kept")] if merge else []
        if waiting or conflicts:
            both = [f"{counted(len(waiting), 'change')} to take over"] if waiting else []
            both += [f"{counted(len(conflicts), 'place')} to decide on"] if conflicts else []
            place = first_place(composition, listing)
            page = composition.where.page(*place) if place else None
            text = f"The listing “{listing.name}” is not up to date: {', '.join(both)}."
            yield Finding("stale listing", text, page, subject=listing.id)
