"""Pictures on their way into a job: what their files say becomes an entry of the job, and archives of them are unpacked
with care."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterator
from pathlib import PurePosixPath

from lexigon.core.document.model import PictureFile
from lexigon.core.numerals import integer
from lexigon.core.picture.files import MOST_BYTES, Facts, PictureError

MOST_IN_ARCHIVE = 500
MOST_UNPACKED = 1_500_000_000
"""Bytes of all pictures of one archive."""
SUFFIXES = (".png", ".jpg", ".jpeg", ".tif", ".tiff", ".webp", ".avif", ".pdf", ".svg", ".svgz")


def described(key: str, name: str, file: str, facts: Facts) -> PictureFile:
    """A picture of a job: ``name`` is that of its file, ``file`` the hash under which it is stored."""
    stem = name.rsplit(".", 1)[0] if name.lower().endswith(SUFFIXES) else name
    return PictureFile(
        key,
        stem or name,
        file,
        facts.width,
        facts.height,
        facts.ppi,
        facts.space,
        facts.alpha,
        credit=facts.credit,
        focus=facts.focus,
        format=facts.format,
        profile=facts.profile,
        taken=facts.taken,
        pages=facts.pages,
    )


def is_archive(data: bytes) -> bool:
    return data[:4] in (b"PK\x03\x04", b"PK\x05\x06")


def pictures_in(data: bytes) -> Iterator[tuple[str, bytes]]:
    """The picture files of a zip archive with their names, folders and other files left out. Raises PictureError in
    plain words; what an entry says of its size is not believed."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            entries = [one for one in archive.infolist() if _is_picture(one.filename)]
            if len(entries) > MOST_IN_ARCHIVE:
                raise PictureError(
                    f"This archive holds {integer(len(entries))} pictures; at most {MOST_IN_ARCHIVE} are imported at "
                    "once."
                )
            left = MOST_UNPACKED
            for one in entries:
                with archive.open(one) as stream:
                    data_ = stream.read(MOST_BYTES + 1)
                left -= len(data_)
                if left < 0:
                    raise PictureError("This archive unpacks to more than can be imported at once.")
                yield PurePosixPath(one.filename.replace("\\", "/")).name, data_
    except PictureError:
        raise
    except (zipfile.BadZipFile, OSError, ValueError, EOFError, RuntimeError, NotImplementedError) as error:
        raise PictureError("This archive is damaged, or locked with a password.") from error


def _is_picture(name: str) -> bool:
    parts = PurePosixPath(name.replace("\\", "/")).parts
    return bool(parts) and name.lower().endswith(SUFFIXES) and "__MACOSX" not in parts and not parts[-1].startswith(".")
