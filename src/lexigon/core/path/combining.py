"""Outlines united, cut out of each other, divided, and moved outward: by Skia's path operations.

Where Skia gives up, which some curves that all but touch make it do, GEOS does the same with the curves in short lines.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from itertools import pairwise
from typing import Any, Literal

from lexigon.core.geometry import Point
from lexigon.core.path.shapes import polygon_path
from lexigon.core.path.steps import Step, Steps, area_of, flattened, subpaths

How = Literal["unite", "subtract", "intersect", "exclude"]
Shape = tuple[Steps, bool]
"""An outline, and whether what lies within an even number of its rings is left out."""

LEAST = 1e-3
"""Square points: what is smaller is a crumb of the reckoning, and no piece."""


def combined_shapes(shapes: Sequence[Shape], how: How) -> Steps:
    """All outlines as one, wound so that either way of counting fills the same. To ``subtract`` takes the others out of
    the first; ``exclude`` leaves what lies in an odd number of them. Open lines count as if they were closed."""
    result, *others = (normal(one) for one in shapes)
    for other in others:
        result = _operated(result, other, how)
    return without_crumbs(result)


def pieces_of(shapes: Sequence[Shape]) -> list[tuple[Steps, int]]:
    """The pieces into which outlines cut each other, each whole, with the number of the topmost (last) one it lies
    in."""
    pieces: list[tuple[Steps, int]] = []
    for number, shape in enumerate(shapes):
        own = normal(shape)
        cut: list[tuple[Steps, int]] = []
        for piece, was in pieces:
            cut.append((_operated(piece, own, "subtract"), was))
            cut.append((_operated(piece, own, "intersect"), number))
        rest = own
        for piece, _ in pieces:
            rest = _operated(rest, piece, "subtract")
        pieces = [one for one in (*cut, (rest, number)) if without_crumbs(one[0])]
    return [(part, number) for piece, number in pieces for part in parts_apart(without_crumbs(piece))]


def normal(shape: Shape) -> Steps:
    """An outline without crossings of itself, filled alike by either way of counting."""
    import pathops

    steps, even_odd = shape
    try:
        path = _path(steps, even_odd)
        path.simplify(fix_winding=True, keep_starting_points=False)
        return _steps(path)
    except pathops.PathOpsError:
        return _polygonal([shape], "unite")


def offset(shape: Shape, by: float, join: Literal["miter", "round", "bevel"] = "miter") -> Steps:
    """An outline moved outward by a distance, inward if that is negative; nothing where nothing is left. An open line
    gets an outline round it."""
    import pathops

    steps, even_odd = shape
    joins = {
        "miter": pathops.LineJoin.MITER_JOIN,
        "round": pathops.LineJoin.ROUND_JOIN,
        "bevel": pathops.LineJoin.BEVEL_JOIN,
    }
    closed = [one for one in subpaths(steps) if one[-1][0] == "Z"]
    opened = [one for one in subpaths(steps) if one[-1][0] != "Z"]
    result: Steps = ()
    if closed and by:
        ground = normal((tuple(step for one in closed for step in one), even_odd))
        band = _path(ground, False)
        band.stroke(2 * abs(by), pathops.LineCap.BUTT_CAP, joins[join], 10.0)
        result = _operated(ground, _steps(band), "unite" if by > 0 else "subtract")
    elif closed:
        result = normal((tuple(step for one in closed for step in one), even_odd))
    if opened and by > 0:
        cap = pathops.LineCap.ROUND_CAP if join == "round" else pathops.LineCap.BUTT_CAP
        line = _path(tuple(step for one in opened for step in one), False)
        line.stroke(2 * by, cap, joins[join], 10.0)
        around = normal((_steps(line), False))
        result = _operated(result, around, "unite") if result else around
    return without_crumbs(result)


def parts_apart(steps: Steps) -> list[Steps]:
    """The parts of an outline that do not hang together, each with the holes in it: the largest first."""
    from shapely import Polygon as Ground

    rings = [(one, flattened(one)[0]) for one in subpaths(steps)]
    rings = sorted(((one, ring) for one, ring in rings if len(ring) > 2), key=lambda found: -abs(area_of(found[1])))
    apart: list[list[Step]] = []
    grounds: list[Any] = []  # of each part, its holes taken out
    for one, ring in rings:
        ground = Ground(ring).buffer(0)
        point = ground.representative_point()
        around = next((number for number, own in enumerate(grounds) if own.contains(point)), None)
        if around is None:
            apart.append(list(one))
            grounds.append(ground)
        else:
            apart[around] += one
            grounds[around] = grounds[around].difference(ground)
    return [tuple(one) for one in apart]


def without_crumbs(steps: Steps) -> Steps:
    """Without rings that cover nothing."""
    remaining = [
        one for one in subpaths(steps) if len(flattened(one)[0]) > 2 and abs(area_of(flattened(one)[0])) > LEAST
    ]
    return tuple(step for one in remaining for step in one)


def _operated(one: Steps, other: Steps, how: How) -> Steps:
    import pathops

    if not one or not other:
        return {"unite": one or other, "exclude": one or other, "subtract": one, "intersect": ()}[how]
    kinds = {
        "unite": pathops.PathOp.UNION,
        "subtract": pathops.PathOp.DIFFERENCE,
        "intersect": pathops.PathOp.INTERSECTION,
        "exclude": pathops.PathOp.XOR,
    }
    try:
        result = pathops.op(
            _path(one, False), _path(other, False), kinds[how], fix_winding=True, keep_starting_points=False
        )
        return _steps(result)
    except pathops.PathOpsError:
        return _polygonal([(one, False), (other, False)], how)


def _polygonal(shapes: Iterable[Shape], how: How) -> Steps:
    """The same by GEOS, of outlines whose curves are lines."""
    from shapely import Polygon as Ground
    from shapely import make_valid

    def ground_of(shape: Shape) -> Any:
        area: Any = Ground()
        for ring in flattened(shape[0], 32):
            if len(ring) > 2:
                own = make_valid(Ground(ring))
                area = area.symmetric_difference(own) if shape[1] else area.union(own)
        return area

    area, *others = (ground_of(shape) for shape in shapes)
    for other in others:
        area = getattr(
            area,
            {
                "unite": "union",
                "subtract": "difference",
                "intersect": "intersection",
                "exclude": "symmetric_difference",
            }[how],
        )(other)
    steps: list[Step] = []
    for part in getattr(area, "geoms", [area]):
        if part.geom_type == "Polygon" and not part.is_empty:
            for ring in (part.exterior, *part.interiors):
                steps += polygon_path([(float(x), float(y)) for x, y in ring.coords[:-1]])
    return tuple(steps)


def _path(steps: Steps, even_odd: bool) -> Any:
    import pathops

    path = pathops.Path(fillType=pathops.FillType.EVEN_ODD if even_odd else pathops.FillType.WINDING)
    write = {"M": path.moveTo, "L": path.lineTo, "C": path.cubicTo}
    for step, points in steps:
        if step == "Z":
            path.close()
        else:
            write[step](*(value for point in points for value in point))
    return path


def _steps(path: Any) -> Steps:
    """Skia's path as steps; its parabolas are cubics with handles at two thirds of the way."""
    path.convertConicsToQuads(0.01)
    steps: list[Step] = []
    at: Point = (0.0, 0.0)
    for verb, points in path.segments:
        if verb == "moveTo":
            steps.append(("M", (points[0],)))
        elif verb == "lineTo":
            steps.append(("L", (points[0],)))
        elif verb == "curveTo":
            steps.append(("C", points))
        elif verb == "qCurveTo":
            off = list(points[:-1])
            middles = [_between(*pair) for pair in pairwise(off)]
            last = points[-1]
            if last is None:  # a ring of parabolas, whose ends are implied: it begins between its last and first handle
                last = at = _between(off[-1], off[0])
                steps.append(("M", (at,)))
            begin = at
            for control, end in zip(off, [*middles, last], strict=True):
                steps.append(("C", (_two_thirds(begin, control), _two_thirds(end, control), end)))
                begin = end
        elif verb == "closePath":
            steps.append(("Z", ()))
        if points and points[-1] is not None:
            at = points[-1]
    return tuple(steps)


def _between(one: Point, other: Point) -> Point:
    return (one[0] + other[0]) / 2, (one[1] + other[1]) / 2


def _two_thirds(end: Point, control: Point) -> Point:
    return end[0] + (control[0] - end[0]) * 2 / 3, end[1] + (control[1] - end[1]) * 2 / 3
