"""Intents about templates laid over the board. They never print: no painter of the press is ever given them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from lexigon.core import lengths
from lexigon.core.document import story_text
from lexigon.core.document.limits import is_file
from lexigon.core.document.model import Job, Overlay
from lexigon.core.editing.edits import EditError, Primitive, PutEntry, put


@dataclass(slots=True, frozen=True)
class PutOverlay:
    """Lay a template over a page (or all), or change one."""

    overlay: Overlay
    do: Literal["put-overlay"] = "put-overlay"

    @property
    def label(self) -> str:
        return "Change printer’s template"

    def expand(self, job: Job) -> list[Primitive]:
        overlay = replace(self.overlay, name=story_text.clean(self.overlay.name).strip()[:120])
        if not is_file(overlay.file):
            raise EditError("The template's file is missing.")
        if not (0 < overlay.width <= lengths.LIMIT and 0 < overlay.height <= lengths.LIMIT):
            raise EditError("The size of the template cannot be shown.")
        if not 0.05 <= overlay.opacity <= 1:
            raise EditError("The opacity of a template is 5 to 100 %.")
        if overlay.page is not None and all(page.id != overlay.page for page in job.pages):
            raise EditError("That page is no longer in the job.")
        return [put("overlays", overlay)] if job.overlays.get(overlay.id) != overlay else []


@dataclass(slots=True, frozen=True)
class RemoveOverlay:
    id: str
    do: Literal["remove-overlay"] = "remove-overlay"
    label = "Remove printer’s template"

    def expand(self, job: Job) -> list[Primitive]:
        if self.id not in job.overlays:
            raise EditError("That template is no longer in the job.")
        return [PutEntry("overlays", self.id, None)]
