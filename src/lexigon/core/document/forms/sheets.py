"""The panels of a job's pages, by its set-up."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from lexigon.core.document.forms.covers import cover_panels, spine_of
from lexigon.core.document.forms.folds import fold_panels
from lexigon.core.document.forms.panels import Panel, fold_lines
from lexigon.core.document.model import Brief, Cover, Fold, Paper
from lexigon.core.geometry import Rect


def panels_of(brief: Brief, papers: Mapping[str, Paper], page: int = 0) -> list[Panel]:
    """The panels of a page of the job, left to right or top to bottom; none where pages are not folded.

    The second page of a cover is its inside: the same panels in reverse order.
    """
    form = brief.form
    if isinstance(form, Cover):
        panels = cover_panels(form, spine_of(form, papers.get(brief.paper or "")))
        if page % 2 == 0:
            return panels
        return [
            replace(
                p,
                name=f"inside {p.name}",
                facing=f"inside {p.name}",
                rect=Rect(brief.width - p.rect.right, 0.0, p.rect.width, p.rect.height),
            )
            for p in reversed(panels)
        ]
    if isinstance(form, Fold):
        return fold_panels(form, "outside" if page % 2 == 0 else "inside")
    return []


def folds_of(brief: Brief, papers: Mapping[str, Paper], page: int = 0) -> tuple[str, list[float]]:
    """The axis the folds of a page are measured along, "x" or "y", and where they lie."""
    along = "y" if isinstance(brief.form, Fold) and brief.form.direction == "top" else "x"
    return along, fold_lines(panels_of(brief, papers, page), along)


def panel_at(panels: list[Panel], box: Rect) -> Panel:
    """The panel that contains most of a box, or the one nearest to its centre if none does."""
    x, y = box.x + box.width / 2, box.y + box.height / 2

    def rank(panel: Panel) -> tuple[float, float]:
        to = panel.rect
        across = min(box.right, to.right) - max(box.x, to.x)
        down = min(box.foot, to.foot) - max(box.y, to.y)
        away = max(to.x - x, 0.0, x - to.right) + max(to.y - y, 0.0, y - to.foot)
        return -max(across, 0.0) * max(down, 0.0), away

    return min(panels, key=rank)
