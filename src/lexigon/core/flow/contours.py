"""The visible contour of a picture in its frame, for text wrap."""

from __future__ import annotations

from functools import lru_cache

from lexigon.core.document.cropping import map_of
from lexigon.core.document.model import Job, Object
from lexigon.core.document.outlines import outline_polygon
from lexigon.core.geometry import Polygon, Rect
from lexigon.core.type.ownfonts import Find

WITHIN = 0.25
"""Points that a contour may be off."""


def contour_in(job: Job, frame: Object, rect: Rect, find: Find | None) -> Polygon | None:
    """The largest contour of a frame's picture within the frame's outline, on the page before the frame is turned; None
    where the picture has no contour, or its file is not there: text keeps clear of the frame then."""
    picture = frame.picture
    file = job.pictures.get(picture.picture) if picture else None
    path = find(file.file) if file and find else None
    if picture is None or file is None or path is None:
        return None
    # What looks at pixels is slow to load, and most jobs have no text that runs round a contour.
    from lexigon.core.picture.contour import contours_of, simplified
    from lexigon.core.picture.files import PictureError
    from lexigon.core.picture.looks import Cut

    cut = picture.adjust.cut
    try:
        rings = contours_of(path, Cut.of(cut.colour, cut.tolerance, cut.outside) if cut else None, file.page)
    except PictureError:
        return None
    if not rings:
        return None
    map_ = map_of(picture, file, rect)
    ring = simplified(tuple(map_.apply(x, y) for x, y in rings[0]), WITHIN)
    return _within(ring, outline_polygon(frame.outline, rect))


@lru_cache(256)
def _within(ring: Polygon, outline: Polygon) -> Polygon | None:
    from shapely import Polygon as Shape

    visible = Shape(ring).buffer(0).intersection(Shape(outline).buffer(0))
    parts = [part for part in getattr(visible, "geoms", [visible]) if part.geom_type == "Polygon" and not part.is_empty]
    return tuple(max(parts, key=lambda part: part.area).exterior.coords)[:-1] if parts else None
