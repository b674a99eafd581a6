"""Resolving styles: what a paragraph, or a stretch of one, is finally set in.

Order, weakest first: the root values, the chain of styles a style is based on, the style, the
paragraph's local setting, the span's character style (with its chain), the span's local setting.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields, replace
from functools import lru_cache
from typing import Any, Literal, TypeVar

from lexigon.core.blending import Blend
from lexigon.core.document.model import (
    PLAIN_SWATCH,
    Box,
    CharacterStyle,
    Fill,
    FrameSpec,
    FrameStyle,
    Insets,
    Job,
    ListMark,
    Object,
    Paragraph,
    ParagraphStyle,
    ParaRule,
    ParaSpec,
    RuleStyle,
    Shadow,
    Span,
    Stroke,
    TabStop,
    TypeSpec,
    Wrap,
    combined,
)
from lexigon.core.document.model.frames import Way

Style = TypeVar("Style", ParagraphStyle, CharacterStyle, FrameStyle, RuleStyle)

NO_RULE = ParaRule(Stroke(0.0))

ROOT_TYPE = TypeSpec(
    family="EB Garamond",
    weight=400,
    italic=False,
    size=11.0,
    tracking=0.0,
    caps="none",
    figures="default",
    shift=0.0,
    swatch=PLAIN_SWATCH,
    tint=1.0,
    scale_x=1.0,
    scale_y=1.0,
    position="normal",
    features=(),
    underline=False,
    underline_weight=0.0,
    underline_offset=0.0,
    strike=False,
    strike_weight=0.0,
    strike_offset=0.0,
    no_break=False,
)
ROOT_PARA = ParaSpec(
    align="left",
    last_line="left",
    leading=0.0,
    leading_times=1.2,
    indent_first=0.0,
    indent_left=0.0,
    indent_right=0.0,
    space_before=0.0,
    space_after=0.0,
    hyphenate=True,
    hyphen_word=6,
    hyphen_before=3,
    hyphen_after=3,
    hyphen_run=3,
    breaking="optimum",
    keep_next=False,
    keep_previous=False,
    keep_together=False,
    foot_lines=2,
    head_lines=2,
    start="anywhere",
    grid=False,
    looseness=0,
    hyphen_capitals=False,
    hyphen_names=True,
    hyphen_last=True,
    hyphen_column=True,
    last_least=0.0,
    letter_fit=0.01,
    glyph_fit=0.02,
    optical=False,
    tabs=(),
    tab_every=36.0,
    drop_lines=0,
    drop_chars=1,
    drop_style="",
    drop_gap=3.0,
    drop_shape=False,
    rule_above=NO_RULE,
    rule_below=NO_RULE,
    box=Box(),
    list=ListMark("none"),
    span=False,
    split=1,
    keep_space=False,
    at_foot=False,
    even_feet=False,
    closing_lines=1,
    floats=False,
)
"""Automatic leading is 1.2 times the type size, words of 6 letters and more are divided, and so on: common practice, no
source."""
ROOT_FRAME = FrameSpec(
    columns=1,
    gutter=12.0,
    column_rule=Stroke(0.0),
    balanced=False,
    insets=(0.0, 0.0, 0.0, 0.0),
    vertical="top",
    stretch=12.0,
    first="ascent",
    first_at=0.0,
    fill=Fill(),
    way=(),
    stroke=Stroke(0.0),
    overprint=False,
    shadow=Shadow(),
    opacity=1.0,
    blend="normal",
    soft_edge=0.0,
    wrap=Wrap("none"),
    passes=False,
)
ROOT_STROKE = Stroke(0.0, PLAIN_SWATCH, 1.0, (), cap="butt", join="miter", align="centre", begin="none", end="none")
LOOKS = {
    "type": (
        "swatch",
        "tint",
        "underline",
        "underline_weight",
        "underline_offset",
        "strike",
        "strike_weight",
        "strike_offset",
    ),
    "para": ("rule_above", "rule_below", "box"),
    "frame": ("fill", "way", "stroke", "overprint", "shadow", "opacity", "blend", "soft_edge", "column_rule"),
}
"""The values of each kind of spec that are painted where the text stands, and never move any of it."""


@dataclass(slots=True, frozen=True)
class TypeSetting:
    """Every value of a TypeSpec, settled."""

    family: str
    weight: int
    italic: bool
    size: float
    tracking: float
    caps: str
    figures: str
    shift: float
    swatch: str
    language: str
    tint: float
    scale_x: float
    scale_y: float
    position: str
    features: tuple[str, ...]
    underline: bool
    underline_weight: float
    underline_offset: float
    strike: bool
    strike_weight: float
    strike_offset: float
    no_break: bool


@dataclass(slots=True, frozen=True)
class Setting:
    """Every value of a ParaSpec, settled; ``leading`` is never 0, and ``leading_times`` is 0 where it was set in
    points. ``exceptions`` are the job's hyphenations."""

    align: str
    last_line: str
    leading: float
    leading_times: float
    indent_first: float
    indent_left: float
    indent_right: float
    space_before: float
    space_after: float
    hyphenate: bool
    hyphen_word: int
    hyphen_before: int
    hyphen_after: int
    hyphen_run: int
    breaking: str
    keep_next: bool
    keep_previous: bool
    keep_together: bool
    foot_lines: int
    head_lines: int
    start: str
    grid: bool | Literal["first"]
    looseness: int
    hyphen_capitals: bool
    hyphen_names: bool
    hyphen_last: bool
    hyphen_column: bool | Literal["leaf"]
    last_least: float
    letter_fit: float
    glyph_fit: float
    optical: bool
    tabs: tuple[TabStop, ...]
    tab_every: float
    drop_lines: int
    drop_chars: int
    drop_style: str
    drop_gap: float
    drop_shape: bool
    rule_above: ParaRule
    rule_below: ParaRule
    box: Box
    list: ListMark
    span: bool
    split: int
    keep_space: bool
    at_foot: bool
    even_feet: bool
    closing_lines: int
    floats: bool
    exceptions: tuple[str, ...] = ()


