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
from lexigon.core.type.shaping import Cut

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

Inner = tuple[int, float, float, bool, float, bool]
"""A break within a word: offset, width before and after in font units, hyphen added, penalty, flagged."""


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


_words: dict[tuple[Cut, str, int, int, int], dict[str, tuple[int, tuple[Inner, ...]]]] = {}


def _word_table(look: Look, setting: Setting) -> dict[str, tuple[int, tuple[Inner, ...]]]:
    longest = setting.hyphen_word if setting.hyphenate else 0
    table = _words.setdefault((look.cut, look.spec.language, longest, setting.hyphen_before, setting.hyphen_after), {})
    if len(table) > 60_000:
        table.clear()
    return table


def _inner(word: str, look: Look, setting: Setting) -> tuple[Inner, ...]:
    """The breaks within a word, with the widths of the two parts as they will be set."""
    width = look.cut.width
    found: dict[int, Inner] = {}
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
                    k += offset
                    found[k] = (k, width(word[:k] + "-"), width(word[k:]), True, HYPHEN_PENALTY, True)
    if not word.isalpha():
        boundaries = list(accumulate(map(len, LineBreaker(word, look.spec.language or "en"))))[:-1]
        for k in boundaries:
            before_char = word[k - 1]
            if before_char == "\u00ad":
                if setting.hyphenate:
                    found[k] = (k, width(word[:k] + "-"), width(word[k:]), True, HYPHEN_PENALTY / 2, True)
                continue
            flagged = before_char in "-‐"
            penalty = HYPHEN_PENALTY if flagged else BEFORE_DASH_PENALTY if word[k] in "—–" else DASH_PENALTY
            found[k] = (k, width(word[:k]), width(word[k:]), False, penalty, flagged)
    return tuple(found[k] for k in sorted(found))


def breakpoints(
    text: str, runs: list[Run], start: int, end: int, setting: Setting, anywhere: float = 0.0
) -> Breakpoints:
    """The legal breakpoints of ``text[start:end]`` (a paragraph, or its part up to a forced break).

    ``anywhere`` > 0 also allows a break at every character of words wider than that measure.
    """
    rows: list[Row] = []
    add = rows.append
    segment = text[start:end]
    language = runs[0].look.spec.language if runs else "en"
    legal = set(accumulate(map(len, LineBreaker(segment, language or "en")))) if segment else set()
    # Natural width, stretch and shrink so far, and as they were before the present white space.
    x = stretch = shrink = 0.0
    ink_x = ink_stretch = ink_shrink = 0.0
    ink_end = start
    in_space = True
    for run in runs:
        if run.end <= start or run.start >= end:
            continue
        first, last = max(run.start, start), min(run.end, end)
        look = run.look
        scale, tracking, cut = look.scale, look.tracking, look.cut
        table = _word_table(look, setting)
        space = cut.space * scale + tracking
        kerns = cut.space_kerns
        piece = text[first:last]
        if not in_space and first > start and (first - start) in legal and piece[0] not in " \u00a0":
            # A break between two runs without a space, such as after a dash in italics.
            flagged = text[first - 1] in "-‐"
            add((x, stretch, shrink, x, stretch, shrink, DASH_PENALTY, flagged, first, first, False))
        at = first
        for token in TOKENS.findall(piece):
            if token == " " or token == "\u00a0":
                if kerns:
                    before = text[at - 1] if at > first else ""
                    after = text[at + 1] if at + 1 < last else ""
                    space = cut.space_after(before, after) * scale + tracking
                if not in_space:
                    ink_x, ink_stretch, ink_shrink, ink_end = x, stretch, shrink, at
                    in_space = token == " "
                x += space
                stretch += space * STRETCH
                shrink += space * SHRINK
                at += 1
                if at - start in legal and at < end:
                    add((ink_x, ink_stretch, ink_shrink, x, stretch, shrink, 0.0, False, ink_end, at, False))
                continue
            in_space = False
            known = table.get(token)
            if known is None:
                known = table[token] = (cut.width(token), _inner(token, look, setting))
            width, inner = known
            length = len(token)
            total = width * scale + tracking * length
            for k, pre, post, hyphen, penalty, flagged in inner:
                ends = x + pre * scale + tracking * (k + hyphen)
                begins = x + total - post * scale - tracking * (length - k)
                add((ends, stretch, shrink, begins, stretch, shrink, penalty, flagged, at + k, at + k, hyphen))
            if anywhere and total > anywhere:
                _break_anywhere(rows, token, at, x, stretch, shrink, look)
            x += total
            at += length
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
        width = points.w[index] - begun - own
        lines.append(
            SetLine(at, points.end[index], points.next[index], width, ratio, points.hyphen[index], stretches, own)
        )
        at, begun = points.next[index], points.a[index]
    return lines


def _stiffen(points: Breakpoints) -> None:
    """Ragged setting: word spaces keep their width, the line's end gives."""
    zeros = [0.0] * len(points.w)
    points.y, points.z, points.ya, points.za = zeros, zeros, zeros, zeros
