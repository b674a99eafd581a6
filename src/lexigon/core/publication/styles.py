"""The styles, inks and kinds of notes that the jobs of a publication share: where one differs from the job that leads,
and what brings it into line. What has the same id is the same, else what has the same name."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass, fields, is_dataclass, replace
from typing import Any, Literal

from lexigon.core.document.model import Job, ListMark, NoteKind, OwnFont, Stroke, TypeSpec
from lexigon.core.document.story_text import new_id
from lexigon.core.editing.edits import Primitive, put
from lexigon.core.editing.intents.styles.fonts import AddFont
from lexigon.core.errors import LexigonError

SHARED = {
    "swatches": "ink",
    "rule_styles": "rule style",
    "character_styles": "character style",
    "paragraph_styles": "paragraph style",
    "frame_styles": "frame style",
    "table_styles": "table style",
    "note_kinds": "kind of notes",
}
"""The tables of a job that are compared, and what an entry of each is called; none refers to one that comes later."""
_FIELDS = {
    "swatch": "swatches",
    "next": "paragraph_styles",
    "head_style": "paragraph_styles",
    "body_style": "paragraph_styles",
    "heading": "paragraph_styles",
    "drop_style": "character_styles",
}
_STYLES = {Stroke: "rule_styles", ListMark: "character_styles", NoteKind: "paragraph_styles"}
"""Which table the field ``style`` of a type names an entry of."""
LABELS = {
    "align": "alignment",
    "at_foot": "at the foot of the column",
    "blend": "blend mode",
    "caps": "capitals",
    "closing_lines": "least lines on a last page",
    "drop_chars": "drop cap characters",
    "drop_lines": "drop cap lines",
    "first": "first baseline",
    "floats": "float",
    "foot_lines": "least lines at the foot",
    "grid": "baseline grid",
    "head_lines": "least lines at the top",
    "hyphenate": "hyphenation",
    "indent_first": "first-line indent",
    "indent_left": "left indent",
    "indent_right": "right indent",
    "keep_next": "keep with next",
    "keep_previous": "keep with previous",
    "leading_times": "leading as a multiple of the size",
    "level": "outline level",
    "next": "next style",
    "optical": "optical margins",
    "scale_x": "width of letters",
    "scale_y": "height of letters",
    "span": "span columns",
    "split": "split column",
    "swatch": "colour",
    "vertical": "vertical alignment",
    "way": "direction of the gradient",
    "wrap": "text wrap",
}
"""What values are called on the board, where that differs from the name of their field."""


@dataclass(slots=True, frozen=True)
class Difference:
    """An entry that differs from the leading job's, or is missing here."""

    table: str
    id: str
    """In the leading job."""
    name: str
    what: Literal["missing", "differs"]
    values: tuple[tuple[str, str, str], ...] = ()
    """What differs: the name of the value, what it is in the leading job, and what it is here."""

    @property
    def kind(self) -> str:
        return SHARED[self.table]


def _referring(value: Any, table: str) -> Iterator[tuple[str, str]]:
    """(table, id) of all that an entry names."""
    for name, inner, named in _parts(value, table):
        if named and isinstance(inner, str) and inner:
            yield named, inner
        elif isinstance(inner, tuple):
            for one in inner:
                yield from _referring(one, table)
        elif name:
            yield from _referring(inner, table)


def _redirected(value: Any, table: str, ids: dict[tuple[str, str], str]) -> Any:
    """An entry with other ids in place of those it names."""
    changes: dict[str, Any] = {}
    for name, inner, named in _parts(value, table):
        if named and isinstance(inner, str):
            new: Any = ids.get((named, inner), inner)
        elif isinstance(inner, tuple):
            new = tuple(_redirected(one, table, ids) for one in inner)
        else:
            new = _redirected(inner, table, ids)
        if new != inner:
            changes[name] = new
    return replace(value, **changes) if changes else value


def _parts(value: Any, table: str) -> Iterator[tuple[str, Any, str]]:
    """The fields of a value: its name, its content, and the table that it refers to."""
    if not is_dataclass(value) or isinstance(value, type):
        return
    for field in fields(value):
        named = _FIELDS.get(field.name, table if field.name == "based_on" else "")
        if field.name == "style":
            named = _STYLES.get(type(value), "")
        yield field.name, getattr(value, field.name), named


def counterparts(lead: Job, job: Job) -> dict[tuple[str, str], str]:
    """The id that each shared entry of the one job (``lead``) has in the other, for those that are there: the same,
    else that of the same name."""
    counterparts = {}
    for table in SHARED:
        own: dict[str, Any] = getattr(job, table)
        names = {one.name.casefold(): key for key, one in own.items()}
        for key, one in getattr(lead, table).items():
            here = key if key in own else names.get(one.name.casefold())
            if here is not None:
                counterparts[table, key] = here
    return counterparts


