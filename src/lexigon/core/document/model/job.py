"""The job: all of it, in tables by id, and its pages in order."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Annotated, Literal

from lexigon.core.document.limits import (
    MOST_ADJUSTMENTS,
    MOST_BINDINGS,
    MOST_ENTRIES,
    MOST_FRAMES,
    MOST_LAYERS,
    MOST_MARKINGS,
    MOST_PAGES,
    MOST_TERMS,
    FileName,
    Id,
    Key,
    KeyOrEmpty,
    Many,
    Mark,
    Name,
    PageNumber,
    Weight,
)
from lexigon.core.document.model.acceptances import Acceptance
from lexigon.core.document.model.brief import Brief, Paper
from lexigon.core.document.model.choices import FORMAT, Kind, NumberStyle, Side
from lexigon.core.document.model.formatting import CharacterStyle, ParagraphStyle
from lexigon.core.document.model.frames import FrameStyle
from lexigon.core.document.model.listings import Abroad, IndexTerm, Listing
from lexigon.core.document.model.markup import KnownWord, Marking
from lexigon.core.document.model.masters import Guide, Layer, Master, Overlay, swung
from lexigon.core.document.model.notes import NoteKind
from lexigon.core.document.model.objects import Object, frames_in
from lexigon.core.document.model.pictures import PictureFile
from lexigon.core.document.model.records import PageBinding, RecordAdjustment, RecordSet
from lexigon.core.document.model.surface import InkSet, RuleStyle, Swatch
from lexigon.core.document.model.tables import TableStyle, TextTable
from lexigon.core.document.model.text import StandingCopy, Story
from lexigon.core.geometry import Rect


@dataclass(slots=True, frozen=True)
class OwnFont:
    """A font file that belongs to the job. Its description is stored, to be reported where the file is missing."""

    id: Key
    name: Name
    """The name of the file when it was imported."""
    file: FileName
    """SHA-256 of the file, under which it is stored."""
    family: Name
    weight: Weight = 400
    italic: bool = False


@dataclass(slots=True, frozen=True)
class Section:
    """A run of pages that begins with the page it is set on: its name and how its pages are numbered."""

    name: Name = ""
    start: PageNumber | None = None
    """The number of its first page; ``None`` continues counting."""
    style: NumberStyle = "1"
    prefix: Mark = ""
    opens: Literal["anywhere", "recto", "verso"] = "anywhere"
    """The side it must begin on; a blank page is made before it where needed."""
    ink_set: KeyOrEmpty = ""
    """The ink set its pages are painted with; "" for the job's own colours."""


@dataclass(slots=True, frozen=True)
class Page:
    """A page. ``made_by_flow`` marks one added to hold text, which goes when the text no longer needs it."""

    id: Id
    master: Key | None = None
    objects: Annotated[tuple[Object, ...], Many(MOST_FRAMES)] = ()
    made_by_flow: bool = False
    section: Section | None = None
    """The section that begins here."""
    number_shown: bool = True
    filler: bool = False
    """Whether it is a blank page, added so that the section after it begins on its side."""
    guides: Annotated[tuple[Guide, ...], Many(1000)] = ()
    bindings: Annotated[tuple[PageBinding, ...], Many(MOST_BINDINGS)] = ()
    """What records set on it when the job is merged."""
    reading: Annotated[tuple[Id, ...], Many(MOST_FRAMES)] = ()
    """The ids of its own objects that are read first, in this order; the others follow by position (``reading.py``)."""

    @property
    def frames(self) -> tuple[Object, ...]:
        """Return its objects, those in groups included."""
        return frames_in(self.objects)


