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

HYPHEN_PENALTY = 50.0
FLAGGED_DEMERITS = 3000.0
FITNESS_DEMERITS = 3000.0


Row = tuple[float, float, float, float, float, float, float, bool, int, int, bool]
"""One breakpoint: the values of Breakpoints in their order."""


@dataclass(slots=True)
class Breakpoints:
    """The places a paragraph may be broken, in order; the last is its end.

    For breakpoint j: ``w[j]`` is the natural width from the paragraph's start to the end of a line
    broken there (a hyphen included), ``y[j]`` and ``z[j]`` the stretch and shrink up to there;
    ``a, ya, za`` the same sums at the point where the next line begins (white space that vanishes at
    the break is behind it). ``end[j]`` and ``next[j]`` are the text offsets of the two.
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


@dataclass(slots=True)
class Node:
    """A feasible break: the best way to get there with this fitness class and this run of hyphens."""

    demerits: float
    index: int
    fitness: int
    run: int
    ratio: float
    parent: Node | None


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
) -> list[tuple[int, float]] | None:
    """The breaks with the fewest total demerits, as (breakpoint index, adjustment ratio) pairs.

    ``ragged`` is the stretch at each line's end for ragged settings, 0 for justified ones.
    ``hyphen_run`` is the greatest number of flagged lines in a row, 0 for no limit. ``fill_last``
    lets the last line stay short. Returns None if no way keeps every ratio within -1..tolerance;
    with ``emergency`` loose lines are taken at any ratio and, where nothing else is left, lines
    longer than the measure (their ratio is below -1).
    """
    w, y, z, penalty, flagged = points.w, points.y, points.z, points.penalty, points.flagged
    count = len(w)
    # One entry more than there are breakpoints: index -1 is the paragraph's start.
    a, ya, za = [*points.a, -indent], [*points.ya, 0.0], [*points.za, 0.0]
    # The tightest any later break can be set: a line too long even for that is too long for good.
    tightest, least = [0.0] * count, inf
    for j in range(count - 1, -1, -1):
        if w[j] - z[j] < least:
            least = w[j] - z[j]
        tightest[j] = least
    if emergency:
        tolerance = inf
    last = count - 1
    active = [Node(0.0, -1, 1, 0, 0.0, None)]
    for j in range(count):
        wj, yj, zj = w[j], y[j], z[j]
        head = active[0].index
        if measure - wj + a[head] > tolerance * (yj - ya[head] + ragged) and not (j == last and fill_last):
            continue  # even the longest line that could end here is too loose
        pj, fj = penalty[j], flagged[j]
        best: dict[int, Node] = {}
        drop = 0
        for position, node in enumerate(active):
            i = node.index
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
                    ratio = slack / shrink
                    badness = -100.0 * ratio * ratio * ratio
            elif j == last and fill_last:
                ratio = badness = 0.0
            else:
                stretch = yj - ya[i] + ragged
                if slack > tolerance * stretch:
                    break  # every later start leaves an even looser line
                ratio = slack / stretch if stretch else (0.0 if slack < 1e-9 else 1e3)
                badness = 100.0 * ratio * ratio * ratio
            if fj:
                run = node.run + 1
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
            if not -1 <= fitness - node.fitness <= 1:
                demerits += FITNESS_DEMERITS
            demerits += node.demerits
            key = fitness + 4 * run
            known = best.get(key)
            if known is None or demerits < known.demerits:
                best[key] = Node(demerits, j, fitness, run, ratio, node)
        if drop:
            del active[:drop]
        if best:
            if len(best) == 1:
                active.extend(best.values())
            else:
                # A node that costs more than another with no longer run of hyphens plus the price of
                # changing fitness can never win.
                winner = min(best.values(), key=lambda n: n.demerits)
                bound = winner.demerits + FITNESS_DEMERITS
                active.extend(n for n in best.values() if n.demerits < bound or n.run < winner.run or n is winner)
        elif not active:
            return None
    ends = [node for node in active if node.index == last]
    if not ends:
        return None
    at: Node | None = min(ends, key=lambda n: n.demerits)
    result = []
    while at is not None and at.index >= 0:
        result.append((at.index, at.ratio))
        at = at.parent
    return result[::-1]


def first_fit(
    points: Breakpoints, measure: float, *, indent: float = 0.0, ragged: float = 0.0
) -> list[tuple[int, float]]:
    """Each line takes all that fits; a word that never fits stands alone on an overlong line."""
    w, z = points.w, points.z
    a, za = [*points.a, -indent], [*points.za, 0.0]
    result: list[tuple[int, float]] = []
    start, last = -1, len(w) - 1
    while start < last:
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
