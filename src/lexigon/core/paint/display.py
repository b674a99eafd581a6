"""The display list of a page: its frames, their lines, and the runs of words on each line.

All positions are in points from the page's top left trim corner; ``baseline`` grows downward.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from lexigon.core.flow.column import Block, Grid
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.slots import frame_slots
from lexigon.core.flow.story import Column, StoryFlow
from lexigon.core.geometry import Rect
from lexigon.core.job.model import OBJECT, Frame, Paragraph, Side, Span
from lexigon.core.job.text import cut_spans
from lexigon.core.type.line import LineRun, place_line
from lexigon.core.type.runs import runs_of

MOST_COUNTED = 400
"""Overset paragraphs whose lines are counted; beyond that only words are."""


@dataclass(slots=True, frozen=True)
class LineArt:
    """A line: the paragraph it belongs to, the text it shows, its box for carets, its runs."""

    paragraph: str
    start: int
    end: int
    last: bool
    """The paragraph ends with this line."""
    x: float
    baseline: float
    ascent: float
    descent: float
    width: float
    """Of the measure it stands in."""
    ratio: float
    runs: tuple[LineRun, ...]


@dataclass(slots=True, frozen=True)
class Overset:
    """Text behind the last line that has a place."""

    words: int
    lines: int


@dataclass(slots=True)
class FrameArt:
    frame: Frame
    rect: Rect
    inherited: bool
    """The master's frame, not taken over by this page."""
    story: str | None
    number: int
    """Its place in the story's flow, from 1; 0 where the story has one frame only."""
    lines: list[LineArt]
    overset: Overset | None = None
    field: bool = False
    """Its text is made from fields (running heads, folios) and is edited on the master."""


@dataclass(slots=True)
class PageArt:
    index: int
    label: str
    side: Side
    width: float
    height: float
    frames: list[FrameArt]


def page_label(composition: Composition, index: int) -> str:
    """The page number as it is shown."""
    return str(index + 1)


def headings(composition: Composition) -> list[tuple[int, int, str, str]]:
    """(page, level, text, paragraph id) of every heading of the main text, in order."""
    found = []
    styles = composition.job.paragraph_styles
    flow = composition.main
    for column in flow.columns if flow else []:
        for block in column.blocks:
            if block.first_line == block.base == 0:
                paragraph = flow.paragraphs[block.paragraph].paragraph  # type: ignore[union-attr]
                style = styles.get(paragraph.style)
                if style and style.outline and paragraph.text.strip():
                    text = " ".join(paragraph.text.replace(OBJECT, "").split())
                    found.append((column.slot.page, style.outline, text, paragraph.id))
    return found


