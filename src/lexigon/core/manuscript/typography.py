"""Typographic quotes, apostrophes, dashes and ellipses by language.

Quotation marks as CLDR's delimiters give them (unicode.org, common/main, quotationStart ...; values from
memory). Straight marks open at a word's beginning and close at its end; elisions such as ’tis and ’90s
take an apostrophe; feet and inches after a number become primes.
"""

from __future__ import annotations

import re
from dataclasses import replace

from lexigon.core.job.model import Span

QUOTES = {
    "en-GB": "‘’“”", "en": "“”‘’", "de": "„“‚‘", "fr": "«»“”", "es": "«»“”", "it": "«»“”", "nl": "‘’“”",
    "sv": "””’’", "pl": "„”«»", "da": "“”‘’",
}  # fmt: skip
"""Outer opening, outer closing, inner opening, inner closing."""

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


def marks_for(language: str) -> str:
    return QUOTES.get(language) or QUOTES.get(language.split("-")[0]) or QUOTES["en"]


def typeset(text: str, spans: tuple[Span, ...] = (), language: str = "en-GB") -> tuple[str, tuple[Span, ...]]:
    """The text with straight marks made typographic; spans are moved along."""
    text, spans = _substitute(text, spans, re.compile(r"\s*---?\s*"), _dash(language))
    for pattern, mark in _RULES:
        text, spans = _substitute(text, spans, pattern, mark)
    text = _RANGE.sub(lambda match: match[0].replace("-", "–"), text)
    return _quotes(text, marks_for(language)), spans


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


def _quotes(text: str, marks: str) -> str:
    """Straight quotes as the language's: double ones outer unless single ones are used as outer throughout."""
    outer, inner = marks[:2], marks[2:]
    if '"' in text and "'" not in text:
        kinds = {'"': outer}
    elif "'" in text and '"' not in text:
        kinds = {"'": outer if _pairs(text) else inner}
    else:
        first = (
            min((text.find(mark), mark) for mark in "\"'" if mark in text)[1] if ('"' in text or "'" in text) else '"'
        )
        other = "'" if first == '"' else '"'
        kinds = {first: outer, other: inner}
    out = []
    for index, character in enumerate(text):
        if character not in kinds:
            out.append(character)
            continue
        before = text[index - 1] if index else " "
        after = text[index + 1] if index + 1 < len(text) else " "
        opens = (before.isspace() or before in "([{—–-“‘«„\"'") and not after.isspace()
        out.append(kinds[character][0 if opens else 1])
    return "".join(out)


def _pairs(text: str) -> bool:
    """Whether single quotes are used as quotation marks: one opens a word somewhere."""
    return re.search(r"(?:^|[\s(—])'\w", text) is not None
