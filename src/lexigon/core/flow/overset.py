"""Overset of a story in words, lines and table rows, and the phrase that reports it everywhere."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from lexigon.core.document.story_text import count_words
from lexigon.core.flow.story_flow import StoryFlow
from lexigon.core.plural import counted

MOST_COUNTED = 400
"""Paragraphs whose lines are counted: of a long text that stands nowhere, its words are said alone."""


@dataclass(slots=True, frozen=True)
class Overset:
    """The text after the last line that has a place."""

    words: int
    lines: int
    rows: int = 0
    """Of tables."""
    row_words: int = 0
    """How many of the words are in those rows."""

    @property
    def in_rows(self) -> bool:
        """Return whether nothing but table rows is left."""
        return self.rows > 0 and self.words == self.row_words

    @property
    def short(self) -> str:
        """The amount in its largest meaningful unit: ``143 words``, ``290 rows``, or ``2 lines`` where those are
        empty."""
        if self.in_rows:
            return counted(self.rows, "row")
        return counted(self.words, "word") if self.words else counted(self.lines, "line")

    @property
    def long(self) -> str:
        """The amount with its details: ``143 words (12 lines)``, ``290 table rows (1,160 words)``, ``2 empty
        lines``."""
        if self.in_rows:
            return f"{counted(self.rows, 'table row')} ({counted(self.words, 'word')})"
        if not self.words:
            return counted(self.lines, "empty line")
        rows = f", {counted(self.rows, 'table row')} of them" if self.rows else ""
        return f"{counted(self.words, 'word')} ({counted(self.lines, 'line')}{rows})"

    @property
    def fits(self) -> str:
        """The verb that follows: ``does not fit`` or ``do not fit``."""
        return "does not fit" if self.short.startswith("1 ") else "do not fit"


def overset_of(flow: StoryFlow) -> Overset | None:
    """The text of a story that has no place, None where all of it has."""
    if not flow.overset:
        return None
    index, base, line, measure, owed, afloat, _, floating = flow.end
    column = flow.filled[-1].columns[-1].slot.rect.width
    width = measure or column
    if index >= len(flow) and floating:
        figures = [set_paragraph.shown.paragraph for set_paragraph in (flow.paragraphs[one] for one in floating)]
        return Overset(count_words(figures), sum(flow.line_count(one, width, 0) for one in floating))
    if index >= len(flow):
        left = [note for one in owed if (note := flow.note(one.ref, column, one)) is not None]
        words = sum(
            count_words(set_paragraph.shown.paragraph for set_paragraph in note.flow.paragraphs[one.paragraph :])
            for one, note in zip(owed, left, strict=False)
        )
        return Overset(words, max(sum(len(note.lines) for note in left) + len(afloat), 1))
    lines = flow.lines(index, width, base)
    count = max(len(lines) - line, 1)
    body = flow.table(index, width)
    words = rows = 0
    if body is not None:
        last = len(body.bands) - body.feet
        left_over = [row for band in range(min(base + line, last), last) for row in body.bands.rows[band]]
        rows, row_words = len(left_over), _words_of_rows(flow, index, left_over)
    else:
        begun = lines[line].start if line < len(lines) else lines[-1].next
        row_words, words = 0, len(flow.paragraphs[index].shown.paragraph.text[begun if line or base else 0 :].split())
    later = range(index + 1, len(flow))
    for i in later:
        table = flow.paragraphs[i].shown.table
        if table is not None:
            rows += len(table.rows)
            row_words += _words_of_rows(flow, i, range(len(table.rows)))
    words += count_words(flow.paragraphs[i].shown.paragraph for i in later if flow.paragraphs[i].shown.table is None)
    if len(flow) - index < MOST_COUNTED:
        count += sum(flow.line_count(i, width, 0) for i in later)
    return Overset(words + row_words, count, rows, row_words)


def _words_of_rows(flow: StoryFlow, index: int, rows: Iterable[int]) -> int:
    """The words in some rows of the table that a paragraph shows."""
    table = flow.paragraphs[index].shown.table
    if table is None:
        return 0

    def cells() -> Iterator[int]:
        for row in rows:
            for cell in table.rows[row]:
                yield count_words(cell.paragraphs)

    return sum(cells())
