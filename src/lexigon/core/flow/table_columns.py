"""Widths of table columns, and the positions of decimal characters in them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import pairwise

from lexigon.core.document.model import TableColumn

CONTENT = TableColumn()


def solved(
    sizes: Sequence[TableColumn],
    contents_widths: Sequence[tuple[float, float]],
    room: float,
    firm: Callable[[], Sequence[float]] | None = None,
) -> list[float]:
    """The widths of columns in the room there is, all solved together: fixed ones first (in proportion where they alone
    are too wide), then those as wide as their contents, then shares of what these leave, each at least as wide as its
    longest word. ``contents_widths`` are the narrowest and the natural width of each. Without shares, contents fill the
    room; without contents either, the table is as wide as it says.

    ``firm`` gives the width that each column needs for what may not be divided at all: figures, dates and the pieces of
    hyphenated words. Where the longest words do not fit, columns shrink to it, so that text gives way before figures
    do."""
    kinds = [*sizes[: len(contents_widths)], *[CONTENT] * (len(contents_widths) - len(sizes))]
    fixed = {at: one.value for at, one in enumerate(kinds) if one.size == "fixed" and one.value > 0}
    total = sum(fixed.values())
    if total > room or (fixed and len(fixed) == len(kinds)):
        part = min(room / total, 1.0)
        fixed = {at: value * part for at, value in fixed.items()}
    left = max(room - sum(fixed.values()), 0.0)
    if firm is not None and sum(least for at, (least, _) in enumerate(contents_widths) if at not in fixed) > left:
        contents_widths = [(min(hard, least), least) for hard, (least, _) in zip(firm(), contents_widths, strict=True)]
    shares = {at: one.value for at, one in enumerate(kinds) if one.size == "share" and one.value > 0}
    contents = [at for at in range(len(kinds)) if at not in fixed and at not in shares]
    solved_widths = dict(fixed)
    if contents:
        contents_wanted = [contents_widths[at] for at in contents]
        most = left - sum(contents_widths[at][0] for at in shares)
        natural = sum(both[1] for both in contents_wanted)
        contents_solved = widths(contents_wanted, max(min(natural, most) if shares else left, 0.0))
        solved_widths |= dict(zip(contents, contents_solved, strict=True))
        left = max(left - sum(contents_solved), 0.0)
    solved_widths |= _shared(shares, {at: contents_widths[at][0] for at in shares}, left)
    return [solved_widths[at] for at in range(len(kinds))]


def _shared(shares: dict[int, float], least: dict[int, float], room: float) -> dict[int, float]:
    """Return what is left, in shares; those that would be too narrow keep their least, and the others share the
    rest."""
    minimum: dict[int, float] = {}
    while True:
        open_ = {at: value for at, value in shares.items() if at not in minimum}
        rest = max(room - sum(minimum.values()), 0.0)
        total = sum(open_.values())
        share_widths = {at: rest * value / total for at, value in open_.items()}
        short = [at for at, width in share_widths.items() if width < least[at] - 1e-9]
        if not short or sum(least.values()) > room + 1e-6:
            return minimum | share_widths
        minimum |= {at: least[at] for at in short}


def widths(wanted_widths: Sequence[tuple[float, float]], room: float) -> list[float]:
    """The widths of columns in the room there is, from the narrowest and the natural width of each. Natural ones and a
    share of what is left over (CSS 2.1, 17.5.2.2); where they do not fit, narrow columns keep theirs and the wide ones
    are made as narrow as each other; where not even the narrowest fit, those in proportion."""
    least, most = sum(a for a, _ in wanted_widths), sum(b for _, b in wanted_widths)
    if most <= room:
        return [b * room / most for _, b in wanted_widths]
    if least >= room:
        return [a * room / least for a, _ in wanted_widths]
    bounds = sorted({bound for pair in wanted_widths for bound in pair})
    level = bounds[-1]
    for low, high in pairwise(bounds):  # between two bounds the sum grows evenly
        if sum(min(max(high, a), b) for a, b in wanted_widths) >= room:
            fixed = [min(max(low, a), b) for a, b in wanted_widths if b <= low or a >= high]
            level = (room - sum(fixed)) / (len(wanted_widths) - len(fixed))
            break
    return [min(max(level, a), b) for a, b in wanted_widths]


def before_sign(text: str, sign: str) -> int:
    """Return the position at which a number is aligned: at its decimal separator, or after its last digit where it has
    none."""
    at = text.rfind(sign)
    if at >= 0:
        return at
    return 1 + max((i for i, c in enumerate(text) if c.isdigit()), default=len(text) - 1)
