"""The marks of lists: which number a paragraph has, and how it is written before its text."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import NamedTuple

from lexigon.core.document.cascade import Cascade
from lexigon.core.document.model import ListMark, Paragraph
from lexigon.core.document.numbering import written

_NUMBER = re.compile(r"#(\d?)")
GAPS = {"tab": "\t", "space": " "}


class Sign(NamedTuple):
    """The bullet or number of a list item, its character style, and the gap after it."""

    words: str
    style: str | None
    behind: str = "\t"


@dataclass(slots=True, frozen=True)
class Member:
    """A paragraph that counts in a series, or a numbered heading that such paragraphs may name."""

    paragraph: str
    at: int
    """Which paragraph of its text it is."""
    mark: ListMark
    heading: bool = False
    number: str = ""
    """Of a heading that is counted in its own text."""


def has_lists(paragraphs: Iterable[Paragraph], cascade: Cascade) -> bool:
    """Return whether any of the paragraphs is a list item; for most stories their styles alone rule that out."""
    listed = cascade.listing_styles()
    return any(p.style in listed or (p.para is not None and p.para.list is not None) for p in paragraphs)


def list_marks(paragraphs: Sequence[Paragraph], cascade: Cascade) -> tuple[dict[str, Sign], list[Member]]:
    """The mark of each paragraph of a list, by its id, and those whose mark depends on other stories: see ``numbered``.

    A number continues the one before it on its level, begins again after a lower level, and after a paragraph of no
    list unless it is continued. Paragraphs of a series neither count in that nor interrupt it.
    """
    signs: dict[str, Sign] = {}
    members: list[Member] = []
    if not has_lists(paragraphs, cascade):
        return signs, members
    counts: dict[int, int] = {}
    styles: dict[int, ListMark] = {}
    broken = False
    for at, paragraph in enumerate(paragraphs):
        mark = cascade.setting(paragraph).list
        if mark.kind == "none":
            broken = True
            continue
        heading = cascade.heads(paragraph.style)
        if mark.kind == "number" and mark.series:
            members.append(Member(paragraph.id, at, mark, heading))
            continue
        if broken and not mark.continued:
            counts.clear()
        broken = False
        if mark.kind == "bullet":
            signs[paragraph.id] = Sign(mark.form or "•", mark.style, GAPS[mark.gap])
            continue
        counts[mark.level] = mark.start if mark.start is not None else counts.get(mark.level, 0) + 1
        styles[mark.level] = mark
        for level in [level for level in counts if level > mark.level]:
            del counts[level]
        written_out = {level: written(counts.get(level, 1), styles.get(level, mark).numbers) for level in range(1, 10)}
        signs[paragraph.id] = _sign(mark, written_out[mark.level], written_out)
        if heading:
            members.append(Member(paragraph.id, at, mark, True, written_out[mark.level]))
    return signs, members if any(one.mark.series for one in members) else []


def numbered(members: Iterable[Member]) -> Iterator[tuple[str, Sign]]:
    """The marks of those in series, in counting order. Where a format includes the number of a heading above, its
    series begins again after each heading."""
    counts: dict[tuple[str, tuple[str, ...]], int] = {}
    above: dict[int, str] = {}
    for one in members:
        own = one.number
        if one.mark.series:
            named = sorted({int(level) for level in _NUMBER.findall(one.mark.form) if level})
            part = one.mark.series, tuple(above.get(level, "") for level in named)
            counts[part] = one.mark.start if one.mark.start is not None else counts.get(part, 0) + 1
            own = written(counts[part], one.mark.numbers)
            yield one.paragraph, _sign(one.mark, own, above)
        if one.heading:
            above = {level: number for level, number in above.items() if level < one.mark.level}
            above[one.mark.level] = own


def _sign(mark: ListMark, own: str, above: Mapping[int, str]) -> Sign:
    def one(match: re.Match[str]) -> str:
        level = int(match[1] or 0)
        return own if not level or (level == mark.level and not mark.series) else above.get(level, "1")

    form = mark.form if "#" in mark.form else "#."
    return Sign(_NUMBER.sub(one, form), mark.style, GAPS[mark.gap])
