"""``lexigon listings``: add, insert and update listings."""

from __future__ import annotations

import argparse
import json
from collections.abc import Sequence
from dataclasses import asdict
from pathlib import Path
from typing import Any, Literal

from lexigon.cli.jobs import open_job, save_job
from lexigon.cli.options import add_json, add_output
from lexigon.core.document.model import Listing
from lexigon.core.editing.intents import InsertListing, MarkTerms, PutListing, UpdateListing
from lexigon.core.editing.ready_listings import ready
from lexigon.core.errors import LexigonError
from lexigon.core.flow.listing_entries import due, gathered
from lexigon.core.flow.references import label_of
from lexigon.core.flow.workspace import Workspace
from lexigon.core.manuscript.readers.decode import decode

DESCRIPTION = "List the entries of a job’s listings and whether they are up to date; add, insert or update listings."
EXAMPLES = (
    "lexigon listings novel.lexigon --add Contents --insert front",
    "lexigon listings novel.lexigon --update",
)


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("job", help="the job file")
    parser.add_argument("--name", help="only this listing")
    parser.add_argument("--add", metavar="NAME", help="add a ready-made listing, such as Contents")
    parser.add_argument(
        "--insert",
        choices=("front", "end"),
        help="insert into the main story: before the first heading listed, or at the end",
    )
    parser.add_argument(
        "--heading", metavar="TEXT", help="with --insert: the heading above it (default: the name of the listing)"
    )
    parser.add_argument(
        "--update", action="store_true", help="update the listings in stories; entries that you edited stay"
    )
    parser.add_argument(
        "--replace-edits", "--take-all", action="store_true", help="with --update: replace entries that you edited, too"
    )
    parser.add_argument(
        "--mark-from",
        "--mark",
        metavar="FILE",
        help="add index entries from a list, one on each line, such as dunlins = dunlin",
    )
    add_json(parser)
    add_output(parser)


def run(options: argparse.Namespace) -> int:
    """Print every listing with its entries and pages, and what an update of it would do."""
    workspace = open_job(options.job)
    if options.add:
        name = _add(workspace, options.add)
        if options.insert:
            options.name = name
    if options.mark_from:
        workspace.do(MarkTerms(decode(Path(options.mark_from).read_bytes()).text))
    listings = [one for one in workspace.job.listings.values() if options.name in (None, one.name, one.id)]
    if options.name is not None and not listings:
        names = ", ".join(one.name for one in workspace.job.listings.values()) or "none"
        raise LexigonError(f"There is no listing “{options.name}” in this job. Available are: {names}.", "name")
    if options.insert:
        if options.name is None:
            raise LexigonError("Name the listing to insert, with --name or --add.", "insert")
        _insert(workspace, listings, options.insert, options.heading)
        listings = [workspace.job.listings[one.id] for one in listings]
    _print(workspace, listings, options.json)
    if options.update:
        for one in listings:
            _update(workspace, one, options.replace_edits)
    if options.update or options.add or options.mark_from or options.insert:
        print(f"{save_job(workspace, options)}: written")
    return 0


def _add(workspace: Workspace, name: str) -> str:
    """Add a ready-made listing. Returns its name. Raises LexigonError if there is none with that name."""
    offers = {one.name.casefold(): one for one in ready(workspace.job)}
    listing = offers.get(name.casefold())
    if listing is None:
        names = ", ".join(one.name for one in offers.values()) or "none"
        raise LexigonError(f"There is no ready-made listing “{name}” for this job. Available are: {names}.", "add")
    workspace.do(PutListing(listing))
    return listing.name


def _insert(
    workspace: Workspace, listings: Sequence[Listing], where: Literal["front", "end"], heading: str | None
) -> None:
    """Insert listings into the main story, each under its name or under a heading."""
    for one in listings:
        entries = tuple(item.entry for item in gathered(workspace.composition, one))
        title = one.name if heading is None else heading
        workspace.do(InsertListing(one.id, workspace.job.main_story or "", entries, where, title))


def _update(workspace: Workspace, listing: Listing, replace_edits: bool) -> None:
    merge = due(workspace.composition, listing)
    if merge is not None and merge.differences:
        replaced = tuple(change.entry for change in merge.differences) if replace_edits else ()
        entries = tuple(item.entry for item in gathered(workspace.composition, listing))
        workspace.do(UpdateListing(listing.id, entries, replaced))


def _print(workspace: Workspace, listings: Sequence[Listing], as_json: bool) -> None:
    reports = [_report(workspace, one) for one in listings]
    if as_json:
        print(json.dumps(reports, indent=2, ensure_ascii=False))
        return
    for one in reports:
        print(f"{one['name']}: {len(one['entries'])} entries, {one['state']}")
        for entry in one["entries"]:
            print(f"  {'  ' * (entry['level'] - 1)}{entry['words']}  {entry['page']}")
        for change in one["changes"]:
            new = f" -> {change['new']}" if change["new"] else ""
            print(f"  * {change['what']}: {change['mine'] or change['old']}{new}")


def _report(workspace: Workspace, listing: Listing) -> dict[str, Any]:
    merge = due(workspace.composition, listing)
    changes = merge.differences if merge else []
    labels = workspace.composition.values.labels
    entries = []
    for one in gathered(workspace.composition, listing):
        page = "" if one.page is None else label_of(one.page, labels)
        entries.append({"words": one.entry.words, "level": one.entry.level, "page": page})
    state = "not inserted" if merge is None else f"{len(changes)} changes to apply" if changes else "up to date"
    return {
        "id": listing.id,
        "name": listing.name,
        "state": state,
        "entries": entries,
        "changes": [asdict(one) for one in changes],
    }
