"""Typographic quotes, apostrophes, dashes and ellipses by language.

Quotation marks as CLDR's delimiters give them (unicode.org, common/main, quotationStart ...; values from
memory). Straight marks open at a word's beginning and close at its end; elisions such as ’tis and ’90s
take an apostrophe; feet and inches after a number become primes.
"""

from __future__ import annotations

import re
from dataclasses import replace

from lexigon.core.job.marks import OPENS_BEHIND, marks_for
from lexigon.core.job.model import Span

_ELISION = re.compile(r"'(?=(?:tis|twas|twere|twill|em|til|cause|bout|round|ere|gainst|neath|n)\b|\d0s\b)", re.I)
_RANGE = re.compile(r"(?<![\d-])\d+-\d+(?![\d-])")
"""Two numbers, not a date or a telephone number."""

_RULES = (
    (re.compile(r"(?<=\d)'(?=\d)|(?<=\d)'(?=\s*\d+\")"), "′"),
    (re.compile(r"(?<=\d)\"(?=\W|$)(?<!\d\d\d\d\")"), "″"),
    (_ELISION, "’"),
    (re.compile(r"(?<=\w)'(?=\w)"), "’"),
    (re.compile(r"\.\.\."), "…"),
)


def typeset(text: str, spans: tuple[Span, ...] = (), language: str = "en-GB") -> tuple[str, tuple[Span, ...]]:
    """The text with straight marks made typographic; spans are moved along."""
    text, spans, _ = typeset_with_doubts(text, spans, language)
    return text, spans


def typeset_with_doubts(
    text: str, spans: tuple[Span, ...] = (), language: str = "en-GB"
) -> tuple[str, tuple[Span, ...], list[int]]:
    """As ``typeset``, with the offsets of those marks that could as well be something else."""
    text, spans = _substitute(text, spans, re.compile(r"\s*---?\s*"), _dash(language))
    for pattern, mark in _RULES:
        text, spans = _substitute(text, spans, pattern, mark)
    text = _RANGE.sub(lambda match: match[0].replace("-", "–"), text)
    text, doubts = _quotes(text, marks_for(language))
    return text, spans, doubts


def _dash(language: str) -> str:
    return "—" if language == "en-US" else " – " if language.startswith(("de", "en-GB")) else "—"


def _substitute(
    text: str, spans: tuple[Span, ...], pattern: re.Pattern[str], mark: str
) -> tuple[str, tuple[Span, ...]]:
    out: list[str] = []
    moves: list[tuple[int, int]] = []
    at = 0
    for match in pattern.finditer(text):
        start, end = match.span()
        shown = mark.strip() if mark.strip() and (start == 0 or end == len(text)) else mark
        out += [text[at:start], shown]
        moves.append((end, len(shown) - (end - start)))
        at = end
    if not moves:
        return text, spans
    out.append(text[at:])

    def moved(offset: int) -> int:
        return offset + sum(by for behind, by in moves if behind <= offset)

    made = (replace(span, start=moved(span.start), end=moved(span.end)) for span in spans)
    return "".join(out), tuple(span for span in made if span.start < span.end)


def _quotes(text: str, marks: str) -> tuple[str, list[int]]:
    """Straight quotes as the language's: those that come first are the outer ones. A single mark that closes nothing is an
    apostrophe, as is one that opens nothing that is closed (’cause); those behind a plural (the winters’ storms) are one
    where the quotation that is open is closed by another mark behind it."""
    kinds = _kinds(text, marks)
    out: list[str] = []
    open_: list[str] = []
    doubts: list[int] = []
    for index, character in enumerate(text):
        if character not in kinds:
            out.append(character)
            continue
        before = text[index - 1] if index else " "
        after = text[index + 1] if index + 1 < len(text) else " "
        opens = (before.isspace() or before in OPENS_BEHIND) and not after.isspace()
        single = character == "'"
        if opens and single and not _closed_behind(text, index + 1) and not (index == 0 and kinds["'"] == marks[:2]):
            out.append("’")
            doubts.append(index)
        elif opens:
            open_.append(character)
            out.append(kinds[character][0])
        elif single and character not in open_:
            out.append("’")
        elif single and before in "sS" and re.match(r"'\s+[a-z]", text[index:]) and _closed_behind(text, index + 1):
            out.append("’")
            doubts.append(index)
        else:
            if character in open_:
                while open_.pop() != character:
                    pass
            out.append(kinds[character][1])
    return "".join(out), doubts


def _closed_behind(text: str, start: int) -> bool:
    """Whether a single mark closes something before the next one opens."""
    found = re.compile(r"(?<=[^\s(\[{—–-])'(?!\w)|(?:^|(?<=[\s(\[{—–-]))'(?=\S)").search(text, start)
    return found is not None and not (text[found.start() - 1].isspace() or text[found.start() - 1] in OPENS_BEHIND)


def _kinds(text: str, marks: str) -> dict[str, str]:
    """Which straight mark stands for which pair."""
    outer, inner = marks[:2], marks[2:]
    if '"' in text and "'" not in text:
        return {'"': outer}
    if "'" in text and '"' not in text:
        return {"'": outer if _pairs(text) else inner}
    places = [(text.find(mark), mark) for mark in "\"'" if mark in text and (mark == '"' or _pairs(text))]
    first = min(places)[1] if places else '"'
    return {first: outer, "'" if first == '"' else '"': inner}


def _pairs(text: str) -> bool:
    """Whether single quotes are used as quotation marks: one opens a word somewhere."""
    return re.search(r"(?:^|[\s(—])'\w", text) is not None
