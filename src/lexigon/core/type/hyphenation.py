"""Hyphenation by F. M. Liang's pattern method, with the dictionaries of the pyphen package.

Liang, "Word Hy-phen-a-tion by Com-put-er", Stanford STAN-CS-83-977 (1983). The patterns are in a trie
of dicts, so a position costs as many steps as its longest matching pattern; tests hold the results
against pyphen's own. Points that would change the spelling (old German ck/k-k) are left out.
"""

from __future__ import annotations

from functools import cache
from pathlib import Path
from typing import Any

import pyphen

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


class Hyphenator:
    def __init__(self, language: str) -> None:
        """Patterns for a BCP 47 tag such as ``en-GB``; a tag without any divides nothing."""
        patterns = dictionary(language)
        self.minimum = MINIMUM.get(language.split("-")[0].lower(), (2, 2))
        self._trie: dict[str, Any] = {}
        self._cache: dict[str, tuple[int, ...]] = {}
        if patterns:
            for tags, (offset, values) in pyphen.HyphDict(patterns).patterns.items():
                node = self._trie
                for character in tags:
                    node = node.setdefault(character, {})
                node[_END] = (offset, values)

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
        levels: list[int] = [0] * (len(dotted) + 1)
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
        return tuple(i - 1 for i, level in enumerate(levels) if level % 2 and not getattr(level, "data", None))


@cache
def hyphenator(language: str) -> Hyphenator:
    return Hyphenator(language)
