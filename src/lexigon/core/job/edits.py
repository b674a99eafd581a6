"""The primitive edits: the only code that changes a job. Each returns its exact inverse.

``intents.py`` expands what a person does into these. They are what is logged, replayed by other
processes, and undone; applying an edit and then its inverse leaves the job byte for byte as it was.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal, Union

from pydantic import Field

from lexigon.core.errors import LexigonError
from lexigon.core.job.limits import Name
from lexigon.core.job.model import (
    Brief,
    Frame,
    Job,
    Kind,
    Page,
    Paragraph,
    Side,
)
from lexigon.core.job.serial import plain, read
from lexigon.core.job.tables import TABLES, Reach


class EditError(LexigonError):
    """The edit does not fit the job as it is; nothing was changed."""


@dataclass(slots=True, frozen=True)
class SpliceParagraphs:
    """Take ``remove`` paragraphs out of a story at ``at`` and put ``insert`` in their place."""

    reach: ClassVar[Reach] = "text"
    story: str
    at: int
    remove: int
    insert: tuple[Paragraph, ...] = ()
    op: Literal["splice-paragraphs"] = "splice-paragraphs"

    def apply(self, job: Job) -> SpliceParagraphs:
        story = job.stories.get(self.story)
        if story is None:
            raise EditError("That text is no longer in the job.")
        if not 0 <= self.at <= self.at + self.remove <= len(story.paragraphs):
            raise EditError("That place is no longer in the text.")
        removed = tuple(story.paragraphs[self.at : self.at + self.remove])
        story.paragraphs[self.at : self.at + self.remove] = self.insert
        return SpliceParagraphs(self.story, self.at, len(self.insert), removed)


@dataclass(slots=True, frozen=True)
class SplicePages:
    """Take ``remove`` pages out at ``at`` and put ``insert`` in their place."""

    reach: ClassVar[Reach] = "everything"
    at: int
    remove: int
    insert: tuple[Page, ...] = ()
    op: Literal["splice-pages"] = "splice-pages"

    def apply(self, job: Job) -> SplicePages:
        if not 0 <= self.at <= self.at + self.remove <= len(job.pages):
            raise EditError("That page is no longer in the job.")
        if len(job.pages) - self.remove + len(self.insert) < 1:
            raise EditError("A job keeps at least one page.")
        removed = tuple(job.pages[self.at : self.at + self.remove])
        job.pages[self.at : self.at + self.remove] = self.insert
        return SplicePages(self.at, len(self.insert), removed)


@dataclass(slots=True, frozen=True)
class SetPage:
    """A page's own values (master, section, guides, ...); what stands on it stays. ``page`` bears no frames."""

    reach: ClassVar[Reach] = "everything"
    page: Page
    op: Literal["set-page"] = "set-page"

    def apply(self, job: Job) -> SetPage:
        at = job.page_index(self.page.id)
        if at is None:
            raise EditError("That page is no longer in the job.")
        old = job.pages[at]
        job.pages[at] = replace(self.page, frames=old.frames)
        return SetPage(replace(old, frames=()))


@dataclass(slots=True, frozen=True)
class SpliceFrames:
    """Take ``remove`` frames out of a holder at ``at`` and put ``insert`` in their place.

    ``holder`` is a page's id, or ``master:<id>:recto`` or ``:verso`` for a half of a master page.
    """

    reach: ClassVar[Reach] = "frames"
    holder: str
    at: int
    remove: int
    insert: tuple[Frame, ...] = ()
    op: Literal["splice-frames"] = "splice-frames"

    def apply(self, job: Job) -> SpliceFrames:
        frames = frames_of(job, self.holder)
        if not 0 <= self.at <= self.at + self.remove <= len(frames):
            raise EditError("That frame is no longer on the page.")
        end = self.at + self.remove
        self._put(job, (*frames[: self.at], *self.insert, *frames[end:]))
        return SpliceFrames(self.holder, self.at, len(self.insert), frames[self.at : end])

    def _put(self, job: Job, frames: tuple[Frame, ...]) -> None:
        if found := master_half(self.holder):
            master = job.masters[found[0]]
            job.masters[master.id] = (
                replace(master, recto=frames) if found[1] == "recto" else replace(master, verso=frames)
            )
            return
        at = job.page_index(self.holder)
        assert at is not None
        job.pages[at] = replace(job.pages[at], frames=frames)


def master_half(holder: str) -> tuple[str, Side] | None:
    """The master and the side that a holder's key names; None for a page's."""
    kind, _, rest = holder.partition(":")
    master, _, side = rest.rpartition(":")
    return (master, side) if kind == "master" and side in ("recto", "verso") else None  # type: ignore[return-value]


