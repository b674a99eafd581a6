"""The contents of a column, and what filling one needs from a story: lines of paragraphs from the top down, notes and
frames from the bottom up."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import NamedTuple, Protocol

from lexigon.core.document.cascade import Setting
from lexigon.core.flow.areas import Slot
from lexigon.core.flow.note_layout import FRAME_GAP, Note, NoteBody, NoteRest, PlacedFrame
from lexigon.core.type.paragraph import Measure
from lexigon.core.type.runs import Boxed


class State(NamedTuple):
    """The lines still to be placed: those from ``line`` on that a paragraph is set in at ``measure`` from text offset
    ``base``.

    A column of another measure sets what is left of the paragraph anew, from where the last line ended.
    """

    paragraph: int
    base: int = 0
    line: int = 0
    measure: Measure = 0.0
    owed: tuple[NoteRest, ...] = ()
    """What is left of notes that had no room where they are cited."""
    afloat: tuple[Boxed, ...] = ()
    """Frames tied to what was placed, which had no room near it yet."""
    cut: tuple[State, ...] = ()
    """The places where the cells of a table's row continue whose first part was placed: this is its next line."""
    floating: tuple[int, ...] = ()
    """The figures that move to the head of the next column, in order, each by the number of its first paragraph."""

    @property
    def left(self) -> bool:
        """Return whether something must be placed although the text may be at its end."""
        return bool(self.owed or self.afloat or self.floating)


BEGIN = State(0)


class Burden(NamedTuple):
    """The notes and frames that belong to a line, or to a row of a table."""

    notes: list[str]
    """Those cited in it, in order."""
    heights: list[float]
    """How far the frames in it reach over its baseline, in points; of a row how high it is."""
    tied: list[Boxed]
    """The frames anchored to it that are placed beside it, near it or directly above it."""

    @property
    def height(self) -> float:
        return max(self.heights, default=0.0)


NO_BURDEN = Burden([], [], [])


class Flowing(Protocol):
    """The interface of a story's paragraphs to the filling of columns."""

    def __len__(self) -> int: ...
    def setting(self, index: int) -> Setting: ...
    def extent(self, index: int) -> tuple[float, float]:
        """Ascent and descent of the paragraph's own type in points."""
        ...

    def height(self, index: int, of: str) -> float:
        """Return the height of its first line above the baseline: its ``ascent``, a ``capital``, the ``x-height``."""
        ...

    def line_count(self, index: int, measure: Measure, base: int) -> int: ...
    def line_start(self, index: int, measure: Measure, base: int, line: int) -> int:
        """The text offset a line begins at."""
        ...

    def divides(self, index: int, measure: Measure, base: int, line: int) -> bool:
        """Return whether a line ends within a word."""
        ...

    def special(self, index: int) -> bool:
        """Return whether the paragraph cites notes or contains anchored frames."""
        ...

    def burdens(self, index: int, measure: Measure, base: int) -> Mapping[int, Burden]:
        """Return what lines of a paragraph carry, by their numbers; the others carry nothing."""
        ...

    def ahead(self, index: int, measure: Measure, base: int, line: int) -> float:
        """Return what is repeated above a line with which a column continues: the header rows of a table."""
        ...

    def under(self, index: int, measure: Measure, base: int, line: int) -> float:
        """Return what follows the lines of a paragraph at a column break: the foot rows of a table."""
        ...

    def over(self, index: int) -> float:
        """The room that is taken by what is said over a column which the paragraph begins, 0 where nothing is."""
        ...

    def rest(self, index: int, measure: Measure, line: int, cut: tuple[State, ...]) -> float:
        """Return how high what is left of a table's row is."""
        ...

    def divided(
        self, index: int, measure: Measure, line: int, cut: tuple[State, ...], room: float, forced: bool
    ) -> tuple[float, tuple[State, ...]] | None:
        """The height of the part of a table's row, or of its rest, that fits the room, and the places where its cells
        continue; None where it cannot be divided there. ``forced`` leaves as little as possible."""
        ...

    def unbroken(self, index: int) -> bool:
        """Return whether its lines are rows of a table: these ignore text wrap, and one too high for any column is
        placed at the top of one."""
        ...

    @property
    def has_figures(self) -> bool:
        """Return whether the story has floating figures."""
        ...

    def note(self, ref: str, width: float, owed: NoteRest | None = None) -> NoteBody | None:
        """A note as it is set in a column of this width, or what is left of it; None where there is none of that name
        that stands anywhere."""
        ...


