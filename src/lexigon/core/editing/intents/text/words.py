"""Intents that change a story's words, their setting, and the styles they are set in."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from difflib import SequenceMatcher
from typing import Literal, Protocol

from lexigon.core.document import story_text
from lexigon.core.document.anchors import OBJECTS, anchors_in, with_own
from lexigon.core.document.cascade import Cascade
from lexigon.core.document.cell_stories import text_of
from lexigon.core.document.model import (
    OBJECT,
    Anchor,
    CharacterStyle,
    Job,
    NoteKind,
    Object,
    Paragraph,
    ParagraphStyle,
    ParaSpec,
    PictureFile,
    Span,
    Story,
    TextTable,
    TypeSpec,
    combined,
    without,
)
from lexigon.core.document.quotation_marks import typed_marks
from lexigon.core.editing.edits import EditError, Primitive, SpliceParagraphs, TableName, put
from lexigon.core.fileformat.values import check_specs
from lexigon.core.tables.cell_settings import setter

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
    story = text_of(job, story_id)
    if story is None:
        raise EditError("That story is no longer in the job.")
    paragraphs = story.paragraphs
    ids = {place.paragraph for place in places}
    indexes = {p.id: i for i, p in enumerate(paragraphs) if p.id in ids}
    result = []
    for place in places:
        if place.paragraph == FIRST:
            result.append((0, 0))
            continue
        if place.paragraph == LAST:
            result.append((len(paragraphs) - 1, len(paragraphs[-1].text)))
            continue
        index = indexes.get(place.paragraph)
        if index is None or not -1 <= place.offset <= len(paragraphs[index].text) + 1:
            raise EditError("That part of the story was changed in another window.")
        offset, length = place.offset, len(paragraphs[index].text)
        if offset < 0:
            index, offset = (index - 1, len(paragraphs[index - 1].text)) if index else (0, 0)
        elif offset > length:
            index, offset = (index + 1, 0) if index + 1 < len(paragraphs) else (index, length)
        result.append((index, offset))
    return story, result


@dataclass(slots=True, frozen=True)
class ReplaceText:
    """Replace ``start``..``end`` by ``text``. A newline in it begins a new paragraph.

    Where paragraphs are joined, the style of the first one with words left survives: a paragraph that is deleted
    completely loses its style, and a heading after it stays a heading.
    """

    story: str
    start: Place
    end: Place
    text: str = ""
    marks: bool = False
    """Straight quotation marks become those of the language, as they are typed."""
    ids: tuple[str, ...] = ()
    """The ids of the paragraphs that newlines in ``text`` begin, where the client names them: it can continue typing in
    them before it has an answer. Empty for ids assigned here."""
    do: Literal["replace-text"] = "replace-text"

    @property
    def label(self) -> str:
        return "Type" if self.text else "Delete text"

    def expand(self, job: Job) -> list[Primitive]:
        if len(self.text) > LARGEST_INSERT:
            raise EditError("This is more text than can be pasted at once. Import it as a manuscript.")
        story, places = locate(job, self.story, self.start, self.end)
        (first, start), (last, end) = sorted(places)
        head, tail = story.paragraphs[first], story.paragraphs[last]
        text = story_text.clean(self.text)
        if self.marks and ("'" in text or '"' in text):
            text = typed_marks(head.text[:start], text, Cascade(job).type_of(head).language)
        if (
            first == last and start == end and text and story_text.is_table(head)
        ):  # a table is alone in its paragraph: words go before or after it
            text = text if "\n" in text else f"{text}\n" if start == 0 else f"\n{text}"
        lines = text.split("\n")
        before = story_text.inserted(story_text.piece(head, 0, start), start, lines[0])
        after = story_text.piece(tail, end, len(tail.text))
        if len(lines) == 1 and first == last and start == end and not lines[0]:
            return []
        if len(lines) == 1 and first != last and not before.text and after.text:
            merged = [after]  # nothing is left of the paragraph before: what stays keeps its own style and place
        elif (
            len(lines) == 1
            and first != last
            and after.text
            and (story_text.is_table(before) or story_text.is_table(after))
        ):
            merged = [before, after]
        elif len(lines) == 1:
            merged = [story_text.joined(before, after)]
        else:
            style = head.style
            if start == len(head.text):
                # A new paragraph begun at the end of one takes the style that follows it.
                following = job.paragraph_styles.get(head.style)
                style = (following.next if following else None) or head.style
            paragraphs = [
                Paragraph(key, style, line)
                for key, line in zip(self._new_ids(story, len(lines) - 1), lines[1:], strict=True)
            ]
            if after.text or first != last:
                paragraphs[-1] = story_text.joined(
                    replace(paragraphs[-1], style=tail.style, para=tail.para, type=tail.type), after
                )
            if first == last and not before.text and after.text and not story_text.is_table(head):
                # What leads to a paragraph goes with its words, not with the empty one made before them.
                before, paragraphs[-1] = replace(before, id=paragraphs[-1].id), replace(paragraphs[-1], id=head.id)
            merged = [before, *paragraphs]
        return [SpliceParagraphs(self.story, first, last - first + 1, tuple(merged))]

    def _new_ids(self, story: Story, count: int) -> tuple[str, ...]:
        """Ids for ``count`` new paragraphs. Raises EditError if the client's do not fit."""
        if not self.ids:
            return tuple(story_text.new_id("p") for _ in range(count))
        used = {p.id for p in story.paragraphs}
        if len(self.ids) != count or len({*self.ids, *used}) != count + len(used):
            raise EditError("The new paragraphs have no separate ids. Nothing was changed.")
        return self.ids


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
        return "Copy words" if self.copy else "Move words"

    def expand(self, job: Job) -> list[Primitive]:
        story, places = locate(job, self.story, self.start, self.end)
        start, end = sorted(places)
        target, (to,) = locate(job, self.to_story, self.to)
        excerpt = story_text.between(story.paragraphs, start, end)
        fresh = [replace(p, id=story_text.new_id("p")) for p in excerpt]
        if any(anchors_in(fresh)) and target.kind != "text":
            raise EditError("The text contains notes or frames, which are not possible there.")
        if self.copy:
            copies = with_own(fresh, job.stories, job.inlays, job.tables)
            inside = [
                *(put("stories", one) for one in copies.stories),
                *(put("inlays", one) for one in copies.inlays),
                *(put("tables", one) for one in copies.tables),
            ]
            return [*inside, self._put(target, to, copies.paragraphs)]
        put_in = self._put(target, to, fresh)
        if target is not story:
            return [put_in, self._take(story, start, end)]
        if start <= to <= end:
            raise EditError("The text is already there.")
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
        paragraphs = story_text.put_between(
            story_text.piece(whole, 0, offset),
            new,
            replace(story_text.piece(whole, offset, len(whole.text)), id=story_text.new_id("p")),
        )
        return SpliceParagraphs(story.id, index, 1, tuple(paragraphs))

    def _take(self, story: Story, start: tuple[int, int], end: tuple[int, int]) -> SpliceParagraphs:
        (first, a), (last, b) = start, end
        head, tail = story.paragraphs[first], story.paragraphs[last]
        left = story_text.joined(story_text.piece(head, 0, a), story_text.piece(tail, b, len(tail.text)))
        return SpliceParagraphs(story.id, first, last - first + 1, (left,))


