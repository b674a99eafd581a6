"""The command about publications: several jobs numbered through, brought into line with each other, pressed as one file."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Iterable
from dataclasses import asdict
from pathlib import Path

from lexigon.commands import LOOK, counted, moment, open_job, tell_findings
from lexigon.core.errors import LexigonError
from lexigon.core.flow.desk import Desk
from lexigon.core.flow.gathering import due, gathered
from lexigon.core.job import package
from lexigon.core.job.intents import UpdateListing
from lexigon.core.job.intents.listings import PutAbroad
from lexigon.core.job.serial import job_to_json
from lexigon.core.press.document import Part, write_parts
from lexigon.core.press.recipes import recipe
from lexigon.core.publication.abroad import abroad, wanting
from lexigon.core.publication.order import Counted, Start, numbering, starts, usual
from lexigon.core.publication.styles import AlignStyles, differences
from lexigon.outfile import OutFile, write_job

MOST_ROUNDS = 8
"""Times that jobs are numbered and their listings gathered until nothing moves."""


def publication(options: argparse.Namespace) -> int:
    """Tell how jobs follow each other; number them, bring their styles into line, press them as one file, as asked."""
    paths = [Path(path) for path in options.jobs]
    named = {*options.own_numbering, *options.not_numbered, *([options.lead] if options.lead else [])}
    if stranger := named - set(options.jobs):
        raise LexigonError(f"“{min(stranger)}” is none of the publication's files.")
    desks = [open_job(path) for path in options.jobs]
    if len({desk.job.id for desk in desks}) < len(desks):
        raise LexigonError("Two of these files are the same job: a publication has each once.")
    ways = [_way(options, path, desk) for path, desk in zip(options.jobs, desks, strict=True)]
    first = next((at for at, way in enumerate(ways) if way != "apart"), None)
    if first is not None and ways[first] == "on":
        ways[first] = "own"
    lead = desks[options.jobs.index(options.lead)] if options.lead else next(
        (desk for desk, way in zip(desks, ways, strict=True) if way != "apart"), desks[0]
    )  # fmt: skip
    if options.output:
        _can_be_made(options)
    before = [job_to_json(desk.job) for desk in desks]
    if options.match_styles:
        for desk in desks:
            if desk is not lead:
                _align(lead, desk)
    found = _settled(options, desks, ways)
    for path, desk, was in zip(paths, desks, before, strict=True):
        if job_to_json(desk.job) != was:
            files = package.read_files(paths[desks.index(lead)].read_bytes()) | package.read_files(path.read_bytes())
            write_job(path, desk.job, files)
    _tell(options.json, lead, desks, ways, found)
    unset = _unset(desks, found)
    return _pressed(options, paths, desks, found, unset) if options.output else _look(unset)


def _can_be_made(options: argparse.Namespace) -> None:
    """Raises LexigonError for a file that cannot be made, before anything is changed."""
    if recipe(options.recipe).kind == "png":
        raise LexigonError("A publication is pressed as one PDF: choose another recipe than page images.")
    if Path(options.output).is_dir():
        raise LexigonError(f"“{options.output}” is a folder: give the name of the file to make.")


def _settled(options: argparse.Namespace, desks: list[Desk], ways: list[Counted]) -> list[Start]:
    """Number the jobs and bring their listings up to date, as asked: again where a listing that has grown moves the pages behind it, until
    nothing moves or for some rounds."""
    for _ in range(MOST_ROUNDS):
        found = starts([(desk.job, way) for desk, way in zip(desks, ways, strict=True)])
        moved = False
        for desk, start in zip(desks, found, strict=True):
            if options.write_numbers and (intents := numbering(desk.job, start)):
                desk.do(*intents)
                moved = True
        moved = (options.update_listings and _gathered(desks)) or moved
        if not moved:
            break
    return starts([(desk.job, way) for desk, way in zip(desks, ways, strict=True)])


def _way(options: argparse.Namespace, path: str, desk: Desk) -> Counted:
    return "apart" if path in options.not_numbered else "own" if path in options.own_numbering else usual(desk.job)


def _align(lead: Desk, desk: Desk) -> None:
    """Take over what differs, with the fonts it is set in; what is missing stays so, unless that needs it."""
    wanted = [(one.table, one.id) for one in differences(lead.job, desk.job) if one.what == "differs"]
    if wanted:
        desk.do(AlignStyles(lead.job, wanted, tuple(lead.job.fonts.values())))


def _gathered(desks: list[Desk]) -> bool:
    """Have listings over all jobs know what the others hold, and bring those that stand in a text up to date; whether that changes any."""
    changed = False
    for at, desk in enumerate(desks):
        found = abroad([one.composition for one in desks], at)
        if found != tuple(desk.job.abroad.values()):
            desk.do(PutAbroad(found))
            changed = True
        for listing in wanting(desk.job):
            merge = due(desk.composition, listing)
            if merge is not None and any(one.what not in ("conflict", "kept") for one in merge.differences):
                desk.do(UpdateListing(listing.id, tuple(one.entry for one in gathered(desk.composition, listing))))
                changed = True
    return changed


def _tell(as_json: bool, lead: Desk, desks: list[Desk], ways: list[Counted], found: list[Start]) -> None:
    rows = []
    for desk, way, start in zip(desks, ways, found, strict=True):
        others = [] if desk is lead else differences(lead.job, desk.job)
        rows.append((desk.job.name, len(desk.job.pages), way, start, others))
    if as_json:
        told = [
            {"name": name, "pages": pages, "counted": way, **asdict(start), "differences": [asdict(one) for one in others]}
            for name, pages, way, start, others in rows
        ]  # fmt: skip
        print(json.dumps(told, indent=2, ensure_ascii=False))
        return
    for name, pages, way, start, others in rows:
        words = {"on": "go on", "own": "numbers of their own", "apart": "apart"}[way]
        blank = ", behind an empty page" if start.blank else ""
        print(f"{name}: {counted(pages, 'page')}, {start.labels[0]} to {start.labels[1]} ({words}){blank}")
        for one in others:
            if one.what == "differs":
                values = "; ".join(f"{what} {here}, not {there}" for what, there, here in one.values)
                print(f"  {one.kind} “{one.name}” differs from that of “{lead.job.name}”: {values}")


def _unset(desks: Iterable[Desk], found: Iterable[Start]) -> list[str]:
    return [
        f"“{desk.job.name}” starts with page {desk.composition.values.labels[0]}, but should start with {start.labels[0]}. --write-numbers corrects it."
        for desk, start in zip(desks, found, strict=True)
        if numbering(desk.job, start)
    ]


def _look(unset: list[str]) -> int:
    for line in unset:
        print(f"lexigon: {line}", file=sys.stderr)
    return LOOK if unset else 0


def _pressed(
    options: argparse.Namespace, paths: list[Path], desks: list[Desk], found: list[Start], unset: list[str]
) -> int:
    chosen, target = recipe(options.recipe), Path(options.output)
    code = _look(unset)
    if unset and options.strict:
        raise LexigonError("Nothing was exported, because --strict was given and there are findings.")
    for desk in desks:
        code = max(code, tell_findings(desk.composition, options.strict))
    parts = [
        Part(desk.composition, list(range(len(desk.job.pages))), start.blank)
        for desk, start in zip(desks, found, strict=True)
    ]
    with OutFile(target) as stream:
        write_parts(parts, options.name or desks[0].job.name, chosen, stream, max(map(moment, paths)))
    print(f"{target}: {counted(sum(len(part.pages) + part.blank for part in parts), 'page')}")
    return code
