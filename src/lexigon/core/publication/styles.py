"""The styles, inks and kinds of notes that the jobs of a publication share: where one differs from the job that leads, and what brings it
into line. What has the same id is the same, else what has the same name."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass, fields, is_dataclass, replace
from typing import Any, Literal

from lexigon.core.errors import LexigonError
from lexigon.core.job.edits import Primitive, put
from lexigon.core.job.intents.fonts import AddFont
from lexigon.core.job.model import Job, ListMark, NoteKind, OwnFont, Stroke, TypeSpec
from lexigon.core.job.text import new_id

SHARED = {
    "swatches": "ink", "rule_styles": "rule style", "character_styles": "character style", "paragraph_styles": "paragraph style",
    "frame_styles": "frame style", "table_styles": "table style", "note_kinds": "kind of notes",
}  # fmt: skip
"""The tables of a job that are compared, and what an entry of each is called; none refers to one that comes later."""
_FIELDS = {
    "swatch": "swatches", "next": "paragraph_styles", "head_style": "paragraph_styles", "body_style": "paragraph_styles",
    "heading": "paragraph_styles", "drop_style": "character_styles",
}  # fmt: skip
_STYLES = {Stroke: "rule_styles", ListMark: "character_styles", NoteKind: "paragraph_styles"}
"""Which table the field ``style`` of a type names an entry of."""


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
    """The fields of a value: name, what stands there, and the table that is named by it."""
    if not is_dataclass(value) or isinstance(value, type):
        return
    for field in fields(value):
        named = _FIELDS.get(field.name, table if field.name == "based_on" else "")
        if field.name == "style":
            named = _STYLES.get(type(value), "")
        yield field.name, getattr(value, field.name), named


def counterparts(lead: Job, job: Job) -> dict[tuple[str, str], str]:
    """The id that each shared entry of the one job (``lead``) has in the other, for those that are there: the same, else that of the same name."""
    made = {}
    for table in SHARED:
        own: dict[str, Any] = getattr(job, table)
        names = {one.name.casefold(): key for key, one in own.items()}
        for key, one in getattr(lead, table).items():
            here = key if key in own else names.get(one.name.casefold())
            if here is not None:
                made[table, key] = here
    return made


def differences(lead: Job, job: Job) -> list[Difference]:
    """Return what a job has otherwise than the one that leads; what it has besides is its own affair."""
    ids = counterparts(lead, job)
    found = []
    for table in SHARED:
        own: dict[str, Any] = getattr(job, table)
        for key, one in getattr(lead, table).items():
            here = ids.get((table, key))
            if here is None:
                found.append(Difference(table, key, one.name, "missing"))
                continue
            wanted = replace(_redirected(one, table, ids), id=here)
            if wanted != own[here]:
                found.append(Difference(table, key, one.name, "differs", tuple(_told(wanted, own[here]))))
    return found


def _told(lead: Any, own: Any) -> Iterator[tuple[str, str, str]]:
    """The single values that differ, by the names of their fields."""
    for field in fields(lead):
        a, b = getattr(lead, field.name), getattr(own, field.name)
        if a == b or field.name == "id":
            continue
        if is_dataclass(a) and type(a) is type(b):
            yield from _told(a, b)
        else:
            yield field.name.replace("_", " "), _said(a), _said(b)


def _said(value: Any) -> str:
    """A value in words."""
    if value is None:
        return "not said"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:g}"
    if isinstance(value, tuple):
        return ", ".join(map(_said, value)) or "none"
    if is_dataclass(value):
        return "; ".join(
            f"{field.name.replace('_', ' ')} {_said(inner)}"
            for field in fields(value)
            if (inner := getattr(value, field.name)) is not None
        )
    return str(value) or "none"


@dataclass(slots=True, frozen=True)
class AlignStyles:
    """Take entries of the leading job, over those that are here, with all that they need and is missing here."""

    lead: Job
    wanted: Collection[tuple[str, str]]
    """(table, id in the leading job)."""
    fonts: tuple[OwnFont, ...] = ()
    """The leading job's own fonts whose files this one may use."""
    label = "Match styles to the lead job"

    def expand(self, job: Job) -> list[Primitive]:
        lead, ids = self.lead, counterparts(self.lead, job)
        todo, chosen = [one for one in self.wanted if one[0] in SHARED], set[tuple[str, str]]()
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
            taken = [one for one in getattr(lead, table).values() if (table, one.id) in chosen]
            for one in _bases_first(taken):
                made = replace(_redirected(one, table, ids), id=ids[table, one.id])
                if own.get(made.id) != made:
                    edits.append(put(table, made))
        if not edits:
            raise LexigonError("This already matches the lead job.")
        known, families = {font.file for font in job.fonts.values()}, set(_families(chosen, lead))
        for font in self.fonts:
            if font.file not in known and font.family in families:
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
    left, made = {one.id: one for one in entries}, list[Any]()

    def take(key: str) -> None:
        one = left.pop(key, None)
        if one is not None:
            take(getattr(one, "based_on", None) or "")
            made.append(one)

    for one in entries:
        take(one.id)
    return made
