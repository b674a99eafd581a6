"""Intents about swatches: add, change, order, and delete with a replacement."""

from __future__ import annotations

from collections.abc import Container, Iterator
from dataclasses import dataclass, replace
from itertools import count
from typing import Annotated, Literal

from lexigon.core.document import story_text
from lexigon.core.document.limits import MOST_ENTRIES, Key, Many, Name, Part
from lexigon.core.document.model import PLAIN_SWATCH, Fill, Gradient, Job, Space, Swatch
from lexigon.core.document.model.surface import SWATCH_KINDS
from lexigon.core.editing.edits import EditError, Primitive, PutEntry, TableName, put
from lexigon.core.editing.intents.objects.sweeping import over_objects, over_paragraphs
from lexigon.core.editing.swatch_uses import STYLES, exchanged, recoloured, swatch_uses

TAKEN_NAMES = ("none",)
"""What a spec line says in the place of a swatch's name."""


def mixed_name(space: Space, values: tuple[float, ...]) -> str:
    """Return what a colour is called that was given no name: its inks, or its light. "" for one with other values than
    its space has, which the gate refuses."""
    if len(values) != SWATCH_KINDS[space].values:
        return ""
    if space == "cmyk":
        return " ".join(f"{ink}{100 * value:.4g}" for ink, value in zip("CMYK", values, strict=False))
    if space == "grey":
        return f"Grey {100 * values[0]:.4g}"
    if space == "lab":
        return f"Lab {100 * values[0]:.0f} {255 * values[1] - 128:.0f} {255 * values[2] - 128:.0f}"
    return " ".join(f"{light}{255 * value:.0f}" for light, value in zip("RGB", values, strict=False))


@dataclass(slots=True, frozen=True)
class PutSwatch:
    """Make a swatch (no ``id``), or change one: what is ``None`` stays. Without a name a new one goes by its inks."""

    id: Key | None = None
    name: Name | None = None
    space: Space | None = None
    values: Annotated[tuple[Part, ...], Many(4)] | None = None
    spot: bool | None = None
    gradient: Gradient | None = None
    base: Fill | None = None
    """For a tint or a role: a swatch, and its strength. Where it is a tint itself, or the swatch of a role, the swatch
    that it is based on is used."""
    group: Name | None = None
    do: Literal["put-swatch"] = "put-swatch"

    @property
    def label(self) -> str:
        return "Change swatch" if self.id else "Add swatch"

    def expand(self, job: Job) -> list[Primitive]:
        if self.id is None:
            was = Swatch(story_text.new_id("w"), "", "cmyk", (0.0, 0.0, 0.0, 1.0))
        elif self.id in job.swatches:
            was = job.swatches[self.id]
        else:
            raise EditError("That swatch is no longer in the job.")
        space = self.space or was.space
        kind = SWATCH_KINDS[space]
        new = replace(
            was,
            space=space,
            values=() if not kind.values else was.values if self.values is None else self.values,
            spot=kind.spot and (was.spot if self.spot is None else self.spot),
            gradient=(self.gradient or was.gradient) if kind.made_of == "gradient" else None,
            base=_behind(job, self.base or was.base, kind.played) if kind.made_of == "base" else None,
            group=was.group if self.group is None else " ".join(self.group.split()),
        )
        if len(new.values) != kind.values:
            raise EditError(f"The swatch needs {kind.values} values.")
        if new.base is not None and new.base.swatch == new.id:
            raise EditError("A swatch cannot be a tint of itself.")
        if new.id == PLAIN_SWATCH and replace(new, name=was.name) != was:
            raise EditError(
                "Black is always black ink alone, because everything without a colour prints in it. Add another swatch."
            )
        return [put("swatches", replace(new, name=self._named(job, new)))]

    def _named(self, job: Job, new: Swatch) -> str:
        used = {one.name.casefold() for one in job.swatches.values() if one.id != new.id}
        name = " ".join((self.name if self.name is not None else new.name).split())
        if not name and self.id is None and not new.spot:
            name = base = self._generated_name(job, new)
            for number in range(2, len(used) + 3):
                if name.casefold() not in used:
                    break
                name = f"{base} ({number})"
        if not name or len(name) > 80:
            raise EditError("A swatch’s name has 1 to 80 characters.")
        if name.casefold() in used:
            raise EditError(f"There is a swatch named “{name}” already.")
        if name.casefold() in TAKEN_NAMES:
            raise EditError(f"“{name}” means no colour. Choose another name.")
        return name

    def _generated_name(self, job: Job, new: Swatch) -> str:
        if new.space == "tint" and new.base is not None and new.base.swatch in job.swatches:
            return f"{job.swatches[new.base.swatch].name[:60]} {100 * new.base.tint:.4g} %"
        return new.kind.word or mixed_name(new.space, new.values)


def _behind(job: Job, base: Fill | None, role: bool) -> Fill | None:
    """Return the base of a tint, or the swatch of a role: for another tint, the swatch that is its base. A tint of a
    role keeps the role."""
    swatch = job.swatches.get(base.swatch) if base else None
    if base is None or swatch is None or swatch.base is None or (swatch.kind.played and not role):
        return base
    return Fill(swatch.base.swatch, round(swatch.base.tint * base.tint, 6))


