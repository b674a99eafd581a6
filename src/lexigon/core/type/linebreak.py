"""Breaking a paragraph into lines.

``optimum_fit`` is the total-fit method of D. E. Knuth and M. F. Plass, "Breaking Paragraphs into
Lines", Software: Practice and Experience 11 (1981), 1119-1184: badness 100 |r|^3, demerits
(1 + badness + penalty)^2, four fitness classes, extra demerits for hyphens in a row and for tight
lines beside loose ones. ``first_fit`` takes each line as it comes.

Both work on the *legal breakpoints* only, in parallel lists. All widths in one unit of the caller's.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import inf
from operator import itemgetter
from typing import Any

HYPHEN_PENALTY = 50.0
FLAGGED_DEMERITS = 3000.0
FITNESS_DEMERITS = 3000.0
SHORT_BADNESS = 54.0
"""Of a last line shorter than is wished: some 3,000 demerits, as many as for hyphens in a row (no source)."""


Row = tuple[float, float, float, float, float, float, float, bool, int, int, bool]
"""One breakpoint: the values of Breakpoints in their order."""


@dataclass(slots=True)
class Breakpoints:
    """The places a paragraph may be broken, in order; the last is its end.

    For breakpoint j: ``w[j]`` is the natural width from the paragraph's start to the end of a line
    broken there (a hyphen included), ``y[j]`` and ``z[j]`` the stretch and shrink up to there;
    ``a, ya, za`` the same sums at the point where the next line begins (after white space that vanishes at the
    break). ``end[j]`` and ``next[j]`` are the text offsets of the two.
    """

    w: Sequence[float]
    y: Sequence[float]
    z: Sequence[float]
    a: Sequence[float]
    ya: Sequence[float]
    za: Sequence[float]
    penalty: Sequence[float]
    flagged: Sequence[bool]
    end: Sequence[int]
    next: Sequence[int]
    hyphen: Sequence[bool]
    """A hyphen is added at the line's end (a break after a typed hyphen is flagged only)."""

    @classmethod
    def of(cls, rows: list[Row]) -> Breakpoints:
        return cls(*zip(*rows, strict=True))


Node = tuple[float, int, int, int, float, Any]
"""A feasible break: (demerits up to it, breakpoint index, fitness class, hyphens in a row, ratio of the line
before it, the node that line began at). A bare tuple, since millions are made."""


Line = tuple[float, int, int, int, float, Any, int]
"""A node that knows its line: after the others' values, the number of lines before it."""

cost = itemgetter(0)


def _tightest(w: Sequence[float], z: Sequence[float]) -> list[float]:
    """The tightest any break from each on can be set: a line too long even for that is too long for good."""
    least, ratios = inf, list[float]()
    for wj, zj in zip(reversed(w), reversed(z), strict=True):
        if (tight := wj - zj) < least:
            least = tight
        ratios.append(least)
    ratios.reverse()
    return ratios


# The two functions that follow are long: what they do to each pair of breaks is done a hundred thousand times in a
# book, and
# calls of other functions there would cost about as much as the work itself.


