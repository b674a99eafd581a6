"""Setting one paragraph: its legal breakpoints, its lines, and where each line's glyphs stand.

Break opportunities come from ICU (Unicode Standard Annex 14) and from hyphenation. A divided word is
measured as it will be set, ``w[:k] + "-"`` and ``w[k:]``, because kerning and ligatures make prefix
sums wrong.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from itertools import accumulate

from icu4py.breakers import CharacterBreaker, LineBreaker

from lexigon.core.job.cascade import Setting
from lexigon.core.job.text import LINE_BREAK
from lexigon.core.type.hyphenation import hyphenator
from lexigon.core.type.linebreak import HYPHEN_PENALTY, Breakpoints, Row, first_fit, optimum_fit
from lexigon.core.type.runs import Look, Run

STRETCH, SHRINK = 1 / 2, 1 / 3
"""How far a word space may open and close, as parts of itself (Knuth & Plass 1981, section 1)."""

TOLERANCES = (2.0, 8.0)
DASH_PENALTY = 20.0
BEFORE_DASH_PENALTY = 300.0
RAG_EMS = 4.0
"""Stretch at the end of a ragged line, in ems of the type."""

LOOSE = 2.0
"""Lines whose spaces open further than this ratio are findings."""

TOKENS = re.compile("[ \u00a0]|[^ \u00a0]+")
_LETTERS = re.compile(r"[^\W\d_]+(?:['’][^\W\d_]+)*")

NBSP = "\u00a0"

_PLAIN = frozenset(map(chr, (*range(0x20, 0x7F), *range(0xA1, 0x250)))) | set("‘’“”–—…")
_OPENING, _CLOSING = "([{“‘«‹¡¿—–", ")]}!?/.,;:”’»›…—–"
_UNSURE = (
    *(f"{mark} " for mark in _OPENING),
    *(f" {mark}" for mark in _CLOSING),
    *(f"{quote} {bracket}" for quote in "\"'‘’“”«»" for bracket in "([{"),
)
"""Pairs about a space at which a line may not end (UAX 14, LB13 to LB17); in plain text without any it always may."""

Inner = tuple[int, float, float, int, bool, float, bool]
"""A break within a word: offset; how far the word reaches there and what of it is left, in points; no-break
spaces before it; hyphen added; penalty; flagged."""
Measured = tuple[float, int, tuple[Inner, ...]]
"""A word's width in points, tracking included, its no-break spaces, and its breaks."""


@dataclass(slots=True, frozen=True)
class SetLine:
    """A line: text ``start`` up to ``end`` in code points; the next one begins at ``next``.

    ``ratio`` is the adjustment of its spaces (Knuth & Plass): 0 natural, above 0 opened, below 0
    closed, below -1 longer than the measure. ``width`` is natural, in points.
    """

    start: int
    end: int
    next: int
    width: float
    ratio: float
    hyphen: bool
    stretches: bool
    """The line is justified: its spaces open and close until it fills the measure."""
    indent: float


_words: dict[tuple[Look, int, int, int], dict[str, Measured]] = {}


def _word_table(look: Look, setting: Setting) -> dict[str, Measured]:
    longest = setting.hyphen_word if setting.hyphenate else 0
    table = _words.setdefault((look, longest, setting.hyphen_before, setting.hyphen_after), {})
    if len(table) > 60_000:
        table.clear()
    return table


def _width(look: Look, text: str) -> float:
    """Width in points of a word; no-break spaces are as wide as spaces and kern with nothing."""
    if NBSP not in text:
        return look.width(text)
    parts = text.split(NBSP)
    return sum(map(look.width, parts)) + (len(parts) - 1) * look.space


