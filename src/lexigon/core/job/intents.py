"""What a person does, as data: each intent checks itself and expands into primitive edits.

The web view, the command line and the tests change a job through these (and the undo log through
their primitives). ``label`` is the line in the history list.
"""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from typing import Annotated, Any, Literal, Union

from pydantic import Field

from lexigon.core import lengths
from lexigon.core.geometry import Rect
from lexigon.core.job import text as texts
from lexigon.core.job.edits import (
    EditError,
    Primitive,
    PutEntry,
    SetBrief,
    SetFrames,
    SetName,
    SplicePages,
    SpliceParagraphs,
    put,
)
from lexigon.core.job.model import (
    Brief,
    Frame,
    Job,
    Page,
    Paragraph,
    ParagraphStyle,
    ParaSpec,
    Story,
    TypeSpec,
    overlay,
)
from lexigon.core.job.serial import read

SMALLEST_FRAME = 4.0
LARGEST_INSERT = 20_000_000


@dataclass(slots=True, frozen=True)
class Place:
    """A position in a story: a paragraph and a code point offset into it."""

    paragraph: str
    offset: int


FIRST, LAST = "^", "$"
"""Stand for a story's first and last paragraph in a Place: its very beginning and its very end."""


def locate(job: Job, story_id: str, *places: Place) -> tuple[Story, list[tuple[int, int]]]:
    """The story, and the (paragraph index, offset) of each place.

    An offset of -1 is the end of the paragraph before, one past the text the beginning of the next:
    what deleting across a paragraph's edge means. Raises EditError if a place is gone.
    """
    story = job.stories.get(story_id)
    if story is None:
        raise EditError("That text is no longer in the job.")
    paragraphs = story.paragraphs
    wanted = {place.paragraph for place in places}
    found = {p.id: i for i, p in enumerate(paragraphs) if p.id in wanted}
    result = []
    for place in places:
        if place.paragraph == FIRST:
            result.append((0, 0))
            continue
        if place.paragraph == LAST:
            result.append((len(paragraphs) - 1, len(paragraphs[-1].text)))
            continue
        index = found.get(place.paragraph)
        if index is None or not -1 <= place.offset <= len(paragraphs[index].text) + 1:
            raise EditError("That place is no longer in the text; it was changed somewhere else.")
        offset, length = place.offset, len(paragraphs[index].text)
        if offset < 0:
            index, offset = (index - 1, len(paragraphs[index - 1].text)) if index else (0, 0)
        elif offset > length:
            index, offset = (index + 1, 0) if index + 1 < len(paragraphs) else (index, length)
        result.append((index, offset))
    return story, result


@dataclass(slots=True, frozen=True)
class ReplaceText:
    """Put ``text`` where ``start``..``end`` was. A newline in it begins a new paragraph."""

    story: str
    start: Place
    end: Place
    text: str = ""
    do: Literal["replace-text"] = "replace-text"

    @property
    def label(self) -> str:
        return "Typing" if self.text else "Deleting"

    def expand(self, job: Job) -> list[Primitive]:
        if len(self.text) > LARGEST_INSERT:
            raise EditError("That is more text than can be put in at once; bring it in as a manuscript.")
        story, places = locate(job, self.story, self.start, self.end)
        (first, start), (last, end) = sorted(places)
        head, tail = story.paragraphs[first], story.paragraphs[last]
        lines = texts.clean(self.text).split("\n")
        before = texts.inserted(texts.piece(head, 0, start), start, lines[0])
        after = texts.piece(tail, end, len(tail.text))
        if len(lines) == 1 and first == last and start == end and not lines[0]:
            return []
        if len(lines) == 1:
            merged = [texts.joined(before, after)]
        else:
            style = head.style
            if start == len(head.text):
                # A new paragraph begun at the end of one takes the style that follows it.
                following = job.paragraph_styles.get(head.style)
                style = (following.next if following else None) or head.style
            made = [Paragraph(texts.new_id("p"), style, line) for line in lines[1:]]
            if after.text or first != last:
                made[-1] = texts.joined(replace(made[-1], style=tail.style, para=tail.para, type=tail.type), after)
            merged = [before, *made]
        return [SpliceParagraphs(self.story, first, last - first + 1, tuple(merged))]


