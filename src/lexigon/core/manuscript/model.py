"""Manuscripts on their way into a job: paragraphs in its styles, and what was recognised in them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from lexigon.core.document.model import Paragraph, Story, TextTable
from lexigon.core.manuscript.review.cleaning import CleanUpFinding
from lexigon.core.manuscript.source import SourcePicture

HEADINGS = ("part", "chapter", "section", "subsection", "heading5", "heading6")
"""The usual styles of headings, the highest first."""
STARTS_TEXT = (*HEADINGS, "title", "scene")
"""The styles before the first paragraph of running text, which has no indent."""


@dataclass(slots=True, frozen=True)
class Heading:
    """A recognised heading: the number of its paragraph, its style, its words."""

    number: int
    style: str
    text: str


@dataclass(slots=True, frozen=True)
class StyleUse:
    """A style of a document: what it is called there, how often it occurs, how it begins, which style of the job it
    becomes, and why."""

    name: str
    count: int
    words: int
    sample: str
    target: str
    why: str
    look: str = ""
    """How most of it looks, in words: bold, italic, centred, large, small."""


@dataclass(slots=True, frozen=True)
class Manuscript:
    """A manuscript in the styles of a job: its paragraphs, and a report of what was recognised."""

    paragraphs: tuple[Paragraph, ...]
    encoding: str
    counts: dict[str, int]
    """Paragraphs by style, and ``emphasis``, ``words``, ``joined`` (line ends removed), ``dropped``."""
    headings: tuple[Heading, ...]
    doubts: tuple[str, ...] = ()
    """Words about places where a clean-up could have been wrong."""
    uses: tuple[StyleUse, ...] = ()
    """The styles of the document, if it has any."""
    notes: tuple[Story, ...] = ()
    pictures: tuple[tuple[str, SourcePicture], ...] = ()
    """The ids of anchored frames, and the picture that each shows."""
    tables: tuple[TextTable, ...] = ()
    found: tuple[CleanUpFinding, ...] = ()
    """What clean-ups found."""


def restyled(read: Manuscript, changes: Mapping[int, str]) -> tuple[Paragraph, ...]:
    """Return its paragraphs with other styles for some, by number; those after them are first paragraphs or not,
    accordingly."""
    paragraphs: list[Paragraph] = []
    for number, paragraph in enumerate(read.paragraphs):
        style = changes.get(number, paragraph.style)
        if style in ("first", "body"):
            style = "first" if not paragraphs or paragraphs[-1].style in STARTS_TEXT else "body"
        paragraphs.append(paragraph if style == paragraph.style else replace(paragraph, style=style))
    return tuple(paragraphs)
