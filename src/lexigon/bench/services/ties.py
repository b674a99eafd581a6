"""Covers tied to the inside of a book: its page count and paper rule the spine."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from lexigon.bench import models
from lexigon.bench.services.jobs import OpenJob
from lexigon.core.brief.forms import panel_moves, sized
from lexigon.core.document.model import Cover, Paper
from lexigon.core.editing.intents import ChangeBrief, Intent, PutPaper
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import read


def interior(owner: Any, key: str) -> tuple[int, Paper | None] | None:
    """The page count and the paper of one of the user's jobs; None if there is no such job."""
    row = models.Job.objects.of(owner).filter(pk=key).first()
    if row is None:
        return None
    paper = models.Entry.objects.filter(job=row, table="papers", key=row.brief.get("paper") or "").first()
    return models.Page.objects.filter(job=row).count(), read(Paper, paper.data) if paper else None


def filled(owner: Any, values: dict[str, str]) -> dict[str, str]:
    """A cover's typed values with the page count and paper of the inside it is tied to."""
    inside = interior(owner, values["interior"]) if values.get("interior") else None
    if inside is None:
        return values
    pages, paper = inside
    return {**values, "pages": str(pages), **({"paper": paper.id} if paper else {})}


def due(live: OpenJob, user: Any) -> list[Intent]:
    """The intents that update a tied cover when its inside has other pages or another paper; none if it is up to
    date."""
    brief = live.job.brief
    form = brief.form
    if not isinstance(form, Cover) or not form.interior:
        return []
    inside = interior(user, form.interior)
    if inside is None:
        return []
    pages, paper = inside
    same = paper is None or (brief.paper == paper.id and live.job.papers.get(paper.id) == paper)
    if pages == form.pages and same:
        return []
    papers = {**live.job.papers, **({paper.id: paper} if paper else {})}
    try:
        new = sized(replace(brief, form=replace(form, pages=pages), paper=paper.id if paper else brief.paper), papers)
    except LexigonError:
        return []
    moves = panel_moves(brief, new, live.job.papers, len(live.job.pages))
    also: list[Intent] = [PutPaper(paper)] if paper and not same else []
    return [_Following(new, anchor="panels", panels=moves), *also]


@dataclass(frozen=True)
class _Following(ChangeBrief):
    label = "Follow the pages of the inside"
