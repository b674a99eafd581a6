"""Reading a set-up as it was typed: each field is a string, and each error is reported at its field."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any, Literal, cast

from lexigon.core import lengths
from lexigon.core.brief.binding import BINDINGS
from lexigon.core.brief.forms import panel_moves, sized
from lexigon.core.brief.kinds import ELSEWHERE, KINDS, ROUND, Kind, defaults
from lexigon.core.brief.paper import PAPERS
from lexigon.core.document.brief_rules import FOLDS, check_brief
from lexigon.core.document.cascade import Cascade
from lexigon.core.document.forms.folds import fold_panels
from lexigon.core.document.model import Brief, Cover, Edges, Fold, Job, Paper
from lexigon.core.document.starter import gridded, new_job
from lexigon.core.editing.edits import apply_all
from lexigon.core.editing.intents import ChangeBrief, FoldOut
from lexigon.core.editing.intents.pages.set_up import Anchor
from lexigon.core.errors import LexigonError
from lexigon.core.type.fonts import shipped

LANGUAGES = {
    "en-GB": "English, British",
    "en-US": "English, American",
    "de-DE": "German",
    "fr": "French",
    "es": "Spanish",
    "it-IT": "Italian",
    "nl-NL": "Dutch",
    "pt-PT": "Portuguese",
    "pt-BR": "Portuguese, Brazil",
    "sv": "Swedish",
    "da-DK": "Danish",
    "nb-NO": "Norwegian",
    "pl-PL": "Polish",
    "cs-CZ": "Czech",
}

SIDES = ("head", "foot", "inner", "outer")

SAFE_ON_CARDS = 9.0
"""How far text keeps from trim and folds of cards and brochures, 0.125 in (common practice, no source)."""

ANCHORS: dict[Anchor, str] = {
    "margins": "margins",
    "panels": "panel",
    "scale": "its share of the page (scaled)",
    "top left": "top left corner",
    "top": "top edge",
    "top right": "top right corner",
    "left": "left edge",
    "centre": "centre of the page",
    "right": "right edge",
    "foot left": "bottom left corner",
    "foot": "bottom edge",
    "foot right": "bottom right corner",
}
"""What content keeps when the page changes."""


@dataclass(slots=True, frozen=True)
class Setup:
    name: str
    kind: Kind
    brief: Brief
    family: str
    size: float
    leading: float
    pages: int
    main: bool
    grid: bool
    papers: Mapping[str, Paper]

    def new_job(self) -> Job:
        brief = self.brief
        if self.grid and not self.main:
            brief = gridded(brief, self.leading)
        pages = 2 if isinstance(brief.form, Fold) else 1 if brief.form else self.pages
        job = new_job(
            self.name,
            brief,
            kind=cast(Any, self.kind.id),
            family=self.family,
            size=self.size,
            leading=self.leading,
            pages=pages,
            main=self.main and brief.form is None,
            running=self.kind.bound,
        )
        job.papers = dict(self.papers)
        if self.kind.id == "book":
            body = job.paragraph_styles[job.body]
            job.paragraph_styles[job.body] = replace(body, para=replace(body.para, **BOOK_TEXT))
        return job

    def change(self, job: Job, anchor: Anchor = "margins") -> ChangeBrief:
        """The intent that brings an existing job to this set-up; the grid follows leading and head margin."""
        body = job.paragraph_styles[job.body]
        indent = self.leading if body.para.indent_first else body.para.indent_first
        _, para = Cascade(job).style(job.body)
        leading: float | None = self.leading
        if not para.leading and abs(self.leading - self.size * (para.leading_times or 1)) < 0.01:
            leading = body.para.leading  # automatic leading that still comes to the same stays automatic
        changed = replace(
            body,
            type=replace(body.type, family=self.family, size=self.size),
            para=replace(body.para, leading=leading, indent_first=indent),
        )
        brief = self.brief
        if self.grid:
            brief = gridded(brief, self.leading)
        moves = panel_moves(job.brief, brief, job.papers, len(job.pages))
        if brief.form is not None and job.brief.form is not None and anchor == "margins":
            anchor = "panels"
        return ChangeBrief(brief, (changed,), self.name, anchor, moves)


BOOK_TEXT: dict[str, Any] = {"even_feet": True, "hyphen_run": 2, "closing_lines": 5}
"""What the text of a new book has that shorter pieces do not: facing pages that end on the same line, no more than two
hyphens below each other, and at least five lines on the last page of a chapter (common practice, no source)."""

EXCEPTION = re.compile(r"[^\W\d_]+(?:[-'’][^\W\d_]+)*")


class _Reader:
    """Reads typed values one by one and keeps what is wrong with each."""

    def __init__(self, values: Mapping[str, str]) -> None:
        base = defaults(values.get("kind", "book"))
        self.typed = {**base, **{key: value for key, value in values.items() if key in base}}
        self.errors: dict[str, str] = {}
        self.unit = self.typed["unit"] if self.typed["unit"] in lengths.POINTS else "mm"

    def length(self, name: str, unit: str = "") -> float:
        try:
            return lengths.parse(self.typed[name], unit or self.unit)
        except LexigonError as error:
            self.errors[name] = str(error)
            return 1.0

    def edges(self, group: str) -> Edges:
        return Edges(*(self.length(f"{group}.{side}") for side in SIDES))

    def whole(self, name: str, least: int, most: int, message: str) -> int:
        try:
            value = int(self.typed[name].strip())
            if least <= value <= most:
                return value
        except ValueError:
            pass
        self.errors[name] = message
        return least

    def choice(self, name: str, among: Iterable[str], message: str) -> Any:
        if self.typed[name] not in among:
            self.errors.setdefault(name, message)
        return self.typed[name]


def read_setup(
    values: Mapping[str, str], papers: Mapping[str, Paper] = PAPERS, families: Collection[str] = ()
) -> tuple[Setup | None, dict[str, str]]:
    """Return the set-up that the fields describe, or None, and the errors by field. Missing fields get the defaults of
    the kind of piece.

    ``papers`` are those that can be selected, ``families`` are fonts beside those that ship.
    """
    read = _Reader(values)
    typed, errors = read.typed, read.errors
    kind = KINDS.get(typed["kind"], KINDS["book"])
    margins = read.edges("margins") if not kind.form else Edges()
    bleed = read.edges("bleed")
    gutter, row_gutter = read.length("gutter"), read.length("row_gutter")
    size, leading = read.length("size", "pt"), read.length("leading", "pt")
    columns = read.whole("columns", 1, 12, "A page has 1 to 12 columns.")
    rows = read.whole("rows", 1, 40, "A page is divided into 1 to 40 rows.")
    pages = read.whole("pages", 1, 5000, "Type the number of pages, 1 to 5,000.")
    ppi = read.whole("ppi", 30, 2400, "Resolution is between 30 and 2,400 ppi.")
    safe = read.length("safe") if kind.form else 0.0
    read.choice("language", LANGUAGES, "Select one of the languages.")
    exceptions = tuple(dict.fromkeys(typed["exceptions"].replace(",", " ").split()))
    for word in exceptions:
        if not EXCEPTION.fullmatch(word):
            errors["exceptions"] = f"“{word[:30]}” is not a word with its hyphenation points, such as ob-ser-va-tory."
    read.choice("binding", BINDINGS, "Select one of the bindings.")
    if typed["paper"]:
        read.choice("paper", papers, "That paper is not in the list.")
    if typed["family"] not in families and not shipped().has(typed["family"]):
        errors["family"] = f"There is no font family “{typed['family']}”."
    if "size" not in errors and not 2 <= size <= 500:
        errors["size"] = "Body type is between 2 and 500 pt."
    if "leading" not in errors and not size * 0.5 <= leading <= 2000:
        errors["leading"] = "Leading must be at least half the type size."
    width, height = read.length("width"), read.length("height")
    for name, value in (("width", width), ("height", height)):
        if name not in errors and value <= 0:
            errors[name] = f"The {name} must be greater than 0."
    form = _form(kind, read, width, height, pages)
    brief = Brief(
        width,
        height,
        margins,
        bleed,
        cast(Any, read.unit),
        kind.bound and typed["facing"] == "1",
        columns,
        gutter,
        language=typed["language"],
        rows=rows,
        row_gutter=row_gutter,
        binding=cast(Any, typed["binding"]),
        paper=typed["paper"] or None,
        colour="screen" if typed["colour"] == "screen" else "process",
        ppi=float(ppi),
        safe=safe,
        form=form,
        exceptions=exceptions,
    )
    if form is not None:
        brief = replace(brief, margins=Edges(safe, safe, safe, safe))
    if not errors:
        try:
            brief = sized(brief, papers)
            check_brief(brief)
        except LexigonError as error:
            errors[error.field if error.field in typed else "name"] = str(error)
    name = typed["name"].strip()[:200] or f"Untitled {kind.word.lower() if kind.id != 'book' else 'book'}"
    setup = Setup(
        name, kind, brief, typed["family"], size, leading, pages, typed["main"] == "1", typed["grid"] == "1", papers
    )
    return (None if errors else setup), errors


def _form(kind: Kind, read: _Reader, width: float, height: float, pages: int) -> Cover | Fold | None:
    typed, errors = read.typed, read.errors
    if kind.form == "cover":
        spine = read.length("spine") if typed["spine"].strip() else None
        flap = read.length("flap")
        if typed["whole"].strip():
            # A printer often gives the whole cover's width: what the panels leave of it is the spine.
            left = read.length("whole") - 2 * (width + flap)
            if spine is not None and abs(left - spine) > 0.02:
                errors.setdefault(
                    "whole",
                    "With the spine width that you typed, the cover is "
                    f"{lengths.show(2 * (width + flap) + spine, read.unit)} wide.",
                )
            spine = left
            if left < 0:
                errors.setdefault("whole", "The sheet is narrower than its panels together.")
        if spine is not None and "spine" not in errors and "whole" not in errors and not 0 <= spine <= 720:
            errors["spine"] = "A spine is at most 10 in wide."
        if flap < 0:
            errors["flap"] = "A flap cannot be negative."
        return Cover(width, height, pages, spine, flap, typed["interior"] or None)
    if kind.form == "fold":
        fold = read.choice("fold", FOLDS, "Select one of the folds.")
        direction: Literal["side", "top"] = "top" if typed["direction"] == "top" else "side"
        panels = read.whole("panels", 2, 4, "A sheet can be folded into 2 to 4 panels.")
        allowance = read.length("allowance") if fold in ("letter", "gate") else 0.0
        return Fold(width, height, fold, panels, direction, allowance)
    return None


def own_families(job: Job) -> set[str]:
    """The fonts a job has beside those that ship: those it brought along, and its body's even where that is missing."""
    return {*(font.family for font in job.fonts.values()), Cascade(job).style(job.body)[0].family or ""} - {""}