def differences(lead: Job, job: Job) -> list[Difference]:
    """Return the differences of a job from the lead job; styles that only the job has do not count."""
    ids = counterparts(lead, job)
    differences = []
    for table in SHARED:
        own: dict[str, Any] = getattr(job, table)
        for key, one in getattr(lead, table).items():
            here = ids.get((table, key))
            if here is None:
                differences.append(Difference(table, key, one.name, "missing"))
                continue
            expected = replace(_redirected(one, table, ids), id=here)
            if expected != own[here]:
                differences.append(
                    Difference(
                        table, key, one.name, "differs", tuple(_changes(expected, own[here], table, (lead, job)))
                    )
                )
    return differences


def _changes(lead: Any, own: Any, table: str, jobs: tuple[Job, Job]) -> Iterator[tuple[str, str, str]]:
    """The single values that differ: label, value in the lead job, own value. ``jobs`` have the names of other
    entries."""
    for (name, a, named), (_, b, _) in zip(_parts(lead, table), _parts(own, table), strict=True):
        if a == b or name == "id":
            continue
        if is_dataclass(a) and type(a) is type(b):
            yield from _changes(a, b, table, jobs)
        else:
            entries = {**getattr(jobs[0], named), **getattr(jobs[1], named)} if named else {}
            there, here = (entries[one].name if one in entries else _describe(one) for one in (a, b))
            yield _label(name), there, here


def _label(name: str) -> str:
    return LABELS.get(name, name.replace("_", " "))


def _describe(value: Any) -> str:
    """A value in words."""
    if value is None:
        return "not set"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:g}"
    if isinstance(value, tuple):
        return ", ".join(map(_describe, value)) or "none"
    if is_dataclass(value):
        return "; ".join(
            f"{_label(field.name)} {_describe(inner)}"
            for field in fields(value)
            if (inner := getattr(value, field.name)) is not None
        )
    return str(value) or "none"


@dataclass(slots=True, frozen=True)
class AlignStyles:
    """Take entries of the leading job, over those that are here, with all that they need and is missing here."""

    lead: Job
    entries: Collection[tuple[str, str]]
    """(table, id in the leading job)."""
    fonts: tuple[OwnFont, ...] = ()
    """The leading job's own fonts whose files this one may use."""
    do = "match-styles"
    label = "Match styles to the lead job"

    def expand(self, job: Job) -> list[Primitive]:
        lead, ids = self.lead, counterparts(self.lead, job)
        todo, chosen = [one for one in self.entries if one[0] in SHARED], set[tuple[str, str]]()
        while todo:
            table, key = todo.pop()
            entry = getattr(lead, table).get(key)
            if entry is None or (table, key) in chosen:
                continue
            chosen.add((table, key))
            todo += [one for one in _referring(entry, table) if one not in ids]
        edits: list[Primitive] = []
        for table, key in chosen:
            if (table, key) not in ids:
                ids[table, key] = key if key not in getattr(job, table) else new_id("y")
        for table in SHARED:
            own: dict[str, Any] = getattr(job, table)
            entries = [one for one in getattr(lead, table).values() if (table, one.id) in chosen]
            for one in _bases_first(entries):
                copy = replace(_redirected(one, table, ids), id=ids[table, one.id])
                if own.get(copy.id) != copy:
                    edits.append(put(table, copy))
        if not edits:
            raise LexigonError("This already matches the lead job.")
        font_files, families = {font.file for font in job.fonts.values()}, set(_families(chosen, lead))
        for font in self.fonts:
            if font.file not in font_files and font.family in families:
                edits += AddFont(replace(font, id=new_id("t"))).expand(job)
        return edits


def _families(chosen: Collection[tuple[str, str]], lead: Job) -> Iterator[str]:
    """The families of type that entries are set in."""
    for table, key in chosen:
        spec = getattr(getattr(lead, table)[key], "type", None)
        if isinstance(spec, TypeSpec) and spec.family:
            yield spec.family


def _bases_first(entries: list[Any]) -> list[Any]:
    """Entries so that what one is based on comes before it."""
    left, ordered = {one.id: one for one in entries}, list[Any]()

    def take(key: str) -> None:
        one = left.pop(key, None)
        if one is not None:
            take(getattr(one, "based_on", None) or "")
            ordered.append(one)

    for one in entries:
        take(one.id)
    return ordered
