"""Intents about styles: add, change, redefine from local formatting, delete, import from another job."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, fields, replace
from typing import Any, Literal, TypeVar

from lexigon.core.document import story_text
from lexigon.core.document.cascade import Cascade, frame_spec, stroke_of
from lexigon.core.document.model import (
    Cell,
    CharacterStyle,
    FrameSpec,
    FrameStyle,
    Job,
    Object,
    OwnFont,
    Paragraph,
    ParagraphStyle,
    ParaSpec,
    RuleStyle,
    Stroke,
    TypeSpec,
    combined,
    frames_in,
)
from lexigon.core.document.model.tables import SIDES_OF_CELL
from lexigon.core.editing.edits import EditError, Primitive, SpliceParagraphs, put
from lexigon.core.editing.edits import PutEntry as Put
from lexigon.core.editing.holders import everywhere
from lexigon.core.editing.intents.objects.sweeping import over_frames, over_paragraphs
from lexigon.core.editing.intents.styles.fonts import AddFont
from lexigon.core.editing.intents.text.words import Place, locate
from lexigon.core.fileformat.values import check_specs

Kind = Literal["paragraph", "character", "frame", "rule"]
TABLES: dict[str, str] = {
    "paragraph": "paragraph_styles",
    "character": "character_styles",
    "frame": "frame_styles",
    "rule": "rule_styles",
}
Para = TypeVar("Para", ParaSpec, ParaSpec | None)
AnyStyle = ParagraphStyle | CharacterStyle | FrameStyle | RuleStyle


def styles_of(job: Job, kind: str) -> dict[str, Any]:
    if kind not in TABLES:
        raise EditError(f"Kinds of style: {', '.join(TABLES)}.")
    table: dict[str, Any] = getattr(job, TABLES[kind])
    return table


def check_chain(table: dict[str, Any], style: AnyStyle) -> None:
    """Raises EditError where a style would be based on itself."""
    at, visited = style.based_on, {style.id}
    while at:
        if at in visited:
            raise EditError("A style cannot be based on itself, directly or through other styles.")
        visited.add(at)
        at = table[at].based_on if at in table else None


@dataclass(slots=True, frozen=True)
class PutStyle:
    """Add a style (without ``id``), or change one: ``None`` leaves a value unchanged. ``replace`` replaces its specs,
    ``unset`` names values that it takes from the style that it is based on from now on."""

    kind: Kind
    id: str | None = None
    name: str | None = None
    based_on: str | None = None
    """"" for none."""
    next: str | None = None
    level: int | None = None
    type: TypeSpec | None = None
    para: ParaSpec | None = None
    frame: FrameSpec | None = None
    stroke: Stroke | None = None
    replace: bool = False
    unset: tuple[str, ...] = ()
    do: Literal["put-style"] = "put-style"

    @property
    def label(self) -> str:
        return "Change style" if self.id else "Add style"

    def expand(self, job: Job) -> list[Primitive]:
        table = styles_of(job, self.kind)
        check_specs(self.type, self.para, self.frame, self.stroke)
        if self.id is None:
            if not (self.name or "").strip():
                raise EditError("Type a name for the style.")
            types: dict[str, type[Any]] = {
                "paragraph": ParagraphStyle,
                "character": CharacterStyle,
                "frame": FrameStyle,
                "rule": RuleStyle,
            }
            style = types[self.kind](story_text.new_id("y"), "")
        elif self.id in table:
            style = table[self.id]
        else:
            raise EditError("That style is no longer in the job.")
        changes: dict[str, Any] = {}
        if self.name is not None:
            name = " ".join(self.name.split())
            if not name or len(name) > 80:
                raise EditError("A style's name has 1 to 80 characters.")
            if any(other.name.casefold() == name.casefold() and other.id != style.id for other in table.values()):
                raise EditError(f"There is a style named “{name}” already.")
            changes["name"] = name
        for field in ("based_on", "next"):
            value = getattr(self, field)
            if value is not None and hasattr(style, field):
                if value and value not in table:
                    raise EditError("That style is no longer in the job.")
                changes[field] = value or None
        if self.level is not None and isinstance(style, ParagraphStyle):
            changes["level"] = min(max(self.level, 0), 9)
        for field in ("type", "para", "frame", "stroke"):
            value, was = getattr(self, field), getattr(style, field, None)
            if was is None:
                continue
            gone = dict.fromkeys(name for name in self.unset if hasattr(was, name))
            if value is not None or gone:
                own = (value if self.replace else combined(was, value)) if value is not None else was
                changes[field] = replace(own, **gone)
        changed = replace(style, **changes)
        check_chain(table, changed)
        return [put(TABLES[self.kind], changed)]


@dataclass(slots=True, frozen=True)
class RedefineStyle:
    """Make a style what a paragraph (or with ``character`` the words at a place) is set in; what was set by hand there
    becomes the style's own. ``name`` makes a new style of it instead, based on the old one."""

    story: str
    at: Place
    character: bool = False
    name: str | None = None
    do: Literal["redefine-style"] = "redefine-style"
    label = "Update style"

    def expand(self, job: Job) -> list[Primitive]:
        story, ((index, offset),) = locate(job, self.story, self.at)
        paragraph = story.paragraphs[index]
        if self.character:
            return self._character(job, index, paragraph, offset)
        old = job.paragraph_styles.get(paragraph.style)
        if old is None:
            raise EditError("That style is no longer in the job.")
        if paragraph.type is None and paragraph.para is None and self.name is None:
            raise EditError("There is no local formatting here, so the style does not change.")
        style = replace(old, type=combined(old.type, paragraph.type), para=combined(old.para, paragraph.para))
        if self.name is not None:
            fresh = PutStyle("paragraph", None, self.name, old.id, type=paragraph.type, para=paragraph.para).expand(job)
            (entry,) = fresh
            assert isinstance(entry, Put)
            assert entry.value is not None
            bare = replace(paragraph, style=entry.key, type=None, para=None)
            return [*fresh, SpliceParagraphs(self.story, index, 1, (bare,))]
        bare = replace(paragraph, type=None, para=None)
        return [put("paragraph_styles", style), SpliceParagraphs(self.story, index, 1, (bare,))]

    def _character(self, job: Job, index: int, paragraph: Paragraph, offset: int) -> list[Primitive]:
        span = next((s for s in paragraph.spans if s.start <= offset < s.end), None) or next(
            (s for s in paragraph.spans if s.end == offset), None
        )
        if span is None or span.type is None:
            raise EditError("These words have no local formatting.")
        old = job.character_styles.get(span.style or "")
        if self.name is not None:
            edits = PutStyle("character", None, self.name, span.style or "", type=span.type).expand(job)
            (entry,) = edits
            assert isinstance(entry, Put)
            key = entry.key
        elif old is None:
            raise EditError("These words have no character style. Type a name for a new one.")
        else:
            edits, key = [put("character_styles", replace(old, type=combined(old.type, span.type)))], old.id
        spans = story_text.tidy(replace(s, style=key, type=None) if s is span else s for s in paragraph.spans)
        return [*edits, SpliceParagraphs(self.story, index, 1, (replace(paragraph, spans=spans),))]


