"""``lexigon merge``: a job with each of its records, as PDF or page images."""

from __future__ import annotations

import argparse
import hashlib
import json
import sys
import tempfile
from collections.abc import Mapping, Sequence
from dataclasses import replace
from pathlib import Path

from lexigon.cli.files import OutFile
from lexigon.cli.jobs import date_of, open_job
from lexigon.cli.options import FINDINGS, add_json, add_strict
from lexigon.core.document.model import RecordSet
from lexigon.core.document.page_ranges import page_range
from lexigon.core.document.story_text import new_id
from lexigon.core.editing.intents import AddPicture
from lexigon.core.errors import LexigonError
from lexigon.core.flow.workspace import Workspace
from lexigon.core.forks import processes_available
from lexigon.core.intake.drawings import normalised
from lexigon.core.lengths import parse
from lexigon.core.merge.applying import is_bound
from lexigon.core.merge.files import PICTURES
from lexigon.core.merge.merger import Merger
from lexigon.core.merge.output import file_names, names_of_pages, record_files, write_merged, write_sheets
from lexigon.core.merge.reading import read_records
from lexigon.core.merge.storage import record_set
from lexigon.core.merge.templates import read_template
from lexigon.core.merge.verdicts import Verdict, verdicts
from lexigon.core.picture.bringing import described
from lexigon.core.picture.files import PictureError, facts_of
from lexigon.core.plural import counted
from lexigon.core.press.recipes import Recipe, recipe
from lexigon.core.press.sheets import SHEETS, SheetLayout

DESCRIPTION = (
    "Export a job once for each of its records. The records are those of the job, or of a file: CSV, XLSX, ODS, JSON "
    "or vCard.\nEach record is checked first; what is wrong is reported, one line each."
)
EXAMPLES = (
    "lexigon merge cards.lexigon --output cards.pdf",
    "lexigon merge cards.lexigon --records wardens.csv --files portraits --recipe trim "
    "--name '{surname}-{id}' --output-folder cards",
    "lexigon merge cards.lexigon --sheet SRA3 --order stacks --recipe trim --output sheets.pdf",
    "lexigon merge cards.lexigon --records wardens.csv --check",
)


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("job", help="the job file")
    parser.add_argument("--records", metavar="FILE", help="merge the records of a file instead of those of the job")
    parser.add_argument("--set", default="", metavar="NAME", help="a record set of the job (default: the first)")
    parser.add_argument("--files", metavar="FOLDER", help="the folder of the pictures that records name")
    parser.add_argument("--key", default="", metavar="FIELD", help="the field that names records, for adjustments")
    parser.add_argument("--range", default="", metavar="NUMBERS", help="records to merge, such as 1-20,35")
    parser.add_argument("--recipe", default="print", help="a recipe of “lexigon export” (default: %(default)s)")
    output = parser.add_mutually_exclusive_group(required=True)
    output.add_argument("-o", "--output", metavar="FILE", help="write all records as one PDF")
    output.add_argument("--output-folder", "--out", metavar="FOLDER", help="write a file for each record")
    output.add_argument("--check", action="store_true", help="write nothing, only report what is wrong with records")
    parser.add_argument(
        "--name",
        default="",
        metavar="TEMPLATE",
        help="names of the files, with fields in braces: {surname}-{id}",
    )
    parser.add_argument("--sheet", choices=tuple(SHEETS), help="gang the pieces on sheets of this size")
    parser.add_argument("--gap", default="0", help="distance between pieces on a sheet (default: %(default)s)")
    parser.add_argument(
        "--order",
        choices=("rows", "stacks"),
        default="rows",
        help="successive pieces beside each other, or on top of each other once the sheets are cut",
    )
    parser.add_argument(
        "--flip", choices=("long", "short"), default="long", help="the edge about which sheets are turned for the backs"
    )
    add_strict(parser)
    add_json(parser)


def run(options: argparse.Namespace) -> int:
    chosen = recipe(options.recipe)
    if chosen.paged and not options.output_folder and not options.check:
        raise LexigonError("Page images are written into a folder: use --output-folder.")
    with tempfile.TemporaryDirectory(prefix="lexigon-") as folder:
        merger = _merger(options, Path(folder))
        numbers = _numbers(merger, options.range)
        code = _report(merger, numbers, options)
        if options.check:
            return code
        if options.output_folder:
            _write_each(merger, numbers, chosen, options)
        elif options.sheet:
            _write_sheets(merger, numbers, chosen, options, Path(folder))
        else:
            with OutFile(Path(options.output)) as stream:
                date = date_of(Path(options.job))
                write_merged(merger, numbers, chosen, stream, date, processes=processes_available())
            print(f"{options.output}: {counted(len(numbers), 'record')}", file=sys.stderr)
    return code


def _merger(options: argparse.Namespace, folder: Path) -> Merger:
    """The job with the records to be merged; new files are written to ``folder``."""
    workspace = open_job(options.job)
    if not is_bound(workspace.job):
        raise LexigonError("Nothing in this job is bound to a field. Bind text and objects in the drawer Fields first.")
    records, names = _records(workspace, options, folder), list[str]()
    if options.files:
        names = _import_pictures(workspace, records, Path(options.files), folder)
    find = workspace.composition.find

    def find_file(name: str) -> Path | None:
        return path if (path := folder / name).is_file() else find(name) if find is not None else None

    return Merger(workspace.job, records, find_file, workspace.composition.today, other_files=names)


