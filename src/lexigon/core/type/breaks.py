"""The legal breakpoints of a stretch of text, with the sums that line breaking needs.

Break opportunities come from ICU (Unicode Standard Annex 14) and from hyphenation.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from itertools import accumulate

from icu4py.breakers import CharacterBreaker, LineBreaker

from lexigon.core.document.cascade import Setting
from lexigon.core.type.linebreak import Breakpoints, Row
from lexigon.core.type.optical import left_hang, right_hang
from lexigon.core.type.runs import Look, Run
from lexigon.core.type.words import DASH_PENALTY, Measured, measured, word_table

STRETCH, SHRINK = 1 / 2, 1 / 3
"""How far a word space may open and close, as parts of itself (Knuth & Plass 1981, section 1)."""

_ODD = re.compile("[^ -~\u00a0-\u024f\u2002‘’“”–—…]").search
_UNSURE = re.compile(
    r" (?:(?=[)\]}!?/.,;:”’»›…])|(?<=[(\[{“‘«‹¡¿] )|(?<=— )(?=—)|(?<=[\"'‘’“”«»] )(?=[(\[{]))"
).finditer
"""Pairs about a space at which a line may not end (UAX 14, LB13 to LB17); in plain text it may at any other."""
NOTHING: frozenset[int] = frozenset()


def no_break_offsets(segment: str, language: str) -> set[int] | frozenset[int]:
    """Offsets after spaces at which no line may end, by UAX 14. Breaks within words belong to the words."""
    if _ODD(segment) or "  " in segment:
        legal = _legal(segment, language)
        return {at for at, c in enumerate(segment, 1) if c == " " and at not in legal}
    # The decision depends on the surroundings of the space: two words are as good as the paragraph.
    offsets: set[int] | frozenset[int] = NOTHING
    for match in _UNSURE(segment):
        at = match.start()
        first, last = segment.rfind(" ", 0, at) + 1, segment.find(" ", at + 1)
        if at + 1 - first not in _legal(segment[first : last if last >= 0 else None], language):
            offsets |= {at + 1}
    return offsets


def _legal(segment: str, language: str) -> set[int]:
    return set(accumulate(map(len, LineBreaker(segment, language or "en"))))


def _between(segment: str, at: int, language: str) -> bool:
    """Return whether a line may end at a place within a word, judged from space to space. It may not between letters
    and figures of plain text, before a figure after a full stop or a comma, or after a no-break space (UAX 14, LB12,
    LB13, LB23, LB25, LB28)."""
    before, behind = segment[at - 1], segment[at]
    if before == "\u00a0":
        return False
    if (
        before < "\u0250"
        and behind < "\u0250"
        and behind.isalnum()
        and (before.isalnum() or (before in ".," and behind.isdigit()))
    ):
        return False
    first, last = segment.rfind(" ", 0, at) + 1, segment.find(" ", at)
    return at - first in _legal(segment[first : last if last >= 0 else None], language)


def breakpoints(
    text: str, runs: list[Run], start: int, end: int, setting: Setting, anywhere: float = 0.0
) -> Breakpoints:
    """The legal breakpoints of ``text[start:end]`` (a paragraph, or its part up to a forced break).

    ``anywhere`` > 0 also allows a break at every character of words wider than that measure.
    """
    # One long loop for speed: it runs once a word, and each call within it would be felt in a book.
    rows: list[Row] = []
    add = rows.append
    segment = text[start:end]
    runs = [run for run in runs if run.end > start and run.start < end]
    language = runs[0].look.spec.language
    no_end = no_break_offsets(segment, language)
    # Natural width, stretch and shrink so far, and as they were before the present white space.
    x = stretch = shrink = 0.0
    ink_x = ink_stretch = ink_shrink = 0.0
    ink_end = start
    in_space = True
    for run in runs:
        first, last = max(run.start, start), min(run.end, end)
        look = run.look
        whole = look.spec.no_break
        table = word_table(look, setting)
        space = look.space
        more, less = space * STRETCH, space * SHRINK
        kerns = look.cut.space_kerns
        piece = text[first:last]
        if not in_space and first > start and piece[0] not in " \u00a0" and _between(segment, first - start, language):
            # A break between two runs without a space, such as after a dash in italics.
            flagged = text[first - 1] in "-‐"
            add((x, stretch, shrink, x, stretch, shrink, DASH_PENALTY, flagged, first, first, False))
        if run.box is not None:
            x += run.box.width
            in_space = False
            continue
        spaced = piece[0] == " "
        if not (no_end or kerns or whole or anywhere or "  " in piece or piece == " " or (in_space and spaced)):
            if spaced:  # the space before its first word
                ink_x, ink_stretch, ink_shrink = x, stretch, shrink
                x, stretch, shrink = x + space, stretch + more, shrink + less
                add((ink_x, ink_stretch, ink_shrink, x, stretch, shrink, 0.0, False, first, first + 1, False))
            begin, in_space = first + spaced, piece[-1] == " "
            stop = last - in_space
            ink_x, ink_stretch, ink_shrink = x, stretch, shrink = _plain(
                add, text[begin:stop], begin, (x, stretch, shrink), (space, more, less), table, look, setting
            )
            if in_space:
                ink_end, x, stretch, shrink = stop, x + space, stretch + more, shrink + less
            if not in_space or last == end:
                rows.pop()  # there is no space after its last word, or nothing after that
            continue
        at = first - 1
        for token in piece.split(" "):
            if at >= first:  # the space before this word
                if kerns:
                    before = text[at - 1] if at > first else ""
                    after = text[at + 1] if at + 1 < last else ""
                    space = look.space_after(before, after)
                    more, less = space * STRETCH, space * SHRINK
                if not in_space:
                    ink_x, ink_stretch, ink_shrink, ink_end = x, stretch, shrink, at
                    in_space = True
                x += space
                stretch += more
                shrink += less
                if ink_end > start and at + 1 < end and at + 1 - start not in no_end and not whole:
                    add((ink_x, ink_stretch, ink_shrink, x, stretch, shrink, 0.0, False, ink_end, at + 1, False))
            at += 1
            if not token:
                continue
            in_space = False
            cached = table.get(token)
            if cached is None:
                cached = table[token] = measured(token, look, setting)
            total, glued, inner = cached
            for k, reach, rest, gaps, hyphen, penalty, flagged in inner if not whole else ():
                y, z = stretch + gaps * more, shrink + gaps * less
                add((x + reach, y, z, x + total - rest, y, z, penalty, flagged, at + k, at + k, hyphen))
            if anywhere and total > anywhere and not whole:
                _break_anywhere(rows, token, at, x, stretch, shrink, look)
            x += total
            stretch += glued * more
            shrink += glued * less
            at += len(token)
    if in_space and ink_end > start:
        x, stretch, shrink = ink_x, ink_stretch, ink_shrink
    else:
        ink_end = end
    if not setting.hyphen_last:
        word = text.rfind(" ", start, ink_end)
        while rows and rows[-1][8] > word and rows[-1][10]:
            rows.pop()
    add((x, stretch, shrink, x, stretch, shrink, 0.0, False, ink_end, end, False))
    points = Breakpoints.of(rows)
    if setting.optical:
        _hang(points, text, runs)
    return points


def _plain(
    add: Callable[[Row], None],
    piece: str,
    at: int,
    sums: tuple[float, float, float],
    space: tuple[float, float, float],
    table: dict[str, Measured],
    look: Look,
    setting: Setting,
) -> tuple[float, float, float]:
    """Handle the form of nearly every paragraph, words with single breakable spaces between them: the same sums without
    any checks, in half the time. Adds a break after each word, the last included; returns the sums after it."""
    x, y, z = ink, ink_y, ink_z = sums
    wide, more, less = space
    for token in piece.split(" "):
        total, glued, inner = table.get(token) or table.setdefault(token, measured(token, look, setting))
        for k, reach, rest, gaps, hyphen, penalty, flagged in inner:
            u, v = y + gaps * more, z + gaps * less
            add((x + reach, u, v, x + total - rest, u, v, penalty, flagged, at + k, at + k, hyphen))
        at += len(token)
        ink, ink_y, ink_z = x + total, y + glued * more, z + glued * less
        x, y, z = ink + wide, ink_y + more, ink_z + less
        add((ink, ink_y, ink_z, x, y, z, 0.0, False, at, at + 1, False))
        at += 1
    return ink, ink_y, ink_z


def _break_anywhere(rows: list[Row], token: str, at: int, x: float, stretch: float, shrink: float, look: Look) -> None:
    """Breaks between the characters of a word that fits no line (UAX 29 clusters), instead of its own."""
    while rows and rows[-1][8] > at:
        rows.pop()
    k = 0
    for cluster in list(CharacterBreaker(token, "en"))[:-1]:
        k += len(cluster)
        x += look.width(cluster)
        rows.append((x, stretch, shrink, x, stretch, shrink, 500.0, False, at + k, at + k, False))


def _hang(points: Breakpoints, text: str, runs: list[Run]) -> None:
    """Optical margins: a line is as much shorter as its first and last characters hang into the margins."""
    ends, begins = list(points.w), list(points.a)
    number = 0
    for j, (end, after) in enumerate(zip(points.end, points.next, strict=True)):
        while number + 1 < len(runs) and runs[number].end < end:
            number += 1
        ends[j] -= right_hang(runs[number].look, "-" if points.hyphen[j] else text[end - 1 : end])
        following = number
        while following + 1 < len(runs) and runs[following].end <= after:
            following += 1
        begins[j] += left_hang(runs[following].look, text[after : after + 1])
    points.w, points.a = ends, begins


def stiffened(points: Breakpoints) -> Breakpoints:
    """Return the breaks for ragged setting: word spaces keep their width, and the end of the line stretches."""
    zeros = [0.0] * len(points.w)
    points.y, points.z, points.ya, points.za = zeros, zeros, zeros, zeros
    return points


def fitted(points: Breakpoints, letters: float, glyphs: float, tolerance: float, start: int) -> Breakpoints:
    """The same breakpoints where letters too may give: each by ``letters`` points, each width by the part ``glyphs``.

    They are spent in full at ratio -1 and at ``tolerance``.
    """
    end = [letters * (at - start) + glyphs * w for at, w in zip(points.end, points.w, strict=True)]
    begin = [letters * (at - start) + glyphs * a for at, a in zip(points.next, points.a, strict=True)]
    return Breakpoints(
        points.w,
        [y + more / tolerance for y, more in zip(points.y, end, strict=True)],
        [z + more for z, more in zip(points.z, end, strict=True)],
        points.a,
        [y + more / tolerance for y, more in zip(points.ya, begin, strict=True)],
        [z + more for z, more in zip(points.za, begin, strict=True)],
        points.penalty,
        points.flagged,
        points.end,
        points.next,
        points.hyphen,
    )
