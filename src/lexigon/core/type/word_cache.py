"""Shaped words, saved from one process to the next.

The words of a cut (a font file with OpenType features, in a language) are one entry, whichever job they are from: how a
word is shaped depends on nothing else. Words are decoded when they are asked for, since a job uses few of them.
"""

from __future__ import annotations

import struct
from array import array
from collections.abc import Mapping
from itertools import accumulate, pairwise

from lexigon.core.cache import current_cache, entry_name
from lexigon.core.type.engine import engine_version

HEAD = struct.Struct("<IIII")
"""The numbers of words, of characters, of glyphs, and of glyphs with an offset."""
Shape = tuple[int, tuple[int, ...], tuple[int, ...], tuple[int, ...], tuple[tuple[int, int], ...] | None]
"""A shaped word in the order of the fields of ``shaping.Word``."""


def entry_of_cut(sha256: str, features: Mapping[str, int], language: str) -> str:
    """Return the name of the entry of a cut; ``sha256`` is the digest of its font file."""
    return entry_name("words", sha256, sorted(features.items()), language, engine_version())


class SavedWords:
    """The words of one cut in the cache that this process uses."""

    def __init__(self, name: str) -> None:
        """Read the entry ``name``; without one there are no words."""
        self._index: dict[str, int] = {}
        cache = current_cache()
        data = cache.read(name) if cache is not None else None
        if data is not None and len(data) >= HEAD.size:
            self._unpack(data)

    def __len__(self) -> int:
        return len(self._index)

    def get(self, text: str) -> Shape | None:
        """Return how a word is shaped, or None if it is not there."""
        number = self._index.get(text)
        if number is None:
            return None
        first, last = self._starts[number], self._starts[number + 1]
        glyphs, clusters = tuple(self._glyphs[first:last]), tuple(self._clusters[first:last])
        advances = tuple(self._advances[first:last])
        begin, end = self._offset_starts[number], self._offset_starts[number + 1]
        pairs = self._offsets[2 * begin : 2 * end]
        offsets = tuple(zip(pairs[::2], pairs[1::2], strict=True)) if pairs else None
        return sum(advances), glyphs, advances, clusters, offsets

    def texts(self) -> list[str]:
        """Return the words."""
        return list(self._index)

    def _unpack(self, data: bytes) -> None:
        words, characters, glyphs, shifted = HEAD.unpack_from(data)
        sizes = (2 * words, 2 * words, words, 4 * glyphs, 4 * glyphs, 2 * glyphs, 8 * shifted)
        ends = list(accumulate(sizes, initial=HEAD.size))
        parts = [data[first:last] for first, last in pairwise(ends)]
        text = data[ends[-1] :].decode("utf-8", "surrogatepass")
        if len(text) != characters or len(parts[-1]) != sizes[-1]:
            return
        lengths, counts = array("H", parts[0]), array("H", parts[1])
        self._glyphs, self._advances, self._clusters = array("I", parts[3]), array("i", parts[4]), array("H", parts[5])
        self._offsets = array("i", parts[6])
        self._starts = list(accumulate(counts, initial=0))
        flags = parts[2]
        self._offset_starts = list(accumulate((n if f else 0 for n, f in zip(counts, flags, strict=True)), initial=0))
        places = list(accumulate(lengths, initial=0))
        if places[-1] != characters or self._starts[-1] != glyphs or self._offset_starts[-1] != shifted:
            return
        self._index = {text[a:b]: at for at, (a, b) in enumerate(pairwise(places))}


def save_words(name: str, words: Mapping[str, Shape]) -> None:
    """Write an entry with ``words``. Words of more than 65,535 characters are left out."""
    cache = current_cache()
    if cache is None:
        return
    words = {text: shape for text, shape in words.items() if max(len(text), len(shape[1])) < 65_536}
    shapes = list(words.values())
    lengths, counts = array("H", map(len, words)), array("H", (len(shape[1]) for shape in shapes))
    flags = bytes(shape[4] is not None for shape in shapes)
    glyphs, advances, clusters, offsets = array("I"), array("i"), array("H"), array("i")
    for _, its_glyphs, its_advances, its_clusters, its_offsets in shapes:
        glyphs.extend(its_glyphs)
        advances.extend(its_advances)
        clusters.extend(its_clusters)
        for pair in its_offsets or ():
            offsets.extend(pair)
    text = "".join(words)
    head = HEAD.pack(len(words), len(text), len(glyphs), len(offsets) // 2)
    parts = (lengths, counts, flags, glyphs, advances, clusters, offsets)
    cache.write(name, b"".join([head, *map(bytes, parts), text.encode("utf-8", "surrogatepass")]))
