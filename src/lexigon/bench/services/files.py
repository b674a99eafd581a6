"""The files that jobs use, kept once each under the SHA-256 of their content, for those who brought them.

A name alone opens nothing: a file is given only to an owner who has it, because it came with one of their own jobs or was
handed in by them. What is no such name is refused before any path is made of it.
"""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path
from tempfile import NamedTemporaryFile

from lexigon.bench.models import KeptFile
from lexigon.bench.services import store
from lexigon.core.job.limits import is_file
from lexigon.core.job.model import Job
from lexigon.core.job.package import files_used


def _place(name: str) -> str:
    """Where a file stands in the storage. Raises ValueError for what is not the name of one."""
    if not is_file(name):
        raise ValueError("This is not the name of a file.")
    return f"files/{name[:2]}/{name}"


def name_of(data: bytes) -> str:
    """The name a file is kept under: the hash of its content."""
    return hashlib.sha256(data).hexdigest()


@contextmanager
def written(data: bytes) -> Iterator[Path]:
    """A file's content on the local disk, for as long as it is looked at before it is kept."""
    with NamedTemporaryFile(prefix="lexigon-") as file:
        file.write(data)
        file.flush()
        yield Path(file.name)


class Files:
    """The files of one owner."""

    def __init__(self, owner: int) -> None:
        self.owner = owner

    def keep(self, data: bytes) -> str:
        """Store a file; returns its name."""
        name = name_of(data)
        if not store.exists(place := _place(name)):
            store.put(place, data)
        KeptFile.objects.get_or_create(owner_id=self.owner, name=name)
        return name

    def share(self, other: Files, names: Iterable[str]) -> None:
        """What another owner has is this one's too."""
        for name in names:
            if other.has(name):
                KeptFile.objects.get_or_create(owner_id=self.owner, name=name)

    def has(self, name: str) -> bool:
        """Whether the owner may use a file."""
        return is_file(name) and KeptFile.objects.filter(owner=self.owner, name=name).exists()

    def kept(self, name: str) -> bytes | None:
        """A file's content, None if it is not there or somebody else's."""
        path = self.path_of(name)
        return path.read_bytes() if path else None

    def path_of(self, name: str) -> Path | None:
        """Where a file stands on this machine's disk."""
        return store.local(_place(name)) if self.has(name) else None

    def of_job(self, job: Job) -> dict[str, bytes]:
        """The content of every file the job uses and that is there."""
        return {name: data for name in files_used(job) if (data := self.kept(name)) is not None}

    def missing(self, names: Iterable[str]) -> list[str]:
        """Which of the files the owner does not have."""
        return [name for name in names if not self.has(name)]