@dataclass(slots=True, frozen=True)
class InsertField:
    """Replace ``start``..``end`` by an object that is stored elsewhere and written out (standing copy, a date, a page
    number)."""

    story: str
    start: Place
    end: Place
    field: Anchor
    do: Literal["insert-field"] = "insert-field"
    label = "Insert field"

    def expand(self, job: Job) -> list[Primitive]:
        if self.field.kind == "copy" and self.field.ref not in job.copies:
            raise EditError("That standing copy is no longer in the job.")
        if self.field.kind in OBJECTS:
            raise EditError("Notes, frames and tables are inserted one by one.")
        return [anchored_at(job, self.story, self.start, self.end, Span(0, 1, object=self.field))]


def anchored_at(job: Job, story_id: str, start: Place, end: Place, span: Span) -> SpliceParagraphs:
    """Return the edit that replaces ``start``..``end`` by an object; ``span`` is its span, of one character."""
    story, places = locate(job, story_id, start, end)
    (first, begin), (last, stop) = sorted(places)
    head, tail = story.paragraphs[first], story.paragraphs[last]
    before = story_text.joined(story_text.piece(head, 0, begin), Paragraph("", "", OBJECT, (span,)))
    merged = story_text.joined(before, story_text.piece(tail, stop, len(tail.text)))
    return SpliceParagraphs(story_id, first, last - first + 1, (merged,))


