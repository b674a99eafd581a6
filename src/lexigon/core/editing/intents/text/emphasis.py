"""Italic and bold by key: on where any of the words are not so, off where all are."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from lexigon.core.document import story_text
from lexigon.core.document.cascade import Cascade, TypeSetting
from lexigon.core.document.model import Job, TypeSpec
from lexigon.core.editing.edits import Primitive
from lexigon.core.editing.intents.text.words import FormatText, Place, locate

BOLD = 600
"""The weight from which on type counts as bold (CSS Fonts 4, 2.2.1: 600 is semi-bold)."""


@dataclass(slots=True, frozen=True)
class ToggleEmphasis:
    """Make words italic or bold, or upright or regular again where all of them are italic or bold already.

    What they are is looked up when it is carried out, so that a key pressed right after a selection means just that.
    """

    story: str
    start: Place
    end: Place
    look: Literal["italic", "bold"]
    do: Literal["toggle-emphasis"] = "toggle-emphasis"
    label = "Format characters"

    def expand(self, job: Job) -> list[Primitive]:
        story, places = locate(job, self.story, self.start, self.end)
        cascade = Cascade(job)
        everywhere = True
        for piece in story_text.between(story.paragraphs, *sorted(places)):
            covered = sum(span.end - span.start for span in piece.spans)
            settings = [cascade.type_of(piece, span) for span in piece.spans]
            if covered < len(piece.text):
                settings.append(cascade.type_of(piece))
            everywhere = everywhere and all(map(self._has, settings))
        if self.look == "italic":
            spec = TypeSpec(italic=not everywhere)
        else:
            spec = TypeSpec(weight=400 if everywhere else 700)
        return FormatText(self.story, self.start, self.end, spec).expand(job)

    def _has(self, setting: TypeSetting) -> bool:
        return setting.italic if self.look == "italic" else setting.weight >= BOLD
