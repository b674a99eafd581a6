"""A record applied to a job as edits: what fields set is set as if it had been typed and selected by hand.

Composing, checking and printing know nothing of records. What cannot be set is a problem, in plain words; it leaves
the object as it is in the job, but for pictures and codes, which are left out.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from difflib import get_close_matches
from typing import Any, Literal

from lexigon.core.document import story_text
from lexigon.core.document.article_numbers import normal
from lexigon.core.document.cell_stories import cell_key
from lexigon.core.document.model import (
    PLAIN_SWATCH,
    TEXT_PROPERTIES,
    FieldBinding,
    Fill,
    Job,
    Object,
    Page,
    PageBinding,
    PageProperty,
    Paragraph,
    Property,
    RecordAdjustment,
    Section,
    Span,
    Story,
    Stroke,
    TypeSpec,
    all_in,
    exchanged,
    find_object,
    frames_in,
)
from lexigon.core.editing.edits import Primitive, SetPage, SpliceParagraphs, object_edits, objects_of, same_ends
from lexigon.core.editing.holders import everywhere
from lexigon.core.editing.intents.objects.frames import without_frames
from lexigon.core.editing.intents.pictures.placing import framed_anew
from lexigon.core.errors import LexigonError
from lexigon.core.lengths import parse
from lexigon.core.merge.expressions import number_of
from lexigon.core.merge.files import PICTURES, FileMatch, FileNames
from lexigon.core.merge.model import RecordError
from lexigon.core.merge.templates import Template, read_template
from lexigon.core.paint.codes import fitted

ProblemKind = Literal["missing field", "missing picture", "near picture", "empty", "unknown", "value", "code"]
Record = Mapping[str, str]
NO = {"", "0", "no", "n", "false", "off", "nein", "non", "nee", "nej"}
"""Values of a field that hide an object or leave out a page; any other shows it."""
_LINES = re.compile(f"[^{story_text.LINE_BREAK}]*{story_text.LINE_BREAK}?")
LEAST_SIDE = 4.0
"""Points: the least width and height of an object."""


@dataclass(slots=True, frozen=True)
class Problem:
    """Something that a record sets and that is wrong: what, on which object, and the values that are suggested."""

    kind: str
    """A kind of problem, or that of a finding of the checks."""
    text: str
    object: str = ""
    field: str = ""
    """The field whose value is to be corrected, where there is one alone."""
    value: str = ""
    suggestions: tuple[str, ...] = ()


@dataclass(slots=True)
class Applied:
    """The edits that apply a record to the job of a plan, and what is wrong with it. ``left_out`` are the ids of the
    pages that the record does not use."""

    edits: list[Primitive] = field(default_factory=list)
    problems: list[Problem] = field(default_factory=list)
    left_out: set[str] = field(default_factory=set)


@dataclass(slots=True, frozen=True)
class _BoundObject:
    """An object with its bindings and their templates."""

    object: Object
    bindings: tuple[tuple[FieldBinding, Template], ...]
    story: str | None
    """The story it shows, where bindings set its text."""


def is_bound(job: Job) -> bool:
    """Return whether anything in a job is set by records."""
    return next(bound_fields(job), None) is not None


def bound_fields(job: Job) -> Iterator[tuple[str, str]]:
    """Iterate over the fields that a job uses, by name, each with where: the id of a story, an object or a page."""
    for story in all_texts(job):
        for anchor in record_fields(story.paragraphs):
            yield anchor, story.id
    for page in job.pages:
        for page_binding in page.bindings:
            yield from ((name, page.id) for name in _fields_of(page_binding))
    for _, objects in everywhere(job):
        for one in all_in(objects):
            for binding in one.bindings:
                yield from ((name, one.id) for name in _fields_of(binding))


def _fields_of(binding: FieldBinding | PageBinding) -> tuple[str, ...]:
    try:
        return read_template(binding.value).fields
    except RecordError:
        return ()


def all_texts(job: Job) -> Iterator[Story]:
    """Iterate over the stories of a job, and the cells of its tables as stories."""
    yield from job.stories.values()
    for table in job.tables.values():
        for row, cells in enumerate(table.rows):
            for number, cell in enumerate(cells):
                if cell.paragraphs:
                    yield Story(cell_key(table.id, row, number), "Cell", list(cell.paragraphs))


def record_fields(paragraphs: Iterable[Paragraph]) -> Iterator[str]:
    """Iterate over the names of the record fields in paragraphs."""
    for paragraph in paragraphs:
        for span in paragraph.spans:
            if span.object is not None and span.object.kind == "record":
                yield span.object.ref


class MergePlan:
    """Where fields are used in a job, found once for all records. The job must be as it was when edits are applied."""

    def __init__(
        self, job: Job, fields: Sequence[str], families: Iterable[str] = (), other_files: Iterable[str] = ()
    ) -> None:
        """``fields`` are those of the records, ``families`` the fonts that there are. ``other_files`` are names of
        pictures that are not in the job: they are suggested."""
        self.job = job
        self.fields = {name.casefold(): name for name in fields}
        self.families = {name.casefold(): name for name in families}
        self.problems: list[Problem] = []
        """What is wrong with bindings, whatever the record."""
        self.files = FileNames({*(file.name for file in job.pictures.values()), *other_files})
        self.pictures = {file.name: file for file in job.pictures.values()}
        self.swatches = _by_name(job.swatches)
        self.paragraph_styles = _by_name(job.paragraph_styles)
        self.character_styles = _by_name(job.character_styles)
        self.masters = _by_name(job.masters)
        self.ink_sets = _by_name(job.ink_sets)
        self.used = {name.casefold() for name, _ in bound_fields(job)}
        """The fields that the job uses, in small letters."""
        self.texts = {story.id: tuple(story.paragraphs) for story in all_texts(job)}
        """The text of each story as it is in the job, whatever record is shown."""
        self.stories = [key for key, paragraphs in self.texts.items() if any(record_fields(paragraphs))]
        self.places = {one.id: holder for holder, objects in everywhere(job) for one in all_in(objects)}
        self.holders = [
            (holder, objects, bound)
            for holder, objects in everywhere(job)
            if (bound := [self._bound(one) for one in all_in(objects) if one.bindings])
        ]
        self.pages = [
            (page, [(one, template) for one in page.bindings if (template := self._template(one.value, page.id))])
            for page in job.pages
            if page.bindings
        ]
        for story in self.stories:
            for name in dict.fromkeys(record_fields(self.texts[story])):
                if name.casefold() not in self.fields:
                    self._missing(name, story)

    def _bound(self, one: Object) -> _BoundObject:
        pairs = [(binding, template) for binding in one.bindings if (template := self._template(binding.value, one.id))]
        return _BoundObject(one, tuple(pairs), self.job.main_story if one.main else one.story)

    def _template(self, value: str, place: str) -> Template | None:
        try:
            template = read_template(value)
        except RecordError as error:
            self.problems.append(Problem("value", str(error), place))
            return None
        for name in template.fields:
            if name.casefold() not in self.fields:
                self._missing(name, place)
        return Template(tuple((self.fields.get(t.casefold(), t), True) if f else (t, False) for t, f in template.parts))

    def _missing(self, name: str, place: str) -> None:
        words = f"The records have no field “{name}”. Bind this place to another field, or import records that have it."
        self.problems.append(Problem("missing field", words, place, name))

    def value(self, record: Record, name: str) -> str:
        """Return the value of a field of a record, named in any case."""
        return record.get(self.fields.get(name.casefold(), name), "")

    def apply(self, record: Record, adjustments: Iterable[RecordAdjustment] = ()) -> Applied:
        """Return the edits that apply a record, with the ``adjustments`` made for it."""
        applied = Applied()
        texts = {story: self._paragraphs(self.texts[story], record) for story in self.stories}
        changed: dict[str, dict[str, Object | None]] = {}
        for holder, _, bound in self.holders:
            for one in bound:
                new = self._object(one, record, applied, texts)
                if new is not one.object:
                    changed.setdefault(holder, {})[one.object.id] = new
        self._adjust(adjustments, changed, texts)
        hidden: list[Object] = []
        for holder, changes in changed.items():
            objects = objects_of(self.job, holder)
            hidden += [gone for key, new in changes.items() if new is None and (gone := find_object(objects, key))]
            new_objects = exchanged(objects, {key: (new,) if new else () for key, new in changes.items()})
            applied.edits += object_edits(holder, objects, new_objects)
        for key, paragraphs in texts.items():
            applied.edits += self._text_edits(key, paragraphs)
        for page, bindings in self.pages:
            self._page(page, bindings, record, applied)
        applied.edits += without_frames(self.job, frames_in(tuple(hidden)))
        return applied

    # Text

    def _paragraphs(self, paragraphs: Sequence[Paragraph], record: Record) -> list[Paragraph]:
        new = [self._paragraph(one, record) for one in paragraphs]
        left = [one for one in new if one is not None]
        return left or [replace(paragraphs[0], text="", spans=())]

    def _paragraph(self, paragraph: Paragraph, record: Record) -> Paragraph | None:
        """Return a paragraph with the values of a record for its fields; None if it has nothing left to show."""
        if not any(record_fields((paragraph,))):
            return paragraph
        pieces = [match.span() for match in _LINES.finditer(paragraph.text) if match[0]]
        lines = [story_text.piece(paragraph, start, end) for start, end in pieces]
        left = [line for line in lines if not self._is_empty_line(line, record)]
        if not left:
            return None
        if left[-1] is not lines[-1]:  # the break before the last line went with it
            left[-1] = story_text.piece(left[-1], 0, len(left[-1].text.rstrip(story_text.LINE_BREAK)))
        whole = left[0]
        for line in left[1:]:
            whole = story_text.joined(whole, line)
        return story_text.resolved(whole, lambda span: self._words(span, record))

    def _is_empty_line(self, line: Paragraph, record: Record) -> bool:
        """Return whether all fields of a line are empty, and one says that it is left out then."""
        anchors = [span.object for span in line.spans if span.object is not None and span.object.kind == "record"]
        removable = any(anchor.form == "line" for anchor in anchors)
        return removable and not any(self.value(record, anchor.ref).strip() for anchor in anchors)

    def _words(self, span: Span, record: Record) -> str | None:
        if span.object is None or span.object.kind != "record":
            return None
        return story_text.clean(self.value(record, span.object.ref)).replace("\n", story_text.LINE_BREAK)

    def _text_edits(self, key: str, new: list[Paragraph]) -> list[Primitive]:
        old = self.texts[key]
        first, tail = same_ends(old, new)
        removed, inserted = len(old) - first - tail, tuple(new[first : len(new) - tail])
        return [SpliceParagraphs(key, first, removed, inserted)] if removed or inserted else []

    # Objects

    def _object(
        self, one: _BoundObject, record: Record, applied: Applied, texts: dict[str, list[Paragraph]]
    ) -> Object | None:
        """Return an object as a record sets it, None if it is not shown; its text is changed in ``texts``."""
        new = one.object
        for binding, template in one.bindings:
            if any(name not in record for name in template.fields):
                new = _emptied(new, binding.property)  # the plan reports the missing field
                continue
            value = template.of(record).strip()
            named = template.fields[0] if len(template.fields) == 1 and len(template.parts) == 1 else ""
            if binding.property == "visible":
                if value.casefold() in NO:
                    return None
                continue
            try:
                if binding.property in TEXT_PROPERTIES:
                    if one.story is not None and value:
                        self._format(one.story, binding.property, value, texts)
                else:
                    new = SETTERS[binding.property](self, new, value)
            except _Unfit as unfit:
                applied.problems.append(replace(unfit.problem, object=new.id, field=named, value=value))
                new = _emptied(new, binding.property)
            except LexigonError as error:
                kind: ProblemKind = "code" if binding.property == "code" else "value"
                applied.problems.append(Problem(kind, f"{WORDS[binding.property]}: {error}", new.id, named, value))
                new = _emptied(new, binding.property)
        return new

    def _picture(self, one: Object, value: str) -> Object:
        match = self._file(value)
        if match.state == "empty":
            raise _Unfit(Problem("empty", "There is no picture: the field is empty."))
        if match.state != "found" or match.files[0] not in self.pictures:
            quoted = " or ".join(f"“{name}”" for name in match.files)
            words = f"The picture “{value}” is not in the job." + (f" Is it {quoted}?" if quoted else " Import it.")
            raise _Unfit(Problem("near picture" if quoted else "missing picture", words, suggestions=match.files))
        file = self.pictures[match.files[0]]
        if one.picture is not None:
            framing = replace(one.picture, picture=file.id)
            former = self.job.pictures.get(one.picture.picture)
            if former is not None and one.picture.focus == framed_anew(former).focus:
                framing = replace(framing, focus=framed_anew(file).focus)  # it was not set by hand
        else:
            framing = framed_anew(file)
        return replace(one, content=framing, alt=file.alt or one.alt)

    def _file(self, value: str) -> FileMatch:
        """Return the picture that a value names. Pictures of the job have neither a folder nor an extension in their
        names."""
        name = value.replace("\\", "/")
        stem = name.rpartition("/")[2]
        stem = stem[: stem.rfind(".")] if stem.casefold().endswith(PICTURES) else stem
        for form in (name, name.rpartition("/")[2], stem):
            if (match := self.files.match(form)).state == "found" and match.files[0] in self.pictures:
                return match
        return self.files.match(name)

    def _code(self, one: Object, value: str) -> Object:
        if one.code is None:
            raise LexigonError("This object shows no code.")
        if not value:
            raise _Unfit(Problem("empty", "There is no code: the field is empty."))
        code = replace(one.code, text=normal(one.code.form, value))
        if one.rect is not None:
            fitted(code, one.rect)
        return replace(one, content=code)

    def _fill(self, one: Object, value: str) -> Object:
        own = one.make.fill or Fill(PLAIN_SWATCH)
        return one.with_spec(fill=replace(own, swatch=self._named("swatch", self.swatches, value))) if value else one

    def _tint(self, one: Object, value: str) -> Object:
        if not value:
            return one
        percent = number_of(value)
        if percent is None or not 0 <= percent <= 100:
            raise LexigonError(f"“{value}” is not a percentage from 0 to 100.")
        return one.with_spec(fill=replace(one.make.fill or Fill(PLAIN_SWATCH), tint=float(percent) / 100))

    def _stroke(self, one: Object, value: str) -> Object:
        if not value:
            return one
        own = one.make.stroke or Stroke()
        return one.with_spec(stroke=replace(own, swatch=self._named("swatch", self.swatches, value)))

    def _place(self, one: Object, value: str, name: Literal["x", "y", "width", "height"]) -> Object:
        if not value:
            return one
        if one.place is None:
            raise LexigonError("The position of this object follows the margins and cannot be set.")
        least = LEAST_SIDE if name in ("width", "height") else None
        length = parse(value, self.job.brief.unit, minimum=least)
        return one.at(replace(one.place.rect, **{name: length}))

    def _rotation(self, one: Object, value: str) -> Object:
        degrees = number_of(value.removesuffix("°"))
        if not value:
            return one
        if one.place is None or degrees is None:
            raise LexigonError(f"“{value}” is not a number of degrees.")
        return replace(one, place=replace(one.place, rotation=float(degrees) % 360))

    def _named(self, what: str, names: Mapping[str, str], value: str) -> str:
        """Return the id of an entry by its name or id in any case."""
        if (key := names.get(value.casefold())) is None:
            near = tuple(get_close_matches(value.casefold(), names, 1, 0.7))
            words = f"There is no {what} “{value}” in this job."
            raise _Unfit(Problem("unknown", words + (f" Is it “{near[0]}”?" if near else ""), suggestions=near))
        return key

    def _format(self, story: str, name: str, value: str, texts: dict[str, list[Paragraph]]) -> None:
        """Format all text of a story."""
        paragraphs = texts.get(story) or list(self.texts[story])
        style: str | None = None
        type_: TypeSpec | None = None
        match name:
            case "paragraph style":
                key = self._named("paragraph style", self.paragraph_styles, value)
                texts[story] = [replace(one, style=key) for one in paragraphs]
                return
            case "character style":
                style = self._named("character style", self.character_styles, value)
            case "text colour":
                type_ = TypeSpec(swatch=self._named("swatch", self.swatches, value))
            case "font":
                type_ = TypeSpec(family=self._named("font", self.families, value))
            case "size":
                type_ = TypeSpec(size=parse(value, "pt", minimum=0.5, maximum=2000))
            case _:
                type_ = TypeSpec(language=value)
        texts[story] = [story_text.respanned(one, 0, len(one.text), type_, style) for one in paragraphs]

    # Pages and adjustments

    def _page(
        self, page: Page, bindings: Sequence[tuple[PageBinding, Template]], record: Record, applied: Applied
    ) -> None:
        new = replace(page, objects=())
        for binding, template in bindings:
            value = template.of(record).strip()
            try:
                if binding.property == "used":
                    if value.casefold() in NO:
                        applied.left_out.add(page.id)
                elif value and binding.property == "master page":
                    new = replace(new, master=self._named("master page", self.masters, value))
                elif value:
                    key = self._named("ink set", self.ink_sets, value)
                    new = replace(new, section=replace(new.section or Section(), ink_set=key))
            except _Unfit as unfit:
                applied.problems.append(replace(unfit.problem, object=page.id, value=value))
        if new != replace(page, objects=()):
            applied.edits.append(SetPage(new))

    def _adjust(
        self,
        adjustments: Iterable[RecordAdjustment],
        changed: dict[str, dict[str, Object | None]],
        texts: dict[str, list[Paragraph]],
    ) -> None:
        for one in adjustments:
            holder = self.places.get(one.object)
            if holder is None:
                continue  # the object was deleted after it was adjusted
            changes = changed.setdefault(holder, {})
            new = changes.get(one.object, find_object(objects_of(self.job, holder), one.object))
            if new is None:
                continue  # hidden for this record
            if one.move is not None and new.place is not None:
                new = replace(new, place=replace(new.place, rect=new.place.rect.moved(*one.move)))
            if one.picture is not None and new.picture is not None:
                new = replace(new, content=replace(one.picture, picture=new.picture.picture))
            changes[one.object] = new
            if one.text is not None and new.story in self.texts:
                texts[new.story] = _retyped(texts.get(new.story) or self.texts[new.story], one.text)


def _retyped(paragraphs: Sequence[Paragraph], texts: Sequence[str]) -> list[Paragraph]:
    """Return paragraphs with other words; each keeps the formatting of the one at its place, or of the last."""
    new = []
    for number, text in enumerate(texts):
        like = paragraphs[min(number, len(paragraphs) - 1)]
        own = story_text.reworded(like, story_text.clean(text).replace("\n", story_text.LINE_BREAK))
        new.append(own if number < len(paragraphs) else replace(own, id=f"{like.id[:18]}.{number}"))
    return new


def unbound(one: Object) -> Object:
    """Return an object that no records set anything of, nor of those in it."""
    own = replace(one, bindings=(), repeat=None)
    return own.holding(tuple(map(unbound, one.group.objects))) if one.group is not None else own


def _emptied(one: Object, name: Property) -> Object:
    """Return an object without the picture or code of another record: better none than the wrong one."""
    return replace(one, content=None) if name in ("picture", "code") and one.text is None else one


class _Unfit(Exception):
    """A value that cannot be set; the problem is completed with where that is."""

    def __init__(self, problem: Problem) -> None:
        self.problem = problem


def _by_name(table: Mapping[str, Any]) -> dict[str, str]:
    """Return the ids of the entries of a table by their names, and by the ids themselves, in small letters."""
    ids = {key.casefold(): key for key in table}
    return ids | {entry.name.casefold(): key for key, entry in table.items()}


Setter = Callable[[MergePlan, Object, str], Object]
SETTERS: dict[str, Setter] = {
    "picture": MergePlan._picture,
    "code": MergePlan._code,
    "fill": MergePlan._fill,
    "tint": MergePlan._tint,
    "stroke": MergePlan._stroke,
    "x": lambda plan, one, value: plan._place(one, value, "x"),
    "y": lambda plan, one, value: plan._place(one, value, "y"),
    "width": lambda plan, one, value: plan._place(one, value, "width"),
    "height": lambda plan, one, value: plan._place(one, value, "height"),
    "rotation": MergePlan._rotation,
}
"""The functions that set properties. ``_format`` sets those of text."""
WORDS: dict[Property, str] = {
    "picture": "Picture",
    "code": "Code",
    "fill": "Fill",
    "tint": "Tint of the fill",
    "stroke": "Stroke",
    "visible": "Visible",
    "x": "X",
    "y": "Y",
    "width": "Width",
    "height": "Height",
    "rotation": "Rotation",
    "paragraph style": "Paragraph style",
    "character style": "Character style",
    "text colour": "Text colour",
    "font": "Font",
    "size": "Type size",
    "language": "Language",
}
"""What people read for each property."""
PAGE_WORDS: dict[PageProperty, str] = {"used": "Page is used", "master page": "Master page", "ink set": "Ink set"}