@dataclass(slots=True, frozen=True)
class SetParagraphs:
    """Style and local settings of every paragraph from ``first`` through ``last``. What is set as the style has it
    anyway is no local setting."""

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
        return "Apply style" if self.style else "Clear local formatting" if self.clear else "Format paragraphs"

    def expand(self, job: Job) -> list[Primitive]:
        if self.style is not None and self.style not in job.paragraph_styles:
            raise EditError("That style is no longer in the job.")
        check_specs(self.type, self.para)
        story, places = locate(job, self.story, Place(self.first, 0), Place(self.last, 0))
        first, last = sorted(index for index, _ in places)
        cascade = Cascade(job)
        under = setter(job, self.story)
        paragraphs = tuple(set_so(p, cascade, self, under) for p in story.paragraphs[first : last + 1])
        return [SpliceParagraphs(self.story, first, last - first + 1, paragraphs)]


class Setting(Protocol):
    """Formatting of paragraphs: ``None`` leaves a value unchanged."""

    @property
    def style(self) -> str | None: ...
    @property
    def para(self) -> ParaSpec | None: ...
    @property
    def type(self) -> TypeSpec | None: ...
    @property
    def clear(self) -> bool: ...


def set_so(p: Paragraph, cascade: Cascade, setting_: Setting, under: Callable[[Paragraph], Paragraph]) -> Paragraph:
    """A paragraph with a style and local settings. What is set as the style has it anyway, or as ``under`` sets its
    text, is no local setting."""
    if setting_.style or setting_.clear:
        p = replace(p, style=setting_.style or p.style, para=None, type=None)
    own_type, own_para = cascade.beneath(under(replace(p, para=None, type=None)))
    para = without(combined(p.para or ParaSpec(), setting_.para), setting_.para, own_para)
    type_ = without(combined(p.type or TypeSpec(), setting_.type), setting_.type, own_type)
    return replace(p, para=None if para == ParaSpec() else para, type=None if type_ == TypeSpec() else type_)


@dataclass(slots=True, frozen=True)
class FormatText:
    """Character settings of a stretch of text; ``style`` "" clears them all."""

    story: str
    start: Place
    end: Place
    type: TypeSpec | None = None
    style: str | None = None
    do: Literal["format-text"] = "format-text"
    label = "Format characters"

    def expand(self, job: Job) -> list[Primitive]:
        check_specs(self.type)
        if self.style and self.style not in job.character_styles:
            raise EditError("That style is no longer in the job.")
        story, places = locate(job, self.story, self.start, self.end)
        (first, begin), (last, finish) = sorted(places)
        cascade, paragraphs = Cascade(job), []
        for index in range(first, last + 1):
            p = story.paragraphs[index]
            start = begin if index == first else 0
            end = finish if index == last else len(p.text)
            paragraphs.append(self._spanned(cascade, p, start, end) if start < end else p)
        return [SpliceParagraphs(self.story, first, last - first + 1, tuple(paragraphs))]

    def _spanned(self, cascade: Cascade, p: Paragraph, start: int, end: int) -> Paragraph:
        """Return what is set as it would be anyway leaves no span."""
        p = story_text.respanned(p, start, end, self.type, self.style)
        spans = []
        for span in p.spans:
            if span.type and start < span.end and span.start < end:
                bare = combined(cascade.style(p.style)[0], p.type)
                span = replace(
                    span, type=without(span.type, self.type, combined(bare, cascade.character_spec(span.style)))
                )
            spans.append(span)
        return replace(p, spans=story_text.tidy(spans))


