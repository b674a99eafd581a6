"""Intents about record sets. Their values are in files, which the caller has stored."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Literal

from lexigon.core.document import story_text
from lexigon.core.document.limits import (
    MOST_ADJUSTED,
    MOST_FIELDS,
    MOST_RECORD_FILES,
    FieldName,
    FieldNameOrEmpty,
    FileName,
    Id,
    Many,
    Name,
    Note,
    RecordCount,
    Text,
)
from lexigon.core.document.model import ComputedField, Job, Picture, RecordAdjustment, RecordSet, all_in
from lexigon.core.editing.edits import EditError, Primitive, PutEntry, put
from lexigon.core.editing.holders import everywhere


class RecordsChanged(EditError):
    """The records are not those that a change was made from."""


def _set(job: Job, key: str) -> RecordSet:
    if (own := job.record_sets.get(key)) is None:
        raise EditError("That record set is no longer in the job.")
    return own


def _check_name(job: Job, name: str, key: str = "") -> str:
    name = story_text.clean(name).strip()[:80]
    if not name:
        raise EditError("Type a name for the record set.", "name")
    if any(one.name.casefold() == name.casefold() and one.id != key for one in job.record_sets.values()):
        raise EditError(f"There is a record set “{name}” already.", "name")
    return name


@dataclass(slots=True, frozen=True)
class PutRecords:
    """Add a record set, or give one that is there other records. Its computed fields stay."""

    name: Name
    fields: Annotated[tuple[FieldName, ...], Many(MOST_FIELDS, 1)]
    files: Annotated[tuple[FileName, ...], Many(MOST_RECORD_FILES)]
    count: RecordCount
    source: Name = ""
    id: Id | None = None
    former: Annotated[tuple[FileName, ...], Many(MOST_RECORD_FILES)] | None = None
    """The files of the records that these were made from; None for records from outside. If others are there by now,
    these would undo what changed them."""
    do: Literal["put-records"] = "put-records"

    @property
    def label(self) -> str:
        return "Change records" if self.id else "Import records"

    def expand(self, job: Job) -> list[Primitive]:
        if len({name.casefold() for name in self.fields}) < len(self.fields):
            raise EditError("Two fields of the records have the same name.")
        if self.id is None:
            name = _check_name(job, self.name)
            return [
                put(
                    "record_sets",
                    RecordSet(story_text.new_id("d"), name, self.fields, self.files, self.count, source=self.source),
                )
            ]
        own = _set(job, self.id)
        if self.former is not None and own.files != self.former:
            raise RecordsChanged("The records were changed in another window at the same moment. Try again.")
        names = {name.casefold() for name in self.fields}
        new = replace(
            own,
            name=_check_name(job, self.name, own.id),
            fields=self.fields,
            files=self.files,
            count=self.count,
            source=self.source or own.source,
            key=own.key if own.key.casefold() in names else "",
            computed=tuple(one for one in own.computed if one.name.casefold() not in names),
        )
        return [put("record_sets", new)]


@dataclass(slots=True, frozen=True)
class ChangeRecordSet:
    """Change the name, the key field or the computed fields of a record set; omitted values stay."""

    id: Id
    name: Name | None = None
    key: FieldNameOrEmpty | None = None
    computed: Annotated[tuple[ComputedField, ...], Many(MOST_FIELDS)] | None = None
    do: Literal["change-record-set"] = "change-record-set"

    @property
    def label(self) -> str:
        if self.computed is not None:
            return "Change computed fields"
        return "Set key field" if self.key is not None else "Rename record set"

    def expand(self, job: Job) -> list[Primitive]:
        own = _set(job, self.id)
        if self.name is not None:
            own = replace(own, name=_check_name(job, self.name, own.id))
        if self.computed is not None:
            names = [name.casefold() for name in (*own.fields, *(one.name for one in self.computed))]
            if len(set(names)) < len(names):
                raise EditError("A computed field has the name of another field. Rename it.", "name")
            own = replace(own, computed=self.computed)
        if self.key is not None:
            if self.key and self.key not in own.fields:
                raise EditError(f"The records have no field “{self.key}” that could be their key.", "key")
            own = replace(own, key=self.key)
        return [put("record_sets", own)]


@dataclass(slots=True, frozen=True)
class RemoveRecordSet:
    """Delete a record set with the adjustments for its records. Bindings stay."""

    id: Id
    do: Literal["remove-record-set"] = "remove-record-set"
    label = "Delete record set"

    def expand(self, job: Job) -> list[Primitive]:
        _set(job, self.id)
        gone = [one for one in job.record_adjustments.values() if one.set == self.id]
        return [*(PutEntry("record_adjustments", one.id, None) for one in gone), PutEntry("record_sets", self.id, None)]


@dataclass(slots=True, frozen=True)
class AdjustRecord:
    """Change an object for one record alone; omitted values stay as they were adjusted before."""

    set: Id
    record: Note
    object: Id
    move: tuple[float, float] | None = None
    picture: Picture | None = None
    text: Annotated[tuple[Text, ...], Many(MOST_ADJUSTED, 1)] | None = None
    do: Literal["adjust-record"] = "adjust-record"
    label = "Adjust record"

    def expand(self, job: Job) -> list[Primitive]:
        _set(job, self.set)
        if not any(one.id == self.object for _, objects in everywhere(job) for one in all_in(objects)):
            raise EditError("That object is no longer in the job.")
        same = (self.set, self.record, self.object)
        own = next(
            (one for one in job.record_adjustments.values() if (one.set, one.record, one.object) == same),
            RecordAdjustment(story_text.new_id("a"), *same),
        )
        new = replace(
            own,
            move=self.move if self.move is not None else own.move,
            picture=self.picture or own.picture,
            text=self.text if self.text is not None else own.text,
        )
        return [put("record_adjustments", new)]


@dataclass(slots=True, frozen=True)
class RemoveRecordAdjustment:
    """Let a record show an object like all others again."""

    id: Id
    do: Literal["remove-record-adjustment"] = "remove-record-adjustment"
    label = "Remove adjustment"

    def expand(self, job: Job) -> list[Primitive]:
        if self.id not in job.record_adjustments:
            raise EditError("That adjustment is no longer in the job.")
        return [PutEntry("record_adjustments", self.id, None)]