def field_values(job: Job) -> dict[str, str]:
    """The fields of a job's set-up as they are typed."""
    b, unit = job.brief, job.brief.unit
    type_, para = Cascade(job).style(job.body)
    form = b.form
    kind = job.kind if job.kind in KINDS else "book"

    def length(points: float, in_: str = "") -> str:
        return lengths.show(points, in_ or unit)

    values = {
        **defaults(kind),
        "name": job.name,
        "unit": unit,
        "width": length(form.width if form else b.width),
        "height": length(form.height if form else b.height),
        "facing": "1" if b.facing else "",
        "language": b.language,
        "exceptions": " ".join(b.exceptions),
        "columns": str(b.columns),
        "gutter": length(b.gutter),
        "rows": str(b.rows),
        "row_gutter": length(b.row_gutter),
        "binding": b.binding,
        "paper": b.paper or "",
        "colour": b.colour,
        "ppi": f"{b.ppi:g}",
        "safe": length(b.safe),
        "family": type_.family or "",
        "size": length(type_.size or 0, "pt"),
        "leading": length(para.leading or (type_.size or 0) * (para.leading_times or 1), "pt"),
        "main": "1" if job.main_story else "",
        "grid": "1" if b.grid_step else "",
        "pages": str(len(job.pages)),
    }
    if isinstance(form, Cover):
        values |= {
            "pages": str(form.pages),
            "spine": "" if form.spine is None else length(form.spine),
            "flap": length(form.flap),
            "interior": form.interior or "",
        }
    if isinstance(form, Fold):
        values |= {
            "fold": form.fold,
            "panels": str(form.panels),
            "direction": form.direction,
            "allowance": length(form.allowance),
        }
    for side in SIDES:
        values[f"margins.{side}"] = length(getattr(b.margins, side))
        values[f"bleed.{side}"] = length(getattr(b.bleed, side))
    return values


