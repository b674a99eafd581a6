"""The primitive edits: the only code that changes a job. Each returns its exact inverse.

The modules of ``intents`` expand what a person does into these. They are what is logged, replayed by other
processes, and undone; applying an edit and then its inverse leaves the job byte for byte as it was. Everything that
follows an edit asks for its ``reach`` in the composition and for what it ``touches``, never for its type.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal, Union

from pydantic import Field

from lexigon.core.document.cell_stories import put_words, table_of, text_of
from lexigon.core.document.holder_keys import INLAYS, master_half
from lexigon.core.document.limits import MOST_FRAMES, Id, Many, Name
from lexigon.core.document.model import (
    Brief,
    Guide,
    Job,
    Kind,
    Object,
    Page,
    PageGrid,
    Paragraph,
    exchanged,
    find_object,
    frames_in,
)
from lexigon.core.document.registry import TABLES, Reach
from lexigon.core.editing.touches import (
    EntryTouch,
    ObjectsTouch,
    PagesTouch,
    PageTouch,
    ParagraphsTouch,
    StoryFramesTouch,
    Touch,
    ValueTouch,
)
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import plain, read, shared


class EditError(LexigonError):
    """The edit does not fit the job as it is; nothing was changed."""


@dataclass(slots=True, frozen=True)
class SpliceParagraphs:
    """Take ``remove`` paragraphs out of a story at ``at`` and put ``insert`` in their place; ``story`` may name a cell
    of a table."""

    reach: ClassVar[Reach] = "text"
    story: str
    at: int
    remove: int
    insert: tuple[Paragraph, ...] = ()
    op: Literal["splice-paragraphs"] = "splice-paragraphs"

    def touches(self) -> tuple[Touch, ...]:
        return (ParagraphsTouch(self.story, self.at, self.remove, self.insert),)

    def apply(self, job: Job) -> SpliceParagraphs:
        story = text_of(job, self.story)
        if story is None:
            raise EditError("That story is no longer in the job.")
        if not 0 <= self.at <= self.at + self.remove <= len(story.paragraphs):
            raise EditError("That place is no longer in the story.")
        removed = tuple(story.paragraphs[self.at : self.at + self.remove])
        story.paragraphs[self.at : self.at + self.remove] = self.insert
        if table_of(self.story):
            put_words(job, self.story, story.paragraphs)
        return SpliceParagraphs(self.story, self.at, len(self.insert), removed)


@dataclass(slots=True, frozen=True)
class SplicePages:
    """Take ``remove`` pages out at ``at`` and put ``insert`` in their place."""

    reach: ClassVar[Reach] = "everything"
    at: int
    remove: int
    insert: tuple[Page, ...] = ()
    op: Literal["splice-pages"] = "splice-pages"

    def touches(self) -> tuple[Touch, ...]:
        return (PagesTouch(self.at, self.remove, self.insert),)

    def apply(self, job: Job) -> SplicePages:
        if not 0 <= self.at <= self.at + self.remove <= len(job.pages):
            raise EditError("That page is no longer in the job.")
        if len(job.pages) - self.remove + len(self.insert) < 1:
            raise EditError("A job must have at least one page.")
        removed = tuple(job.pages[self.at : self.at + self.remove])
        job.pages[self.at : self.at + self.remove] = self.insert
        return SplicePages(self.at, len(self.insert), removed)


@dataclass(slots=True, frozen=True)
class SetPage:
    """A page's own values (master page, section, guides and others); its objects stay. ``page`` has no objects."""

    reach: ClassVar[Reach] = "everything"
    page: Page
    op: Literal["set-page"] = "set-page"

    def touches(self) -> tuple[Touch, ...]:
        return (PageTouch(self.page.id),)

    def apply(self, job: Job) -> SetPage:
        at = job.page_index(self.page.id)
        if at is None:
            raise EditError("That page is no longer in the job.")
        old = job.pages[at]
        job.pages[at] = replace(self.page, objects=old.objects)
        return SetPage(replace(old, objects=()))


@dataclass(slots=True, frozen=True)
class SetGuides:
    """The guides of a page, or of a ``master`` page. Nothing is composed for them."""

    reach: ClassVar[Reach] = "looks"
    holder: str
    guides: Annotated[tuple[Guide, ...], Many(1000)] = ()
    master: bool = False
    op: Literal["set-guides"] = "set-guides"

    def touches(self) -> tuple[Touch, ...]:
        if self.master:
            return (EntryTouch("masters", self.holder, part="guides"),)
        return (PageTouch(self.holder, "guides"),)

    def apply(self, job: Job) -> SetGuides:
        if self.master:
            if (own := job.masters.get(self.holder)) is None:
                raise EditError("That master page is no longer in the job.")
            job.masters[self.holder] = replace(own, guides=self.guides)
            return SetGuides(self.holder, own.guides, True)
        at = job.page_index(self.holder)
        if at is None:
            raise EditError("That page is no longer in the job.")
        old = job.pages[at]
        job.pages[at] = replace(old, guides=self.guides)
        return SetGuides(self.holder, old.guides)


