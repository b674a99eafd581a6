"""``lexigon publication``: number, match and export several jobs as one publication."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Iterable
from dataclasses import asdict
from pathlib import Path

from lexigon.cli.files import OutFile
from lexigon.cli.jobs import date_of, open_job, report_findings, write_job
from lexigon.cli.options import FINDINGS, REPEATABLE, add_json, add_strict
from lexigon.core.editing.intents import UpdateListing
from lexigon.core.editing.intents.text.listings import PutAbroad
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat import package
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.flow.listing_entries import due, gathered
from lexigon.core.flow.workspace import Workspace
from lexigon.core.plural import counted
from lexigon.core.press.document import Part, write_parts
from lexigon.core.press.recipes import recipe
from lexigon.core.publication.order import Counted, Start, numbering, starts, usual
from lexigon.core.publication.other_jobs import abroad, wanting
from lexigon.core.publication.styles import AlignStyles, differences

MOST_ROUNDS = 8
"""The number of times that jobs are numbered and their listings gathered, at most, until nothing moves."""
NUMBERING = {"on": "continues", "own": "own numbering", "apart": "not numbered"}

EXAMPLES = (
    "lexigon publication front.lexigon part-1.lexigon part-2.lexigon --write-numbers",
    "lexigon publication cover.lexigon book.lexigon --match-styles --output book.pdf",
)


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("jobs", nargs="+", metavar="job", help="the job files, in order")
    parser.add_argument(
        "--own-numbering",
        "--own",
        action="append",
        default=[],
        metavar="FILE",
        help=f"this job starts its own numbering, which the next ones continue; {REPEATABLE}",
    )
    parser.add_argument(
        "--not-numbered",
        "--apart",
        action="append",
        default=[],
        metavar="FILE",
        help=f"this job is not numbered (covers never are); {REPEATABLE}",
    )
    parser.add_argument(
        "--write-numbers", "--number", action="store_true", help="write the first page number of each job into its file"
    )
    parser.add_argument(
        "--lead",
        metavar="FILE",
        help="the job whose styles, inks and kinds of notes the others use (default: the first)",
    )
    parser.add_argument(
        "--match-styles", "--align", action="store_true", help="make styles, inks and kinds of notes match the lead job"
    )
    parser.add_argument(
        "--update-listings",
        "--gather",
        action="store_true",
        help="update listings that gather from all jobs, in their files",
    )
    parser.add_argument("-o", "--output", "--out", metavar="FILE", help="export all jobs as this file")
    parser.add_argument("--recipe", default="print", help="as for “lexigon export” (default: %(default)s)")
    parser.add_argument("--name", help="title of the exported file (default: the name of the first job)")
    add_strict(parser)
    add_json(parser)


def run(options: argparse.Namespace) -> int:
    """Print how jobs follow each other; number them, match their styles and export them as one file, as requested."""
    paths = [Path(path) for path in options.jobs]
    named = {*options.own_numbering, *options.not_numbered, *([options.lead] if options.lead else [])}
    if unknown := named - set(options.jobs):
        raise LexigonError(f"“{min(unknown)}” is not among the files of the publication.")
    workspaces = [open_job(path) for path in options.jobs]
    if len({workspace.job.id for workspace in workspaces}) < len(workspaces):
        raise LexigonError("Two of these files are the same job. A publication contains each job once.")
    modes = [
        _numbering_mode(options, path, workspace) for path, workspace in zip(options.jobs, workspaces, strict=True)
    ]
    first = next((at for at, mode in enumerate(modes) if mode != "apart"), None)
    if first is not None and modes[first] == "on":
        modes[first] = "own"
    lead = workspaces[options.jobs.index(options.lead)] if options.lead else workspaces[first or 0]
    if options.output:
        _check_output(options)
    before = [job_to_json(workspace.job) for workspace in workspaces]
    if options.match_styles:
        for workspace in workspaces:
            if workspace is not lead:
                _match_styles(lead, workspace)
    numbers = _number(options, workspaces, modes)
    for path, workspace, was in zip(paths, workspaces, before, strict=True):
        if job_to_json(workspace.job) != was:
            files = package.read_files(paths[workspaces.index(lead)].read_bytes()) | package.read_files(
                path.read_bytes()
            )
            write_job(path, workspace.job, files)
    _print(options.json, lead, workspaces, modes, numbers)
    findings = _wrong_numbers(workspaces, numbers)
    for line in findings:
        print(f"lexigon: {line}", file=sys.stderr)
    code = FINDINGS if findings else 0
    if not options.output:
        return code
    if findings and options.strict:
        raise LexigonError("Nothing was exported, because --strict was given and there are findings.")
    return max(code, _export(options, paths, workspaces, numbers))


def _check_output(options: argparse.Namespace) -> None:
    """Raises LexigonError for a file that cannot be written, before anything is changed."""
    if recipe(options.recipe).paged:
        raise LexigonError("A publication is exported as one PDF. Select a recipe other than page images.")
    if Path(options.output).is_dir():
        raise LexigonError(f"“{options.output}” is a folder: type the name of a file.")


def _numbering_mode(options: argparse.Namespace, path: str, workspace: Workspace) -> Counted:
    return "apart" if path in options.not_numbered else "own" if path in options.own_numbering else usual(workspace.job)


def _number(options: argparse.Namespace, workspaces: list[Workspace], modes: list[Counted]) -> list[Start]:
    """Number the jobs and update their listings, as requested: repeatedly where a listing that has grown moves the
    pages after it, until nothing moves, with a limit."""
    for _ in range(MOST_ROUNDS):
        numbers = starts([(workspace.job, mode) for workspace, mode in zip(workspaces, modes, strict=True)])
        moved = False
        for workspace, start in zip(workspaces, numbers, strict=True):
            if options.write_numbers and (intents := numbering(workspace.job, start)):
                workspace.do(*intents)
                moved = True
        moved = (options.update_listings and _update_listings(workspaces)) or moved
        if not moved:
            break
    return starts([(workspace.job, mode) for workspace, mode in zip(workspaces, modes, strict=True)])


def _match_styles(lead: Workspace, workspace: Workspace) -> None:
    """Take over the differences, with the fonts they use; styles that are missing stay missing, unless they are needed
    for that."""
    entries = [(one.table, one.id) for one in differences(lead.job, workspace.job) if one.what == "differs"]
    if entries:
        workspace.do(AlignStyles(lead.job, entries, tuple(lead.job.fonts.values())))


def _update_listings(workspaces: list[Workspace]) -> bool:
    """Update the data of the other jobs in listings over all jobs, and the entries of those that are placed. Returns
    whether anything changed."""
    changed = False
    for at, workspace in enumerate(workspaces):
        others = abroad([one.composition for one in workspaces], at)
        if others != tuple(workspace.job.abroad.values()):
            workspace.do(PutAbroad(others))
            changed = True
        for listing in wanting(workspace.job):
            merge = due(workspace.composition, listing)
            if merge is not None and any(one.what not in ("conflict", "kept") for one in merge.differences):
                workspace.do(
                    UpdateListing(listing.id, tuple(one.entry for one in gathered(workspace.composition, listing)))
                )
                changed = True
    return changed


def _print(
    as_json: bool, lead: Workspace, workspaces: list[Workspace], modes: list[Counted], numbers: list[Start]
) -> None:
    rows = []
    for workspace, mode, start in zip(workspaces, modes, numbers, strict=True):
        different = [] if workspace is lead else differences(lead.job, workspace.job)
        rows.append((workspace.job.name, len(workspace.job.pages), mode, start, different))
    if as_json:
        result = [
            {
                "name": name,
                "pages": pages,
                "counted": mode,
                **asdict(start),
                "differences": [asdict(one) for one in different],
            }
            for name, pages, mode, start, different in rows
        ]
        print(json.dumps(result, indent=2, ensure_ascii=False))
        return
    for name, pages, mode, start, different in rows:
        blank = ", after an empty page" if start.blank else ""
        print(f"{name}: {counted(pages, 'page')}, {start.labels[0]} to {start.labels[1]} ({NUMBERING[mode]}){blank}")
        for one in different:
            if one.what == "differs":
                values = "; ".join(f"{label} {own}, not {lead_value}" for label, lead_value, own in one.values)
                print(f"  {one.kind} “{one.name}” differs from that of “{lead.job.name}”: {values}")


def _wrong_numbers(workspaces: Iterable[Workspace], numbers: Iterable[Start]) -> list[str]:
    return [
        f"“{workspace.job.name}” starts with page {workspace.composition.values.labels[0]}, but should start with "
        f"{start.labels[0]}. --write-numbers corrects it."
        for workspace, start in zip(workspaces, numbers, strict=True)
        if numbering(workspace.job, start)
    ]


def _export(options: argparse.Namespace, paths: list[Path], workspaces: list[Workspace], numbers: list[Start]) -> int:
    """Export all jobs as one file. Returns the exit code."""
    code = max(report_findings(workspace.composition, options.strict) for workspace in workspaces)
    parts = [
        Part(workspace.composition, list(range(len(workspace.job.pages))), start.blank)
        for workspace, start in zip(workspaces, numbers, strict=True)
    ]
    name, target = options.name or workspaces[0].job.name, Path(options.output)
    with OutFile(target) as stream:
        write_parts(parts, name, recipe(options.recipe), stream, max(map(date_of, paths)))
    print(f"{target}: {counted(sum(len(part.pages) + part.blank for part in parts), 'page')}")
    return code
