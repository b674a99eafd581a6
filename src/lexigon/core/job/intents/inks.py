"""Intents about swatches: made, mixed otherwise, put in order, taken away with another in their place."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Literal

from lexigon.core.job import text as texts
from lexigon.core.job.edits import EditError, Primitive, PutEntry, put
from lexigon.core.job.intents.sweeping import over_objects, over_paragraphs
from lexigon.core.job.limits import Key, Many, Name, Part
from lexigon.core.job.model import PLAIN_SWATCH, Gradient, Job, Swatch
from lexigon.core.job.recolour import STYLES, recoloured, swatch_uses

TAKEN_NAMES = ("none",)
"""What a spec line says in the place of a swatch's name."""


def mixed_name(space: str, values: tuple[float, ...]) -> str:
    """What a colour is called that was given no name: its inks, or its light."""
    if space == "cmyk":
        return " ".join(f"{ink}{100 * value:.4g}" for ink, value in zip("CMYK", values, strict=False))
    return " ".join(f"{light}{255 * value:.0f}" for light, value in zip("RGB", values, strict=False))


@dataclass(slots=True, frozen=True)
class PutSwatch:
    """Make a swatch (no ``id``), or change one: what is ``None`` stays. Without a name a new one goes by its inks."""

    id: Key | None = None
    name: Name | None = None
    space: Literal["cmyk", "rgb", "gradient"] | None = None
    values: Annotated[tuple[Part, ...], Many(4)] | None = None
    spot: bool | None = None
    gradient: Gradient | None = None
    do: Literal["put-swatch"] = "put-swatch"

    @property
    def label(self) -> str:
        return "Changing a swatch" if self.id else "Making a swatch"

    def expand(self, job: Job) -> list[Primitive]:
        if self.id is None:
            was = Swatch(texts.new_id("w"), "", "cmyk", (0.0, 0.0, 0.0, 1.0))
        elif self.id in job.swatches:
            was = job.swatches[self.id]
        else:
            raise EditError("That swatch is no longer in the job.")
        space = self.space or was.space
        new = replace(
            was, space=space, values=() if space == "gradient" else was.values if self.values is None else self.values,
            spot=space == "cmyk" and (was.spot if self.spot is None else self.spot),
            gradient=(self.gradient or was.gradient) if space == "gradient" else None,
        )  # fmt: skip
        if new.id == PLAIN_SWATCH and replace(new, name=was.name) != was:
            raise EditError("Black stays black ink alone: what is given no colour prints in it. Make another swatch.")
        return [put("swatches", replace(new, name=self._named(job, new)))]

    def _named(self, job: Job, new: Swatch) -> str:
        taken = {one.name.casefold() for one in job.swatches.values() if one.id != new.id}
        name = " ".join((self.name if self.name is not None else new.name).split())
        if not name and self.id is None and not new.spot:
            name = base = "Gradient" if new.space == "gradient" else mixed_name(new.space, new.values)
            for number in range(2, len(taken) + 3):
                if name.casefold() not in taken:
                    break
                name = f"{base} ({number})"
        if not name or len(name) > 80:
            raise EditError("A swatch’s name has 1 to 80 characters.")
        if name.casefold() in taken:
            raise EditError(f"There is a swatch named “{name}” already.")
        if name.casefold() in TAKEN_NAMES:
            raise EditError(f"“{name}” stands for no colour at all: choose another name.")
        return name


@dataclass(slots=True, frozen=True)
class MoveSwatch:
    """Put a swatch in another place of the list."""

    id: Key
    to: int
    do: Literal["move-swatch"] = "move-swatch"
    label = "Moving a swatch"

    def expand(self, job: Job) -> list[Primitive]:
        if self.id not in job.swatches:
            raise EditError("That swatch is no longer in the job.")
        to = min(max(self.to, 0), len(job.swatches) - 1)
        if list(job.swatches).index(self.id) == to:
            return []
        return [PutEntry("swatches", self.id, None), put("swatches", job.swatches[self.id], to)]


@dataclass(slots=True, frozen=True)
class RemoveSwatch:
    """Take a swatch away; what was in it is in ``instead`` from then on. One that is not used needs none."""

    id: Key
    instead: Key | None = None
    do: Literal["remove-swatch"] = "remove-swatch"
    label = "Deleting a swatch"

    def expand(self, job: Job) -> list[Primitive]:
        if self.id not in job.swatches:
            raise EditError("That swatch is already gone.")
        if self.id == PLAIN_SWATCH:
            raise EditError("Black stays: what is given no colour prints in it.")
        gone = PutEntry("swatches", self.id, None)
        if next(swatch_uses(job, self.id), None) is None:
            return [gone]
        if self.instead is None or self.instead == self.id or self.instead not in job.swatches:
            raise EditError(f"“{job.swatches[self.id].name}” is used: choose another swatch to put in its place.")
        new = self.instead
        edits: list[Primitive] = []
        for table in ("swatches", *STYLES):
            for entry in getattr(job, table).values():
                changed = recoloured(entry, self.id, new)
                if changed is not entry:
                    edits.append(put(table, changed))
        edits += over_objects(job, lambda objects: recoloured(objects, self.id, new))
        edits += over_paragraphs(job, lambda paragraph: recoloured(paragraph, self.id, new))
        return [*edits, gone]