@dataclass(slots=True, frozen=True)
class SpliceObjects:
    """Replace ``remove`` objects of a holder at ``at`` by ``insert``.

    ``holder`` is a page's id, or ``master:<id>:recto`` or ``:verso`` for a side of a master page; ``within`` is a group
    among its objects, whose members are meant.
    """

    reach: ClassVar[Reach] = "frames"
    holder: str
    at: int
    remove: int
    insert: tuple[Object, ...] = ()
    within: str | None = None
    op: Literal["splice-objects"] = "splice-objects"

    def touches(self) -> tuple[Touch, ...]:
        return (ObjectsTouch(self.holder, self.insert, self.remove == len(self.insert), self.within),)

    def apply(self, job: Job) -> SpliceObjects:
        whole = objects_of(job, self.holder)
        group = find_object(whole, self.within) if self.within is not None else None
        if self.within is not None and (group is None or group.group is None):
            raise EditError("That group is no longer on the page.")
        objects = group.group.objects if group is not None and group.group is not None else whole
        if not 0 <= self.at <= self.at + self.remove <= len(objects):
            raise EditError("That object is no longer on the page.")
        end = self.at + self.remove
        new = (*objects[: self.at], *self.insert, *objects[end:])
        if group is not None:
            if not new:
                raise EditError("A group must contain at least one object.")
            new = exchanged(whole, {group.id: (group.holding(new),)})
        _put(job, self.holder, new)
        return SpliceObjects(self.holder, self.at, len(self.insert), objects[self.at : end], self.within)


@dataclass(slots=True, frozen=True)
class SpliceLeaves:
    """What ``splice-frames`` of format 2 did, which knew no groups: ``at`` and ``remove`` count the objects that are
    none.

    Only logs that were begun before format 3 hold it. A group that is left empty goes.
    """

    reach: ClassVar[Reach] = "frames"
    holder: str
    at: int
    remove: int
    insert: tuple[Object, ...] = ()
    op: Literal["splice-leaves"] = "splice-leaves"

    def touches(self) -> tuple[Touch, ...]:
        return (ObjectsTouch(self.holder, self.insert),)

    def apply(self, job: Job) -> SpliceObjects:
        whole = objects_of(job, self.holder)
        leaves = frames_in(whole)
        if not 0 <= self.at <= self.at + self.remove <= len(leaves):
            raise EditError("That object is no longer on the page.")
        gone = leaves[self.at : self.at + self.remove]
        if gone:
            new = exchanged(whole, {gone[0].id: self.insert} | {one.id: () for one in gone[1:]})
        elif self.at < len(leaves):
            behind = leaves[self.at]
            new = exchanged(whole, {behind.id: (*self.insert, behind)})
        else:
            new = (*whole, *self.insert)
        _put(job, self.holder, new)
        first, tail = same_ends(whole, new)
        return SpliceObjects(self.holder, first, len(new) - first - tail, whole[first : len(whole) - tail])


def _put(job: Job, holder: str, objects: tuple[Object, ...]) -> None:
    if holder == INLAYS:
        raise EditError("Frames in stories are inserted one by one.")
    if side := master_half(holder):
        master = job.masters[side[0]]
        job.masters[master.id] = (
            replace(master, recto=objects) if side[1] == "recto" else replace(master, verso=objects)
        )
        return
    at = job.page_index(holder)
    assert at is not None
    job.pages[at] = replace(job.pages[at], objects=objects)


def objects_of(job: Job, holder: str) -> tuple[Object, ...]:
    """Return the objects of a page, of one half of a master page or of stories. Raises EditError if there is none of
    that name."""
    if holder == INLAYS:
        return tuple(job.inlays.values())
    if side := master_half(holder):
        master = job.masters.get(side[0])
        if master is None:
            raise EditError("That master page is no longer in the job.")
        return master.half(side[1])
    at = job.page_index(holder)
    if at is None:
        raise EditError("That page is no longer in the job.")
    return job.pages[at].objects


