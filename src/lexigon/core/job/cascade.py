"""Resolving styles: what a paragraph, or a stretch of one, is finally set in.

Order, weakest first: the root values, the chain of styles a style is based on, the style, the
paragraph's local setting, the span's character style (with its chain), the span's local setting.
"""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from functools import lru_cache

from lexigon.core.job.model import Job, Paragraph, ParaSpec, Span, TypeSpec, overlay

ROOT_TYPE = TypeSpec(
    family="EB Garamond", weight=400, italic=False, size=11.0, tracking=0.0, caps="none", figures="default",
    shift=0.0, swatch="black",
)  # fmt: skip
ROOT_PARA = ParaSpec(
    align="left", last_line="left", leading=0.0, indent_first=0.0, indent_left=0.0, indent_right=0.0,
    space_before=0.0, space_after=0.0, hyphenate=True, hyphen_word=6, hyphen_before=3, hyphen_after=3,
    hyphen_run=3, breaking="optimum", keep_next=False, keep_together=False, foot_lines=2, head_lines=2,
    start="anywhere", grid=False,
)  # fmt: skip

AUTO_LEADING = 1.2
"""Automatic leading as a multiple of the type size (common practice, no source)."""


@dataclass(slots=True, frozen=True)
class Face:
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


@dataclass(slots=True, frozen=True)
class Setting:
    """Every value of a ParaSpec, settled; ``leading`` is never 0."""

    align: str
    last_line: str
    leading: float
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
    keep_together: bool
    foot_lines: int
    head_lines: int
    start: str
    grid: bool


class Cascade:
    """Resolves against one state of a job's styles; make a new one when the styles change."""

    def __init__(self, job: Job) -> None:
        self._paragraph_styles = dict(job.paragraph_styles)
        self._character_styles = dict(job.character_styles)
        self._language = job.brief.language
        self._styles: dict[str, tuple[TypeSpec, ParaSpec]] = {}
        # Most paragraphs are set in their style and nothing else.
        self._plain_settings: dict[str, Setting] = {}
        self._plain_faces: dict[str, Face] = {}

    def same_as(self, other: Cascade) -> bool:
        """Whether both resolve every paragraph alike."""
        return (
            self._paragraph_styles == other._paragraph_styles
            and self._character_styles == other._character_styles
            and self._language == other._language
        )

    def style(self, style_id: str) -> tuple[TypeSpec, ParaSpec]:
        """The specs of a paragraph style with its chain laid under it. A ring or a gap ends the chain."""
        known = self._styles.get(style_id)
        if known is None:
            chain, seen, at = [], set(), style_id
            while at in self._paragraph_styles and at not in seen:
                seen.add(at)
                chain.append(self._paragraph_styles[at])
                at = chain[-1].based_on or ""
            type_, para = replace(ROOT_TYPE, language=self._language), ROOT_PARA
            for style in reversed(chain):
                type_, para = overlay(type_, style.type), overlay(para, style.para)
            known = self._styles[style_id] = (type_, para)
        return known

    def character_spec(self, style_id: str | None) -> TypeSpec:
        chain, seen = [], set()
        while style_id in self._character_styles and style_id not in seen:
            seen.add(style_id)
            chain.append(self._character_styles[style_id])
            style_id = chain[-1].based_on
        spec = TypeSpec()
        for style in reversed(chain):
            spec = overlay(spec, style.type)
        return spec

    def setting(self, paragraph: Paragraph) -> Setting:
        plain = paragraph.type is None and paragraph.para is None
        known = self._plain_settings.get(paragraph.style) if plain else None
        if known is None:
            type_, para = self.style(paragraph.style)
            known = _setting(overlay(type_, paragraph.type), overlay(para, paragraph.para))
            if plain:
                self._plain_settings[paragraph.style] = known
        return known

    def face(self, paragraph: Paragraph, span: Span | None = None) -> Face:
        plain = paragraph.type is None and span is None
        known = self._plain_faces.get(paragraph.style) if plain else None
        if known is None:
            type_ = overlay(self.style(paragraph.style)[0], paragraph.type)
            if span is not None:
                if span.style:
                    type_ = overlay(type_, self.character_spec(span.style))
                type_ = overlay(type_, span.type)
            known = _face(type_)
            if plain:
                self._plain_faces[paragraph.style] = known
        return known


def _values(spec: TypeSpec | ParaSpec) -> dict[str, object]:
    return {f.name: getattr(spec, f.name) for f in fields(spec)}


@lru_cache(4096)
def _face(spec: TypeSpec) -> Face:
    return Face(**_values(spec))  # type: ignore[arg-type]


@lru_cache(4096)
def _setting(type_: TypeSpec, para: ParaSpec) -> Setting:
    values = _values(para)
    if not para.leading:
        values["leading"] = (type_.size or 0.0) * AUTO_LEADING
    return Setting(**values)  # type: ignore[arg-type]
