"""Intents about master pages: add, copy, change, base on each other, replace, import from another job."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import partial
from typing import Literal

from lexigon.core import lengths
from lexigon.core.document import story_text
from lexigon.core.document.anchors import objects_in
from lexigon.core.document.brief_rules import check_margins
from lexigon.core.document.model import (
    SIDES,
    Brief,
    Edges,
    FrameSpec,
    Guide,
    Job,
    Master,
    Object,
    ParagraphStyle,
    PictureFile,
    Side,
    Story,
    TableStyle,
    Text,
    TextTable,
    each_frame,
    exchanged,
    frames_in,
)
from lexigon.core.document.model.masters import swung
from lexigon.core.editing.clipping import clipped
from lexigon.core.editing.edits import EditError, Primitive, PutEntry, put
from lexigon.core.editing.holders import holder
from lexigon.core.editing.intents.objects.frames import base_layer, without_frames
from lexigon.core.editing.intents.pages.page_list import rearranged
from lexigon.core.geometry import Rect

COLOURS = ("#1E5B4F", "#2E93B5", "#9A6A12", "#7A4E86", "#5D6A70", "#A3502F", "#4F6B1E", "#2F4B8A")
"""Colours of the masters' tabs, dealt out in turn."""


def next_colour(job: Job) -> str:
    used = [master.colour for master in job.masters.values()]
    return min(COLOURS, key=lambda colour: (used.count(colour), COLOURS.index(colour)))


def unused_name(job: Job, wanted_name: str) -> str:
    """The name, with a number after it where another master page has it already."""
    wanted_name = story_text.clean(wanted_name).strip()[:80] or "Master page"
    used = {master.name for master in job.masters.values()}
    name, number = wanted_name, 2
    while name in used:
        name, number = f"{wanted_name} {number}", number + 1
    return name


@dataclass(slots=True, frozen=True)
class AddMaster:
    """A new master page: empty, or based on another and showing what that shows."""

    name: str
    based_on: str | None = None
    main: bool = True
    """With a main text frame within the margins, where the base has none."""
    do: Literal["add-master"] = "add-master"
    label = "Add master page"

    def expand(self, job: Job) -> list[Primitive]:
        if self.based_on is not None and self.based_on not in job.masters:
            raise EditError("The master page that it should be based on is no longer in the job.")
        halves: dict[str, tuple[Object, ...]] = {}
        for side in SIDES:
            below = [frame for frame, _ in job.master_frames(self.based_on, side)]
            wants = self.main and not any(frame.main for frame in below)
            main = Object(
                story_text.new_id("f"),
                "Main text",
                content=Text(main=True),
                layer=base_layer(job),
                make=FrameSpec(job.brief.columns, job.brief.gutter),
            )
            halves[side] = (main,) if wants else ()
        master = Master(
            story_text.new_id("m"),
            unused_name(job, self.name),
            halves["recto"],
            halves["verso"],
            next_colour(job),
            self.based_on,
        )
        return [put("masters", master)]


@dataclass(slots=True, frozen=True)
class DuplicateMaster:
    master: str
    do: Literal["duplicate-master"] = "duplicate-master"
    label = "Duplicate master page"

    def expand(self, job: Job) -> list[Primitive]:
        old = _master(job, self.master)
        copy = clipped((old.recto, old.verso), job.stories, job.inlays, job.tables, led=False)
        recto, verso = copy.holders
        new = replace(
            old,
            id=story_text.new_id("m"),
            name=unused_name(job, old.name),
            colour=next_colour(job),
            recto=recto,
            verso=verso,
        )
        return [*copy.edits, put("masters", new)]


@dataclass(slots=True, frozen=True)
class MasterFromPage:
    """Make a master page from the objects of a page, with or without those of its own master page.

    The page's side becomes that side of the master page; the other side is its mirror image. The page stays as it is,
    unless with ``use`` it uses the new master page and gives its frames up to it; stories that continue elsewhere stay.
    """

    page: str
    name: str
    inherited: bool = False
    use: bool = False
    do: Literal["master-from-page"] = "master-from-page"
    label = "Add master page from page"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        if place.page is None:
            raise EditError("Select a page to make a master page from.")
        below = job.masters.get(place.page.master or "")
        stays = [
            f
            for f in place.frames
            if (s := job.stories.get(f.story or "")) and (s.id == job.main_story or len(s.frames) > 1)
        ]
        moves = exchanged(place.objects, {f.id: () for f in stays})
        objects = [replace(one, origin=None) for one in each_frame(moves, lambda f: f.at(place.rect(f)))]
        if self.inherited:
            objects = [*(replace(one, origin=None) for one in place.inherited_objects()), *objects]
        copies = [clipped([tuple(objects)], job.stories, job.inlays, job.tables, led=False) for _ in SIDES]
        (own,), (mirrored,) = (copy.holders for copy in copies)
        other: Side = "verso" if place.side == "recto" else "recto"
        shift = job.master_area(below, other).x - job.master_area(below, place.side).x
        mirrored = each_frame(mirrored, lambda f: f.at(f.rect.moved(shift, 0)) if f.rect else f)
        if (
            not any(f.main for f in frames_in(own))
            and below
            and any(f.main for f, _ in job.master_frames(below.id, place.side))
        ):
            main = next(f for f, _ in job.master_frames(below.id, place.side) if f.main)
            own = (replace(main, id=story_text.new_id("f")), *own)
            mirrored = (replace(main, id=story_text.new_id("f"), place=None), *mirrored)
        master = Master(
            story_text.new_id("m"),
            unused_name(job, self.name),
            own if place.side == "recto" else mirrored,
            own if place.side == "verso" else mirrored,
            next_colour(job),
            None,
            below.margins if below else None,
            below.columns if below else None,
            below.gutter if below else None,
            bool(below and below.turned),
            tuple(place.page.guides),
        )
        pages = list(job.pages)
        pages[place.index] = replace(
            place.page,
            master=master.id,
            objects=exchanged(place.objects, {f.id: () for f in frames_in(moves)}),
            guides=(),
        )
        texts = [edit for copy in copies for edit in copy.edits]
        if not self.use:
            return [*texts, put("masters", master)]
        return [
            *texts,
            put("masters", master),
            *rearranged(job, pages),
            *without_frames(job, frames_in(moves)),
        ]


