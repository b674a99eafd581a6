"""Typographic quotes, apostrophes, dashes and ellipses by language.

Quotation marks as CLDR's delimiters give them (unicode.org, common/main, quotationStart ...; values from
memory). Straight marks open at a word's beginning and close at its end; elisions such as ’tis and ’90s
take an apostrophe; feet and inches after a number become primes. Each finder says what it would replace, and
what is doubtful about it (``fixes``).
"""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Iterator

from lexigon.core.document.model import Span
from lexigon.core.document.quotation_marks import OPENS_BEHIND, marks_for
from lexigon.core.manuscript.review.fixes import Fix, fixed

_ELISION = re.compile(r"'(?=(?:tis|twas|twere|twill|em|til|cause|bout|round|ere|gainst|neath|n)\b|\d0s\b)", re.I)
_RANGE = re.compile(r"(?<![\w.-])(\d+)-(\d+)(?![\w-])")
"""Two numbers, not a date or a telephone number."""
_DASH = re.compile(r"(?<!\s)\s*+---?\s*|(?<=\w) - (?=\w)")
_ELLIPSIS = re.compile(r"\.\.\.|(?<!\.) ?\. \. \.(?! ?\.)")
_STRAIGHT = re.compile("[\"']")
_APART = re.compile(r"(?<=\d)'(?=\d)|(?<=\d)'(?=\s*\d+\")")
_INCHES = re.compile(r"(?<=\d)\"(?=\W|$)(?<!\d\d\d\d\")")


def typeset(text: str, spans: tuple[Span, ...] = (), language: str = "en-GB") -> tuple[str, tuple[Span, ...]]:
    """The text with straight marks made typographic; spans are moved along."""
    text, spans, _ = typeset_with_doubts(text, spans, language)
    return text, spans


def typeset_with_doubts(
    text: str, spans: tuple[Span, ...] = (), language: str = "en-GB"
) -> tuple[str, tuple[Span, ...], list[int]]:
    """Do the same as ``typeset``, and return the offsets of those marks that are ambiguous."""
    doubts: list[int] = []
    for find in (dashes, ellipses, ranges, quotes):
        fixes = list(find(text, language))
        if find is quotes:
            doubts = [fix.start for fix in fixes if fix.doubtful]
        text, spans = fixed(text, spans, fixes)
    return text, spans, doubts


def dashes(text: str, language: str) -> Iterator[Fix]:
    """Two or three hyphens, and one between spaces; at a paragraph's edge without space."""
    if "-" not in text:
        return
    close = language == "en-US" or not language.startswith(("de", "en"))
    for match in _DASH.finditer(text):
        alone = match[0] == " - "
        mark = "—" if close and not (alone and language != "en-US") else " – "
        mark = mark.lstrip() if match.start() == 0 else mark
        yield Fix(*match.span(), mark.rstrip() if match.end() == len(text) else mark, alone)


def ellipses(text: str, language: str) -> Iterator[Fix]:
    """Three points, or three with spaces between them."""
    if "..." not in text and ". ." not in text:
        return
    for match in _ELLIPSIS.finditer(text):
        spaced = match[0] != "..."
        yield Fix(*match.span(), " …" if match[0].startswith(" ") else "…", spaced)


def ranges(text: str, language: str) -> Iterator[Fix]:
    """A hyphen between two numbers; where the first is the larger it may be a score or a part number."""
    if "-" not in text:
        return
    for match in _RANGE.finditer(text):
        yield Fix(match.end(1), match.start(2), "–", int(match[1][:18]) >= int(match[2][:18]))


def quotes(text: str, language: str) -> Iterator[Fix]:
    """Straight quotation marks, apostrophes, feet and inches."""
    if '"' not in text and "'" not in text:
        return
    marked = _APART.sub("′", text)
    marked, inches = _primes(marked)
    marked = _ELISION.sub("’", marked)
    marked = re.sub(r"(?<=\w)'(?=\w)", "’", marked)
    marked, doubts = _quotes(marked, marks_for(language))
    doubtful = {*doubts, *inches}
    for match in _STRAIGHT.finditer(text):  # one character for another, each at its position
        at = match.start()
        if text[at] != marked[at]:
            yield Fix(at, at + 1, marked[at], at in doubtful)


