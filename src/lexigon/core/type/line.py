"""Where the words of a set line stand. The board's SVG and the press's PDF are both made from this."""

from __future__ import annotations

from dataclasses import dataclass

from lexigon.core.job.cascade import Setting
from lexigon.core.type.paragraph import TOKENS, SetLine
from lexigon.core.type.runs import Look, Run


@dataclass(slots=True, frozen=True)
class Part:
    """A word as it is shaped, or one space; ``advance`` in points, kerning, tracking and opening included."""

    text: str
    advance: float
    space: bool


@dataclass(slots=True, frozen=True)
class LineRun:
    """One run of a line: its look, where it starts, its text, the room added to each space, its parts."""

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
    """It shows something kept elsewhere: one character of the paragraph, however long."""


def place_line(
    text: str, runs: list[Run], line: SetLine, setting: Setting, left: float, measure: float
) -> list[LineRun]:
    """The runs of ``line`` between ``left`` and ``left + measure``, in points.

    A justified line's spaces are opened or closed by exactly what its words leave of the measure, in
    proportion to their own width; so the last glyph ends at the measure whatever rounding came before.
    """
    pieces: list[tuple[Run, int, int, list[Part], float, float, bool]] = []
    natural = spaces = 0.0
    for run in runs:
        start, end = max(run.start, line.start), min(run.end, line.end)
        if start >= end:
            continue
        hyphen = line.hyphen and end == line.end
        parts, width, room = _shape(run.look, text[start:end] + ("-" if hyphen else ""))
        pieces.append((run, start, end, parts, width, room, hyphen))
        natural += width
        spaces += room
    left += setting.indent_left + line.indent
    measure -= setting.indent_left + setting.indent_right + line.indent
    opening = 0.0
    if line.stretches and spaces > 0:
        opening = (measure - natural) / spaces
    elif setting.align == "right":
        left += measure - natural
    elif setting.align == "centre" or (setting.align == "justified" and setting.last_line == "centre"):
        left += (measure - natural) / 2
    placed = []
    for run, start, end, parts, width, room, hyphen in pieces:
        extra = opening * run.look.cut.space * run.look.scale if opening else 0.0
        if extra:
            parts = [Part(p.text, p.advance + extra, True) if p.space else p for p in parts]
            width += opening * room
        shown = "".join(part.text for part in parts)
        placed.append(LineRun(run.look, left, width, start, end, shown, extra, tuple(parts), hyphen, run.field))
        left += width
    return placed


def _shape(look: Look, piece: str) -> tuple[list[Part], float, float]:
    """The words and spaces of a run, their width, and the sum of their natural space widths."""
    parts: list[Part] = []
    width = room = 0.0
    own, plain = look.cut.space * look.scale, look.space
    kerns = look.cut.space_kerns
    at = 0
    for token in TOKENS.findall(piece):
        if token == " " or token == "\u00a0":
            advance = plain
            if kerns and token == " ":
                before = piece[at - 1] if at else ""
                after = piece[at + 1] if at + 1 < len(piece) else ""
                advance = look.space_after(before, after)
            parts.append(Part(token, advance, True))
            room += own
        else:
            advance = look.width(token)
            parts.append(Part(token, advance, False))
        width += advance
        at += len(token)
    return parts, width, room
