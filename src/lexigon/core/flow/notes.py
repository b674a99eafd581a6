"""The notes of a job's stories: their numbers, and their text set at the widths of the columns they are cited in."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from operator import is_
from typing import NamedTuple

from lexigon.core.document.anchors import anchors_in
from lexigon.core.document.cascade import Cascade, FrameSetting, frame_setting
from lexigon.core.document.default_notes import kind_of
from lexigon.core.document.model import Anchor, Job, NoteKind, Object, Paragraph, ParaSpec, Story, TextTable, TypeSpec
from lexigon.core.document.model.notes import NoteSigns
from lexigon.core.document.numbering import written
from lexigon.core.editing.intents.text.note_kinds import NOTE
from lexigon.core.flow.areas import Area
from lexigon.core.flow.model import BEGIN, State
from lexigon.core.flow.note_layout import NoteBody, NoteRest, short_line
from lexigon.core.flow.resolved_text import ResolvedText, Value, written_out
from lexigon.core.flow.story_flow import StoryFlow
from lexigon.core.geometry import Rect
from lexigon.core.type.fonts import FontLibrary
from lexigon.core.type.grid import Grid

ENDLESS = 100_000.0
NO_GRID = Grid()
NOTE_NUMBER = "note-number"
"""The character style of a note's number, where the job has it."""
BEHIND_NUMBER = "\u00a0"
"""What sets a note's number off from its words."""
GOES_ON = ParaSpec(align="right", indent_first=0.0, space_before=0.0, space_after=0.0, grid=False)
MOST_BODIES = 4000
"""Notes that are remembered as they were set."""


SIGNS = "*†‡§¶‖"
"""The printers' reference marks in their order (common practice, no source); from the seventh note on they are doubled,
and so on."""


class Citation(NamedTuple):
    """A note as it is cited: its number, as it is written, and its kind."""

    number: str
    kind: NoteKind
    order: int = 0
    """Which of the job's kinds that is."""


def sign(number: int, signs: NoteSigns) -> str:
    """Return how a number of a note is written."""
    if signs == "none":
        return ""
    if signs == "*":
        again, at = divmod(number - 1, len(SIGNS))
        return SIGNS[at] * (again + 1)
    return written(number, signs)


@dataclass(slots=True)
class _SetNote:
    """A body with all it was made from."""

    paragraphs: list[Paragraph]
    cited: Citation
    cascade: Cascade
    library: FontLibrary
    body: NoteBody
    alive: bool
    """Whether it contains something besides its number that may change, such as a field."""

    def matches_source(
        self, paragraphs: list[Paragraph], cited: Citation, cascade: Cascade, library: FontLibrary
    ) -> bool:
        return (
            (self.cited is cited or self.cited == cited)
            and self.cascade is cascade
            and self.library is library
            and len(self.paragraphs) == len(paragraphs)
            and all(map(is_, self.paragraphs, paragraphs))
        )


def _notes_in(paragraph: Paragraph, tables: Mapping[str, TextTable]) -> Iterator[tuple[int, Anchor]]:
    """The notes cited in a paragraph, or in the cells of the tables in it, and the offsets."""
    for span in paragraph.spans:
        if span.object is None:
            continue
        if span.object.kind == "note":
            yield span.start, span.object
        elif span.object.kind == "table" and (table := tables.get(span.object.ref)) is not None:
            for row in table.rows:
                for cell in row:
                    yield from ((span.start, one) for one in anchors_in(cell.paragraphs) if one.kind == "note")