_LENGTHS = ("width", "height", "gutter", "row_gutter", "safe", "spine", "whole", "flap", "allowance")


def in_unit(values: Mapping[str, str], unit: str, fresh: str = "") -> dict[str, str]:
    """The lengths of a form written in another unit; what cannot be read stays as it was typed.

    In the set-up of a new piece of kind ``fresh`` distances that are still the usual ones become those of the other
    system: 0.125 in is 3 mm then.
    """
    result = dict(values)
    usual = defaults(fresh) if fresh else {}
    for name, value in values.items():
        if name in _LENGTHS or name.startswith(("margins.", "bleed.")):
            try:
                points = lengths.parse(value, values.get("unit", "mm"))
            except LexigonError:
                continue
            both = (usual.get(name, ""), ROUND.get(usual.get(name, ""), ""))
            if all(both) and any(abs(points - lengths.parse(one, unit)) < 0.01 for one in both):
                points = next((lengths.parse(one, unit) for one in both if _system(one) == _system(unit)), points)
            result[name] = lengths.show(points, unit)
    result["unit"] = unit
    return result


def usual(kind: str, unit: str = "") -> dict[str, str]:
    """The fields of a new piece as somebody who measures in ``unit`` expects them: formats and distances of their
    system of measures.

    Without a unit they are as the kind of piece has them.
    """
    values = defaults(kind)
    if unit not in lengths.POINTS or unit == values["unit"]:
        return values
    size = ELSEWHERE.get((values["width"], values["height"]))
    changed = in_unit(values, unit, kind)
    if size and _system(values["unit"]) != _system(unit) == _system(size[0]):
        changed |= {
            name: lengths.show(lengths.parse(one), unit) for name, one in zip(("width", "height"), size, strict=True)
        }
    return changed


def _system(length: str) -> str:
    """Return whether a length, or a unit, is metric or in inches; points, picas and pixels are neither."""
    unit = length.split(" ")[-1]
    return "metric" if unit in ("mm", "cm") else unit


def changed(job: Job, setup: Setup, anchor: Anchor) -> Job:
    """The job as it would be with another set-up, for a preview; the job itself stays as it is."""
    trial = replace(
        job,
        pages=list(job.pages),
        masters=dict(job.masters),
        paragraph_styles=dict(job.paragraph_styles),
    )
    apply_all(trial, setup.change(job, anchor).expand(trial))
    return trial


def folded_out(job: Job, direction: Literal["side", "top"]) -> FoldOut:
    """The intent that makes a folded card of a flat one: the sheet doubles, the finished front stays the front."""
    brief = job.brief
    fold = Fold(brief.width, brief.height, "half", 2, direction)
    folded = sized(replace(brief, form=fold, safe=brief.safe or min(SAFE_ON_CARDS, brief.width / 8)), job.papers)
    back, front = fold_panels(fold, "outside")
    return FoldOut(folded, front.rect, back.rect, 180 if back.turn else 0)
