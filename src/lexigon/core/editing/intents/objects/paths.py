"""Intents that draw paths and edit their nodes. Places are given in the coordinates of the page, as people point at
them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from pydantic import Discriminator

from lexigon.core.document import story_text
from lexigon.core.document.holder_keys import INLAYS
from lexigon.core.document.limits import Length, Many, Name, PathData, Within
from lexigon.core.document.model import FrameSpec, Job, Object, exchanged
from lexigon.core.document.outlines import outline_on_page, outline_path, reshaped, shaped_on_page
from lexigon.core.editing.edits import EditError, Primitive
from lexigon.core.editing.holders import Holder, holder
from lexigon.core.editing.intents.objects.frames import (
    PLAIN_RULE,
    PLAIN_SHAPE,
    check_free,
    check_place,
    new_layer,
    own_frame,
)
from lexigon.core.geometry import Affine, Point
from lexigon.core.numerals import integer
from lexigon.core.path import nodes as path_nodes
from lexigon.core.path.fitting import fitted, steps_of_curves
from lexigon.core.path.nodes import Lines, NodeError, lines_of, steps_of_lines
from lexigon.core.path.steps import Steps, flattened, is_closed, steps_of, subpaths

MOST_NODES = 20_000
PLAIN_LINE = FrameSpec(stroke=PLAIN_RULE)
Place = tuple[int, int]
"""A subpath and a node in it, or the segment after that node."""
Places = Annotated[tuple[Place, ...], Many(MOST_NODES, 1)]
Tolerance = Annotated[float, Within(0.01, 50, "The tolerance of smoothing is 0.01 to 50 pt.")]


def path_object(
    job: Job, place: Holder, steps: Steps, name: str, spec: FrameSpec | None, layer: str | None, even_odd: bool = False
) -> Object:
    """A new object of a path: one that goes round something is filled, a line is drawn."""
    if not subpaths(steps):
        raise EditError("A path has at least two points.")
    if sum(len(points) for _, points in steps) > 3 * MOST_NODES:
        raise EditError(f"A path has at most {integer(MOST_NODES)} nodes.")
    plain = PLAIN_SHAPE if any(is_closed(one) for one in subpaths(steps)) else PLAIN_LINE
    bare = Object(story_text.new_id("f"), name, layer=new_layer(job, layer), make=plain if spec is None else spec)
    shape = shaped_on_page(bare, steps, even_odd)
    assert shape.rect
    check_place(shape.rect)
    return shape


@dataclass(slots=True, frozen=True)
class AddPath:
    """A path as it was drawn on the page: steps M, L, C, Z in points from the page's corner."""

    page: str
    data: PathData
    spec: FrameSpec | None = None
    name: Name = "Path"
    layer: str | None = None
    do: Literal["add-path"] = "add-path"
    label = "Draw path"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        return place.with_new(path_object(job, place, steps_of(self.data), self.name, self.spec, self.layer))


@dataclass(slots=True, frozen=True)
class AddFreehand:
    """A line drawn by hand: as few nodes as keep within ``smooth`` points of it. One that ends near where it began is
    closed."""

    page: str
    points: Annotated[tuple[Point, ...], Many(MOST_NODES, 2)]
    smooth: Tolerance = 2.0
    closed: bool = False
    spec: FrameSpec | None = None
    name: Name = "Drawing"
    layer: str | None = None
    do: Literal["add-freehand"] = "add-freehand"
    label = "Draw freehand"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        points = (*self.points, self.points[0]) if self.closed else self.points
        curves = fitted(points, self.smooth)
        return place.with_new(
            path_object(job, place, steps_of_curves(curves, self.closed), self.name, self.spec, self.layer)
        )


# What is done to nodes


@dataclass(slots=True, frozen=True)
class MoveNodes:
    nodes: Places
    dx: Length
    dy: Length
    kind: Literal["move"] = "move"
    label = "Move nodes"

    def of(self, lines: Lines) -> Lines:
        return path_nodes.move(lines, self.nodes, self.dx, self.dy)


@dataclass(slots=True, frozen=True)
class PutHandle:
    """One handle of a node put elsewhere; at a smooth node the other turns with it, but where it is moved ``alone``."""

    node: Place
    side: Literal["before", "after"]
    to: tuple[Length, Length]
    alone: bool = False
    kind: Literal["handle"] = "handle"
    label = "Move handle"

    def of(self, lines: Lines) -> Lines:
        return path_nodes.put_handle(lines, self.node, self.side, self.to, self.alone)


@dataclass(slots=True, frozen=True)
class AddNode:
    """Add a node on the segment after another one, at parameter ``t`` of it."""

    after: Place
    t: Annotated[float, Within(0, 1, "A node can only be added between two others.")]
    kind: Literal["add"] = "add"
    label = "Add node"

    def of(self, lines: Lines) -> Lines:
        return path_nodes.add(lines, self.after, self.t)


@dataclass(slots=True, frozen=True)
class ChangeNodes:
    """Nodes to delete, to make sharp or smooth, or at which to cut their subpaths."""

    nodes: Places
    to: Literal["gone", "sharp", "smooth", "cut"]
    kind: Literal["change"] = "change"

    @property
    def label(self) -> str:
        return {"gone": "Delete nodes", "sharp": "Make nodes sharp", "smooth": "Make nodes smooth", "cut": "Cut path"}[
            self.to
        ]

    def of(self, lines: Lines) -> Lines:
        done: dict[str, Callable[..., Lines]] = {
            "gone": path_nodes.delete,
            "sharp": path_nodes.sharpen,
            "smooth": path_nodes.smoothen,
            "cut": path_nodes.cut,
        }
        return done[self.to](lines, self.nodes)