def _measured(word: str, look: Look, setting: Setting) -> Measured:
    """A word with its breaks, the parts on either side measured as they will be set."""
    found: dict[int, Inner] = {}

    def add(k: int, hyphen: bool, penalty: float, flagged: bool) -> None:
        before = _width(look, word[:k] + "-" if hyphen else word[:k])
        found[k] = (k, before, _width(look, word[k:]), word.count(NBSP, 0, k), hyphen, penalty, flagged)

    if setting.hyphenate and len(word) >= setting.hyphen_word:
        patterns = hyphenator(look.spec.language)
        before = max(setting.hyphen_before, patterns.minimum[0])
        after = max(setting.hyphen_after, patterns.minimum[1])
        for match in _LETTERS.finditer(word):
            letters, offset = match.group(), match.start()
            if len(letters) < setting.hyphen_word or "-" in word[max(0, offset - 1) : match.end() + 1]:
                continue
            for k in patterns.points(letters):
                if before <= k <= len(letters) - after and letters[k - 1] not in "'’" and letters[k] not in "'’":
                    add(k + offset, True, HYPHEN_PENALTY, True)
    if not word.isalpha():
        for k in list(accumulate(map(len, LineBreaker(word, look.spec.language or "en"))))[:-1]:
            before_char = word[k - 1]
            if before_char == "\u00ad":
                if setting.hyphenate:
                    add(k, True, HYPHEN_PENALTY / 2, True)
                continue
            flagged = before_char in "-‐"
            penalty = HYPHEN_PENALTY if flagged else BEFORE_DASH_PENALTY if word[k] in "—–" else DASH_PENALTY
            add(k, False, penalty, flagged)
    return _width(look, word), word.count(NBSP), tuple(found[k] for k in sorted(found))


def opportunities(segment: str, language: str) -> set[int] | None:
    """Offsets at which a line may end by UAX 14; None says that it may behind every space, and runs do not matter."""
    if _PLAIN.issuperset(segment) and not any(pair in segment for pair in _UNSURE):
        return None
    return set(accumulate(map(len, LineBreaker(segment, language or "en"))))


def breakpoints(
    text: str, runs: list[Run], start: int, end: int, setting: Setting, anywhere: float = 0.0
) -> Breakpoints:
    """The legal breakpoints of ``text[start:end]`` (a paragraph, or its part up to a forced break).

    ``anywhere`` > 0 also allows a break at every character of words wider than that measure.
    """
    rows: list[Row] = []
    add = rows.append
    segment = text[start:end]
    runs = [run for run in runs if run.end > start and run.start < end]
    legal = opportunities(segment, runs[0].look.spec.language) if len(runs) == 1 else set()
    if len(runs) > 1:
        legal = set(accumulate(map(len, LineBreaker(segment, runs[0].look.spec.language or "en"))))
    # Natural width, stretch and shrink so far, and as they were before the present white space.
    x = stretch = shrink = 0.0
    ink_x = ink_stretch = ink_shrink = 0.0
    ink_end = start
    in_space = True
    for run in runs:
        first, last = max(run.start, start), min(run.end, end)
        look = run.look
        table = _word_table(look, setting)
        space = look.space
        more, less = space * STRETCH, space * SHRINK
        kerns = look.cut.space_kerns
        piece = text[first:last]
        if not in_space and legal is not None and (first - start) in legal and piece[0] not in " \u00a0":
            # A break between two runs without a space, such as after a dash in italics.
            flagged = text[first - 1] in "-‐"
            add((x, stretch, shrink, x, stretch, shrink, DASH_PENALTY, flagged, first, first, False))
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
                if at + 1 < end and (legal is None or at + 1 - start in legal):
                    add((ink_x, ink_stretch, ink_shrink, x, stretch, shrink, 0.0, False, ink_end, at + 1, False))
            at += 1
            if not token:
                continue
            in_space = False
            known = table.get(token)
            if known is None:
                known = table[token] = _measured(token, look, setting)
            total, glued, inner = known
            for k, reach, rest, gaps, hyphen, penalty, flagged in inner:
                y, z = stretch + gaps * more, shrink + gaps * less
                add((x + reach, y, z, x + total - rest, y, z, penalty, flagged, at + k, at + k, hyphen))
            if anywhere and total > anywhere:
                _break_anywhere(rows, token, at, x, stretch, shrink, look)
            x += total
            stretch += glued * more
            shrink += glued * less
            at += len(token)
    if in_space and ink_end > start:
        x, stretch, shrink = ink_x, ink_stretch, ink_shrink
    else:
        ink_end = end
    add((x, stretch, shrink, x, stretch, shrink, 0.0, False, ink_end, end, False))
    return Breakpoints.of(rows)


