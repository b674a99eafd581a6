"""The tables of a job: what each holds, and what follows from it.

From here follow the edits of their entries, their rows, the files of a package, what is checked and what a miniature
shows. A new kind of thing that people give a name is an entry here, and a field of ``Job``.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from lexigon.core.document.model import (
    Abroad,
    CharacterStyle,
    FrameStyle,
    IndexTerm,
    InkSet,
    KnownWord,
    Layer,
    Listing,
    Marking,
    Master,
    NoteKind,
    Object,
    Overlay,
    OwnFont,
    Paper,
    ParagraphStyle,
    PictureFile,
    RuleStyle,
    StandingCopy,
    Story,
    Swatch,
    TableStyle,
    TextTable,
)

Reach = Literal["nothing", "looks", "fields", "text", "frames", "fonts", "everything"]
"""The extent of a change in the composition: ``looks`` is painted differently in place, ``fields`` shows something else
in stories, ``text`` and ``frames`` set some paragraphs or fill some areas again, ``everything`` sets and fills all."""


@dataclass(slots=True, frozen=True)
class Table:
    type: type
    reach: Reach
    chained: bool = False
    """Its entries are based on each other."""
    files: bool = False
    """Whether its entries name a file that is stored with the job."""


TABLES: dict[str, Table] = {
    "paragraph_styles": Table(ParagraphStyle, "everything", chained=True),
    "character_styles": Table(CharacterStyle, "everything", chained=True),
    "frame_styles": Table(FrameStyle, "everything", chained=True),
    "rule_styles": Table(RuleStyle, "looks", chained=True),
    "swatches": Table(Swatch, "looks"),
    "ink_sets": Table(InkSet, "looks"),
    "layers": Table(Layer, "looks"),
    "masters": Table(Master, "everything", chained=True),
    "stories": Table(Story, "everything"),
    "inlays": Table(Object, "fields"),
    "tables": Table(TextTable, "fields"),
    "papers": Table(Paper, "fields"),
    "copies": Table(StandingCopy, "fields"),
    "overlays": Table(Overlay, "nothing", files=True),
    "fonts": Table(OwnFont, "fonts", files=True),
    "pictures": Table(PictureFile, "looks", files=True),
    "markings": Table(Marking, "everything"),
    "lexicon": Table(KnownWord, "nothing"),
    "listings": Table(Listing, "fields"),
    "terms": Table(IndexTerm, "nothing"),
    "table_styles": Table(TableStyle, "everything"),
    "note_kinds": Table(NoteKind, "everything"),
    "abroad": Table(Abroad, "fields"),
}
"""By the name of the field of ``Job``, in the order of the file."""