def _primes(text: str) -> tuple[str, list[int]]:
    """Inches after a number, unless the mark closes what another has opened and none closes it later."""
    out, doubts = list(text), list[int]()
    left = text.count('"')
    before = done = 0
    for match in _INCHES.finditer(text):
        at = match.start()
        met = text.count('"', done, at)
        before, left, done = before + met, left - met - 1, at + 1
        feet = _is_feet(out, at)
        if feet or before % 2 == 0 or left % 2:
            out[at] = "″"
            if before % 2 and not feet:
                doubts.append(at)
        else:
            before += 1
            doubts.append(at)
    return "".join(out), doubts


def _is_feet(signs: list[str], at: int) -> bool:
    """Return whether the number before a place follows a number of feet."""
    end = at
    while at and signs[at - 1].isdigit():
        at -= 1
    if at == end:
        return False
    while at and signs[at - 1].isspace():
        at -= 1
    return at > 0 and signs[at - 1] == "′"


def _quotes(text: str, marks: str) -> tuple[str, list[int]]:
    """Convert straight quotation marks to those of the language; the outermost are the primary ones. A single mark that
    closes nothing is an apostrophe, as is one that opens nothing that is closed (’cause). Those after a plural (the
    winters’ storms) are apostrophes if another mark after them closes the open quotation."""
    kinds = _kinds(text, marks)
    turns = [match.start() for match in _TURN.finditer(text)]
    out: list[str] = []
    done = 0
    open_: list[str] = []
    doubts: list[int] = []
    for match in _STRAIGHT.finditer(text):
        index, character = match.start(), match[0]
        if character not in kinds:
            continue
        out.append(text[done:index])
        done = index + 1
        before = text[index - 1] if index else " "
        after = text[index + 1] if index + 1 < len(text) else " "
        opens = (before.isspace() or before in OPENS_BEHIND) and not after.isspace()
        single = character == "'"
        if (
            opens
            and single
            and not _closed_behind(text, turns, index + 1)
            and not (index == 0 and kinds["'"] == marks[:2])
        ):
            out.append("’")
            doubts.append(index)
        elif opens:
            open_.append(character)
            out.append(kinds[character][0])
        elif single and character not in open_:
            out.append("’")
        elif single and before in "sS" and _BEFORE_WORD.match(text, index) and _closed_behind(text, turns, index + 1):
            out.append("’")
            doubts.append(index)
        else:
            if character in open_:
                while open_.pop() != character:
                    pass
            out.append(kinds[character][1])
    out.append(text[done:])
    return "".join(out), doubts


_BEFORE_WORD = re.compile(r"'\s+[a-z]")
_TURN = re.compile(r"(?<=[^\s(\[{—–-])'(?!\w)|(?:^|(?<=[\s(\[{—–-]))'(?=\S)")
"""A single mark that closes something, or opens it."""


def _closed_behind(text: str, turns: list[int], start: int) -> bool:
    """Return whether a single mark closes something before the next one opens; ``turns`` are the places of those that
    do either."""
    n = bisect_left(turns, start)
    return n < len(turns) and not (text[turns[n] - 1].isspace() or text[turns[n] - 1] in OPENS_BEHIND)


def _kinds(text: str, marks: str) -> dict[str, str]:
    """Return the pair of typographic marks for each straight mark."""
    outer, inner = marks[:2], marks[2:]
    if '"' in text and "'" not in text:
        return {'"': outer}
    if "'" in text and '"' not in text:
        return {"'": outer if _pairs(text) else inner}
    places = [(text.find(mark), mark) for mark in "\"'" if mark in text and (mark == '"' or _pairs(text))]
    first = min(places)[1] if places else '"'
    return {first: outer, "'" if first == '"' else '"': inner}


def _pairs(text: str) -> bool:
    """Return whether single quotes are used as quotation marks: one opens a word somewhere."""
    return re.search(r"(?:^|[\s(—])'\w", text) is not None
