"""The art of a page: its frames, their lines, and the runs of text on each line; and the display list that they make.

All positions are in points from the page's top left trim corner; ``baseline`` grows downward.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from typing import Literal

from lexigon.core.blending import Blend
from lexigon.core.colour.palette import Palette
from lexigon.core.document.model import Layer, Object, Shadow, Side
from lexigon.core.document.outlines import outline_path
from lexigon.core.flow.overset import Overset
from lexigon.core.geometry import Affine, Rect, turned_about
from lexigon.core.paint.along import along
from lexigon.core.paint.items import Fade, Glyphs, Group, Item, Owner, Picture
from lexigon.core.paint.shadows import shadowed
from lexigon.core.path.running import Run, run_of
from lexigon.core.path.steps import Steps
from lexigon.core.type.line import LineRun

NO_SHADOW = Shadow()


@dataclass(slots=True, unsafe_hash=True)
class LineArt:
    """A line: the paragraph it belongs to, the text it shows, its box for carets, its runs."""

    paragraph: str
    start: int
    end: int
    last: bool
    """The paragraph ends with this line."""
    x: float
    baseline: float
    ascent: float
    descent: float
    width: float
    """Of the measure that contains it."""
    ratio: float
    runs: tuple[LineRun, ...]
    forced: bool = False
    """It ends with a forced break."""
    starts: str = ""
    """Where its paragraph must begin, on its first line: ``page``, ``recto``, ``column``."""
    table: str = ""
    """It is rows of a table, by its id."""

    def group(self, palette: Palette) -> Group:
        colours = ((run, run.look.spec) for run in self.runs)
        items = tuple(
            Glyphs(run, self.baseline, palette.colour(spec.swatch, spec.tint))
            for run, spec in colours
            if run.box is None
        )
        return Group(items, owner=Owner("line", self.paragraph))


@dataclass(slots=True, frozen=True)
class CellArt:
    """The cell of a table that something is: its position in the grid, the number of rows and columns, the length of
    its lines, and whether words of it are before or after it in another column."""

    row: int
    column: int
    across: int
    down: int
    rows: int
    columns: int
    room: float
    before: bool = False
    behind: bool = False


@dataclass(slots=True)
class FrameArt:
    frame: Object
    rect: Rect
    inherited: bool
    """The master's frame, not taken over by this page."""
    story: str | None
    number: int
    """Its place in the story's flow, from 1; 0 where the story has one frame only."""
    lines: list[LineArt]
    under: list[Item]
    """What is drawn under its words and turned with them: shading, rules, lines under and through words."""
    ground: list[Item] = field(default_factory=list)
    """Its own surface and edge."""
    picture: Picture | None = None
    """The picture it shows, cut off by its outline."""
    above: list[Item] = field(default_factory=list)
    """What is drawn above a picture: the frame's stroke, or the mark of a missing file; and a code."""
    shadow: Shadow = NO_SHADOW
    opacity: float = 1.0
    soft_edge: float = 0.0
    blend: Blend = "normal"
    """How all of it is mixed with what lies below."""
    filled: bool = False
    stroke: float = 0.0
    """The weight of its stroke in points; 0 for none."""
    overprint: bool = False
    """The inks of its surface and edge leave those below it."""
    overset: Overset | None = None
    is_field: bool = False
    """Its text is made from fields (running heads, folios) and is edited on the master."""
    role: Literal["", "note", "inlay", "cell"] = ""
    """Whether it is a note at the foot of a column, anchored in a line, or a cell of a table."""
    cited: tuple[str, str, int] | None = None
    """Where a note is cited, or a table is anchored: the story, the paragraph, the offset after its number or after
    it."""
    cell: CellArt | None = None
    beyond: Affine | None = None
    """The rotation of its frame."""
    within: list[FrameArt] = field(default_factory=list)
    """The frames in its lines and the notes below them, painted over it."""
    drawing: str | None = None
    """How it was drawn, of a shape that is drawn so as long as it is the same."""

    def group(self, palette: Palette) -> Group:
        """The frame as it is painted: its ground, what is under its words, its words line by line."""
        contents: tuple[Item, ...] = (*self.under, *(line.group(palette) for line in self.lines))
        text = self.frame.text
        if text is not None and text.along:
            run = self.runs_along
            line = self.lines[0] if self.lines else None
            contents = tuple(along(line.runs, self.rect.x, text, run, palette)) if run and line else ()
        elif self.frame.turn and contents:
            contents = (Group(contents, turned_about(self.rect, self.frame.turn)),)
        if self.picture is not None:
            clip, even_odd = outline_path(self.frame.outline, self.rect)
            contents = (Group((self.picture,), clip=clip, even_odd=even_odd), *contents)
        owner = Owner("frame", self.frame.id)
        whole = Group(
            (*self.ground, *contents, *self.above),
            self.map,
            opacity=self.opacity,
            blend=self.blend,
            owner=owner,
            fade=self._fade(),
        )
        return shadowed(whole, self.shadow, palette)

    def _fade(self) -> Fade | None:
        """Return how its edge fades out, where it does: at most so far that its middle is seen."""
        width = min(self.soft_edge, self.rect.width / 2, self.rect.height / 2)
        if width <= 0:
            return None
        steps, even_odd = outline_path(self.frame.outline, self.rect)
        return Fade(steps, even_odd, width, self.rect)

    @property
    def runs_along(self) -> Run | None:
        """Return what its words run along, where they do."""
        text = self.frame.text
        return run_of(outline_path(self.frame.outline, self.rect)[0]) if text is not None and text.along else None

    @property
    def words_map(self) -> Affine | None:
        """From where its words are set to the page; ``None`` where they stand as they are set."""
        turned = turned_about(self.rect, self.frame.turn) if self.frame.turn else None
        map_ = self.map
        return turned.then(map_) if turned and map_ else turned or map_

    @property
    def map(self) -> Affine | None:
        """From its upright box to the page; ``None`` where it stands as it is."""
        map_ = self.frame.place.map if self.frame.place else None
        return map_.then(self.beyond) if map_ and self.beyond else map_ or self.beyond


