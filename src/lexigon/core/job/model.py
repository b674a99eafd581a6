"""The publication as plain dataclasses. Lengths in points, origin at a page's top left trim corner.

Attributes that a style or a local setting may leave open are ``None``: "take it from what I am based
on". ``cascade.py`` resolves them. ``serial.py`` writes and reads the JSON form and publishes its schema.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, fields, replace
from typing import Annotated, Literal, TypeVar

from lexigon.core.geometry import Rect
from lexigon.core.job.limits import (
    CONTROLS,
    MOST_ENTRIES,
    MOST_FRAMES,
    MOST_PAGES,
    MOST_PARAGRAPHS,
    MOST_TEXT,
    Colour,
    Columns,
    Dash,
    Extent,
    Feature,
    FileName,
    Fitting,
    FootLines,
    HeadLines,
    HyphenAfter,
    HyphenBefore,
    HyphenRun,
    HyphenWord,
    Id,
    InitialLetters,
    InitialLines,
    Key,
    KeyOrEmpty,
    Language,
    Leader,
    Leading,
    LeadingTimes,
    Length,
    Level,
    ListLevel,
    ListNumber,
    Looseness,
    Many,
    Mark,
    Matching,
    Name,
    Near,
    Note,
    Opacity,
    OutlinePart,
    PageColumns,
    PageNumber,
    Pages,
    Part,
    PathData,
    Place,
    Scale,
    Shift,
    Split,
    StrokeWeight,
    TabDistance,
    Text,
    TextLine,
    TextLineAt,
    Tint,
    Tracking,
    Turn,
    TypeSize,
    Weight,
    Within,
)  # fmt: skip

FORMAT = 2
"""Version of the JSON form. A reader refuses a newer one and brings an older one up."""

Side = Literal["recto", "verso"]
SIDES: tuple[Side, Side] = ("recto", "verso")
Unit = Literal["mm", "cm", "in", "pt", "p", "px"]
Kind = Literal["book", "cover", "magazine", "brochure", "folded card", "flyer", "card", "label"]
"""Kinds of piece."""
Align = Literal["left", "centre", "right", "justified"]
Start = Literal["anywhere", "column", "page", "recto", "verso"]
Binding = Literal["none", "stitched", "perfect", "wire"]
NumberStyle = Literal["1", "i", "I", "a", "A"]
Caps = Literal["none", "upper", "lower", "title", "small", "all small", "reduced"]
"""``small`` are the font's own small capitals for small letters, ``all small`` for capitals too; ``reduced`` are capitals
set smaller, for fonts that have no others."""
Figures = Literal["default", "oldstyle", "lining", "tabular", "tabular oldstyle", "tabular lining"]
TabAlign = Literal["left", "right", "centre", "decimal"]
FieldKind = Literal["page", "pages", "job", "heading", "section", "date", "copy", "fact", "mark"]

Vertical = Literal["top", "centre", "bottom", "justified"]
FirstLine = Literal["ascent", "capital", "x-height", "leading", "fixed"]

OBJECT = "\ufffc"
"""Stands in a paragraph's text where a field (page number, running title, ...) is shown."""


@dataclass(slots=True, frozen=True)
class Edges:
    """Four lengths round a page. ``inner`` is the edge at the spine, ``outer`` the one at the thumb."""

    head: Length = 0.0
    foot: Length = 0.0
    inner: Length = 0.0
    outer: Length = 0.0


@dataclass(slots=True, frozen=True)
class Paper:
    """A paper. ``page`` is what one page (half a leaf) adds to the thickness of a book, in points."""

    id: Key
    name: Name
    page: Extent
    weight: Name = ""
    opacity: Opacity | None = None


@dataclass(slots=True, frozen=True)
class Cover:
    """The page is a flat cover: (flap,) back, spine, front (, flap). Width and height are the bound book's."""

    width: Extent
    height: Extent
    pages: Pages = 0
    spine: Extent | None = None
    """A spine typed in; ``None`` computes it from pages and paper."""
    flap: Extent = 0.0
    interior: Id | None = None
    """The job whose pages this cover binds: its page count and paper rule the spine."""
    kind: Literal["cover"] = "cover"


