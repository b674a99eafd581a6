"""The outline of an object on its page, before it is rotated: for painting, clipping and text wrap."""

from __future__ import annotations

from dataclasses import replace

from lexigon.core.document.model.frames import Outline
from lexigon.core.document.model.objects import Object, Pose
from lexigon.core.geometry import Polygon, Rect, ellipse_in, polygon_of, rounded_box
from lexigon.core.path.shapes import ROUND, cornered_path, ellipse_path, polygon_path, rect_path
from lexigon.core.path.steps import (
    Steps,
    area_of,
    bounds,
    data_of,
    flattened,
    in_box,
    mapped_steps,
    parts_of,
    steps_of,
)


def outline_path(outline: Outline | None, rect: Rect) -> tuple[Steps, bool]:
    """A frame's outline, and whether what lies within an even number of its rings is left out; without one its box."""
    if outline is None or (outline.kind == "polygon" and len(outline.points) < 3):
        return rect_path(rect), False
    if outline.kind == "box":
        return cornered_path(rect, outline.radii, outline.corners) if any(outline.radii) else rect_path(rect), False
    if outline.kind == "ellipse":
        return ellipse_path(rect), False
    if outline.kind == "path":
        return in_box(steps_of(outline.data), rect), outline.even_odd
    return polygon_path(tuple((rect.x + u * rect.width, rect.y + v * rect.height) for u, v in outline.points)), True


def outline_polygon(outline: Outline | None, rect: Rect) -> Polygon:
    """A frame's outline as a polygon; without one its box. Of a path's rings the largest; a line has none, but its
    box."""
    if outline is None or (outline.kind == "polygon" and len(outline.points) < 3):
        return polygon_of(rect)
    if outline.kind == "ellipse":
        return ellipse_in(rect)
    if outline.kind == "box" and outline.corners == ROUND:
        return rounded_box(rect, outline.radii)
    rings = [ring for ring in flattened(outline_path(outline, rect)[0]) if len(ring) > 2]
    largest = max(rings, key=lambda ring: abs(area_of(ring)), default=())
    return largest if abs(area_of(largest)) > 1e-6 else polygon_of(rect)


LEAST = 4.0
"""Points: the least width and height of an object's box. A path that is flatter runs along the middle of it."""


def outline_on_page(one: Object, rect: Rect) -> tuple[Steps, bool]:
    """An object's outline on the page, and whether the even-odd rule fills it."""
    steps, even_odd = outline_path(one.outline, rect)
    map_ = one.place.map if one.place else None
    return (mapped_steps(steps, map_) if map_ else steps), even_odd


def box_of(steps: Steps) -> Rect:
    """The box of an outline, with at least the size that an object has."""
    box = bounds(steps) or Rect(0.0, 0.0, 0.0, 0.0)
    across, down = max(LEAST - box.width, 0.0), max(LEAST - box.height, 0.0)
    return box.inset(-down / 2, -across / 2, -down / 2, -across / 2)


def as_path(steps: Steps, rect: Rect, even_odd: bool) -> Outline:
    """An outline as it is stored: in fractions of a box."""
    return Outline("path", data=data_of(parts_of(steps, rect), 7), even_odd=even_odd)


def reshaped(one: Object, steps: Steps, even_odd: bool) -> Object:
    """An object with another outline, given before it is turned as its old one: it stays turned as it is."""
    rect = box_of(steps)
    place = Pose.of(rect, one.place.map) if one.place and one.place.map else Pose(rect)
    return replace(one, place=place, outline=as_path(steps, rect, even_odd))


def shaped_on_page(one: Object, steps: Steps, even_odd: bool) -> Object:
    """An object with an outline given in coordinates of the page; it is upright then."""
    rect = box_of(steps)
    return replace(one, place=Pose(rect), outline=as_path(steps, rect, even_odd))
