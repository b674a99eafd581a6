"""From a paragraph to runs: stretches of text in one font at one size, with missing glyphs filled in."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from lexigon.core.job.cascade import Cascade, Face
from lexigon.core.job.model import Paragraph, Span
from lexigon.core.type.fonts import FontLibrary
from lexigon.core.type.shaping import Cut, cut_for, features_of


@dataclass(slots=True, frozen=True)
class Look:
    """What a run is set in: the settled values and the cut that shapes it. Points per font unit in ``scale``."""

    spec: Face
    cut: Cut
    scale: float
    tracking: float

    @property
    def space(self) -> float:
        """Width in points of a space beside which nothing kerns."""
        return self.cut.space * self.scale + self.tracking

    def space_after(self, before: str, after: str) -> float:
        """Width in points of a space between two characters."""
        return self.cut.space_after(before, after) * self.scale + self.tracking

    def width(self, text: str) -> float:
        """Width in points of a word, tracking after each character included."""
        return self.cut.width(text) * self.scale + self.tracking * len(text)


@dataclass(slots=True, frozen=True)
class Run:
    start: int
    end: int
    look: Look
    field: bool = False
    """It shows something kept elsewhere."""


@lru_cache(2048)
def look_for(library: FontLibrary, spec: Face, substitute: str = "") -> Look:
    """The look of a setting; ``substitute`` is the PostScript name of a face to use in place of its own."""
    if substitute:
        face = next(f for f in library.faces if f.postscript_name == substitute)
    else:
        face = library.face(spec.family, spec.weight, spec.italic)
    return Look(spec, cut_for(face, features_of(spec)), spec.size / face.upem, spec.tracking * spec.size / 1000)


def looks_of(cascade: Cascade, library: FontLibrary, paragraph: Paragraph) -> Look:
    """What the paragraph's own type is, apart from its spans; its metrics rule the first line."""
    return look_for(library, cascade.face(paragraph))


def shown(text: str, caps: str) -> str:
    """The characters as they are set: capitals where asked, offsets unchanged, tabs as em spaces."""
    if caps == "upper":
        text = "".join(u if len(u := c.upper()) == 1 else c for c in text)
    return text.replace("\t", "\u2003")


def runs_of(cascade: Cascade, library: FontLibrary, paragraph: Paragraph) -> tuple[str, list[Run]]:
    """The paragraph's text as it is set, and its runs in order. Neighbouring runs differ."""
    text = paragraph.text
    runs: list[Run] = []
    shown_text: list[str] = []
    at = 0
    for span in (*paragraph.spans, Span(len(text), len(text))):
        for start, end, which in ((at, span.start, None), (span.start, span.end, span)):
            if start < end:
                look = look_for(library, cascade.face(paragraph, which))
                piece = shown(text[start:end], look.spec.caps)
                shown_text.append(piece)
                _split(library, look, piece, start, runs, bool(which and which.field))
        at = span.end
    return "".join(shown_text), runs


def _split(library: FontLibrary, look: Look, text: str, offset: int, runs: list[Run], field: bool) -> None:
    """Append runs for ``text``, with another face for the characters that this one lacks."""
    missing = look.cut.face.lacks(set(text))
    if not missing:
        runs.append(Run(offset, offset + len(text), look, field))
        return
    start, current = 0, look
    for index, character in enumerate(text):
        wanted = look
        if character in missing:
            face = library.covering(character, look.spec.italic)
            wanted = look_for(library, look.spec, face.postscript_name) if face else look
        if wanted is not current:
            if index > start:
                runs.append(Run(offset + start, offset + index, current, field))
            start, current = index, wanted
    runs.append(Run(offset + start, offset + len(text), current, field))
