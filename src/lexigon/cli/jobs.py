"""Job files on the command line: opening, saving, dating, and reporting their findings."""

from __future__ import annotations

import argparse
import atexit
import os
import shutil
import sys
import tempfile
from collections.abc import Iterable, Mapping
from datetime import datetime, timezone
from pathlib import Path

from lexigon.cli.files import OutFile
from lexigon.cli.options import FINDINGS
from lexigon.core.check.findings import findings_of
from lexigon.core.document.model import Job
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat import package
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.workspace import Workspace
from lexigon.core.type.line_cache import line_cache
from lexigon.core.type.vetting import vetted


def open_job(path: str) -> Workspace:
    """A job file, composed. Its fonts and pictures are unpacked until the command ends."""
    data = Path(path).read_bytes()
    job, paths = package.read(data), dict[str, Path]()
    if files := package.read_files(data):
        folder = tempfile.mkdtemp(prefix="lexigon-")
        atexit.register(shutil.rmtree, folder, ignore_errors=True)
        for name, content in files.items():
            paths[name] = Path(folder, name)
            paths[name].write_bytes(content)
        own = [font for font in job.fonts.values() if font.file in paths]
        for font, verdict in zip(own, vetted([paths[font.file] for font in own]), strict=True):
            if isinstance(verdict, str):
                print(f"lexigon: The font “{font.name}” {verdict}. Another font is used instead.", file=sys.stderr)
                paths.pop(font.file)
    with line_cache(cache_name(Path(path))):
        return Workspace(job, paths.get, today=date_of(Path(path)).date())


def cache_name(path: Path) -> str:
    """Return the name under which the lines of a job file are in the cache."""
    return str(path.resolve())


def write_job(target: Path, job: Job, files: Mapping[str, bytes] | None = None) -> None:
    """Write a job as a .lexigon file with the present date."""
    with OutFile(target) as stream:
        stream.write(package.write(job, files, datetime.now(timezone.utc)))


def save_job(workspace: Workspace, options: argparse.Namespace, new_files: Mapping[str, bytes] | None = None) -> Path:
    """Save a job that was opened from ``options.job``, there or as ``options.output``. Returns the path."""
    target = Path(options.output or options.job)
    write_job(target, workspace.job, package.read_files(Path(options.job).read_bytes()) | dict(new_files or {}))
    return target


def date_of(path: Path) -> datetime:
    """The date for files exported from a job: SOURCE_DATE_EPOCH if it is set, else the date that the job file contains,
    which is the same for a copy of it."""
    stamp = os.environ.get("SOURCE_DATE_EPOCH")
    if not stamp:
        return package.written_at(path.read_bytes())
    try:
        return datetime.fromtimestamp(int(stamp), timezone.utc)
    except (ValueError, OverflowError, OSError) as error:
        raise LexigonError(f"SOURCE_DATE_EPOCH is a number of seconds since 1970, not “{stamp[:40]}”.") from error


def report_findings(composition: Composition, strict: bool, others: Iterable[str] = ()) -> int:
    """Print the findings of a job, and ``others``, on standard error. Returns the exit code. Raises LexigonError if
    there are any and ``strict`` is set."""
    lines = [*others, *(finding.text for finding in findings_of(composition))]
    for line in lines:
        print(f"lexigon: {line}", file=sys.stderr)
    if lines and strict:
        raise LexigonError("Nothing was exported, because --strict was given and there are findings.")
    return FINDINGS if lines else 0
