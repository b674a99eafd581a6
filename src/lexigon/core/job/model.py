"""The publication as plain dataclasses. Lengths in points, origin at a page's top left trim corner.

Attributes that a style or a local setting may leave open are ``None``: "take it from what I am based
on". ``cascade.py`` resolves them. ``serial.py`` writes and reads the JSON form and publishes its schema.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, fields, replace
from typing import Literal, TypeVar

from lexigon.core.geometry import Rect

FORMAT = 1
"""Version of the JSON form. A reader refuses a newer one and brings an older one up."""

Side = Literal["recto", "verso"]
Align = Literal["left", "centre", "right", "justified"]
Start = Literal["anywhere", "column", "page", "recto"]
FieldKind = Literal["page", "pages", "job", "heading"]

OBJECT = "\ufffc"
"""Stands in a paragraph's text where a field (page number, running title, ...) is shown."""


@dataclass(slots=True, frozen=True)
class Edges:
    """Four lengths round a page. ``inner`` is the edge at the spine, ``outer`` the one at the thumb."""

    head: float = 0.0
    foot: float = 0.0
    inner: float = 0.0
    outer: float = 0.0


@dataclass(slots=True, frozen=True)
class Brief:
    """What is to be made: the page, its margins and bleed, its language and its baseline grid."""

    width: float
    height: float
    margins: Edges
    bleed: Edges = Edges()
    unit: str = "mm"
    facing: bool = True
    columns: int = 1
    gutter: float = 12.0
    grid_start: float = 0.0
    """First baseline of the grid, from the page's head."""
    grid_step: float = 0.0
    """Distance of the grid's lines; 0 means there is no grid."""
    language: str = "en-GB"

    def side(self, index: int) -> Side:
        """Which half of a spread the page at ``index`` is: the first page is a recto."""
        return "recto" if not self.facing or index % 2 == 0 else "verso"

    def text_area(self, side: Side) -> Rect:
        """The rectangle within the margins."""
        m = self.margins
        left = m.inner if side == "recto" else m.outer
        return Rect(left, m.head, self.width - m.inner - m.outer, self.height - m.head - m.foot)


@dataclass(slots=True, frozen=True)
class TypeSpec:
    """How characters are set. ``None`` leaves the value to the style below."""

    family: str | None = None
    weight: int | None = None
    italic: bool | None = None
    size: float | None = None
    tracking: float | None = None
    """Added after every character, in 1/1000 em. Ligatures are off wherever it is not 0."""
    caps: Literal["none", "upper", "small"] | None = None
    figures: Literal["default", "oldstyle", "lining", "tabular"] | None = None
    shift: float | None = None
    """Baseline shift in points, positive upward."""
    swatch: str | None = None
    language: str | None = None


@dataclass(slots=True, frozen=True)
class ParaSpec:
    """How a paragraph is set. ``None`` leaves the value to the style below."""

    align: Align | None = None
    last_line: Literal["left", "centre", "full"] | None = None
    leading: float | None = None
    """Distance of baselines in points; 0 means automatic, 120 % of the type size."""
    indent_first: float | None = None
    indent_left: float | None = None
    indent_right: float | None = None
    space_before: float | None = None
    space_after: float | None = None
    hyphenate: bool | None = None
    hyphen_word: int | None = None
    """Shortest word that is divided."""
    hyphen_before: int | None = None
    hyphen_after: int | None = None
    hyphen_run: int | None = None
    """Greatest number of lines in a row that end in a hyphen; 0 sets no limit."""
    breaking: Literal["optimum", "first fit"] | None = None
    keep_next: bool | None = None
    keep_together: bool | None = None
    foot_lines: int | None = None
    """Fewest lines of a paragraph's beginning left at the foot of a column."""
    head_lines: int | None = None
    """Fewest lines of a paragraph's end carried to the head of a column."""
    start: Start | None = None
    grid: bool | None = None
    """Every line stands on the baseline grid."""


@dataclass(slots=True, frozen=True)
class ParagraphStyle:
    id: str
    name: str
    based_on: str | None = None
    next: str | None = None
    outline: int = 0
    """Level in the job's structure: 1 for parts, 2 for chapters, ...; 0 for text."""
    type: TypeSpec = TypeSpec()
    para: ParaSpec = ParaSpec()


@dataclass(slots=True, frozen=True)
class CharacterStyle:
    id: str
    name: str
    based_on: str | None = None
    type: TypeSpec = TypeSpec()


