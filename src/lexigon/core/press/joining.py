"""Files of one recipe joined to one file, object by object, so that memory does not grow with its pages.

Only files that ``PdfWriter`` wrote are joined: each object is between ``obj`` and ``endobj``, text strings
are hexadecimal, and a stream begins where its dictionary ends. So references can be renumbered without reading the
values. The page tree of each file becomes a branch of the new one (ISO 32000-2, 7.7.3), its page labels a branch of the
number tree (7.9.7) and its bookmarks the children of one bookmark. Pictures, profiles and other streams that are equal
in several files are there once.
"""

from __future__ import annotations

import hashlib
import mmap
import re
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from pathlib import Path
from typing import IO, Any

import pikepdf

from lexigon.core.pdf.variants import VARIANTS
from lexigon.core.pdf.writer import Name, PdfWriter, Raw, Ref, write
from lexigon.core.press.metadata import information, xmp
from lexigon.core.press.recipes import Recipe

_REFERENCE = re.compile(rb"(?<![\w#.])(\d+) 0 R(?!\w)")
_STREAM = b"\nstream\n"
_PLAIN = re.compile(rb"<<(/Filter /FlateDecode)?/Length \d+>>")
"""The dictionary of the content of a page, which is never the same as another."""
_TABLE = re.compile(rb"xref\n0 (\d+)\n")
_ROW = 20
"""Bytes of a row of a cross-reference table (ISO 32000-2, 7.5.4)."""


@dataclass(slots=True, frozen=True)
class Source:
    """A file to be joined, and what it is called among the bookmarks."""

    path: Path
    title: str = ""


def join(
    sources: Sequence[Source],
    name: str,
    recipe: Recipe,
    target: IO[bytes],
    when: datetime,
    progress: Callable[[int, int], bool] | None = None,
) -> int:
    """Write the pages of several files, all of this recipe, to ``target``, as one file called ``name``. ``progress`` is
    called after each of them. Returns the number of pages."""
    joined = _Joined(PdfWriter(target, VARIANTS[recipe.kind].version), recipe)
    for done, source in enumerate(sources, 1):
        joined.append(source)
        if progress is not None:
            progress(done, len(sources))
    joined.close(name, when)
    return joined.pages