@dataclass(slots=True)
class Job:
    id: Id
    name: Name
    brief: Brief
    kind: Kind = "book"
    main_story: Id | None = None
    paragraph_styles: Annotated[dict[Key, ParagraphStyle], Many(MOST_ENTRIES)] = field(default_factory=dict)
    character_styles: Annotated[dict[Key, CharacterStyle], Many(MOST_ENTRIES)] = field(default_factory=dict)
    frame_styles: Annotated[dict[Key, FrameStyle], Many(MOST_ENTRIES)] = field(default_factory=dict)
    rule_styles: Annotated[dict[Key, RuleStyle], Many(MOST_ENTRIES)] = field(default_factory=dict)
    ink_sets: Annotated[dict[Key, InkSet], Many(MOST_ENTRIES)] = field(default_factory=dict)
    swatches: Annotated[dict[Key, Swatch], Many(MOST_ENTRIES)] = field(default_factory=dict)
    masters: Annotated[dict[Key, Master], Many(MOST_ENTRIES)] = field(default_factory=dict)
    layers: Annotated[dict[Key, Layer], Many(MOST_LAYERS)] = field(default_factory=dict)
    """The lowest first. A job that is read or begun has at least one."""
    pages: Annotated[list[Page], Many(MOST_PAGES, 1)] = field(default_factory=list)
    stories: Annotated[dict[Id, Story], Many(MOST_ENTRIES)] = field(default_factory=dict)
    inlays: Annotated[dict[Id, Object], Many(MOST_ENTRIES)] = field(default_factory=dict)
    """The anchored frames, which stories name; of their places only width and height count."""
    tables: Annotated[dict[Key, TextTable], Many(MOST_ENTRIES)] = field(default_factory=dict)
    papers: Annotated[dict[Key, Paper], Many(MOST_ENTRIES)] = field(default_factory=dict)
    copies: Annotated[dict[Key, StandingCopy], Many(MOST_ENTRIES)] = field(default_factory=dict)
    overlays: Annotated[dict[Key, Overlay], Many(MOST_ENTRIES)] = field(default_factory=dict)
    fonts: Annotated[dict[Key, OwnFont], Many(MOST_ENTRIES)] = field(default_factory=dict)
    pictures: Annotated[dict[Key, PictureFile], Many(MOST_ENTRIES)] = field(default_factory=dict)
    markings: Annotated[dict[Key, Marking], Many(MOST_MARKINGS)] = field(default_factory=dict)
    """Mark-up rules, in the order in which they act."""
    lexicon: Annotated[dict[Key, KnownWord], Many(MOST_ENTRIES)] = field(default_factory=dict)
    listings: Annotated[dict[Key, Listing], Many(MOST_ENTRIES)] = field(default_factory=dict)
    terms: Annotated[dict[Key, IndexTerm], Many(MOST_TERMS)] = field(default_factory=dict)
    """Of the index."""
    table_styles: Annotated[dict[Key, TableStyle], Many(MOST_ENTRIES)] = field(default_factory=dict)
    note_kinds: Annotated[dict[Key, NoteKind], Many(MOST_ENTRIES)] = field(default_factory=dict)
    """The first is that of notes which name none."""
    abroad: Annotated[dict[Key, Abroad], Many(MOST_ENTRIES)] = field(default_factory=dict)
    """The other jobs of its publication, in order, as far as its listings gather from them."""
    record_sets: Annotated[dict[Key, RecordSet], Many(MOST_ENTRIES)] = field(default_factory=dict)
    """The records that it is merged with. The first are the ones shown, unless others are selected."""
    record_adjustments: Annotated[dict[Key, RecordAdjustment], Many(MOST_ADJUSTMENTS)] = field(default_factory=dict)
    acceptances: Annotated[dict[Key, Acceptance], Many(MOST_ENTRIES)] = field(default_factory=dict)
    """The findings of the checks that are accepted, with reasons."""
    format: int = FORMAT

    @property
    def body(self) -> str:
        """The paragraph style that text is in where nothing says otherwise: ``body``, or the first where that was
        deleted."""
        return "body" if "body" in self.paragraph_styles else next(iter(self.paragraph_styles))

    def page_index(self, page_id: str) -> int | None:
        """Return the index of a page, None if it is not in the job."""
        return next((i for i, page in enumerate(self.pages) if page.id == page_id), None)

    def find_frame(self, frame_id: str) -> tuple[int, Object] | None:
        """The page index and the frame of a frame that is itself an object of a page."""
        for index, page in enumerate(self.pages):
            for frame in page.frames:
                if frame.id == frame_id:
                    return index, frame
        return None

    def master_chain(self, master_id: str | None) -> list[Master]:
        """A master page and those it is based on, the lowest first. A ring or a gap ends the chain."""
        chain: list[Master] = []
        while master_id in self.masters and self.masters[master_id] not in chain:
            chain.append(self.masters[master_id])
            master_id = chain[-1].based_on
        return chain[::-1]

    def master_objects(self, master_id: str | None, side: Side) -> list[tuple[Object, str]]:
        """Return what a master shows on one side, lowest first, each with the master it belongs to.

        One that a later master of the chain has taken over is left out. Running heads and folios that come to a page on
        its side from a master whose pages are upright, or the other way round, are where they are as the book is held.
        """
        chain = self.master_chain(master_id)
        overridden = {one.origin for master in chain for one in master.half(side) if one.origin}
        objects = [(one, master) for master in chain for one in master.half(side) if one.id not in overridden]
        if all(master.turned == chain[-1].turned for master in chain):
            return [(one, master.id) for one, master in objects]
        onto = chain[-1].turned
        size = self.brief.page_size(onto)
        return [
            (
                (one if master.turned == onto else swung(one, self.master_area(master, side), size, onto) or one),
                master.id,
            )
            for one, master in objects
        ]

    def page_objects(self, index: int) -> Iterator[tuple[Object, bool]]:
        """Return what a page shows, lowest first, each with whether it is the master's."""
        page = self.pages[index]
        overridden = {one.origin for one in page.objects if one.origin}
        for one, _ in self.master_objects(page.master, self.brief.side(index)):
            if one.id not in overridden:
                yield one, True
        for one in page.objects:
            yield one, False

    def master_frames(self, master_id: str | None, side: Side) -> list[tuple[Object, str]]:
        """The same without groups: objects of the master page itself, or in its groups."""
        return [(f, owner) for one, owner in self.master_objects(master_id, side) for f in frames_in((one,))]

    def page_frames(self, index: int) -> Iterator[tuple[Object, bool]]:
        """The same of a page."""
        return ((f, below) for one, below in self.page_objects(index) for f in frames_in((one,)))

    def master_of(self, index: int) -> Master | None:
        return self.masters.get(self.pages[index].master or "") if index < len(self.pages) else None

    def page_size(self, index: int) -> tuple[float, float]:
        """Trim width and height of a page."""
        master = self.master_of(index)
        return self.brief.page_size(bool(master and master.turned))

    def master_area(self, master: Master | None, side: Side) -> Rect:
        """The rectangle within the margins of a master's page; those it leaves open come from its base, then the
        brief."""
        chain = self.master_chain(master.id) if master else []
        margins = next((m.margins for m in reversed(chain) if m.margins), None)
        return self.brief.text_area(side, margins, bool(master and master.turned))

    def text_area(self, index: int, master_id: str | None = None) -> Rect:
        """The rectangle within a page's margins. The page need not exist yet: then ``master_id`` is what it will
        use."""
        master = self.master_of(index) if index < len(self.pages) else self.masters.get(master_id or "")
        return self.master_area(master, self.brief.side(index))

    def frame_rect(self, frame: Object, index: int, master_id: str | None = None) -> Rect:
        return frame.rect or self.text_area(index, master_id)
