"""Tabs: the stop a tab goes to, and how far it moves the text.

Stops are at distances from the column's left edge. After the last one set, stops follow at even distances. A hanging
indent is a stop as well: the text after a mark is aligned with the other lines.
"""

from __future__ import annotations

import re

from lexigon.core.document.cascade import Setting
from lexigon.core.document.model import TabStop
from lexigon.core.type.runs import Run

_PIECES = re.compile("[ \u00a0]|[^ \u00a0]+")
EPSILON = 0.01


def stops_of(setting: Setting, limit: float) -> list[tuple[float, TabStop]]:
    """The stops a style sets, with their distance from the left indent, in order. ``limit`` is the right edge there."""
    stops = []
    for stop in setting.tabs:
        at = limit if stop.at is None else stop.at - setting.indent_left
        if at > limit:
            if stop.align == "left":
                continue
            at = limit  # a right or decimal stop beyond the measure holds its text at the edge
        stops.append((at, stop))
    if setting.indent_first < 0:
        stops.append((0.0, TabStop(setting.indent_left)))
    return sorted(stops, key=lambda pair: pair[0])


def next_stop(setting: Setting, x: float, limit: float) -> tuple[float, TabStop] | None:
    """The stop that a tab at ``x`` goes to, both from the left indent; None if the line has none left."""
    stops = stops_of(setting, limit)
    for at, stop in stops:
        if at > x + EPSILON:
            return at, stop
    every = max(setting.tab_every, 1.0)
    at = ((x + setting.indent_left + EPSILON) // every + 1) * every - setting.indent_left
    return (at, TabStop(at)) if at < limit else None


def advance_to_stop(
    text: str, runs: list[Run], start: int, end: int, setting: Setting, x: float, limit: float
) -> tuple[float, str | None]:
    """Return how far the tab before ``text[start:end]`` moves it, standing at ``x``, and how the stop aligns it.

    The alignment is None where the line has no stop left.
    """
    next_one = next_stop(setting, x, limit)
    if next_one is None:
        return 0.0, None
    at, stop = next_one
    if stop.align == "left":
        return at - x, "left"
    if stop.align == "decimal":
        mark = text.find(stop.decimal, start, end)
        held_width = width_between(text, runs, start, mark if mark >= 0 else end)
    else:
        held_width = width_between(text, runs, start, end) / (2 if stop.align == "centre" else 1)
    return max(at - held_width - x, 0.0), stop.align


def width_between(text: str, runs: list[Run], start: int, end: int) -> float:
    """Natural width in points of a stretch of text, spaces at its ends included."""
    total = 0.0
    for run in runs:
        first, last = max(run.start, start), min(run.end, end)
        if first >= last:
            continue
        if run.box is not None:
            total += run.box.width
            continue
        at = first
        for token in _PIECES.findall(text[first:last]):
            if token in " \u00a0":
                before = text[at - 1] if at > first else ""
                after = text[at + 1] if at + 1 < last else ""
                total += run.look.space_after(before, after) if token == " " else run.look.space
            else:
                total += run.look.width(token)
            at += len(token)
    return total