@dataclass(slots=True)
class GroupArt:
    """A group, and what is seen of what it holds."""

    object: Object
    parts: list[FrameArt | GroupArt]
    shadow: Shadow = NO_SHADOW

    def group(self, palette: Palette, printed: bool = False) -> Group:
        group = self.object.group
        assert group is not None
        clip: Steps = ()
        even_odd = False
        transform = None
        parts = painted(self.parts, palette, printed)
        if group.clip is not None and self.object.place is not None:
            clip, even_odd = outline_path(group.clip, self.object.place.rect)
            if transform := self.object.place.map:  # the outline is turned, and what it cuts off is not
                back = transform.inverse()
                assert back is not None
                parts = (Group(parts, back),)
        whole = Group(parts, transform, clip, even_odd, group.opacity, group.blend)
        return shadowed(whole, self.shadow, palette)


def painted(parts: Iterable[FrameArt | GroupArt], palette: Palette, printed: bool) -> tuple[Group, ...]:
    """The display list of frames and groups; with ``printed`` of those only that print."""
    return tuple(
        part.group(palette, printed) if isinstance(part, GroupArt) else part.group(palette)
        for part in parts
        if not printed or (part.object if isinstance(part, GroupArt) else part.frame).prints
    )


@dataclass(slots=True)
class LayerArt:
    layer: Layer
    parts: list[FrameArt | GroupArt]


@dataclass(slots=True)
class PageArt:
    """``layers`` are the visible layers with objects on this page, the lowest first."""

    index: int
    label: str
    side: Side
    width: float
    height: float
    layers: list[LayerArt]
    palette: Palette

    @property
    def frames(self) -> list[FrameArt]:
        """The frames in the order in which they are painted."""
        return [frame for layer in self.layers for frame in _frames(layer.parts)]

    def items(self, printed: bool = False) -> tuple[Group, ...]:
        """The page's display list; with ``printed`` without what does not print."""
        groups: list[Group] = []
        for art in self.layers:
            if printed and not art.layer.prints:
                continue
            parts = painted(art.parts, self.palette, printed)
            groups += parts if art.layer.opacity == 1.0 else (Group(parts, opacity=art.layer.opacity),)
        return tuple(groups)


def _frames(parts: Iterable[FrameArt | GroupArt]) -> Iterator[FrameArt]:
    for part in parts:
        if isinstance(part, GroupArt):
            yield from _frames(part.parts)
        else:
            yield part