def object_edits(
    holder: str, old: tuple[Object, ...], new: tuple[Object, ...], within: str | None = None
) -> list[Primitive]:
    """The edits that make a holder's objects ``new``: one for each stretch that changed, within groups too."""
    if holder == INLAYS:
        changed = [put("inlays", own) for own in new if own not in old]
        return [*changed, *(PutEntry("inlays", one.id, None) for one in old if all(own.id != one.id for own in new))]
    if [one.id for one in old] != [one.id for one in new]:
        first, tail = same_ends(old, new)
        return [SpliceObjects(holder, first, len(old) - first - tail, new[first : len(new) - tail], within)]
    edits: list[Primitive] = []
    stretch: list[Object] = []
    for at, (was, own) in enumerate(zip((*old, None), (*new, None), strict=True)):
        same = was is own or was == own
        inner = bool(
            was and own and was.group and own.group and own.group.objects and own == was.holding(own.group.objects)
        )
        if own is not None and not same and not inner:
            stretch.append(own)
            continue
        if stretch:
            edits.append(SpliceObjects(holder, at - len(stretch), len(stretch), tuple(stretch), within))
            stretch = []
        if inner and not same and was and was.group and own and own.group:
            edits += object_edits(holder, was.group.objects, own.group.objects, was.id)
    return edits


def page_edits(job: Job, new: Sequence[Page]) -> list[Primitive]:
    """The edits from the job's pages to ``new``: what changed of each, or the stretch in which pages came or went."""
    old = job.pages
    first, tail = same_ends([page.id for page in old], [page.id for page in new])
    edits: list[Primitive] = []
    ends = ((old[:first], new[:first]), (old[len(old) - tail :], new[len(new) - tail :]))
    for was, own in (pair for before, after in ends for pair in zip(before, after, strict=True)):
        if was is own:
            continue
        bare = replace(own, objects=())
        if bare != replace(was, objects=()):
            edits.append(SetPage(bare))
        if was.objects != own.objects:
            edits += object_edits(was.id, was.objects, own.objects)
    if first + tail < max(len(old), len(new)):
        edits.insert(0, SplicePages(first, len(old) - first - tail, tuple(new[first : len(new) - tail])))
    return edits


def same_ends(old: Sequence[Any], new: Sequence[Any]) -> tuple[int, int]:
    """Return how many items at the beginning, and how many of the rest at the end, are the same in both."""
    most, first, tail = min(len(old), len(new)), 0, 0
    while first < most and old[first] == new[first]:
        first += 1
    while tail < most - first and old[-1 - tail] == new[-1 - tail]:
        tail += 1
    return first, tail


if TYPE_CHECKING:
    TableName = str
else:
    TableName = Literal[tuple(TABLES)]


@dataclass(slots=True, frozen=True)
class PutEntry:
    """Add, replace or (with no ``value``) remove one named entry of a table. ``at`` keeps the order."""

    table: TableName
    key: str
    value: dict[str, Any] | None = None
    """The entry's JSON form."""
    at: int | None = None
    op: Literal["put-entry"] = "put-entry"

    @property
    def reach(self) -> Reach:
        if self.table == "stories" and self.value is not None and self.value.get("kind", "text") != "text":
            return "text"  # notes and anchored frames do not flow by themselves
        return TABLES[self.table].reach

    def touches(self) -> tuple[Touch, ...]:
        return (EntryTouch(self.table, self.key, self.value, self.value is None or self.at is not None),)

    def apply(self, job: Job) -> PutEntry:
        table: dict[str, Any] = getattr(job, self.table)
        old = table.get(self.key)
        index = list(table).index(self.key) if old is not None else None
        inverse = PutEntry(self.table, self.key, plain(old) if old is not None else None, index)
        if self.value is None:
            if old is None:
                raise EditError("That entry was already deleted.")
            del table[self.key]
        else:
            value = read(TABLES[self.table].type, self.value)
            if old is not None or self.at is None or self.at >= len(table):
                table[self.key] = value
            else:
                items = list(table.items())
                items.insert(self.at, (self.key, value))
                table.clear()
                table.update(items)
        return inverse


@dataclass(slots=True, frozen=True)
class SetFrames:
    """Sets the frames that a story flows through on pages, in order."""

    reach: ClassVar[Reach] = "everything"
    story: str
    frames: tuple[str, ...]
    op: Literal["set-frames"] = "set-frames"

    def touches(self) -> tuple[Touch, ...]:
        return (StoryFramesTouch(self.story),)

    def apply(self, job: Job) -> SetFrames:
        story = job.stories.get(self.story)
        if story is None:
            raise EditError("That story is no longer in the job.")
        inverse = SetFrames(self.story, tuple(story.frames))
        story.frames = list(self.frames)
        return inverse


