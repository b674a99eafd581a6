"""Kinds of notes: where they stand, how they are numbered, what sets them off from the text."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from lexigon.core.document.limits import Extent, Key, KeyOrEmpty, Name, Part, StrokeWeight, Within

KeptLines = Annotated[int, Within(1, 100, "Lines of a split note kept together: 1 to 100.")]
NoteWidth = Annotated[float, Within(5, 5000, "A note in the margin is 5 to 5,000 pt wide.")]

NotePlace = Literal["foot", "margin", "gathered"]
"""At the foot of the column that cites it, in the margin beside its line, or nowhere but in a listing that gathers
notes."""
NoteSigns = Literal["1", "i", "I", "a", "A", "*", "none"]
"""How notes are numbered; ``*`` means the printers' reference marks in their order, doubled where there are more
notes."""


@dataclass(slots=True, frozen=True)
class NoteKind:
    """A kind of note: its position, numbering and rule. Their number is an ``Anchor`` whose form is the kind's id, ""
    for the first."""

    id: Key
    name: Name
    place: NotePlace = "foot"
    signs: NoteSigns = "1"
    counted: Literal["text", "page", "heading"] = "text"
    """Whether numbers continue through each story, or begin again on each page, or after each paragraph in the style
    ``heading``."""
    heading: KeyOrEmpty = ""
    style: KeyOrEmpty = ""
    """The paragraph style that notes of this kind are made in; "" for that of notes."""
    divided: bool = True
    """Whether a note without room continues at the foot of the next column."""
    kept: KeptLines = 2
    """Lines of a divided note that stand together, at its beginning and at its end."""
    goes_on: Name = ""
    """The text in italics at the right, below the lines of a note that continues in the next column; "" for none."""
    together: bool = False
    """Whether short notes follow each other on one line as far as they fit."""
    rule: Part = 1 / 3
    """The rule above: the part of the column it crosses, 0 for none; and its weight."""
    rule_weight: StrokeWeight = 0.5
    gap: Extent = 6.0
    """Between the text and the first note; in the margin, between two notes."""
    width: NoteWidth = 90.0
    """Of notes in the margin; ``away`` is how far they stand from the text."""
    away: Extent = 12.0
