"""The notes of a job's texts: their numbers, and their bodies set at the widths of the columns they are cited in."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from lexigon.core.flow.column import NoteBody
from lexigon.core.flow.shown import Shown, written_out
from lexigon.core.flow.slots import Area
from lexigon.core.flow.story import StoryFlow
from lexigon.core.geometry import Rect
from lexigon.core.job.anchoring import anchors_with_cells
from lexigon.core.job.cascade import Cascade, frame_setting
from lexigon.core.job.model import Anchor, Job, Object, Paragraph
from lexigon.core.type.fonts import FontLibrary
from lexigon.core.type.grid import Grid

ENDLESS = 100_000.0
NOTE_NUMBER = "note-number"
"""The character style of a note's number, where the job has it."""
BEHIND_NUMBER = "\u00a0"
Value = Callable[[Anchor, int], str | Anchor]
"""What an object in a text is shown as."""
MOST_BODIES = 4000
"""Notes that are remembered as they were set."""


@dataclass(slots=True)
class _Known:
    """A body with all it was made from."""

    paragraphs: list[Paragraph]
    number: str
    cascade: Cascade
    library: FontLibrary
    body: NoteBody

    def made_from(self, paragraphs: list[Paragraph], number: str, cascade: Cascade, library: FontLibrary) -> bool:
        return (
            self.number == number and self.cascade is cascade and self.library is library
            and len(self.paragraphs) == len(paragraphs)
            and all(a is b for a, b in zip(self.paragraphs, paragraphs, strict=True))
        )  # fmt: skip


class Notes:
    """The notes of one job. What was set before is known again as long as nothing it was made from has changed."""

    def __init__(self, job: Job) -> None:
        self.job = job
        self._bodies: dict[tuple[str, float], _Known] = {}
        self._numbers: dict[str, dict[str, str]] = {}

    def changed(self) -> None:
        """The job's texts may be others now: the notes are counted again."""
        self._numbers.clear()

    def repaint(self, cascade: Cascade) -> None:
        """The styles look otherwise and measure as before: what is set stays as it is."""
        for known in self._bodies.values():
            known.body.flow.repaint(cascade)
            known.cascade = cascade

    def numbers(self, story_id: str) -> dict[str, str]:
        """The numbers of a text's notes by their names: counted from 1, in the order in which they are cited."""
        known = self._numbers.get(story_id)
        if known is None:
            story = self.job.stories.get(story_id)
            known = self._numbers[story_id] = {}
            for anchor in anchors_with_cells(story.paragraphs, self.job.tables) if story else ():
                if anchor.kind == "note" and anchor.ref not in known:
                    known[anchor.ref] = str(len(known) + 1)
        return known

    def stale(self, value: Callable[[str], Callable[[Paragraph], Value]]) -> set[str]:
        """The notes that show something else than they were set with, and are forgotten as they were; ``value`` says of a note what
        fields in it show."""
        gone = set()
        for (ref, width), known in list(self._bodies.items()):
            show = self._shower(known.paragraphs[0], known.number, value(ref))
            if any(found.shown.alive and show(found.paragraph) != found.shown for found in known.body.flow.paragraphs):
                del self._bodies[ref, width]
                gone.add(ref)
        return gone

    def _shower(
        self, first: Paragraph, number: str, value: Callable[[Paragraph], Value]
    ) -> Callable[[Paragraph], Shown]:
        """Writes out a note's paragraphs, the first with its number before it."""
        mark = number, NOTE_NUMBER if NOTE_NUMBER in self.job.character_styles else None
        return lambda p: written_out(p, value(p), mark if p is first else None, BEHIND_NUMBER)

    def body(
        self, ref: str, width: float, number: str, cascade: Cascade, library: FontLibrary,
        value: Callable[[Paragraph], Value],
    ) -> NoteBody | None:  # fmt: skip
        """A note set at a width under its number; ``value`` says what fields in it show."""
        story = self.job.stories.get(ref)
        if story is None:
            return None
        known = self._bodies.get((ref, width))
        if known is not None and known.made_from(story.paragraphs, number, cascade, library):
            return known.body
        show = self._shower(story.paragraphs[0], number, value)
        setting = frame_setting(self.job, Object(ref))
        area = Area(0, ref, "recto", False, Rect(0.0, 0.0, width, ENDLESS), setting)
        flow = StoryFlow(story.paragraphs, cascade, library, Grid(), lambda: iter((area,)), 1, None, show)
        column = flow.columns[0]
        body = NoteBody(ref, flow, column.foot(flow))
        if len(self._bodies) >= MOST_BODIES:
            self._bodies.clear()
        self._bodies[ref, width] = _Known(list(story.paragraphs), number, cascade, library, body)
        return body
