"""Manuscripts on the command line: the choices that options make, and where their pictures go."""

from __future__ import annotations

import argparse
import hashlib
from collections.abc import Iterable

from lexigon.core.document.model import Job, PictureFile
from lexigon.core.document.story_text import new_id
from lexigon.core.errors import LexigonError
from lexigon.core.intake.drawings import normalised
from lexigon.core.manuscript.mapping import LEAVE_OUT
from lexigon.core.manuscript.pouring import Keep
from lexigon.core.manuscript.review.cleaning import BY_ID, typographic
from lexigon.core.picture.bringing import described
from lexigon.core.picture.files import facts_of


def cleanup_choices(options: argparse.Namespace) -> dict[str, bool]:
    """The clean-ups that ``--typographic-quotes``, ``--clean-up`` and ``--no-clean-up`` switch on and off. Raises
    LexigonError for an unknown name."""
    unknown = [name for name in (*options.clean_up, *options.no_clean_up) if name not in BY_ID]
    if unknown:
        raise LexigonError(f"There is no clean-up “{unknown[0]}”. Available are {', '.join(BY_ID)}.", "clean")
    quotes = typographic(True) if options.typographic_quotes else {}
    return quotes | dict.fromkeys(options.clean_up, True) | dict.fromkeys(options.no_clean_up, False)


def style_mapping(values: Iterable[str], job: Job) -> dict[str, str]:
    """The styles of the job for styles of the manuscript, from values such as ``Heading 9=section``. Raises
    LexigonError for a style that the job lacks."""
    pairs = [value.rsplit("=", 1) for value in values]
    if any(len(pair) != 2 or not pair[0].strip() or not pair[1].strip() for pair in pairs):
        raise LexigonError("Type a style mapping as --map-style “Heading 9=section”.", "becomes")
    mapping = {name.strip(): style.strip() for name, style in pairs}
    for style in mapping.values():
        if style != LEAVE_OUT and style not in job.paragraph_styles:
            available = ", ".join(job.paragraph_styles)
            raise LexigonError(
                f"There is no style “{style}”. Available are {available}; {LEAVE_OUT} leaves the text out.", "becomes"
            )
    return mapping


def picture_store(pictures: dict[str, bytes]) -> Keep:
    """A function that adds pictures of a manuscript to ``pictures`` by their hash, for the job file."""

    def store(name: str, data: bytes) -> PictureFile:
        data = normalised(data)
        file = hashlib.sha256(data).hexdigest()
        pictures[file] = data
        return described(new_id("i"), name, file, facts_of(data))

    return store
