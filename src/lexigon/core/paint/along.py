"""Words along an outline: each glyph upright on the line where its middle stands, as far apart as in a straight
line."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from math import cos, sin

from lexigon.core.colour.palette import Palette
from lexigon.core.document.model import Text
from lexigon.core.geometry import Affine
from lexigon.core.paint.items import Glyphs, Group, Item
from lexigon.core.path.running import Run
from lexigon.core.type.line import LineRun, Part


def along(runs: Iterable[LineRun], left: float, text: Text, run: Run, palette: Palette) -> list[Item]:
    """The items of a straight line's runs that began at ``left``, set along an outline. What would stand beyond the end
    of a line that is open is left out."""
    items: list[Item] = []
    begin = text.along_from * run.length
    for one in runs:
        look = one.look
        colour = palette.colour(look.spec.swatch, look.spec.tint)
        for cluster in _clusters(one):
            way = begin + cluster.x - left + cluster.width / 2
            if cluster.space or (not run.closed and not 0 <= way <= run.length + 1e-6):
                continue
            (x, y), angle = run.at(way)
            c, s = cos(angle), sin(angle)
            part = Part(cluster.text, cluster.width, False)
            letter = replace(
                one,
                x=-cluster.width / 2,
                width=cluster.width,
                text=cluster.text,
                parts=(part,),
                hyphen=False,
                letters=0.0,
            )
            items.append(Group((Glyphs(letter, _below(one, text), colour),), Affine(c, s, -s, c, x, y)))
    return items


Stop = tuple[int, float, float, float]
"""A place for a caret: the offset in the paragraph, the point on the outline, the direction there in radians, clockwise
from the right."""


def stops(runs: Iterable[LineRun], left: float, text: Text, run: Run, start: int) -> tuple[list[Stop], float]:
    """The places between the characters of words along an outline, from ``start`` on, and how far below the outline
    they are set."""
    begin = text.along_from * run.length
    offsets: list[tuple[int, float]] = []
    down = 0.0
    for one in runs:
        down = down or _below(one, text)
        for cluster in _clusters(one):
            offsets += [(cluster.start, cluster.x - left), (cluster.end, cluster.x - left + cluster.width)]
    positions = dict(offsets) or {start: 0.0}
    stops = []
    for offset, way in positions.items():
        (x, y), angle = run.at(begin + way)
        stops.append((offset, x, y, angle))
    return stops, down


def _below(run: LineRun, text: Text) -> float:
    """Return the distance of a run's baseline below the outline."""
    face, scale = run.look.cut.face, run.look.scale
    return {"above": 0.0, "middle": face.x_height * scale / 2, "below": face.cap_height * scale}.get(text.along, 0.0)


@dataclass(slots=True, frozen=True)
class _Cluster:
    """A letter, or what a font makes one of; or a space."""

    start: int
    end: int
    x: float
    width: float
    text: str
    space: bool


def _clusters(run: LineRun) -> Iterator[_Cluster]:
    """A run in clusters, by their positions in the straight line. An anchor counts as one character."""
    if run.box is not None:
        return
    look = run.look
    across = look.scale * run.glyphs
    x, at = run.x, run.start
    for part in run.parts:
        if part.space:
            yield _Cluster(at, at + len(part.text), x, part.advance, part.text, True)
        else:
            word = look.cut.word(part.text)
            begin, number = x, 0
            while number < len(word.glyphs):
                first, wide = word.clusters[number], 0.0
                while number < len(word.glyphs) and word.clusters[number] == first:
                    wide += word.advances[number] * across
                    number += 1
                last = word.clusters[number] if number < len(word.glyphs) else len(part.text)
                wide += look.tracking * run.glyphs + run.letters
                ends = (run.start, run.end) if run.field else (at + first, at + last)
                yield _Cluster(*ends, begin, wide, part.text[first:last], False)
                begin += wide
        at += len(part.text)
        x += part.advance
