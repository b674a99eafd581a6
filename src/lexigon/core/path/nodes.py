"""An outline as lines of nodes, each with a handle to either side, and what is done to them.

A node is smooth where its handles lie opposite each other; nothing else is remembered of it. All that changes gives new
lines."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from math import hypot
from typing import Literal

from lexigon.core.geometry import Affine, Point
from lexigon.core.path.fitting import between
from lexigon.core.path.steps import Step, Steps, is_closed, on_curve, split, subpaths

Side = Literal["before", "after"]


@dataclass(slots=True, frozen=True)
class Node:
    """A point of an outline, with the handles of the curves that reach it and leave it; None where that is straight."""

    at: Point
    before: Point | None = None
    after: Point | None = None

    @property
    def smooth(self) -> bool:
        """Its handles lie in one line, on either side of it."""
        if self.before is None or self.after is None:
            return False
        ax, ay = self.at[0] - self.before[0], self.at[1] - self.before[1]
        bx, by = self.after[0] - self.at[0], self.after[1] - self.at[1]
        both = hypot(ax, ay) * hypot(bx, by)
        return both > 0 and ax * bx + ay * by > 0 and abs(ax * by - ay * bx) < 0.02 * both

    def moved(self, map_: Affine) -> Node:
        return Node(
            map_.apply(*self.at), self.before and map_.apply(*self.before), self.after and map_.apply(*self.after)
        )

    @property
    def turned(self) -> Node:
        return Node(self.at, self.after, self.before)


@dataclass(slots=True, frozen=True)
class Line:
    """Nodes in order; of a closed line the last leads to the first."""

    nodes: tuple[Node, ...]
    closed: bool = False

    @property
    def stretches(self) -> int:
        """Return how many lines and curves lie between its nodes."""
        return len(self.nodes) if self.closed else len(self.nodes) - 1

    def stretch(self, number: int) -> tuple[Point, ...]:
        """The line (two points) or curve (four) after the node of this number."""
        one, other = self.nodes[number], self.nodes[(number + 1) % len(self.nodes)]
        if one.after is None and other.before is None:
            return one.at, other.at
        return one.at, one.after or one.at, other.before or other.at, other.at


Lines = tuple[Line, ...]
Place = tuple[int, int]
"""A subpath, and a node in it, or the segment after that."""


class NodeError(ValueError):
    """The operation is not possible with these nodes; the message says why."""


def lines_of(steps: Steps) -> Lines:
    """The lines of an outline. A closed one that ends where it began has one node there."""
    lines = []
    for subpath in subpaths(steps):
        nodes: list[Node] = []
        for step, points in subpath:
            if step in "ML":
                nodes.append(Node(points[0]))
            elif step == "C":
                first, second, at = points
                if first != nodes[-1].at:
                    nodes[-1] = replace(nodes[-1], after=first)
                nodes.append(Node(at, second if second != at else None))
        closed = is_closed(subpath)
        if closed and len(nodes) > 1 and _near(nodes[0].at, nodes[-1].at):
            last = nodes.pop()
            nodes[0] = replace(nodes[0], before=last.before)
        lines.append(Line(tuple(nodes), closed))
    return tuple(lines)


def steps_of_lines(lines: Iterable[Line]) -> Steps:
    steps: list[Step] = []
    for line in lines:
        if not line.nodes:
            continue
        steps.append(("M", (line.nodes[0].at,)))
        for number in range(line.stretches):
            stretch = line.stretch(number)
            if len(stretch) == 4 or number < len(line.nodes) - 1:
                steps.append(("L" if len(stretch) == 2 else "C", stretch[1:]))
        if line.closed:
            steps.append(("Z", ()))
    return tuple(steps)


def _near(one: Point, other: Point) -> bool:
    return hypot(one[0] - other[0], one[1] - other[1]) < 1e-6


def _changed(lines: Lines, number: int, *new: Line) -> Lines:
    return (*lines[:number], *new, *lines[number + 1 :])


def node_at(lines: Lines, place: Place) -> Node:
    line, node = place
    if not (0 <= line < len(lines) and 0 <= node < len(lines[line].nodes)):
        raise NodeError("That node is no longer in the path.")
    return lines[line].nodes[node]


def _with(lines: Lines, new: dict[Place, Node]) -> Lines:
    return tuple(
        replace(line, nodes=tuple(new.get((a, b), node) for b, node in enumerate(line.nodes)))
        for a, line in enumerate(lines)
    )


def move(lines: Lines, places: Iterable[Place], dx: float, dy: float) -> Lines:
    """Nodes moved, with their handles."""
    map_ = Affine.move(dx, dy)
    return _with(lines, {place: node_at(lines, place).moved(map_) for place in places})


def put_handle(lines: Lines, place: Place, side: Side, to: Point, alone: bool = False) -> Lines:
    """A handle put elsewhere. At a smooth node the other one turns with it, but where it is moved ``alone``."""
    node = node_at(lines, place)
    new = replace(node, before=to) if side == "before" else replace(node, after=to)
    other = node.after if side == "before" else node.before
    if node.smooth and other is not None and not alone:
        x, y = to[0] - node.at[0], to[1] - node.at[1]
        far, length = hypot(x, y), hypot(other[0] - node.at[0], other[1] - node.at[1])
        if far:
            opposite = node.at[0] - x / far * length, node.at[1] - y / far * length
            new = replace(new, after=opposite) if side == "before" else replace(new, before=opposite)
    return _with(lines, {place: new})


def add(lines: Lines, place: Place, t: float) -> Lines:
    """Add a node on the segment after another one, at parameter ``t``; the outline stays as it is."""
    node_at(lines, place)
    number, begin = place
    line = lines[number]
    if begin >= line.stretches or not 0 < t < 1:
        raise NodeError("A node can only be added between two others.")
    end = (begin + 1) % len(line.nodes)
    stretch = line.stretch(begin)
    if len(stretch) == 2:
        nodes = (*line.nodes[: begin + 1], Node(on_curve(stretch, t)), *line.nodes[begin + 1 :])
        return _changed(lines, number, replace(line, nodes=nodes))
    first, second = split(stretch, t)
    own = list(line.nodes)
    own[begin] = replace(own[begin], after=first[1])
    own[end] = replace(own[end], before=second[2])
    own.insert(begin + 1, Node(first[3], first[2], second[1]))
    return _changed(lines, number, replace(line, nodes=tuple(own)))


SAMPLES = 24


def delete(lines: Lines, places: Iterable[Place]) -> Lines:
    """Delete nodes; one curve follows the old ones as closely as possible. A subpath that is left with one node is
    deleted."""
    for number, node in sorted(set(places), reverse=True):
        node_at(lines, (number, node))
        line = lines[number]
        lines = _changed(lines, number, *_without(line, node))
    return tuple(line for line in lines if len(line.nodes) > 1)


def _without(line: Line, gone: int) -> Sequence[Line]:
    count = len(line.nodes)
    if count <= 2 or (not line.closed and gone in (0, count - 1)):
        nodes = list(line.nodes)
        del nodes[gone]
        if nodes and not line.closed:
            if gone == 0:
                nodes[0] = replace(nodes[0], before=None)
            else:
                nodes[-1] = replace(nodes[-1], after=None)
        return (replace(line, nodes=tuple(nodes), closed=line.closed and len(nodes) > 2),)
    left, right = (gone - 1) % count, (gone + 1) % count
    own = list(line.nodes)
    one, other = line.stretch(left), line.stretch(gone)
    if len(one) == len(other) == 2:
        own[left], own[right] = replace(own[left], after=None), replace(own[right], before=None)
    else:
        points = [on_curve(one, i / SAMPLES) for i in range(SAMPLES)]
        points += [on_curve(other, i / SAMPLES) for i in range(SAMPLES + 1)]
        _, first, second, _ = between(points, _way(one), _way(tuple(reversed(other))))
        own[left], own[right] = replace(own[left], after=first), replace(own[right], before=second)
    del own[gone]
    flat = count == 3 and all(node.before is None and node.after is None for node in own)
    return (replace(line, nodes=tuple(own), closed=line.closed and not flat),)


def _way(stretch: tuple[Point, ...]) -> Point:
    """The direction in which a stretch begins, one unit long."""
    x0, y0 = stretch[0]
    for x, y in stretch[1:]:
        if far := hypot(x - x0, y - y0):
            return (x - x0) / far, (y - y0) / far
    return 1.0, 0.0


def sharpen(lines: Lines, places: Iterable[Place]) -> Lines:
    """Nodes without handles: corners between straight ends."""
    return _with(lines, {place: Node(node_at(lines, place).at) for place in places})


def smoothen(lines: Lines, places: Iterable[Place]) -> Lines:
    """Make nodes smooth: their handles are collinear, in the direction from the node before to the one after; a third
    of the way long where there were none."""
    new = {}
    for number, at in places:
        node = node_at(lines, (number, at))
        line = lines[number]
        count = len(line.nodes)
        ends = [line.nodes[n % count].at if line.closed or 0 <= n < count else None for n in (at - 1, at + 1)]
        before, after = ends[0] or node.at, ends[1] or node.at
        x, y = after[0] - before[0], after[1] - before[1]
        if not (far := hypot(x, y)):
            continue
        x, y = x / far, y / far

        def long(handle: Point | None, end: Point, node: Node = node) -> float:
            if handle is not None:
                return hypot(handle[0] - node.at[0], handle[1] - node.at[1])
            return hypot(end[0] - node.at[0], end[1] - node.at[1]) / 3

        back, on = long(node.before, before), long(node.after, after)
        new[number, at] = Node(
            node.at,
            (node.at[0] - x * back, node.at[1] - y * back) if ends[0] else None,
            (node.at[0] + x * on, node.at[1] + y * on) if ends[1] else None,
        )
    return _with(lines, new)


def cut(lines: Lines, places: Iterable[Place]) -> Lines:
    """Lines opened at nodes, each of which becomes two ends: of a closed line one, of an open one two."""
    for number, at in sorted(set(places), reverse=True):
        node = node_at(lines, (number, at))
        line = lines[number]
        head, tail = replace(node, before=None), replace(node, after=None)
        if line.closed:
            lines = _changed(lines, number, Line((head, *line.nodes[at + 1 :], *line.nodes[:at], tail)))
        elif 0 < at < len(line.nodes) - 1:
            lines = _changed(lines, number, Line((*line.nodes[:at], tail)), Line((head, *line.nodes[at + 1 :])))
    return lines


def join(lines: Lines, one: Place, other: Place) -> Lines:
    """Join two ends of open subpaths: of the same one it is closed, of two they become one. Ends at different places
    are joined by a straight segment; ends at the same place become one node."""
    for place in (one, other):
        node_at(lines, place)
        line = lines[place[0]]
        if line.closed or place[1] not in (0, len(line.nodes) - 1):
            raise NodeError("Only ends of open lines can be joined.")
    if one == other:
        raise NodeError("Select two ends to join.")
    if one[0] == other[0]:
        line = lines[one[0]]
        first, last = line.nodes[0], line.nodes[-1]
        if _near(first.at, last.at) and len(line.nodes) > 2:
            return _changed(lines, one[0], Line((replace(first, before=last.before), *line.nodes[1:-1]), True))
        return _changed(lines, one[0], replace(line, closed=True))
    left, right = lines[one[0]], lines[other[0]]
    if one[1] == 0:
        left = reversed_line(left)
    if other[1] != 0:
        right = reversed_line(right)
    if _near(left.nodes[-1].at, right.nodes[0].at):
        middle = replace(left.nodes[-1], after=right.nodes[0].after)
        joined = Line((*left.nodes[:-1], middle, *right.nodes[1:]))
    else:
        joined = Line((*left.nodes, *right.nodes))
    low, high = sorted((one[0], other[0]))
    return _changed(_changed(lines, high), low, joined)


def reversed_line(line: Line) -> Line:
    """The same line the other way round; a closed one begins at the same node."""
    nodes = tuple(node.turned for node in reversed(line.nodes))
    return replace(line, nodes=(*nodes[-1:], *nodes[:-1]) if line.closed else nodes)


def reverse(lines: Lines, numbers: Iterable[int]) -> Lines:
    turned = set(numbers)
    return tuple(reversed_line(line) if number in turned else line for number, line in enumerate(lines))
