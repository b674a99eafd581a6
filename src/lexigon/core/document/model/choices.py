"""The values that a choice is among: plain literals, shared by the model, the schema and the fields of the board."""

from __future__ import annotations

from typing import Literal

FORMAT = 15
"""Version of the JSON form. A reader refuses a newer one and brings an older one up."""


Side = Literal["recto", "verso"]


SIDES: tuple[Side, Side] = ("recto", "verso")


Unit = Literal["mm", "cm", "in", "pt", "p", "px"]


Kind = Literal["book", "cover", "magazine", "brochure", "folded card", "flyer", "poster", "card", "label"]
"""Kinds of piece."""


Align = Literal["left", "centre", "right", "justified"]


Start = Literal["anywhere", "column", "page", "recto", "verso"]


Binding = Literal["none", "stitched", "perfect", "wire"]


NumberStyle = Literal["1", "i", "I", "a", "A"]


Caps = Literal["none", "upper", "lower", "title", "small", "all small", "reduced"]
"""``small`` are the font's own small capitals for small letters, ``all small`` for capitals too; ``reduced`` are
capitals set smaller, for fonts that have no others."""


Figures = Literal["default", "oldstyle", "lining", "tabular", "tabular oldstyle", "tabular lining"]


TabAlign = Literal["left", "right", "centre", "decimal"]


FieldKind = Literal[
    "page",
    "pages",
    "job",
    "heading",
    "section",
    "date",
    "copy",
    "fact",
    "mark",
    "hidden",
    "reference",
    "entry",
    "index",
    "sum",
    "record",
]
"""Objects in a story that are written out as words."""


AnchorKind = Literal[FieldKind, "note", "frame", "table"]


StoryKind = Literal["text", "note", "inlay"]
"""``text`` flows through frames, ``note`` is at the foot of the column that cites it, ``inlay`` is in an anchored
frame."""


Vertical = Literal["top", "centre", "bottom", "justified"]


FirstLine = Literal["ascent", "capital", "x-height", "leading", "fixed"]


MAIN_LAYER = "main"
"""The default layer for objects."""