class Painter:
    """Paints pages of one composition. Make a new one when the composition changed."""

    def __init__(self, composition: Composition) -> None:
        self.composition = composition
        self.job = composition.job
        self._running: list[str] | None = None
        self._found_headings: list[tuple[int, int, str, str]] | None = None
        self._flow_order: dict[tuple[str, int, str], int] | None = None

    def page(self, index: int) -> PageArt:
        job, side = self.job, self.job.brief.side(index)
        columns: dict[str, list[Column]] = {}
        stories: dict[str, str] = {}
        for story_id, column in self.composition.columns_on(index):
            columns.setdefault(column.slot.frame, []).append(column)
            stories[column.slot.frame] = story_id
        hidden = self._kinds(index)
        frames = []
        for frame, inherited in job.page_frames(index):
            if inherited and not hidden.isdisjoint(frame.hide_on):
                continue
            rect = job.frame_rect(frame, side)
            story_id = stories.get(frame.id, "")
            if story_id:
                flow = self.composition.flows[story_id]
                lines = [line for column in columns[frame.id] for line in self._lines(flow, column)]
                number = self._number(story_id, index, frame.id)
                art = FrameArt(frame, rect, inherited, story_id, number, lines)
                if flow.overset and columns[frame.id][-1] is flow.columns[-1]:
                    art.overset = self._overset(flow)
            else:
                lines = self._field_lines(frame, index) if inherited or frame.story else []
                art = FrameArt(frame, rect, inherited, frame.story, 0, lines, field=True)
            frames.append(art)
        label = page_label(self.composition, index)
        return PageArt(index, label, side, job.brief.width, job.brief.height, frames)

    def _kinds(self, index: int) -> set[str]:
        """What the page is, in the words of ``Frame.hide_on``."""
        kinds: set[str] = set()
        flow = self.composition.main
        if flow is None:
            return kinds
        first = self._headings()[0][0] if self._headings() else 0
        if index < first:
            kinds.add("front")
        blank, seen = True, False
        for story_id, column in self.composition.columns_on(index):
            if story_id == self.job.main_story:
                seen = True
                if column.blocks:
                    blank = False
                    block = column.blocks[0]
                    starts = flow.setting(block.paragraph).start in ("page", "recto")
                    if column.slot.heads_page and block.first_line == block.base == 0 and starts:
                        kinds.add("opening")
        if seen and blank:
            kinds.add("blank")
        return kinds

    def _headings(self) -> list[tuple[int, int, str, str]]:
        if self._found_headings is None:
            self._found_headings = headings(self.composition)
        return self._found_headings

    def _number(self, story_id: str, page: int, frame: str) -> int:
        if self._flow_order is None:
            self._flow_order = {}
            for name, flow in self.composition.flows.items():
                order: dict[tuple[str, int, str], int] = {}
                for column in flow.columns:
                    order.setdefault((name, column.slot.page, column.slot.frame), len(order) + 1)
                if len(order) > 1:
                    self._flow_order.update(order)
        return self._flow_order.get((story_id, page, frame), 0)

    def _lines(self, flow: StoryFlow, column: Column) -> list[LineArt]:
        lines: list[LineArt] = []
        for block in column.blocks:
            lines += self._block(flow, block, column.slot.rect)
        return lines

    def _block(self, flow: StoryFlow, block: Block, area: Rect) -> list[LineArt]:
        found = flow.paragraphs[block.paragraph]
        paragraph, setting = found.paragraph, found.setting
        text, runs = runs_of(flow.cascade, flow.library, paragraph)
        all_lines = flow.lines(block.paragraph, area.width, block.base)
        made = []
        for number in range(block.first_line, block.last_line):
            line = all_lines[number]
            placed = place_line(text, runs, line, setting, area.x, area.width)
            baseline = block.baseline + (number - block.first_line) * block.step
            if placed:
                x = placed[0].x
            else:
                slack = area.width - setting.indent_left - setting.indent_right
                x = area.x + setting.indent_left + line.indent
                x += {"centre": slack / 2, "right": slack}.get(setting.align, 0.0)
            made.append(
                LineArt(paragraph.id, line.start, line.end, number == len(all_lines) - 1, x, baseline,
                        found.ascent, found.descent, area.width, line.ratio, tuple(placed))
            )  # fmt: skip
        return made

    def _overset(self, flow: StoryFlow) -> Overset:
        index, base, line, measure = flow.end
        width = measure or flow.columns[-1].slot.rect.width
        lines = flow.lines(index, width, base)
        words = len(flow.paragraphs[index].paragraph.text[lines[line].start :].split())
        words += sum(len(p.paragraph.text.split()) for p in flow.paragraphs[index + 1 :])
        count = len(lines) - line
        if len(flow.paragraphs) - index < MOST_COUNTED:
            count += sum(flow.line_count(i, width, 0) for i in range(index + 1, len(flow.paragraphs)))
        return Overset(words, count)

    # Fields: text that differs from page to page.

    def _field_text(self, kind: str, page: int) -> str:
        if kind == "page":
            return page_label(self.composition, page)
        if kind == "pages":
            return str(len(self.job.pages))
        if kind == "job":
            return self.job.name
        return self.running_title(page)

    def running_title(self, page: int) -> str:
        """The heading in force on a page: the last part or chapter that begins on it or before it."""
        if self._running is None:
            self._running = []
            found = self._headings()
            current, at = "", 0
            for index in range(len(self.job.pages)):
                while at < len(found) and found[at][0] <= index:
                    if found[at][1] <= 2:
                        current = found[at][2]
                    at += 1
                self._running.append(current)
        return self._running[page]

    def _field_lines(self, frame: Frame, page: int) -> list[LineArt]:
        story = self.job.stories.get(frame.story or "")
        if story is None:
            return []
        paragraphs = [resolved(p, lambda kind: self._field_text(kind, page)) for p in story.paragraphs]
        slots = frame_slots(self.job, page, frame, True)
        flow = StoryFlow(
            paragraphs,
            self.composition.cascade,
            self.composition.library,
            Grid(),
            lambda: iter(slots),
            len(self.job.pages),
        )
        return [line for column in flow.columns for line in self._lines(flow, column)]


def resolved(paragraph: Paragraph, value: Callable[[str], str]) -> Paragraph:
    """The paragraph with each field replaced by its text; spans move along."""
    if not any(span.field for span in paragraph.spans):
        return paragraph
    text, spans, at = "", [], 0
    for span in paragraph.spans:
        text += paragraph.text[at : span.start]
        shown = value(span.field) if span.field else paragraph.text[span.start : span.end]
        if shown:
            spans.append(Span(len(text), len(text) + len(shown), span.style, span.type))
        # Text between spans keeps no span of its own, so only the spans' own stretches are listed.
        text += shown
        at = span.end
    text += paragraph.text[at:]
    return replace(paragraph, text=text, spans=cut_spans(spans, 0, len(text)))
