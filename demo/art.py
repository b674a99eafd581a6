"""What the small pieces are drawn with: the observatory's inks, grounds, rules, and a bird."""

from __future__ import annotations

from lexigon.core.document.model import Fill, FrameSpec, Gradient, Outline, Stop, Stroke, Swatch
from lexigon.core.editing.intents import AddPath, AddRule, AddShape, ChangeFrame, OrderObjects
from lexigon.core.editing.intents.objects.selection import Chosen
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Affine, Rect
from lexigon.core.path.steps import data_of, mapped_steps, steps_of

NIGHT, DUSK, LAMP, MIST, REED = "night", "dusk", "lamp", "mist", "reed"
INKS = (
    Swatch(NIGHT, "Night", "cmyk", (0.95, 0.72, 0.38, 0.4)),
    Swatch(DUSK, "Dusk", "cmyk", (0.6, 0.5, 0.2, 0.1)),
    Swatch(LAMP, "Lamp", "cmyk", (0.0, 0.24, 0.8, 0.0)),
    Swatch(MIST, "Mist", "cmyk", (0.1, 0.03, 0.06, 0.0)),
    Swatch(REED, "Reed", "cmyk", (0.35, 0.12, 0.55, 0.12)),
    Swatch("nightfall", "Nightfall", "gradient", gradient=Gradient((Stop(0.0, NIGHT), Stop(1.0, DUSK)), angle=90.0)),
)
FLYING = steps_of(
    "M0 0.42C0.18 0.02 0.38 0.02 0.5 0.36C0.62 0.02 0.82 0.02 1 0.42C0.84 0.24 0.66 0.26 0.5 0.58C0.34 0.26 0.16 0.24 0"
    " 0.42Z"
)
"""A bird far off, in the unit square."""


def inked(workspace: Workspace) -> Workspace:
    """A workspace whose job has the observatory's inks."""
    workspace.job.swatches |= {ink.id: ink for ink in INKS}
    return workspace


def shape(
    workspace: Workspace,
    page: int,
    rect: Rect,
    swatch: str,
    tint: float = 1.0,
    *,
    name: str,
    outline: Outline | None = None,
    stroke: Stroke | None = None,
    opacity: float | None = None,
    behind: bool = False,
) -> str:
    """A filled shape; ``behind`` all else that stands on its page. Returns its id."""
    key = workspace.job.pages[page].id
    spec = FrameSpec(fill=Fill(swatch, tint), stroke=stroke, opacity=opacity)
    workspace.do(AddShape(key, rect, outline, spec, name))
    one = workspace.job.pages[page].objects[-1].id
    if behind:
        workspace.do(OrderObjects((Chosen(key, one),), "back"))
    return one


def bird(
    workspace: Workspace,
    page: int,
    x: float,
    y: float,
    wide: float,
    swatch: str,
    tint: float = 1.0,
    turned: float = 0.0,
) -> None:
    """A bird in flight, so wide, its left upper corner at (x, y)."""
    key = workspace.job.pages[page].id
    data = data_of(mapped_steps(FLYING, Affine(wide, 0.0, 0.0, wide * 0.6, x, y)), 3)
    workspace.do(AddPath(key, data, FrameSpec(fill=Fill(swatch, tint)), "Bird"))
    if turned:
        workspace.do(ChangeFrame(key, workspace.job.pages[page].objects[-1].id, rotation=turned % 360))


LEAF = steps_of(
    "M0.5 1C0.46 0.78 0.5 0.62 0.5 0.5C0.2 0.62 0.04 0.4 0.08 0.16C0.3 0.14 0.46 0.24 0.5 0.42C0.52 0.2 0.62 0.06 0.86 "
    "0C0.98 0.2 0.84 0.44 0.54 0.48C0.53 0.64 0.52 0.8 0.54 1Z"
)
"""A stalk with two leaves, in the unit square."""


def leaf(workspace: Workspace, page: int, x: float, y: float, wide: float, swatch: str, turned: float = 0.0) -> None:
    """A stalk with two leaves, so wide, about a point."""
    key = workspace.job.pages[page].id
    data = data_of(mapped_steps(LEAF, Affine(wide, 0.0, 0.0, wide, x - wide / 2, y - wide / 2)), 3)
    workspace.do(AddPath(key, data, FrameSpec(fill=Fill(swatch), opacity=0.85), "Leaves"))
    workspace.do(ChangeFrame(key, workspace.job.pages[page].objects[-1].id, rotation=turned % 360))


def dots(workspace: Workspace, page: int, x0: float, x1: float, y: float, swatch: str, weight: float = 2.0) -> None:
    """A dotted rule across."""
    stroke = Stroke(weight, swatch, 1.0, (0.0, weight * 2.5), cap="round")
    workspace.do(AddRule(workspace.job.pages[page].id, (x0, y), (x1, y), stroke))


def bleeding(workspace: Workspace, page: int = 0) -> Rect:
    """A page of a flat piece with its bleed."""
    width, height = workspace.job.page_size(page)
    b = workspace.job.brief.bleed
    return Rect(-b.outer, -b.head, width + 2 * b.outer, height + b.head + b.foot)