@dataclass(slots=True, frozen=True)
class JoinNodes:
    """Two ends of open lines made one."""

    one: Place
    other: Place
    kind: Literal["join"] = "join"
    label = "Join ends"

    def of(self, lines: Lines) -> Lines:
        return path_nodes.join(lines, self.one, self.other)


@dataclass(slots=True, frozen=True)
class ReverseLines:
    """Lines led the other way round: what they begin and end with changes places."""

    lines: Annotated[tuple[int, ...], Many(MOST_NODES, 1)]
    kind: Literal["reverse"] = "reverse"
    label = "Reverse path"

    def of(self, lines: Lines) -> Lines:
        return path_nodes.reverse(lines, self.lines)


@dataclass(slots=True, frozen=True)
class ExtendLine:
    """Add nodes after the end of an open subpath (before its start, from there on, for node 0), as path steps that
    start anywhere."""

    node: Place
    data: PathData
    close: bool = False
    kind: Literal["extend"] = "extend"
    label = "Continue path"

    def of(self, lines: Lines) -> Lines:
        (more,) = lines_of(steps_of(self.data)) or (None,)
        end = path_nodes.node_at(lines, self.node)
        if more is None:
            raise NodeError("There is no open line to continue.")
        first = replace(more.nodes[0], at=end.at, before=None)
        added = (*lines, replace(more, nodes=(first, *more.nodes[1:])))
        joined = path_nodes.join(added, self.node, (len(lines), 0))
        number = self.node[0]
        last = len(joined[number].nodes) - 1
        return path_nodes.join(joined, (number, 0), (number, last)) if self.close else joined


NodeChange = Annotated[
    MoveNodes | PutHandle | AddNode | ChangeNodes | JoinNodes | ReverseLines | ExtendLine, Discriminator("kind")
]


@dataclass(slots=True, frozen=True)
class EditNodes:
    """Edit the nodes of an object's outline, which becomes a path. Nodes are numbered as in ``nodes_of``; an object
    whose last nodes are deleted is deleted."""

    page: str
    object: str
    change: NodeChange
    do: Literal["edit-nodes"] = "edit-nodes"

    @property
    def label(self) -> str:
        return self.change.label

    def expand(self, job: Job) -> list[Primitive]:
        place, one, objects, edits = _worked_on(job, self.page, self.object)
        try:
            lines = self.change.of(nodes_of(place, one))
        except NodeError as error:
            raise EditError(str(error)) from error
        steps = steps_of_lines(lines)
        if not subpaths(steps):
            if one.content is not None:
                raise EditError("Without its last nodes nothing would be left of the frame. Delete the frame instead.")
            return [*edits, *place.with_objects(exchanged(objects, {one.id: ()}))]
        map_ = one.place.map if one.place else None
        if map_ is not None:
            back = map_.inverse()
            assert back is not None
            lines = moved_lines(lines, back)
            steps = steps_of_lines(lines)
        shape = reshaped(one.at(place.rect(one)), steps, outline_path(one.outline, place.rect(one))[1])
        assert shape.rect
        check_place(shape.rect)
        return [*edits, *place.with_objects(exchanged(objects, {one.id: (shape,)}))]


def moved_lines(lines: Lines, map_: Affine) -> Lines:
    return tuple(replace(line, nodes=tuple(node.moved(map_) for node in line.nodes)) for line in lines)


def nodes_of(place: Holder, one: Object) -> Lines:
    """The nodes of an object's outline, in the coordinates of the page."""
    return lines_of(outline_on_page(one, place.rect(one))[0])


def _worked_on(job: Job, page: str, key: str) -> tuple[Holder, Object, tuple[Object, ...], list[Primitive]]:
    """Return the holder of an object, the object, all objects there, and the edits needed first. Raises EditError where
    its outline cannot be changed."""
    place = holder(job, page)
    one, objects, edits = own_frame(place, key)
    check_nodes(place, one)
    check_free(job, objects, one.id)
    return place, one, objects, edits


def check_nodes(place: Holder, one: Object) -> None:
    """Raises EditError for what has no outline to work on."""
    if one.group is not None:
        raise EditError("A group has no outline. Select one of its objects.")
    if one.main or place.key == INLAYS:
        raise EditError(
            "The outline of this frame must be a box, because it is anchored in a story or contains the main story."
        )


@dataclass(slots=True, frozen=True)
class SmoothPath:
    """An object's outline with fewer nodes: it keeps within ``smooth`` points of what it was, and its corners."""

    page: str
    object: str
    smooth: Tolerance = 0.5
    do: Literal["smooth-path"] = "smooth-path"
    label = "Smooth path"

    def expand(self, job: Job) -> list[Primitive]:
        place, one, objects, edits = _worked_on(job, self.page, self.object)
        steps, even_odd = outline_path(one.outline, place.rect(one))
        lines: list[tuple[str, tuple[Point, ...]]] = []
        for subpath in subpaths(steps):
            (points,) = flattened(subpath, 24)
            closed = is_closed(subpath)
            lines += steps_of_curves(fitted((*points, points[0]) if closed else points, self.smooth, 30.0), closed)
        if not lines:
            return []
        new = reshaped(one.at(place.rect(one)), tuple(lines), even_odd)
        return [*edits, *place.with_objects(exchanged(objects, {one.id: (new,)}))]