def _break_anywhere(rows: list[Row], token: str, at: int, x: float, stretch: float, shrink: float, look: Look) -> None:
    """Breaks between the characters of a word that no line can hold (UAX 29 clusters), in place of its own."""
    while rows and rows[-1][8] > at:
        rows.pop()
    k = 0
    for cluster in list(CharacterBreaker(token, "en"))[:-1]:
        k += len(cluster)
        x += look.width(cluster)
        rows.append((x, stretch, shrink, x, stretch, shrink, 500.0, False, at + k, at + k, False))


def set_paragraph(
    text: str, runs: list[Run], setting: Setting, measure: float, size: float, start: int = 0
) -> list[SetLine]:
    """Break a paragraph into lines of ``measure`` points (indents included). Empty text is one line.

    With ``start`` only the text from that offset on is set, as the rest of a paragraph begun elsewhere.

    Tries the least tolerance first, then a greater one, then breaks over-wide words anywhere and
    takes the least bad lines there are.
    """
    measure = max(measure - setting.indent_left - setting.indent_right, 1.0)
    lines: list[SetLine] = []
    begins = start == 0
    while start <= len(text):
        end = text.find(LINE_BREAK, start)
        forced = end >= 0
        if not forced:
            end = len(text)
        indent = min(setting.indent_first, measure - 1.0) if begins and not lines else 0.0
        lines += _set_segment(text, runs, start, end, setting, measure, indent, size, forced)
        start = end + 1
    return lines


def _set_segment(
    text: str, runs: list[Run], start: int, end: int, setting: Setting, measure: float, indent: float, size: float,
    forced: bool,
) -> list[SetLine]:  # fmt: skip
    if start == end:
        return [SetLine(start, end, end, 0.0, 0.0, False, False, indent)]
    justified = setting.align == "justified"
    ragged = 0.0 if justified else RAG_EMS * size
    full_last = justified and setting.last_line == "full" and not forced
    points = breakpoints(text, runs, start, end, setting)
    if not justified:
        _stiffen(points)
    chosen: list[tuple[int, float]] | None = None
    if points.w[-1] + indent <= measure and not full_last:
        chosen = [(len(points.w) - 1, 0.0)]
    elif setting.breaking == "first fit":
        chosen = first_fit(points, measure, indent=indent, ragged=ragged)
    else:
        for tolerance in TOLERANCES:
            chosen = optimum_fit(
                points, measure, tolerance, indent=indent, ragged=ragged, hyphen_run=setting.hyphen_run,
                fill_last=not full_last,
            )  # fmt: skip
            if chosen is not None:
                break
    if chosen is None or any(ratio < -1 - 1e-6 for _, ratio in chosen):
        points = breakpoints(text, runs, start, end, setting, anywhere=measure - max(indent, 0.0))
        if not justified:
            _stiffen(points)
        chosen = optimum_fit(
            points, measure, indent=indent, ragged=ragged, hyphen_run=setting.hyphen_run,
            fill_last=not full_last, emergency=True,
        ) or first_fit(points, measure, indent=indent, ragged=ragged)  # fmt: skip
    lines = []
    at, begun, last = start, -indent, len(points.w) - 1
    for index, ratio in chosen:
        stretches = justified and (index != last or full_last or ratio < 0)
        own = indent if at == start else 0.0
        stop = points.end[index]
        if index == last and not stretches and setting.align in ("left", "justified") and setting.last_line == "left":
            stop = end  # spaces at a paragraph's end are kept where they move nothing: the caret stands behind them
        width = points.w[index] - begun - own
        lines.append(SetLine(at, stop, points.next[index], width, ratio, points.hyphen[index], stretches, own))
        at, begun = points.next[index], points.a[index]
    return lines


def _stiffen(points: Breakpoints) -> None:
    """Ragged setting: word spaces keep their width, the line's end gives."""
    zeros = [0.0] * len(points.w)
    points.y, points.z, points.ya, points.za = zeros, zeros, zeros, zeros