@dataclass(slots=True, frozen=True)
class FrameSetting:
    """Every value of a FrameSpec, settled; strokes with what their styles say."""

    columns: int
    gutter: float
    column_rule: Stroke
    balanced: bool
    insets: Insets
    vertical: str
    stretch: float
    first: str
    first_at: float
    fill: Fill
    way: Way
    stroke: Stroke
    overprint: bool
    shadow: Shadow
    opacity: float
    blend: Blend
    soft_edge: float
    wrap: Wrap
    passes: bool


def chain_of(table: Mapping[str, Style], style_id: str | None) -> list[Style]:
    """A style and those it is based on, the lowest first. A ring or a gap ends the chain."""
    chain: list[Style] = []
    visited: set[str] = set()
    while style_id and style_id in table and style_id not in visited:
        visited.add(style_id)
        chain.append(table[style_id])
        style_id = chain[-1].based_on
    return chain[::-1]


def frame_spec(job: Job, frame: Object) -> FrameSpec:
    """A frame's own values over those of its style; strokes as they are said, with what they leave to rule styles."""
    spec = ROOT_FRAME
    for style in chain_of(job.frame_styles, frame.style):
        spec = combined(spec, style.frame)
    return combined(spec, frame.make)


def frame_setting(job: Job, frame: Object) -> FrameSetting:
    """Return what a frame is finally made like."""
    spec = frame_spec(job, frame)
    resolved = replace(spec, stroke=stroke_of(job, spec.stroke), column_rule=stroke_of(job, spec.column_rule))
    return FrameSetting(**_values(resolved))  # type: ignore[arg-type]


def stroke_of(job: Job, stroke: Stroke | None) -> Stroke:
    """A stroke with every value given: its own, its rule style's, the plain ones."""
    settled = ROOT_STROKE
    for style in chain_of(job.rule_styles, stroke.style if stroke else None):
        settled = combined(settled, style.stroke)
    return combined(settled, stroke)


MOST_SETTINGS = 4000
"""Ways that paragraphs and spans are set by hand which are remembered."""