@dataclass(slots=True, frozen=True)
class MoveParagraphs:
    """Whole paragraphs, from ``first`` through ``last``, put before another (``before``), or at the end of their
    text."""

    story: str
    first: str
    last: str
    before: str | None = None
    do: Literal["move-paragraphs"] = "move-paragraphs"
    label = "Move paragraphs"

    def expand(self, job: Job) -> list[Primitive]:
        story, places = locate(job, self.story, Place(self.first, 0), Place(self.last, 0))
        first, last = sorted(index for index, _ in places)
        if self.before is None:
            to = len(story.paragraphs)
        else:
            _, ((to, _),) = locate(job, self.story, Place(self.before, 0))
        if first <= to <= last + 1:
            return []
        moved, count = tuple(story.paragraphs[first : last + 1]), last - first + 1
        out, into = (
            SpliceParagraphs(self.story, first, count),
            SpliceParagraphs(self.story, to - count if to > last else to, 0, moved),
        )
        if count == len(story.paragraphs):
            return []
        return [out, into]


def _splices(story: Story, paragraphs: tuple[Paragraph, ...]) -> Iterator[SpliceParagraphs]:
    """The edits that make other paragraphs of a story's, from the end on; those that stay as they are are left
    alone."""
    own = {p.id: p for p in story.paragraphs}
    before = [p.id for p in story.paragraphs]
    after = [p.id if own.get(p.id) == p else f"{p.id} made another" for p in paragraphs]
    for what, a, b, c, d in reversed(SequenceMatcher(None, before, after, autojunk=False).get_opcodes()):
        if what != "equal":
            yield SpliceParagraphs(story.id, a, b - a, paragraphs[c:d])


@dataclass(slots=True, frozen=True)
class PourText:
    """Replace a whole story by paragraphs, as from a manuscript; its own paragraphs among them stay."""

    story: str
    paragraphs: tuple[Paragraph, ...]
    styles: tuple[ParagraphStyle | CharacterStyle, ...] = ()
    notes: tuple[Story, ...] = ()
    """The notes that the paragraphs cite."""
    inlays: tuple[Object, ...] = ()
    """Their anchored frames, and the pictures that these show."""
    pictures: tuple[PictureFile, ...] = ()
    tables: tuple[TextTable, ...] = ()
    kinds: tuple[NoteKind, ...] = ()
    """Kinds of notes that the job has not."""
    do: Literal["pour-text"] = "pour-text"

    @property
    def label(self) -> str:
        return "Import manuscript" if self.paragraphs else "Empty story"

    def expand(self, job: Job) -> list[Primitive]:
        story = job.stories.get(self.story)
        if story is None:
            raise EditError("That story is no longer in the job.")
        new: list[Primitive] = []
        for style in self.styles:
            table: TableName = "paragraph_styles" if isinstance(style, ParagraphStyle) else "character_styles"
            if style.id not in getattr(job, table):
                new.append(put(table, style))
        styles = {*job.paragraph_styles, *(style.id for style in self.styles)}
        new += [put("pictures", one) for one in self.pictures if one.id not in job.pictures]
        new += [put("inlays", one) for one in self.inlays] + [put("tables", one) for one in self.tables]
        new += [put("note_kinds", one) for one in self.kinds if one.id not in job.note_kinds]
        for note in self.notes:
            own = [p if p.style in styles else replace(p, style=job.body) for p in note.paragraphs]
            new.append(put("stories", replace(note, paragraphs=own)))
        paragraphs = tuple(p if p.style in styles else replace(p, style=job.body) for p in self.paragraphs)
        paragraphs = paragraphs or (Paragraph(story_text.new_id("p"), job.body),)
        return [*new, *_splices(story, paragraphs)]
