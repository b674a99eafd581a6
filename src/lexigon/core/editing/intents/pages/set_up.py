"""Intents that change the set-up: sizes, margins, folds, papers. Objects on pages follow."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import partial
from typing import Any, Literal

from lexigon.core.document import story_text
from lexigon.core.document.brief_rules import check_brief, check_margins
from lexigon.core.document.model import (
    MAIN_LAYER,
    SIDES,
    Brief,
    Group,
    Guide,
    Job,
    Master,
    Object,
    Outline,
    Page,
    Paper,
    ParagraphStyle,
    Pose,
    Side,
    bounds_of,
    each_frame,
    mapped,
)
from lexigon.core.editing.edits import (
    EditError,
    Primitive,
    PutEntry,
    SetBrief,
    SetKind,
    SetName,
    SplicePages,
    page_edits,
    put,
)
from lexigon.core.editing.intents.pages.masters import following
from lexigon.core.geometry import Affine, Rect

Anchor = Literal[
    "margins",
    "panels",
    "scale",
    "top left",
    "top",
    "top right",
    "left",
    "centre",
    "right",
    "foot left",
    "foot",
    "foot right",
]
"""What stands still when the page changes: distances from the margins, the panel something lies on, the page as a
whole drawn larger or smaller, or a corner, an edge or the centre."""

_AT: dict[str, tuple[float, float]] = {
    f"{row} {column}".strip() or "centre": (x, y)
    for row, y in (("top", 0.0), ("", 0.5), ("foot", 1.0))
    for column, x in (("left", 0.0), ("", 0.5), ("right", 1.0))
}

Move = Callable[[Rect], Rect]


@dataclass(slots=True, frozen=True)
class PanelMove:
    """A panel of the sheet as it was and as it will be; ``page`` is the index of the page it lies on."""

    page: int
    old: Rect
    new: Rect


@dataclass(slots=True, frozen=True)
class ChangeBrief:
    """A new set-up. ``styles`` go with it: body type and leading belong to the Brief's form.

    Frames and guides of pages follow ``anchor``; masters follow the margins (or are scaled).
    """

    brief: Brief
    styles: tuple[ParagraphStyle, ...] = ()
    name: str | None = None
    anchor: Anchor = "margins"
    panels: tuple[PanelMove, ...] = ()
    do: Literal["change-brief"] = "change-brief"
    label = "Change set-up"

    def expand(self, job: Job) -> list[Primitive]:
        check_brief(self.brief)
        for master in job.masters.values():
            check_margins(self.brief, master)
        edits: list[Primitive] = [SetBrief(self.brief)] if self.brief != job.brief else []
        if self.name is not None and self.name.strip() and self.name.strip() != job.name:
            edits.append(SetName(story_text.clean(self.name).strip()[:200]))
        after = replace(job, brief=self.brief, masters=dict(job.masters))
        for master in list(job.masters.values()):
            moved = self._master(job, after, master)
            if moved != master:
                edits.append(put("masters", moved))
                after.masters[master.id] = moved
        pages = self._pages(job, after)
        edits += page_edits(job, pages)
        for style in self.styles:
            if job.paragraph_styles.get(style.id) != style:
                edits.append(put("paragraph_styles", style))
        return edits

    def _master(self, job: Job, after: Job, master: Master) -> Master:
        halves: dict[str, tuple[Object, ...]] = {}
        for side in SIDES:
            old, new = job.master_area(master, side), after.master_area(master, side)
            if self.anchor == "scale":
                halves[side] = _all_moved(master.half(side), self._scaling(job, master))
            else:
                halves[side] = each_frame(master.half(side), partial(following, old=old, new=new))
        old, new = job.master_area(master, "recto"), after.master_area(master, "recto")
        scale = self._scaling(job, master)
        move: Move = scale if self.anchor == "scale" else lambda r: r.moved(new.x - old.x, new.y - old.y)
        guides = tuple(_moved_guide(guide, move) for guide in master.guides)
        moved = replace(master, recto=halves["recto"], verso=halves["verso"], guides=guides)
        if (job.brief.columns, job.brief.gutter) != (self.brief.columns, self.brief.gutter):
            columns: dict[str, Any] = {}
            if master.columns is None:
                columns["columns"] = self.brief.columns
            if master.gutter is None:
                columns["gutter"] = self.brief.gutter
            fit = lambda f: f.with_spec(**columns) if f.main else f  # noqa: E731
            moved = replace(moved, recto=each_frame(moved.recto, fit), verso=each_frame(moved.verso, fit))
        return moved

    def _scaling(self, job: Job, master: Master | None) -> Move:
        turned = bool(master and master.turned)
        (w0, h0), (w1, h1) = job.brief.page_size(turned), self.brief.page_size(turned)
        return lambda r: Rect(r.x * w1 / w0, r.y * h1 / h0, r.width * w1 / w0, r.height * h1 / h0)

    def _pages(self, job: Job, after: Job) -> list[Page]:
        """The pages with their frames moved; blanks before sections as the new pairs of pages need them."""
        pages: list[Page] = []
        for index, page in enumerate(job.pages):
            if page.filler:
                continue
            opens = page.section.opens if page.section else "anywhere"
            if self.brief.facing and opens != "anywhere" and self.brief.side(len(pages)) != opens:
                before = job.pages[index - 1] if index else None
                pages.append(before if before and before.filler else Page(story_text.new_id("g"), filler=True))
            if page.objects or page.guides:
                move = self._move(job, after, index, self.brief.side(len(pages)))
                guides = tuple(_moved_guide(guide, move) for guide in page.guides)
                page = replace(page, objects=_all_moved(page.objects, move), guides=guides)
            pages.append(page)
        return pages

    def _move(self, job: Job, after: Job, index: int, side: Side) -> Move:
        master = job.masters.get(job.pages[index].master or "")
        turned = bool(master and master.turned)
        (w0, h0), (w1, h1) = job.brief.page_size(turned), self.brief.page_size(turned)
        if self.anchor == "scale":
            return self._scaling(job, master)
        if self.anchor == "panels":
            moves = [move for move in self.panels if move.page == index]
            return lambda rect: _with_panel(rect, moves)
        if self.anchor in _AT:
            x, y = _AT[self.anchor]
            return lambda rect: rect.moved((w1 - w0) * x, (h1 - h0) * y)
        old = job.master_area(master, job.brief.side(index))
        new = after.master_area(after.masters.get(job.pages[index].master or ""), side)

        def follow(rect: Rect) -> Rect:
            frame = following(Object("", place=Pose(rect)), old, new)
            return frame.rect or rect

        return follow


def _with_panel(rect: Rect, moves: list[PanelMove]) -> Rect:
    """A rectangle moved with the panel its centre lies on. One as wide or high as the panel grows with it."""
    x, y = rect.x + rect.width / 2, rect.y + rect.height / 2
    move = next((m for m in moves if m.old.contains(x, y)), None)
    if move is None:
        return rect
    left, width = _along(rect.x, rect.width, move.old.x, move.old.width, move.new.x, move.new.width)
    top, height = _along(rect.y, rect.height, move.old.y, move.old.height, move.new.y, move.new.height)
    return Rect(left, top, width, height)


def _along(at: float, size: float, old: float, old_size: float, new: float, new_size: float) -> tuple[float, float]:
    """One direction of ``_with_panel``: keep the distance from the nearer edge, or the centre where both are equal."""
    head, tail = at - old, old + old_size - at - size
    grown = new_size - old_size
    if abs(grown) < 1e-9:
        return new + head, size
    if abs(size - old_size) < 0.5 or (head <= 0.5 and tail <= 0.5):
        return new + head, size + grown
    if abs(head - tail) < 0.5:
        return new + head + grown / 2, size
    return (new + head, size) if head < tail else (new + head + grown, size)


def _moved(frame: Object, move: Move) -> Object:
    return frame.at(move(frame.rect)) if frame.rect else frame


def _all_moved(objects: tuple[Object, ...], move: Move) -> tuple[Object, ...]:
    return each_frame(objects, lambda frame: _moved(frame, move))


def _moved_guide(guide: Guide, move: Move) -> Guide:
    rect = move(Rect(guide.at, 0, 0, 0) if guide.axis == "x" else Rect(0, guide.at, 0, 0))
    return replace(guide, at=rect.x if guide.axis == "x" else rect.y)


@dataclass(slots=True, frozen=True)
class FoldOut:
    """Change a flat card to a folded one in one step: the finished front stays the front.

    ``brief`` is the set-up of the folded sheet; ``front`` and ``back`` are those panels on its outside. The objects of
    the card's second page become the back, rotated where the fold is at the top; an empty inside page is added.
    """

    brief: Brief
    front: Rect
    back: Rect
    back_turn: Literal[0, 180] = 0
    do: Literal["fold-out"] = "fold-out"
    label = "Convert to a folded card"

    def expand(self, job: Job) -> list[Primitive]:
        check_brief(self.brief)
        if job.brief.form is not None:
            raise EditError("This piece is already folded.")
        front = job.pages[0]
        to_front = Affine.move(self.front.x, self.front.y)
        objects = tuple(self._clipped(job, _mapped(job, one, 0, to_front), self.front) for one in front.objects)
        if len(job.pages) > 1:
            objects += tuple(self._clipped(job, self._to_back(job, one), self.back) for one in job.pages[1].objects)
        outside = replace(
            front,
            objects=objects,
            guides=tuple(replace(g, at=g.at + (self.front.x if g.axis == "x" else self.front.y)) for g in front.guides),
        )
        second = job.pages[1].id if len(job.pages) > 1 else story_text.new_id("g")
        inside = Page(second, front.master)
        return [SetKind("folded card"), SetBrief(self.brief), SplicePages(0, min(len(job.pages), 2), (outside, inside))]

    def _to_back(self, job: Job, one: Object) -> Object:
        if self.back_turn == 0:
            return _mapped(job, one, 1, Affine.move(self.back.x, self.back.y))
        if one.text is not None and not one.rotation:  # its words are turned within it, as those of such panels are
            rect = one.rect or job.frame_rect(one, 1)
            frame = one.at(Rect(self.back.right - rect.right, self.back.foot - rect.foot, rect.width, rect.height))
            return frame.showing(turn=(frame.turn + 180) % 360)
        return _mapped(job, one, 1, Affine(-1.0, 0.0, 0.0, -1.0, self.back.right, self.back.foot))

    def _clipped(self, job: Job, one: Object, panel: Rect) -> Object:
        """Return what reaches over the fold, as artwork with a bleed does, is clipped there: it would print on the
        other panel."""
        box = bounds_of((one,))
        other = self.back if panel == self.front else self.front
        if box is None or not box.overlaps(other, FOLD):
            return one
        left, top, right, foot = FAR, FAR, FAR, FAR
        if other.right <= panel.x + FOLD:
            left = 0.0
        elif other.x >= panel.right - FOLD:
            right = 0.0
        elif other.foot <= panel.y + FOLD:
            top = 0.0
        else:
            foot = 0.0
        visible = panel.inset(-top, -right, -foot, -left)
        x, y = max(box.x, visible.x), max(box.y, visible.y)
        area = Rect(x, y, min(box.right, visible.right) - x, min(box.foot, visible.foot) - y)
        if min(area.width, area.height) < FOLD:
            return one
        if _is_plain(job, one):
            return one.at(area)
        clip = Group((replace(one, layer=MAIN_LAYER),), clip=Outline("box"))
        return Object(
            story_text.new_id("u"),
            f"{one.name or 'Artwork'}, clipped"[:80],
            Pose(area),
            clip,
            layer=one.layer,
            prints=one.prints,
        )


FAR = 72.0 * 10
"""Points by which a clip at a fold reaches beyond its panel everywhere else: artwork has its bleed there."""
FOLD = 0.01
"""Points: what reaches no further over a fold does not reach over it."""


def _is_plain(job: Job, one: Object) -> bool:
    """Return whether a smaller box looks just like the rest of it: an upright surface without an outline, a stroke, a
    picture or words."""
    place = one.place
    upright = place is not None and not (place.rotation or place.skew)
    has_stroke = one.make.stroke is not None and bool(one.make.stroke.weight or one.make.stroke.style)
    fill = job.swatches.get(one.make.fill.swatch) if one.make.fill else None
    even = fill is None or fill.space != "gradient"
    return upright and even and one.content is None and one.outline is None and one.style is None and not has_stroke


def _mapped(job: Job, one: Object, index: int, map_: Affine) -> Object:
    """An object of a page, with all in it, where a map puts it; a main text frame at the margins it filled."""
    if one.group is None and one.place is None:
        one = one.at(job.frame_rect(one, index))
    return mapped(one, map_)


@dataclass(slots=True, frozen=True)
class PutPaper:
    """Add a paper to the job's list, or change one."""

    paper: Paper
    do: Literal["put-paper"] = "put-paper"
    label = "Change papers"

    def expand(self, job: Job) -> list[Primitive]:
        paper = replace(
            self.paper,
            name=story_text.clean(self.paper.name).strip()[:80],
            weight=story_text.clean(self.paper.weight)[:40],
        )
        if not paper.name:
            raise EditError("Type a name for the paper.", "paper")
        if not 0 < paper.page <= 7.2:
            raise EditError("The thickness of a page must be greater than 0 and at most 0.1 in.", "paper")
        if paper.opacity is not None and not 0 <= paper.opacity <= 1:
            raise EditError("Opacity is a percentage from 0 to 100.", "paper")
        return [put("papers", paper)] if job.papers.get(paper.id) != paper else []


@dataclass(slots=True, frozen=True)
class RemovePaper:
    id: str
    do: Literal["remove-paper"] = "remove-paper"
    label = "Change papers"

    def expand(self, job: Job) -> list[Primitive]:
        if self.id not in job.papers:
            raise EditError("That paper is no longer in the job.")
        if job.brief.paper == self.id:
            raise EditError(f"“{job.papers[self.id].name}” is the paper of this job. Select another paper first.")
        return [PutEntry("papers", self.id, None)]
