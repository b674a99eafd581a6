"""Setting one paragraph: its lines, and how each is made to fill its measure.

The best lines at a small tolerance are used; where there are none, letter spacing may change a little, then the width
of letters, then spaces stretch further, and finally the least bad lines are used. Texture view and Check report those.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from lexigon.core.document.cascade import Setting
from lexigon.core.document.story_text import LINE_BREAK
from lexigon.core.type.breaks import breakpoints, fitted, stiffened
from lexigon.core.type.line_cache import active_line_cache
from lexigon.core.type.linebreak import Breakpoints, first_fit, optimum_fit, optimum_fit_by_line
from lexigon.core.type.runs import Run
from lexigon.core.type.set_line import SetLine
from lexigon.core.type.tabs import advance_to_stop, width_between

TOLERANCE, WIDE_TOLERANCE = 2.0, 8.0
RAG_EMS = 4.0
"""Stretch at the end of a ragged line, in ems of the type."""

LOOSE = 2.0
"""Lines whose spaces open further than this ratio are findings."""

TOKENS = re.compile("[ \u00a0\t]|[^ \u00a0\t]+")

Measure = float | tuple[tuple[float, float], ...]
"""How wide lines are: points; or (left edge, width) of each line in turn, the last for all that follow."""


MOST_WEIGHED, MOST_BAD = 20_000, 3000
"""The number of breaks of a paragraph for which the optimum is sought, and the least bad solution of a text that fits
no line (where every pair of breaks has to be weighed). After that, lines are filled first fit: the work stays
proportional to the text."""


@dataclass(slots=True, frozen=True)
class Merit:
    """Figures of merit of a set paragraph: of its justified lines the mean and the greatest |r|, and all its
    hyphens."""

    lines: int
    mean: float
    loosest: float
    hyphens: int


def merit(lines: Sequence[SetLine]) -> Merit:
    inner = [abs(line.ratio) for line in lines if line.stretches]
    loosest = max((line.ratio for line in lines if line.stretches), default=0.0)
    return Merit(len(lines), sum(inner) / len(inner) if inner else 0.0, loosest, sum(line.hyphen for line in lines))


def set_paragraph(
    text: str,
    runs: list[Run],
    setting: Setting,
    measure: Measure,
    size: float,
    start: int = 0,
    begins: bool | None = None,
) -> list[SetLine]:
    """Break a paragraph into lines of ``measure`` (indents included). Empty text is one line.  With ``start`` only
    the text from that offset on is set, as the rest of a paragraph begun elsewhere, unless ``begins`` says that it
    begins here (after a drop cap). Within ``line_cache`` the lines are those that were set before, if there are any.
    """
    cache = active_line_cache()
    if cache is None:
        return _set_lines(text, runs, setting, measure, size, start, begins)
    key = cache.key(text, runs, setting, measure, size, start, begins)
    lines = cache.get(key)
    if lines is None:
        lines = _set_lines(text, runs, setting, measure, size, start, begins)
        cache.put(key, lines)
    return lines


def _set_lines(
    text: str, runs: list[Run], setting: Setting, measure: Measure, size: float, start: int, begins: bool | None
) -> list[SetLine]:
    boxes = measure if isinstance(measure, tuple) else ((0.0, measure),)
    boxes = tuple((left, max(width - setting.indent_left - setting.indent_right, 1.0)) for left, width in boxes)
    shaped = isinstance(measure, tuple)
    lines: list[SetLine] = []
    if begins is None:
        begins = start == 0
    while start <= len(text):
        end = text.find(LINE_BREAK, start)
        forced = end >= 0
        if not forced:
            end = len(text)
        indent = min(setting.indent_first, boxes[0][1] - 1.0) if begins and not lines else 0.0
        rest = boxes[min(len(lines), len(boxes) - 1) :]
        if "\t" in text[start:end]:
            lines_ = _set_tabbed(text, runs, start, end, setting, rest, indent, size, forced)
        else:
            lines_ = _set_segment(text, runs, start, end, setting, rest, indent, size, forced)
        if shaped:
            for line, (left, width) in zip(lines_, _each(rest, len(lines_)), strict=True):
                line.left, line.measure = left, width + setting.indent_left + setting.indent_right
        lines += lines_
        start = end + 1
    return lines


Boxes = tuple[tuple[float, float], ...]


def _each(boxes: Boxes, count: int) -> Iterable[tuple[float, float]]:
    return (boxes[min(i, len(boxes) - 1)] for i in range(count))


def _set_segment(
    text: str,
    runs: list[Run],
    start: int,
    end: int,
    setting: Setting,
    boxes: Boxes,
    indent: float,
    size: float,
    forced: bool,
) -> list[SetLine]:
    """The lines of ``text[start:end]``, which holds neither tabs nor forced breaks."""
    if start == end:
        return [SetLine(start, end, end, 0.0, 0.0, False, False, indent)]
    justified = setting.align == "justified"
    ragged = 0.0 if justified else RAG_EMS * size
    full_last = justified and setting.last_line == "full" and not forced
    points = breakpoints(text, runs, start, end, setting)
    if not justified:
        stiffened(points)
    first = boxes[0][1]
    chosen: list[tuple[int, float]] | None = None
    letters = glyphs = 0.0
    if points.w[-1] + indent <= first and not full_last and setting.looseness <= 0:
        chosen = [(len(points.w) - 1, 0.0)]
    elif setting.breaking == "first fit" or len(points.w) > MOST_WEIGHED:
        chosen = first_fit(points, [width for _, width in boxes], indent=indent, ragged=ragged)
    else:
        for tolerance, letters, glyphs in _ladder(setting, justified, size, len(boxes) > 1):
            first_points = fitted(points, letters, glyphs, TOLERANCE, start) if letters or glyphs else points
            chosen = _best(first_points, boxes, tolerance, indent, ragged, setting, full_last)
            if chosen is not None:
                break
    if chosen is None or any(ratio < -1 - 1e-6 for _, ratio in chosen):
        narrowest = min(width for _, width in boxes)
        points = breakpoints(text, runs, start, end, setting, anywhere=narrowest - max(indent, 0.0))
        if not justified:
            stiffened(points)
        first_points = fitted(points, letters, glyphs, TOLERANCE, start) if letters or glyphs else points
        chosen = (
            _best(first_points, boxes, None, indent, ragged, setting, full_last) if len(points.w) <= MOST_BAD else None
        )
        chosen = chosen or first_fit(points, [width for _, width in boxes], indent=indent, ragged=ragged)
    lines = []
    before, last = -1, len(points.w) - 1
    at, begun = start, -indent
    for number, (index, ratio) in enumerate(chosen):
        stretches = justified and (index != last or full_last or ratio < 0)
        own = indent if at == start else 0.0
        stop = points.end[index]
        if index == last and not stretches and setting.align in ("left", "justified") and setting.last_line == "left":
            stop = end  # spaces at a paragraph's end are kept where they move nothing: the caret goes after them
        line = SetLine(
            at, stop, points.next[index], points.w[index] - begun - own, ratio, points.hyphen[index], stretches, own
        )
        if stretches and (letters or glyphs):
            measure = boxes[min(number, len(boxes) - 1)][1] - own
            _fit(line, points, before, index, measure, letters, glyphs)
        lines.append(line)
        before, at, begun = index, points.next[index], points.a[index]
    return lines


def _ladder(setting: Setting, justified: bool, size: float, shaped: bool) -> Iterable[tuple[float, float, float]]:
    """(tolerance, points a letter may give, part of its width a glyph may) in the order they are tried.

    Lines beside an obstacle are short: they need all there is or nothing, and each trial costs more.
    """
    yield TOLERANCE, 0.0, 0.0
    letters = glyphs = 0.0
    if justified:
        letters, glyphs = setting.letter_fit * size, setting.glyph_fit
        if letters and not (shaped and glyphs):
            yield TOLERANCE, letters, 0.0
        if glyphs:
            yield TOLERANCE, letters, glyphs
    yield WIDE_TOLERANCE, letters, glyphs


def _best(
    points: Breakpoints,
    boxes: Boxes,
    tolerance: float | None,
    indent: float,
    ragged: float,
    setting: Setting,
    full: bool,
) -> list[tuple[int, float]] | None:
    """The optimum at a tolerance; without one the least bad there is."""
    if len(boxes) == 1 and not setting.looseness:
        return optimum_fit(
            points,
            boxes[0][1],
            tolerance or TOLERANCE,
            indent=indent,
            ragged=ragged,
            hyphen_run=setting.hyphen_run,
            fill_last=not full,
            emergency=tolerance is None,
            last_least=setting.last_least,
        )
    return optimum_fit_by_line(
        points,
        [width for _, width in boxes],
        tolerance or TOLERANCE,
        indent=indent,
        ragged=ragged,
        hyphen_run=setting.hyphen_run,
        fill_last=not full,
        emergency=tolerance is None,
        looseness=setting.looseness,
        last_least=setting.last_least,
    )


def _fit(
    line: SetLine, points: Breakpoints, before: int, index: int, measure: float, letters: float, glyphs: float
) -> None:
    """Let the line's letters give their part; its ratio becomes what is left for the spaces."""
    part = min(max(line.ratio, -1.0), TOLERANCE)
    part = part / TOLERANCE if part > 0 else part
    line.letters, line.glyphs = part * letters, 1 + part * glyphs
    slack = measure - line.width * line.glyphs - line.letters * (line.end - line.start)
    sums = points.y if slack > 0 else points.z
    behind = 0.0 if before < 0 else (points.ya if slack > 0 else points.za)[before]
    room = sums[index] - behind
    line.ratio = slack / room if room else 0.0


