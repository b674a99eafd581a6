"""The parts of the spec line's grammar: the register of rules, the names that a line may use, and what it comes to
mean."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field, replace
from typing import Any, Literal, TypeVar

from lexigon.core import lengths
from lexigon.core.document.cascade import ROOT_FRAME, ROOT_PARA
from lexigon.core.document.model import FrameSpec, Job, ParaSpec, TypeSpec, combined

NUMBER = r"\d+(?:[.,]\d+)?"
LENGTH = rf"[+-]?{NUMBER}\s?(?:pt|mm|cm|in|px|p(?![a-z])|″|\")?"
SIGN = r"\"[^\"]{1,40}\"|“[^”]{1,40}”|[^\s,;\"“]{1,40}"
"""A character or a format as it is typed: in quotes if it contains spaces or commas."""
WEIGHTS = {
    "thin": 100,
    "extra light": 200,
    "light": 300,
    "regular": 400,
    "medium": 500,
    "semibold": 600,
    "bold": 700,
    "extra bold": 800,
    "black weight": 900,
}


@dataclass(slots=True, frozen=True)
class Names:
    """The names a spec line may use: font families, and the job's styles and swatches as (name, id)."""

    families: tuple[str, ...] = ()
    paragraph_styles: tuple[tuple[str, str], ...] = ()
    character_styles: tuple[tuple[str, str], ...] = ()
    frame_styles: tuple[tuple[str, str], ...] = ()
    swatches: tuple[tuple[str, str], ...] = ()
    rule_styles: tuple[tuple[str, str], ...] = ()
    unit: str = "mm"
    language: str = ""
    """The job's: that of text which names none."""
    bare: Literal["", "colour", "fill"] = ""
    """How the name of a swatch without another word is understood: as the colour of text, or as the fill of a frame; ""
    for neither."""

    @classmethod
    def of(cls, job: Job, families: Iterable[str]) -> Names:
        def pairs(table: dict[str, Any]) -> tuple[tuple[str, str], ...]:
            return tuple((entry.name, key) for key, entry in table.items())

        return cls(
            tuple(families),
            pairs(job.paragraph_styles),
            pairs(job.character_styles),
            pairs(job.frame_styles),
            pairs(job.swatches),
            pairs(job.rule_styles),
            job.brief.unit,
            job.brief.language,
        )


Change = Callable[[Any], Any]


@dataclass(slots=True)
class SpecReading:
    """The reading of a spec line. ``descriptions`` say what it does, phrase by phrase; ``unknown`` are the
    ranges that no rule reads."""

    type: TypeSpec = field(default_factory=TypeSpec)
    para: ParaSpec = field(default_factory=ParaSpec)
    frame: FrameSpec = field(default_factory=FrameSpec)
    changes: dict[str, Any] = field(default_factory=dict)
    """Values of a frame that are no part of a FrameSpec: ``outline``, ``rotation``, ``fit``, ``style``."""
    size_by: float = 0.0
    """Added to each size there is."""
    leading_by: float = 0.0
    paragraph_style: str | None = None
    character_style: str | None = None
    clear: bool = False
    patches: dict[str, list[Change]] = field(default_factory=dict)
    """Changes of a part of a value, by the value's name: ``padding 3`` leaves a paragraph's shading unchanged. Their
    result for the default value is in ``para`` or ``frame`` as well."""
    descriptions: list[str] = field(default_factory=list)
    touched: list[frozenset[str]] = field(default_factory=list)
    """The names of the values that each phrase sets."""
    reset: frozenset[str] = frozenset()
    """The names of values that return to their default, since their phrases were deleted from the line."""
    unknown: list[tuple[int, int]] = field(default_factory=list)

    @property
    def nothing(self) -> bool:
        return not self.descriptions


Effect = Callable[[SpecReading, re.Match[str], Names], str]


@dataclass(slots=True, frozen=True)
class Rule:
    """``pattern`` matches at the beginning of a phrase; ``example`` is how the documentation and the completion write
    it."""

    pattern: re.Pattern[str]
    effect: Effect
    example: str
    about: str
    group: str
    named: bool = False
    """Its example has a name in it that a job may lack; such phrases are documented here and read by ``strokes``."""
    also: tuple[str, ...] = ()
    """The other words it reads, which are offered as well when they are begun."""


RULES: list[Rule] = []


def rule(pattern: str, variants: str, about: str, group: str, also: str = "") -> Callable[[Effect], Effect]:
    """Put the reader of a phrase on the list. ``also`` has other phrases of it that are offered, with commas."""

    def register(effect: Effect) -> Effect:
        whole = re.compile(pattern + r"(?=[\s,;]|$)", re.I)
        RULES.append(Rule(whole, effect, variants, about, group, also=tuple(also.split(", ")) if also else ()))
        return effect

    return register


def number(text: str) -> float:
    return float(text.replace(",", "."))


def unquoted(text: str) -> str:
    return text[1:-1] if text[:1] in '"“' and len(text) > 2 else text


Each = TypeVar("Each")


def four(values: list[Each]) -> tuple[Each, Each, Each, Each]:
    """Values for head, right, foot, left, of one to four that were typed: what is missing is as on the other side."""
    head, right, foot, left = (values * 4)[:4] if len(values) in (1, 2) else (*values, *values[1:2])[:4]
    return head, right, foot, left


def points(text: str) -> float:
    return lengths.parse(text.replace(",", "."), "pt")


def short(value: float) -> str:
    return f"{value:g} pt"


def set_type(out: SpecReading, **values: Any) -> None:
    out.type = combined(out.type, TypeSpec(**values))


PATCHED = frozenset({"box", "rule_above", "rule_below", "list", "stroke", "column_rule"})
"""Values that have parts a phrase may name alone."""


def set_para(out: SpecReading, **values: Any) -> None:
    _whole_value(out, values)
    out.para = combined(out.para, ParaSpec(**values))


def set_frame(out: SpecReading, **values: Any) -> None:
    _whole_value(out, values)
    out.frame = combined(out.frame, FrameSpec(**values))


def _whole_value(out: SpecReading, values: dict[str, Any]) -> None:
    """A value given whole is not changed in parts: what was there before does not matter."""
    for name in PATCHED & set(values):
        out.patches[name] = [_constant(values[name])]


def _constant(value: Any) -> Change:
    return lambda was: value


def patch_para(out: SpecReading, name: str, change: Change) -> None:
    """Change a part of one of a paragraph's values, whatever the rest of it is."""
    out.patches[name] = [*out.patches.get(name, ()), change]
    out.para = replace(out.para, **{name: change(getattr(out.para, name) or getattr(ROOT_PARA, name))})


def patch_frame(out: SpecReading, name: str, change: Change) -> None:
    """Change a part of one of a frame's values, whatever the rest of it is."""
    out.patches[name] = [*out.patches.get(name, ()), change]
    out.frame = replace(out.frame, **{name: change(getattr(out.frame, name) or getattr(ROOT_FRAME, name))})


def patched(out: SpecReading, name: str, was: Any) -> Any:
    """A value with the changes of its parts made to it."""
    for change in out.patches[name]:
        was = change(was)
    return was