class Fragment(Protocol):
    """Something that a column is filled with."""

    def bottom(self, story: Flowing) -> float:
        """Return how far down the column it reaches."""
        ...

    def shifted(self, down: float) -> Fragment:
        """The same further down."""
        ...


@dataclass(slots=True)
class Block:
    """Lines ``first_line`` up to ``last_line`` of a paragraph, the first one's baseline at ``baseline``."""

    paragraph: int
    first_line: int
    last_line: int
    baseline: float
    step: float
    base: int = 0
    """Text offset the lines are set from; they are counted from there."""
    measure: Measure = 0.0
    """What they are set in."""
    lines: tuple[float, ...] = ()
    """The baseline of each line, where they are not equidistant: several may share one, on both sides of an
    obstacle."""
    begun: tuple[State, ...] = ()
    """Its first line is what is left of a table's row, from here on in each cell."""
    part: float = 0.0
    """The height in points of the placed part of its last line, whose rest is in the next column; 0 where all of it is
    here."""

    def at(self, line: int) -> float:
        """The baseline of one of its lines."""
        return (
            self.lines[line - self.first_line] if self.lines else self.baseline + (line - self.first_line) * self.step
        )

    @property
    def foot(self) -> float:
        """The last line's baseline."""
        return self.at(self.last_line - 1)

    def bottom(self, story: Flowing) -> float:
        below = story.under(self.paragraph, self.measure, self.base, self.last_line)
        return self.foot + story.extent(self.paragraph)[1] + below

    def shifted(self, down: float, spread: float = 0.0) -> Block:
        """Moved down, its lines ``spread`` further apart."""
        lines = tuple(y + down + i * spread for i, y in enumerate(self.lines))
        return replace(self, baseline=self.baseline + down, step=self.step + spread, lines=lines)


BY_LINES = ("beside", "above")
"""Where frames stand that go with a line wherever it does."""


@dataclass(slots=True)
class Column:
    """A slot with its content and the states before and after it."""

    slot: Slot
    blocks: list[Block]
    begin: State
    end: State
    notes: list[Note] = field(default_factory=list)
    """At its foot."""
    margin: list[Note] = field(default_factory=list)
    """Beside it."""
    afloat: list[PlacedFrame] = field(default_factory=list)
    """Frames at its head and its foot, beside it, and above its lines."""

    over: float | None = None
    """The baseline of a line above its first that says what it continues."""

    @property
    def used(self) -> bool:
        """Return whether it has content."""
        return bool(self.blocks or self.notes or self.afloat)

    @property
    def accompanied(self) -> bool:
        """Return whether notes or frames depend on single lines of it."""
        return bool(self.margin) or any(one.at in BY_LINES for one in self.afloat)

    def text_foot(self, story: Flowing) -> float | None:
        """Return how far down its text reaches; None where there is none."""
        return self.blocks[-1].bottom(story) if self.blocks else None

    def foot(self, story: Flowing) -> float:
        """Return how far down its fragments reach; its head where there are none."""
        if not self.afloat and not self.notes:
            return self.blocks[-1].bottom(story) if self.blocks else self.slot.rect.y
        low = [one for one in self.afloat if one.at == "foot"]
        fragments: tuple[Fragment, ...] = (*self.blocks[-1:], *low[-1:], *self.notes[-1:])
        return max((one.bottom(story) for one in fragments), default=self.slot.rect.y)

    @property
    def room(self) -> float:
        """The height at which the content at its foot begins."""
        tops = [one.rect.y for one in self.afloat if one.at == "foot"]
        return min([*tops, self.notes[0].top if self.notes else self.slot.rect.foot])

    @property
    def text_room(self) -> float:
        """The height down to which there is room for text."""
        low = any(one.at == "foot" for one in self.afloat)
        return self.room - (FRAME_GAP if low else self.notes[0].body.kind.gap if self.notes else 0.0)


PAGE_STARTS = frozenset({"page", "recto", "verso"})
"""The ways to begin that turn the page."""
