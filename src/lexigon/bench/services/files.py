"""The files that jobs use, stored once each under the SHA-256 of their content.

A name alone opens nothing: a file is reached through a job that has it, by the people who see that job. A job has the
files that were handed in for it, that came with it, or that came from another job which the person at work sees. What
is no such name is refused before any path is made of it."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Collection, Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path
from tempfile import NamedTemporaryFile
from typing import Any

from lexigon.bench.models import Job, JobFile
from lexigon.bench.services import store
from lexigon.core.document.limits import is_file
from lexigon.core.document.model import Job as ModelJob
from lexigon.core.fileformat.package import files_used


def _place(name: str) -> str:
    """Return the path of a file in the storage. Raises ValueError if the name is not that of a file."""
    if not is_file(name):
        raise ValueError("This is not a file name.")
    return f"files/{name[:2]}/{name}"


def name_of(content: bytes | Path) -> str:
    """The name a file is stored under: the hash of its content."""
    if isinstance(content, bytes):
        return hashlib.sha256(content).hexdigest()
    with content.open("rb") as stream:
        return hashlib.file_digest(stream, "sha256").hexdigest()


def stored(content: bytes | Path) -> str:
    """Store a file that no job has yet; returns its name."""
    name = name_of(content)
    if not store.exists(place := _place(name)):
        store.put(place, content)
    return name


def path_among(names: Collection[str]) -> Callable[[str], Path | None]:
    """Return the local paths of the given files only, for a job that is created with them."""
    return lambda name: store.local(_place(name)) if name in names else None


@contextmanager
def written(data: bytes) -> Iterator[Path]:
    """The content of a file on the local disk while it is examined, before it is stored."""
    with NamedTemporaryFile(prefix="lexigon-") as file:
        file.write(data)
        file.flush()
        yield Path(file.name)


class Files:
    """The files of one job."""

    def __init__(self, job: str) -> None:
        self.job = job

    def keep(self, content: bytes | Path) -> str:
        """Store a file; returns its name."""
        name = stored(content)
        self.add([name])
        return name

    def add(self, names: Iterable[str]) -> None:
        """Give the job files that are stored. Whoever calls this knows that its people may have them."""
        JobFile.objects.bulk_create([JobFile(job_id=self.job, name=name) for name in names], ignore_conflicts=True)

    def add_from_jobs_of(self, user: Any, names: Collection[str]) -> None:
        """Give the job those files that another job has which ``user`` sees: they came from there on the clipboard,
        say."""
        if user is not None:
            sources = JobFile.objects.filter(name__in=names, job__in=Job.objects.of(user))
            self.add(set(sources.values_list("name", flat=True)))

    def has(self, name: str) -> bool:
        """Return whether the job has a file."""
        return is_file(name) and JobFile.objects.filter(job=self.job, name=name).exists()

    def read(self, name: str) -> bytes | None:
        """A file's content, None if it is not there or not the job's."""
        path = self.path_of(name)
        return path.read_bytes() if path else None

    def path_of(self, name: str) -> Path | None:
        """The path of a file on this machine's disk."""
        return store.local(_place(name)) if self.has(name) else None

    def of_job(self, job: ModelJob) -> dict[str, bytes]:
        """The content of every file the job uses and that is there."""
        return {name: data for name in files_used(job) if (data := self.read(name)) is not None}

    def missing(self, names: Iterable[str]) -> set[str]:
        """Return which of the files the job does not have."""
        return {name for name in names if not self.has(name)}