@dataclass(slots=True, frozen=True)
class RemoveStyle:
    """Take a style away; what used it is in ``instead`` from then on ("" : in no style, for characters and frames)."""

    kind: Kind
    id: str
    instead: str = ""
    do: Literal["remove-style"] = "remove-style"
    label = "Delete style"

    def expand(self, job: Job) -> list[Primitive]:
        table = styles_of(job, self.kind)
        if self.id not in table:
            raise EditError("That style was already deleted.")
        if self.instead == self.id or (self.instead and self.instead not in table):
            raise EditError("Select another style to replace it.")
        if self.kind == "paragraph" and not self.instead:
            raise EditError("Every paragraph has a style. Select one to replace it.")
        new = self.instead or None
        edits: list[Primitive] = []
        for style in job.paragraph_styles.values() if self.kind == "paragraph" else ():
            if style.next == self.id and style.id != self.id:
                edits.append(put("paragraph_styles", replace(style, next=new)))
        base = table[self.id].based_on
        for style in table.values():
            if style.based_on == self.id:
                before = next((e for e in edits if isinstance(e, Put) and e.key == style.id), None)
                changed = replace(style, based_on=base)
                if before is not None:
                    edits.remove(before)
                    changed = replace(changed, next=new)
                edits.append(put(TABLES[self.kind], changed))
        if self.kind == "paragraph":
            edits += over_paragraphs(job, lambda p: replace(p, style=new or "") if p.style == self.id else p)
        elif self.kind == "character":
            edits += _character_styles_in_specs(job, self.id, new)
            edits += over_paragraphs(job, lambda p: _respelt(p, self.id, new))
        else:
            if self.kind == "rule":
                edits += _rules_in_styles(job, self.id, new)
                edits += over_paragraphs(job, lambda p: replace(p, para=_with_other_rule(p.para, self.id, new)))
            edits += over_frames(job, lambda f: _restyled(f, self.kind, self.id, new))
        if self.kind in ("paragraph", "character"):
            edits += _listings_fed(job, self.kind, self.id, self.instead)
        if self.kind in ("paragraph", "rule"):
            edits += _named_elsewhere(job, self.kind, self.id, new or "")
        return [*edits, Put(TABLES[self.kind], self.id, None)]


