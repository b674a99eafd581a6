"""Ink coverage: a painter that draws nothing, and reports for every painted object its inks at their strongest, with
its bounds.

Checks ask it (total ink, spots by count, text too near an edge), and what must be known before a picture is made of
part of a page."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from math import hypot, sqrt

from lexigon.core.colour.colours import ALL, Colour, Gradient, Paint
from lexigon.core.geometry import Affine, Rect
from lexigon.core.paint.items import MITER_LIMIT, Glyphs, Group, Item, Path, Picture, paint
from lexigon.core.path.steps import flattened

PROCESS = ("Cyan", "Magenta", "Yellow", "Black")
LIGHT = "RGB"
"""What is given as light, or as CIE Lab, and not yet separated."""


@dataclass(slots=True, frozen=True)
class Mark:
    """Something that is painted. ``bounds`` are points on the page and may be a little wide: of curves their handles
    count, of words the whole height of their type. ``owner`` is the id of the frame it belongs to."""

    inks: Mapping[str, float]
    bounds: Rect
    owner: str = ""
    total: float = 0.0
    """The most ink in one place; 1 is one full ink. RGB counts as nothing: profiles limit its ink to what paper can
    take."""


def inks_of(fill: Paint) -> dict[str, float]:
    """The inks of a colour; of a gradient each as strong as it gets."""
    if isinstance(fill, Colour):
        if fill.spot == ALL:
            return dict.fromkeys(PROCESS, fill.strength) if fill.strength else {}
        if fill.spot:
            return {fill.spot: fill.strength} if fill.strength else {}
        if fill.space != "cmyk":
            return {LIGHT: 1.0}
        return {ink: value for ink, value in zip(PROCESS, fill.components, strict=True) if value}
    inks: dict[str, float] = {}
    for _, colour in fill.stops:
        for ink, value in inks_of(colour).items():
            inks[ink] = max(inks.get(ink, 0.0), value)
    return inks


def total_of(fill: Paint) -> float:
    """All inks of a colour together; of a gradient, which is even between its stops, those of its strongest stop."""
    if isinstance(fill, Colour):
        return sum(value for ink, value in inks_of(fill).items() if ink != LIGHT)
    return max(total_of(colour) for _, colour in fill.stops)


@dataclass(slots=True)
class CoveragePainter:
    """Collects the ``marks`` of a display list, in the order in which they are painted."""

    marks: list[Mark] = field(default_factory=list)
    bare: bool = False
    """Areas without ink are included: paper hides what is below them."""
    _maps: list[Affine] = field(default_factory=lambda: [Affine()])
    _owners: list[str] = field(default_factory=lambda: [""])

    def begin(self, group: Group) -> None:
        self._maps.append(group.transform.then(self._maps[-1]) if group.transform else self._maps[-1])
        own = group.owner.id if group.owner and group.owner.kind == "frame" else ""
        self._owners.append(own or self._owners[-1])
        if group.shadow is not None:
            colour = group.shadow.colour.at(group.shadow.opacity)
            self._add(inks_of(colour), group.shadow.reach, total_of(colour))

    def end(self, group: Group) -> None:
        self._maps.pop()
        self._owners.pop()

    def path(self, path: Path) -> None:
        inks = inks_of(path.fill) if path.fill else {}
        half, total = 0.0, total_of(path.fill) if path.fill else 0.0
        if path.pen:
            total = max(total, total_of(path.pen.colour))
            half = path.pen.weight / 2 * _spread(path)
            for ink, value in inks_of(path.pen.colour).items():
                inks[ink] = max(inks.get(ink, 0.0), value)
        points = [point for _, some in path.steps for point in some]
        if points and (inks or (self.bare and (path.fill or path.pen))):
            xs, ys = [x for x, _ in points], [y for _, y in points]
            self._add(
                inks,
                Rect(min(xs) - half, min(ys) - half, max(xs) - min(xs) + 2 * half, max(ys) - min(ys) + 2 * half),
                total,
            )

    def glyphs(self, glyphs: Glyphs) -> None:
        run, face = glyphs.run, glyphs.run.look.cut.face
        size = run.look.size / face.upem
        base = glyphs.baseline - run.look.rise
        head, foot = face.ascent * size, face.descent * size
        self._add(inks_of(glyphs.colour), Rect(run.x, base - head, run.width, head + foot), total_of(glyphs.colour))

    def picture(self, picture: Picture) -> None:
        """Add every ink that the picture may have, at its maximum: its pixels are not examined, nor counted in the
        total."""
        if picture.look.ramped:
            inks: dict[str, float] = {}
            for colour in picture.look.colours:
                for ink, strength in inks_of(colour).items():
                    inks[ink] = max(inks.get(ink, 0.0), strength)
        else:
            space = "grey" if picture.look.inks == "grey" else picture.space
            inks = {"cmyk": dict.fromkeys(PROCESS, 1.0), "grey": {"Black": 1.0}, "rgb": {LIGHT: 1.0}}[space]
        corners = [picture.map.apply(x, y) for x in (0.0, 1.0) for y in (0.0, 1.0)]
        xs, ys = [x for x, _ in corners], [y for _, y in corners]
        self._add(inks, Rect(min(xs), min(ys), max(xs) - min(xs), max(ys) - min(ys)), 0.0)

    def _add(self, inks: Mapping[str, float], rect: Rect, total: float) -> None:
        map_ = self._maps[-1]
        corners = [map_.apply(x, y) for x in (rect.x, rect.right) for y in (rect.y, rect.foot)]
        xs, ys = [x for x, _ in corners], [y for _, y in corners]
        self.marks.append(
            Mark(inks, Rect(min(xs), min(ys), max(xs) - min(xs), max(ys) - min(ys)), self._owners[-1], total)
        )


SMOOTH = 1.05
"""Of a mitre: less comes from a curve in short lines."""


def _spread(path: Path) -> float:
    """Return how far a line reaches beyond its outline, in halves of its weight: at sharp corners as far as their
    mitres."""
    assert path.pen is not None
    most = sqrt(2.0) if path.pen.cap == "square" else 1.0
    if path.pen.join != "miter":
        return most
    for ring in flattened(path.steps, 4):
        for (x0, y0), (x1, y1), (x2, y2) in zip(ring, (*ring[1:], *ring[:1]), (*ring[2:], *ring[:2]), strict=True):
            a, b = hypot(x0 - x1, y0 - y1), hypot(x2 - x1, y2 - y1)
            upright = (x0 == x1 or y0 == y1) and (x2 == x1 or y2 == y1)  # of a box's corner the half is enough
            if a and b and not upright:
                inner = ((x0 - x1) * (x2 - x1) + (y0 - y1) * (y2 - y1)) / (a * b)
                long = sqrt(2 / max(1 - inner, 1e-9))  # 1 / sin(half the angle)
                most = max(most, long if SMOOTH < long <= MITER_LIMIT else 1.0)
    return most


def reach_of(items: Iterable[Item]) -> Rect | None:
    """The box round all that a display list paints, be it with ink or not; None where it paints nothing."""
    painter = CoveragePainter(bare=True)
    paint(items, painter)
    boxes = [mark.bounds for mark in painter.marks]
    if not boxes:
        return None
    x, y = min(box.x for box in boxes), min(box.y for box in boxes)
    return Rect(x, y, max(box.right for box in boxes) - x, max(box.foot for box in boxes) - y)


def coverage(items: Iterable[Item]) -> list[Mark]:
    """Return the painted areas of a display list. Clipped parts count as visible."""
    painter = CoveragePainter()
    paint(items, painter)
    return painter.marks


def colours_of(items: Iterable[Item]) -> Iterator[Colour]:
    """Every colour that items are painted in."""
    for item in items:
        if isinstance(item, Group):
            if item.shadow is not None:
                yield item.shadow.colour
            yield from colours_of(item.items)
        elif isinstance(item, Path):
            if isinstance(item.fill, Gradient):
                yield from (colour for _, colour in item.fill.stops)
            elif item.fill is not None:
                yield item.fill
            if item.pen is not None:
                yield item.pen.colour
        elif isinstance(item, Glyphs):
            yield item.colour
        else:
            yield from item.look.colours