@dataclass(slots=True, frozen=True)
class Fold:
    """The page is a flat sheet that is folded, outside first, inside second. Width and height are the folded piece's."""

    width: Extent
    height: Extent
    fold: Literal["half", "letter", "accordion", "gate"] = "half"
    panels: Annotated[int, Within(2, 4, "A sheet is folded in 2 to 4 panels.")] = 2
    direction: Literal["side", "top"] = "side"
    """Where the front is hinged: folds run down the sheet, or across it."""
    allowance: Extent = 0.0
    """How much narrower a rolled-in panel is; for a gate, the gap between its wings."""
    kind: Literal["fold"] = "fold"


@dataclass(slots=True, frozen=True)
class Brief:
    """What is to be made: the page, its margins and bleed, its language and its baseline grid."""

    width: Extent
    height: Extent
    margins: Edges
    bleed: Edges = Edges()
    unit: Unit = "mm"
    facing: bool = True
    columns: PageColumns = 1
    gutter: Extent = 12.0
    grid_start: Length = 0.0
    """First baseline of the grid, from the page's head."""
    grid_step: Extent = 0.0
    """Distance of the grid's lines; 0 means there is no grid."""
    language: Language = "en-GB"
    exceptions: Annotated[tuple[Name, ...], Many(MOST_ENTRIES)] = ()
    """Words divided otherwise than by the patterns, their points marked, as in ``ob-ser-va-tory``; without a mark never."""
    rows: Annotated[int, Within(1, 40, "A page is divided into 1 to 40 rows.")] = 1
    """Rows the text area is divided into, for guides."""
    row_gutter: Extent = 12.0
    binding: Binding = "none"
    paper: Key | None = None
    colour: Literal["process", "screen"] = "process"
    ppi: Annotated[float, Within(30, 2400, "Resolution is between 30 and 2,400 ppi.")] = 300.0
    """Resolution that pictures should have in print."""
    safe: Extent = 0.0
    """How far text keeps from trim and folds, where the piece has panels."""
    form: Cover | Fold | None = None
    """How the flat page becomes the piece; ``None`` for pages that are bound or stand alone."""

    def side(self, index: int) -> Side:
        """Which half of a spread the page at ``index`` is: the first page is a recto."""
        return "recto" if not self.facing or index % 2 == 0 else "verso"

    def text_area(self, side: Side, margins: Edges | None = None, turned: bool = False) -> Rect:
        """The rectangle within the margins (the brief's own, or a master page's)."""
        m = margins or self.margins
        width, height = self.page_size(turned)
        left = m.inner if side == "recto" else m.outer
        return Rect(left, m.head, width - m.inner - m.outer, height - m.head - m.foot)

    def page_size(self, turned: bool = False) -> tuple[float, float]:
        """Trim width and height of a page, or of one turned on its side."""
        return (self.height, self.width) if turned else (self.width, self.height)


@dataclass(slots=True, frozen=True)
class Stroke:
    """A drawn line: ``weight`` in points, 0 for none. With a ``style`` what is left open comes from that rule style."""

    weight: StrokeWeight | None = None
    swatch: KeyOrEmpty | None = None
    tint: Tint | None = None
    """Part of the swatch's full strength, 0 to 1."""
    dash: Dash | None = None
    """Lengths of strokes and gaps in turn; empty for a line without gaps."""
    style: KeyOrEmpty | None = None


@dataclass(slots=True, frozen=True)
class Fill:
    """An even surface in a swatch; "" for none."""

    swatch: KeyOrEmpty = ""
    tint: Tint = 1.0


@dataclass(slots=True, frozen=True)
class TypeSpec:
    """How characters are set. ``None`` leaves the value to the style below."""

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
    """Width of the characters as a multiple of their own; ``scale_y`` the height."""
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
    """A tab: text behind it stands at ``at`` points from the column's left edge; ``None`` is the right edge."""

    at: Near | None = None
    align: TabAlign = "left"
    leader: Leader = ""
    """What fills the gap, over and over."""
    decimal: Annotated[str, Matching(f"[^{CONTROLS}]?", "A decimal tab stands at one character.", 1)] = "."
    """The character that stands at a decimal tab."""


@dataclass(slots=True, frozen=True)
class ParaRule:
    """A line above or below a paragraph: its middle at ``offset`` from the first (last) baseline, positive away from
    the text."""

    stroke: Stroke = Stroke(1.0)
    offset: Near = 0.0
    across: Literal["column", "text"] = "column"
    indent_left: Near = 0.0
    indent_right: Near = 0.0


@dataclass(slots=True, frozen=True)
class Box:
    """Shading and border behind a paragraph: ``padding`` from its lines, head right foot left."""

    fill: Fill = Fill()
    stroke: Stroke = Stroke()
    padding: tuple[Near, Near, Near, Near] = (0.0, 0.0, 0.0, 0.0)
    sides: Annotated[tuple[Literal["head", "right", "foot", "left"], ...], Many(4)] = ("head", "right", "foot", "left")
    """The sides that bear the border."""


