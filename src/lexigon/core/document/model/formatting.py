"""Formatting of text: specifications that may leave values open, and the styles that complete them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from lexigon.core.document.limits import (
    CONTROLS,
    ClosingLines,
    Extent,
    Feature,
    Fitting,
    FootLines,
    HeadLines,
    HyphenAfter,
    HyphenBefore,
    HyphenRun,
    HyphenWord,
    InitialLetters,
    InitialLines,
    Key,
    KeyOrEmpty,
    Language,
    Leader,
    Leading,
    LeadingTimes,
    Level,
    ListLevel,
    ListNumber,
    Looseness,
    Many,
    Mark,
    Matching,
    Name,
    Near,
    Scale,
    SeriesName,
    Shift,
    Split,
    TabDistance,
    TextLine,
    TextLineAt,
    Tint,
    Tracking,
    TypeSize,
    Weight,
)
from lexigon.core.document.model.choices import Align, Caps, Figures, NumberStyle, Start, TabAlign
from lexigon.core.document.model.surface import Fill, Stroke


@dataclass(slots=True, frozen=True)
class TypeSpec:
    """Formatting of characters. ``None`` leaves the value to the style below."""

    family: Name | None = None
    weight: Weight | None = None
    italic: bool | None = None
    size: TypeSize | None = None
    tracking: Tracking | None = None
    """Added after every character, in 1/1000 em. Ligatures are off wherever it is not 0."""
    caps: Caps | None = None
    figures: Figures | None = None
    shift: Shift | None = None
    """Baseline shift in points, positive upward."""
    swatch: KeyOrEmpty | None = None
    language: Language | None = None
    tint: Tint | None = None
    """Part of the swatch's full strength, 0 to 1."""
    scale_x: Scale | None = None
    """Width of the characters as a multiple of their natural width; ``scale_y`` the height."""
    scale_y: Scale | None = None
    position: Literal["normal", "superior", "inferior"] | None = None
    features: Annotated[tuple[Feature, ...], Many(100)] | None = None
    """OpenType features by tag, as in ``swsh``, ``salt=2`` or ``liga=0``."""
    underline: bool | None = None
    underline_weight: TextLine | None = None
    """Points; 0 takes the font's own, as ``underline_offset`` (down from the baseline) does."""
    underline_offset: TextLineAt | None = None
    strike: bool | None = None
    strike_weight: TextLine | None = None
    strike_offset: TextLineAt | None = None
    """Up from the baseline."""
    no_break: bool | None = None
    """Lines do not end within."""


@dataclass(slots=True, frozen=True)
class TabStop:
    """A tab stop: the text after the tab is aligned at ``at`` points from the column's left edge; ``None`` is the right
    edge."""

    at: Near | None = None
    align: TabAlign = "left"
    leader: Leader = ""
    """What fills the gap, over and over."""
    decimal: Annotated[str, Matching(f"[^{CONTROLS}]?", "A decimal tab aligns at one character.", 1)] = "."
    """The character that is aligned at a decimal tab."""


@dataclass(slots=True, frozen=True)
class ParaRule:
    """A line above or below a paragraph: its middle at ``offset`` from the first (last) baseline, positive away from
    the text."""

    stroke: Stroke = Stroke(1.0)
    offset: Near = 0.0
    across: Literal["column", "text"] = "column"
    indent_left: Near = 0.0
    indent_right: Near = 0.0


Side = Literal["head", "right", "foot", "left"]


@dataclass(slots=True, frozen=True)
class Box:
    """Shading and border behind a paragraph: ``padding`` from its lines, in points: top, right, bottom, left."""

    fill: Fill = Fill()
    stroke: Stroke = Stroke()
    padding: tuple[Near, Near, Near, Near] = (0.0, 0.0, 0.0, 0.0)
    sides: Annotated[tuple[Side, ...], Many(4)] = ("head", "right", "foot", "left")
    """The sides that have the border."""


@dataclass(slots=True, frozen=True)
class ListMark:
    """A bullet, or a number that counts the paragraphs of its level.

    ``form`` is its format: for bullets the character itself; for numbers ``#`` is replaced by the number, ``#1`` by
    that of level 1 and so on, as in ``#1.#2.``. The mark is at the first-line indent, the text at the left one.

    In a ``series``, ``#`` is its number there, and ``#1`` that of the numbered paragraph of level 1 above it, after
    which the series begins again: ``Figure #1.#`` is a figure of a chapter.
    """

    kind: Literal["none", "bullet", "number"] = "bullet"
    form: Mark = "•"
    level: ListLevel = 1
    numbers: NumberStyle = "1"
    start: ListNumber | None = None
    """The number of this paragraph; ``None`` continues counting."""
    continued: bool = False
    """Whether counting continues after paragraphs of no list."""
    style: KeyOrEmpty | None = None
    """Character style of the mark."""
    series: SeriesName = ""
    """Numbers with the same series name are counted separately through all stories of the job, page by page: figures,
    tables, examples."""
    gap: Literal["tab", "space"] = "tab"
    """What sets the mark off from the text."""


