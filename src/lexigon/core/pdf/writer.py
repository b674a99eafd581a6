"""A small streaming PDF serialiser: objects go to the file as they are made.

Syntax after ISO 32000-2:2020, 7.3 (objects) and 7.5 (file structure). Python values stand for PDF
ones: dict, list, int, float, bool, None, ``Name``, ``Ref``, ``bytes`` (a hexadecimal string), ``str`` (a
text string, 7.9.2.2) and ``Raw`` (already written syntax).
"""

from __future__ import annotations

import hashlib
import zlib
from array import array
from functools import lru_cache
from typing import IO, Any


class Name(str):
    """A PDF name, without its slash."""


class Raw(str):
    """PDF syntax that is written as it is."""


class Ref(int):
    """A reference to an indirect object."""


def number(value: float) -> str:
    """A real with at most five decimals (7.3.3); never in exponent form."""
    text = f"{value:.5f}".rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


@lru_cache(2048)
def _name(name: str) -> str:
    """A name in PDF syntax (7.3.5): what is no regular character is written as its hexadecimal code."""
    return "/" + "".join(
        c
        if c.isascii() and (c.isalnum() or c in "-_.+:")
        else "".join(f"#{b:02X}" for b in c.encode("utf-8", "surrogateescape"))
        for c in name
    )


def write(value: Any) -> str:
    """A value in PDF syntax."""
    if isinstance(value, Raw):
        return str(value)
    if isinstance(value, Ref):
        return f"{int(value)} 0 R"
    if isinstance(value, Name):
        return _name(value)
    if value is None:
        return "null"
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, int):
        return str(value)
    if isinstance(value, float):
        return number(value)
    if isinstance(value, bytes):
        return f"<{value.hex().upper()}>"
    if isinstance(value, str):
        return write(text_bytes(value))
    if isinstance(value, dict):
        return (
            "<<" + "".join(f"{_name(key)} {write(inner)}" for key, inner in value.items() if inner is not None) + ">>"
        )
    if isinstance(value, (list, tuple)):
        return "[" + " ".join(write(inner) for inner in value) + "]"
    raise TypeError(f"{type(value).__name__} has no PDF form")


def text_bytes(text: str) -> bytes:
    """A text string: ASCII unchanged, anything else as UTF-16 with a byte order mark."""
    return text.encode("ascii") if text.isascii() else b"\xfe\xff" + text.encode("utf-16-be", "surrogatepass")


_ROWS = 10_000
"""Rows of the cross-reference table that are written at once."""


class PdfWriter:
    """Writes objects to ``target`` in any order and closes the file with a cross-reference table.

    ``compression`` is zlib's level for streams, 0 to 9; 0 is for files that are read once, at once.
    """

    def __init__(self, target: IO[bytes], version: str = "1.6", compression: int = 6) -> None:
        self.target = target
        self.compression = compression
        self.offsets = array("q", [0])
        self._at = 0
        self._digest = hashlib.sha256()
        # A comment of bytes over 127 shows transfer programs that the file is binary (7.5.2).
        self._put(f"%PDF-{version}\n".encode() + b"%\xe2\xe3\xcf\xd3\n")

    def _put(self, data: bytes) -> None:
        self.target.write(data)
        self._digest.update(data)
        self._at += len(data)

    def reserve(self) -> Ref:
        """A reference for an object that is written later."""
        self.offsets.append(-1)
        return Ref(len(self.offsets) - 1)

    def mark(self) -> int:
        """Return how many references there are; ``forget`` takes back those given out since, none of which was
        written."""
        return len(self.offsets)

    def forget(self, mark: int) -> None:
        del self.offsets[mark:]

    def add(self, value: Any, ref: Ref | None = None) -> Ref:
        ref = ref or self.reserve()
        self.add_raw(write(value).encode("latin-1"), ref)
        return ref

    def add_raw(self, body: bytes, ref: Ref) -> None:
        """Write an object that is in PDF syntax already."""
        self.offsets[ref] = self._at
        self._put(f"{int(ref)} 0 obj\n".encode() + body + b"\nendobj\n")

    def add_stream(
        self,
        data: bytes,
        entries: dict[str, Any] | None = None,
        ref: Ref | None = None,
        *,
        deflate: bool = True,
        deflated: bool = False,
    ) -> Ref:
        """Write a stream; with ``deflate`` it is compressed, or is already if it was ``deflated``."""
        ref = ref or self.reserve()
        head: dict[str, Any] = dict(entries or {})
        if deflate and self.compression:
            data = data if deflated else self.deflated(data)
            head["Filter"] = Name("FlateDecode")
        head["Length"] = len(data)
        self.add_raw(f"{write(head)}\nstream\n".encode("latin-1") + data + b"\nendstream", ref)
        return ref

    def deflated(self, data: bytes) -> bytes:
        """Return data as ``add_stream`` compresses it."""
        return zlib.compress(data, self.compression) if self.compression else data

    @property
    def digest(self) -> str:
        """Return what was written so far, in short (SHA-256)."""
        return self._digest.hexdigest()

    def close(self, root: Ref, info: Ref) -> None:
        """Write the cross-reference table and trailer. The file identifier comes from the contents."""
        identifier = self._digest.digest()[:16]
        start = self._at
        self._put(f"xref\n0 {len(self.offsets)}\n".encode() + b"0000000000 65535 f \n")
        for first in range(1, len(self.offsets), _ROWS):  # a file of many pages has millions
            rows = (
                "0000000000 00000 f \n" if offset < 0 else f"{offset:010d} 00000 n \n"
                for offset in self.offsets[first : first + _ROWS]
            )
            self._put("".join(rows).encode())
        trailer = {"Size": len(self.offsets), "Root": root, "Info": info, "ID": [identifier, identifier]}
        self._put(f"trailer\n{write(trailer)}\nstartxref\n{start}\n%%EOF\n".encode("latin-1"))