@dataclass(slots=True, frozen=True)
class ListMark:
    """A bullet, or a number that counts the paragraphs of its level.

    ``form`` is how it is written: for bullets the sign itself; for numbers ``#`` stands for the number, ``#1`` for
    that of level 1 and so on, as in ``#1.#2.``. The mark stands at the first-line indent, the text at the left one.
    """

    kind: Literal["none", "bullet", "number"] = "bullet"
    form: Mark = "•"
    level: ListLevel = 1
    numbers: NumberStyle = "1"
    start: ListNumber | None = None
    """The number this paragraph begins with; ``None`` goes on counting."""
    continued: bool = False
    """Goes on counting behind paragraphs of no list."""
    style: KeyOrEmpty | None = None
    """Character style of the mark."""


@dataclass(slots=True, frozen=True)
class ParaSpec:
    """How a paragraph is set. ``None`` leaves the value to the style below."""

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
    keep_together: bool | None = None
    foot_lines: FootLines | None = None
    """Fewest lines of a paragraph's beginning left at the foot of a column."""
    head_lines: HeadLines | None = None
    """Fewest lines of a paragraph's end carried to the head of a column."""
    start: Start | None = None
    grid: bool | Literal["first"] | None = None
    """Every line stands on the baseline grid; ``first`` only the first one."""
    looseness: Looseness | None = None
    """Lines more (or fewer) than the best setting has, where that can be done (Knuth & Plass 1981)."""
    hyphen_capitals: bool | None = None
    """Words in capitals may be divided."""
    hyphen_names: bool | None = None
    """Words that begin with a capital may be divided."""
    hyphen_last: bool | None = None
    """The paragraph's last word may be divided."""
    hyphen_column: bool | Literal["leaf"] | None = None
    """A column may end in a divided word; ``leaf``: not where the leaf is turned behind it."""
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
    """Distance of the stops behind the last one set."""
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
    """Space before is kept at the head of a column."""
    at_foot: bool | None = None
    """Stands at the foot of its column, where nothing else follows there."""


@dataclass(slots=True, frozen=True)
class ParagraphStyle:
    id: Key
    name: Name
    based_on: Key | None = None
    next: Key | None = None
    outline: Level = 0
    """Level in the job's structure: 1 for parts, 2 for chapters, ...; 0 for text."""
    type: TypeSpec = TypeSpec()
    para: ParaSpec = ParaSpec()


@dataclass(slots=True, frozen=True)
class CharacterStyle:
    id: Key
    name: Name
    based_on: Key | None = None
    type: TypeSpec = TypeSpec()


@dataclass(slots=True, frozen=True)
class Wrap:
    """How text keeps clear of a frame.

    ``sides``: text runs on both sides of it, only on one, only on the wider one, or jumps over it. ``offsets`` are head
    right foot left round its box; round its outline the first counts. ``inverted``: text runs only within the outline.
    """

    sides: Literal["none", "both", "left", "right", "largest", "jump"] = "both"
    offsets: tuple[Length, Length, Length, Length] = (0.0, 0.0, 0.0, 0.0)
    outline: bool = False
    inverted: bool = False


@dataclass(slots=True, frozen=True)
class Outline:
    """A frame's outline other than its box: an ellipse, a polygon of points, or a path, in parts of its width and height.

    A path's ``data`` are steps M x y, L x y, C with three points, and Z, as in SVG.
    """

    kind: Literal["ellipse", "polygon", "path"] = "ellipse"
    points: Annotated[tuple[tuple[OutlinePart, OutlinePart], ...], Many(20_000)] = ()
    data: PathData = ""


Insets = tuple[Extent, Extent, Extent, Extent]


@dataclass(slots=True, frozen=True)
class FrameSpec:
    """What a frame takes from its style where it says nothing itself. ``None`` leaves a value open."""

    columns: Columns | None = None
    gutter: Extent | None = None
    column_rule: Stroke | None = None
    balanced: bool | None = None
    insets: Insets | None = None
    vertical: Vertical | None = None
    stretch: Extent | None = None
    first: FirstLine | None = None
    first_at: Length | None = None
    fill: Fill | None = None
    stroke: Stroke | None = None
    wrap: Wrap | None = None
    passes: bool | None = None


