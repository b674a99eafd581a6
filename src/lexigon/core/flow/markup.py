"""Stories as mark-up rules format them: which paragraphs differ then, and which change because of an edit nearby."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from lexigon.core.document.model import Job, Paragraph, Story
from lexigon.core.editing.touches import ParagraphsTouch
from lexigon.core.markup.marker import Marker, Opening

Formatted = tuple[Paragraph, tuple[int, ...], Paragraph]
"""A paragraph, the rules that act on it by where it stands, and what it is set as."""


class MarkupFormatting:
    """The paragraphs of each story that rules apply to."""

    def __init__(self, job: Job | None = None) -> None:
        self.marker = Marker(job)
        self._texts: dict[str, dict[str, Formatted]] = {}
        if job is not None and not self.marker.idle:
            for story in job.stories.values():
                if story.kind == "text":
                    self._texts[story.id] = {}
                    self._look(story.id, story.paragraphs, range(len(story.paragraphs)))

    def of(self, story: str, p: Paragraph) -> Paragraph:
        """Return what a paragraph is set as."""
        formatted = self._texts.get(story, {}).get(p.id)
        return formatted[2] if formatted and (formatted[0] is p or formatted[0] == p) else p

    def opening(self, story: str, p: Paragraph) -> tuple[Opening, ...]:
        """Return how the first lines of a paragraph are set."""
        formatted = self._texts.get(story, {}).get(p.id)
        return self.marker.opening(formatted[1]) if formatted and (formatted[0] is p or formatted[0] == p) else ()

    def follow(self, story: Story, edits: Sequence[ParagraphsTouch]) -> list[int]:
        """Return the places of those paragraphs that edits did not touch but that are set differently now."""
        if self.marker.idle or story.kind != "text":
            return []
        self._texts.setdefault(story.id, {})
        count, reach = len(story.paragraphs), self.marker.reach
        if len(edits) == 1:
            (edit,) = edits
            near = range(max(edit.at - reach, 0), min(edit.at + len(edit.insert) + reach, count))
        else:
            near = range(count)
        touched = {p.id for edit in edits for p in edit.insert}
        return [at for at in self._look(story.id, story.paragraphs, near) if story.paragraphs[at].id not in touched]

    def _look(self, key: str, paragraphs: Sequence[Paragraph], where: Iterable[int]) -> list[int]:
        """Work out what paragraphs are set as; the places of those that were set otherwise before."""
        texts, marker = self._texts[key], self.marker
        changed = []
        for at in where:
            p = paragraphs[at]
            acting = marker.acting(paragraphs, at)
            before = texts.get(p.id)
            if before is not None and before[0] is p and before[1] == acting:
                continue
            formatted = marker.marked(p, acting) if acting else p
            opens = marker.opening(before[1]) if before else ()
            if (before[2] if before else p) != formatted or opens != marker.opening(acting):
                changed.append(at)
            if acting:
                texts[p.id] = (p, acting, formatted)
            else:
                texts.pop(p.id, None)
        return changed
