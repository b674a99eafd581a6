"""``lexigon swatches``: list the swatches of a job, import and export palette files."""

from __future__ import annotations

import argparse
from pathlib import Path

from lexigon.cli.files import OutFile
from lexigon.cli.jobs import open_job, write_job
from lexigon.core.colour.palettes import PaletteForm, read_palette, write_palette
from lexigon.core.editing.intents import AddSwatches
from lexigon.core.fileformat import package

EXAMPLES = (
    "lexigon swatches guide.lexigon --import marsh.gpl --group Marsh",
    "lexigon swatches guide.lexigon --export marsh.swatches.json",
)


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("job", help="the job file")
    parser.add_argument(
        "--import",
        "--add",
        dest="import_file",
        metavar="FILE",
        help="a palette: .swatches.json, .gpl, or a CSS file with colours",
    )
    parser.add_argument("--group", help="the group of the imported swatches")
    parser.add_argument(
        "--export",
        "--save",
        dest="export_file",
        metavar="FILE",
        help="write the swatches: .gpl, .css, or .swatches.json with all details",
    )


def run(options: argparse.Namespace) -> int:
    path = Path(options.job)
    workspace = open_job(options.job)
    if options.import_file:
        before = len(workspace.job.swatches)
        workspace.do(AddSwatches(tuple(read_palette(Path(options.import_file).read_bytes())), options.group))
        write_job(path, workspace.job, package.read_files(path.read_bytes()))
        added = len(workspace.job.swatches) - before
        print(f"{path}: {added} swatch{'' if added == 1 else 'es'} imported")
    if options.export_file:
        target = Path(options.export_file)
        form: PaletteForm = "gpl" if target.suffix == ".gpl" else "css" if target.suffix == ".css" else "lexigon"
        with OutFile(target) as stream:
            stream.write(write_palette(workspace.job.swatches, form, workspace.job.name))
        print(f"{target}: {len(workspace.job.swatches)} swatches")
    if not options.import_file and not options.export_file:
        for one in workspace.job.swatches.values():
            print(f"{one.group + ': ' if one.group else ''}{one.name}")
    return 0
