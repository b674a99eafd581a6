"""The command about tables: what a job has, and what they take over from files."""

from __future__ import annotations

import argparse
import json
import sys
from dataclasses import astuple
from pathlib import Path

from lexigon.core.errors import LexigonError
from lexigon.core.flow.desk import Desk
from lexigon.core.job import package
from lexigon.core.job.intents import Merge, RefreshTable
from lexigon.core.job.model import TextTable
from lexigon.core.job.tablelinks import refreshed, words_of
from lexigon.core.manuscript.cellfiles import BETWEEN, Choice, cells_in, named
from lexigon.outfile import write_job


def tables(options: argparse.Namespace) -> int:
    """Tell the tables of a job; take over what files hold: one for a table that is named, else each for the table that came from it."""
    place = Path(options.job)
    data = place.read_bytes()
    desk = Desk(package.read(data))
    for path in map(Path, options.update):
        table = _meant(desk, options.table, path.name)
        cells = cells_in(path.read_bytes(), path.name, desk.job.brief.language, options.sheet or "", table.source)
        if isinstance(cells, Choice):
            raise LexigonError(f"“{path.name}” has the sheets {named(cells.sheets)}: say with --sheet which is meant.")
        print(f"{table.name}: {refreshed(table, cells.rows, cells.source, cells.merged).told}")
        if cells.warning:
            print(f"{path.name}: {cells.warning}", file=sys.stderr)
        merged = tuple(Merge(*astuple(span)) for span in cells.merged)
        desk.do(RefreshTable(table.id, cells.source, cells.words, cells.parted, merged))
    if options.update:
        target = Path(options.output or options.job)
        write_job(target, desk.job, package.read_files(data))
        print(f"{target}: written")
        return 0
    found = list(desk.job.tables.values())
    if options.json:
        told = [
            {"name": one.name, "source": one.source, "heads": one.heads, "foots": one.foots, "rows": words_of(one)}
            for one in found
        ]
        print(json.dumps(told, indent=2, ensure_ascii=False))
    for one in found if not options.json else ():
        source = f", from {one.source}" if one.source else ""
        print(f"{one.name}: {len(one.rows)} rows of {one.columns} columns{source}")
    return 0


def _meant(desk: Desk, name: str | None, source: str) -> TextTable:
    """The table that is called ``name``; without one the table that came from a file of that name."""
    for one in desk.job.tables.values():
        if one.name == name or (name is None and (one.source == source or one.source.startswith(source + BETWEEN))):
            return one
    if name is not None:
        raise LexigonError(f"There is no table “{name}” in the job.")
    raise LexigonError(f"No table of the job came from “{source}”: name the one that is meant with --table.")