@dataclass(slots=True, frozen=True)
class SetParagraphs:
    """Style and local settings of every paragraph from ``first`` through ``last``."""

    story: str
    first: str
    last: str
    style: str | None = None
    para: ParaSpec | None = None
    type: TypeSpec | None = None
    clear: bool = False
    do: Literal["set-paragraphs"] = "set-paragraphs"

    @property
    def label(self) -> str:
        return (
            "Choosing a style" if self.style else "Clearing local settings" if self.clear else "Setting the paragraph"
        )

    def expand(self, job: Job) -> list[Primitive]:
        if self.style is not None and self.style not in job.paragraph_styles:
            raise EditError("That style is no longer in the job.")
        check_specs(self.type, self.para)
        story, places = locate(job, self.story, Place(self.first, 0), Place(self.last, 0))
        first, last = sorted(index for index, _ in places)

        def changed(p: Paragraph) -> Paragraph:
            if self.style or self.clear:
                p = replace(p, style=self.style or p.style, para=None, type=None)
            para = overlay(p.para or ParaSpec(), self.para)
            type_ = overlay(p.type or TypeSpec(), self.type)
            return replace(p, para=None if para == ParaSpec() else para, type=None if type_ == TypeSpec() else type_)

        paragraphs = tuple(changed(p) for p in story.paragraphs[first : last + 1])
        return [SpliceParagraphs(self.story, first, last - first + 1, paragraphs)]


@dataclass(slots=True, frozen=True)
class FormatText:
    """Character settings of a stretch of text; ``style`` "" clears them all."""

    story: str
    start: Place
    end: Place
    type: TypeSpec | None = None
    style: str | None = None
    do: Literal["format-text"] = "format-text"
    label = "Setting characters"

    def expand(self, job: Job) -> list[Primitive]:
        check_specs(self.type, None)
        if self.style and self.style not in job.character_styles:
            raise EditError("That style is no longer in the job.")
        story, places = locate(job, self.story, self.start, self.end)
        (first, begin), (last, finish) = sorted(places)
        made = []
        for index in range(first, last + 1):
            p = story.paragraphs[index]
            start = begin if index == first else 0
            end = finish if index == last else len(p.text)
            made.append(texts.respanned(p, start, end, self.type, self.style) if start < end else p)
        return [SpliceParagraphs(self.story, first, last - first + 1, tuple(made))]


@dataclass(slots=True, frozen=True)
class PourText:
    """The whole of a story replaced by these paragraphs, as a manuscript brings them."""

    story: str
    paragraphs: tuple[Paragraph, ...]
    styles: tuple[ParagraphStyle, ...] = ()
    do: Literal["pour-text"] = "pour-text"
    label = "Bringing in a manuscript"

    def expand(self, job: Job) -> list[Primitive]:
        story = job.stories.get(self.story)
        if story is None:
            raise EditError("That text is no longer in the job.")
        new = [put("paragraph_styles", style) for style in self.styles if style.id not in job.paragraph_styles]
        paragraphs = self.paragraphs or (Paragraph(texts.new_id("p"), "body"),)
        return [*new, SpliceParagraphs(self.story, 0, len(story.paragraphs), paragraphs)]


def _page(job: Job, page_id: str) -> tuple[int, Page]:
    for index, page in enumerate(job.pages):
        if page.id == page_id:
            return index, page
    raise EditError("That page is no longer in the job.")


def _owned(job: Job, page_id: str, frame_id: str) -> tuple[int, Page, Frame, list[Primitive]]:
    """A page's own frame, taken over from its master first where it still belongs to that."""
    index, page = _page(job, page_id)
    for frame in page.frames:
        if frame.id == frame_id:
            return index, page, frame, []
    for frame, inherited in job.page_frames(index):
        if inherited and frame.id == frame_id:
            rect = job.frame_rect(frame, job.brief.side(index))
            own = replace(frame, id=texts.new_id("f"), origin=frame.id, rect=rect, hide_on=())
            page = replace(page, frames=(*page.frames, own))
            return index, page, own, []
    raise EditError("That frame is no longer on the page.")


def _check_rect(rect: Rect) -> Rect:
    values = (rect.x, rect.y, rect.width, rect.height)
    if not all(abs(value) <= lengths.LIMIT for value in values):
        raise EditError("That is larger than anything that can be printed.")
    if rect.width < SMALLEST_FRAME or rect.height < SMALLEST_FRAME:
        raise EditError("A frame is at least 4 pt wide and high.")
    return rect


