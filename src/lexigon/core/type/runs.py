"""From a paragraph to runs: stretches of text in one font at one size, with missing glyphs filled in."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

from lexigon.core.document.cascade import Cascade, TypeSetting
from lexigon.core.document.model import OBJECT, Anchor, Paragraph, Span
from lexigon.core.type.fonts import FontLibrary
from lexigon.core.type.shaping import PLAIN, POSITIONS, Cut, cut_for, features_of

REDUCED = 0.75
"""Size of reduced capitals; ``RAISED`` size and shift of superiors that a font does not have, in parts of the type size
(common practice, no source)."""
RAISED = (0.6, 0.34)
LOWERED = (0.6, -0.15)


@dataclass(slots=True, frozen=True)
class Look:
    """The formatting of a run: the resolved values, and the font face that shapes it.

    ``size`` is the type's height in points, ``squeeze`` its width beyond that; ``scale`` are points per font unit along
    the line; ``rise`` lifts it over the baseline.
    """

    spec: TypeSetting
    cut: Cut
    scale: float
    tracking: float
    size: float
    squeeze: float
    rise: float

    @property
    def space(self) -> float:
        """Width in points of a space beside which nothing kerns."""
        return self.cut.space * self.scale + self.tracking

    def space_after(self, before: str, after: str) -> float:
        """Width in points of a space between two characters."""
        return self.cut.space_after(before, after) * self.scale + self.tracking

    def width(self, text: str) -> float:
        """Width in points of a word, with tracking after each character: a letter with its accents, or a requested
        ligature, counts as one."""
        width = self.cut.width(text) * self.scale
        return width + self.tracking * self.cut.clusters(text) if self.tracking else width


@dataclass(slots=True, frozen=True)
class Run:
    start: int
    end: int
    look: Look
    field: bool = False
    """Whether it shows an anchored object."""
    box: Boxed | None = None
    """Whether it is a frame anchored in the line, on the baseline."""


@dataclass(slots=True, frozen=True)
class Boxed(Anchor):
    """A frame in a line, with its size in points: what the object of a span is in a paragraph that is shown."""

    width: float = 0.0
    height: float = 0.0


@lru_cache(2048)
def look_for(library: FontLibrary, spec: TypeSetting, substitute: str = "", reduced: bool = False) -> Look:
    """The formatting of a setting; ``substitute`` is the PostScript name of a face to use instead of its own."""
    if substitute:
        face = next(f for f in library.faces if f.postscript_name == substitute)
    else:
        face = library.face(spec.family, spec.weight, spec.italic)
    size, rise = spec.size * spec.scale_y, spec.shift
    if reduced:
        size *= REDUCED
    if spec.position != "normal" and POSITIONS[spec.position] not in face.features:
        factor, lift = RAISED if spec.position == "superior" else LOWERED
        rise += lift * size
        size *= factor
    squeeze = spec.scale_x / spec.scale_y
    cut = cut_for(face, features_of(spec, face.features), spec.language or PLAIN)
    return Look(spec, cut, size * squeeze / face.upem, spec.tracking * spec.size / 1000, size, squeeze, rise)


def looks_of(cascade: Cascade, library: FontLibrary, paragraph: Paragraph) -> Look:
    """Return what the paragraph's own type is, apart from its spans; its metrics rule the first line."""
    return look_for(library, cascade.type_of(paragraph))


def transformed(text: str, caps: str) -> str:
    """The characters as they are set, offsets unchanged: in another case where asked."""
    if caps == "upper":
        if len(upper := text.upper()) == len(text):
            return upper
        return "".join(u if len(u := c.upper()) == 1 else c for c in text)
    if caps == "lower":
        return "".join(u if len(u := c.lower()) == 1 else c for c in text)
    if caps == "title":
        characters, before = [], " "
        for c in text:
            upper = c.upper()
            characters.append(upper if not before.isalnum() and before not in "'’" and len(upper) == 1 else c)
            before = c
        return "".join(characters)
    return text


def runs_of(cascade: Cascade, library: FontLibrary, paragraph: Paragraph) -> tuple[str, list[Run]]:
    """The paragraph's text as it is set, and its runs in order. Neighbouring runs differ."""
    text = paragraph.text
    runs: list[Run] = []
    shown_text: list[str] = []
    for start, end, span in _pieces(paragraph):
        look = look_for(library, cascade.type_of(paragraph, span))
        if span and isinstance(span.object, Boxed):
            runs.append(Run(start, end, look, box=span.object))
            shown_text.append(text[start:end])
            continue
        field = bool(span and span.object)
        piece = transformed(text[start:end], look.spec.caps)
        if look.spec.caps == "reduced":
            piece = _reduce(library, look, piece, start, runs, field)
        else:
            _split(library, look, piece, start, runs, field)
        shown_text.append(piece)
    return "".join(shown_text), runs


def _pieces(paragraph: Paragraph) -> Iterator[tuple[int, int, Span | None]]:
    """A paragraph's spans and what stands between them, none of it empty."""
    at = 0
    for span in paragraph.spans:
        if at < span.start:
            yield at, span.start, None
        if span.start < span.end:
            yield span.start, span.end, span
        at = span.end
    if at < len(paragraph.text):
        yield at, len(paragraph.text), None


def _reduce(library: FontLibrary, look: Look, text: str, offset: int, runs: list[Run], field: bool) -> str:
    """Append runs for ``text`` with its small letters as smaller capitals; returns what is set."""
    small = look_for(library, look.spec, reduced=True)
    reduced, start = "", 0
    while start < len(text):
        lower = text[start].islower()
        end = start + 1
        while end < len(text) and text[end].islower() == lower:
            end += 1
        piece = transformed(text[start:end], "upper") if lower else text[start:end]
        _split(library, small if lower else look, piece, offset + start, runs, field)
        reduced += piece
        start = end
    return reduced


def _split(library: FontLibrary, look: Look, text: str, offset: int, runs: list[Run], field: bool) -> None:
    """Append runs for ``text``, with another face for the characters that this one lacks."""
    face = look.cut.face
    missing: set[str] = set() if face.has_all(text) else face.lacks(set(text) - {OBJECT})
    if not missing:
        runs.append(Run(offset, offset + len(text), look, field))
        return
    start, current = 0, look
    for index, character in enumerate(text):
        run_look = look
        if character in missing:
            other = library.covering(character, look.spec.italic)
            if other:
                small = look.size < look.spec.size * look.spec.scale_y
                run_look = look_for(library, look.spec, other.postscript_name, small)
        if run_look is not current:
            if index > start:
                runs.append(Run(offset + start, offset + index, current, field))
            start, current = index, run_look
    runs.append(Run(offset + start, offset + len(text), current, field))