class Cascade:
    """Resolves against one state of a job's styles; make a new one when the styles change."""

    def __init__(self, job: Job) -> None:
        self._paragraph_styles = dict(job.paragraph_styles)
        self._character_styles = dict(job.character_styles)
        self._language = job.brief.language
        self._exceptions = job.brief.exceptions
        self._facing = job.brief.facing
        self._listing: set[str] | None = None
        self._styles: dict[str, tuple[TypeSpec, ParaSpec]] = {}
        # Most paragraphs have no local formatting; of the others many are equal, such as the cells of a column.
        self._plain_settings: dict[str, Setting] = {}
        self._settings: dict[tuple[str, TypeSpec | None, ParaSpec | None], Setting] = {}
        self._plain_types: dict[tuple[str, str | None], TypeSetting] = {}
        self._types: dict[tuple[str, TypeSpec | None, str | None, TypeSpec | None], TypeSetting] = {}

    def same_as(self, other: Cascade) -> bool:
        """Return whether both resolve every paragraph in the same way."""
        return (
            self._paragraph_styles == other._paragraph_styles
            and self._character_styles == other._character_styles
            and self._language == other._language
            and self._exceptions == other._exceptions
            and self._facing == other._facing
        )

    def measures_as(self, other: Cascade) -> bool:
        """Return whether both set every paragraph in the same lines, however they are painted."""
        return self.same_as(other) or (
            measured(self._paragraph_styles) == measured(other._paragraph_styles)
            and measured(self._character_styles) == measured(other._character_styles)
            and self._language == other._language
            and self._exceptions == other._exceptions
            and self._facing == other._facing
        )

    def style(self, style_id: str) -> tuple[TypeSpec, ParaSpec]:
        """The specs of a paragraph style with its chain laid under it. A ring or a gap ends the chain."""
        cached = self._styles.get(style_id)
        if cached is None:
            type_, para = replace(ROOT_TYPE, language=self._language), ROOT_PARA
            for style in chain_of(self._paragraph_styles, style_id):
                type_, para = combined(type_, style.type), combined(para, style.para)
            cached = self._styles[style_id] = (type_, para)
        return cached

    def beneath(self, p: Paragraph) -> tuple[TypeSpec, ParaSpec]:
        """Return what local settings of a paragraph lie over, whose own are those of its text."""
        type_, para = self.style(p.style)
        return combined(type_, p.type) if p.type else type_, combined(para, p.para) if p.para else para

    def character_spec(self, style_id: str | None) -> TypeSpec:
        spec = TypeSpec()
        for style in chain_of(self._character_styles, style_id):
            spec = combined(spec, style.type)
        return spec

    def listing_styles(self) -> set[str]:
        """The paragraph styles that make lists."""
        if self._listing is None:
            styles = (
                name for name in self._paragraph_styles if (mark := self.style(name)[1].list) and mark.kind != "none"
            )
            self._listing = set(styles)
        return self._listing

    def heads(self, style_id: str) -> bool:
        """Return whether paragraphs in a style are headings."""
        style = self._paragraph_styles.get(style_id)
        return bool(style and style.level)

    def setting(self, paragraph: Paragraph) -> Setting:
        if paragraph.type is None and paragraph.para is None:
            cached = self._plain_settings.get(paragraph.style)
            if cached is None:
                cached = self._plain_settings[paragraph.style] = self._settled(paragraph)
            return cached
        key = paragraph.style, paragraph.type, paragraph.para
        cached = self._settings.get(key)
        if cached is None:
            if len(self._settings) >= MOST_SETTINGS:
                self._settings.clear()
            cached = self._settings[key] = self._settled(paragraph)
        return cached

    def _settled(self, paragraph: Paragraph) -> Setting:
        type_, para = self.style(paragraph.style)
        setting = _setting(combined(type_, paragraph.type), combined(para, paragraph.para), self._exceptions)
        if setting.start == "verso" and not self._facing:
            return replace(setting, start="page")  # pages that face none have no left and right
        return setting

    def type_of(self, paragraph: Paragraph, span: Span | None = None) -> TypeSetting:
        style, local = (span.style, span.type) if span is not None else (None, None)
        if paragraph.type is None and local is None:
            cached = self._plain_types.get((paragraph.style, style))
            if cached is None:
                cached = self._plain_types[paragraph.style, style] = self._settled_type(paragraph, style, local)
            return cached
        key = paragraph.style, paragraph.type, style, local
        cached = self._types.get(key)
        if cached is None:
            if len(self._types) >= MOST_SETTINGS:
                self._types.clear()
            cached = self._types[key] = self._settled_type(paragraph, style, local)
        return cached

    def _settled_type(self, paragraph: Paragraph, style: str | None, local: TypeSpec | None) -> TypeSetting:
        type_ = combined(self.style(paragraph.style)[0], paragraph.type)
        if style:
            type_ = combined(type_, self.character_spec(style))
        return _type(combined(type_, local))


def measured(styles: Mapping[str, Any]) -> dict[str, Any]:
    """Styles without their names and what is only painted."""
    values = {}
    for key, style in styles.items():
        changes = {
            spec: replace(getattr(style, spec), **dict.fromkeys(names))
            for spec, names in LOOKS.items()
            if hasattr(style, spec)
        }
        values[key] = replace(style, name="", **changes)
    return values


def _values(spec: TypeSpec | ParaSpec | FrameSpec) -> dict[str, object]:
    return {f.name: getattr(spec, f.name) for f in fields(spec)}


@lru_cache(4096)
def _type(spec: TypeSpec) -> TypeSetting:
    return TypeSetting(**_values(spec))  # type: ignore[arg-type]


def plain_type(language: str) -> TypeSetting:
    """Return what text is set in where nothing says otherwise."""
    return _type(replace(ROOT_TYPE, language=language))


@lru_cache(4096)
def _setting(type_: TypeSpec, para: ParaSpec, exceptions: tuple[str, ...] = ()) -> Setting:
    values = _values(para)
    if para.leading:
        values["leading_times"] = 0.0
    else:
        values["leading"] = (type_.size or 0.0) * (para.leading_times or 1.0)
    if (para.drop_lines or 0) > 1:
        values["foot_lines"] = max(para.foot_lines or 0, para.drop_lines or 0)  # an initial's lines stay together
    return Setting(**values, exceptions=exceptions)  # type: ignore[arg-type]


PLAIN_FRAME = FrameSetting(**_values(replace(ROOT_FRAME, stroke=ROOT_STROKE, column_rule=ROOT_STROKE)))  # type: ignore[arg-type]
"""A frame of which nothing is said."""