@dataclass(slots=True, frozen=True)
class ChangeMaster:
    """New name, base, margins, columns, guides or orientation. What is left ``None`` stays; ``own`` says which of
    margins and columns it has itself (the rest follows the brief)."""

    master: str
    name: str | None = None
    colour: str | None = None
    based_on: str | None = None
    rebase: bool = False
    margins: Edges | None = None
    columns: int | None = None
    gutter: float | None = None
    turned: bool | None = None
    guides: tuple[Guide, ...] | None = None
    own: bool = True
    do: Literal["change-master"] = "change-master"
    label = "Change master page"

    def expand(self, job: Job) -> list[Primitive]:
        master = _master(job, self.master)
        new = master
        if self.name is not None and self.name.strip() != master.name:
            new = replace(new, name=unused_name(job, self.name))
        if self.colour is not None:
            new = replace(new, colour=self.colour[:20])
        if self.rebase:
            _check_ring(job, master.id, self.based_on)
            new = replace(new, based_on=self.based_on)
        if not self.own:
            new = replace(new, margins=None, columns=None, gutter=None)
        if self.margins is not None:
            new = replace(new, margins=self.margins)
        if self.turned is not None:
            new = replace(new, turned=self.turned)
        if self.columns is not None:
            if not 1 <= self.columns <= 12:
                raise EditError("A page has 1 to 12 columns.")
            new = replace(new, columns=self.columns)
        if self.gutter is not None:
            if self.gutter < 0:
                raise EditError("A gutter cannot be negative.")
            new = replace(new, gutter=self.gutter)
        if self.guides is not None:
            new = replace(new, guides=check_guides(self.guides))
        check_margins(job.brief, new)
        columns, gutter = new.columns or job.brief.columns, job.brief.gutter if new.gutter is None else new.gutter
        if (new.columns, new.gutter) != (master.columns, master.gutter):
            set_ = lambda f: f.with_spec(columns=columns, gutter=gutter) if f.main else f  # noqa: E731
            new = replace(new, recto=each_frame(new.recto, set_), verso=each_frame(new.verso, set_))
        for side in SIDES:
            old_area, area = job.master_area(master, side), job.brief.text_area(side, new.margins, new.turned)
            if new.margins is None:
                area = _area_of_base(job, new, side)
            swing = partial(swung, area=old_area, size=job.brief.page_size(new.turned), onto=new.turned)
            moved = partial(_laid, swing=swing) if new.turned != master.turned else following
            half = each_frame(new.half(side), partial(moved, old=old_area, new=area))
            new = replace(new, recto=half) if side == "recto" else replace(new, verso=half)
        return [put("masters", new)] if new != master else []


def _area_of_base(job: Job, master: Master, side: Side) -> Rect:
    base = job.masters.get(master.based_on or "")
    chain = job.master_chain(base.id) if base else []
    margins = next((m.margins for m in reversed(chain) if m.margins), None)
    return job.brief.text_area(side, margins, master.turned)


def _laid(frame: Object, swing: Callable[[Object], Object | None], old: Rect, new: Rect) -> Object:
    """A frame of a master whose pages are laid on their side or stood upright again."""
    return swing(frame) or following(frame, old, new)


def following(frame: Object, old: Rect, new: Rect) -> Object:
    """A frame moved with the text area: heads keep their distance from its head, feet from its foot."""
    rect = frame.rect
    if rect is None or old == new:
        return frame
    y = rect.y + (new.foot - old.foot if rect.y + rect.height / 2 > old.y + old.height / 2 else new.y - old.y)
    if abs(rect.x - old.x) < 0.01 and abs(rect.width - old.width) < 0.01:
        return frame.at(Rect(new.x, y, new.width, rect.height))
    return frame.at(Rect(rect.x + new.x - old.x, y, rect.width, rect.height))


