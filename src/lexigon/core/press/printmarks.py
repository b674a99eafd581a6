"""Printer's marks: crop marks, fold marks, a line of information. In every ink."""

from __future__ import annotations

import re
from dataclasses import replace
from datetime import datetime

from lexigon.core.colour.profiles import PROFILES
from lexigon.core.document.cascade import plain_type
from lexigon.core.document.forms.sheets import folds_of
from lexigon.core.document.model import Job
from lexigon.core.flow.composition import Composition
from lexigon.core.paint.page import PageArt
from lexigon.core.pdf.boxes import PageBoxes
from lexigon.core.pdf.content import Content
from lexigon.core.pdf.resources import FileResources
from lexigon.core.pdf.writer import number
from lexigon.core.press.boxes import crop_marks
from lexigon.core.press.recipes import Recipe
from lexigon.core.type.runs import look_for

Line = tuple[float, float, float, float]


def draw_marks(
    content: Content, resources: FileResources, sheet: PageBoxes, recipe: Recipe, job: Job, index: int
) -> None:
    """Crop marks, and dashed ones where the sheet folds."""
    with content.saved():
        content.put(f"{resources.registration()} CS 1 SCN {number(recipe.mark_weight)} w")
        content.put(_line_operators(crop_marks(sheet, recipe)))
        folds = _fold_marks(sheet, recipe, job, index)
        if folds:
            content.put(f"[3 2] 0 d {_line_operators(folds)}")


def _line_operators(lines: list[Line]) -> str:
    return " ".join(f"{number(a)} {number(b)} m {number(c)} {number(d)} l" for a, b, c, d in lines) + " S"


def _fold_marks(sheet: PageBoxes, recipe: Recipe, job: Job, index: int) -> list[Line]:
    """Outside the bleed."""
    along, folds = folds_of(job.brief, job.papers, index)
    x0, y0, x1, y1 = sheet.trim
    left, right, top, bottom = (max(edge, recipe.mark_offset) for edge in sheet.bleed)
    length = recipe.mark_length
    lines = []
    for at in folds:
        if along == "x":
            x = sheet.x(at)
            lines += [(x, y1 + top, x, y1 + top + length), (x, y0 - bottom, x, y0 - bottom - length)]
        else:
            y = sheet.y(at)
            lines += [(x0 - left, y, x0 - left - length, y), (x1 + right, y, x1 + right + length, y)]
    return lines


def draw_information(
    content: Content,
    resources: FileResources,
    sheet: PageBoxes,
    recipe: Recipe,
    composition: Composition,
    art: PageArt,
    when: datetime,
) -> None:
    """The line in the head's slug: job, page, date, profile."""
    job, profile = composition.job, PROFILES[recipe.profile]
    text = f"{job.name} · page {art.label} · {when:%Y-%m-%d} · {profile.name.lower()}"
    spec = replace(plain_type(job.brief.language), family="Public Sans", size=6.0)
    look = look_for(composition.library, spec)
    font = resources.font(look.cut.face)
    room = sheet.width - 24
    while text and look.width(text) > room:
        text = text[:-2].rstrip("…") + "…" if len(text) > 2 else ""
    operands = "".join(
        font.space(look, look.width(" ")) if token == " " else font.word(look, token)
        for token in re.findall(" |[^ ]+", text)
    )
    x = sheet.x(12)
    y = sheet.trim[3] + max(sheet.bleed[2], recipe.mark_offset) + recipe.mark_length - 6
    place = f"/{font.name} 6 Tf 1 0 0 1 {number(x)} {number(y)} Tm"
    content.text(f"{resources.registration()} cs 1 scn", f"{place} [{operands}] TJ")
