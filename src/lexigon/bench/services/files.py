"""The files that jobs use, kept once each under the SHA-256 of their content."""

from __future__ import annotations

import hashlib
from pathlib import Path

from django.conf import settings

from lexigon.core.job.intents.overlays import HASH
from lexigon.core.job.model import Job
from lexigon.core.job.package import files_used


def _path(name: str) -> Path:
    folder = Path(settings.DATA) / "files" / name[:2]
    folder.mkdir(parents=True, exist_ok=True)
    return folder / name


def name_of(data: bytes) -> str:
    """The name a file is kept under: the hash of its content."""
    return hashlib.sha256(data).hexdigest()


def keep(data: bytes) -> str:
    """Store a file; returns its name."""
    name = name_of(data)
    path = _path(name)
    if not path.exists():
        part = path.with_suffix(f".{id(data)}.part")
        part.write_bytes(data)
        part.replace(path)
    return name


def kept(name: str) -> bytes | None:
    """A file's content, None if it is not there."""
    path = _path(name)
    return path.read_bytes() if path.exists() else None


def path_of(name: str) -> Path | None:
    """Where a kept file stands."""
    path = _path(name) if HASH.fullmatch(name) else None
    return path if path and path.exists() else None


def of_job(job: Job) -> dict[str, bytes]:
    """The content of every file the job uses and that is there."""
    return {name: data for name in files_used(job) if (data := kept(name)) is not None}