@dataclass(slots=True, frozen=True)
class RuleStyle:
    """A named way to draw lines: what a Stroke of this style leaves open."""

    id: Key
    name: Name
    based_on: Key | None = None
    stroke: Stroke = Stroke()


@dataclass(slots=True, frozen=True)
class FrameStyle:
    """A named way frames are made."""

    id: Key
    name: Name
    based_on: Key | None = None
    frame: FrameSpec = FrameSpec()


@dataclass(slots=True, frozen=True)
class Swatch:
    """A named colour. ``values`` are fractions 0 to 1: four for CMYK, three for RGB."""

    id: Key
    name: Name
    space: Literal["cmyk", "rgb"]
    values: Annotated[tuple[Part, ...], Many(4, 3)]


@dataclass(slots=True, frozen=True)
class Field:
    """Something shown in a text that is kept elsewhere.

    ``ref`` names what: for ``heading`` a paragraph style (any part or chapter where it is empty), for ``copy`` the
    standing copy, for ``fact`` which fact of the job (``size``, ``words``, ``paper``). ``form`` says how: for dates a
    form such as ``D MMMM YYYY``, for headings ``first`` or ``last`` on the page.
    """

    kind: FieldKind
    ref: Annotated[str, Matching(f"[^{CONTROLS}]*", "What a field shows is named in at most 80 characters.", 80)] = ""
    form: Annotated[str, Matching(f"[^{CONTROLS}]*", "How a field is shown is said in at most 80 characters.", 80)] = ""


@dataclass(slots=True, frozen=True)
class StandingCopy:
    """A named text that is used in many places and kept in one."""

    id: Key
    name: Name
    text: Text = ""


@dataclass(slots=True, frozen=True)
class Span:
    """A stretch of a paragraph, ``start`` up to ``end`` in code points, set unlike the rest of it."""

    start: Place
    end: Place
    style: KeyOrEmpty | None = None
    type: TypeSpec | None = None
    field: Field | None = None
    """Shown in place of the one OBJECT character it covers."""


@dataclass(slots=True, frozen=True)
class Paragraph:
    id: Id
    style: KeyOrEmpty
    """Empty for words on their way in from elsewhere, which are then set like their surroundings."""
    text: Text = ""
    spans: Annotated[tuple[Span, ...], Many(MOST_TEXT)] = ()
    """In order, never overlapping, never empty."""
    para: ParaSpec | None = None
    type: TypeSpec | None = None


@dataclass(slots=True)
class Story:
    """A text that flows through frames. ``frames`` are those on pages that it was led into by hand."""

    id: Id
    name: Name
    paragraphs: Annotated[list[Paragraph], Many(MOST_PARAGRAPHS)] = field(default_factory=list)
    frames: Annotated[list[Id], Many(MOST_PARAGRAPHS)] = field(default_factory=list)


@dataclass(slots=True, frozen=True)
class Frame:
    """A box on a page or on a master's half.

    ``rect`` is ``None`` for a main text frame that fills its page's margins. ``origin`` names the
    master's frame that this one, on a page, has taken over.
    """

    id: Id
    kind: Literal["text", "shape"] = "text"
    role: Literal["", "main"] = ""
    name: Name = ""
    rect: Rect | None = None
    story: Id | None = None
    columns: Columns | None = None
    gutter: Extent | None = None
    insets: Extent | Insets | None = None
    """How far text keeps from the edges: one length, or head right foot left."""
    vertical: Vertical | None = None
    turn: Literal[0, 90, 180, 270] = 0
    """Degrees its contents are turned clockwise, as on a panel that hangs head over foot."""
    hide_on: Annotated[tuple[Literal["opening", "blank", "front"], ...], Many(3)] = ()
    """Master frames only: not shown on pages a chapter opens on, on pages the text leaves blank, or on
    those before the first heading (half-title, title, imprint)."""
    origin: Id | None = None
    style: Key | None = None
    """Frame style, which gives what is left open here."""
    column_rule: Stroke | None = None
    balanced: bool | None = None
    """The last columns of a text are made equally high."""
    stretch: Extent | None = None
    """Vertically justified: the most that is added between paragraphs, before lines part; in points."""
    first: FirstLine | None = None
    """What of the first line reaches the frame's head; ``leading`` and ``fixed`` set the distance of its baseline."""
    first_at: Length | None = None
    """The least distance of the first baseline from the head, or with ``fixed`` the distance."""
    fill: Fill | None = None
    stroke: Stroke | None = None
    wrap: Wrap | None = None
    passes: bool | None = None
    """Its own text pays no heed to what other frames keep clear."""
    outline: Outline | None = None
    rotation: Turn = 0.0
    """Degrees the whole frame is turned clockwise about its centre."""
    group: Id | None = None
    """Frames of a page with the same group are selected and moved together."""
    alt: Note = ""
    """What a shape is read out as."""
    fit: Literal["none", "line", "size", "height"] = "none"
    """Kept to: ``line`` the largest size at which no line of its text breaks, ``size`` the largest at which all of it
    has room, ``height`` a frame as high as its text."""
    fit_sizes: tuple[TypeSize, TypeSize] = (4.0, 400.0)
    """The least and the greatest size of the text's first character, in points."""


