"""The survey of a manuscript before it is formatted: its parts and their words, odd headings, languages, missing
characters."""

from __future__ import annotations

import unicodedata
from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from lexigon.core.document.cascade import Cascade
from lexigon.core.document.model import OBJECT, Job, Paragraph
from lexigon.core.manuscript.model import HEADINGS, Manuscript
from lexigon.core.type.fonts import FontLibrary
from lexigon.core.type.runs import runs_of

LONG_HEADING = 120
"""Characters from which on a heading is said to be long."""
OFTEN = 3
"""Times that the same heading comes before it is said to be no chapter's own."""
BEGUN = 90


@dataclass(slots=True, frozen=True)
class Part:
    """A heading and the text below it, up to the next one; the first may be the text before any heading."""

    number: int
    """Of the paragraph; -1 for the text before the first heading."""
    style: str
    text: str
    depth: int
    words: int
    begins: str
    """The first words under it."""


@dataclass(slots=True, frozen=True)
class Odd:
    """A heading that probably is none, by the number of its paragraph."""

    number: int
    text: str
    why: str


@dataclass(slots=True, frozen=True)
class Sign:
    """A character that no font here has."""

    sign: str
    name: str
    count: int
    about: str


@dataclass(slots=True, frozen=True)
class Survey:
    parts: tuple[Part, ...]
    longest: tuple[int, str]
    """The words of the longest paragraph, and how it begins."""
    odd: tuple[Odd, ...]
    foreign: tuple[tuple[str, int, str], ...]
    """Languages other than the job's: which, how many words, the first of them."""
    lacking: tuple[Sign, ...] = ()


def surveyed(read: Manuscript, job: Job, library: FontLibrary) -> Survey:
    """A manuscript as ``job`` would set it."""
    longest = max(read.paragraphs, key=lambda p: len(p.text), default=None)
    return Survey(
        parts_of(read.paragraphs),
        (len(longest.text.split()), _begun(longest.text)) if longest else (0, ""),
        odd_headings(read.paragraphs),
        _foreign(read, job.brief.language),
        tuple(_lacking(read, job, library)),
    )


def parts_of(paragraphs: Iterable[Paragraph]) -> tuple[Part, ...]:
    """The sections of a text in order, each with the depth of its heading among those that occur."""
    all_ = tuple(paragraphs)
    levels = [level for level in HEADINGS if any(p.style == level for p in all_)]
    parts: list[Part] = []
    at, style, heading, words, begins = -1, "", "", 0, ""
    for number, p in enumerate([*all_, None]):
        if p is None or p.style in HEADINGS or (p.style == "title" and not parts):
            if at >= 0 or words:
                depth = levels.index(style) if style in levels else 0
                parts.append(Part(at, style, heading or "Before the first heading", depth, words, begins))
            if p is not None:
                at, style, heading, words, begins = number, p.style, _begun(p.text), 0, ""
        else:
            words += len(p.text.split())
            begins = begins or _begun(p.text)
    return tuple(parts)


def odd_headings(paragraphs: Iterable[Paragraph]) -> tuple[Odd, ...]:
    """Headings that should not reach a list of contents, probably, and why (common practice, no source)."""
    all_ = tuple(paragraphs)
    often = Counter(_bare(p.text) for p in all_ if p.style in HEADINGS)
    odd = []
    for number, p in enumerate(all_):
        if p.style not in HEADINGS:
            continue
        text = _bare(p.text)
        behind = all_[number + 1] if number + 1 < len(all_) else None
        why = ""
        if not any(sign.isalnum() for sign in text):
            why = "no letters in it"
        elif len(text) > LONG_HEADING:
            why = f"{len(text)} characters long"
        elif text.endswith((".", ",", ";")) and len(text.split()) > 8:
            why = "a whole sentence"
        elif text and often[text] >= OFTEN:
            why = f"the same words {often[text]} times"
        elif behind is None or (behind.style == p.style and p.style != "part"):
            why = "no text follows it"
        if why:
            odd.append(Odd(number, _begun(text), why))
    return tuple(odd)


def _foreign(read: Manuscript, language: str) -> tuple[tuple[str, int, str], ...]:
    own = language.split("-")[0].casefold()
    words: dict[str, tuple[int, str]] = {}
    for p in read.paragraphs:
        for span in p.spans:
            span_language = span.type.language if span.type else None
            if span_language and span_language.split("-")[0].casefold() != own:
                count, first = words.get(span_language, (0, ""))
                piece = p.text[span.start : span.end]
                words[span_language] = count + len(piece.split()), first or _begun(piece)
    return tuple((one, *words[one]) for one in sorted(words, key=lambda one: -words[one][0]))


def _lacking(read: Manuscript, job: Job, library: FontLibrary) -> Iterator[Sign]:
    """Search style by style: the characters that all its paragraphs contain are determined at once."""
    signs: dict[str, Counter[str]] = {}
    for p in read.paragraphs:
        signs.setdefault(p.style, Counter()).update(p.text)
    cascade, lacking = Cascade(job), Counter[str]()
    for style, counted in signs.items():
        text, runs = runs_of(
            cascade, library, Paragraph("", style, "".join(sign for sign in counted if sign != OBJECT))
        )
        for run in runs:
            for sign in run.look.cut.face.lacks(set(text[run.start : run.end])):
                lacking[sign] += counted[sign]
    for sign, count in lacking.most_common():
        first = next(p.text for p in read.paragraphs if sign in p.text)
        at = first.index(sign)
        yield Sign(sign, unicodedata.name(sign, f"U+{ord(sign):04X}").lower(), count, first[max(at - 20, 0) : at + 20])


def _bare(text: str) -> str:
    return " ".join(text.replace(OBJECT, "").split())


def _begun(text: str) -> str:
    bare = _bare(text)
    return bare if len(bare) <= BEGUN else bare[:BEGUN].rsplit(" ", 1)[0] + " …"
