"""Files that commands write: whole or not at all, and never in place of a device or a folder."""

from __future__ import annotations

import os
from pathlib import Path
from typing import IO, Any

from lexigon.core.errors import LexigonError


class OutFile:
    """A file to write to, as a context manager: written beside its name, and moved there when it is complete.

    The target of a symbolic link is written, and the link stays. A device or a pipe is written to directly. Raises
    LexigonError for a folder.
    """

    def __init__(self, target: Path) -> None:
        self.target = target.resolve() if target.is_symlink() else target
        if self.target.is_dir():
            raise LexigonError(f"“{target}” is a folder: type the name of a file.")
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
