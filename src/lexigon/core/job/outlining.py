"""The outline of an object as it lies on its page, before it is turned: for painting, for cutting off, for text to keep clear of."""

from __future__ import annotations

from lexigon.core.geometry import Polygon, Rect, ellipse_in, polygon_of, rounded_box
from lexigon.core.job.model.frames import Outline
from lexigon.core.path.shapes import ROUND, cornered_path, ellipse_path, polygon_path, rect_path
from lexigon.core.path.steps import Steps, area_of, flattened, placed_in, steps_of


def outline_path(outline: Outline | None, rect: Rect) -> tuple[Steps, bool]:
    """A frame's outline, and whether what lies within an even number of its rings is left out; without one its box."""
    if outline is None or (outline.kind == "polygon" and len(outline.points) < 3):
        return rect_path(rect), False
    if outline.kind == "box":
        return cornered_path(rect, outline.radii, outline.corners) if any(outline.radii) else rect_path(rect), False
    if outline.kind == "ellipse":
        return ellipse_path(rect), False
    if outline.kind == "path":
        return placed_in(steps_of(outline.data), rect), outline.even_odd
    return polygon_path(tuple((rect.x + u * rect.width, rect.y + v * rect.height) for u, v in outline.points)), True


def outline_polygon(outline: Outline | None, rect: Rect) -> Polygon:
    """A frame's outline as a polygon; without one its box. Of a path's rings the largest; a line has none, but its box."""
    if outline is None or (outline.kind == "polygon" and len(outline.points) < 3):
        return polygon_of(rect)
    if outline.kind == "ellipse":
        return ellipse_in(rect)
    if outline.kind == "box" and outline.corners == ROUND:
        return rounded_box(rect, outline.radii)
    rings = [ring for ring in flattened(outline_path(outline, rect)[0]) if len(ring) > 2]
    largest = max(rings, key=lambda ring: abs(area_of(ring)), default=())
    return largest if abs(area_of(largest)) > 1e-6 else polygon_of(rect)
