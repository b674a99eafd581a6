"""Where paragraphs and the characters in them stand, in the flows of one composed state."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Mapping

from lexigon.core.flow.story import StoryFlow


class Whereabouts:
    """Looks places up in flows as they stand when it is asked; make a new one when paragraphs came or went."""

    def __init__(self, flows: Mapping[str, StoryFlow]) -> None:
        self._flows = flows
        self._numbers: dict[str, dict[str, int]] = {}

    def number(self, story: str, paragraph: str) -> int | None:
        """Which paragraph of a text one is."""
        if story not in self._numbers:
            flow = self._flows.get(story)
            if flow is None:
                return None
            self._numbers[story] = {found.paragraph.id: at for at, found in enumerate(flow.paragraphs)}
        return self._numbers[story].get(paragraph)

    def page(self, story: str, paragraph: str, offset: int = 0) -> int | None:
        """The index of the page on which a character of a paragraph stands, by its offset in the paragraph's own text; None where the text
        does not get there, or is none that flows."""
        index = self.number(story, paragraph)
        if index is None:
            return None
        flow = self._flows[story]
        found, shown = None, flow.paragraphs[index].shown.shown(offset)
        columns = flow.columns
        for at in range(bisect_left(columns, index, key=lambda column: column.end[0]), len(columns)):
            column = columns[at]
            if column.begin[0] > index:
                break
            for block in column.blocks:
                if block.paragraph == index:
                    lines = flow.lines(index, block.measure, block.base)
                    found = column.slot.page
                    if block.last_line >= len(lines) or shown < lines[block.last_line - 1].next:
                        return found
        return found
