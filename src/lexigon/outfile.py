"""Files that commands write: whole or not at all, and never in place of what is no plain file."""

from __future__ import annotations

import os
from collections.abc import Mapping
from datetime import datetime, timezone
from pathlib import Path
from typing import IO, Any

from lexigon.core.errors import LexigonError
from lexigon.core.job import package
from lexigon.core.job.model import Job


class OutFile:
    """A file to write to, as a context: written beside its name and moved there when it is whole.

    A symbolic link stays one: what it leads to is written. A device or a pipe is written to as it is. Raises LexigonError for a folder.
    """

    def __init__(self, target: Path) -> None:
        self.target = target.resolve() if target.is_symlink() else target
        if self.target.is_dir():
            raise LexigonError(f"“{target}” is a folder: give the name of the file to make.")
        plain = self.target.is_file() or not self.target.exists()
        self.part = self.target.with_name(f"{self.target.name}.{os.getpid()}.part") if plain else None

    def __enter__(self) -> IO[bytes]:
        self.stream: IO[bytes] = (self.part or self.target).open("wb")
        return self.stream

    def __exit__(self, kind: object, *_: Any) -> None:
        try:
            self.stream.close()
            if kind is None and self.part is not None:
                self.part.replace(self.target)
        finally:
            if self.part is not None:
                self.part.unlink(missing_ok=True)


def write_job(target: Path, job: Job, files: Mapping[str, bytes] | None = None) -> None:
    """Write a job as a .lexigon file that bears the present moment."""
    with OutFile(target) as stream:
        stream.write(package.write(job, files, datetime.now(timezone.utc)))
