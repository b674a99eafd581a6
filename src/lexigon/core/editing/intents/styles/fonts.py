"""Intents about the fonts a job brings along."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core.document import story_text
from lexigon.core.document.limits import is_file
from lexigon.core.document.model import Job, OwnFont
from lexigon.core.editing.edits import EditError, Primitive, PutEntry, put


@dataclass(slots=True, frozen=True)
class AddFont:
    """Bring a font file in; one that is there already, by its content, stays as it is."""

    font: OwnFont
    do: Literal["add-font"] = "add-font"
    label = "Import font"

    def expand(self, job: Job) -> list[Primitive]:
        font = self.font
        if not is_file(font.file):
            raise EditError("The font's file is missing.")
        family = story_text.clean(font.family).strip()
        if not family or len(family) > 120:
            raise EditError("The font has no family name.")
        if any(other.file == font.file for other in job.fonts.values()):
            return []
        name = story_text.clean(font.name).strip()[:120]
        return [put("fonts", replace(font, name=name, family=family))]


@dataclass(slots=True, frozen=True)
class RemoveFont:
    """Take a font out of the job. Text set in it keeps its family's name and shows in another until it is back."""

    id: str
    do: Literal["remove-font"] = "remove-font"
    label = "Remove font"

    def expand(self, job: Job) -> list[Primitive]:
        if self.id not in job.fonts:
            raise EditError("That font is no longer in the job.")
        return [PutEntry("fonts", self.id, None)]