@dataclass(slots=True, frozen=True)
class AddTextFrame:
    """A new text frame on a page, with a new story of its own, or led on from ``after``."""

    page: str
    rect: Rect
    after: str | None = None
    style: str = "body"
    do: Literal["add-text-frame"] = "add-text-frame"
    label = "Adding a text frame"

    def expand(self, job: Job) -> list[Primitive]:
        index, page = _page(job, self.page)
        frame_id = texts.new_id("f")
        edits: list[Primitive] = []
        if self.after is None:
            story_id = texts.new_id("s")
            style = self.style if self.style in job.paragraph_styles else next(iter(job.paragraph_styles))
            number = 1 + sum(story.name.startswith("Text") for story in job.stories.values())
            story = Story(story_id, f"Text {number}", [Paragraph(texts.new_id("p"), style)], [frame_id])
            edits.append(put("stories", story))
        else:
            story_id, order = _led_after(job, self.after, frame_id)
            edits.append(SetFrames(story_id, tuple(order)))
        frame = Frame(frame_id, rect=_check_rect(self.rect), story=story_id)
        page = replace(page, frames=(*page.frames, frame))
        return [*edits, SplicePages(index, 1, (page,))]


def _led_after(job: Job, after: str, frame_id: str) -> tuple[str, list[str]]:
    """The story of frame ``after`` and its hand-led frames with ``frame_id`` put in behind it."""
    found = job.find_frame(after)
    story_id = found[1].story if found else job.main_story
    if story_id is None or story_id not in job.stories:
        raise EditError("That frame holds no text to lead on.")
    order = list(job.stories[story_id].frames)
    order.insert(order.index(after) + 1 if after in order else 0, frame_id)
    return story_id, order


@dataclass(slots=True, frozen=True)
class ChangeFrame:
    """New place, size or setting of a frame on a page; a master's frame is taken over for this page."""

    page: str
    frame: str
    rect: Rect | None = None
    columns: int | None = None
    gutter: float | None = None
    insets: float | None = None
    vertical: Literal["top", "centre", "bottom"] | None = None
    do: Literal["change-frame"] = "change-frame"

    @property
    def label(self) -> str:
        return "Moving a frame" if self.rect else "Setting a frame"

    def expand(self, job: Job) -> list[Primitive]:
        index, page, frame, edits = _owned(job, self.page, self.frame)
        changes: dict[str, Any] = {}
        if self.rect:
            changes["rect"] = _check_rect(self.rect)
        for name in ("columns", "gutter", "insets", "vertical"):
            value = getattr(self, name)
            if value is not None:
                changes[name] = value
        if not 1 <= changes.get("columns", 1) <= 40:
            raise EditError("A frame has 1 to 40 columns.")
        if changes.get("gutter", 0) < 0 or changes.get("insets", 0) < 0:
            raise EditError("Gutters and insets cannot be negative.")
        new = replace(frame, **changes)
        frames = tuple(new if f.id == frame.id else f for f in page.frames)
        return [*edits, SplicePages(index, 1, (replace(page, frames=frames),))]


@dataclass(slots=True, frozen=True)
class RemoveFrame:
    """Take a frame off its page. The text stays with its other frames; a master's frame comes back."""

    page: str
    frame: str
    do: Literal["remove-frame"] = "remove-frame"
    label = "Removing a frame"

    def expand(self, job: Job) -> list[Primitive]:
        index, page = _page(job, self.page)
        frame = next((f for f in page.frames if f.id == self.frame), None)
        if frame is None:
            raise EditError("This frame belongs to the master page; it cannot be removed from a single page.")
        edits: list[Primitive] = []
        story = job.stories.get(frame.story or "")
        if story and frame.id in story.frames:
            rest = tuple(f for f in story.frames if f != frame.id)
            if rest or story.id == job.main_story:
                edits.append(SetFrames(story.id, rest))
            else:
                edits.append(PutEntry("stories", story.id, None))
        new = replace(page, frames=tuple(f for f in page.frames if f.id != frame.id))
        return [SplicePages(index, 1, (new,)), *edits]


