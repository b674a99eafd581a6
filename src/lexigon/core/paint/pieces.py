"""Runs of text as text elements for browsers, with the characters that each of them represents."""

from __future__ import annotations

from dataclasses import dataclass

from lexigon.core.type.line import LineRun


@dataclass(slots=True, frozen=True)
class Piece:
    """One text element: its position, its text, and the characters of the paragraph that it shows."""

    x: float
    text: str
    start: int
    """Where in the paragraph its text begins."""
    length: int | None = None
    """How many characters of the paragraph it shows, where its text says something else (a field, a leader)."""
    leader: bool = False
    hyphen: bool = False
    """Its text ends with a hyphen that the paragraph does not have."""
    wide: float = 1.0
    """How many times as wide as it measures it is drawn, from ``x`` on."""


def pieces(run: LineRun) -> list[Piece]:
    """The elements for a run.

    Browsers omit kerning with the space, which a few fonts have: after such a space the text begins again at its own x.
    Everywhere else a run is one piece.
    """
    cut = _cut(run)
    wide = run.look.squeeze * run.glyphs * screen_size(run.look.size)[1]
    if run.leader:
        return [Piece(x, text, run.end, 0, True, wide=wide) for x, _, text in cut]
    if run.field:  # the first element represents the field, the others represent nothing
        return [
            Piece(x, text, run.end if number else run.start, 0 if number else run.end - run.start, wide=wide)
            for number, (x, _, text) in enumerate(cut)
        ]
    last = len(cut) - 1
    return [
        Piece(x, text, start, None, False, run.hyphen and n == last, wide) for n, (x, start, text) in enumerate(cut)
    ]


def _cut(run: LineRun) -> list[tuple[float, int, str]]:
    """(x, text offset, text) of what is written as one element each."""
    plain = run.look.space * run.glyphs + run.letters + run.word_space
    has_space = run.look.cut.face.has_space  # without one the browser takes another font's, of another width
    pieces = []
    gaps = dict(run.gaps)
    x, start, text = run.x, run.start + gaps.pop(0, 0), ""
    at, offset = run.x, 0
    for part in run.parts:
        done = 0
        for number in range(len(part.text)) if gaps else ():
            if gap := gaps.pop(offset + number, 0):  # the rest is further on in the paragraph: a separate element
                text += part.text[done:number]
                pieces += [(x, start, text)] if text else []
                x, start, text, done = at + _width(run, part.text[:number]), start + len(text) + gap, "", number
        text += part.text[done:]
        offset += len(part.text)
        at += part.advance
        if part.space and (not has_space or abs(part.advance - plain) > 1e-3):
            pieces.append((x, start, text))
            x, start, text = at, start + len(text), ""
    if text or not pieces:
        pieces.append((x, start, text))
    return pieces


def _width(run: LineRun, text: str) -> float:
    """Return how wide the beginning of a word of a run is."""
    return run.look.width(text) * run.glyphs + len(text) * run.letters if text else 0.0


def screen_size(size: float) -> tuple[float, float]:
    """A size to draw type at, and the scale that makes it ``size``.

    Chromium on Linux rounds the sizes of type to 1/64 and then sets glyphs up to 0.3 % too narrow, save at quarters of
    a unit (measured: ``n`` a hundred times, 0.125 to 400; type below 6 a little too wide). So type is drawn at a size
    that is set exactly, and scaled."""
    if size >= 6 and (size * 4).is_integer():
        return size, 1.0
    size_ = float(max(round(size), 8))
    return size_, size / size_