def frames_of(job: Job, holder: str) -> tuple[Frame, ...]:
    """The frames of a page or of a master's half. Raises EditError if there is none of that name."""
    if found := master_half(holder):
        master = job.masters.get(found[0])
        if master is None:
            raise EditError("That master page is no longer in the job.")
        return master.half(found[1])
    at = job.page_index(holder)
    if at is None:
        raise EditError("That page is no longer in the job.")
    return job.pages[at].frames


def frame_edits(holder: str, old: tuple[Frame, ...], new: tuple[Frame, ...]) -> list[Primitive]:
    """The edits that make a holder's frames ``new``: one for each that changed, or for the stretch that did."""
    if [frame.id for frame in old] == [frame.id for frame in new]:
        return [
            SpliceFrames(holder, at, 1, (own,))
            for at, (was, own) in enumerate(zip(old, new, strict=True))
            if was != own
        ]
    first, tail = same_ends(old, new)
    return [SpliceFrames(holder, first, len(old) - first - tail, new[first : len(new) - tail])]


def page_edits(job: Job, new: Sequence[Page]) -> list[Primitive]:
    """The edits from the job's pages to ``new``: what changed of each, or the stretch in which pages came or went."""
    old = job.pages
    first, tail = same_ends([page.id for page in old], [page.id for page in new])
    edits: list[Primitive] = []
    ends = ((old[:first], new[:first]), (old[len(old) - tail :], new[len(new) - tail :]))
    for was, own in (pair for before, after in ends for pair in zip(before, after, strict=True)):
        if was is own:
            continue
        bare = replace(own, frames=())
        if bare != replace(was, frames=()):
            edits.append(SetPage(bare))
        if was.frames != own.frames:
            edits += frame_edits(was.id, was.frames, own.frames)
    if first + tail < max(len(old), len(new)):
        edits.insert(0, SplicePages(first, len(old) - first - tail, tuple(new[first : len(new) - tail])))
    return edits


def same_ends(old: Sequence[Any], new: Sequence[Any]) -> tuple[int, int]:
    """How many items at the beginning, and how many of the rest at the end, are the same in both."""
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
        return TABLES[self.table].reach

    def apply(self, job: Job) -> PutEntry:
        table: dict[str, Any] = getattr(job, self.table)
        old = table.get(self.key)
        index = list(table).index(self.key) if old is not None else None
        inverse = PutEntry(self.table, self.key, plain(old) if old is not None else None, index)
        if self.value is None:
            if old is None:
                raise EditError("That entry is already gone.")
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
    """Which frames on pages a story is led through by hand, in order."""

    reach: ClassVar[Reach] = "everything"
    story: str
    frames: tuple[str, ...]
    op: Literal["set-frames"] = "set-frames"

    def apply(self, job: Job) -> SetFrames:
        story = job.stories.get(self.story)
        if story is None:
            raise EditError("That text is no longer in the job.")
        inverse = SetFrames(self.story, tuple(story.frames))
        story.frames = list(self.frames)
        return inverse


@dataclass(slots=True, frozen=True)
class SetBrief:
    reach: ClassVar[Reach] = "everything"
    brief: Brief
    op: Literal["set-brief"] = "set-brief"

    def apply(self, job: Job) -> SetBrief:
        inverse = SetBrief(job.brief)
        job.brief = self.brief
        return inverse


@dataclass(slots=True, frozen=True)
class SetName:
    reach: ClassVar[Reach] = "fields"
    name: Name
    op: Literal["set-name"] = "set-name"

    def apply(self, job: Job) -> SetName:
        inverse = SetName(job.name)
        job.name = self.name
        return inverse


@dataclass(slots=True, frozen=True)
class SetKind:
    """What kind of piece the job is."""

    reach: ClassVar[Reach] = "fields"
    kind: Kind
    op: Literal["set-kind"] = "set-kind"

    def apply(self, job: Job) -> SetKind:
        inverse = SetKind(job.kind)
        job.kind = self.kind
        return inverse


@dataclass(slots=True, frozen=True)
class SetMainStory:
    reach: ClassVar[Reach] = "everything"
    story: str | None
    op: Literal["set-main-story"] = "set-main-story"

    def apply(self, job: Job) -> SetMainStory:
        inverse = SetMainStory(job.main_story)
        job.main_story = self.story
        return inverse


Primitive = Union[
    SpliceParagraphs, SplicePages, SetPage, SpliceFrames, PutEntry, SetFrames, SetBrief, SetName, SetKind, SetMainStory,
]  # fmt: skip
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
    return [{**plain(edit), "op": edit.op} for edit in edits]


def edits_from_plain(data: Any) -> list[Primitive]:
    result: list[Primitive] = read(list[AnyPrimitive], data)
    return result
