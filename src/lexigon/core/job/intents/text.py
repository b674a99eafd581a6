"""Intents that change a story's words, their setting, and the styles they are set in."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.job import text as texts
from lexigon.core.job.edits import EditError, Primitive, SpliceParagraphs, put
from lexigon.core.job.model import (
    OBJECT,
    Field,
    Job,
    Paragraph,
    ParagraphStyle,
    ParaSpec,
    Span,
    Story,
    TypeSpec,
    overlay,
)

LARGEST_INSERT = 20_000_000
FEATURE = re.compile(r"[A-Za-z0-9]{4}(=\d{1,3})?")


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
class InsertRich:
    """Put paragraphs with their own spans where ``start``..``end`` was; those in no style of the job are set like their
    surroundings."""

    story: str
    start: Place
    end: Place
    paragraphs: tuple[Paragraph, ...]
    do: Literal["insert-rich"] = "insert-rich"
    label = "Pasting"

    def expand(self, job: Job) -> list[Primitive]:
        if sum(len(p.text) for p in self.paragraphs) > LARGEST_INSERT:
            raise EditError("That is more text than can be put in at once; bring it in as a manuscript.")
        story, places = locate(job, self.story, self.start, self.end)
        (first, start), (last, end) = sorted(places)
        head, tail = story.paragraphs[first], story.paragraphs[last]
        new = [_settled(job, p, head) for p in self.paragraphs]
        made = texts.put_between(texts.piece(head, 0, start), new, texts.piece(tail, end, len(tail.text)))
        return [SpliceParagraphs(self.story, first, last - first + 1, tuple(made))]


def _settled(job: Job, p: Paragraph, beside: Paragraph) -> Paragraph:
    """A paragraph from elsewhere, fit to stand in the job: under a new id, its styles ones there are."""
    text = p.text if OBJECT in p.text else texts.clean(p.text).replace("\n", " ")
    spans = []
    for span in texts.cut_spans(p.spans, 0, len(text)):
        style = span.style if span.style in job.character_styles else None
        field = (
            span.field if span.field and not (span.field.kind == "copy" and span.field.ref not in job.copies) else None
        )
        if span.field and field is None:
            continue
        spans.append(replace(span, style=style, field=field))
    known = p.style in job.paragraph_styles
    spec, para = (p.type, p.para) if known else (None, None)
    return replace(
        p,
        id=texts.new_id("p"),
        text=text,
        spans=texts.tidy(spans),
        style=p.style if known else beside.style,
        type=spec,
        para=para,
    )


@dataclass(slots=True, frozen=True)
class MoveText:
    """Carry the text between two places to another place, or with ``copy`` leave it where it was as well."""

    story: str
    start: Place
    end: Place
    to_story: str
    to: Place
    copy: bool = False
    do: Literal["move-text"] = "move-text"

    @property
    def label(self) -> str:
        return "Copying words" if self.copy else "Moving words"

    def expand(self, job: Job) -> list[Primitive]:
        story, places = locate(job, self.story, self.start, self.end)
        start, end = sorted(places)
        target, (to,) = locate(job, self.to_story, self.to)
        taken = texts.between(story.paragraphs, start, end)
        fresh = [replace(p, id=texts.new_id("p")) for p in taken]
        put_in = self._put(target, to, fresh)
        if self.copy:
            return [put_in]
        if target is not story:
            return [put_in, self._take(story, start, end)]
        if start <= to <= end:
            raise EditError("The words are there already.")
        grown = list(story.paragraphs)
        grown[put_in.at : put_in.at + put_in.remove] = put_in.insert
        after = replace(story, paragraphs=grown)
        if to > end:  # what is in front of it keeps its place
            return [put_in, self._take(after, start, end)]
        shift = len(fresh) - 1

        def moved(spot: tuple[int, int]) -> tuple[int, int]:
            index, offset = spot
            if index == to[0]:
                offset += len(fresh[-1].text) - (0 if shift == 0 else to[1])
            return index + shift, offset

        return [put_in, self._take(after, moved(start), moved(end))]

    def _put(self, story: Story, to: tuple[int, int], new: list[Paragraph]) -> SpliceParagraphs:
        index, offset = to
        whole = story.paragraphs[index]
        made = texts.put_between(
            texts.piece(whole, 0, offset),
            new,
            replace(texts.piece(whole, offset, len(whole.text)), id=texts.new_id("p")),
        )
        return SpliceParagraphs(story.id, index, 1, tuple(made))

    def _take(self, story: Story, start: tuple[int, int], end: tuple[int, int]) -> SpliceParagraphs:
        (first, a), (last, b) = start, end
        head, tail = story.paragraphs[first], story.paragraphs[last]
        left = texts.joined(texts.piece(head, 0, a), texts.piece(tail, b, len(tail.text)))
        return SpliceParagraphs(story.id, first, last - first + 1, (left,))


@dataclass(slots=True, frozen=True)
class InsertField:
    """Put something that is kept elsewhere (standing copy, a date, a page number) where ``start``..``end`` was."""

    story: str
    start: Place
    end: Place
    field: Field
    do: Literal["insert-field"] = "insert-field"
    label = "Putting in standing copy"

    def expand(self, job: Job) -> list[Primitive]:
        if self.field.kind == "copy" and self.field.ref not in job.copies:
            raise EditError("That standing copy is no longer in the job.")
        story, places = locate(job, self.story, self.start, self.end)
        (first, start), (last, end) = sorted(places)
        head, tail = story.paragraphs[first], story.paragraphs[last]
        shown = Paragraph("", "", OBJECT, (Span(0, 1, field=self.field),))
        before = texts.joined(texts.piece(head, 0, start), shown)
        merged = texts.joined(before, texts.piece(tail, end, len(tail.text)))
        return [SpliceParagraphs(self.story, first, last - first + 1, (merged,))]


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


def check_specs(type_: TypeSpec | None, para: ParaSpec | None) -> None:
    """Raises EditError for values nothing can be set in."""
    if type_ and type_.size is not None and not 0.1 <= type_.size <= 5000:
        raise EditError("Type is between 0.1 and 5,000 pt.")
    if type_:
        for name in ("scale_x", "scale_y"):
            value = getattr(type_, name)
            if value is not None and not 0.05 <= value <= 20:
                raise EditError("Characters are set at 5 to 2,000 % of their width or height.")
        if type_.shift is not None and abs(type_.shift) > 5000:
            raise EditError("The baseline is shifted by 5,000 pt at most.")
        if type_.tint is not None and not 0 <= type_.tint <= 1:
            raise EditError("A tint is between 0 and 100 %.")
        for tag in type_.features or ():
            if not FEATURE.fullmatch(tag):
                raise EditError(f"“{tag}” is not an OpenType feature such as swsh or salt=2.")
    if type_ and type_.tracking is not None and not -500 <= type_.tracking <= 5000:
        raise EditError("Tracking is between -500 and 5,000 thousandths of an em.")
    if para and para.leading is not None and not (para.leading == 0 or 0.5 <= para.leading <= 6000):
        raise EditError("Leading is between 0.5 and 6,000 pt, or 0 for automatic.")
    if para:
        for name in ("indent_first", "indent_left", "indent_right", "space_before", "space_after"):
            value = getattr(para, name)
            if value is not None and not abs(value) <= 10_000:
                raise EditError("Indents and spaces are at most 10,000 pt.")
        if para.drop_lines is not None and not 0 <= para.drop_lines <= 40:
            raise EditError("A large initial is 2 to 40 lines high.")
        if para.drop_chars is not None and not 1 <= para.drop_chars <= 100:
            raise EditError("A large initial has 1 to 100 characters.")
        for name, most in (("letter_fit", 0.2), ("glyph_fit", 0.2)):
            value = getattr(para, name)
            if value is not None and not 0 <= value <= most:
                raise EditError("Letters may give a fifth of their room at most.")
        if para.looseness is not None and abs(para.looseness) > 9:
            raise EditError("A paragraph is made at most 9 lines longer or shorter.")
        if para.tabs is not None and (
            len(para.tabs) > 100 or any(t.at is not None and abs(t.at) > 10_000 for t in para.tabs)
        ):
            raise EditError("Tabs stand within 10,000 pt, 100 of them at most.")
        if para.tab_every is not None and not 1 <= para.tab_every <= 10_000:
            raise EditError("Tab stops are 1 to 10,000 pt apart.")
