"""What the small pieces are drawn with: the observatory's inks, grounds, rules, and a bird."""

from __future__ import annotations

from lexigon.core.flow.desk import Desk
from lexigon.core.geometry import Affine, Rect
from lexigon.core.job.intents import AddPath, AddRule, AddShape, ChangeFrame, OrderObjects
from lexigon.core.job.intents.chosen import Chosen
from lexigon.core.job.model import Fill, FrameSpec, Gradient, Outline, Stop, Stroke, Swatch
from lexigon.core.path.steps import data_of, mapped_steps, steps_of

NIGHT, DUSK, LAMP, MIST, REED = "night", "dusk", "lamp", "mist", "reed"
INKS = (
    Swatch(NIGHT, "Night", "cmyk", (0.95, 0.72, 0.38, 0.4)), Swatch(DUSK, "Dusk", "cmyk", (0.6, 0.5, 0.2, 0.1)),
    Swatch(LAMP, "Lamp", "cmyk", (0.0, 0.24, 0.8, 0.0)), Swatch(MIST, "Mist", "cmyk", (0.1, 0.03, 0.06, 0.0)),
    Swatch(REED, "Reed", "cmyk", (0.35, 0.12, 0.55, 0.12)),
    Swatch("nightfall", "Nightfall", "gradient", gradient=Gradient((Stop(0.0, NIGHT), Stop(1.0, DUSK)), angle=90.0)),
)  # fmt: skip
FLYING = steps_of("M0 0.42C0.18 0.02 0.38 0.02 0.5 0.36C0.62 0.02 0.82 0.02 1 0.42C0.84 0.24 0.66 0.26 0.5 0.58C0.34 0.26 0.16 0.24 0 0.42Z")  # fmt: skip
"""A bird far off, in the unit square."""


def inked(desk: Desk) -> Desk:
    """A desk whose job has the observatory's inks."""
    desk.job.swatches |= {ink.id: ink for ink in INKS}
    return desk


def shape(
    desk: Desk, page: int, rect: Rect, swatch: str, tint: float = 1.0, *, name: str, outline: Outline | None = None,
    stroke: Stroke | None = None, opacity: float | None = None, behind: bool = False,
) -> str:  # fmt: skip
    """A filled shape; ``behind`` all else that stands on its page. Returns its id."""
    key = desk.job.pages[page].id
    spec = FrameSpec(fill=Fill(swatch, tint), stroke=stroke, opacity=opacity)
    desk.do(AddShape(key, rect, outline, spec, name))
    one = desk.job.pages[page].objects[-1].id
    if behind:
        desk.do(OrderObjects((Chosen(key, one),), "back"))
    return one


def bird(
    desk: Desk, page: int, x: float, y: float, wide: float, swatch: str, tint: float = 1.0, turned: float = 0.0
) -> None:
    """A bird in flight, so wide, its left upper corner at (x, y)."""
    key = desk.job.pages[page].id
    data = data_of(mapped_steps(FLYING, Affine(wide, 0.0, 0.0, wide * 0.6, x, y)), 3)
    desk.do(AddPath(key, data, FrameSpec(fill=Fill(swatch, tint)), "Bird"))
    if turned:
        desk.do(ChangeFrame(key, desk.job.pages[page].objects[-1].id, rotation=turned % 360))


LEAF = steps_of("M0.5 1C0.46 0.78 0.5 0.62 0.5 0.5C0.2 0.62 0.04 0.4 0.08 0.16C0.3 0.14 0.46 0.24 0.5 0.42C0.52 0.2 0.62 0.06 0.86 0C0.98 0.2 0.84 0.44 0.54 0.48C0.53 0.64 0.52 0.8 0.54 1Z")  # fmt: skip
"""A stalk with two leaves, in the unit square."""


def leaf(desk: Desk, page: int, x: float, y: float, wide: float, swatch: str, turned: float = 0.0) -> None:
    """A stalk with two leaves, so wide, about a point."""
    key = desk.job.pages[page].id
    data = data_of(mapped_steps(LEAF, Affine(wide, 0.0, 0.0, wide, x - wide / 2, y - wide / 2)), 3)
    desk.do(AddPath(key, data, FrameSpec(fill=Fill(swatch), opacity=0.85), "Leaves"))
    desk.do(ChangeFrame(key, desk.job.pages[page].objects[-1].id, rotation=turned % 360))


def dots(desk: Desk, page: int, x0: float, x1: float, y: float, swatch: str, weight: float = 2.0) -> None:
    """A dotted rule across."""
    stroke = Stroke(weight, swatch, 1.0, (0.0, weight * 2.5), cap="round")
    desk.do(AddRule(desk.job.pages[page].id, (x0, y), (x1, y), stroke))


def bleeding(desk: Desk, page: int = 0) -> Rect:
    """A page of a flat piece with its bleed."""
    width, height = desk.job.page_size(page)
    b = desk.job.brief.bleed
    return Rect(-b.outer, -b.head, width + 2 * b.outer, height + b.head + b.foot)
