"""``lexigon tables``: list the tables of a job, and update them from files."""

from __future__ import annotations

import argparse
import json
import sys
from dataclasses import astuple
from pathlib import Path

from lexigon.cli.jobs import open_job, save_job
from lexigon.cli.options import REPEATABLE, add_json, add_output
from lexigon.core.document.model import Job, TextTable
from lexigon.core.editing.intents import Merge, RefreshTable
from lexigon.core.errors import LexigonError
from lexigon.core.flow.workspace import Workspace
from lexigon.core.manuscript.readers.cell_files import BETWEEN, Choice, cells_in, named
from lexigon.core.tables.links import refreshed, words_of

EXAMPLES = ("lexigon tables guide.lexigon", "lexigon tables guide.lexigon --update counts.xlsx --sheet 2026")


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("job", help="the job file")
    parser.add_argument(
        "--update",
        "--refresh",
        action="append",
        default=[],
        metavar="FILE",
        help=f"a CSV file or a workbook (XLSX); cells that you edited stay; {REPEATABLE}",
    )
    parser.add_argument("--table", metavar="NAME", help="the table to update, where it came from no file before")
    parser.add_argument("--sheet", metavar="NAME", help="the sheet of the workbook")
    add_json(parser)
    add_output(parser)


def run(options: argparse.Namespace) -> int:
    """A file updates the table that ``--table`` names, or the one that came from a file of the same name."""
    workspace = open_job(options.job)
    for path in map(Path, options.update):
        _update(workspace, path, options.table, options.sheet or "")
    if options.update:
        print(f"{save_job(workspace, options)}: written")
        return 0
    tables = list(workspace.job.tables.values())
    if options.json:
        rows = [
            {"name": one.name, "source": one.source, "heads": one.heads, "foots": one.foots, "rows": words_of(one)}
            for one in tables
        ]
        print(json.dumps(rows, indent=2, ensure_ascii=False))
        return 0
    for one in tables:
        source = f", from {one.source}" if one.source else ""
        print(f"{one.name}: {len(one.rows)} rows of {one.columns} columns{source}")
    return 0


def _update(workspace: Workspace, path: Path, name: str | None, sheet: str) -> None:
    table = _find(workspace.job, name, path.name)
    cells = cells_in(path.read_bytes(), path.name, workspace.job.brief.language, sheet, table.source)
    if isinstance(cells, Choice):
        raise LexigonError(f"“{path.name}” has the sheets {named(cells.sheets)}. Select one with --sheet.")
    print(f"{table.name}: {refreshed(table, cells.rows, cells.source, cells.merged).summary}")
    if cells.warning:
        print(f"{path.name}: {cells.warning}", file=sys.stderr)
    merged = tuple(Merge(*astuple(span)) for span in cells.merged)
    workspace.do(RefreshTable(table.id, cells.source, cells.words, cells.parted, merged))


def _find(job: Job, name: str | None, source: str) -> TextTable:
    """The table called ``name``; without a name, the table that came from the file ``source``. Raises LexigonError."""
    for one in job.tables.values():
        if one.name == name or (name is None and (one.source == source or one.source.startswith(source + BETWEEN))):
            return one
    if name is not None:
        raise LexigonError(f"There is no table “{name}” in the job.")
    raise LexigonError(f"No table of the job came from “{source}”. Name the table to update with --table.")