def _set_tabbed(
    text: str,
    runs: list[Run],
    start: int,
    end: int,
    setting: Setting,
    boxes: Boxes,
    indent: float,
    size: float,
    forced: bool,
) -> list[SetLine]:
    """Lines with tabs: filled first fit up to the last tab, with the text after it set at its optimum."""
    lines: list[SetLine] = []
    begun, x, own, tabs = start, indent, indent, list[float]()

    def close(stop: int, following: int, hyphen: bool = False) -> None:
        nonlocal begun, x, own, tabs
        lines.append(SetLine(begun, stop, following, x - own, 0.0, hyphen, False, own, tabs=tuple(tabs)))
        begun, x, own, tabs = following, 0.0, 0.0, []

    at = start
    while True:
        stop = text.find("\t", at, end)
        final = stop < 0
        stop = end if final else stop
        align: str | None = "left"
        limit = boxes[min(len(lines), len(boxes) - 1)][1]
        if at > start:
            advance, align = advance_to_stop(text, runs, at, stop, setting, x, limit)
            if align is None:  # no stop is left on this line: it ends, and the tab begins the next
                close(at - 1, at - 1)
                limit = boxes[min(len(lines), len(boxes) - 1)][1]
                advance, align = advance_to_stop(text, runs, at, stop, setting, x, limit)
            tabs.append(advance)
            x += advance
        if final and align in ("left", None):
            rest = ((boxes[0][0], max(limit - x, 1.0)), *(boxes[len(lines) + 1 :] or boxes[-1:]))
            first, *more = _set_segment(text, runs, at, end, setting, rest, 0.0, size, forced)
            first.start, first.width, first.indent, first.tabs = begun, first.width + x - own, own, tuple(tabs)
            return [*lines, first, *more]
        if at < stop:
            points = breakpoints(text, runs, at, stop, setting)
            if x + points.w[-1] > limit + 1e-6:
                measures = [limit - x, *(width for _, width in boxes[len(lines) + 1 :] or boxes[-1:])]
                broken, behind = first_fit(points, measures), 0.0
                for index, _ in broken[:-1]:
                    x += points.w[index] - behind
                    behind = points.a[index]
                    close(points.end[index], points.next[index], points.hyphen[index])
                x += points.w[-1] - behind
            else:
                x += width_between(text, runs, at, stop)
        if final:
            close(end, end)
            return lines
        at = stop + 1