@dataclass(slots=True, frozen=True)
class LinkFrames:
    """Lead the text of frame ``after`` on into frame ``into``; what ``into`` held is added at the end."""

    after: str
    into_page: str
    into: str
    do: Literal["link-frames"] = "link-frames"
    label = "Leading the text on"

    def expand(self, job: Job) -> list[Primitive]:
        index, page = _page(job, self.into_page)
        frame = next((f for f in page.frames if f.id == self.into), None)
        if frame is None or frame.role == "main":
            raise EditError("Text flows into that frame already.")
        if self.after == self.into:
            raise EditError("A frame cannot flow into itself.")
        found = job.find_frame(self.after)
        story_id = found[1].story if found else job.main_story
        old = job.stories.get(frame.story or "")
        if old is not None and old.id == story_id:
            raise EditError("Both frames hold the same text already.")
        story_id, order = _led_after(job, self.after, self.into)
        edits: list[Primitive] = []
        pages = {
            index: replace(
                page, frames=tuple(replace(f, story=story_id) if f.id == frame.id else f for f in page.frames)
            )
        }
        if old is not None:
            others = [f for f in old.frames if f != frame.id]
            if any(p.text for p in old.paragraphs) and not others:
                edits.append(
                    SpliceParagraphs(story_id, len(job.stories[story_id].paragraphs), 0, tuple(old.paragraphs))
                )
            if others:
                edits.append(SetFrames(old.id, tuple(others)))
            else:
                edits.append(PutEntry("stories", old.id, None))
        return [*(SplicePages(i, 1, (p,)) for i, p in pages.items()), *edits, SetFrames(story_id, tuple(order))]


@dataclass(slots=True, frozen=True)
class UnlinkFrame:
    """End the flow before this frame; it keeps its place with an empty text of its own."""

    page: str
    frame: str
    do: Literal["unlink-frame"] = "unlink-frame"
    label = "Ending the flow"

    def expand(self, job: Job) -> list[Primitive]:
        index, page = _page(job, self.page)
        frame = next((f for f in page.frames if f.id == self.frame), None)
        story = job.stories.get(frame.story or "") if frame else None
        if frame is None or story is None or frame.id not in story.frames:
            raise EditError("No text is led into this frame by hand.")
        if story.id != job.main_story and story.frames == [frame.id]:
            raise EditError("This is the only frame of its text.")
        own = Story(texts.new_id("s"), f"{story.name}, apart", [Paragraph(texts.new_id("p"), "body")], [frame.id])
        new = replace(page, frames=tuple(replace(f, story=own.id) if f.id == frame.id else f for f in page.frames))
        rest = tuple(f for f in story.frames if f != frame.id)
        return [put("stories", own), SetFrames(story.id, rest), SplicePages(index, 1, (new,))]


@dataclass(slots=True, frozen=True)
class AddPages:
    at: int
    count: int
    master: str | None = None
    do: Literal["add-pages"] = "add-pages"
    label = "Adding pages"

    def expand(self, job: Job) -> list[Primitive]:
        if not 1 <= self.count <= 2000 or len(job.pages) + self.count > 5000:
            raise EditError("Add 1 to 2,000 pages at a time; a job holds at most 5,000.")
        if self.master is not None and self.master not in job.masters:
            raise EditError("That master page is no longer in the job.")
        return [SplicePages(self.at, 0, tuple(Page(texts.new_id("g"), self.master) for _ in range(self.count)))]


@dataclass(slots=True, frozen=True)
class ChangeBrief:
    """A new set-up. ``styles`` go with it: body type and leading belong to the Brief's form."""

    brief: Brief
    styles: tuple[ParagraphStyle, ...] = ()
    name: str | None = None
    do: Literal["change-brief"] = "change-brief"
    label = "Changing the set-up"

    def expand(self, job: Job) -> list[Primitive]:
        check_brief(self.brief)
        edits: list[Primitive] = [SetBrief(self.brief)] if self.brief != job.brief else []
        if self.name is not None and self.name.strip() and self.name.strip() != job.name:
            edits.append(SetName(texts.clean(self.name).strip()[:200]))
        for master in job.masters.values():
            moved = replace(
                master,
                recto=tuple(
                    _following(f, job.brief.text_area("recto"), self.brief.text_area("recto")) for f in master.recto
                ),
                verso=tuple(
                    _following(f, job.brief.text_area("verso"), self.brief.text_area("verso")) for f in master.verso
                ),
            )
            columns = {"columns": self.brief.columns, "gutter": self.brief.gutter}
            if (job.brief.columns, job.brief.gutter) != (self.brief.columns, self.brief.gutter):
                moved = replace(
                    moved,
                    recto=tuple(replace(f, **columns) if f.role == "main" else f for f in moved.recto),  # type: ignore[arg-type]
                    verso=tuple(replace(f, **columns) if f.role == "main" else f for f in moved.verso),  # type: ignore[arg-type]
                )
            if moved != master:
                edits.append(put("masters", moved))
        for style in self.styles:
            check_specs(style.type, style.para)
            if job.paragraph_styles.get(style.id) != style:
                edits.append(put("paragraph_styles", style))
        return edits


