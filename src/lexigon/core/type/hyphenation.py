"""Hyphenation by F. M. Liang's pattern method, with the dictionaries of the pyphen package.

Liang, "Word Hy-phen-a-tion by Com-put-er", Stanford STAN-CS-83-977 (1983). The patterns are in a trie
of dicts, so a position costs as many steps as its longest matching pattern; tests hold the results
against pyphen's own. Points that would change the spelling (old German ck/k-k) are left out.
"""

from __future__ import annotations

import marshal
import os
import struct
import sys
from collections.abc import Iterable
from contextlib import suppress
from functools import cache
from importlib.util import cache_from_source
from pathlib import Path
from typing import Any, cast

import pyphen

from lexigon.core.cache import current_cache, entry_name

MINIMUM = {"en": (2, 3), "de": (2, 2), "fr": (2, 3), "es": (2, 2), "it": (2, 2), "nl": (2, 2)}
"""Fewest letters before and after a hyphen by language, which a style may raise (common practice, no source)."""

LEFT_OUT = frozenset({"gl", "kn_IN", "pt_PT", "ro_RO", "te_IN", "uk_UA"})
"""Dictionaries that their headers, or the notes with them, put under the GNU GPL alone, which does not go with this
program's licence."""
INSTEAD = {"pt_PT": "pt_BR"}
"""Divides Portuguese by the same syllables; under LGPL and MPL."""

_END = ""


def dictionary(language: str) -> Path | None:
    """The file of patterns for a BCP 47 tag such as ``en-GB``; None where there is none that may be used."""
    path = pyphen.language_fallback(language)
    if path is None:
        return None
    name = Path(pyphen.LANGUAGES[path]).stem.removeprefix("hyph_")
    name = INSTEAD.get(name, name)
    return None if name in LEFT_OUT else Path(pyphen.LANGUAGES[name])


Trie = dict[str, Any]
"""Patterns by their characters; at the end of one its offset and values. Those that change the spelling are floats."""


def build_trie(patterns: Path) -> Trie:
    """Return the patterns of a file as a trie. That takes some tenths of a second, and seconds for languages with many
    compounds."""
    trie: Trie = {}
    for tags, (offset, values) in pyphen.HyphDict(patterns).patterns.items():
        node = trie
        for character in tags:
            node = node.setdefault(character, {})
        node[_END] = (offset, tuple(float(v) if getattr(v, "data", None) else int(v) for v in values))
    return trie


def compiled_path(patterns: Path) -> Path:
    """Return where the compiled patterns of a file are, for this version of Python: beside it, as byte code is."""
    return Path(cache_from_source(str(patterns))).with_suffix(".trie")


def compile_patterns(languages: Iterable[str]) -> None:
    """Compile the patterns of languages (BCP 47 tags), as the installation does. Where that folder may not be written,
    nothing happens."""
    for patterns in {dictionary(language) for language in languages} - {None}:
        assert patterns is not None
        target = compiled_path(patterns)
        if _compiled(patterns) is not None:
            continue
        with suppress(OSError):
            target.parent.mkdir(exist_ok=True)
            part = target.with_suffix(f".{os.getpid()}")
            part.write_bytes(_stamp(patterns) + marshal.dumps(build_trie(patterns)))
            part.replace(target)


def _stamp(patterns: Path) -> bytes:
    facts = patterns.stat()
    return struct.pack("<QQ", facts.st_size, facts.st_mtime_ns)


def _compiled(patterns: Path) -> Trie | None:
    """Return the compiled patterns of a file; None if there are none, or they are of another version of it."""
    with suppress(OSError, EOFError, ValueError, TypeError):
        data, stamp = compiled_path(patterns).read_bytes(), _stamp(patterns)
        if data.startswith(stamp):
            trie: Trie = marshal.loads(data[len(stamp) :])
            return trie
    return None


def _trie_of(patterns: Path) -> Trie:
    """Return the patterns of a file as a trie: as they were compiled, or from the cache of this process."""
    trie = _compiled(patterns)
    if trie is not None:
        return trie
    store = current_cache()
    name = entry_name("patterns", pyphen.__version__, patterns.name, patterns.stat().st_size, sys.version)
    data = store.read(name) if store is not None else None
    if data is not None:
        trie = marshal.loads(data)  # signed: this program has written it
        return cast("Trie", trie)
    trie = build_trie(patterns)
    if store is not None:
        store.write(name, marshal.dumps(trie))
    return trie


class Hyphenator:
    def __init__(self, language: str) -> None:
        """Patterns for a BCP 47 tag such as ``en-GB``; a tag without any divides nothing."""
        patterns = dictionary(language)
        self.minimum = MINIMUM.get(language.split("-")[0].lower(), (2, 2))
        self._trie = _trie_of(patterns) if patterns else {}
        self._cache: dict[str, tuple[int, ...]] = {}

    def points(self, word: str) -> tuple[int, ...]:
        """Offsets at which ``word`` (letters only) may be divided, before any minimum is applied."""
        word = word.lower()
        cached = self._cache.get(word)
        if cached is None:
            if len(self._cache) > 100_000:
                self._cache.clear()
            cached = self._cache[word] = self._search(word)
        return cached

    def _search(self, word: str) -> tuple[int, ...]:
        dotted = f".{word}."
        levels: list[float] = [0] * (len(dotted) + 1)
        for start in range(len(dotted) - 1):
            node = self._trie
            for character in dotted[start:]:
                node = node.get(character)  # type: ignore[assignment]
                if node is None:
                    break
                points = node.get(_END)
                if points:
                    at = start + points[0]
                    for value in points[1]:
                        if value > levels[at]:
                            levels[at] = value
                        at += 1
        return tuple(i - 1 for i, level in enumerate(levels) if level % 2 and not isinstance(level, float))


@cache
def hyphenator(language: str) -> Hyphenator:
    return Hyphenator(language)