@dataclass(slots=True, frozen=True)
class ParaSpec:
    """Formatting of a paragraph. ``None`` leaves the value to the style below."""

    align: Align | None = None
    last_line: Literal["left", "centre", "right", "full"] | None = None
    leading: Leading | None = None
    """Distance of baselines in points; 0 means automatic, a multiple of the type size."""
    leading_times: LeadingTimes | None = None
    """That multiple."""
    indent_first: Near | None = None
    indent_left: Near | None = None
    indent_right: Near | None = None
    space_before: Near | None = None
    space_after: Near | None = None
    hyphenate: bool | None = None
    hyphen_word: HyphenWord | None = None
    """Shortest word that is divided."""
    hyphen_before: HyphenBefore | None = None
    hyphen_after: HyphenAfter | None = None
    hyphen_run: HyphenRun | None = None
    """Greatest number of lines in a row that end in a hyphen; 0 sets no limit."""
    breaking: Literal["optimum", "first fit"] | None = None
    keep_next: bool | None = None
    keep_previous: bool | None = None
    """Never begins a column without the end of the paragraph before it: a caption below its table."""
    keep_together: bool | None = None
    foot_lines: FootLines | None = None
    """Fewest lines of a paragraph's beginning left at the foot of a column."""
    head_lines: HeadLines | None = None
    """Fewest lines of a paragraph's end carried to the head of a column."""
    start: Start | None = None
    grid: bool | Literal["first"] | None = None
    """Whether every line is on the baseline grid; ``first`` only the first one."""
    looseness: Looseness | None = None
    """Lines more (or fewer) than the best setting has, where that can be done (Knuth & Plass 1981)."""
    hyphen_capitals: bool | None = None
    """Words in capitals may be divided."""
    hyphen_names: bool | None = None
    """Words that begin with a capital may be divided."""
    hyphen_last: bool | None = None
    """The paragraph's last word may be divided."""
    hyphen_column: bool | Literal["leaf"] | None = None
    """Whether a column may end in a hyphenated word; ``leaf``: not at the end of a right-hand page."""
    last_least: Extent | None = None
    """A last line is at least so long, where that costs little."""
    letter_fit: Fitting | None = None
    """How far letters may part or close in a paragraph that word spaces alone cannot set well; parts of an em."""
    glyph_fit: Fitting | None = None
    """How far they may be widened or narrowed then, as a part of their width."""
    optical: bool | None = None
    """Punctuation hangs into the margin, so that the edges look straight."""
    tabs: Annotated[tuple[TabStop, ...], Many(100)] | None = None
    tab_every: TabDistance | None = None
    """The distance of tab stops after the last one set."""
    drop_lines: InitialLines | None = None
    """Lines that a large initial is high; below 2 there is none."""
    drop_chars: InitialLetters | None = None
    drop_style: KeyOrEmpty | None = None
    """Character style of the initial; its size follows from the lines."""
    drop_gap: Near | None = None
    drop_shape: bool | None = None
    """Lines follow the initial's own shape, not its box."""
    rule_above: ParaRule | None = None
    rule_below: ParaRule | None = None
    box: Box | None = None
    list: ListMark | None = None
    span: bool | None = None
    """Runs across all columns of its frame."""
    split: Split | None = None
    """Set in so many columns within its own, side by side and equally high; 1 for none."""
    keep_space: bool | None = None
    """Whether space before is kept at the top of a column."""
    at_foot: bool | None = None
    """Stands at the foot of its column, where nothing else follows there."""
    even_feet: bool | None = None
    """Facing pages that end in it end on the same line, where paragraphs may be set a line longer or shorter for
    that."""
    closing_lines: ClosingLines | None = None
    """Fewest lines on the last page of a chapter that ends in it, where pages before it may be set shorter for that; 1
    for any."""
    floats: bool | None = None
    """Whether it moves to the top of the next column if it has no room there with the paragraphs kept with it, and the
    text continues."""


@dataclass(slots=True, frozen=True)
class ParagraphStyle:
    id: Key
    name: Name
    based_on: Key | None = None
    next: Key | None = None
    level: Level = 0
    """Level in the job's structure: 1 for parts, 2 for chapters, ...; 0 for text."""
    type: TypeSpec = TypeSpec()
    para: ParaSpec = ParaSpec()


@dataclass(slots=True, frozen=True)
class CharacterStyle:
    id: Key
    name: Name
    based_on: Key | None = None
    type: TypeSpec = TypeSpec()