def _records(workspace: Workspace, options: argparse.Namespace, folder: Path) -> RecordSet:
    sets = workspace.job.record_sets
    if options.records:
        path = Path(options.records)
        records, _ = read_records(path.read_bytes(), language=workspace.job.brief.language)
        own, files = record_set(new_id("d"), path.stem, records, source=path.name)
        _store(files, folder)
        # What is computed in the job's own records is computed in these, too.
        former = next((one for one in sets.values() if one.name.casefold() == options.set.casefold()), None)
        former = former or next(iter(sets.values()), None)
        if former is not None:
            key = former.key if former.key in own.fields else ""
            own = replace(own, id=former.id, name=former.name, key=key, computed=former.computed)
    elif not sets:
        raise LexigonError("This job has no records. Give a file of records with --records.")
    elif options.set:
        named_set = next((one for one in sets.values() if one.name.casefold() == options.set.casefold()), None)
        if named_set is None:
            names = ", ".join(f"“{one.name}”" for one in sets.values())
            raise LexigonError(f"There is no record set “{options.set}” in this job: it has {names}.")
        own = named_set
    else:
        own = next(iter(sets.values()))
    if options.key:
        keys = [name for name in own.fields if name.casefold() == options.key.casefold()]
        if not keys:
            raise LexigonError(f"There is no field “{options.key}”. The fields are {', '.join(own.fields)}.")
        own = replace(own, key=keys[0])
    return own


def _store(files: Mapping[str, bytes], folder: Path) -> None:
    for name, content in files.items():
        (folder / name).write_bytes(content)


def _import_pictures(workspace: Workspace, records: RecordSet, source: Path, folder: Path) -> list[str]:
    """Import the pictures of a folder that records name. Returns the names of all pictures there."""
    if not source.is_dir():
        raise LexigonError(f"“{source}” is not a folder.")
    paths = {path.relative_to(source).as_posix(): path for path in sorted(source.rglob("*")) if path.is_file()}
    paths = {name: path for name, path in paths.items() if path.suffix.lower() in PICTURES}
    merger = Merger(workspace.job, records, lambda name: folder / name, workspace.composition.today)
    for name in merger.pictures_named(paths):
        try:
            data = normalised(paths[name].read_bytes())
            file = described(new_id("i"), name, hashlib.sha256(data).hexdigest(), facts_of(data))
        except PictureError as error:
            print(f"lexigon: “{name}”: {error}", file=sys.stderr)
            continue
        _store({file.file: data}, folder)
        workspace.do(AddPicture(file))
    return list(paths)


def _numbers(merger: Merger, text: str) -> list[int]:
    on = set(merger.numbers())
    try:
        numbers = [number for number in page_range(text, len(merger.rows)) if number in on]
    except LexigonError as error:
        raise LexigonError(str(error).replace("page", "record").replace("The job has", "The set has")) from error
    if not numbers:
        raise LexigonError("There are no records to merge: all of them are switched off.")
    return numbers


def _report(merger: Merger, numbers: Sequence[int], options: argparse.Namespace) -> int:
    """Print what is wrong with records. Returns the exit code; raises LexigonError if there is anything and --strict
    was given."""
    faulty = [one for one in verdicts(merger, numbers) if one.problems]
    if options.json:
        print(json.dumps([_to_json(one) for one in faulty], ensure_ascii=False, indent=2))
    for one in [] if options.json else faulty:
        for problem in one.problems:
            print(f"lexigon: Record {one.number + 1} ({one.key}): {problem.text}", file=sys.stderr)
    errors = sum(one.level == "error" for one in faulty)
    ready = len(numbers) - len(faulty)
    warnings = len(faulty) - errors
    summary = f"{ready} ready, {warnings} with warnings, {errors} with errors"
    print(f"{counted(len(numbers), 'record')}: {summary}", file=sys.stderr)
    if faulty and options.strict:
        raise LexigonError("Nothing was exported, because --strict was given and there are findings.")
    return FINDINGS if faulty else 0


def _to_json(verdict: Verdict) -> dict[str, object]:
    problems = [{"kind": one.kind, "text": one.text, "suggestions": one.suggestions} for one in verdict.problems]
    return {"record": verdict.number + 1, "key": verdict.key, "level": verdict.level, "problems": problems}


def _write_each(merger: Merger, numbers: Sequence[int], chosen: Recipe, options: argparse.Namespace) -> None:
    target, date = Path(options.output_folder), date_of(Path(options.job))
    target.mkdir(parents=True, exist_ok=True)
    template = read_template(options.name or "{record}", [*merger.rows.records.names, "record"])
    for number, name in file_names(merger, numbers, template):
        files = record_files(merger, number, chosen, date)
        for file_name, content in zip(names_of_pages(name, len(files), chosen.suffix), files, strict=True):
            with OutFile(target / file_name) as stream:
                stream.write(content)
    print(f"{target}: {counted(len(numbers), 'record')}", file=sys.stderr)


def _write_sheets(
    merger: Merger, numbers: Sequence[int], chosen: Recipe, options: argparse.Namespace, folder: Path
) -> None:
    gap = parse(options.gap, merger.job.brief.unit, minimum=0)
    layout = SheetLayout(options.sheet, gap, order=options.order, flip=options.flip)
    sheets, date = folder / "sheets.pdf", date_of(Path(options.job))
    pages = write_sheets(merger, numbers, chosen, layout, sheets, date, processes=processes_available())
    with OutFile(Path(options.output)) as stream:
        stream.write(sheets.read_bytes())
    print(f"{options.output}: {counted(pages, 'page')} of sheets", file=sys.stderr)
