"""The tables of a job: what each holds, and what follows from it.

From here follow the edits of their entries, their rows, the files of a package, what is checked and what a miniature
shows. A new kind of thing that people give a name is an entry here, and a field of ``Job``.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from lexigon.core.document.model import (
    Abroad,
    Acceptance,
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
    RecordAdjustment,
    RecordSet,
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
    files: Literal["", "file", "files"] = ""
    """The field of its entries that names a file, or several, stored with the job."""

    def files_of(self, entry: Any) -> tuple[str, ...]:
        """Return the files that an entry names; it may be given in its JSON form."""
        if not self.files:
            return ()
        value = entry.get(self.files, ()) if isinstance(entry, dict) else getattr(entry, self.files)
        return (value,) if isinstance(value, str) else tuple(value)


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
    "overlays": Table(Overlay, "nothing", files="file"),
    "fonts": Table(OwnFont, "fonts", files="file"),
    "pictures": Table(PictureFile, "looks", files="file"),
    "markings": Table(Marking, "everything"),
    "lexicon": Table(KnownWord, "nothing"),
    "listings": Table(Listing, "fields"),
    "terms": Table(IndexTerm, "nothing"),
    "table_styles": Table(TableStyle, "everything"),
    "note_kinds": Table(NoteKind, "everything"),
    "abroad": Table(Abroad, "fields"),
    "record_sets": Table(RecordSet, "nothing", files="files"),
    "record_adjustments": Table(RecordAdjustment, "nothing"),
    "acceptances": Table(Acceptance, "nothing"),
}
"""By the name of the field of ``Job``, in the order of the file."""