def _listings_fed(job: Job, kind: Kind, old: str, new: str) -> Iterator[Primitive]:
    """Listings that are gathered from a style, or set in it, by another; without one they are gathered from the others
    they have."""
    of = "paragraphs" if kind == "paragraph" else "words"
    for listing in job.listings.values():
        sources = tuple(
            replace(
                source,
                style=new if (source.of, source.style) == (of, old) else source.style,
                entry=_other(source.entry, old, new) if kind == "paragraph" else source.entry,
            )
            for source in listing.sources
            if new or (source.of, source.style) != (of, old)
        )
        entries = listing.entries
        if kind == "paragraph":
            entries = tuple(replace(one, style=_other(one.style, old, new)) for one in entries)
        if (sources, entries) != (listing.sources, listing.entries):
            yield put("listings", replace(listing, sources=sources, entries=entries))


def _named_elsewhere(job: Job, kind: Kind, old: str, new: str) -> Iterator[Primitive]:
    """Kinds of notes and styles of tables that name a style, by another."""
    if kind == "paragraph":
        for note in job.note_kinds.values():
            changed = replace(note, style=_other(note.style, old, new), heading=_other(note.heading, old, new))
            if changed.counted == "heading" and not changed.heading:
                changed = replace(changed, counted="text")
            if changed != note:
                yield put("note_kinds", changed)
    for table in job.table_styles.values():
        if kind == "paragraph":
            other = replace(
                table, head_style=_other(table.head_style, old, new), body_style=_other(table.body_style, old, new)
            )
        else:
            strokes = {name: getattr(table, name) for name in ("outer", "sides", "head", "rows", "columns")}
            other = replace(
                table, **{name: replace(one, style=new or None) for name, one in strokes.items() if one.style == old}
            )
        if other != table:
            yield put("table_styles", other)
    for text_table in job.tables.values() if kind == "rule" else ():
        rows = tuple(tuple(_ruled_otherwise(cell, old, new) for cell in row) for row in text_table.rows)
        if rows != text_table.rows:
            yield put("tables", replace(text_table, rows=rows))


