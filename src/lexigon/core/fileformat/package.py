"""The open file form: ``.lexigon`` is a zip of job.json and the files the job uses.

Written deterministically (fixed dates, sorted names), so the same job gives the same bytes. Read as
hostile: sizes, counts and names are checked before anything is unpacked, and nothing is ever written
to a path from the archive.
"""

from __future__ import annotations

import hashlib
import io
import zipfile
from collections.abc import Mapping
from datetime import datetime, timezone

from lexigon.core.document.model import Job
from lexigon.core.document.registry import TABLES
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.jobs import job_from_json, job_to_json

MIMETYPE = "application/vnd.lexigon+zip"
MOST_BYTES = 200_000_000
MOST_FILES = 10_000
MOST_RATIO = 200


class PackageError(LexigonError):
    """The file is not a job this version can open; nothing was changed."""


def files_used(job: Job) -> list[str]:
    """The files a job uses, by the SHA-256 of their content, in order and once each."""
    entries = ((table, entry) for name, table in TABLES.items() for entry in getattr(job, name).values())
    return sorted({file for table, entry in entries for file in table.files_of(entry)})


UNDATED = (1980, 1, 1, 0, 0, 0)
"""The date of parts that bear none: the first that a zip file can say."""


def write(job: Job, files: Mapping[str, bytes] | None = None, when: datetime | None = None) -> bytes:
    """The job as the bytes of a .lexigon file, with the files it uses (content by hash). Its parts bear the moment
    ``when``."""
    date = when.astimezone(timezone.utc).timetuple()[:6] if when else UNDATED
    used: list[tuple[str, str | bytes, int]] = [
        (f"files/{name}", files[name], zipfile.ZIP_STORED) for name in files_used(job) if files and name in files
    ]
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w") as archive:
        for name, data, method in (
            ("mimetype", MIMETYPE, zipfile.ZIP_STORED),
            ("job.json", job_to_json(job), zipfile.ZIP_DEFLATED),
            *used,
        ):
            info = zipfile.ZipInfo(name, date)
            info.external_attr = 0o644 << 16
            archive.writestr(info, data, compress_type=method, compresslevel=6)
    return target.getvalue()


def written_at(data: bytes) -> datetime:
    """The moment that a .lexigon file bears, to two seconds; the same for each copy of it, whenever that was made.
    Raises PackageError."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            return datetime(*archive.getinfo("job.json").date_time, tzinfo=timezone.utc)
    except (zipfile.BadZipFile, KeyError, ValueError) as error:
        raise PackageError("This is not a .lexigon file.") from error


def read_files(data: bytes) -> dict[str, bytes]:
    """The files of a package that ``read`` opened, by hash; one whose content is not what its name says is left out."""
    files = {}
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        for name in archive.namelist():
            if name.startswith("files/") and not name.endswith("/"):
                content = archive.read(name)
                if hashlib.sha256(content).hexdigest() == name.removeprefix("files/"):
                    files[name.removeprefix("files/")] = content
    return files


def read(data: bytes) -> Job:
    """Open the bytes of a .lexigon file. Raises PackageError or FormError in plain words."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            entries = archive.infolist()
            if len(entries) > MOST_FILES:
                raise PackageError("This file holds more parts than a job can have. It was not opened.")
            for entry in entries:
                name = entry.filename
                if (
                    name.startswith(("/", "\\"))
                    or ".." in name.replace("\\", "/").split("/")
                    or ":" in name
                    or "\0" in name
                ):
                    raise PackageError(
                        f"This file tries to write outside its own folder (“{name[:60]}”). It was not opened."
                    )
            total = sum(entry.file_size for entry in entries)
            if total > MOST_BYTES or total > max(10_000_000, len(data) * MOST_RATIO):
                raise PackageError("This file unpacks to far more than a job needs. It was not opened.")
            if "job.json" not in archive.namelist():
                raise PackageError("This is a zip file without a job.")
            with archive.open("job.json") as source:
                text = source.read(MOST_BYTES + 1)
    except (
        zipfile.BadZipFile,
        zipfile.LargeZipFile,
        NotImplementedError,
        RuntimeError,
        EOFError,
        OSError,
        ValueError,
    ) as error:
        raise PackageError("This is not a .lexigon file, or it is damaged.") from error
    except Exception as error:
        if isinstance(error, LexigonError):
            raise
        raise PackageError("This is not a .lexigon file, or it is damaged.") from error
    return job_from_json(text)
