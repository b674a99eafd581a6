"""The files that records name, such as portraits: found in a folder, or with a suggestion where a name is a near miss.

A name in a record is often not quite that of its file: without its extension, with a hyphen for a space, in capitals,
with a letter too many. Such a file is suggested, never used without being asked for; names whose digits differ are
never the same.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property
from pathlib import PurePosixPath
from typing import Literal

PICTURES = (".jpg", ".jpeg", ".png", ".tif", ".tiff", ".webp", ".gif", ".heic", ".svg", ".pdf")
"""The extensions of pictures, the most usual first."""
MOST_SUGGESTIONS = 3
LEAST_ALIKE = 80.0
"""The least similarity, from 0 to 100, of a name that is suggested: about one letter in five may differ (no source)."""

State = Literal["found", "near", "missing", "outside", "empty"]


@dataclass(slots=True, frozen=True)
class FileMatch:
    """The file for a value: ``found`` under exactly this name, ``near`` under another, ``missing``, or ``outside`` the
    folder. ``files`` is the file that was found, or those that are suggested, the likeliest first."""

    state: State
    files: tuple[str, ...] = ()


class FileNames:
    """The names of the files in a folder, relative to it, with / between folders."""

    def __init__(self, names: Iterable[str]) -> None:
        self.names = sorted(names)

    @cached_property
    def _exact(self) -> dict[str, str]:
        """The names by their composed form: some systems store accents as characters by themselves."""
        return {unicodedata.normalize("NFC", name): name for name in self.names}

    @cached_property
    def _bare(self) -> dict[str, list[str]]:
        """The names by their bare form, with and without folder and extension."""
        forms: dict[str, list[str]] = {}
        for name in self.names:
            path = PurePosixPath(name)
            for form in dict.fromkeys((bare(name), bare(path.name), bare(str(path.with_suffix(""))), bare(path.stem))):
                forms.setdefault(form, []).append(name)
        return forms

    def match(self, value: str) -> FileMatch:
        """Return the file that a value of a record names."""
        written = unicodedata.normalize("NFC", value.strip().replace("\\", "/"))
        if not written:
            return FileMatch("empty")
        path = PurePosixPath(written)
        if path.is_absolute() or ".." in path.parts or re.match(r"[A-Za-z]:", written):
            return FileMatch("outside")
        name = str(path)
        if name in self._exact:
            return FileMatch("found", (self._exact[name],))
        alike = self._bare.get(bare(name)) or self._bare.get(bare(str(path.with_suffix("")))) or []
        if not alike:
            alike = self._similar(path)
        return FileMatch("near", tuple(alike[:MOST_SUGGESTIONS])) if alike else FileMatch("missing")

    def _similar(self, path: PurePosixPath) -> list[str]:
        """The names that differ from a path by a letter or two, the likeliest first."""
        from rapidfuzz import fuzz, process

        own_digits = digits(path.name)
        stems = {name: bare(PurePosixPath(name).stem) for name in self.names if digits(name) == own_digits}
        likeliest = process.extract(
            bare(path.stem), stems, scorer=fuzz.ratio, score_cutoff=LEAST_ALIKE, limit=MOST_SUGGESTIONS
        )
        return [name for _, _, name in likeliest]


def bare(name: str) -> str:
    """Return a name without what people write differently: capitals, accents, spaces, hyphens, underscores, full
    stops."""
    decomposed = unicodedata.normalize("NFKD", name.casefold())
    return "".join(c for c in decomposed if c.isalnum() or c == "/")


def digits(name: str) -> str:
    """Return the digits of a file's name without its folder and extension."""
    return "".join(c for c in PurePosixPath(name).stem if c.isdecimal())