def _following(frame: Frame, old: Rect, new: Rect) -> Frame:
    """A master's frame moved with the text area: heads keep their distance from its head, feet from its foot."""
    rect = frame.rect
    if rect is None or old == new:
        return frame
    y = rect.y + (new.foot - old.foot if rect.y + rect.height / 2 > old.y + old.height / 2 else new.y - old.y)
    if abs(rect.x - old.x) < 0.01 and abs(rect.width - old.width) < 0.01:
        return replace(frame, rect=Rect(new.x, y, new.width, rect.height))
    return replace(frame, rect=Rect(rect.x + new.x - old.x, y, rect.width, rect.height))


@dataclass(slots=True, frozen=True)
class ChangeStyle:
    style: ParagraphStyle
    do: Literal["change-style"] = "change-style"
    label = "Changing a style"

    def expand(self, job: Job) -> list[Primitive]:
        check_specs(self.style.type, self.style.para)
        at, seen = self.style.based_on, {self.style.id}
        while at:
            if at in seen:
                raise EditError("A style cannot be based on itself, not even by way of another.")
            seen.add(at)
            at = job.paragraph_styles[at].based_on if at in job.paragraph_styles else None
        return [put("paragraph_styles", self.style)]


def check_brief(brief: Brief) -> None:
    """Raises LengthError naming the field that cannot be."""
    unit = brief.unit
    least, most = 18.0, 72.0 * 200
    for name in ("width", "height"):
        value = getattr(brief, name)
        if not value > 0:
            raise lengths.LengthError(f"The {name} must be more than nothing.", f"{name}")
        if value < least:
            raise lengths.LengthError(f"A page is at least {lengths.show(least, unit)}.", name)
        if value > most:
            raise lengths.LengthError(f"A page is at most {lengths.show(most, unit)} in each direction.", name)
    for group in ("margins", "bleed"):
        for item in fields(getattr(brief, group)):
            value = getattr(getattr(brief, group), item.name)
            if not 0 <= value <= most:
                raise lengths.LengthError(
                    f"The {item.name} {group.rstrip('s')} cannot be negative.", f"{group}.{item.name}"
                )
    area = brief.text_area("recto")
    if area.width < 18:
        raise lengths.LengthError("The inner and outer margins leave no room for text on the page.", "margins.outer")
    if area.height < 18:
        raise lengths.LengthError("The head and foot margins leave no room for text on the page.", "margins.foot")
    if max(brief.bleed.head, brief.bleed.foot, brief.bleed.inner, brief.bleed.outer) > 144:
        raise lengths.LengthError(f"A bleed is at most {lengths.show(144, unit)}.", "bleed.head")
    if brief.grid_step and brief.grid_step < 2:
        raise lengths.LengthError("The baseline grid needs at least 2 pt between lines.", "grid_step")


def check_specs(type_: TypeSpec | None, para: ParaSpec | None) -> None:
    """Raises EditError for values nothing can be set in."""
    if type_ and type_.size is not None and not 0.1 <= type_.size <= 5000:
        raise EditError("Type is between 0.1 and 5,000 pt.")
    if type_ and type_.tracking is not None and not -500 <= type_.tracking <= 5000:
        raise EditError("Tracking is between -500 and 5,000 thousandths of an em.")
    if para and para.leading is not None and not (para.leading == 0 or 0.5 <= para.leading <= 6000):
        raise EditError("Leading is between 0.5 and 6,000 pt, or 0 for automatic.")
    if para:
        for name in ("indent_first", "indent_left", "indent_right", "space_before", "space_after"):
            value = getattr(para, name)
            if value is not None and not abs(value) <= 10_000:
                raise EditError("Indents and spaces are at most 10,000 pt.")


Intent = Union[
    ReplaceText, SetParagraphs, FormatText, PourText, AddTextFrame, ChangeFrame, RemoveFrame, LinkFrames,
    UnlinkFrame, AddPages, ChangeBrief, ChangeStyle,
]  # fmt: skip

AnyIntent = Annotated[Intent, Field(discriminator="do")]


def intent_from_plain(data: Any) -> Intent:
    """Validate an intent that came from outside. Raises FormError."""
    result: Intent = read(AnyIntent, data)
    return result