class Notes:
    """The notes of one job. What was set before is known again as long as nothing it was made from has changed."""

    def __init__(self, job: Job, pages: Callable[[str, list[tuple[str, int]]], list[int | None]]) -> None:
        """``pages`` gives the pages of places in a story, as far as they are known."""
        self.job, self.pages = job, pages
        self._bodies: dict[tuple[str, float, State], _SetNote] = {}
        self._numbers: dict[str, dict[str, Citation]] = {}
        self._areas: dict[float, Area] = {}
        """What notes of one width are set in, as the ``_setting`` of areas was looked up in a cascade."""
        self._setting: tuple[Cascade, FrameSetting] | None = None
        self._notices: dict[tuple[str, str, float], StoryFlow] = {}

    def changed(self) -> None:
        """The stories of the job may have changed: count the notes again."""
        self._numbers.clear()

    def repaint(self, cascade: Cascade) -> None:
        """The styles changed in appearance only: what is set stays."""
        for cached in self._bodies.values():
            cached.body.flow.repaint(cascade)
            cached.cascade = cascade

    def numbers(self, story_id: str) -> dict[str, Citation]:
        """The notes of a story by their names, in the order of citation, each kind numbered from 1: throughout the
        story, or starting again on each page or after each heading. Where a page is not known yet, counting
        continues."""
        cached = self._numbers.get(story_id)
        if cached is None:
            story = self.job.stories.get(story_id)
            cached = self._numbers[story_id] = self._counted(story) if story else {}
        return cached

    def _counted(self, story: Story) -> dict[str, Citation]:
        headings = {kind.id: kind.heading for kind in self.job.note_kinds.values() if kind.counted == "heading"}
        numbering: dict[str, tuple[int, NoteKind, int]] = {}
        places: list[tuple[str, int]] = []
        chapters = dict.fromkeys(headings, 0)
        kinds: dict[str, tuple[int, NoteKind]] = {}
        for paragraph in story.paragraphs:
            for key, style in headings.items():
                chapters[key] += paragraph.style == style
            if not paragraph.spans:
                continue
            for at, anchor in _notes_in(paragraph, self.job.tables):
                if anchor.ref not in numbering:
                    if anchor.form not in kinds:
                        kinds[anchor.form] = kind_of(self.job, anchor.form)
                    order, kind = kinds[anchor.form]
                    numbering[anchor.ref] = order, kind, chapters.get(kind.id, 0)
                    places.append((paragraph.id, at))
        pages = self.pages(story.id, places) if self.by_page else [None] * len(places)
        cited: dict[str, Citation] = {}
        counts: dict[str, int] = {}
        within: dict[str, int] = {}
        for (ref, (order, kind, chapter)), page in zip(numbering.items(), pages, strict=True):
            part = page if kind.counted == "page" else chapter
            if part is not None and part != within.get(kind.id, part if kind.counted == "page" else 0):
                counts[kind.id] = 0
            if part is not None:
                within[kind.id] = part
            counts[kind.id] = counts.get(kind.id, 0) + 1
            cited[ref] = Citation(sign(counts[kind.id], kind.signs), kind, order)
        return cited

    @property
    def some(self) -> bool:
        """Return whether any note is set."""
        return bool(self._bodies)

    @property
    def by_page(self) -> bool:
        """Return whether numbers depend on where their notes are cited."""
        return any(kind.counted == "page" for kind in self.job.note_kinds.values())

    def stale(
        self, value: Callable[[str], Callable[[Paragraph], Value]], cited: Callable[[str], Citation | None]
    ) -> set[str]:
        """The notes that show something else than they were set with, and are forgotten as they were; ``value`` says of
        a note what fields in it show, ``cited`` how it is cited now."""
        gone = set()
        for key, cached in list(self._bodies.items()):
            ref = key[0]
            now = cited(ref)
            if now is None or (now.number == cached.cited.number and not cached.alive):
                continue
            show = self._shower(cached.paragraphs[0], now.number, value(ref))
            if any(
                set_paragraph.shown.alive and show(set_paragraph.paragraph) != set_paragraph.shown
                for set_paragraph in cached.body.flow.paragraphs
            ):
                del self._bodies[key]
                gone.add(ref)
        return gone

    def _shower(
        self, first: Paragraph, number: str, value: Callable[[Paragraph], Value]
    ) -> Callable[[Paragraph], ResolvedText]:
        """Writes out a note's paragraphs, the first with its number before it."""
        mark = (number, NOTE_NUMBER if NOTE_NUMBER in self.job.character_styles else None) if number else None
        return lambda p: written_out(p, value(p), mark if p is first else None, BEHIND_NUMBER)

    def _notice(self, kind: NoteKind, area: Area, cascade: Cascade, library: FontLibrary) -> StoryFlow | None:
        """Return the line below a note that continues, the same for all of a kind and a width."""
        if not kind.goes_on or not kind.divided or kind.place != "foot":
            return None
        key = kind.goes_on, kind.style, area.rect.width
        cached = self._notices.get(key)
        if cached is None or cached.cascade is not cascade or cached.library is not library:
            style = kind.style or NOTE
            words = Paragraph("goes-on", style, kind.goes_on, para=GOES_ON, type=TypeSpec(italic=True))
            cached = self._notices[key] = StoryFlow([words], cascade, library, NO_GRID, lambda: iter((area,)), 1)
        return cached

    def _area(self, width: float, cascade: Cascade) -> Area:
        """Return what a note is set in."""
        if self._setting is None or self._setting[0] is not cascade:
            self._setting = cascade, frame_setting(self.job, Object("note"))
            self._areas.clear()
        cached = self._areas.get(width)
        if cached is None:
            box = Rect(0.0, 0.0, width, ENDLESS)
            cached = self._areas[width] = Area(0, "note", "recto", False, box, self._setting[1])
        return cached

    def body(
        self,
        ref: str,
        width: float,
        cited: Citation | None,
        cascade: Cascade,
        library: FontLibrary,
        value: Callable[[Paragraph], Value],
        owed: NoteRest | None = None,
    ) -> NoteBody | None:
        """A note set at a width under its number, or what is left of it; ``value`` says what fields in it show. None
        where it stands nowhere by itself."""
        story = self.job.stories.get(ref)
        if story is None or cited is None or cited.kind.place == "gathered":
            return None
        kind = cited.kind
        if kind.place == "margin":
            width = kind.width
        begin = State(owed.paragraph, owed.offset) if owed is not None else BEGIN
        key = ref, width, begin
        cached = self._bodies.get(key)
        if cached is not None and cached.matches_source(story.paragraphs, cited, cascade, library):
            return cached.body
        if begin.paragraph >= len(story.paragraphs):
            return None
        show = self._shower(story.paragraphs[0], cited.number, value)
        area = self._area(width, cascade)
        flow = StoryFlow(
            story.paragraphs, cascade, library, NO_GRID, lambda: iter((area,)), 1, None, show, begin=begin, alone=True
        )
        notice = self._notice(kind, area, cascade, library)
        short = short_line(flow, begin != BEGIN) if kind.together and kind.place == "foot" else None
        body = NoteBody(ref, flow, flow.columns[0].foot(flow), kind, cited.order, notice, short)
        if len(self._bodies) >= MOST_BODIES:
            self._bodies.clear()
            self._areas.clear()
        self._bodies[key] = _SetNote(
            list(story.paragraphs),
            cited,
            cascade,
            library,
            body,
            any(span.object is not None for p in story.paragraphs for span in p.spans),
        )
        return body
