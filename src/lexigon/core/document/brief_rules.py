"""Rules for a set-up: pages that can be made, margins that leave room, folds that can be folded."""

from __future__ import annotations

from dataclasses import fields

from lexigon.core import lengths
from lexigon.core.document.model import Brief, Cover, Fold, Master
from lexigon.core.errors import LexigonError

PANELS = {"half": (2,), "letter": (3,), "accordion": (2, 3, 4), "gate": (3, 4)}
"""Panel counts of each fold."""

FOLDS = {
    "half": "Half fold",
    "letter": "Letter fold",
    "accordion": "Accordion fold",
    "gate": "Gate fold",
}


def check_fold(fold: Fold) -> None:
    """Raises LexigonError naming the field that cannot be."""
    length = fold.width if fold.direction == "side" else fold.height
    if fold.panels not in PANELS[fold.fold]:
        counts = " or ".join(map(str, PANELS[fold.fold]))
        raise LexigonError(f"A {FOLDS[fold.fold].lower()} has {counts} panels, not {fold.panels}.", "panels")
    if fold.width <= 0 or fold.height <= 0:
        raise LexigonError("The folded size must be greater than 0.", "width")
    if not 0 <= fold.allowance < length / 2:
        raise LexigonError("The roll-in panel cannot be narrower by more than half its width.", "allowance")


def check_brief(brief: Brief) -> None:
    """Raises LengthError naming the field that cannot be."""
    unit = brief.unit
    least, most = 18.0, 72.0 * 200
    for name in ("width", "height"):
        value = getattr(brief, name)
        if not value > 0:
            raise lengths.LengthError(f"The {name} must be greater than 0.", f"{name}")
        if value < least:
            raise lengths.LengthError(f"A page is at least {lengths.show(least, unit)}.", name)
        if value > most:
            raise lengths.LengthError(f"A page is at most {lengths.show(most, unit)} in each direction.", name)
    for group in ("margins", "bleed"):
        for item in fields(getattr(brief, group)):
            value = getattr(getattr(brief, group), item.name)
            if not 0 <= value <= most:
                raise lengths.LengthError(
                    f"The {item.name} {group.rstrip('s')} cannot be negative.", f"{group}.{item.name}"
                )
    area = brief.text_area("recto")
    if area.width < 18:
        raise lengths.LengthError("The inside and outside margins leave no room for text on the page.", "margins.outer")
    if area.height < 18:
        raise lengths.LengthError("The top and bottom margins leave no room for text on the page.", "margins.foot")
    if max(brief.bleed.head, brief.bleed.foot, brief.bleed.inner, brief.bleed.outer) > 144:
        raise lengths.LengthError(f"A bleed is at most {lengths.show(144, unit)}.", "bleed.head")
    if not 1 <= brief.columns <= 12:
        raise lengths.LengthError("A page has 1 to 12 columns.", "columns")
    if not 1 <= brief.rows <= 40:
        raise lengths.LengthError("A page is divided into 1 to 40 rows.", "rows")
    if not 30 <= brief.ppi <= 2400:
        raise lengths.LengthError("Resolution is between 30 and 2,400 ppi.", "ppi")
    if brief.gutter < 0 or brief.row_gutter < 0 or brief.safe < 0:
        raise lengths.LengthError("Gutters and safe margins cannot be negative.", "gutter")
    if brief.gutter * (brief.columns - 1) >= area.width:
        raise lengths.LengthError("The gutters leave no room for the columns.", "gutter")
    if brief.row_gutter * (brief.rows - 1) >= area.height:
        raise lengths.LengthError("The gutters leave no room for the rows.", "rows")
    if brief.grid_step and brief.grid_step < 2:
        raise lengths.LengthError("The baseline grid needs at least 2 pt between lines.", "grid_step")
    if isinstance(brief.form, Fold):
        check_fold(brief.form)
    if isinstance(brief.form, Cover):
        check_cover(brief.form)


def check_cover(cover: Cover) -> None:
    """Raises LexigonError naming the field that cannot be."""
    for name in ("width", "height"):
        if not 18 <= getattr(cover, name) <= 72 * 200:
            raise LexigonError("A bound book is 0.25 to 200 in wide and high.", name)
    if cover.spine is None and cover.pages < 1:
        raise LexigonError("A spine needs the number of pages.", "pages")


def check_margins(brief: Brief, master: Master) -> None:
    """Raises LexigonError where a master's margins leave no room on its page."""
    margins = master.margins
    if margins is None and not master.turned:
        return
    area = brief.text_area("recto", margins, master.turned)
    if margins and min(margins.head, margins.foot, margins.inner, margins.outer) < 0:
        raise LexigonError("Margins cannot be negative.", "margins")
    if area.width < 18 or area.height < 18:
        width, height = (lengths.show(value, brief.unit) for value in brief.page_size(master.turned))
        raise LexigonError(f"The margins of “{master.name}” leave no room on a page of {width} × {height}.", "margins")