@dataclass(slots=True, frozen=True)
class Swatch:
    """A named colour. ``values`` are fractions 0 to 1: four for CMYK, three for RGB."""

    id: str
    name: str
    space: Literal["cmyk", "rgb"]
    values: tuple[float, ...]


@dataclass(slots=True, frozen=True)
class Span:
    """A stretch of a paragraph, ``start`` up to ``end`` in code points, set unlike the rest of it."""

    start: int
    end: int
    style: str | None = None
    type: TypeSpec | None = None
    field: FieldKind | None = None
    """Shown in place of the one OBJECT character it covers."""


@dataclass(slots=True, frozen=True)
class Paragraph:
    id: str
    style: str
    text: str = ""
    spans: tuple[Span, ...] = ()
    """In order, never overlapping, never empty."""
    para: ParaSpec | None = None
    type: TypeSpec | None = None


@dataclass(slots=True)
class Story:
    """A text that flows through frames. ``frames`` are those on pages that it was led into by hand."""

    id: str
    name: str
    paragraphs: list[Paragraph] = field(default_factory=list)
    frames: list[str] = field(default_factory=list)


@dataclass(slots=True, frozen=True)
class Frame:
    """A box on a page or on a master's half.

    ``rect`` is ``None`` for a main text frame that fills its page's margins. ``origin`` names the
    master's frame that this one, on a page, has taken over.
    """

    id: str
    kind: Literal["text"] = "text"
    role: Literal["", "main"] = ""
    name: str = ""
    rect: Rect | None = None
    story: str | None = None
    columns: int = 1
    gutter: float = 12.0
    insets: float = 0.0
    vertical: Literal["top", "centre", "bottom"] = "top"
    hide_on: tuple[Literal["opening", "blank", "front"], ...] = ()
    """Master frames only: not shown on pages a chapter opens on, on pages the text leaves blank, or on
    those before the first heading (half-title, title, imprint)."""
    origin: str | None = None


@dataclass(slots=True, frozen=True)
class Master:
    id: str
    name: str
    recto: tuple[Frame, ...] = ()
    verso: tuple[Frame, ...] = ()
    colour: str = "#1E5B4F"

    def half(self, side: Side) -> tuple[Frame, ...]:
        return self.recto if side == "recto" else self.verso


@dataclass(slots=True, frozen=True)
class Page:
    """A page. ``made_by_flow`` marks one added to hold text, which goes when the text no longer needs it."""

    id: str
    master: str | None = None
    frames: tuple[Frame, ...] = ()
    made_by_flow: bool = False


@dataclass(slots=True)
class Job:
    id: str
    name: str
    brief: Brief
    kind: str = "book"
    main_story: str | None = None
    paragraph_styles: dict[str, ParagraphStyle] = field(default_factory=dict)
    character_styles: dict[str, CharacterStyle] = field(default_factory=dict)
    swatches: dict[str, Swatch] = field(default_factory=dict)
    masters: dict[str, Master] = field(default_factory=dict)
    pages: list[Page] = field(default_factory=list)
    stories: dict[str, Story] = field(default_factory=dict)
    format: int = FORMAT

    def page_index(self, page_id: str) -> int:
        return next(i for i, page in enumerate(self.pages) if page.id == page_id)

    def find_frame(self, frame_id: str) -> tuple[int, Frame] | None:
        """The page index and frame of a frame that stands on a page itself."""
        for index, page in enumerate(self.pages):
            for frame in page.frames:
                if frame.id == frame_id:
                    return index, frame
        return None

    def page_frames(self, index: int) -> Iterator[tuple[Frame, bool]]:
        """The frames shown on a page, lowest first, each with whether it is the master's."""
        page = self.pages[index]
        taken = {frame.origin for frame in page.frames if frame.origin}
        master = self.masters.get(page.master or "")
        if master:
            for frame in master.half(self.brief.side(index)):
                if frame.id not in taken:
                    yield frame, True
        for frame in page.frames:
            yield frame, False

    def frame_rect(self, frame: Frame, side: Side) -> Rect:
        return frame.rect or self.brief.text_area(side)


Spec = TypeVar("Spec", TypeSpec, ParaSpec)


def overlay(below: Spec, above: Spec | None) -> Spec:
    """``below`` with every value that ``above`` sets."""
    if above is None:
        return below
    changes = {f.name: value for f in fields(above) if (value := getattr(above, f.name)) is not None}
    return replace(below, **changes) if changes else below
