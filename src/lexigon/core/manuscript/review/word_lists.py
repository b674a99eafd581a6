"""Dictionaries: words of a language with their affixes, in the open format of Hunspell (two files, ``.aff`` and
``.dic``).

Those that ship have a licence that allows it (beside each). Those installed on the system are used, too (in Debian the
packages ``hunspell-de-de``, ``hunspell-it`` and so on). More can be added by file: they are examined in a separate
process first (``python -m`` this module), since the library that reads them is not written in Python.
"""

from __future__ import annotations

import re
import sys
import tempfile
from collections.abc import Mapping
from functools import lru_cache
from pathlib import Path
from typing import Any

from lexigon.core.errors import LexigonError
from lexigon.core.sandbox import run_apart

SHIPPED = Path(__file__).parents[3] / "dictionaries"
INSTALLED = (Path("/usr/share/hunspell"), Path("/usr/share/myspell/dicts"))
"""The folders in which Debian's packages install dictionaries."""
TAG = re.compile(r"[a-z]{2,3}(?:_[A-Z]{2})?")
LARGEST = 20_000_000
SECONDS = 20
FINE = b"these words can be read"
CACHE_SIZE = 60_000
"""Answers that are remembered of each dictionary."""


class WordListError(LexigonError):
    """A dictionary that cannot be used, in words."""


class WordList:
    """A dictionary that is open."""

    def __init__(self, stem: Path) -> None:
        import hunspell

        self._words: Any = hunspell.Hunspell(stem.name, hunspell_data_dir=str(stem.parent))
        self.knows = lru_cache(CACHE_SIZE)(self._knows)

    def _knows(self, word: str) -> bool:
        """Return whether a word is spelled so; a compound with hyphens if each part is."""
        if self._words.spell(word):
            return True
        parts = word.split("-")
        return len(parts) > 1 and all(not part or self._words.spell(part) for part in parts)

    def suggested(self, word: str) -> list[str]:
        """Return what may have been meant, the likeliest first."""
        return [one for one in self._words.suggest(word) if one != word][:8]


@lru_cache(12)
def opened(stem: Path) -> WordList:
    return WordList(stem)


class Dictionaries:
    """Dictionaries by language: those that ship, and ``own`` (the paths of their files without ending, by language)."""

    def __init__(self, own: Mapping[str, Path] | None = None) -> None:
        self.shipped = {path.stem: path.with_suffix("") for path in sorted(SHIPPED.glob("*.dic"))}
        self.installed = {
            path.stem.replace("_", "-"): path.with_suffix("")
            for folder in INSTALLED
            for path in sorted(folder.glob("*.dic"))
            if TAG.fullmatch(path.stem) and path.with_suffix(".aff").is_file()
        }
        self._paths = {**self.installed, **self.shipped, **(own or {})}

    @property
    def languages(self) -> list[str]:
        return sorted(self._paths)

    def of(self, language: str) -> WordList | None:
        """That of a language, or of one that is nearly it (en-AU is checked as British English)."""
        word_list = self._paths.get(language)
        if word_list is None:
            main = language.split("-")[0]
            near = "en-GB" if main == "en" else main
            word_list = self._paths.get(near) or next(
                (self._paths[one] for one in sorted(self._paths) if one.split("-")[0] == main), None
            )
        return opened(word_list) if word_list else None


def vetted(aff: bytes, dic: bytes) -> None:
    """Look at a dictionary that was handed in. Raises WordListError."""
    if len(aff) > LARGEST or len(dic) > LARGEST:
        raise WordListError(f"A dictionary has at most {LARGEST // 10**6} MB.")
    lines = dic.split(b"\n", 3)
    if len(lines) < 2 or not lines[0].strip(b"\xef\xbb\xbf \r").isdigit():
        raise WordListError("This is not a dictionary. A .dic file starts with the number of its words.")
    with tempfile.TemporaryDirectory() as folder:
        Path(folder, "own.aff").write_bytes(aff)
        Path(folder, "own.dic").write_bytes(dic)
        if run_apart(__name__, [folder], SECONDS) != FINE:
            raise WordListError("This dictionary cannot be read, because its two files do not match or are too large.")


def _try(folder: str) -> None:
    words = Path(folder, "own.dic").read_bytes().splitlines()[1:200]
    word_list = WordList(Path(folder, "own"))
    for line in words:
        word_list.knows(line.split(b"/")[0].decode("utf-8", "replace"))
    word_list.suggested("wrod")
    sys.stdout.buffer.write(FINE)


if __name__ == "__main__":
    _try(sys.argv[1])
