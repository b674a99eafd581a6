"""Large initials: the first characters of a paragraph, as high as several of its lines.

The initial's capitals reach from the baseline of the last of those lines up to the height of the first one's
capitals, exactly: its size follows from the lines' distance and both cap heights.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from lexigon.core.document.cascade import Cascade, Setting
from lexigon.core.document.model import Paragraph, Span, TypeSpec
from lexigon.core.document.story_text import LINE_BREAK
from lexigon.core.geometry import touched
from lexigon.core.type.fonts import FontLibrary
from lexigon.core.type.glyphs import contours
from lexigon.core.type.paragraph import Measure
from lexigon.core.type.runs import Look, look_for, transformed


@dataclass(slots=True, frozen=True)
class Initial:
    """``text`` is set large, ``end`` is the text offset after it; ``rooms`` the indent of each line beside it."""

    text: str
    end: int
    look: Look
    width: float
    rooms: tuple[float, ...]
    drop: float
    """From the first line's baseline down to the initial's."""


def initial_of(
    cascade: Cascade, library: FontLibrary, paragraph: Paragraph, setting: Setting, cap_height: float
) -> Initial | None:
    """The initial of a paragraph, None where it has no text. ``cap_height`` is its own type's, in points."""
    stop = paragraph.text.find(LINE_BREAK)
    whole = paragraph.text if stop < 0 else paragraph.text[:stop]
    end = min(max(setting.drop_chars, 1), len(whole))
    if not end:
        return None
    own = next((span for span in paragraph.spans if span.start == 0), None)
    style = setting.drop_style or (own.style if own else None)
    face = cascade.type_of(paragraph, Span(0, end, style, own.type if own else TypeSpec()))
    spec = replace(face, scale_x=1.0, scale_y=1.0, shift=0.0, tracking=0.0, position="normal", size=100.0)
    probe = look_for(library, spec)
    if missing := probe.cut.face.lacks(set(whole[:end])):
        covering_face = library.covering(sorted(missing)[0], spec.italic)
        if covering_face is not None:
            probe = look_for(library, spec, covering_face.postscript_name)
    lines = setting.drop_lines
    drop = (lines - 1) * setting.leading
    per_size = probe.cut.face.cap_height / probe.cut.face.upem
    size = round((drop + cap_height) / per_size, 4)
    substitute = probe.cut.face.postscript_name if probe.cut.face.family != library.face(spec.family).family else ""
    look = look_for(library, replace(spec, size=size), substitute)
    text = transformed(whole[:end], look.spec.caps)
    width = look.width(text)
    gap = setting.drop_gap
    rooms = (width + gap,) * lines
    if setting.drop_shape:
        rooms = tuple(max(_reach(look, text, drop - n * setting.leading, cap_height), 0.0) + gap for n in range(lines))
    return Initial(text, end, look, width, rooms, drop)


def _reach(look: Look, text: str, above: float, cap_height: float) -> float:
    """Return how far the glyphs reach to the right beside a line ``above`` points over their baseline."""
    right, x = 0.0, 0.0
    word = look.cut.word(text)
    for glyph, advance in zip(word.glyphs, word.advances, strict=True):
        for contour in contours(look.cut.face, glyph):
            polygon = tuple((px * look.scale + x, -py * look.scale) for px, py in contour)
            for _, end in touched(polygon, -above - cap_height, -above) if len(polygon) > 2 else ():
                right = max(right, end)
        x += advance * look.scale
    return right


def narrowed(initial: Initial, measure: Measure, setting: Setting) -> Measure:
    """The measure of the lines beside and under the initial."""
    boxes = measure if isinstance(measure, tuple) else ((0.0, measure),)
    beside = []
    for number, room in enumerate(initial.rooms):
        left, width = boxes[min(number, len(boxes) - 1)]
        beside.append((left + room, max(width - room, 1.0)))
    return (*beside, *(boxes[len(beside) :] or boxes[-1:]))
