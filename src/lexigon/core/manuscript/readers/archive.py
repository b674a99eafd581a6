"""Office documents are zip archives of XML: opened with care. What an entry says of its size is not believed; no entity
is followed."""

from __future__ import annotations

import io
import lzma
import struct
import zipfile
import zlib
from types import TracebackType
from typing import Any

from lxml import etree

from lexigon.core.manuscript.readers.decode import ManuscriptError

MOST_PARTS = 5000
MOST_UNPACKED = 400_000_000
MOST_XML = 150_000_000
MOST_PICTURE = 60_000_000
BROKEN = (
    zipfile.BadZipFile,
    OSError,
    ValueError,
    EOFError,
    RuntimeError,
    NotImplementedError,
    zlib.error,
    lzma.LZMAError,
    struct.error,
    KeyError,
)
"""What an archive that is damaged, locked or packed in an unknown way is known by."""
DAMAGED = "This document is damaged, or locked with a password."


class Archive:
    """The parts of a document, each read once and with a limit."""

    def __init__(self, data: bytes) -> None:
        try:
            self._zip = zipfile.ZipFile(io.BytesIO(data))
            self.names = set(self._zip.namelist())
        except BROKEN as error:
            raise ManuscriptError(DAMAGED) from error
        if len(self.names) > MOST_PARTS:
            raise ManuscriptError("This document has more parts than a manuscript can have.")
        self._left = MOST_UNPACKED

    def __enter__(self) -> Archive:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self._zip.close()

    @property
    def mark_up(self) -> int:
        """Bytes of all parts that are XML, unpacked, as their entries say: one that says too little cannot be read."""
        return sum(entry.file_size for entry in self._zip.infolist() if entry.filename.endswith((".xml", ".rels")))

    def data(self, name: str, most: int = MOST_PICTURE) -> bytes | None:
        """A part; None where there is none."""
        if name not in self.names:
            return None
        try:
            with self._zip.open(name) as stream:
                data = stream.read(most + 1)
        except BROKEN as error:
            raise ManuscriptError(DAMAGED) from error
        self._left -= len(data)
        if len(data) > most or self._left < 0:
            raise ManuscriptError("This document unpacks to far more than a manuscript can contain.")
        return data

    def xml(self, name: str) -> Any | None:
        """The root of a part that is XML; None where there is none."""
        data = self.data(name, MOST_XML)
        return None if data is None else parsed(data)


def parsed(data: bytes) -> Any:
    """XML without entities, external or internal. Raises ManuscriptError."""
    if b"<!ENTITY" in data[:20_000].upper():
        raise ManuscriptError("This document defines XML entities, which are not read.")
    parser = etree.XMLParser(
        resolve_entities=False, no_network=True, load_dtd=False, huge_tree=True, remove_pis=True, remove_comments=True
    )
    try:
        return etree.fromstring(data, parser)
    except (etree.XMLSyntaxError, ValueError) as error:
        raise ManuscriptError(DAMAGED) from error
