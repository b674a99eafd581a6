"""Intents about bindings: what the fields of records set on objects and pages."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Literal, TypeVar

from lexigon.core.document.limits import MOST_PAGES, Id, Many, Note
from lexigon.core.document.model import (
    TEXT_PROPERTIES,
    FieldBinding,
    Job,
    Object,
    PageBinding,
    PageProperty,
    Property,
    Repeat,
    exchanged,
)
from lexigon.core.editing.edits import EditError, Primitive, SetPage
from lexigon.core.editing.holders import holder
from lexigon.core.editing.intents.objects.frames import own_frame

Binding = TypeVar("Binding", bound=FieldBinding | PageBinding)


@dataclass(slots=True, frozen=True)
class BindField:
    """Set a property of an object from the fields of records: ``value`` is text with names of fields in braces.
    Without a value, the property is no longer bound."""

    page: str
    frame: str
    property_name: Property
    value: Note = ""
    do: Literal["bind-field"] = "bind-field"

    @property
    def label(self) -> str:
        return "Bind object to field" if self.value else "Remove binding"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        frame, objects, edits = own_frame(place, self.frame)
        _check(frame, self.property_name, self.value)
        new = replace(frame, bindings=_with(frame.bindings, FieldBinding(self.property_name, self.value.strip())))
        return [*edits, *place.with_objects(exchanged(objects, {frame.id: (new,)}))]


def _check(frame: Object, name: Property, value: str) -> None:
    """Raises EditError if the property is not one of this object."""
    if not value.strip():
        return
    if name == "code" and frame.code is None:
        raise EditError("This object shows no code. Add a code first, then bind its content.")
    if name == "picture" and (frame.text is not None or frame.code is not None or frame.group is not None):
        raise EditError("This object has other content. Bind a picture frame or an empty frame to pictures.")
    if name in TEXT_PROPERTIES and frame.text is None:
        raise EditError("This object shows no text.")
    if name in ("x", "y", "width", "height", "rotation") and (frame.place is None or frame.group is not None):
        raise EditError("The position of this object cannot be bound.")


def _with(bindings: tuple[Binding, ...], new: Binding) -> tuple[Binding, ...]:
    """Return the bindings with one more in the place of one of the same property; one without a value is removed."""
    if not new.value:
        return tuple(one for one in bindings if one.property != new.property)
    return (*(one for one in bindings if one.property != new.property), new)


@dataclass(slots=True, frozen=True)
class RepeatObject:
    """Repeat an object or a group for every record, in rows and columns; with none, show it once again."""

    page: str
    frame: str
    repeat: Repeat | None = None
    do: Literal["repeat-object"] = "repeat-object"

    @property
    def label(self) -> str:
        return "Repeat object for records" if self.repeat else "Show object once"

    def expand(self, job: Job) -> list[Primitive]:
        place = holder(job, self.page)
        if place.page is None:
            raise EditError("Objects are repeated on pages, not on master pages or in text.")
        frame, objects, edits = own_frame(place, self.frame)
        if self.repeat is not None:
            others = [one.name for one in objects if one.repeat is not None and one.id != frame.id]
            if others:
                raise EditError(f"“{others[0]}” is repeated on this page already. A page has one repeated object.")
            if not any(one.id == frame.id for one in objects):
                raise EditError("Repeat the whole group, not an object in it.")
            if frame.text is not None and frame.text.main:
                raise EditError("The main text frame cannot be repeated.")
            if self.repeat.heading and self.repeat.heading not in {one.id for one in objects if one.id != frame.id}:
                raise EditError("The heading is another object on the same page.")
        return [*edits, *place.with_objects(exchanged(objects, {frame.id: (replace(frame, repeat=self.repeat),)}))]


@dataclass(slots=True, frozen=True)
class BindPages:
    """Set a property of pages from the fields of records. Without a value, it is no longer bound."""

    pages: Annotated[tuple[Id, ...], Many(MOST_PAGES, 1)]
    property_name: PageProperty
    value: Note = ""
    do: Literal["bind-pages"] = "bind-pages"

    @property
    def label(self) -> str:
        return "Bind page to field" if self.value else "Remove binding"

    def expand(self, job: Job) -> list[Primitive]:
        edits: list[Primitive] = []
        for key in dict.fromkeys(self.pages):
            at = job.page_index(key)
            if at is None:
                raise EditError("That page is no longer in the job.")
            page = job.pages[at]
            bindings = _with(page.bindings, PageBinding(self.property_name, self.value.strip()))
            edits.append(SetPage(replace(page, objects=(), bindings=bindings)))
        return edits
