"""The fonts a job brings along, beside those that ship."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from pathlib import Path

from lexigon.core.document.model import Job
from lexigon.core.type.fonts import FontError, FontFace, FontLibrary, examined, shipped

Find = Callable[[str], Path | None]
"""The path of a file stored under the SHA-256 of its content; None if there is none."""


def library_of(job: Job, find: Find) -> FontLibrary:
    """The fonts available to a job. A family whose file is missing or damaged is substituted."""
    return _library(tuple(filter(None, (_face(find(font.file)) for font in job.fonts.values()))))


def _face(path: Path | None) -> FontFace | None:
    try:
        return examined(path) if path else None
    except FontError:
        return None


@lru_cache(64)
def _library(own: tuple[FontFace, ...]) -> FontLibrary:
    return shipped().with_own(own) if own else shipped()


def cautions(face: FontFace) -> list[str]:
    """Return what one should know of a font before one uses it."""
    warnings = []
    if face.restricted:
        warnings.append("its licence forbids embedding: a PDF can have its text only as outlines")
    elif face.whole_only:
        warnings.append("its licence forbids embedding a part of it: a PDF carries the whole font")
    if face.is_variable:
        warnings.append("it is variable: its default cut alone is used")
    if not face.has_space:
        warnings.append("it has no space: words are set apart by a quarter of an em")
    return warnings
