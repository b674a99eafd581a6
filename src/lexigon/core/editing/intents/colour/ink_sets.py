"""Intents about ink sets: which swatches are assigned to the job's roles, saved under a name and applied in one
step."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Literal

from lexigon.core.document import story_text
from lexigon.core.document.limits import Key, Many, Name
from lexigon.core.document.model import Casting, Fill, InkSet, Job, Section, Swatch
from lexigon.core.editing.edits import EditError, Primitive, PutEntry, put
from lexigon.core.editing.intents.colour.swatches import free_name
from lexigon.core.editing.intents.pages.page_list import PutSection


def _ink_set(job: Job, key: str) -> InkSet:
    if key not in job.ink_sets:
        raise EditError("That ink set is no longer in the job.")
    return job.ink_sets[key]


@dataclass(slots=True, frozen=True)
class PutInkSet:
    """Keep an ink set (no ``id``), or change one. Without ``parts`` a new one takes the roles as they are played
    now."""

    id: Key | None = None
    name: Name | None = None
    parts: Annotated[tuple[Casting, ...], Many(200)] | None = None
    do: Literal["put-ink-set"] = "put-ink-set"

    @property
    def label(self) -> str:
        return "Change ink set" if self.id else "Save ink set"

    def expand(self, job: Job) -> list[Primitive]:
        was = _ink_set(job, self.id) if self.id else InkSet(story_text.new_id("k"), "", _as_played(job))
        name = " ".join((was.name if self.name is None else self.name).split())
        if not name or len(name) > 80:
            raise EditError("An ink set’s name has 1 to 80 characters.")
        if any(one.name.casefold() == name.casefold() and one.id != was.id for one in job.ink_sets.values()):
            raise EditError(f"There is an ink set named “{name}” already.")
        new = replace(was, name=name, parts=was.parts if self.parts is None else self.parts)
        if not new.parts:
            raise EditError("Add a role first (a swatch of the type “role”). An ink set assigns a swatch to each role.")
        return [put("ink_sets", new)]


def _as_played(job: Job) -> tuple[Casting, ...]:
    roles = [(one.id, one.base) for one in job.swatches.values() if one.kind.played]
    return tuple(Casting(key, base.swatch, base.tint) for key, base in roles if base is not None)


@dataclass(slots=True, frozen=True)
class AddInkSet:
    """Add an ink set with swatches of its own assigned to roles, in a group with its name; names in use get a
    number."""

    name: Name
    swatches: Annotated[tuple[Swatch, ...], Many(200, 1)]
    parts: Annotated[tuple[Casting, ...], Many(200, 1)]
    """They name the new swatches by the ids these have here."""
    do: Literal["add-ink-set"] = "add-ink-set"
    label = "Add ink set"

    def expand(self, job: Job) -> list[Primitive]:
        name = free_name(" ".join(self.name.split()), {one.name.casefold() for one in job.ink_sets.values()})
        used = {one.name.casefold() for one in job.swatches.values()}
        ids: dict[str, str] = {}
        edits: list[Primitive] = []
        for one in self.swatches:
            ids[one.id] = story_text.new_id("w")
            new = replace(one, id=ids[one.id], name=free_name(one.name, used), group=name)
            used.add(new.name.casefold())
            edits.append(put("swatches", new))
        parts = tuple(replace(part, swatch=ids.get(part.swatch, part.swatch)) for part in self.parts)
        return [*edits, *PutInkSet(None, name, parts).expand(job)]


@dataclass(slots=True, frozen=True)
class ChooseInkSet:
    """Its swatches play their roles in the whole job; with ``page`` only in the section that begins there."""

    id: Key
    page: str | None = None
    do: Literal["choose-ink-set"] = "choose-ink-set"
    label = "Switch ink set"

    def expand(self, job: Job) -> list[Primitive]:
        chosen = _ink_set(job, self.id)
        if self.page is not None:
            index = job.page_index(self.page)
            if index is None:
                raise EditError("That page is no longer in the job.")
            return PutSection(self.page, replace(job.pages[index].section or Section(), ink_set=chosen.id)).expand(job)
        played = [replace(job.swatches[part.role], base=Fill(part.swatch, part.tint)) for part in chosen.parts]
        return [put("swatches", one) for one in played if one != job.swatches[one.id]]


@dataclass(slots=True, frozen=True)
class RemoveInkSet:
    """Forget an ink set: the job keeps its colours, sections that had it are painted with those of the job."""

    id: Key
    do: Literal["remove-ink-set"] = "remove-ink-set"
    label = "Delete ink set"

    def expand(self, job: Job) -> list[Primitive]:
        _ink_set(job, self.id)
        edits: list[Primitive] = []
        for page in job.pages:
            if page.section is not None and page.section.ink_set == self.id:
                edits += PutSection(page.id, replace(page.section, ink_set="")).expand(job)
        return [*edits, PutEntry("ink_sets", self.id, None)]