@dataclass(slots=True, frozen=True)
class Guide:
    """A line to set things against: at ``at`` points from the page's left or head."""

    axis: Literal["x", "y"]
    at: Length
    side: Literal["both", "recto", "verso"] = "both"


@dataclass(slots=True, frozen=True)
class Master:
    """What pages have in common. Values left ``None`` are the brief's; frames of ``based_on`` show below its own."""

    id: Key
    name: Name
    recto: Annotated[tuple[Frame, ...], Many(MOST_FRAMES)] = ()
    verso: Annotated[tuple[Frame, ...], Many(MOST_FRAMES)] = ()
    colour: Colour = "#1E5B4F"
    based_on: Key | None = None
    margins: Edges | None = None
    columns: PageColumns | None = None
    gutter: Extent | None = None
    turned: bool = False
    """Its pages lie on their side."""
    guides: Annotated[tuple[Guide, ...], Many(1000)] = ()

    def half(self, side: Side) -> tuple[Frame, ...]:
        return self.recto if side == "recto" else self.verso


@dataclass(slots=True, frozen=True)
class Overlay:
    """A printer's template laid over the board, centred on its sheet. It never prints, whatever the settings."""

    id: Key
    name: Name
    file: FileName
    """SHA-256 of the file, by which it is kept."""
    width: Extent
    height: Extent
    opacity: Opacity = 0.5
    page: Id | None = None
    """The page it lies on; ``None`` for every page."""


@dataclass(slots=True, frozen=True)
class OwnFont:
    """A font file that the job brings along. What it says of itself is kept, to be told where the file is missing."""

    id: Key
    name: Name
    """The file's name when it was brought in."""
    file: FileName
    """SHA-256 of the file, by which it is kept."""
    family: Name
    weight: Weight = 400
    italic: bool = False


@dataclass(slots=True, frozen=True)
class Section:
    """A run of pages that begins with the page it stands on: its name and how its pages are numbered."""

    name: Name = ""
    start: PageNumber | None = None
    """Number of its first page; ``None`` goes on counting."""
    style: NumberStyle = "1"
    prefix: Mark = ""
    opens: Literal["anywhere", "recto", "verso"] = "anywhere"
    """The side it must begin on; a blank page is made before it where needed."""


@dataclass(slots=True, frozen=True)
class Page:
    """A page. ``made_by_flow`` marks one added to hold text, which goes when the text no longer needs it."""

    id: Id
    master: Key | None = None
    frames: Annotated[tuple[Frame, ...], Many(MOST_FRAMES)] = ()
    made_by_flow: bool = False
    section: Section | None = None
    """The section that begins here."""
    number_shown: bool = True
    filler: bool = False
    """A blank made so that the section behind it begins on its side."""
    guides: Annotated[tuple[Guide, ...], Many(1000)] = ()


