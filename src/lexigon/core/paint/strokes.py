"""Drawn lines as items: with their caps and corners, on one side of an outline, with what they begin and end with."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace
from math import hypot

from lexigon.core.colour.colours import Colour
from lexigon.core.colour.palette import Palette
from lexigon.core.document.model import Fill, Stroke
from lexigon.core.document.model.frames import Way
from lexigon.core.geometry import Affine, Point, Rect
from lexigon.core.paint.items import Glyphs, Group, Item, Path, Pen, Picture
from lexigon.core.path.shapes import ellipse_path, line_path, polygon_path
from lexigon.core.path.steps import Step, Steps, bounds, is_closed, mapped_steps, on_curve, segments, split, subpaths


def pen_of(stroke: Stroke, palette: Palette) -> Pen:
    return Pen(
        stroke.weight or 0.0, palette.stroke(stroke), stroke.dash or (), stroke.cap or "butt", stroke.join or "miter"
    )


def fill_and_stroke(
    palette: Palette,
    steps: Steps,
    rect: Rect,
    fill: Fill | None = None,
    stroke: Stroke | None = None,
    even_odd: bool = False,
    way: Way = (),
) -> list[Item]:
    """An outline within a box, filled and drawn as the job says, in colours; ``way`` is where a gradient goes, set by
    hand."""
    paint = palette.fill(fill, rect, way) if fill else None
    if stroke is None or not stroke.weight:
        return [Path(steps, paint, None, even_odd)] if paint else []
    if _plain(stroke, steps):
        return [Path(steps, paint, pen_of(stroke, palette), even_odd)]
    filled: list[Item] = [Path(steps, paint, None, even_odd)] if paint else []
    return [*filled, *ruled(palette, steps, stroke, even_odd)]


def ruled(palette: Palette, steps: Steps, stroke: Stroke, even_odd: bool = False) -> list[Item]:
    """A line drawn as the job says."""
    if not stroke.weight:
        return []
    pen = pen_of(stroke, palette)
    if _plain(stroke, steps):
        return [Path(steps, pen=pen)]
    if all(is_closed(one) for one in subpaths(steps)):
        return [_aside(steps, pen, stroke.align or "centre", even_odd)]
    lines: list[Step] = []
    heads: list[Item] = []
    for subpath in subpaths(steps):
        if is_closed(subpath):
            lines += subpath
            continue
        own, ends = _ended(subpath, stroke, pen)
        lines += own
        heads += ends
    return [*([Path(tuple(lines), pen=pen)] if lines else []), *heads]


def _plain(stroke: Stroke, steps: Steps) -> bool:
    """Nothing of a line is said but what its pen is."""
    if all(is_closed(one) for one in subpaths(steps)):
        return stroke.align in (None, "centre")
    return {stroke.begin, stroke.end} <= {None, "none"}


def _aside(steps: Steps, pen: Pen, align: str, even_odd: bool) -> Item:
    """A line inside or outside of what it goes round: twice as heavy, with its other half cut off."""
    path = Path(steps, pen=replace(pen, weight=2 * pen.weight))
    if align == "inside":
        return Group((path,), clip=steps, even_odd=even_odd)
    box = bounds(steps)
    assert box is not None
    out = 2 * pen.weight * 10 + 10
    around = box.inset(-out, -out, -out, -out)
    frame = polygon_path(
        ((around.x, around.y), (around.right, around.y), (around.right, around.foot), (around.x, around.foot))
    )
    return Group((path,), clip=(*frame, *steps), even_odd=True)


# What lines begin and end with. Sizes are in weights of the line.

LONG, BROAD = 4.0, 3.2
"""Of an arrow: how long and how broad (common practice, no source)."""


def _ended(subpath: Steps, stroke: Stroke, pen: Pen) -> tuple[Steps, list[Item]]:
    """An open line with what it begins and ends with; where that is pointed the line gives way to it."""
    curves = [curve for curve in segments(subpath) if curve[0] != curve[-1]]
    if not curves:
        return (), []
    heads: list[Item] = []
    for kind, at_end in ((stroke.begin, False), (stroke.end, True)):
        if kind in (None, "none"):
            continue
        curves = [tuple(reversed(curve)) for curve in reversed(curves)] if at_end else curves
        tip, along = curves[0][0], _direction(curves[0])
        curves = _shortened(curves, _GIVES[kind] * pen.weight)
        curves = [tuple(reversed(curve)) for curve in reversed(curves)] if at_end else curves
        heads += _head(kind, tip, along, pen)
    steps: list[Step] = [("M", (curves[0][0],))] if curves else []
    steps += [("L" if len(curve) == 2 else "C", curve[1:]) for curve in curves]
    return tuple(steps), heads


def _direction(curve: tuple[Point, ...]) -> Point:
    """The way into a curve from its begin, one unit long."""
    (x0, y0) = curve[0]
    for x, y in curve[1:]:
        if (length := hypot(x - x0, y - y0)) > 1e-9:
            return (x - x0) / length, (y - y0) / length
    return 1.0, 0.0


def _shortened(curves: list[tuple[Point, ...]], by: float) -> list[tuple[Point, ...]]:
    """Curves without their first stretch, cut where they leave a circle about their begin; none where they never do."""
    (x, y) = curves[0][0]
    if not by:
        return curves
    for number, curve in enumerate(curves):
        if hypot(curve[-1][0] - x, curve[-1][1] - y) <= by:
            continue
        low, high = 0.0, 1.0
        for _ in range(40):
            middle = (low + high) / 2
            px, py = on_curve(curve, middle)
            low, high = (middle, high) if hypot(px - x, py - y) < by else (low, middle)
        return [split(curve, high)[1], *curves[number + 1 :]]
    return []


_GIVES = {"arrow": LONG - 0.5, "barb": 0.0, "dot": 1.0, "ring": 1.5, "bar": 0.0, "diamond": 1.0}
"""By how much a line is shorter for what it ends with."""


def _head(kind: str | None, tip: Point, along: Point, pen: Pen) -> list[Item]:
    """Return the shape at the end of a line at ``tip``, in the direction ``along``."""
    w = pen.weight
    map_ = Affine(along[0] * w, along[1] * w, -along[1] * w, along[0] * w, *tip)
    solid = Pen(w, pen.colour)
    if kind == "arrow":
        triangle = polygon_path(((0.0, 0.0), (LONG, BROAD / 2), (LONG, -BROAD / 2)))
        return [Path(mapped_steps(triangle, map_), pen.colour)]
    if kind == "diamond":
        square = polygon_path(((-2.0, 0.0), (0.0, 2.0), (2.0, 0.0), (0.0, -2.0)))
        return [Path(mapped_steps(square, map_), pen.colour)]
    if kind == "dot":
        return [Path(mapped_steps(ellipse_path(Rect(-1.5, -1.5, 3.0, 3.0)), map_), pen.colour)]
    if kind == "ring":
        return [Path(mapped_steps(ellipse_path(Rect(-1.5, -1.5, 3.0, 3.0)), map_), pen=solid)]
    if kind == "bar":
        return [Path(mapped_steps(line_path(0.0, -2.0, 0.0, 2.0), map_), pen=solid)]
    barbs = polygon_path(((3.0, -2.0), (0.0, 0.0), (3.0, 2.0)), closed=False)
    return [Path(mapped_steps(barbs, map_), pen=replace(solid, cap="butt"))]


def overprinting(items: Iterable[Item]) -> list[Item]:
    """The same, printed over what lies below."""
    return recoloured(items, lambda colour: replace(colour, overprint=True))


def recoloured(items: Iterable[Item], change: Callable[[Colour], Colour]) -> list[Item]:
    """Paths, in groups or not, with another colour each; gradients stay."""
    items_: list[Item] = []
    for item in items:
        if isinstance(item, Group):
            items_.append(replace(item, items=tuple(recoloured(item.items, change))))
        elif isinstance(item, Glyphs | Picture):
            items_.append(item)
        else:
            fill = change(item.fill) if isinstance(item.fill, Colour) else item.fill
            pen = replace(item.pen, colour=change(item.pen.colour)) if item.pen else None
            items_.append(replace(item, fill=fill, pen=pen))
    return items_