def _ruled_otherwise(cell: Cell, old: str, new: str) -> Cell:
    """A cell whose own rules are in another rule style."""
    if cell.rules is None:
        return cell
    strokes = {side: getattr(cell.rules, side) for side in SIDES_OF_CELL}
    changed = {
        side: replace(one, style=new or None) for side, one in strokes.items() if one is not None and one.style == old
    }
    return replace(cell, rules=replace(cell.rules, **changed)) if changed else cell


def _other(style: str, old: str, new: str) -> str:
    return new if style == old else style


def _respelt(paragraph: Paragraph, old: str, new: str | None) -> Paragraph:
    para = _initials_changed(paragraph.para, old, new)
    spans = paragraph.spans
    if any(span.style == old for span in spans):
        spans = story_text.tidy(replace(span, style=new) if span.style == old else span for span in spans)
    return (
        paragraph if para is paragraph.para and spans is paragraph.spans else replace(paragraph, para=para, spans=spans)
    )


def _initials_changed(para: Para, old: str, new: str | None) -> Para:
    """Initials and list marks set in one character style in another."""
    changes: dict[str, Any] = {}
    if para is not None and para.drop_style == old:
        changes["drop_style"] = new or ""
    if para is not None and para.list is not None and para.list.style == old:
        changes["list"] = replace(para.list, style=new)
    return replace(para, **changes) if para is not None and changes else para


def _character_styles_in_specs(job: Job, old: str, new: str | None) -> Iterator[Primitive]:
    """Paragraph styles that name a character style for initials or list marks."""
    for style in job.paragraph_styles.values():
        para = _initials_changed(style.para, old, new)
        if para is not style.para:
            yield put("paragraph_styles", replace(style, para=para))


def _rules_in_styles(job: Job, old: str, new: str | None) -> Iterator[Primitive]:
    """Paragraph and frame styles that draw with a rule style."""
    for style in job.paragraph_styles.values():
        para = _with_other_rule(style.para, old, new)
        if para != style.para:
            yield put("paragraph_styles", replace(style, para=para))
    for frame_style in job.frame_styles.values():
        frame = _strokes_changed(frame_style.frame, old, new)
        if frame != frame_style.frame:
            yield put("frame_styles", replace(frame_style, frame=frame))


def _with_other_rule(para: Para, old: str, new: str | None) -> Para:
    """A paragraph's rules and border, those drawn in one rule style in another."""
    if para is None:
        return para
    changes: dict[str, Any] = {}
    for name in ("rule_above", "rule_below", "box"):
        rule = getattr(para, name)
        if rule is not None and rule.stroke.style == old:
            changes[name] = replace(rule, stroke=replace(rule.stroke, style=new))
    return replace(para, **changes) if changes else para


def _restyled(frame: Object, kind: str, old: str, new: str | None) -> Object:
    if kind == "frame":
        return replace(frame, style=new) if frame.style == old else frame
    make = _strokes_changed(frame.make, old, new)
    return frame if make is frame.make else replace(frame, make=make)


def _strokes_changed(make: FrameSpec, old: str, new: str | None) -> FrameSpec:
    strokes = {}
    for name in ("stroke", "column_rule"):
        stroke = getattr(make, name)
        if stroke is not None and stroke.style == old:
            strokes[name] = replace(stroke, style=new)
    return replace(make, **strokes) if strokes else make


