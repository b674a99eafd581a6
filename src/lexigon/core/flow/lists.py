"""The marks of lists: which number a paragraph has, and how it is written before its text."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence

from lexigon.core.job.cascade import Cascade
from lexigon.core.job.model import ListMark, Paragraph
from lexigon.core.job.numbering import written

_NUMBER = re.compile(r"#(\d?)")


def has_lists(paragraphs: Iterable[Paragraph], cascade: Cascade) -> bool:
    """Whether any of some paragraphs stands in a list; most stories have none, which is found out by their styles."""
    listed = cascade.listing_styles()
    return any(p.style in listed or (p.para is not None and p.para.list is not None) for p in paragraphs)


def list_marks(paragraphs: Sequence[Paragraph], cascade: Cascade) -> dict[str, tuple[str, str | None]]:
    """The mark of each paragraph of a list, by its id, with the character style it is set in.

    A number goes on from the one before it on its level, begins anew behind a lower level, and behind a paragraph of no
    list unless it is continued.
    """
    marks: dict[str, tuple[str, str | None]] = {}
    if not has_lists(paragraphs, cascade):
        return marks
    counts: dict[int, int] = {}
    styles: dict[int, ListMark] = {}
    broken = False
    for paragraph in paragraphs:
        mark = cascade.setting(paragraph).list
        if mark.kind == "none":
            broken = True
            continue
        if broken and not mark.continued:
            counts.clear()
        broken = False
        if mark.kind == "bullet":
            marks[paragraph.id] = (mark.form or "•", mark.style)
            continue
        counts[mark.level] = mark.start if mark.start is not None else counts.get(mark.level, 0) + 1
        styles[mark.level] = mark
        for level in [level for level in counts if level > mark.level]:
            del counts[level]
        marks[paragraph.id] = (_number(mark, counts, styles), mark.style)
    return marks


def _number(mark: ListMark, counts: dict[int, int], styles: dict[int, ListMark]) -> str:
    def one(match: re.Match[str]) -> str:
        level = int(match[1] or mark.level)
        return written(counts.get(level, 1), styles.get(level, mark).numbers)

    form = mark.form if "#" in mark.form else "#."
    return _NUMBER.sub(one, form)
