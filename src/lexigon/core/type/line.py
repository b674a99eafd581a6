"""Positions of the words of a composed line. The board's SVG and the press's PDF are both made from them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache
from math import ceil
from operator import itemgetter
from typing import NamedTuple

from lexigon.core.document.cascade import Setting
from lexigon.core.type.optical import left_hang, right_hang
from lexigon.core.type.paragraph import TOKENS
from lexigon.core.type.runs import Boxed, Look, Run
from lexigon.core.type.set_line import SetLine
from lexigon.core.type.tabs import next_stop
from lexigon.core.type.words import MOST_TABLES, MOST_WORDS


class Part(NamedTuple):
    """A word as it is shaped, or one space; ``advance`` in points, kerning, tracking and opening included."""

    text: str
    advance: float
    space: bool


_advance = itemgetter(1)
SPACES = (" ", "\u00a0")


@dataclass(slots=True)
class LineRun:
    """One run of a line: its formatting, where it starts, its text, the room added to each space, its parts.

    Treat it as immutable; it is not frozen because that takes three times as long to create, and a book has ten
    thousand.
    """

    look: Look
    x: float
    width: float
    start: int
    end: int
    text: str
    word_space: float
    parts: tuple[Part, ...]
    hyphen: bool
    """``text`` ends in a hyphen that the paragraph does not have."""
    field: bool = False
    """Whether it shows an anchored object: one character of the paragraph, however long."""
    letters: float = 0.0
    """Space added after each character, in points; ``glyphs`` is the factor of the characters' width."""
    glyphs: float = 1.0
    leader: bool = False
    """It fills a tab and is no text of the paragraph."""
    gaps: tuple[tuple[int, int], ...] = ()
    """Where in ``text`` characters of the paragraph stand that show nothing (marks of an index, what is hidden), and
    how many each time."""
    box: Boxed | None = None
    """Whether it is an anchored frame, whose bottom left corner is at ``x`` on the baseline."""


@dataclass(slots=True)
class _Piece:
    """A stretch of one run between tabs, or a tab."""

    run: Run
    start: int
    end: int
    text: str
    """What is set: its characters of the paragraph, and the hyphen that is added."""
    parts: list[Part]
    width: float
    room: float
    """Sum of its natural spaces, which a justified line opens."""
    hyphen: bool = False
    tab: bool = False


def place_line(
    text: str, runs: list[Run], line: SetLine, setting: Setting, left: float, measure: float
) -> list[LineRun]:
    """The runs of ``line`` in a column from ``left`` to ``left + measure``, in points.

    A justified line's spaces are opened or closed by exactly what its words leave of the measure, in
    proportion to their own width; so the last glyph ends at the measure whatever rounding came before.
    """
    if line.measure:
        left, measure = left + line.left, line.measure
    pieces = _pieces(text, runs, line)
    left += setting.indent_left + line.indent
    measure -= setting.indent_left + setting.indent_right + line.indent
    if setting.optical and pieces:
        first, last = pieces[0], pieces[-1]
        hang = left_hang(first.run.look, text[line.start])
        left -= hang
        measure += hang
        if last.parts and last.parts[-1].text:
            measure += right_hang(last.run.look, last.parts[-1].text[-1])
    edge = left - line.indent
    natural = sum(piece.width for piece in pieces)
    # A tab fixes what is before it: only spaces after the last one stretch.
    last_tab = max((number for number, piece in enumerate(pieces) if piece.tab), default=-1)
    spaces = sum(piece.room for piece in pieces[last_tab + 1 :])
    opening = 0.0
    if line.stretches and spaces > 0:
        opening = (measure - natural) / spaces
    else:
        where = setting.last_line if setting.align == "justified" and not line.stretches else setting.align
        if where == "right":
            left += measure - natural
        elif where == "centre":
            left += (measure - natural) / 2
    runs_: list[LineRun] = []
    for number, piece in enumerate(pieces):
        look = piece.run.look
        if piece.tab:
            runs_ += _leader(piece, setting, left, edge, measure + line.indent)
            left += piece.width
            continue
        extra = opening * look.cut.space * look.scale if opening and number > last_tab else 0.0
        parts, width = piece.parts, piece.width
        if extra:
            parts = _opened(parts, extra)
            width += opening * piece.room
        run = LineRun(
            look,
            left,
            width,
            piece.start,
            piece.end,
            piece.text,
            extra,
            tuple(parts),
            piece.hyphen,
            piece.run.field,
            line.letters,
            line.glyphs,
            box=piece.run.box,
        )
        runs_.append(run)
        left += width
    if pieces and pieces[-1].tab:  # the caret is after a tab that ends a line
        last = pieces[-1]
        runs_.append(LineRun(last.run.look, left, 0.0, last.end, last.end, "", 0.0, (), False))
    return runs_