@dataclass(slots=True)
class Job:
    id: Id
    name: Name
    brief: Brief
    kind: Kind = "book"
    main_story: Id | None = None
    paragraph_styles: Annotated[dict[Key, ParagraphStyle], Many(MOST_ENTRIES)] = field(default_factory=dict)
    character_styles: Annotated[dict[Key, CharacterStyle], Many(MOST_ENTRIES)] = field(default_factory=dict)
    frame_styles: Annotated[dict[Key, FrameStyle], Many(MOST_ENTRIES)] = field(default_factory=dict)
    rule_styles: Annotated[dict[Key, RuleStyle], Many(MOST_ENTRIES)] = field(default_factory=dict)
    swatches: Annotated[dict[Key, Swatch], Many(MOST_ENTRIES)] = field(default_factory=dict)
    masters: Annotated[dict[Key, Master], Many(MOST_ENTRIES)] = field(default_factory=dict)
    pages: Annotated[list[Page], Many(MOST_PAGES, 1)] = field(default_factory=list)
    stories: Annotated[dict[Id, Story], Many(MOST_ENTRIES)] = field(default_factory=dict)
    papers: Annotated[dict[Key, Paper], Many(MOST_ENTRIES)] = field(default_factory=dict)
    copies: Annotated[dict[Key, StandingCopy], Many(MOST_ENTRIES)] = field(default_factory=dict)
    overlays: Annotated[dict[Key, Overlay], Many(MOST_ENTRIES)] = field(default_factory=dict)
    fonts: Annotated[dict[Key, OwnFont], Many(MOST_ENTRIES)] = field(default_factory=dict)
    format: int = FORMAT

    @property
    def body(self) -> str:
        """The paragraph style that text is in where nothing says otherwise: ``body``, or the first where that was deleted."""
        return "body" if "body" in self.paragraph_styles else next(iter(self.paragraph_styles))

    def page_index(self, page_id: str) -> int | None:
        """Where a page stands, None if it is not in the job."""
        return next((i for i, page in enumerate(self.pages) if page.id == page_id), None)

    def find_frame(self, frame_id: str) -> tuple[int, Frame] | None:
        """The page index and frame of a frame that stands on a page itself."""
        for index, page in enumerate(self.pages):
            for frame in page.frames:
                if frame.id == frame_id:
                    return index, frame
        return None

    def master_chain(self, master_id: str | None) -> list[Master]:
        """A master page and those it is based on, the lowest first. A ring or a gap ends the chain."""
        chain: list[Master] = []
        while master_id in self.masters and self.masters[master_id] not in chain:
            chain.append(self.masters[master_id])
            master_id = chain[-1].based_on
        return chain[::-1]

    def master_frames(self, master_id: str | None, side: Side) -> list[tuple[Frame, str]]:
        """The frames a master shows on one side, lowest first, each with the master it belongs to.

        One that a later master of the chain has taken over is left out.
        """
        chain = self.master_chain(master_id)
        taken = {frame.origin for master in chain for frame in master.half(side) if frame.origin}
        return [(f, master.id) for master in chain for f in master.half(side) if f.id not in taken]

    def page_frames(self, index: int) -> Iterator[tuple[Frame, bool]]:
        """The frames shown on a page, lowest first, each with whether it is the master's."""
        page = self.pages[index]
        taken = {frame.origin for frame in page.frames if frame.origin}
        for frame, _ in self.master_frames(page.master, self.brief.side(index)):
            if frame.id not in taken:
                yield frame, True
        for frame in page.frames:
            yield frame, False

    def master_of(self, index: int) -> Master | None:
        return self.masters.get(self.pages[index].master or "") if index < len(self.pages) else None

    def page_size(self, index: int) -> tuple[float, float]:
        """Trim width and height of a page."""
        master = self.master_of(index)
        return self.brief.page_size(bool(master and master.turned))

    def master_area(self, master: Master | None, side: Side) -> Rect:
        """The rectangle within the margins of a master's page; those it leaves open come from its base, then the brief."""
        chain = self.master_chain(master.id) if master else []
        margins = next((m.margins for m in reversed(chain) if m.margins), None)
        return self.brief.text_area(side, margins, bool(master and master.turned))

    def text_area(self, index: int, master_id: str | None = None) -> Rect:
        """The rectangle within a page's margins. The page need not exist yet: then ``master_id`` is what it will use."""
        master = self.master_of(index) if index < len(self.pages) else self.masters.get(master_id or "")
        return self.master_area(master, self.brief.side(index))

    def frame_rect(self, frame: Frame, index: int, master_id: str | None = None) -> Rect:
        return frame.rect or self.text_area(index, master_id)


Spec = TypeVar("Spec", TypeSpec, ParaSpec, FrameSpec, Stroke)


def overlay(below: Spec, above: Spec | None) -> Spec:
    """``below`` with every value that ``above`` sets."""
    if above is None:
        return below
    changes = {f.name: value for f in fields(above) if (value := getattr(above, f.name)) is not None}
    return replace(below, **changes) if changes else below


def without(own: Spec, said: Spec | None, below: Spec) -> Spec:
    """``own`` less each value that ``said`` gives and that ``below`` gives as well."""
    if said is None:
        return own
    same = [
        f.name
        for f in fields(said)
        if getattr(said, f.name) is not None and getattr(own, f.name) == getattr(below, f.name)
    ]
    return replace(own, **dict.fromkeys(same)) if same else own