@dataclass(slots=True, frozen=True)
class SetBrief:
    reach: ClassVar[Reach] = "everything"
    brief: Brief
    op: Literal["set-brief"] = "set-brief"

    def touches(self) -> tuple[Touch, ...]:
        return (ValueTouch("brief"),)

    def apply(self, job: Job) -> SetBrief:
        inverse = SetBrief(job.brief)
        job.brief = self.brief
        return inverse


@dataclass(slots=True, frozen=True)
class SetPageGrid:
    """The page grid, or none. Nothing is composed for it."""

    reach: ClassVar[Reach] = "nothing"
    grid: PageGrid | None = None
    op: Literal["set-page-grid"] = "set-page-grid"

    def touches(self) -> tuple[Touch, ...]:
        return (ValueTouch("brief", "page_grid"),)

    def apply(self, job: Job) -> SetPageGrid:
        inverse = SetPageGrid(job.brief.page_grid)
        job.brief = replace(job.brief, page_grid=self.grid)
        return inverse


@dataclass(slots=True, frozen=True)
class SetReading:
    """The order in which a page's own objects are read. Nothing is composed for it."""

    reach: ClassVar[Reach] = "looks"
    holder: str
    reading: Annotated[tuple[Id, ...], Many(MOST_FRAMES)] = ()
    op: Literal["set-reading"] = "set-reading"

    def touches(self) -> tuple[Touch, ...]:
        return (PageTouch(self.holder, "reading"),)

    def apply(self, job: Job) -> SetReading:
        at = job.page_index(self.holder)
        if at is None:
            raise EditError("That page is no longer in the job.")
        old = job.pages[at]
        job.pages[at] = replace(old, reading=self.reading)
        return SetReading(self.holder, old.reading)


@dataclass(slots=True, frozen=True)
class SetName:
    reach: ClassVar[Reach] = "fields"
    name: Name
    op: Literal["set-name"] = "set-name"

    def touches(self) -> tuple[Touch, ...]:
        return (ValueTouch("name"),)

    def apply(self, job: Job) -> SetName:
        inverse = SetName(job.name)
        job.name = self.name
        return inverse


@dataclass(slots=True, frozen=True)
class SetKind:
    """Sets the kind of piece of the job."""

    reach: ClassVar[Reach] = "fields"
    kind: Kind
    op: Literal["set-kind"] = "set-kind"

    def touches(self) -> tuple[Touch, ...]:
        return (ValueTouch("kind"),)

    def apply(self, job: Job) -> SetKind:
        inverse = SetKind(job.kind)
        job.kind = self.kind
        return inverse


@dataclass(slots=True, frozen=True)
class SetMainStory:
    reach: ClassVar[Reach] = "everything"
    story: str | None
    op: Literal["set-main-story"] = "set-main-story"

    def touches(self) -> tuple[Touch, ...]:
        return (ValueTouch("main_story"),)

    def apply(self, job: Job) -> SetMainStory:
        inverse = SetMainStory(job.main_story)
        job.main_story = self.story
        return inverse


Primitive = Union[
    SpliceParagraphs,
    SplicePages,
    SetPage,
    SetGuides,
    SpliceObjects,
    SpliceLeaves,
    PutEntry,
    SetFrames,
    SetBrief,
    SetPageGrid,
    SetReading,
    SetName,
    SetKind,
    SetMainStory,
]
AnyPrimitive = Annotated[Primitive, Field(discriminator="op")]


def put(table: str, value: Any, at: int | None = None) -> PutEntry:
    """A PutEntry from the entry itself."""
    return PutEntry(table, value.id, plain(value), at)


def apply_all(job: Job, edits: Iterable[Primitive]) -> list[Primitive]:
    """Apply the edits in order; return the inverses in the order that undoes them.

    If one does not fit, those before it are undone and the job is as it was.
    """
    inverses: list[Primitive] = []
    try:
        for edit in edits:
            inverses.append(edit.apply(job))
    except LexigonError:
        for inverse in reversed(inverses):
            inverse.apply(job)
        raise
    return inverses[::-1]


def edits_to_plain(edits: Iterable[Primitive]) -> list[dict[str, Any]]:
    """The same for the log, whose result is not changed by anybody."""
    return [{**shared(edit), "op": edit.op} for edit in edits]


def edits_from_plain(data: Any) -> list[Primitive]:
    result: list[Primitive] = read(list[AnyPrimitive], data)
    return result
