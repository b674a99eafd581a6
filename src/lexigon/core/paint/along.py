"""Words along an outline: each glyph upright on the line where its middle stands, as far apart as in a straight line."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace
from math import cos, sin

from lexigon.core.colour.palette import Palette
from lexigon.core.geometry import Affine
from lexigon.core.job.model import Text
from lexigon.core.paint.items import Glyphs, Group, Item
from lexigon.core.path.running import Run
from lexigon.core.type.line import LineRun, Part


def along(runs: Iterable[LineRun], left: float, text: Text, run: Run, palette: Palette) -> list[Item]:
    """The items of a straight line's runs that began at ``left``, set along an outline. What would stand beyond the end of a line that
    is open is left out."""
    made: list[Item] = []
    begin = text.along_from * run.length
    for one in runs:
        if one.box is not None:
            continue
        look = one.look
        colour = palette.colour(look.spec.swatch, look.spec.tint)
        face = look.cut.face
        down = {"above": 0.0, "middle": face.x_height * look.scale / 2, "below": face.cap_height * look.scale}.get(
            text.along, 0.0
        )
        for letter in _letters(one):
            way = begin + letter.x - left + letter.width / 2
            if not run.closed and not 0 <= way <= run.length + 1e-6:
                continue
            (x, y), angle = run.at(way)
            c, s = cos(angle), sin(angle)
            made.append(Group((Glyphs(replace(letter, x=-letter.width / 2), down, colour),), Affine(c, s, -s, c, x, y)))
    return made


def _letters(run: LineRun) -> Iterator[LineRun]:
    """A run in its clusters (a letter, or what a font makes one of), each a run by itself where it stood."""
    look = run.look
    across = look.scale * run.glyphs
    x = run.x
    for part in run.parts:
        if not part.space:
            word = look.cut.word(part.text)
            at, number = x, 0
            while number < len(word.glyphs):
                cluster, wide = word.clusters[number], 0.0
                while number < len(word.glyphs) and word.clusters[number] == cluster:
                    wide += word.advances[number] * across
                    number += 1
                end = word.clusters[number] if number < len(word.glyphs) else len(part.text)
                wide += look.tracking * run.glyphs + run.letters
                text = part.text[cluster:end]
                yield replace(
                    run, x=at, width=wide, text=text, parts=(Part(text, wide, False),), hyphen=False, letters=0.0
                )
                at += wide
        x += part.advance
