"""Reading a set-up as it was typed: every field a text, every error at its field."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core import lengths
from lexigon.core.brief.folds import fold_panels
from lexigon.core.brief.forms import sized
from lexigon.core.errors import LexigonError
from lexigon.core.job.cascade import Cascade
from lexigon.core.job.intents import ChangeBrief, FoldOut, check_brief
from lexigon.core.job.model import Brief, Edges, Fold, Job
from lexigon.core.job.starter import new_book
from lexigon.core.type.fonts import shipped

LANGUAGES = {
    "en-GB": "English, British", "en-US": "English, American", "de-DE": "German", "fr": "French", "es": "Spanish",
    "it-IT": "Italian", "nl-NL": "Dutch", "pt-PT": "Portuguese", "pt-BR": "Portuguese, Brazil", "sv": "Swedish",
    "da-DK": "Danish", "nb-NO": "Norwegian", "pl-PL": "Polish", "cs-CZ": "Czech",
}  # fmt: skip

SIDES = ("head", "foot", "inner", "outer")

DEFAULTS = {
    "name": "", "unit": "in", "width": "6 in", "height": "9 in", "facing": "1", "language": "en-GB",
    "margins.head": "0.75 in", "margins.foot": "0.75 in", "margins.inner": "0.875 in", "margins.outer": "0.625 in",
    "bleed.head": "0.125 in", "bleed.foot": "0.125 in", "bleed.inner": "0.125 in", "bleed.outer": "0.125 in",
    "columns": "1", "gutter": "12 pt", "family": "EB Garamond", "size": "11 pt", "leading": "15 pt",
}  # fmt: skip

SAFE_ON_CARDS = 9.0
"""How far text keeps from trim and folds of cards and brochures, 0.125 in (common practice, no source)."""


@dataclass(slots=True, frozen=True)
class Setup:
    name: str
    brief: Brief
    family: str
    size: float
    leading: float

    def new_job(self) -> Job:
        return new_book(self.name, self.brief, family=self.family, size=self.size, leading=self.leading)

    def change(self, job: Job) -> ChangeBrief:
        """The intent that brings an existing job to this set-up; the grid follows leading and head margin."""
        body = job.paragraph_styles["body"]
        first = self.leading
        changed = replace(
            body,
            type=replace(body.type, family=self.family, size=self.size),
            para=replace(body.para, leading=self.leading, indent_first=first),
        )
        brief = replace(self.brief, grid_start=self.brief.margins.head + self.leading * 0.8, grid_step=self.leading)
        return ChangeBrief(brief, (changed,), self.name)


def read_setup(values: Mapping[str, str]) -> tuple[Setup | None, dict[str, str]]:
    """The set-up the fields describe, or None and what is wrong by field. Missing fields take the defaults."""
    errors: dict[str, str] = {}
    typed = {**DEFAULTS, **{key: value for key, value in values.items() if key in DEFAULTS}}
    unit = typed["unit"] if typed["unit"] in lengths.POINTS else "mm"

    def length(name: str, unit_: str = unit) -> float:
        try:
            return lengths.parse(typed[name], unit_)
        except LexigonError as error:
            errors[name] = str(error)
            return 1.0

    width, height = length("width"), length("height")
    margins = Edges(*(length(f"margins.{side}") for side in SIDES))
    bleed = Edges(*(length(f"bleed.{side}") for side in SIDES))
    gutter, size, leading = length("gutter"), length("size", "pt"), length("leading", "pt")
    try:
        columns = int(typed["columns"])
        if not 1 <= columns <= 12:
            raise ValueError
    except ValueError:
        errors["columns"], columns = "A page has 1 to 12 columns.", 1
    if typed["language"] not in LANGUAGES:
        errors["language"] = "Choose one of the languages."
    if not shipped().has(typed["family"]):
        errors["family"] = f"There is no font family “{typed['family']}”."
    if "size" not in errors and not 2 <= size <= 500:
        errors["size"] = "Body type is between 2 and 500 pt."
    if "leading" not in errors and not size * 0.5 <= leading <= 2000:
        errors["leading"] = "Leading is the distance of two lines: at least half the type size."
    brief = Brief(
        width,
        height,
        margins,
        bleed,
        unit,
        typed["facing"] == "1",
        columns,
        max(gutter, 0.0),
        language=typed["language"],
    )
    if not errors:
        try:
            check_brief(brief)
        except LexigonError as error:
            errors[error.field] = str(error)
    name = typed["name"].strip()[:200] or "Untitled book"
    return (None if errors else Setup(name, brief, typed["family"], size, leading)), errors


def shown(job: Job) -> dict[str, str]:
    """The fields of a job's set-up as they are typed."""
    b, unit = job.brief, job.brief.unit
    type_, para = Cascade(job).style("body")
    values = {
        "name": job.name, "unit": unit, "width": lengths.show(b.width, unit), "height": lengths.show(b.height, unit),
        "facing": "1" if b.facing else "", "language": b.language, "columns": str(b.columns),
        "gutter": lengths.show(b.gutter, "pt"), "family": type_.family or "", "size": lengths.show(type_.size or 0, "pt"),
        "leading": lengths.show(para.leading or (type_.size or 0) * 1.2, "pt"),
    }  # fmt: skip
    for side in SIDES:
        values[f"margins.{side}"] = lengths.show(getattr(b.margins, side), unit)
        values[f"bleed.{side}"] = lengths.show(getattr(b.bleed, side), unit)
    return values


def in_unit(values: Mapping[str, str], unit: str) -> dict[str, str]:
    """The lengths of a form written in another unit; what cannot be read stays as it was typed."""
    result = dict(values)
    for name, value in values.items():
        if name in ("width", "height") or name.startswith(("margins.", "bleed.")):
            try:
                result[name] = lengths.show(lengths.parse(value, values.get("unit", "mm")), unit)
            except LexigonError:
                continue
    result["unit"] = unit
    return result


def folded_out(job: Job, direction: Literal["side", "top"]) -> FoldOut:
    """The intent that makes a folded card of a flat one: the sheet doubles, the finished front stays the front."""
    brief = job.brief
    fold = Fold(brief.width, brief.height, "half", 2, direction)
    folded = sized(replace(brief, form=fold, safe=brief.safe or min(SAFE_ON_CARDS, brief.width / 8)), job.papers)
    back, front = fold_panels(fold, "outside")
    return FoldOut(folded, front.rect, back.rect, 180 if back.turn else 0)
