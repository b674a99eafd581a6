"""What stands on a page: its frames, their lines, and the runs of words on each line; and the display list they make.

All positions are in points from the page's top left trim corner; ``baseline`` grows downward.
"""

from __future__ import annotations

from dataclasses import dataclass, field

from lexigon.core.colour.palette import Palette
from lexigon.core.geometry import Rect, turned_about
from lexigon.core.job.model import Frame, Side
from lexigon.core.paint.items import Glyphs, Group, Item, Owner, Path
from lexigon.core.type.line import LineRun


@dataclass(slots=True, frozen=True)
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
    """Of the measure it stands in."""
    ratio: float
    runs: tuple[LineRun, ...]
    forced: bool = False
    """It ends with a forced break."""
    starts: str = ""
    """Where its paragraph must begin, on its first line: ``page``, ``recto``, ``column``."""

    def group(self, palette: Palette) -> Group:
        colours = ((run, run.look.spec) for run in self.runs)
        made = tuple(Glyphs(run, self.baseline, palette.colour(spec.swatch, spec.tint)) for run, spec in colours)
        return Group(made, owner=Owner("line", self.paragraph))


@dataclass(slots=True, frozen=True)
class Overset:
    """Text behind the last line that has a place."""

    words: int
    lines: int


@dataclass(slots=True)
class FrameArt:
    frame: Frame
    rect: Rect
    inherited: bool
    """The master's frame, not taken over by this page."""
    story: str | None
    number: int
    """Its place in the story's flow, from 1; 0 where the story has one frame only."""
    lines: list[LineArt]
    under: list[Path]
    """What is drawn under its words and turned with them: shading, rules, lines under and through words."""
    ground: list[Path] = field(default_factory=list)
    """Its own surface and edge."""
    overset: Overset | None = None
    is_field: bool = False
    """Its text is made from fields (running heads, folios) and is edited on the master."""

    def group(self, palette: Palette) -> Group:
        """The frame as it is painted: its ground, what is under its words, its words line by line."""
        contents: tuple[Item, ...] = (*self.under, *(line.group(palette) for line in self.lines))
        if self.frame.turn and contents:
            contents = (Group(contents, turned_about(self.rect, self.frame.turn)),)
        turn = turned_about(self.rect, self.frame.rotation) if self.frame.rotation else None
        return Group((*self.ground, *contents), turn, owner=Owner("frame", self.frame.id))


@dataclass(slots=True)
class PageArt:
    index: int
    label: str
    side: Side
    width: float
    height: float
    frames: list[FrameArt]
    palette: Palette

    @property
    def items(self) -> tuple[Group, ...]:
        """The page's display list."""
        return tuple(frame.group(self.palette) for frame in self.frames)
