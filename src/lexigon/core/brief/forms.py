"""The geometry that a set-up gives to pages: panels, folds, safe zones, areas to keep clear, and contradictions."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from lexigon.core.document.forms.covers import code_area, contradictions, cover_size, spine_of, spine_type
from lexigon.core.document.forms.folds import sheet_size
from lexigon.core.document.forms.panels import Panel
from lexigon.core.document.forms.sheets import panels_of
from lexigon.core.document.model import Brief, Cover, Fold, Paper
from lexigon.core.editing.intents import PanelMove
from lexigon.core.geometry import Rect


def sized(brief: Brief, papers: Mapping[str, Paper]) -> Brief:
    """The brief with the page size its form makes. Raises LexigonError naming the field that cannot be."""
    form = brief.form
    if isinstance(form, Cover):
        width, height = cover_size(form, spine_of(form, papers.get(brief.paper or "")))
        return replace(brief, width=width, height=height, facing=False)
    if isinstance(form, Fold):
        width, height = sheet_size(form)
        return replace(brief, width=width, height=height, facing=False)
    return brief


def safe_area(panel: Panel, margin: float) -> Rect | None:
    """Return where text of a panel keeps within; None on a spine too thin for any."""
    return spine_type(panel).safe if panel.is_spine else panel.safe(margin)


def bar_code_area(brief: Brief, papers: Mapping[str, Paper]) -> Rect | None:
    if not isinstance(brief.form, Cover):
        return None
    back = next(panel for panel in panels_of(brief, papers) if panel.name == "back")
    return code_area(back, brief.safe)


def remarks(brief: Brief, papers: Mapping[str, Paper]) -> list[str]:
    """Return what was typed that does not agree with itself, in plain words."""
    if isinstance(brief.form, Cover):
        return contradictions(brief.form, papers.get(brief.paper or ""), brief.unit)
    return []


def panel_moves(old: Brief, new: Brief, papers: Mapping[str, Paper], pages: int) -> tuple[PanelMove, ...]:
    """Return where each panel of each page goes when the set-up changes, matched by what it faces."""
    moves = []
    for page in range(min(pages, 2)):
        after = {panel.facing: panel.rect for panel in panels_of(new, papers, page)}
        moves += [PanelMove(page, p.rect, after[p.facing]) for p in panels_of(old, papers, page) if p.facing in after]
    return tuple(moves)