@dataclass(slots=True, frozen=True)
class BringStyles:
    """Styles of another job. Those whose name is here already are taken over if ``over``, else left as they are."""

    paragraph: tuple[ParagraphStyle, ...] = ()
    character: tuple[CharacterStyle, ...] = ()
    frame: tuple[FrameStyle, ...] = ()
    rule: tuple[RuleStyle, ...] = ()
    fonts: tuple[OwnFont, ...] = ()
    """The fonts of the other job that they are set in."""
    over: bool = False
    do: Literal["bring-styles"] = "bring-styles"
    label = "Import styles"

    def expand(self, job: Job) -> list[Primitive]:
        edits: list[Primitive] = []
        for kind in ("rule", "frame", "character", "paragraph"):
            table = styles_of(job, kind)
            incoming: tuple[AnyStyle, ...] = getattr(self, kind)
            names = {style.name.casefold(): style.id for style in table.values()}
            used = set(table)
            ids: dict[str, str] = {}
            for style in incoming:
                here = names.get(style.name.casefold())
                ids[style.id] = here or (style.id if style.id not in used else story_text.new_id("y"))
                used.add(ids[style.id])
            after = dict(table)
            for style in incoming:
                if style.name.casefold() in names and not self.over:
                    continue
                changes: dict[str, Any] = {
                    "id": ids[style.id],
                    "based_on": ids.get(style.based_on or "", style.based_on),
                }
                if isinstance(style, ParagraphStyle):
                    changes["next"] = ids.get(style.next or "", style.next)
                changed = replace(style, **changes)
                styles = set(after) | set(ids.values())
                if changed.based_on not in styles:
                    changed = replace(changed, based_on=None)
                if isinstance(changed, ParagraphStyle) and changed.next not in styles:
                    changed = replace(changed, next=None)
                after[changed.id] = changed
                check_chain(after, changed)
                edits.append(put(TABLES[kind], changed))
        if edits:
            edits += [
                edit for font in self.fonts for edit in AddFont(replace(font, id=story_text.new_id("t"))).expand(job)
            ]
        if not edits:
            raise EditError("All those styles are already in the job.")
        return edits


def uses_of(job: Job, kind: str, style_id: str) -> list[tuple[str, str, int]]:
    """Return where a style is used: (story, page or ``style:<kind>``; paragraph, frame or style; text offset). First in
    other styles, then in reading order."""
    uses: list[tuple[str, str, int]] = []
    if kind == "character":
        uses += [
            ("style:paragraph", s.id, 0)
            for s in job.paragraph_styles.values()
            if _initials_changed(s.para, style_id, None) != s.para
        ]
    elif kind == "rule":
        uses += [
            ("style:paragraph", s.id, 0)
            for s in job.paragraph_styles.values()
            if _with_other_rule(s.para, style_id, None) != s.para
        ]
        uses += [
            ("style:frame", s.id, 0)
            for s in job.frame_styles.values()
            if _strokes_changed(s.frame, style_id, None) != s.frame
        ]
    for story in job.stories.values() if kind != "frame" else ():
        for p in story.paragraphs:
            if kind == "paragraph":
                uses += [(story.id, p.id, 0)] if p.style == style_id else []
                continue
            change = _initials_changed if kind == "character" else _with_other_rule
            uses += [(story.id, p.id, 0)] if change(p.para, style_id, None) != p.para else []
            if kind == "character":
                uses += [(story.id, p.id, span.start) for span in p.spans if span.style == style_id]
    for holder, objects in everywhere(job) if kind in ("frame", "rule") else ():
        uses += [(holder, f.id, 0) for f in frames_in(objects) if _restyled(f, kind, style_id, None) != f]
    return uses


def below(job: Job, kind: str, style: AnyStyle) -> dict[str, Any]:
    """Return what a style has where it says nothing itself, by the name of the spec; ``None`` where nothing below says
    it."""
    cascade = Cascade(job)
    if kind == "paragraph":
        type_, para = cascade.style(style.based_on or "")
        return {"type": type_, "para": para}
    if kind == "character":
        return {"type": cascade.character_spec(style.based_on)}
    if kind == "frame":
        return {"frame": frame_spec(job, Object("", style=style.based_on))}
    return {"stroke": stroke_of(job, Stroke(style=style.based_on))}


def set_by_hand(spec: TypeSpec | ParaSpec | FrameSpec | None) -> list[str]:
    """The names of the values a local setting gives."""
    return [f.name for f in fields(spec) if getattr(spec, f.name) is not None] if spec else []
