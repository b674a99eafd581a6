"""The colour at a point of a page: the swatch of the topmost object there, or a picture and the point in it."""

from __future__ import annotations

from dataclasses import dataclass

from lexigon.core.document.cascade import FrameSetting
from lexigon.core.document.outlines import outline_path
from lexigon.core.geometry import Point
from lexigon.core.paint.items import Picture
from lexigon.core.paint.page import FrameArt, PageArt
from lexigon.core.path.steps import covers, distance


@dataclass(slots=True, frozen=True)
class Sample:
    """A swatch at a tint; or ``picture`` and where in it, in parts of its width and height."""

    swatch: str = ""
    tint: float = 1.0
    picture: Picture | None = None
    at: Point = (0.0, 0.0)


def sample(page: PageArt, settings: dict[str, FrameSetting], x: float, y: float) -> Sample | None:
    """Return what is seen at a point, in points from the page's corner; None for paper. ``settings`` are those of the
    page's frames by id. How things are mixed with what lies below them is left aside."""
    for art in reversed(page.frames):
        sample = _of(art, settings[art.frame.id], x, y) if art.frame.id in settings else None
        if sample is not None:
            return sample
    return None


def _of(art: FrameArt, setting: FrameSetting, x: float, y: float) -> Sample | None:
    words = art.words_map.inverse() if art.words_map else None
    wx, wy = words.apply(x, y) if words else (x, y)
    if not (art.frame.text and art.frame.text.along):
        for line in art.lines:
            if line.baseline - line.ascent <= wy <= line.baseline + line.descent:
                for run in line.runs:
                    if run.x <= wx <= run.x + run.width and run.text.strip() and run.box is None:
                        return Sample(run.look.spec.swatch, run.look.spec.tint)
    back = art.map.inverse() if art.map else None
    at = back.apply(x, y) if back else (x, y)
    steps, even_odd = outline_path(art.frame.outline, art.rect)
    stroke = setting.stroke
    if stroke.weight and distance(steps, at) <= stroke.weight / 2:
        return Sample(stroke.swatch or "", 1.0 if stroke.tint is None else stroke.tint)
    if not covers(steps, even_odd, at):
        return None
    if art.picture is not None and (unit := art.picture.map.inverse()) is not None:
        u, v = unit.apply(*at)
        if 0 <= u <= 1 and 0 <= v <= 1:
            return Sample(picture=art.picture, at=(u, v))
    return Sample(setting.fill.swatch, setting.fill.tint) if setting.fill.swatch else None
