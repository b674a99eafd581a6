"""The command about listings: what they gather, which are out of date, bringing them up to date."""

from __future__ import annotations

import argparse
import json
from collections.abc import Sequence
from dataclasses import asdict
from pathlib import Path
from typing import Literal

from lexigon.core.errors import LexigonError
from lexigon.core.flow.desk import Desk
from lexigon.core.flow.gathering import due, gathered
from lexigon.core.flow.references import label_of
from lexigon.core.job import package
from lexigon.core.job.intents import InsertListing, MarkTerms, PutListing, UpdateListing
from lexigon.core.job.model import Listing
from lexigon.core.job.ready import ready
from lexigon.core.manuscript.decode import decode
from lexigon.outfile import write_job


def listings(options: argparse.Namespace) -> int:
    """Tell every listing with its entries and pages, and what an update of it would do; make one, or bring them up to date."""
    place = Path(options.job)
    data = place.read_bytes()
    desk = Desk(package.read(data))
    if options.add:
        offered = {one.name.casefold(): one for one in ready(desk.job)}
        wanted = offered.get(options.add.casefold())
        if wanted is None:
            names = ", ".join(one.name for one in offered.values()) or "none"
            raise LexigonError(f"There is no ready listing “{options.add}” for this job; there are {names}.", "add")
        desk.do(PutListing(wanted))
        if options.insert:
            options.name = wanted.name
    if options.mark_from:
        desk.do(MarkTerms(decode(Path(options.mark_from).read_bytes()).text))
    chosen = [one for one in desk.job.listings.values() if options.name in (None, one.name, one.id)]
    if options.name is not None and not chosen:
        names = ", ".join(one.name for one in desk.job.listings.values()) or "none"
        raise LexigonError(f"There is no listing “{options.name}” in this job; there are {names}.", "name")
    if options.insert:
        if options.name is None:
            raise LexigonError("Name the listing to insert, with --name or --add.", "insert")
        _insert(desk, chosen, options.insert, options.heading)
        chosen = [desk.job.listings[one.id] for one in chosen]
    told = [_told(desk, one) for one in chosen]
    if options.json:
        print(json.dumps(told, indent=2, ensure_ascii=False))
    else:
        for one in told:
            print(f"{one['name']}: {len(one['entries'])} entries, {one['state']}")
            for entry in one["entries"]:
                print(f"  {'  ' * (entry['level'] - 1)}{entry['words']}  {entry['page']}")
            for change in one["changes"]:
                print(
                    f"  * {change['what']}: {change['mine'] or change['old']}{' -> ' + change['new'] if change['new'] else ''}"
                )
    if options.update:
        for one in chosen:
            merge = due(desk.composition, one)
            if merge is not None and merge.differences:
                taken = tuple(change.entry for change in merge.differences) if options.replace_edits else ()
                now = tuple(found.entry for found in gathered(desk.composition, one))
                desk.do(UpdateListing(one.id, now, taken))
    if options.update or options.add or options.mark_from or options.insert:
        target = Path(options.output or options.job)
        write_job(target, desk.job, package.read_files(data))
        print(f"{target}: written")
    return 0


def _told(desk: Desk, listing: Listing) -> dict[str, object]:
    merge = due(desk.composition, listing)
    waiting = merge.differences if merge else []
    labels = desk.composition.values.labels
    entries = [
        {"words": one.entry.words, "level": one.entry.level, "page": "" if one.page is None else label_of(one.page, labels)}
        for one in gathered(desk.composition, listing)
    ]  # fmt: skip
    state = "in no text" if merge is None else f"{len(waiting)} changes waiting" if waiting else "up to date"
    return {
        "id": listing.id,
        "name": listing.name,
        "state": state,
        "entries": entries,
        "changes": [asdict(one) for one in waiting],
    }


def _insert(desk: Desk, chosen: Sequence[Listing], where: Literal["front", "end"], heading: str | None) -> None:
    """Insert listings into the main text, each under its name or under a heading."""
    for one in chosen:
        now = tuple(found.entry for found in gathered(desk.composition, one))
        desk.do(InsertListing(one.id, desk.job.main_story or "", now, where, one.name if heading is None else heading))
