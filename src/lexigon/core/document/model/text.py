"""Stories: paragraphs with their spans, and the objects that are shown in them but stored elsewhere."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Annotated

from lexigon.core.document.limits import (
    CONTROLS,
    MOST_PARAGRAPHS,
    MOST_TEXT,
    Id,
    Key,
    KeyOrEmpty,
    Link,
    Many,
    Matching,
    Name,
    Place,
    Text,
)
from lexigon.core.document.model.choices import AnchorKind, StoryKind
from lexigon.core.document.model.formatting import ParaSpec, TypeSpec

OBJECT = "\ufffc"
"""Stands in a paragraph's text where an object in it is shown: a page number, a note's number, a frame."""


@dataclass(slots=True, frozen=True)
class Anchor:
    """An object shown in a story and stored elsewhere.

    ``ref`` names what: for ``heading`` a paragraph style (any part or chapter where it is empty), for ``copy`` the
    standing copy, for ``fact`` which fact of the job (``size``, ``words``, ``paper``), for ``note`` the story that
    is its body (``form``: its kind),
    for ``frame`` the inlay (``form``: ``margin`` or ``near``, "" in the line), for ``table`` the table, for
    ``reference`` a paragraph (``form``: its page where empty, ``words``, or the ``number`` of
    a list), for ``entry`` a listing (``form``: which entry of it, whose page numbers are shown), for ``index`` a
    term (``form``: ``begin`` and ``end`` of a range, ``main`` or ``begin main`` for its main treatment; nothing is
    shown). ``sum`` in a cell is the total of its column. ``record`` is the value of a field of the records that the job
    is merged with; where ``form`` is ``line``, its line is left out when the value is empty. ``form`` says how: for
    dates a form such as ``D MMMM YYYY``, for headings ``first`` or ``last`` on the page.
    """

    kind: AnchorKind
    ref: Annotated[
        str, Matching(f"[^{CONTROLS}]*", "The content of a field is named with at most 80 characters.", 80)
    ] = ""
    form: Annotated[str, Matching(f"[^{CONTROLS}]*", "The format of a field has at most 80 characters.", 80)] = ""


@dataclass(slots=True, frozen=True)
class StandingCopy:
    """A named text that is used in many places and stored once."""

    id: Key
    name: Name
    text: Text = ""


@dataclass(slots=True, frozen=True)
class Span:
    """A stretch of a paragraph, ``start`` up to ``end`` in code points, set unlike the rest of it."""

    start: Place
    end: Place
    style: KeyOrEmpty | None = None
    type: TypeSpec | None = None
    object: Anchor | None = None
    """Shown in place of the one OBJECT character it covers."""
    link: Link = ""
    """Where a reader of a screen PDF comes by a click: an address, or ``#`` and the id of a paragraph."""


@dataclass(slots=True, frozen=True)
class Paragraph:
    id: Id
    style: KeyOrEmpty
    """Empty for words on their way in from elsewhere, which are then set like their surroundings."""
    text: Text = ""
    spans: Annotated[tuple[Span, ...], Many(MOST_TEXT)] = ()
    """In order, never overlapping, never empty."""
    para: ParaSpec | None = None
    type: TypeSpec | None = None


@dataclass(slots=True)
class Story:
    """A story that flows through frames. ``frames`` are those on pages that were linked by hand."""

    id: Id
    name: Name
    paragraphs: Annotated[list[Paragraph], Many(MOST_PARAGRAPHS)] = field(default_factory=list)
    frames: Annotated[list[Id], Many(MOST_PARAGRAPHS)] = field(default_factory=list)
    kind: StoryKind = "text"
