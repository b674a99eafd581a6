"""The storage of files: the data folder, or storage shared by all machines of a large installation.

Shared files are fetched to this machine's disk once, since fonts and PDFs are read from paths. A file is there whole or
not at all, even if several processes write it at the same time.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from tempfile import NamedTemporaryFile
from typing import IO

from django.conf import settings
from django.core.files.base import ContentFile, File
from django.core.files.storage import FileSystemStorage, Storage, storages


def _storage() -> Storage:
    return storages["files"]


def exists(place: str) -> bool:
    return bool(_storage().exists(place))


@contextmanager
def _beside(path: Path) -> Iterator[IO[bytes]]:
    """A file beside a path, moved there when it is whole; nothing is left of it where it cannot be written."""
    part = NamedTemporaryFile(dir=path.parent, suffix=".part", delete=False)  # noqa: SIM115
    try:
        with part:
            yield part
        Path(part.name).replace(path)
    except BaseException:
        Path(part.name).unlink(missing_ok=True)
        raise


def put(place: str, content: bytes | Path) -> None:
    """Keep a file (a path's is moved there) in place of what stood under its name."""
    storage = _storage()
    if isinstance(storage, FileSystemStorage):
        path = Path(storage.path(place))
        path.parent.mkdir(parents=True, exist_ok=True)
        with _beside(path) as part:
            if isinstance(content, bytes):
                part.write(content)
            else:
                with content.open("rb") as source:
                    while block := source.read(1 << 20):
                        part.write(block)
    elif isinstance(content, bytes):
        storage.save(place, ContentFile(content))
    else:
        with content.open("rb") as source:
            storage.save(place, File(source))


def local(place: str) -> Path | None:
    """A file on this machine's disk; None if it is not stored."""
    storage = _storage()
    if isinstance(storage, FileSystemStorage):
        path = Path(storage.path(place))
        return path if path.exists() else None
    path = Path(settings.DATA) / "fetched" / place
    if not path.exists():
        if not storage.exists(place):
            return None
        path.parent.mkdir(parents=True, exist_ok=True)
        with storage.open(place) as source, _beside(path) as part:
            for block in source.chunks():
                part.write(block)
    return path


def remove(place: str) -> None:
    _storage().delete(place)
    if not isinstance(_storage(), FileSystemStorage):
        (Path(settings.DATA) / "fetched" / place).unlink(missing_ok=True)
