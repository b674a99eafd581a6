"""Codes in their frames: modules or bars, and the text beside them as outlines, which need no font."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import chain
from math import floor

from lexigon.core.codes.bars import laid_out, symbol_of
from lexigon.core.codes.modules import CodeError, modules_of
from lexigon.core.codes.outlines import module_size, outlines_in
from lexigon.core.colour.palette import Palette
from lexigon.core.document.model import Code
from lexigon.core.geometry import Rect, polygon_of
from lexigon.core.paint.items import Item, Path
from lexigon.core.path.shapes import polygon_path
from lexigon.core.path.steps import Step
from lexigon.core.type.fonts import shipped
from lexigon.core.type.glyphs import glyph_path
from lexigon.core.type.shaping import cut_for

FAMILY = "Source Sans 3"
"""Its figures are plain, and all equally wide."""


@dataclass(slots=True, frozen=True)
class Fitted:
    """A code fitted to its frame, in points: ``module`` is one of a matrix, or the narrowest bar; ``quiet`` the least
    room left free beside it."""

    box: Rect
    module: float
    quiet: float


def fitted(code: Code, rect: Rect) -> Fitted:
    """A code in the middle of a box. Raises CodeError where it cannot be made."""
    if code.symbology.message:
        modules = modules_of(code.form, code.text, code.level)
        size = _whole(module_size(modules, rect), code.dots)
        side = size * modules.across
        square = Rect(rect.x + (rect.width - side) / 2, rect.y + (rect.height - side) / 2, side, side)
        return Fitted(square if code.dots else rect, size, size * modules.quiet)
    symbol = symbol_of(code.form, code.text, code.addon, code.words, code.above)
    size = _whole(rect.width / symbol.across, code.dots)
    wide = size * symbol.across
    box = Rect(rect.x + (rect.width - wide) / 2, rect.y, wide, rect.height) if code.dots else rect
    narrow = 2 if code.form == "itf 14" else 1
    last = symbol.bars[-1]
    return Fitted(box, narrow * size, size * min(symbol.bars[0].x, symbol.across - last.x - last.width))


def _whole(size: float, dots: int) -> float:
    """A size as a whole number of dots, so that a press gives no bar a dot more than another."""
    if not dots:
        return size
    count = floor(size * dots / 72 + 1e-6)
    if count < 1:
        raise CodeError("The frame is too small: a module would be smaller than a device dot.")
    return count * 72 / dots


def code_paths(code: Code, rect: Rect, palette: Palette) -> list[Item]:
    """A code in a box. Raises CodeError where it cannot be made."""
    fill, box = palette.fill(code.ink, rect), fitted(code, rect).box
    if code.symbology.message:
        loops = outlines_in(modules_of(code.form, code.text, code.level), box)
        return [Path(tuple(chain.from_iterable(map(polygon_path, loops))), fill, even_odd=True)]
    bars, words = laid_out(symbol_of(code.form, code.text, code.addon, code.words, code.above), box)
    if not bars:
        raise CodeError("The frame is not high enough for the bars of the code.")
    items: list[Item] = [Path(tuple(step for bar in bars for step in polygon_path(polygon_of(bar))), fill)]
    steps = tuple(step for text, box in words for step in _words(text, box))
    return [*items, Path(steps, fill)] if steps else items


def _words(text: str, box: Rect) -> list[Step]:
    """Words in the middle of a box, their capitals as high as that; smaller where they are too wide."""
    face = shipped().face(FAMILY)
    word = cut_for(face, (("tnum", 1), ("lnum", 1))).word(text)
    width = sum(word.advances)
    scale = min(box.height / face.cap_height, box.width / max(width, 1))
    x, y = box.x + (box.width - width * scale) / 2, box.foot - (box.height - face.cap_height * scale) / 2
    steps: list[Step] = []
    for glyph, advance in zip(word.glyphs, word.advances, strict=True):
        for step, points in glyph_path(face, glyph):
            steps.append((step, tuple((x + px * scale, y - py * scale) for px, py in points)))
        x += advance * scale
    return steps
