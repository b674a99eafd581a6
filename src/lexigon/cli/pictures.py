"""``lexigon pictures``: list the pictures of a job, and import others."""

from __future__ import annotations

import argparse
import hashlib
import sys
from collections.abc import Iterable, Iterator
from pathlib import Path

from lexigon.cli.jobs import open_job, write_job
from lexigon.cli.options import FINDINGS
from lexigon.core.document.story_text import new_id
from lexigon.core.editing.intents import AddPicture, ChangePicture
from lexigon.core.editing.intents.pictures.placing import uses
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat import package
from lexigon.core.intake.drawings import normalised
from lexigon.core.picture.bringing import SUFFIXES, described, is_archive, pictures_in
from lexigon.core.picture.files import PictureError, facts_of
from lexigon.core.plural import counted

EXAMPLES = ("lexigon pictures guide.lexigon", "lexigon pictures guide.lexigon photos/ plates.zip --replace")


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("job", help="the job file")
    parser.add_argument("paths", nargs="*", metavar="file", help="picture files, folders or zip archives to import")
    parser.add_argument(
        "--replace",
        "--update",
        action="store_true",
        help="replace pictures of the same file name wherever they are used",
    )


def run(options: argparse.Namespace) -> int:
    path = Path(options.job)
    workspace = open_job(options.job)
    if not options.paths:
        for one in workspace.job.pictures.values():
            used = counted(len(uses(workspace.job, one.id)), "use")
            print(f"{one.name}: {one.width:,} x {one.height:,} pixels, {one.space}, {used}")
        return 0
    files = dict(package.read_files(path.read_bytes()))
    present = {one.name.casefold(): one for one in workspace.job.pictures.values()}
    code, added, replaced = 0, 0, 0
    for name, original in _picture_files(options.paths):
        try:
            data = normalised(original)
            picture = described(new_id("i"), name, hashlib.sha256(data).hexdigest(), facts_of(data))
        except PictureError as error:
            print(f"“{name}”: {error}", file=sys.stderr)
            code = FINDINGS
            continue
        files[picture.file] = data
        former = present.get(picture.name.casefold())
        if former is not None and options.replace:
            workspace.do(ChangePicture(former.id, file=picture))
            replaced += 1
        else:
            workspace.do(AddPicture(picture))
            added += 1
    write_job(path, workspace.job, files)
    print(f"{path}: {counted(added, 'picture')} imported" + (f", {replaced} updated" if replaced else ""))
    return code


def _picture_files(paths: Iterable[str]) -> Iterator[tuple[str, bytes]]:
    """Picture files by name: given ones, those in folders, and those in archives. Raises LexigonError for a wrong
    path."""
    for path in map(Path, paths):
        if path.is_dir():
            for one in sorted(path.rglob("*")):
                if one.suffix.lower() in SUFFIXES:
                    yield one.name, one.read_bytes()
        elif not path.is_file():
            raise LexigonError(f"There is no file or folder “{path}”.")
        elif is_archive(data := path.read_bytes()):
            yield from pictures_in(data)
        else:
            yield path.name, data
