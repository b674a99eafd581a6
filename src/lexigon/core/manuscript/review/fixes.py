"""A fix: other characters in the place of some, in the text of a paragraph whose spans move along."""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import accumulate

from lexigon.core.document.model import Span


@dataclass(slots=True, frozen=True)
class Fix:
    """``text`` in place of the characters from ``start`` to ``end``; ``doubtful`` where they could as well be meant."""

    start: int
    end: int
    text: str
    doubtful: bool = False


Finder = Callable[[str, str], Iterable[Fix]]
"""Return the corrections to a text in a language (BCP 47), in order, without overlaps."""


def by_pattern(
    pattern: str, text: str = "", *, doubtful: bool = False, flags: re.RegexFlag = re.NOFLAG, needs: str = ""
) -> Finder:
    """Finds a pattern; ``text`` is a template of ``re.Match.expand``. Without ``needs`` in the text there is no match
    (this is checked first, since most texts have none and a pattern takes a hundred times as long)."""
    compiled = re.compile(pattern, flags)

    def fixes_in(words: str, language: str) -> Iterable[Fix]:
        if needs not in words:
            return ()
        return (Fix(*match.span(), match.expand(text), doubtful) for match in compiled.finditer(words))

    return fixes_in


def fixed(text: str, spans: tuple[Span, ...], fixes: Sequence[Fix]) -> tuple[str, tuple[Span, ...]]:
    """The text with corrections applied; a span that becomes empty is removed. Text inserted after a span's end is not
    in it."""
    if not fixes:
        return text, spans
    out: list[str] = []
    at = 0
    for fix in fixes:
        out += [text[at : fix.start], fix.text]
        at = fix.end
    out.append(text[at:])
    if not spans:
        return "".join(out), spans
    ends = [fix.end for fix in fixes]
    shifts = [0, *accumulate(len(fix.text) - (fix.end - fix.start) for fix in fixes)]

    def moved(offset: int) -> int:
        number = bisect_right(ends, offset)
        if number and fixes[number - 1].start == fixes[number - 1].end == offset:
            number -= 1  # inserted exactly here: not before it
        if number < len(fixes) and fixes[number].start < offset:
            return fixes[number].start + shifts[number] + len(fixes[number].text)  # within what is replaced
        return offset + shifts[number]

    shifted = (replace(span, start=moved(span.start), end=moved(span.end)) for span in spans)
    return "".join(out), tuple(span for span in shifted if span.start < span.end)