def optimum_fit(
    points: Breakpoints,
    measure: float,
    tolerance: float = 2.0,
    *,
    indent: float = 0.0,
    ragged: float = 0.0,
    hyphen_run: int = 0,
    fill_last: bool = True,
    line_penalty: float = 1.0,
    emergency: bool = False,
    last_least: float = 0.0,
) -> list[tuple[int, float]] | None:
    """The breaks with the fewest total demerits, as (breakpoint index, adjustment ratio) pairs.

    ``ragged`` is the stretch at each line's end for ragged settings, 0 for justified ones. ``hyphen_run`` is the
    greatest number of flagged lines in a row, 0 for no limit. ``fill_last`` lets the last line stay short; one shorter
    than ``last_least`` has SHORT_BADNESS. Returns None if no way keeps every ratio within -1..tolerance; with
    ``emergency`` loose lines are taken at any ratio and, where nothing else is left, lines longer than the measure
    (their ratio is below -1)."""
    w, y, z, penalty, flagged = points.w, points.y, points.z, points.penalty, points.flagged
    count = len(w)
    # One entry more than there are breakpoints: index -1 is the paragraph's start.
    a, ya, za = [*points.a, -indent], [*points.ya, 0.0], [*points.za, 0.0]
    tightest = _tightest(w, z)
    last = count - 1
    # How far the text reaches at the loosest; short of ``least`` even the longest line that could end there
    # is too loose, which passes over most breakpoints at little cost.
    if emergency:
        reaches: Sequence[float] = [inf] * count
        tolerance = inf
    else:
        reaches = [wj + tolerance * yj for wj, yj in zip(w, y, strict=True)]
    short = measure - (0.0 if emergency else tolerance * ragged)
    active: list[Node] = [(0.0, -1, 1, 0, 0.0, None)]
    least = short + a[-1]
    for j, reach in enumerate(reaches):
        if reach < least and not (j == last and fill_last):
            continue
        wj, yj, zj = w[j], y[j], z[j]
        pj, fj = penalty[j], flagged[j]
        best: dict[int, Node] = {}
        drop = 0
        for position, node in enumerate(active):
            so_far, i, former, run, _, _ = node
            slack = measure - wj + a[i]
            if slack < 0:
                shrink = zj - za[i]
                if -slack > shrink + 1e-9:
                    if tightest[j] - a[i] + za[i] > measure + 1e-9:
                        drop = position + 1
                        if not (emergency and drop == len(active) and not best):
                            continue
                        ratio, badness = -2.0, 1e6
                    else:
                        continue
                else:
                    ratio = slack / shrink if shrink else 0.0  # by less than a rounding error
                    badness = -100.0 * ratio * ratio * ratio
            elif j == last and fill_last:
                ratio = 0.0
                badness = SHORT_BADNESS if wj - a[i] < last_least and i >= 0 else 0.0
            else:
                stretch = yj - ya[i] + ragged
                if slack > tolerance * stretch:
                    break  # every later start leaves an even looser line
                ratio = slack / stretch if stretch else (0.0 if slack < 1e-9 else 1e3)
                badness = 100.0 * ratio * ratio * ratio
            if fj:
                run += 1
                if hyphen_run and run > hyphen_run and not emergency:
                    continue
            else:
                run = 0
            demerits = line_penalty + badness
            if pj >= 0.0:
                demerits += pj
                demerits *= demerits
            else:
                demerits = demerits * demerits - pj * pj
            if fj and i >= 0 and flagged[i]:
                demerits += FLAGGED_DEMERITS
            fitness = 0 if ratio < -0.5 else 1 if ratio <= 0.5 else 2 if ratio <= 1.0 else 3
            if not -1 <= fitness - former <= 1:
                demerits += FITNESS_DEMERITS
            demerits += so_far
            key = fitness + 4 * run
            cached = best.get(key)
            if cached is None or demerits < cached[0]:
                best[key] = (demerits, j, fitness, run, ratio, node)
        if drop:
            del active[:drop]
        if best:
            if len(best) == 1:
                active.extend(best.values())
            else:
                # A node that costs more than another with no longer run of hyphens plus the price of
                # changing fitness can never win.
                winner = min(best.values(), key=cost)
                bound, least_run = winner[0] + FITNESS_DEMERITS, winner[3]
                active += [n for n in best.values() if n[0] < bound or n[3] < least_run or n is winner]
        elif not active:
            return None
        if drop or best:
            head = active[0][1]
            least = short + a[head] + (0.0 if emergency else tolerance * ya[head])
    ends = [node for node in active if node[1] == last]
    if not ends:
        return None
    at = min(ends, key=cost)
    result = []
    while at[1] >= 0:
        result.append((at[1], at[4]))
        at = at[5]
    return result[::-1]


