"""What the phrases of a spec line are made of: the rules' register, the names a line may use, what it comes to mean."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Any

from lexigon.core import lengths
from lexigon.core.job.model import (
    FrameSpec,
    Job,
    ParaSpec,
    TypeSpec,
    overlay,
)

NUMBER = r"\d+(?:[.,]\d+)?"
LENGTH = rf"[+-]?{NUMBER}\s?(?:pt|mm|cm|in|px|p(?![a-z])|″|\")?"
WEIGHTS = {
    "thin": 100, "extra light": 200, "light": 300, "regular": 400, "medium": 500, "semibold": 600, "bold": 700, "extra bold": 800,
    "black weight": 900,
}  # fmt: skip


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

    @classmethod
    def of(cls, job: Job, families: Iterable[str]) -> Names:
        def pairs(table: dict[str, Any]) -> tuple[tuple[str, str], ...]:
            return tuple((entry.name, key) for key, entry in table.items())

        return cls(
            tuple(families), pairs(job.paragraph_styles), pairs(job.character_styles), pairs(job.frame_styles),
            pairs(job.swatches), pairs(job.rule_styles), job.brief.unit,
        )  # fmt: skip


@dataclass(slots=True)
class Understood:
    """What a spec line asks for. ``said`` is it in words, phrase by phrase; ``unknown`` the stretches no rule reads."""

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
    said: list[str] = field(default_factory=list)
    unknown: list[tuple[int, int]] = field(default_factory=list)

    @property
    def nothing(self) -> bool:
        return not self.said


Effect = Callable[[Understood, re.Match[str], Names], str]


@dataclass(slots=True, frozen=True)
class Rule:
    """``pattern`` at a phrase's beginning; ``shown`` is how the documentation and the completion write it."""

    pattern: re.Pattern[str]
    effect: Effect
    shown: str
    about: str
    group: str


RULES: list[Rule] = []


def rule(pattern: str, shown: str, about: str, group: str) -> Callable[[Effect], Effect]:
    def kept(effect: Effect) -> Effect:
        RULES.append(Rule(re.compile(pattern + r"(?=[\s,;]|$)", re.I), effect, shown, about, group))
        return effect

    return kept


def number(text: str) -> float:
    return float(text.replace(",", "."))


def points(text: str) -> float:
    return lengths.parse(text.replace(",", "."), "pt")


def short(value: float) -> str:
    return f"{value:g} pt"


def set_type(out: Understood, **values: Any) -> None:
    out.type = overlay(out.type, TypeSpec(**values))


def set_para(out: Understood, **values: Any) -> None:
    out.para = overlay(out.para, ParaSpec(**values))


def set_frame(out: Understood, **values: Any) -> None:
    out.frame = overlay(out.frame, FrameSpec(**values))