@dataclass(slots=True)
class _Joined:
    """A file in the making."""

    writer: PdfWriter
    recipe: Recipe
    pages: int = 0
    tree: Ref = field(init=False)
    metadata: Ref = field(init=False)
    labels: Ref = field(init=False)
    outlines: Ref = field(init=False)
    _branches: list[Ref] = field(default_factory=list)
    _label_branches: list[Ref] = field(default_factory=list)
    _bookmarks: list[tuple[Ref, dict[str, Any]]] = field(default_factory=list)
    _streams: dict[bytes, Ref] = field(default_factory=dict)
    """The streams that may be shared, by the digest of all their bytes."""
    _catalogue: bytes = b""
    _conforms: bool = True

    def __post_init__(self) -> None:
        self.tree, self.metadata, self.labels = (self.writer.reserve() for _ in range(3))
        self.outlines = self.writer.reserve() if self.recipe.links else Ref(0)

    def append(self, source: Source) -> None:
        """Append the pages of a file."""
        with pikepdf.open(source.path) as pdf, source.path.open("rb") as stream:
            root = pdf.Root
            metadata = root.Metadata.read_bytes()
            ends = _Ends(
                _number(root),
                _number(pdf.docinfo),
                _number(root.Pages),
                _number(root.Metadata),
                _number(root.PageLabels),
                _number(root.Outlines) if "/Outlines" in root else 0,
            )
            count, branch = int(root.Pages.Count), self.writer.reserve()
            mapping = {ends.pages: branch, ends.metadata: self.metadata, ends.labels: self.labels}
            if ends.outlines:
                mapping[ends.outlines] = self._bookmark(source.title, root.Outlines)
            self._label(root.PageLabels)
            with mmap.mmap(stream.fileno(), 0, access=mmap.ACCESS_READ) as data:
                self._copy(data, ends, mapping)
            if ends.outlines:
                entries = self._bookmarks[-1][1]
                first, last = (_number(root.Outlines[key]) for key in ("/First", "/Last"))
                entries |= {"First": mapping[first], "Last": mapping[last]}
        self._conforms = self._conforms and self._claims(metadata)
        self._branches.append(branch)
        self.pages += count

    def close(self, name: str, when: datetime) -> None:
        """Write what the file has once, and its end."""
        writer, claim = self.writer, VARIANTS[self.recipe.kind]
        if not self._conforms:
            claim = replace(claim, conforms="")
        writer.add({"Type": Name("Pages"), "Kids": self._branches, "Count": self.pages}, self.tree)
        writer.add({"Kids": self._label_branches}, self.labels)
        if self._bookmarks:
            self._write_bookmarks()
        packet = xmp(name, when, claim, writer.digest + name)
        head = {"Type": Name("Metadata"), "Subtype": Name("XML")}
        writer.add_stream(packet, head, self.metadata, deflate=False)
        root = writer.add(Raw(self._catalogue.decode("latin-1")))
        writer.close(root, writer.add(information(name, when, claim)))

    def _claims(self, metadata: bytes) -> bool:
        """Return whether a file says that it keeps to the standard of its kind, as all do but those with a placed page
        that breaks it."""
        variant = VARIANTS[self.recipe.kind]
        return not variant.conforms or variant.conforms.encode() in metadata or b"pdfaid:part" in metadata

    def _label(self, labels: Any) -> None:
        """Write the page labels of a file, counted from its first page in the new one."""
        pairs = list(labels.Nums)
        shifted = [
            Raw(f"{int(at) + self.pages} {label.unparse().decode('latin-1')}")
            for at, label in zip(pairs[::2], pairs[1::2], strict=True)
        ]
        ends = [int(pairs[0]) + self.pages, int(pairs[-2]) + self.pages] if pairs else [self.pages, self.pages]
        self._label_branches.append(self.writer.add({"Limits": ends, "Nums": shifted}))

    def _bookmark(self, title: str, outlines: Any) -> Ref:
        """Reserve the bookmark that those of a file are under, closed as it is."""
        ref = self.writer.reserve()
        entries: dict[str, Any] = {"Title": title, "Parent": self.outlines, "Count": -int(outlines.Count)}
        self._bookmarks.append((ref, entries))
        return ref

    def _write_bookmarks(self) -> None:
        refs = [ref for ref, _ in self._bookmarks]
        for at, (ref, entries) in enumerate(self._bookmarks):
            before, after = refs[at - 1] if at else None, refs[at + 1] if at + 1 < len(refs) else None
            self.writer.add(entries | {"Prev": before, "Next": after}, ref)
        self.writer.add(
            {"Type": Name("Outlines"), "First": refs[0], "Last": refs[-1], "Count": len(refs)}, self.outlines
        )

    def _copy(self, data: mmap.mmap, ends: _Ends, mapping: dict[int, Ref]) -> None:
        """Copy the objects of a file in the same order; ``mapping`` gives the new number of each, and is completed."""
        left_out = {ends.root, ends.info, ends.metadata, ends.labels, ends.outlines}
        catalogue = b""
        for number, body in _objects(data):
            if number == ends.root:
                catalogue = body
            if number in left_out:
                continue
            head, mark, rest = body.partition(_STREAM)
            digest = _digest(head, rest, mapping) if mark else None
            if digest is not None and digest in self._streams:
                mapping.setdefault(number, self._streams[digest])
                if mapping[number] == self._streams[digest]:
                    continue
            own = self._ref(number, mapping)
            if digest is not None:
                self._streams[digest] = own
            text = self._renumbered(head, mapping)
            if number == ends.pages:
                text = text.replace(b"<<", f"<</Parent {int(self.tree)} 0 R".encode(), 1)
            self.writer.add_raw(text + mark + rest, own)
        if not self._catalogue:
            first = {**mapping, ends.pages: self.tree} | ({ends.outlines: self.outlines} if ends.outlines else {})
            self._catalogue = self._renumbered(catalogue, first)

    def _ref(self, number: int, mapping: dict[int, Ref]) -> Ref:
        if number not in mapping:
            mapping[number] = self.writer.reserve()
        return mapping[number]

    def _renumbered(self, text: bytes, mapping: dict[int, Ref]) -> bytes:
        return _REFERENCE.sub(lambda match: write(self._ref(int(match[1]), mapping)).encode(), text)


@dataclass(slots=True, frozen=True)
class _Ends:
    """The numbers of the objects that a file has once."""

    root: int
    info: int
    pages: int
    metadata: int
    labels: int
    outlines: int


def _number(one: Any) -> int:
    """The number of an indirect object."""
    return int(one.objgen[0])


def _objects(data: mmap.mmap) -> Iterator[tuple[int, bytes]]:
    """Iterate over the objects of a file, by their number, in the order of the file."""
    start = int(data[data.rfind(b"startxref\n") + 10 :].split(b"\n", 1)[0])
    table = _TABLE.match(data[start : start + 40])
    assert table is not None, "the file was not written by PdfWriter"
    count, at = int(table[1]), start + table.end()
    rows = [data[at + _ROW * number : at + _ROW * (number + 1)] for number in range(count)]
    offsets = sorted((int(row[:10]), number) for number, row in enumerate(rows) if row[17:18] == b"n")
    ends = [offset for offset, _ in offsets[1:]] + [start]
    for (offset, number), end in zip(offsets, ends, strict=True):
        begin = data.find(b" obj\n", offset, end) + 5
        yield number, data[begin : end - len(b"\nendobj\n")]


def _digest(head: bytes, rest: bytes, mapping: dict[int, Ref]) -> bytes | None:
    """The digest of a stream with all that it refers to; None for the content of a page, which is not shared, and for a
    stream that refers to what is not copied yet."""
    if _PLAIN.fullmatch(head):
        return None
    numbers = [int(match[1]) for match in _REFERENCE.finditer(head)]
    if any(number not in mapping for number in numbers):
        return None
    text = _REFERENCE.sub(lambda match: write(mapping[int(match[1])]).encode(), head)
    return hashlib.sha256(text + _STREAM + rest).digest()
