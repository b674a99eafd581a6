"""A paragraph as it is set: its resolved values, its content, and its lines at each measure that was requested."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import TYPE_CHECKING

from lexigon.core.document.anchors import STORED_KINDS
from lexigon.core.document.cascade import Cascade, Setting
from lexigon.core.document.model import Paragraph
from lexigon.core.flow.model import Burden
from lexigon.core.flow.resolved_text import ResolvedText, objects_of
from lexigon.core.type.fonts import FontLibrary
from lexigon.core.type.initial import Initial, initial_of, narrowed
from lexigon.core.type.paragraph import Measure, set_paragraph
from lexigon.core.type.runs import Boxed, Run, looks_of
from lexigon.core.type.set_line import SetLine

if TYPE_CHECKING:
    from lexigon.core.flow.tables import TableBody


TABLE_GAP = 6.0
"""Points above and below a table, at the least (common practice, no source)."""
LEAST_STEP = 0.01


def among_rows(setting: Setting) -> Setting:
    """Return the formatting of a paragraph that shows a table: rows below each other, off the grid, head rows never
    alone."""
    return replace(
        setting,
        leading=LEAST_STEP,
        grid=False,
        foot_lines=2,
        head_lines=1,
        hyphen_column=False,
        space_before=max(setting.space_before, TABLE_GAP),
        space_after=max(setting.space_after, TABLE_GAP),
        drop_lines=0,
    )


class SetParagraph:
    """A paragraph with its settled values and, for each measure and beginning it was asked for, its lines."""

    __slots__ = (
        "afloat",
        "ascent",
        "boxes",
        "cap_height",
        "descent",
        "initial",
        "laden",
        "lines",
        "loose",
        "notes",
        "opened",
        "paragraph",
        "setting",
        "shown",
        "size",
        "tables",
        "varied",
        "x_height",
    )

    def __init__(
        self, paragraph: Paragraph, cascade: Cascade, library: FontLibrary, resolved: ResolvedText | None = None
    ) -> None:
        self.paragraph = paragraph
        self.shown = resolved or ResolvedText(paragraph)
        set_as = self.shown.paragraph  # rules may have it set in another style
        look = looks_of(cascade, library, set_as)
        face, height = look.cut.face, look.size / look.cut.face.upem
        self.setting = cascade.setting(set_as)
        self.ascent = face.ascent * height
        self.descent = face.descent * height
        self.cap_height = face.cap_height * height
        self.x_height = face.x_height * height
        self.size = look.spec.size
        self.tables: dict[float, TableBody] = {}
        """The table it shows, as it is set at each width it was asked for."""
        if self.shown.table is not None:
            self.ascent = self.descent = self.cap_height = self.x_height = 0.0
            self.setting = among_rows(self.setting)
        self.initial: Initial | None = None
        marked = bool(self.shown.fields) and self.shown.fields[0][3] == 0
        if self.setting.drop_lines > 1 and not marked and self.shown.table is None:  # a list's mark is no initial
            self.initial = initial_of(cascade, library, self.shown.paragraph, self.setting, self.cap_height)
        self.lines: dict[tuple[Measure, int], list[SetLine]] = {}
        self.loose = 0
        """Lines more (or fewer) than set best, so that its spread has even feet; ``varied`` are its lines then."""
        self.varied: dict[int, dict[tuple[Measure, int], list[SetLine]]] = {}
        self.opened: dict[Measure, Paragraph] = {}
        """What it is set as at a measure, where rules have its first lines set otherwise."""
        anchors = [
            (span.start, one) for span in set_as.spans if (one := span.object) is not None and one.kind in STORED_KINDS
        ]
        silent = self.shown.silent
        self.notes = sorted((at, one.ref) for at, one in (*anchors, *silent) if one.kind == "note")
        """Where notes are cited in the text shown, and which."""
        self.afloat = [(at, one) for at, one in silent if isinstance(one, Boxed)]
        """Frames that are placed beside its lines, near or above them, and the places that they are anchored to."""
        if self.shown.table is not None:
            self.notes = [(0, one.ref) for _, one, _ in objects_of(self.shown.table) if one.kind == "note"]
        self.boxes = [(at, one.height) for at, one in anchors if isinstance(one, Boxed)]
        """The offsets of frames in it, and their heights."""
        self.laden: dict[tuple[Measure, int, int], Mapping[int, Burden]] = {}
        """What its lines carry, as far as they carry something, as it is set each way."""

    def looked_up(self, cascade: Cascade, library: FontLibrary) -> None:
        """Take over what a cascade of the same measures paints otherwise."""
        self.setting = cascade.setting(self.shown.paragraph)
        if self.shown.table is not None:
            self.setting = among_rows(self.setting)
            self.tables.clear()
            self.laden.clear()
        if self.initial is not None:
            self.initial = initial_of(cascade, library, self.shown.paragraph, self.setting, self.cap_height)

    def broken(self, text: str, runs: list[Run], setting: Setting, measure: Measure, base: int = 0) -> list[SetLine]:
        """The lines of its text (or of a trial with it) at a measure, from a text offset; round its drop cap."""
        if self.loose and base == 0:
            setting = replace(setting, looseness=setting.looseness + self.loose)
        if self.initial is not None and base == 0:
            shape = narrowed(self.initial, measure, setting)
            return set_paragraph(text, runs, setting, shape, self.size, self.initial.end, begins=False)
        return set_paragraph(text, runs, setting, measure, self.size, base)
