"""The place where files are kept: the data folder, or storage that every machine of a large installation reaches.

What stands elsewhere is fetched to this machine's disk once, since fonts and PDFs are read from paths. A file is there whole
or not at all, whoever writes the same at the same time.
"""

from __future__ import annotations

from pathlib import Path
from tempfile import NamedTemporaryFile

from django.conf import settings
from django.core.files.base import ContentFile, File
from django.core.files.storage import FileSystemStorage, Storage, storages


def _storage() -> Storage:
    return storages["files"]


def exists(place: str) -> bool:
    return bool(_storage().exists(place))


def put(place: str, content: bytes | Path) -> None:
    """Keep a file (a path's is moved there) in place of what stood under its name."""
    storage = _storage()
    if isinstance(storage, FileSystemStorage):
        path = Path(storage.path(place))
        path.parent.mkdir(parents=True, exist_ok=True)
        with NamedTemporaryFile(dir=path.parent, suffix=".part", delete=False) as part:
            if isinstance(content, bytes):
                part.write(content)
            else:
                with content.open("rb") as source:
                    while block := source.read(1 << 20):
                        part.write(block)
        Path(part.name).replace(path)
    elif isinstance(content, bytes):
        storage.save(place, ContentFile(content))
    else:
        with content.open("rb") as source:
            storage.save(place, File(source))


def local(place: str) -> Path | None:
    """A file on this machine's disk, None where it is not kept."""
    storage = _storage()
    if isinstance(storage, FileSystemStorage):
        path = Path(storage.path(place))
        return path if path.exists() else None
    path = Path(settings.DATA) / "fetched" / place
    if not path.exists():
        if not storage.exists(place):
            return None
        path.parent.mkdir(parents=True, exist_ok=True)
        with storage.open(place) as source, NamedTemporaryFile(dir=path.parent, delete=False) as part:
            for block in source.chunks():
                part.write(block)
        Path(part.name).replace(path)
    return path


def remove(place: str) -> None:
    _storage().delete(place)
    if not isinstance(_storage(), FileSystemStorage):
        (Path(settings.DATA) / "fetched" / place).unlink(missing_ok=True)
