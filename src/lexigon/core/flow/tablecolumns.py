"""Widths of table columns, and the positions of decimal characters in them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import pairwise

from lexigon.core.job.model import TableColumn

CONTENT = TableColumn()


def solved(
    sizes: Sequence[TableColumn],
    asked: Sequence[tuple[float, float]],
    room: float,
    firm: Callable[[], Sequence[float]] | None = None,
) -> list[float]:
    """The widths of columns in the room there is, all solved together: fixed ones first (in proportion where they alone are too wide), then
    those as wide as their contents, then shares of what these leave, each at least as wide as its longest word. ``asked`` is the narrowest
    and the natural width of each. Without shares, contents fill the room; without contents either, the table is as wide as it says.

    ``firm`` gives the width that each column needs for what may not be divided at all: figures, dates and the pieces of hyphenated
    words. Where the longest words do not fit, columns shrink to it, so that text gives way before figures do."""
    kinds = [*sizes[: len(asked)], *[CONTENT] * (len(asked) - len(sizes))]
    fixed = {at: one.value for at, one in enumerate(kinds) if one.size == "fixed" and one.value > 0}
    total = sum(fixed.values())
    if total > room or (fixed and len(fixed) == len(kinds)):
        part = min(room / total, 1.0)
        fixed = {at: value * part for at, value in fixed.items()}
    left = max(room - sum(fixed.values()), 0.0)
    if firm is not None and sum(least for at, (least, _) in enumerate(asked) if at not in fixed) > left:
        asked = [(min(hard, least), least) for hard, (least, _) in zip(firm(), asked, strict=True)]
    shares = {at: one.value for at, one in enumerate(kinds) if one.size == "share" and one.value > 0}
    contents = [at for at in range(len(kinds)) if at not in fixed and at not in shares]
    found = dict(fixed)
    if contents:
        wanted = [asked[at] for at in contents]
        most = left - sum(asked[at][0] for at in shares)
        natural = sum(both[1] for both in wanted)
        given = widths(wanted, max(min(natural, most) if shares else left, 0.0))
        found |= dict(zip(contents, given, strict=True))
        left = max(left - sum(given), 0.0)
    found |= _shared(shares, {at: asked[at][0] for at in shares}, left)
    return [found[at] for at in range(len(kinds))]


def _shared(shares: dict[int, float], least: dict[int, float], room: float) -> dict[int, float]:
    """Return what is left, in shares; those that would be too narrow keep their least, and the others share the rest."""
    held: dict[int, float] = {}
    while True:
        open_ = {at: value for at, value in shares.items() if at not in held}
        rest = max(room - sum(held.values()), 0.0)
        total = sum(open_.values())
        made = {at: rest * value / total for at, value in open_.items()}
        short = [at for at, width in made.items() if width < least[at] - 1e-9]
        if not short or sum(least.values()) > room + 1e-6:
            return held | made
        held |= {at: least[at] for at in short}


def widths(asked: Sequence[tuple[float, float]], room: float) -> list[float]:
    """The widths of columns in the room there is, from the narrowest and the natural width of each. Natural ones and a share of what is left
    over (CSS 2.1, 17.5.2.2); where they do not fit, narrow columns keep theirs and the wide ones are made as narrow as each other; where not
    even the narrowest fit, those in proportion."""
    least, most = sum(a for a, _ in asked), sum(b for _, b in asked)
    if most <= room:
        return [b * room / most for _, b in asked]
    if least >= room:
        return [a * room / least for a, _ in asked]
    bounds = sorted({bound for pair in asked for bound in pair})
    level = bounds[-1]
    for low, high in pairwise(bounds):  # between two bounds the sum grows evenly
        if sum(min(max(high, a), b) for a, b in asked) >= room:
            fixed = [min(max(low, a), b) for a, b in asked if b <= low or a >= high]
            level = (room - sum(fixed)) / (len(asked) - len(fixed))
            break
    return [min(max(level, a), b) for a, b in asked]


def before_sign(text: str, sign: str) -> int:
    """Return where a number is held: at its decimal sign, or behind its last figure where it has none."""
    at = text.rfind(sign)
    if at >= 0:
        return at
    return 1 + max((i for i, c in enumerate(text) if c.isdigit()), default=len(text) - 1)
