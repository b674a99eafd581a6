"""Notes beside the drawing of the Brief in plain words: computed values, fits, and contradictions."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from lexigon.core.brief import binding, envelopes
from lexigon.core.brief.forms import remarks
from lexigon.core.brief.setup import Setup
from lexigon.core.document.forms.covers import spine_of, spine_type, spine_width
from lexigon.core.document.forms.sheets import panels_of
from lexigon.core.document.model import Cover, Fold
from lexigon.core.lengths import POINTS, show


@dataclass(slots=True, frozen=True)
class Note:
    """``place`` names the group of the form it belongs to."""

    place: Literal["spine", "fold", "binding", "envelope"]
    tone: Literal["good", "plain", "bad"]
    text: str


def both(points: float, unit: str) -> str:
    """A length in the job's unit and in the other system's: ``0.338 in (8.6 mm)``."""
    if unit in ("mm", "cm"):
        return f"{show(points, unit)} ({points / POINTS['in']:.3f} in)"
    inches = f"{points / POINTS['in']:.3f} in" if unit == "in" else show(points, unit)
    return f"{inches} ({points / POINTS['mm']:.1f} mm)"


def notes(setup: Setup, pages: int) -> list[Note]:
    """All that is to be said of a set-up; ``pages`` is how many the job has, or will have."""
    brief, form = setup.brief, setup.brief.form
    notes: list[Note] = []
    if isinstance(form, Cover):
        notes += _spine(setup, form)
    elif isinstance(form, Fold):
        notes += _fold(setup, form)
    elif brief.binding != "none":
        count = binding.count(brief.binding, pages, coming=setup.main)
        notes.append(Note("binding", "good" if count.ok else "bad", count.why[0].upper() + count.why[1:] + "."))
        paper = setup.papers.get(brief.paper or "")
        if paper and brief.binding == "stitched" and pages > 4:
            creep = binding.booklet(pages, paper)[-1].creep
            notes.append(Note("binding", "plain", f"The innermost sheet creeps out by {show(creep, 'mm')}."))
        if paper and brief.binding == "perfect" and pages > 1:
            notes.append(
                Note("binding", "plain", f"Its spine will be {both(spine_width(pages, paper), brief.unit)} thick.")
            )
    if (form is not None and not isinstance(form, Cover)) or setup.kind.id == "card":
        width, height = (form.width, form.height) if form else (brief.width, brief.height)
        fits = envelopes.fitting(width, height)[:3]
        if fits:
            words = "; ".join(
                f"{fit.envelope.name} with {show(fit.across, brief.unit)} and {show(fit.along, brief.unit)} to spare"
                for fit in fits
            )
            notes.append(Note("envelope", "good", f"Goes in {words}."))
        else:
            notes.append(Note("envelope", "plain", "The finished piece fits no standard envelope."))
    return notes


def _spine(setup: Setup, form: Cover) -> list[Note]:
    brief = setup.brief
    paper = setup.papers.get(brief.paper or "")
    spine = spine_of(form, paper)
    panel = next((p for p in panels_of(brief, setup.papers) if p.name == "spine"), None)
    bears = spine_type(panel) if panel else None
    words = ""
    if form.spine is None and paper is not None:
        words = f"{form.pages} × {paper.page / POINTS['in']:.6f} in = {both(spine, brief.unit)}. "
    else:
        words = f"Spine as typed: {both(spine, brief.unit)}. "
    if bears and bears.allowed:
        words += f"Thick enough for text up to {bears.largest:g} pt."
    else:
        words += "Too thin for text. Spine text needs at least 0.25 in."
    notes = [Note("spine", "good" if bears and bears.allowed else "plain", words)]
    return notes + [Note("spine", "bad", remark) for remark in remarks(brief, setup.papers)]


def _fold(setup: Setup, form: Fold) -> list[Note]:
    brief = setup.brief
    words = f"Flat sheet {show(brief.width, brief.unit)} × {show(brief.height, brief.unit)}, {form.panels} panels."
    notes = [Note("fold", "plain", words)]
    if form.fold == "letter" and form.allowance < POINTS["mm"] * 0.9:
        notes.append(
            Note(
                "fold",
                "bad",
                "The roll-in panel is as wide as the others and will buckle. Make it 1.6 to 2 mm narrower.",
            )
        )
    return notes