@dataclass(slots=True, frozen=True)
class AddSwatches:
    """Add imported swatches, such as those of a palette file, after the job's own; the swatches that they are based on
    are among them. One that the job has already, with the same name and values, is left out; one with the name of
    another gets a number. ``group`` puts all of them into that group."""

    swatches: Annotated[tuple[Swatch, ...], Many(MOST_ENTRIES, 1)]
    group: Name | None = None
    do: Literal["add-swatches"] = "add-swatches"
    label = "Import swatches"

    def expand(self, job: Job) -> list[Primitive]:
        ids = {one.id: story_text.new_id("w") for one in self.swatches}
        by_name = {one.name.casefold(): one for one in job.swatches.values()}
        added: list[Swatch] = []
        for one in self.swatches:
            same = by_name.get(one.name.casefold())
            mixed = not one.kind.made_of
            if same is not None and mixed and _mixture(same) == _mixture(one):
                ids[one.id] = same.id
        for one in self.swatches:
            if ids[one.id] in job.swatches:
                continue
            new = exchanged(one, ids)
            group = one.group if self.group is None else " ".join(self.group.split())
            name = free_name(one.name.strip() or mixed_name(one.space, one.values) or "Swatch", by_name)
            new = replace(new, id=ids[one.id], name=name, group=group)
            by_name[name.casefold()] = new
            added.append(new)
        return [put("swatches", one) for one in sorted(added, key=lambda one: bool(one.gradient or one.base))]


def _mixture(one: Swatch) -> tuple[object, ...]:
    return one.space, tuple(round(value, 3) for value in one.values), one.spot


def free_name(name: str, used: Container[str]) -> str:
    """A name that is not among those ``used`` (which are in small letters), with a number after it where needed."""
    candidate = name[:70]
    for number in count(2):
        if candidate.casefold() not in used and candidate.casefold() not in TAKEN_NAMES:
            break
        candidate = f"{name[:70]} ({number})"
    return candidate


@dataclass(slots=True, frozen=True)
class NameSwatchGroup:
    """Rename a group of swatches; "" removes its swatches from the group."""

    group: Name
    name: Name = ""
    do: Literal["name-swatch-group"] = "name-swatch-group"
    label = "Rename group of swatches"

    def expand(self, job: Job) -> list[Primitive]:
        members = [one for one in job.swatches.values() if one.group == self.group and self.group]
        if not members:
            raise EditError("That group of swatches does not exist.")
        name = " ".join(self.name.split())
        return [put("swatches", replace(one, group=name)) for one in members if one.group != name]


@dataclass(slots=True, frozen=True)
class MoveSwatch:
    """Put a swatch in another place of the list."""

    id: Key
    to: int
    do: Literal["move-swatch"] = "move-swatch"
    label = "Move swatch"

    def expand(self, job: Job) -> list[Primitive]:
        if self.id not in job.swatches:
            raise EditError("That swatch is no longer in the job.")
        to = min(max(self.to, 0), len(job.swatches) - 1)
        if list(job.swatches).index(self.id) == to:
            return []
        return [PutEntry("swatches", self.id, None), put("swatches", job.swatches[self.id], to)]


def _recoloured_in(job: Job, table: TableName, old: str, new: str) -> Iterator[Primitive]:
    for entry in getattr(job, table).values():
        changed = recoloured(entry, old, new)
        if changed is not entry:
            yield put(table, changed)


@dataclass(slots=True, frozen=True)
class RemoveSwatch:
    """Take a swatch away; what was in it is in ``instead`` from then on. One that is not used needs none."""

    id: Key
    instead: Key | None = None
    do: Literal["remove-swatch"] = "remove-swatch"
    label = "Delete swatch"

    def expand(self, job: Job) -> list[Primitive]:
        if self.id not in job.swatches:
            raise EditError("That swatch was already deleted.")
        if self.id == PLAIN_SWATCH:
            raise EditError("Black cannot be deleted, because everything without a colour prints in it.")
        gone = PutEntry("swatches", self.id, None)
        left = [*self._left(job)]
        if next(swatch_uses(job, self.id), None) is None:
            return [*left, gone]
        if self.instead is None or self.instead == self.id or self.instead not in job.swatches:
            raise EditError(f"“{job.swatches[self.id].name}” is used. Select another swatch to replace it.")
        new = self.instead
        edits: list[Primitive] = []
        for table in ("swatches", "ink_sets", "table_styles", *STYLES):
            edits += _recoloured_in(job, table, self.id, new)
        edits += over_objects(job, lambda objects: recoloured(objects, self.id, new))
        edits += over_paragraphs(job, lambda paragraph: recoloured(paragraph, self.id, new))
        edits += _recoloured_in(job, "tables", self.id, new)  # with the grounds of cells
        return [*edits, *left, gone]

    def _left(self, job: Job) -> Iterator[Primitive]:
        """Ink sets without the role that this swatch was."""
        for one in job.ink_sets.values():
            if any(part.role == self.id for part in one.parts):
                yield put("ink_sets", replace(one, parts=tuple(part for part in one.parts if part.role != self.id)))