@dataclass(slots=True, frozen=True)
class RemoveMaster:
    """Delete a master. Pages and masters that use it go over to ``replacement`` (``None``: to no master)."""

    master: str
    replacement: str | None = None
    sure: bool = False
    """Asked and answered: without it a master in use is not deleted."""
    do: Literal["remove-master"] = "remove-master"
    label = "Delete master page"

    def expand(self, job: Job) -> list[Primitive]:
        master = _master(job, self.master)
        users = sum(page.master == master.id for page in job.pages)
        based = [m for m in job.masters.values() if m.based_on == master.id]
        if (users or based) and not self.sure:
            what = f"{users} page{'s' * (users != 1)}" if users else ", ".join(f"“{m.name}”" for m in based)
            raise EditError(f"“{master.name}” is used by {what}: choose the master page they use from then on.")
        if self.replacement is not None and (self.replacement == master.id or self.replacement not in job.masters):
            raise EditError("Select another master page of the job.")
        edits: list[Primitive] = []
        for other in based:
            base = self.replacement if self.replacement != other.id else None
            if base is not None and any(m.id == other.id for m in job.master_chain(base)):
                base = master.based_on
            edits.append(put("masters", replace(other, based_on=base)))
        pages = [replace(p, master=self.replacement) if p.master == master.id else p for p in job.pages]
        edits += rearranged(job, pages)
        edits.append(PutEntry("masters", master.id, None))
        return [*edits, *without_frames(job, frames_in((*master.recto, *master.verso)))]


@dataclass(slots=True, frozen=True)
class BringMasters:
    """Master pages of another job with their stories and the styles those need; existing ids stay as they are.

    ``brief`` is that job's: margins that come from it become the master pages' own, so that on pages of another size
    everything keeps its distance from the head and the inner edge.
    """

    masters: tuple[Master, ...]
    stories: tuple[Story, ...]
    styles: tuple[ParagraphStyle, ...]
    brief: Brief
    inlays: tuple[Object, ...] = ()
    pictures: tuple[PictureFile, ...] = ()
    tables: tuple[TextTable, ...] = ()
    table_styles: tuple[TableStyle, ...] = ()
    do: Literal["bring-masters"] = "bring-masters"
    label = "Import master pages"

    def expand(self, job: Job) -> list[Primitive]:
        if not self.masters:
            raise EditError("There are no master pages to import.")
        edits: list[Primitive] = [put("paragraph_styles", s) for s in self.styles if s.id not in job.paragraph_styles]
        edits += [
            put("pictures", one) for one in self.pictures if one.id in self._pictures() and one.id not in job.pictures
        ]
        stories = {story.id: story for story in self.stories}
        tables = {one.id: one for one in self.tables}
        used = {
            tables[anchor.ref].style
            for story in self.stories
            for anchor in objects_in(story.paragraphs)
            if anchor.ref in tables
        }
        edits += [put("table_styles", one) for one in self.table_styles if one.id in used - job.table_styles.keys()]
        ids = {master.id: story_text.new_id("m") for master in self.masters}
        present: Job = replace(job, masters=dict(job.masters))
        same = self.brief.margins == job.brief.margins

        def here(layer: str) -> str:
            return layer if layer in job.layers else base_layer(job)

        inlays = {one.id: replace(one, layer=here(one.layer)) for one in self.inlays}
        for master in self.masters:
            copy = clipped((master.recto, master.verso), stories, inlays, tables, led=False, layer=here)
            recto, verso = copy.holders
            new = replace(
                master,
                id=ids[master.id],
                name=unused_name(present, master.name),
                colour=next_colour(present),
                based_on=ids.get(master.based_on or ""),
                recto=recto,
                verso=verso,
                margins=master.margins or (None if same else self.brief.margins),
            )
            check_margins(job.brief, new)
            present.masters[new.id] = new
            edits += [*copy.edits, put("masters", new)]
        return edits

    def _pictures(self) -> set[str]:
        """The pictures that the masters show."""
        objects = (frame for master in self.masters for side in SIDES for frame in frames_in(master.half(side)))
        return {frame.picture.picture for frame in (*objects, *self.inlays) if frame.picture}


def _master(job: Job, master_id: str) -> Master:
    if master_id not in job.masters:
        raise EditError("That master page is no longer in the job.")
    return job.masters[master_id]


def _check_ring(job: Job, master_id: str, base: str | None) -> None:
    if base is not None and base not in job.masters:
        raise EditError("The master page that it should be based on is no longer in the job.")
    at, visited = base, {master_id}
    while at:
        if at in visited:
            raise EditError("A master page cannot be based on itself, not even by way of another.")
        visited.add(at)
        at = job.masters[at].based_on if at in job.masters else None


def check_guides(guides: tuple[Guide, ...]) -> tuple[Guide, ...]:
    if len(guides) > 400:
        raise EditError("A page has at most 400 guides.")
    if not all(abs(guide.at) <= lengths.LIMIT for guide in guides):
        raise EditError("A guide is outside everything that can be printed.")
    return guides