def _opened(parts: list[Part], extra: float) -> list[Part]:
    """Some parts, each space of them wider."""
    # Within one line they are equal, except where a font kerns with them.
    wider = {part: Part(part[0], part[1] + extra, True) for part in {part for part in parts if part[2]}}
    return [wider[part] if part[2] else part for part in parts]


def _pieces(text: str, runs: list[Run], line: SetLine) -> list[_Piece]:
    pieces: list[_Piece] = []
    tabs = iter(line.tabs)
    for run in runs:
        start, end = max(run.start, line.start), min(run.end, line.end)
        if run.box is not None and start < end:
            pieces.append(_Piece(run, start, end, "", [Part("", run.box.width, False)], run.box.width, 0.0))
            continue
        while start < end:
            stop = text.find("\t", start, end) if line.tabs else -1
            if stop == start:
                pieces.append(_Piece(run, start, start + 1, "", [], next(tabs, 0.0), 0.0, tab=True))
                start += 1
                continue
            stop = end if stop < 0 else stop
            hyphen = line.hyphen and stop == line.end
            piece_text = text[start:stop] + "-" if hyphen else text[start:stop]
            parts, width, room = _shape(run.look, piece_text, line)
            pieces.append(_Piece(run, start, stop, piece_text, parts, width, room, hyphen))
            start = stop
    return pieces


class _Parts(dict[str, Part]):
    """The words and spaces placed so far in one way."""

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look

    def __missing__(self, token: str) -> Part:
        space = token in SPACES
        part = self[token] = Part(token, self._look.space if space else self._look.width(token), space)
        return part


class _Way:
    """The setting of words regardless of colour: equal for all formatting with the same cut and size."""

    __slots__ = ("key", "look")

    def __init__(self, look: Look) -> None:
        self.look = look
        self.key = look.cut, look.scale, look.tracking

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Way) and self.key == other.key

    def __hash__(self) -> int:
        return hash(self.key)


@lru_cache(MOST_TABLES)
def _parts_of(way: _Way) -> _Parts:
    return _Parts(way.look)


def _part_table(look: Look) -> _Parts:
    table = _parts_of(_Way(look))
    if len(table) > MOST_WORDS:
        table.clear()
    return table


def forget_parts() -> None:
    """Forget the words and spaces placed so far."""
    _parts_of.cache_clear()


def _shape(look: Look, piece: str, line: SetLine) -> tuple[list[Part], float, float]:
    """The words and spaces of a run, their width, and the sum of their natural space widths."""
    own, plain = look.cut.space * look.scale, look.space
    kerns = look.cut.space_kerns
    fitted = line.letters != 0.0 or line.glyphs != 1.0
    if not kerns:
        parts = list(map(_part_table(look).__getitem__, TOKENS.findall(piece)))
        if fitted:
            letters, glyphs, clusters = line.letters, line.glyphs, look.cut.clusters
            parts = [Part(text, advance * glyphs + letters * clusters(text), space) for text, advance, space in parts]
        return parts, sum(map(_advance, parts)), own * sum(map(piece.count, SPACES))
    parts = []
    width = room = 0.0
    at = 0
    for token in TOKENS.findall(piece):
        space = token in SPACES
        if space:
            advance = plain
            if kerns and token == " ":
                before = piece[at - 1] if at else ""
                after = piece[at + 1] if at + 1 < len(piece) else ""
                advance = look.space_after(before, after)
            room += own
        else:
            advance = look.width(token)
        if fitted:
            advance = advance * line.glyphs + line.letters * look.cut.clusters(token)
        parts.append(Part(token, advance, space))
        width += advance
        at += len(token)
    return parts, width, room


def _leader(piece: _Piece, setting: Setting, x: float, edge: float, limit: float) -> list[LineRun]:
    """Return what fills a tab: its leader as often as it fits, aligned with the leaders of other lines. A word space
    stays clear between it and the words before and after (common practice, no source)."""
    stop = next_stop(setting, x - edge, limit)
    if stop is None or not stop[1].leader:
        return []
    look = replace(piece.run.look, tracking=0.0)
    unit = stop[1].leader
    step = sum(look.space if c == " " else look.width(c) for c in unit)
    if step <= 0:
        return []
    before, behind = (0.0 if c == " " else look.space for c in (unit[0], unit[-1]))
    first = ceil((x + before - edge) / step - 1e-6) * step + edge
    count = int((x + piece.width - behind - first) / step + 1e-6)
    if count < 1:
        return []
    parts = [Part(c, look.space if c == " " else look.width(c), c == " ") for _ in range(count) for c in unit]
    width = step * count
    text = unit * count
    return [LineRun(look, first, width, piece.start, piece.end, text, 0.0, tuple(parts), False, leader=True)]