def optimum_fit_by_line(
    points: Breakpoints,
    measures: Sequence[float],
    tolerance: float = 2.0,
    *,
    indent: float = 0.0,
    ragged: float = 0.0,
    hyphen_run: int = 0,
    fill_last: bool = True,
    line_penalty: float = 1.0,
    emergency: bool = False,
    last_least: float = 0.0,
    looseness: int = 0,
) -> list[tuple[int, float]] | None:
    """Like ``optimum_fit``, for lines of different measures (the last one repeats) and for a requested looseness.

    Nodes are distinguished by their line as well, as in section "More bells and whistles" of the article: two ways to
    reach a break on different lines have different futures. ``looseness`` asks for that many lines more than the
    optimum; the nearest value possible within the tolerance is used.
    """
    w, y, z, penalty, flagged = points.w, points.y, points.z, points.penalty, points.flagged
    a, ya, za = [*points.a, -indent], [*points.ya, 0.0], [*points.za, 0.0]
    last = len(w) - 1
    tightest = _tightest(w, z)
    if emergency:
        tolerance = inf
    special = len(measures) - 1
    while special and measures[special - 1] == measures[special]:
        special -= 1
    reaches = [inf] * len(w) if emergency else [wj + tolerance * yj for wj, yj in zip(w, y, strict=True)]
    # A node that waits for its line's end: the node, the line's measure, and how far text must reach to fill it.
    active: list[tuple[Line, float, float]] = []
    ends: list[Line] = []

    def wait(node: Line) -> tuple[Line, float, float]:
        measure = measures[min(node[6], special)]
        i = node[1]
        return node, measure, 0.0 if emergency else measure - tolerance * ragged + a[i] + tolerance * ya[i]

    active.append(wait((0.0, -1, 1, 0, 0.0, None, 0)))
    least = active[0][2]
    for j, reach in enumerate(reaches):
        if reach < least and not (j == last and fill_last):
            continue
        wj, yj, zj, pj, fj = w[j], y[j], z[j], penalty[j], flagged[j]
        best: dict[tuple[int, int, int], Line] = {}
        dropped: list[int] = []
        for position, (node, measure, need) in enumerate(active):
            if reach < need and not (j == last and fill_last):
                continue
            so_far, i, former, run, _, _, line = node
            slack = measure - wj + a[i]
            if slack < 0:
                shrink = zj - za[i]
                if -slack > shrink + 1e-9:
                    if tightest[j] - a[i] + za[i] > measure + 1e-9:
                        dropped.append(position)
                    continue
                ratio = slack / shrink if shrink else 0.0
                badness = -100.0 * ratio * ratio * ratio
            elif j == last and fill_last:
                ratio = 0.0
                badness = SHORT_BADNESS if wj - a[i] < last_least and i >= 0 else 0.0
            else:
                stretch = yj - ya[i] + ragged
                if slack > tolerance * stretch:
                    continue
                ratio = slack / stretch if stretch else (0.0 if slack < 1e-9 else 1e3)
                badness = 100.0 * ratio * ratio * ratio
            run = run + 1 if fj else 0
            if hyphen_run and run > hyphen_run and not emergency:
                continue
            demerits = line_penalty + badness
            demerits = (demerits + pj) ** 2 if pj >= 0 else demerits * demerits - pj * pj
            if fj and i >= 0 and flagged[i]:
                demerits += FLAGGED_DEMERITS
            fitness = 0 if ratio < -0.5 else 1 if ratio <= 0.5 else 2 if ratio <= 1.0 else 3
            if not -1 <= fitness - former <= 1:
                demerits += FITNESS_DEMERITS
            demerits += so_far
            key = (line if looseness or line < special else special, fitness, run)
            cached = best.get(key)
            if cached is None or demerits < cached[0]:
                best[key] = (demerits, j, fitness, run, ratio, node, line + 1)
        if emergency and not best and len(dropped) == len(active):
            # Nothing fits any more: the cheapest way takes a line longer than its measure.
            node = min((active[position][0] for position in dropped), key=cost)
            best[0, 0, 0] = (node[0] + 1e12, j, 0, 0, -2.0, node, node[6] + 1)
        if j == last:
            ends = list(best.values())
        for position in reversed(dropped):
            del active[position]
        if best:
            winners: dict[int, Line] = {}
            for (line, _, _), node in best.items():
                if line not in winners or node[0] < winners[line][0]:
                    winners[line] = node
            for (line, _, run), node in best.items():
                winner = winners[line]
                if node is winner or node[0] < winner[0] + FITNESS_DEMERITS or run < winner[3]:
                    active.append(wait(node))
        if not active:
            return None
        if dropped or best:
            least = min([need for _, _, need in active])
    if not ends:
        return None
    at = min(ends, key=cost)
    if looseness:
        wanted_line = at[6] + looseness
        at = min(ends, key=lambda node: (abs(node[6] - wanted_line), node[0]))
    result = []
    while at[1] >= 0:
        result.append((at[1], at[4]))
        at = at[5]
    return result[::-1]


def first_fit(
    points: Breakpoints, measures: float | Sequence[float], *, indent: float = 0.0, ragged: float = 0.0
) -> list[tuple[int, float]]:
    """Each line takes all that fits; a word that never fits stands alone on an overlong line.

    ``measures`` is the measure of all lines, or one for each with the last repeated.
    """
    w, z = points.w, points.z
    a, za = [*points.a, -indent], [*points.za, 0.0]
    each = measures if isinstance(measures, Sequence) else (measures,)
    result: list[tuple[int, float]] = []
    start, last = -1, len(w) - 1
    while start < last:
        measure = each[min(len(result), len(each) - 1)]
        chosen = start + 1
        for j in range(start + 1, last + 1):
            length = w[j] - a[start]
            if length - (z[j] - za[start]) > measure + 1e-9 and j > start + 1:
                break
            # Shrink only for a whole word more, never to squeeze in a hyphenated piece.
            if length <= measure + 1e-9 or not points.hyphen[j]:
                chosen = j
        result.append((chosen, ratio_of(points, start, chosen, measure, indent, ragged, chosen == last)))
        start = chosen
    return result


def ratio_of(
    points: Breakpoints, start: int, end: int, measure: float, indent: float, ragged: float, is_last: bool
) -> float:
    """The adjustment ratio of the line from breakpoint ``start`` (-1: the beginning) to ``end``."""
    first = start < 0
    slack = measure - points.w[end] + (-indent if first else points.a[start])
    if slack < 0:
        shrink = points.z[end] - (0.0 if first else points.za[start])
        return max(slack / shrink, -2.0) if shrink else -2.0
    if is_last:
        return 0.0
    stretch = points.y[end] - (0.0 if first else points.ya[start]) + ragged
    return slack / stretch if stretch else 1e3
